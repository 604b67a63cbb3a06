<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Paperwork\LightSheet;
use Core\PixelMap\LightPatch;
use Core\PixelMap\Node;
use Core\Plan\PlanCompiler;
use Core\Playback\Moment;
use Core\Preflight\Figures;
use Core\Preflight\Preflight;
use Core\Preflight\Trace;
use Core\Show\Document;
use Core\Units\InvalidValue;
use Core\Values\HeldValue;
use Core\Values\Stratum;
use Core\Venue\FixtureType;
use PHPUnit\Framework\TestCase;

/** Pixel lights as rows of a show: what is told of them, what is found, and what of them is in the plan. */
final class LightShowTest extends TestCase
{
    /**
     * @return array<string, list<array<string, mixed>>> four masts of 9 × 22 pixels of five channels, one after another
     */
    public static function rows(): array
    {
        $rows = [
            'fixture' => [
                [
                    'id' => 'mast',
                    'name' => 'Mast',
                    'columns' => 9,
                    'rows' => 22,
                    'widthMm' => 450,
                    'heightMm' => 4400,
                    'channels' => 'red, green, blue, white 3200, white 6500',
                ],
            ],
            'node' => [
                ['id' => 'node', 'name' => 'Quay node', 'protocol' => 'artnet', 'address' => '127.0.0.2', 'limit' => 8],
            ],
            'surface' => [],
            'patch' => [],
        ];
        foreach (range(1, 4) as $i) {
            $rows['surface'][] = [
                'id' => "m$i",
                'name' => "Mast $i",
                'kind' => 'light',
                'position' => [$i, 0, 0],
                'rotation' => [0, 0, 0],
                'shape' => ['fixture' => 'mast'],
            ];
            $rows['patch'][] = [
                'id' => "p$i",
                'surface' => "m$i",
                'node' => 'node',
                'universe' => 2 * $i - 1,
                'channel' => 1,
            ];
        }

        return $rows;
    }

    /** @param  array<string, list<array<string, mixed>>>  $rows */
    private static function document(array $rows): Document
    {
        return Document::of(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows);
    }

    /**
     * @param  array<string, list<array<string, mixed>>>  $rows
     * @return list<string> sentences of findings about lights
     */
    private static function found(array $rows): array
    {
        return array_values(
            array_map(
                static fn ($f): string => $f->message,
                array_filter(
                    Preflight::of(self::document($rows)->show),
                    static fn ($f): bool => in_array($f->kind, ['patch', 'node'], true) ||
                        str_contains($f->message, 'patch'),
                ),
            ),
        );
    }

    public function test_figures_of_a_patch(): void
    {
        $told = Figures::of(self::document(self::rows())->show);
        self::assertSame(
            [
                'pixels' => 198,
                'channels' => 990,
                'universes' => 2,
                'from' => 'Art-Net 2 (0:0:2)',
                'to' => 'Art-Net 3 (0:0:3)',
                'lastUniverse' => 4,
                'lastChannel' => 480,
                'pixelsByUniverse' => [[3, 102], [4, 96]],
                'left' => [[3, 2]],
            ],
            $told['patches']['p2'],
        );
        self::assertSame([9, 22], [$told['surfaces']['m1']['rasterWidth'], $told['surfaces']['m1']['rasterHeight']]);
        self::assertSame([], self::found(self::rows()));
    }

    public function test_conflicts_and_merges_are_told(): void
    {
        $rows = self::rows();
        $rows['patch'][1]['universe'] = 2;
        // The second begins where the first has its last 96 pixels: 480 channels.
        self::assertSame(
            ['Mast 2 and Mast 1 both use 480 channels of Art-Net 1 (0:0:1), from channel 1 on.'],
            self::found($rows),
        );
        // The colours by one, the whites by another, at the same address.
        $rows = self::rows();
        $rows['patch'] = [
            ['channels' => 'red, green, blue, unused, unused'] + $rows['patch'][0],
            ['universe' => 1, 'channels' => 'unused, unused, unused, white 3200, white 6500'] + $rows['patch'][1],
            $rows['patch'][2],
            $rows['patch'][3],
        ];
        self::assertSame(
            [
                'Mast 2 and Mast 1 share channels from Art-Net 0 (0:0:0) on, of which each uses its own: they are merged.',
            ],
            self::found($rows),
        );
        // Another node at the same address is the same place; at another it is none.
        $rows = self::rows();
        $rows['node'][] = ['id' => 'other', 'name' => 'Other', 'address' => '127.0.0.2'];
        $rows['patch'][1] = ['node' => 'other', 'universe' => 1] + $rows['patch'][1];
        self::assertSame(
            'Mast 2 and Mast 1 both use 990 channels of Art-Net 0 (0:0:0), from channel 1 on.',
            self::found($rows)[0],
        );
        $rows['node'][1]['address'] = '127.0.0.3';
        self::assertSame([], self::found($rows));
    }

    public function test_what_does_not_fit_is_told(): void
    {
        $rows = self::rows();
        $rows['node'][0]['limit'] = 7;
        self::assertSame(['Quay node is sent 8 universes; it takes 7.'], self::found($rows));
        $rows = self::rows();
        $rows['patch'][3]['universe'] = 32_768;
        self::assertSame(
            ['Mast 4 reaches into Art-Net 32768 (128:0:0); the last is Art-Net 32767 (127:15:15).'],
            self::found($rows),
        );
        $rows = self::rows();
        $rows['patch'][0]['path'] = [0, 198];
        self::assertSame(['The path of Mast 1 names pixel 199, of 198: it is passed over.'], self::found($rows));
        $rows = self::rows();
        unset($rows['patch'][2]);
        $rows['patch'][3]['node'] = null;
        self::assertSame(
            ['Mast 3 has no patch: nothing is sent to it.', 'Mast 4 is sent to no node yet.'],
            self::found($rows),
        );
        $rows = self::rows();
        $rows['node'] = [];
        self::assertSame('The node that the patch of Mast 1 names was removed.', self::found($rows)[0]);
        $rows = self::rows();
        $rows['node'] = [
            ['interface' => '10.0.0.1'] + $rows['node'][0],
            ['id' => 'n2', 'name' => 'Second', 'interface' => '10.0.0.9'],
        ];
        self::assertStringContainsString('two interfaces on one network', self::found($rows)[0]);
        // A type that was removed takes its lights with it, and says so.
        $rows = self::rows();
        $rows['fixture'] = [];
        self::assertStringContainsString(
            'was removed',
            implode(' ', array_map(static fn ($f): string => $f->message, Preflight::of(self::document($rows)->show))),
        );
    }

    public function test_lights_are_in_the_plan_as_they_are_made_again(): void
    {
        $rows = self::rows();
        $rows['patch'][0] =
            [
                'wiring' => ['corner' => 'bottom left', 'along' => 'columns', 'serpentine' => true],
                'whites' => 'white point',
                'kelvin' => 4000,
                'gains' => [1, 0.9, 0.8],
                'dithered' => true,
                'values' => ['level' => 0.5],
            ] + $rows['patch'][0];
        $rows['patch'][3]['node'] = null;
        $document = self::document($rows);
        $compiler = new PlanCompiler();
        $compiler->compile($document->show, 1);
        $plan = $compiler->plan();
        self::assertSame(['p1', 'p2', 'p3'], array_map(strval(...), array_keys($plan->of('light'))));
        $part = $plan->of('light')['p1'];
        $type = FixtureType::fromRow($part['type']);
        self::assertEquals(
            $document->show->delivery->patches['p1']->addressing($type),
            LightPatch::fromRow($part)->addressing(FixtureType::fromRow($rows['fixture'][0])),
        );
        self::assertEquals($document->show->delivery->nodes['node'], Node::fromRow($plan->of('node')['node']));
        self::assertSame(0.5, $plan->tracks['patch:p1/level']->at(0));
        // A node's name reaches no light; another universe makes that light anew, and no other.
        $bundle = $compiler->compile(
            $document->with(['node' => ['node' => ['name' => 'Other'] + $document->rows['node']['node']]])->show,
            2,
        );
        self::assertSame(['node:node'], array_keys($bundle->parts));
        $bundle = $compiler->compile(
            $document->with(['patch' => ['p2' => ['universe' => 9] + $document->rows['patch']['p2']]])->show,
            3,
        );
        self::assertContains('light:p2', array_keys($bundle->parts));
        self::assertNotContains('light:p1', array_keys($bundle->parts));
    }

    public function test_a_sheet_has_a_line_for_each_universe_of_a_light(): void
    {
        $rows = self::rows();
        $rows['patch'] = [
            ['channel' => 501, 'wiring' => ['corner' => 'bottom left', 'along' => 'columns', 'serpentine' => true]] +
            $rows['patch'][0],
            ['node' => null, 'path' => [3, 1]] + $rows['patch'][1],
        ];
        $table = LightSheet::of(self::document($rows)->show);
        // From 501 on two pixels of five fit (501 to 510), then 102, then 94.
        self::assertSame(
            [
                [
                    'Mast 1',
                    'Mast',
                    'Quay node',
                    '127.0.0.2',
                    'Art-Net',
                    '1',
                    '0',
                    '501',
                    '510',
                    '2',
                    '2',
                    'bottom left',
                    'columns, serpentine',
                    '0',
                ],
                [
                    'Mast 1',
                    'Mast',
                    'Quay node',
                    '127.0.0.2',
                    'Art-Net',
                    '2',
                    '1',
                    '1',
                    '510',
                    '102',
                    '2',
                    'bottom left',
                    'columns, serpentine',
                    '',
                ],
                [
                    'Mast 1',
                    'Mast',
                    'Quay node',
                    '127.0.0.2',
                    'Art-Net',
                    '3',
                    '2',
                    '1',
                    '470',
                    '94',
                    '0',
                    'bottom left',
                    'columns, serpentine',
                    '',
                ],
                ['Mast 2', 'Mast', '', '', '', '3', '', '1', '10', '2', '0', 'by hand', '', '0'],
            ],
            $table->rows,
        );
        self::assertSame([], LightSheet::of(self::document([])->show)->rows);
    }

    public function test_trace_leads_to_the_node_of_a_light(): void
    {
        $way = static function (array $rows, array $held = []): array {
            $show = self::document($rows)->show;
            $compiler = new PlanCompiler();
            $compiler->compile($show, 1);
            $values = array_map(
                static fn (float $value): array => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $value)],
                $held,
            );

            return array_map(
                static fn (array $link): string => "$link[link] $link[state] $link[kind] $link[name]: $link[message]",
                array_slice(Trace::of($show, 'm2', new Moment($compiler->plan(), [], $values, 5), []), -2),
            );
        };
        $rows = self::rows();
        self::assertSame(
            [
                'Output ok patch Art-Net 2 (0:0:2) channel 1: Mast 2 begins at Art-Net 2 (0:0:2) channel 1.',
                'Device ok node Quay node: Sent to Quay node at 127.0.0.2.',
            ],
            $way($rows),
        );
        self::assertSame(
            'Output fault patch Art-Net 2 (0:0:2) channel 1: The patch of Mast 2 is at 0 %.',
            $way($rows, ['patch:p2/level' => 0.0])[0],
        );
        self::assertSame(
            'Output fault patch Art-Net 2 (0:0:2) channel 1: The master is at 0 %.',
            $way($rows, ['master:show/level' => 0.0])[0],
        );
        $rows['patch'][1]['node'] = null;
        self::assertSame(
            [
                'Output fault patch no node: The patch of Mast 2 names no node.',
                'Device attention  —: Nothing is routed this far.',
            ],
            $way($rows),
        );
        unset($rows['patch'][1]);
        self::assertSame('Output fault surface no patch: Mast 2 has no patch: nothing is sent to it.', $way($rows)[0]);
    }

    public function test_rows_that_can_not_be_are_refused(): void
    {
        foreach (
            [
                ['protocol' => 'carrier pigeon'],
                ['address' => '10.0.0'],
                ['interface' => 'eth0'],
                ['port' => 70_000],
                ['rate' => 0],
                ['priority' => 201],
                ['name' => ''],
            ] as $bad
        ) {
            try {
                Node::fromRow($bad + ['name' => 'Node']);
                self::fail('was taken: '.json_encode($bad));
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($bad), $refused->field);
            }
        }
        foreach (
            [
                ['universe' => 0],
                ['channel' => 513],
                ['channels' => 'mauve'],
                ['whites' => 'none'],
                ['kelvin' => 500],
                ['gains' => [1, 1]],
                ['gains' => [1, 1, 2]],
                ['radius' => -1],
            ] as $bad
        ) {
            try {
                LightPatch::fromRow($bad + ['surface' => 's', 'node' => null]);
                self::fail('was taken: '.json_encode($bad));
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($bad), $refused->field);
            }
        }
        try {
            Node::fromRow(['name' => 'Strip', 'protocol' => 'ddp']);
            self::fail('was taken');
        } catch (InvalidValue $refused) {
            self::assertSame('address', $refused->field);
        }
        $node = static fn (array $row): Node => Node::fromRow($row + ['name' => 'N']);
        self::assertSame(
            ['239.255.0.9', '10.255.255.255', '192.168.4.255', '2.255.255.255', '10.0.0.5'],
            [
                $node(['protocol' => 'sacn'])->destination(9),
                $node(['interface' => '10.1.2.3'])->destination(9),
                $node(['interface' => '192.168.4.7'])->destination(1),
                $node([])->destination(1),
                $node(['address' => '10.0.0.5'])->destination(3),
            ],
        );
        self::assertSame(
            [6454, 5568, 4048, 7000],
            [
                $node([])->port(),
                $node(['protocol' => 'sacn'])->port(),
                $node(['protocol' => 'ddp', 'address' => '10.0.0.1'])->port(),
                $node(['port' => 7000])->port(),
            ],
        );
    }
}

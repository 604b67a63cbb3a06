<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Preflight\Figures;
use Core\Preflight\Preflight;
use Core\Preflight\Trace;
use Core\Show\Document;
use Core\Show\Programming;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Property;
use Core\Values\Reference;
use Core\Values\Stratum;
use PHPUnit\Framework\TestCase;

/** Values that name rows: a layer that takes another route over time. */
final class ReferenceTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const OWN = '01hzzzzzzzzzzzzzz000000001';

    private const OTHER = '01hzzzzzzzzzzzzzz00000000z';

    public function test_a_row_is_named_by_the_end_of_its_id(): void
    {
        // Crockford's alphabet: 1 is 1, z is 31; one more, so that 0 is none.
        self::assertSame(2, Reference::number(self::OWN));
        self::assertSame(32, Reference::number(self::OTHER));
        self::assertSame(32, Reference::number('00000000z'));
        // 32⁹ is the most, and exact as a float.
        self::assertSame(32 ** 9, Reference::number('zzzzzzzzz'));
        self::assertSame('zzzzzzzzz', Reference::written((float) Reference::MAX));
        self::assertSame('', Reference::written(0));
        foreach (['000000000', 'abcdefghj', '01hzz9k3p', 'zzzzzzzz0'] as $text) {
            self::assertSame($text, Reference::written((float) (int) Reference::number($text)));
        }
        foreach (
            ['', 'short', 'ilou00000', str_repeat('0', 10), strtoupper(self::OWN), self::OWN.'0', "000000000\n"] as $none
        ) {
            self::assertNull(Reference::number($none), $none);
        }
    }

    public function test_it_comes_in_as_an_id_and_goes_out_as_its_end(): void
    {
        $property = Property::reference('route', 'Route', 'route');
        self::assertSame([0.0, 32.0, 32.0], array_map($property->parse(...), ['', self::OTHER, '00000000z']));
        self::assertSame(['', '00000000z'], array_map($property->format(...), [0.0, 32.0]));
        self::assertSame(['00000000z'], array_map($property->formatAll(...), [$property->parseAll(self::OTHER)]));
        self::assertSame([0.0, 32.0, 32.0 ** 9], array_map($property->live(...), [-4, 32.2, 1e15]));
        self::assertFalse($property->type->mixes());
        foreach ([true, null, 7.5, 'nowhere', [self::OWN]] as $wrong) {
            try {
                $property->parse($wrong);
                self::fail(json_encode($wrong).' was taken.');
            } catch (InvalidValue $refused) {
                self::assertStringContainsString('the id of a route', $refused->getMessage());
            }
        }
    }

    /**
     * Two walls of 40 × 20 px; a layer that goes to the first, and from 2 to 4 s to the second.
     *
     * @param  array<string, list<array<string, mixed>>>  $more
     */
    private static function document(array $more = []): Document
    {
        $wall = static fn (string $id, float $x): array => [
            'id' => $id,
            'name' => "Wall $id",
            'position' => [$x, 0, 0],
            'rotation' => [0, 0, 0],
            'cells' => [['panel', 'panel']],
            'seams' => [0],
        ];

        return Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            $more + [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 20,
                        'heightPx' => 20,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [$wall('a', 0), $wall('b', 2)],
                'media' => [['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000']],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'Sea', 'order' => 0, 'route' => self::OWN]],
                'route' => [
                    ['id' => self::OWN, 'layer' => 'l', 'surfaces' => ['a']],
                    ['id' => self::OTHER, 'name' => 'East', 'surfaces' => ['b']],
                ],
                'clip' => [['id' => 'c', 'layer' => 'l', 'media' => 'red', 'start' => 0, 'length' => 20 * self::S]],
                'curve' => [
                    [
                        'id' => 'k',
                        'owner' => 'l',
                        'property' => 'route',
                        'keyframes' => [
                            ['t' => 0, 'v' => '', 'i' => 'step'],
                            ['t' => 2 * self::S, 'v' => self::OTHER, 'i' => 'step'],
                            ['t' => 4 * self::S, 'v' => '', 'i' => 'step'],
                        ],
                    ],
                ],
            ],
        );
    }

    /** @param  array<string, list<HeldValue>>  $held */
    private static function moment(Show $show, float $second, array $held = []): Moment
    {
        $plan = Plan::empty()->with(Bundle::fromBytes((new PlanCompiler())->compile($show, 1)->toBytes()));

        return new Moment($plan, [Head::of('line', TransportMap::standing(0, (int) ($second * self::S)))], $held, 1000);
    }

    /** @param  array<string, list<HeldValue>>  $held */
    private static function lit(Show $show, float $second, array $held = []): string
    {
        $raster = new ReferenceRaster(
            self::moment($show, $second, $held),
            static fn (): Picture => Picture::solid(1, 1, [255, 0, 0]),
        );

        return implode(
            '',
            array_filter(['a', 'b'], static fn (string $wall): bool => $raster->surfacePixel($wall, 5, 5)[0] === 255),
        );
    }

    public function test_a_layer_takes_another_route_from_keyframe_to_keyframe(): void
    {
        $show = self::document()->show;
        self::assertSame([], $show->broken);
        self::assertSame(
            ['a', 'a', 'b', 'b', 'a'],
            array_map(static fn (float $second): string => self::lit($show, $second), [0, 1.96, 2, 3.96, 4]),
        );
        self::assertSame(
            [0, 32],
            array_keys($show->programme->ways($show->programme->layer('l') ?? throw new \LogicException())),
        );
        // Both places are looked at before they are seen.
        self::assertSame(['l a red', 'l b red'], array_keys(Figures::of($show)['placements']));
        // Held by a hand it goes there at once, as long as it takes that route at some time; any other it does not
        // know.
        $hold = static fn (float $number): array => [
            'layer:l/route' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $number)],
        ];
        self::assertSame(
            ['b', 'a', 'a'],
            [self::lit($show, 1, $hold(32)), self::lit($show, 3, $hold(0)), self::lit($show, 3, $hold(77))],
        );
    }

    public function test_why_a_wall_is_dark_names_the_route_that_is_taken_now(): void
    {
        $show = self::document()->show;
        $route = static fn (string $wall, float $second): array => Trace::of(
            $show,
            $wall,
            self::moment($show, $second),
            null,
        )[2];
        self::assertSame('No layer is aimed at Wall b. Sea takes another route now.', $route('b', 1)['message']);
        self::assertSame('No layer is aimed at Wall a. Sea takes East now.', $route('a', 3)['message']);
        self::assertSame(['ok', 'East'], [$route('b', 3)['state'], $route('b', 3)['name']]);
        self::assertNotContains(
            'Sea has clips, but is aimed at nothing.',
            array_column(Preflight::of($show), 'message'),
        );
    }

    public function test_a_route_that_is_gone_is_told_and_the_layer_goes_as_it_is_aimed(): void
    {
        $document = self::document();
        $show = $document->with(['route' => [self::OTHER => null]])->show;
        self::assertSame(
            ['Sea takes a route at some time that was removed; it goes as it is aimed then.'],
            array_column($show->broken, 'message'),
        );
        self::assertSame('a', self::lit($show, 3));
        // One that names its own route at some time goes there all the same.
        $own = self::document([
            'curve' => [
                ['id' => 'k', 'owner' => 'l', 'property' => 'route', 'keyframes' => [['t' => 0, 'v' => self::OWN]]],
            ],
        ])->show;
        self::assertSame(['a', []], [self::lit($own, 3), $own->broken]);
        $broken = self::document([
            'curve' => [['id' => 'k', 'owner' => 'l', 'property' => 'route', 'keyframes' => [['t' => 0, 'v' => 5.5]]]],
        ])->show;
        self::assertSame('a', self::lit($broken, 3));
    }

    public function test_keyframes_of_it_are_put_by_number_or_id_and_stored_by_the_end_of_the_id(): void
    {
        $document = self::document();
        $programming = new Programming($document->show, $document, static fn (): string => 'new');
        $after = $programming->key(Address::of('layer', 'l', 'route'), 6 * self::S, 32)[0][0]['fields']['keyframes'][
            'after'
        ];
        self::assertSame([['', '00000000z', '', '00000000z'], 'step'], [array_column($after, 'v'), $after[3]['i']]);
        $same = $programming->key(Address::of('layer', 'l', 'route'), 6 * self::S, self::OTHER)[0][0]['fields'][
            'keyframes'
        ]['after'];
        self::assertSame($after, $same);
    }

    public function test_the_first_keyframe_of_it_changes_nothing_before_it(): void
    {
        $document = self::document(['curve' => []]);
        $keys = static fn (int $time): array => (new Programming(
            $document->show,
            $document,
            static fn (): string => 'new',
        ))->key(Address::of('layer', 'l', 'route'), $time, self::OTHER)[0][0]['fields']['keyframes']['after'];
        self::assertSame(
            [[0, 3 * self::S], ['', '00000000z']],
            [array_column($keys(3 * self::S), 't'), array_column($keys(3 * self::S), 'v')],
        );
        self::assertSame([[0], ['00000000z']], [array_column($keys(0), 't'), array_column($keys(0), 'v')]);
    }

    public function test_an_edit_elsewhere_makes_none_of_its_parts_anew(): void
    {
        $document = self::document();
        $compiler = new PlanCompiler();
        $compiler->compile($document->show, 1);
        $changed = $compiler->compile(
            $document->with(
                $document->changedRows([
                    [
                        'kind' => 'surface',
                        'id' => 'a',
                        'op' => 'update',
                        'fields' => ['name' => ['before' => 'Wall a', 'after' => 'Front']],
                    ],
                ]),
            )->show,
            2,
        );
        self::assertSame(['surface:a'], array_keys($changed->parts));
        self::assertSame([], $changed->tracks);
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Show\Changes;
use Core\Show\Document;
use Core\Show\ProjectorCheck;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** What goes along when the points of a projector have drifted. */
final class ProjectorCheckTest extends TestCase
{
    /** A face that a projector lights from one output, by a bent piece and a plain one, with a mask on the output. */
    private static function document(): Document
    {
        $point = static fn (string $id, array $pixel): array => [
            'id' => $id,
            'projector' => 'p',
            'name' => $id,
            'place' => [0, 0, 0],
            'pixel' => $pixel,
        ];
        $region = static fn (string $id, string $output, array $more): array => $more + [
            'id' => $id,
            'output' => $output,
            'surface' => 'face',
            'source' => [0, 0, 400, 250],
            'x' => 0,
            'y' => 0,
            'width' => 640,
            'height' => 400,
        ];

        return Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'surface' => [
                    [
                        'id' => 'face',
                        'name' => 'Face',
                        'kind' => 'flat',
                        'position' => [0, 0, -10],
                        'rotation' => [0, 0, 0],
                        'shape' => ['width' => 4, 'height' => 2.5, 'pixelsPerMetre' => 100],
                    ],
                ],
                'projector' => [
                    [
                        'id' => 'p',
                        'name' => 'P',
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'lens' => ['widthPx' => 1280, 'heightPx' => 800],
                    ],
                ],
                'output' => [
                    ['id' => 'one', 'name' => 'One', 'width' => 1280, 'height' => 800, 'refresh' => 60],
                    ['id' => 'two', 'name' => 'Two', 'width' => 1280, 'height' => 800, 'refresh' => 60],
                ],
                'feed' => [
                    ['id' => 'f', 'output' => 'one', 'name' => 'Beam', 'role' => 'projector', 'projector' => 'p'],
                ],
                'region' => [
                    $region('plain', 'one', ['x' => 10, 'y' => 20]),
                    $region('pinned', 'one', ['x' => 600, 'pin' => [5, -3, 4, 8, -6, 2, 1, 1]]),
                    $region('elsewhere', 'two', []),
                ],
                'mask' => [
                    [
                        'id' => 'm',
                        'output' => 'one',
                        'name' => 'Window',
                        'nodes' => [100, 100, 0, 0, 30, -10, 300, 100, -30, -10, 0, 0, 200, 300, 0, 0, 0, 0],
                    ],
                    [
                        'id' => 'own',
                        'surface' => 'face',
                        'name' => 'Door',
                        'nodes' => [0, 0, 0, 0, 0, 0, 9, 0, 0, 0, 0, 0, 0, 9, 0, 0, 0, 0],
                    ],
                ],
                'point' => [
                    $point('a', [100, 100]),
                    $point('b', [1100, 120]),
                    $point('c', [1150, 700]),
                    $point('d', [90, 690]),
                    $point('not found', []),
                ],
            ],
        );
    }

    /** @param  array<string, array{float, float}>  $now */
    private static function check(Document $document, array $now): ProjectorCheck
    {
        return ProjectorCheck::of($document->show, $document, 'p', $now, '2026-12-01 08:30', 'record');
    }

    public function test_all_that_it_shows_goes_along_in_perspective(): void
    {
        $document = self::document();
        $to = static function (float $x, float $y): array {
            $w = 1 + 2e-6 * $x;

            return [(1.004 * $x + 0.01 * $y + 6) / $w, (-0.008 * $x + 1.001 * $y - 4) / $w];
        };
        $check = self::check($document, [
            'a' => $to(100, 100),
            'b' => $to(1100, 120),
            'c' => $to(1150, 700),
            'd' => $to(90, 690),
        ]);
        self::assertSame(4, $check->moved);
        self::assertLessThan(1e-6, $check->drift->after);
        $after = $document->with($document->changedRows(Changes::merged($check->changes)));
        foreach (['plain', 'pinned'] as $id) {
            [$was, $is] = [
                $document->show->delivery->region($id)[0] ?? null,
                $after->show->delivery->region($id)[0] ?? null,
            ];
            self::assertNotNull($was);
            self::assertNotNull($is);
            foreach ([[0, 0], [400, 0], [400, 250], [0, 250], [123, 77]] as [$x, $y]) {
                self::assertEqualsWithDelta($to(...$was->lands($x, $y)), $is->lands($x, $y), 1e-3, "$id $x, $y");
            }
        }
        self::assertSame([], $after->show->delivery->region('elsewhere')[0]->pin);
        $nodes = $after->rows['mask']['m']['nodes'];
        self::assertEqualsWithDelta($to(100, 100), array_slice($nodes, 0, 2), 1e-3);
        [$x, $y] = $to(130, 90);
        self::assertEqualsWithDelta([$x - $nodes[0], $y - $nodes[1]], array_slice($nodes, 4, 2), 1e-3);
        self::assertEquals($document->rows['mask']['own'], $after->rows['mask']['own'], 'a mask of the surface');
        self::assertEqualsWithDelta($to(1150, 700), $after->rows['point']['c']['pixel'], 1e-9);
        self::assertSame(
            ['2026-12-01 08:30', 4, 4],
            [
                $after->rows['check']['record']['taken'],
                $after->rows['check']['record']['points'],
                $after->rows['check']['record']['moved'],
            ],
        );
        self::assertGreaterThan(1.0, $after->rows['check']['record']['before']);
    }

    public function test_nothing_that_moved_is_a_record_and_no_more(): void
    {
        $check = self::check(self::document(), ['a' => [100.001, 100.0]]);
        self::assertSame(0, $check->moved);
        self::assertSame(['check'], array_column($check->changes, 'kind'));
    }

    public function test_points_of_others_and_places_that_turn_a_piece_over_are_refused(): void
    {
        foreach ([['x' => [1.0, 2.0]], ['not found' => [1.0, 2.0]]] as $now) {
            try {
                self::check(self::document(), $now);
                self::fail('It is refused.');
            } catch (InvalidValue $refused) {
                self::assertSame('points', $refused->field);
            }
        }
        $this->expectException(InvalidValue::class);
        $document = self::document();
        ProjectorCheck::of($document->show, $document, 'nobody', [], '2026-12-01 08:30', 'record');
    }

    public function test_what_was_computed_is_looked_up_where_it_was_before_its_corners_were_pinned(): void
    {
        $region = self::document()->show->delivery->region('pinned')[0] ?? null;
        self::assertNotNull($region);
        foreach ($region->corners() as $k => [$x, $y]) {
            self::assertEqualsWithDelta(
                [[600, 0], [1240, 0], [1240, 400], [600, 400]][$k],
                $region->unpinned()->point($x, $y),
                1e-9,
            );
        }
        self::assertEqualsWithDelta(
            [7, 9],
            self::document()->show->delivery->region('plain')[0]?->unpinned()->point(7, 9),
            0.0,
        );
    }
}

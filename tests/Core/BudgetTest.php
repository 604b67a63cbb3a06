<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Preflight\Budget;
use Core\Preflight\Figures;
use Core\Preflight\Inspections\OverBudget;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

final class BudgetTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    /**
     * Two walls on two outputs; a layer on the first, one on both, one on none of them.
     *
     * @param  list<array{string, string, int, int}>  $clips  layer, media, start and length in seconds
     * @param  array<string, float>  $limits  of the first output
     */
    private static function show(array $clips, array $limits = []): Show
    {
        $video = static fn (string $id, int $width, int $height, string $rate, int $frames, array $more = []): array => [
            'id' => $id,
            'name' => $id,
            'kind' => 'file',
            'state' => 'ready',
            'facts' => ['width' => $width, 'height' => $height],
            'form' => $more + [
                'kind' => 'video',
                'url' => '/x.mp4',
                'width' => $width,
                'height' => $height,
                'frameRate' => $rate,
                'frames' => $frames,
                'bytes' => 1_000_000,
            ],
        ];
        $wall = static fn (string $id): array => [
            'id' => $id,
            'name' => "Wall $id",
            'position' => [0, 0, 0],
            'rotation' => [0, 0, 0],
            'cells' => [['panel', 'panel']],
            'seams' => [0],
        ];

        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
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
                'surface' => [$wall('a'), $wall('b'), $wall('c')],
                'media' => [
                    // 10 s each: 100,000 bytes a second; the matte of the second doubles what is decoded.
                    $video('hd', 1920, 1080, '25', 250),
                    $video('alpha', 640, 360, '50', 500, ['matte' => true, 'height' => 720]),
                    [
                        'id' => 'still',
                        'name' => 'Still',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 4000, 'height' => 4000],
                        'form' => ['kind' => 'still', 'url' => '/s.png'],
                    ],
                    ['id' => 'late', 'state' => 'working', 'name' => 'Late', 'kind' => 'file', 'form' => []],
                ],
                'timeline' => [
                    ['id' => 't', 'name' => 'Main', 'duration' => 60 * self::S],
                    ['id' => 'u', 'name' => 'Other', 'duration' => 60 * self::S],
                ],
                'layer' => [
                    ['id' => 'first', 'timeline' => 't', 'name' => 'First', 'order' => 0, 'route' => 'ra'],
                    ['id' => 'both', 'timeline' => 't', 'name' => 'Both', 'order' => 1, 'route' => 'rab'],
                    ['id' => 'none', 'timeline' => 't', 'name' => 'None', 'order' => 2, 'route' => 'rc'],
                    ['id' => 'free', 'timeline' => 't', 'name' => 'Free', 'order' => 3],
                ],
                'route' => [
                    ['id' => 'ra', 'layer' => 'first', 'surfaces' => ['a']],
                    ['id' => 'rab', 'layer' => 'both', 'surfaces' => ['a', 'b']],
                    ['id' => 'rc', 'layer' => 'none', 'surfaces' => ['c']],
                ],
                'clip' => array_map(
                    static fn (array $clip, int $n): array => [
                        'id' => "c$n",
                        'layer' => $clip[0],
                        'media' => $clip[1],
                        'start' => $clip[2] * self::S,
                        'length' => $clip[3] * self::S,
                        'pastEnd' => 'loop',
                    ],
                    $clips,
                    array_keys($clips),
                ),
                'output' => [
                    $limits + ['id' => 'one', 'name' => 'One', 'width' => 100, 'height' => 50, 'refresh' => 60],
                    ['id' => 'two', 'name' => 'Two', 'width' => 100, 'height' => 50, 'refresh' => 60],
                ],
                'region' => [
                    ['id' => 'r1', 'output' => 'one', 'surface' => 'a', 'source' => [0, 0, 40, 20], 'x' => 0, 'y' => 0],
                    ['id' => 'r2', 'output' => 'two', 'surface' => 'b', 'source' => [0, 0, 40, 20], 'x' => 0, 'y' => 0],
                ],
            ],
        );
    }

    public function test_the_worst_moment_is_where_the_most_is_decoded(): void
    {
        $show = self::show([
            ['first', 'hd', 0, 20],
            ['both', 'alpha', 10, 20],
            ['none', 'hd', 12, 2],
            ['first', 'still', 40, 10],
            ['free', 'hd', 0, 60],
            ['both', 'late', 50, 5],
        ]);
        $budgets = Budget::all($show, new ResultCache());
        $hd = 1920 * 1080 * 25.0;
        $alpha = 640 * 720 * 50.0;
        self::assertSame(['one', 'two'], array_keys($budgets));
        self::assertSame(['t'], array_keys($budgets['one']));
        $one = $budgets['one']['t'];
        self::assertSame(
            [10 * self::S, 2, $hd + $alpha, 200_000.0],
            [$one->at, $one->streams, $one->pixels, $one->bytes],
        );
        self::assertSame(
            [[0, $hd], [10 * self::S, $hd + $alpha], [20 * self::S, $alpha], [30 * self::S, 0.0]],
            array_slice($one->course, 0, 4),
        );
        // Ten frames of 1.5 bytes a pixel and a texture of 4: 19 for each pixel that is held.
        self::assertSame([19.0 * (1920 * 1080 + 640 * 720), 10 * self::S], $one->mostMemory);
        // The other output shows the wall that the first layer does not reach.
        self::assertSame(
            [10 * self::S, 1, $alpha],
            [$budgets['two']['t']->at, $budgets['two']['t']->streams, $budgets['two']['t']->pixels],
        );
        $told = Figures::of($show)['budgets']['one'];
        self::assertSame(['t', 10 * self::S, 2], [$told[0]['timeline'], $told[0]['at'], $told[0]['streams']]);
    }

    public function test_of_clips_that_overlap_on_a_layer_the_one_on_top_is_decoded(): void
    {
        $budget = Budget::all(self::show([['first', 'hd', 0, 20], ['first', 'alpha', 5, 5]]), new ResultCache())['one'][
            't'
        ];
        self::assertSame([1, 1920 * 1080 * 25.0], [$budget->streams, $budget->pixels]);
        self::assertSame(
            [
                [0, 1920 * 1080 * 25.0],
                [5 * self::S, 640 * 720 * 50.0],
                [10 * self::S, 1920 * 1080 * 25.0],
                [20 * self::S, 0.0],
            ],
            $budget->course,
        );
    }

    public function test_what_is_beyond_the_limits_of_an_output_is_said_with_its_worst_moment(): void
    {
        $said = static function (array $limits): array {
            $found = [];
            foreach (
                (new OverBudget())->inspect(
                    self::show([['first', 'hd', 0, 20], ['both', 'alpha', 10, 20]], $limits),
                    new ResultCache(),
                ) as $finding
            ) {
                $found[] = $finding->message;
            }

            return $found;
        };
        // 1920 × 1080 × 25 and 640 × 720 × 50 are 74.88 million pixels a second; 0.2 MB.
        self::assertSame([], $said([]));
        self::assertSame(
            [],
            $said(['streamsLimit' => 2, 'decodeLimit' => 74.88, 'readLimit' => 0.2, 'memoryLimit' => 48.1536]),
        );
        self::assertSame(
            ['One plays 2 videos at 00:00:10:00 of Main; its limit is 1 video.'],
            $said(['streamsLimit' => 1]),
        );
        self::assertSame(['One needs 48 MB at 00:00:10:00 of Main; its limit is 40 MB.'], $said(['memoryLimit' => 40]));
        self::assertSame(
            [
                'One decodes 75 Mpx/s at 00:00:10:00 of Main; its limit is 70 Mpx/s.',
                'One reads 0.2 MB/s at 00:00:10:00 of Main; its limit is 0.1 MB/s.',
            ],
            $said(['decodeLimit' => 70, 'readLimit' => 0.1]),
        );
    }

    public function test_a_show_without_videos_has_none(): void
    {
        self::assertSame([], Budget::all(self::show([['first', 'still', 0, 5]]), new ResultCache()));
        self::assertSame([], Budget::all(self::show([]), new ResultCache()));
        self::assertSame(
            [0, 0, 0.0, 0.0, [], [0, 0], [0.0, 0], [0.0, 0]],
            array_values(get_object_vars(Budget::of([], [], 1))),
        );
    }

    public function test_of_a_long_course_the_busiest_moments_are_told(): void
    {
        $clips = [];
        for ($i = 0; $i < 300; $i++) {
            $clips[] = ['first', $i % 50 === 0 ? 'hd' : 'alpha', 4 * $i, 2];
        }
        $budget = Budget::all(self::show($clips), new ResultCache())['one']['t'];
        self::assertCount(Budget::TOLD, $budget->course);
        self::assertSame(
            6,
            count(array_filter($budget->course, static fn (array $c): bool => $c[1] === 1920 * 1080 * 25.0)),
        );
        $times = array_column($budget->course, 0);
        $sorted = $times;
        sort($sorted);
        self::assertSame($sorted, $times);
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Beep;
use Core\Media\MediaItem;
use Core\Media\Pattern;
use Core\Media\PatternPicture;
use Core\Media\Picture;
use Core\Media\TextGrid;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Show\Show;
use Core\Timeline\Clip;
use Core\Timeline\SoundClip;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PatternTest extends TestCase
{
    public function test_a_flash_is_heard_when_it_is_seen(): void
    {
        $samples = array_values((array) unpack('g*', Beep::bytes()));
        self::assertCount(48_000, $samples);
        self::assertSame([2399, 0.0], [max(array_keys(array_filter($samples))), $samples[0]]);
        // A kilohertz crosses zero twice in 48 samples.
        self::assertSame(
            99,
            count(
                array_filter(
                    range(1, 2398),
                    static fn (int $n): bool => $samples[$n] * $samples[$n + 1] < 0 || $samples[$n] === 0.0,
                ),
            ),
        );
        $flash = MediaItem::fromRow(
            ['id' => 'f', 'name' => 'Flash', 'kind' => 'pattern', 'pattern' => 'flash'],
            ['speed' => [2.0]],
        );
        $sound = (array) $flash->sound();
        self::assertSame([48_000, 2.0], [$sound['samples'] ?? 0, $sound['rate'] ?? 0]);
        // Twice a second from the start of its clip on, a quarter of a second in: the beep's begin is where the flash
        // is lit anew.
        $clip = SoundClip::of(
            Clip::of(Flicks::PER_SECOND, 10 * Flicks::PER_SECOND, intdiv(Flicks::PER_SECOND, 4)),
            48_000,
            2.0,
        );
        foreach ([0, 0.1, 0.25, 0.7, 0.75, 3.3] as $seconds) {
            $time = (int) round((1 + $seconds) * Flicks::PER_SECOND);
            $at = $clip->sampleAt($time);
            self::assertEqualsWithDelta(fmod((0.25 + $seconds) * 2, 1) * 48_000, $at, 1e-6, "$seconds");
        }
        self::assertTrue($clip->toArray()['loop']);
        self::assertNull(
            MediaItem::fromRow(
                ['id' => 'f', 'name' => 'Flash', 'kind' => 'pattern', 'pattern' => 'flash'],
                ['speed' => [-1.0]],
            )->sound(),
        );
        self::assertNull(
            MediaItem::fromRow(['id' => 'f', 'name' => 'Bars', 'kind' => 'pattern', 'pattern' => 'bars'])->sound(),
        );
    }

    private const F = Flicks::PER_SECOND / 25;

    /** @param  array<string, float>  $values */
    private static function picture(
        Pattern $pattern,
        array $values = [],
        int $frame = 0,
        int $width = 80,
        int $height = 40,
    ): PatternPicture {
        $set = Pattern::properties();

        return PatternPicture::of(
            $pattern,
            $width,
            $height,
            $frame,
            (int) self::F,
            static fn (string $name): float => (float) ($values[$name] ?? $set->named(explode('#', $name)[0])->default),
        );
    }

    /** @param  array<string, float>  $values */
    private static function at(Pattern $pattern, array $values, int $frame, float $x, float $y): float
    {
        return self::picture($pattern, $values, $frame)->sample($x / 80, $y / 40)[0];
    }

    /**
     * @return array<string, array{Pattern, array<string, float>, int, float, float, float}> values, frame at 25 fps,
     *     a place of 80 × 40 px, how much of the front colour
     */
    public static function amounts(): array
    {
        return [
            'grid: a line each 16 px' => [Pattern::Grid, ['size' => 16], 0, 32.5, 7.5, 1],
            'grid: its rows' => [Pattern::Grid, ['size' => 16], 0, 7.5, 16.5, 1],
            'grid: between them' => [Pattern::Grid, ['size' => 16], 0, 33.5, 17.5, 0],
            'grid: every pixel' => [Pattern::Grid, ['size' => 1], 0, 33.5, 17.5, 1],
            'checker' => [Pattern::Checker, ['size' => 10], 0, 15, 5, 1],
            'checker: beside' => [Pattern::Checker, ['size' => 10], 0, 15, 15, 0],
            // Across 80 px from 0 to 1: a quarter at 20.
            'gradient' => [Pattern::Gradient, [], 0, 20, 33, 0.25],
            'gradient downward' => [Pattern::Gradient, ['angle' => 90], 0, 20, 30, 0.75],
            // After 1 s a tenth further; past 1 it comes back.
            'gradient that moves' => [Pattern::Gradient, [], 25, 20, 33, 0.35],
            'gradient that came back' => [Pattern::Gradient, [], 25, 76, 33, 0.95],
            'gradient backward' => [Pattern::Gradient, ['speed' => -1], 25, 20, 33, 0.15],
            // 4 s over 80 + 8 px: after 2 s the bar of 8 px begins at 44 − 8.
            'sweep' => [Pattern::Sweep, ['size' => 8], 50, 37, 3, 1],
            'sweep: behind it' => [Pattern::Sweep, ['size' => 8], 50, 35, 3, 0],
            'sweep: before it' => [Pattern::Sweep, ['size' => 8], 50, 45, 3, 0],
            'flash: the first frames of a second' => [Pattern::Flash, [], 26, 5, 5, 1],
            'flash: then dark' => [Pattern::Flash, [], 27, 5, 5, 0],
            // Stripes of 20 px, half of each: from 5 to 15, sharp. The middle of the picture is at 40, which is 0.
            'lines' => [Pattern::Lines, ['size' => 20, 'softness' => 0], 0, 50, 9, 1],
            'lines: between' => [Pattern::Lines, ['size' => 20, 'softness' => 0], 0, 42, 9, 0],
            'lines that moved by half of them' => [
                Pattern::Lines,
                ['size' => 20, 'softness' => 0, 'speed' => 0.5],
                25,
                50,
                9,
                0,
            ],
            // Fully soft: at half of the half width, 1 − 0.25 · (3 − 1) = 0.5.
            'lines, soft' => [Pattern::Lines, ['size' => 20, 'softness' => 1], 0, 52.5, 9, 0.5],
            'lines: none' => [Pattern::Lines, ['size' => 20, 'density' => 0], 0, 50, 9, 0],
            // Middle of the picture: sine of 0, so a half; with full density to the first power.
            'waves' => [Pattern::Waves, ['size' => 20, 'density' => 1], 0, 40, 20, 0.5],
            // A quarter of 20 px below: the crest.
            'waves: the crest' => [Pattern::Waves, ['size' => 20, 'density' => 1], 0, 40, 25, 1],
            'particles: none' => [Pattern::Particles, ['size' => 20, 'density' => 0], 7, 40, 25, 0],
        ];
    }

    /** @param  array<string, float>  $values */
    #[DataProvider('amounts')]
    public function test_what_is_where(
        Pattern $pattern,
        array $values,
        int $frame,
        float $x,
        float $y,
        float $wanted,
    ): void {
        self::assertEqualsWithDelta($wanted, self::at($pattern, $values, $frame, $x, $y), 1e-9);
    }

    public function test_bars_and_ramps_have_their_own_colours(): void
    {
        $bars = array_map(
            static fn (int $i): string => implode(
                '',
                array_map(intval(...), array_slice(self::picture(Pattern::Bars)->sample(($i + 0.5) / 8, 0.5), 0, 3)),
            ),
            range(0, 7),
        );
        // White, yellow, cyan, green, magenta, red, blue, black.
        self::assertSame(['111', '110', '011', '010', '101', '100', '001', '000'], $bars);
        self::assertEqualsWithDelta(
            [[0.25, 0, 0], [0, 0.25, 0], [0, 0, 0.25], [0.25, 0.25, 0.25]],
            array_map(
                static fn (int $i): array => array_slice(
                    self::picture(Pattern::Ramp)->sample(0.25, ($i + 0.5) / 4),
                    0,
                    3,
                ),
                range(0, 3),
            ),
            1e-9,
        );
        // Beyond its edges it goes on as at them.
        self::assertSame(
            self::picture(Pattern::Bars)->sample(1.2, 0.5),
            self::picture(Pattern::Bars)->sample(0.999, 0.5),
        );
    }

    public function test_colours_are_mixed_from_back_to_front(): void
    {
        $two = ['front' => 1, 'front#1' => 0.5, 'front#2' => 0, 'back' => 0, 'back#1' => 0.5, 'back#2' => 1];
        self::assertEqualsWithDelta(
            [0.25, 0.5, 0.75, 1],
            self::picture(Pattern::Gradient, $two)->sample(0.25, 0.5),
            1e-9,
        );
    }

    public function test_chance_is_spread_evenly_is_the_same_each_time_and_differs_by_seed(): void
    {
        // Noise on the points of its lattice is chance itself: mean 1/2, variance 1/12, each tenth as often as any
        // other.
        $values = [];
        for ($i = 0; $i < 100; $i++) {
            for ($j = 0; $j < 40; $j++) {
                $values[] = self::picture(Pattern::Noise, ['size' => 1, 'speed' => 0], 0, 101, 41)->sample(
                    $i / 101,
                    $j / 41,
                )[0];
            }
        }
        $mean = array_sum($values) / count($values);
        self::assertEqualsWithDelta(0.5, $mean, 0.02);
        self::assertEqualsWithDelta(
            1 / 12,
            array_sum(array_map(static fn (float $v): float => ($v - $mean) ** 2, $values)) / count($values),
            0.005,
        );
        $tenths = array_count_values(array_map(static fn (float $v): int => (int) floor($v * 10), $values));
        self::assertGreaterThan(320, min($tenths));
        self::assertLessThan(480, max($tenths));
        self::assertGreaterThan(
            3900,
            count(array_unique(array_map(static fn (float $v): int => (int) round($v * 1e9), $values))),
        );
        $one = static fn (float $seed): array => array_map(
            static fn (int $x): float => self::at(Pattern::Noise, ['size' => 3, 'seed' => $seed], 5, $x, 11),
            range(0, 30),
        );
        self::assertSame($one(4), $one(4));
        self::assertNotSame($one(4), $one(5));
    }

    public function test_looks_have_no_jumps_from_pixel_to_pixel_or_frame_to_frame(): void
    {
        foreach ([Pattern::Noise, Pattern::Waves, Pattern::Particles, Pattern::Shapes] as $pattern) {
            $values = ['size' => 40, 'softness' => 1, 'density' => 0.9, 'speed' => 0.5];
            [$most, $seen] = [0.0, []];
            for ($i = 0; $i < 237; $i++) {
                [$x, $y] = [$i % 79, 6 + 12 * intdiv($i, 79)];
                $here = self::at($pattern, $values, 100, $x, $y);
                $most = max(
                    $most,
                    abs($here - self::at($pattern, $values, 100, $x + 0.5, $y)),
                    abs($here - self::at($pattern, $values, 101, $x, $y)),
                );
                $seen[] = $here;
            }
            self::assertLessThan(0.25, $most, $pattern->value);
            self::assertGreaterThan(0.05, max($seen) - min($seen), $pattern->value);
        }
    }

    /** @return list<string> rows of a pattern: # where the front colour is, + where some of it is */
    private static function drawn(PatternPicture $picture): array
    {
        $rows = [];
        for ($y = 0; $y < $picture->height; $y++) {
            $rows[] = implode(
                '',
                array_map(
                    static fn (int $x): string => match (true) {
                        ($m = $picture->sample(($x + 0.5) / $picture->width, ($y + 0.5) / $picture->height)[0]) > 0.99 => '#',
                        $m > 0.01 => '+',
                        default => '.',
                    },
                    range(0, $picture->width - 1),
                ),
            );
        }

        return $rows;
    }

    /** @param  array<string, float>  $values */
    private static function text(string $text, array $values, int $width, int $height): PatternPicture
    {
        $set = Pattern::properties();

        return PatternPicture::of(
            Pattern::Text,
            $width,
            $height,
            0,
            (int) self::F,
            static fn (string $name): float => (float) ($values[$name] ?? $set->named(explode('#', $name)[0])->default),
            TextGrid::of($text),
        );
    }

    public function test_a_text_stands_in_the_middle_its_lines_centred(): void
    {
        self::assertSame(
            [
                '.............',
                '.#####..###..',
                '...#...#...#.',
                '...#.......#.',
                '...#.....##..',
                '...#....#....',
                '...#...#.....',
                '...#...#####.',
                '.............',
            ],
            self::drawn(self::text('T2', ['size' => 7], 13, 9)),
        );
        // Twice as large from 14 px on, and not before.
        self::assertSame(
            self::drawn(self::text('T2', ['size' => 7], 30, 20)),
            self::drawn(self::text('T2', ['size' => 13.9], 30, 20)),
        );
        $large = self::drawn(self::text('T', ['size' => 14], 10, 14));
        self::assertSame(['##########', '##########', '....##....'], array_slice($large, 0, 3));
        // Two lines: the shorter one a cell in; nine dots from line to line.
        $two = self::drawn(self::text("III\nI", ['size' => 7], 17, 16));
        self::assertSame(['.###...###...###.', '.......###.......'], [$two[0], $two[9]]);
        // Larger than its room, it is cut on both sides.
        self::assertSame('##.##', self::drawn(self::text('TT', ['size' => 7], 5, 7))[0]);
        self::assertSame(str_repeat('.', 8), self::drawn(self::text(' ', ['size' => 7], 8, 8))[3]);
    }

    public function test_a_text_has_so_many_signs(): void
    {
        self::assertSame(
            [64, 1],
            [TextGrid::of(str_repeat('x', 64))->columns, TextGrid::of(str_repeat('x', 64))->rows],
        );
        self::assertSame(
            [16, 4],
            [($grid = TextGrid::of("a\r\n".str_repeat('b', 16)."\n\nc"))->columns, $grid->rows],
        );
        self::assertEquals($grid, TextGrid::fromNumbers(16, 4, $grid->numbers()));
        $item = MediaItem::fromRow([
            'id' => 'm',
            'name' => 'Welcome',
            'kind' => 'pattern',
            'pattern' => 'text',
            'text' => '  ',
        ]);
        self::assertEquals(TextGrid::of('Welcome'), $item->text);
        self::assertEquals(
            TextGrid::of('Hi'),
            MediaItem::fromRow(['id' => 'm', 'name' => 'W', 'kind' => 'pattern', 'pattern' => 'text', 'text' => 'Hi'])
                ->text,
        );
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage(
            'A text has at most 64 signs, its longest line times the count of its lines; this one has 33 × 2.',
        );
        TextGrid::of("a\n".str_repeat('b', 33));
    }

    public function test_numbered_blocks_count_in_reading_order_and_are_lit_in_turn(): void
    {
        // Three in a row of 30 px: 12, 12 and 6 wide; the first number is 1, one dot a pixel, in the middle of its
        // block.
        $rows = self::drawn(self::picture(Pattern::Blocks, ['size' => 12], 0, 30, 24));
        self::assertSame(
            ['............', '++++++++++++', '......'],
            [substr($rows[0], 0, 12), substr($rows[0], 12, 12), substr($rows[0], 24)],
        );
        self::assertSame(
            ['++++++++++++', '............', '++++++'],
            [substr($rows[12], 0, 12), substr($rows[12], 12, 12), substr($rows[12], 24)],
        );
        $block = static fn (int $x, int $y): array => array_map(
            static fn (int $i): string => substr($rows[$y + $i], $x, 12),
            range(2, 8),
        );
        self::assertSame(
            [
                '.....#......',
                '....##......',
                '.....#......',
                '.....#......',
                '.....#......',
                '.....#......',
                '....###.....',
            ],
            $block(0, 0),
        );
        // The fifth: second row, second column.
        self::assertSame(
            [
                '...#####....',
                '...#........',
                '...####.....',
                '.......#....',
                '.......#....',
                '...#...#....',
                '....###.....',
            ],
            $block(12, 12),
        );
        // Too small for a number: only its ground.
        self::assertSame(
            '......++',
            substr(self::drawn(self::picture(Pattern::Blocks, ['size' => 6], 0, 30, 24))[3], 0, 8),
        );
    }

    public function test_a_countdown_reaches_nought_when_it_is_over_and_stays(): void
    {
        $shown = static fn (float $from, int $frame, float $speed = 1): array => self::drawn(
            self::picture(Pattern::Countdown, ['size' => 7, 'from' => $from, 'speed' => $speed], $frame, 29, 7),
        );
        $says = static fn (string $text): array => self::drawn(self::text($text, ['size' => 7], 29, 7));
        self::assertSame($says('01:05'), $shown(65, 0));
        self::assertSame([$says('01:05'), $says('01:04')], [$shown(65, 24), $shown(65, 25)]);
        self::assertSame(
            [$says('00:01'), $says('00:00'), $says('00:00')],
            [$shown(65, 65 * 25 - 1), $shown(65, 65 * 25), $shown(65, 9000)],
        );
        self::assertSame(
            [$says('00:55'), $says('01:15'), $says('99:59')],
            [$shown(65, 125, 2), $shown(65, 250, -1), $shown(5999, 100, -1)],
        );
    }

    public function test_what_is_seen_of_a_picture_is_repeated(): void
    {
        // Bars of 16 × 8 px, pixel for pixel from the corner: two pixels each of white, yellow, cyan, green, magenta,
        // red, blue, black.
        $at = static function (array $values, int $x, int $y): string {
            $raster = self::raster(
                ['pattern' => 'bars', 'width' => 16, 'height' => 8],
                [
                    'layer' => [
                        [
                            'id' => 'l',
                            'timeline' => 'line',
                            'name' => 'L',
                            'order' => 0,
                            'route' => 'r',
                            'fitting' => 'one-to-one',
                            'anchorX' => 0,
                            'anchorY' => 0,
                            'values' => $values,
                        ],
                    ],
                ],
                3,
            );

            return implode(
                '',
                array_map(static fn (int $n): string => $n > 127 ? 'f' : '0', $raster->surfacePixel('wall', $x, $y)),
            );
        };
        $row = static fn (array $values, int $y, int ...$x): array => array_map(
            static fn (int $one): string => $at($values, $one, $y),
            $x,
        );
        self::assertSame(['fff', 'ff0', '000', '000', '000'], $row([], 3, 0, 2, 15, 16, 34));
        self::assertSame(['fff', 'ff0', '000', 'fff', 'ff0'], $row(['tile' => 'across'], 3, 0, 2, 15, 16, 34));
        self::assertSame(['000', 'ff0'], [$at(['tile' => 'across'], 34, 9), $at(['tile' => 'both'], 34, 39)]);
        self::assertSame(['ff0', '000'], [$at(['tile' => 'down'], 2, 30), $at(['tile' => 'down'], 18, 30)]);
        // Its left half cut away: magenta, red, blue, black from 8 on, and the same before and after.
        self::assertSame(
            ['f0f', 'f00', 'f0f', '000', 'f0f'],
            $row(['tile' => 'across', 'cropLeft' => 0.5], 3, 0, 2, 8, 15, 16),
        );
        // Mirrored, each of them is.
        self::assertSame(
            ['000', '00f', 'fff', '000'],
            $row(['tile' => 'across', 'mirror' => 'across'], 3, 0, 2, 15, 16),
        );
        // Half as large about the middle of the picture, which is at 8, 4: it begins at 4, and each is 8 px wide.
        self::assertSame(
            ['fff', 'ff0', '000', 'fff', 'f0f'],
            $row(['tile' => 'both', 'scale' => 0.5], 4, 4, 5, 11, 12, 0),
        );
    }

    /** @param  array<string, list<array<string, mixed>>>  $more */
    private static function raster(array $media, array $more, float $second): ReferenceRaster
    {
        $show = Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            $more + [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 40,
                        'heightPx' => 40,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [
                    [
                        'id' => 'wall',
                        'name' => 'Wall',
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['panel', 'panel']],
                        'seams' => [0],
                    ],
                ],
                'media' => [$media + ['id' => 'look', 'name' => 'Look', 'kind' => 'pattern']],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * Flicks::PER_SECOND]],
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'r']],
                'route' => [['id' => 'r', 'name' => 'Wall', 'surfaces' => ['wall']]],
                'clip' => [
                    [
                        'id' => 'c',
                        'layer' => 'l',
                        'media' => 'look',
                        'start' => 2 * Flicks::PER_SECOND,
                        'length' => 10 * Flicks::PER_SECOND,
                    ],
                ],
            ],
        );
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);

        return new ReferenceRaster(
            new Moment(
                $compiler->plan(),
                [Head::of('line', TransportMap::standing(0, (int) ($second * Flicks::PER_SECOND)))],
                [],
                0,
            ),
            static fn (): ?Picture => null,
        );
    }

    public function test_a_pattern_runs_from_the_start_of_its_clip_and_its_values_are_keyframed(): void
    {
        // The gradient of 80 px at its clip's second second: 0.1 a second.
        $at = static fn (float $second): int => self::raster(['pattern' => 'gradient'], [], $second)->surfacePixel(
            'wall',
            19,
            5,
        )[0];
        self::assertSame((int) round((255 * 19.5) / 80), $at(2));
        self::assertSame((int) round(255 * (19.5 / 80 + 0.1)), $at(3));
        $keyed = self::raster(
            ['pattern' => 'checker'],
            [
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'media',
                        'owner' => 'look',
                        'property' => 'size',
                        'keyframes' => [['t' => 0, 'v' => 10], ['t' => 4 * Flicks::PER_SECOND, 'v' => 50]],
                    ],
                ],
            ],
            2,
        );
        // At 2 s its squares are 30 px.
        self::assertSame(
            [0, 0, 255, 255],
            array_map(static fn (int $x): int => $keyed->surfacePixel('wall', $x, 5)[0], [0, 29, 30, 59]),
        );
    }

    public function test_an_edit_of_a_patterns_curve_sends_its_track_and_nothing_else(): void
    {
        $show = static fn (float $size): Show => Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'media' => [
                    ['id' => 'look', 'name' => 'Look', 'kind' => 'pattern', 'pattern' => 'grid'],
                    ['id' => 'other', 'name' => 'Other', 'kind' => 'pattern', 'pattern' => 'waves'],
                ],
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'media',
                        'owner' => 'look',
                        'property' => 'size',
                        'keyframes' => [['t' => 0, 'v' => 10], ['t' => Flicks::PER_SECOND, 'v' => $size]],
                    ],
                ],
            ],
        );
        $compiler = new PlanCompiler();
        $compiler->compile($show(20), 1);
        $changed = $compiler->compile($show(30), 2);
        self::assertSame([[], ['media:look/size']], [$changed->parts, array_keys($changed->tracks)]);
    }

    public function test_a_pattern_of_its_own_size_is_fitted_like_any_picture(): void
    {
        $raster = self::raster(
            ['pattern' => 'checker', 'width' => 20, 'height' => 20, 'values' => ['size' => 10]],
            [
                'layer' => [
                    [
                        'id' => 'l',
                        'timeline' => 'line',
                        'name' => 'L',
                        'order' => 0,
                        'route' => 'r',
                        'fitting' => 'stretch',
                    ],
                ],
            ],
            3,
        );
        self::assertSame(
            [0, 255],
            [$raster->surfacePixel('wall', 20, 10)[0], $raster->surfacePixel('wall', 60, 10)[0]],
        );
        foreach ([['pattern' => 'spirals'], ['pattern' => ''], ['pattern' => 'grid', 'width' => 5]] as $row) {
            try {
                MediaItem::fromRow($row + ['id' => 'm', 'name' => 'M', 'kind' => 'pattern']);
                self::fail('It was taken.');
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Output\Output;
use Core\Output\RasterCheck;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Playback\CueSheet;
use Core\Playback\Transport;
use Core\Routing\Fitting;
use Core\Routing\Placement;
use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Units\Arithmetic;
use Core\Units\ArithmeticError;
use Core\Units\Flicks;
use Core\Values\Curve;
use Core\Values\Interpolation;
use Core\Values\Keyframe;
use PHPUnit\Framework\TestCase;

/** What holds for all inputs, tried on many. */
final class PropertiesTest extends TestCase
{
    protected function setUp(): void
    {
        mt_srand(20_261_123);
    }

    private static function real(float $min, float $max): float
    {
        return $min + (($max - $min) * mt_rand()) / mt_getrandmax();
    }

    public function test_a_bezier_with_any_allowed_handles_never_runs_backwards_in_time_and_meets_its_ends(): void
    {
        for ($i = 0; $i < 300; $i++) {
            $handles = [self::real(0, 1), 0.0, self::real(0, 1), 1.0];
            $curve = Curve::of([Keyframe::of(0, 0, Interpolation::Bezier, $handles), Keyframe::of(10_000, 1)]);
            $before = 0.0;
            foreach (range(0, 10_000, 250) as $time) {
                $value = $curve->at($time);
                self::assertGreaterThanOrEqual($before - 1e-9, $value, json_encode($handles)." at $time");
                $before = $value;
            }
            self::assertEqualsWithDelta([0.0, 1.0], [$curve->at(0), $curve->at(10_000)], 1e-9);
        }
    }

    public function test_every_fitting_keeps_its_promise_for_any_shapes(): void
    {
        for ($i = 0; $i < 500; $i++) {
            [$cw, $ch, $pw, $ph, $aspect] = [
                mt_rand(1, 5000),
                mt_rand(1, 5000),
                mt_rand(1, 5000),
                mt_rand(1, 5000),
                self::real(0.5, 2),
            ];
            [$ax, $ay] = [self::real(0, 1), self::real(0, 1)];
            foreach (Fitting::cases() as $fitting) {
                $p = Placement::of($cw, $ch, $aspect, $pw, $ph, $fitting, $ax, $ay);
                [$x, $y, $w, $h] = $p->rectangle;
                [$sx, $sy, $sw, $sh] = $p->seen;
                self::assertGreaterThanOrEqual(-1e-6, min($sx, $sy));
                self::assertLessThanOrEqual(1e-6, max($sx + $sw - $pw, $sy + $sh - $ph));
                // The window of the content is exactly what of its rectangle is seen.
                self::assertEqualsWithDelta(
                    [$sx, $sy, $sx + $sw, $sy + $sh],
                    [
                        $x + $p->window[0] * $w,
                        $y + $p->window[1] * $h,
                        $x + $p->window[2] * $w,
                        $y + $p->window[3] * $h,
                    ],
                    1e-6,
                );
                match ($fitting) {
                    Fitting::Cover => self::assertEqualsWithDelta([0, 0, $pw, $ph], $p->seen, 1e-6),
                    Fitting::Contain => self::assertEqualsWithDelta([0, 0, 1, 1], $p->window, 1e-9),
                    Fitting::Stretch => self::assertEqualsWithDelta([0, 0, $pw, $ph], $p->rectangle, 1e-9),
                    Fitting::OneToOne => self::assertEqualsWithDelta(
                        [$cw * $aspect, $ch, floor($x + 1e-9), floor($y + 1e-9)],
                        [$w, $h, $x, $y],
                        1e-9,
                    ),
                };
                if ($fitting !== Fitting::Stretch) {
                    self::assertEqualsWithDelta(1.0, $p->squash, 1e-9);
                }
            }
        }
    }

    public function test_overlaps_are_those_that_comparing_every_pair_finds(): void
    {
        for ($i = 0; $i < 60; $i++) {
            $regions = [];
            for ($k = 0; $k < 14; $k++) {
                $regions["r$k"] = Region::of(
                    's',
                    Rect::of(0, 0, mt_rand(1, 300), mt_rand(1, 300)),
                    mt_rand(-50, 900),
                    mt_rand(-50, 900),
                );
            }
            $found = RasterCheck::of(Output::of('O', 1000, 1000, 60), $regions);
            $expected = [];
            foreach ($regions as $a => $ra) {
                foreach ($regions as $b => $rb) {
                    if ($a < $b && ($common = $ra->place->overlap($rb->place)) !== null) {
                        $expected["$a $b"] = $common;
                    }
                }
            }
            $got = [];
            foreach ($found['overlaps'] as [$a, $b, $common]) {
                $got[$a < $b ? "$a $b" : "$b $a"] = $common;
            }
            ksort($expected);
            ksort($got);
            self::assertEquals($expected, $got);
            self::assertSame(
                array_keys(
                    array_filter(
                        $regions,
                        static fn (Region $r): bool => $r->place->x < 0 ||
                            $r->place->y < 0 ||
                            $r->place->x + $r->place->width > 1000 ||
                            $r->place->y + $r->place->height > 1000,
                    ),
                ),
                $found['outside'],
            );
        }
    }

    public function test_the_clip_that_is_up_is_the_one_that_looking_through_all_finds(): void
    {
        for ($i = 0; $i < 60; $i++) {
            $clips = [];
            for ($k = 0; $k < 25; $k++) {
                $clips[] = [Clip::of(mt_rand(0, 500), mt_rand(1, 120)), 1, 1];
            }
            usort($clips, static fn (array $a, array $b): int => $a[0]->start <=> $b[0]->start);
            $track = MediaTrack::fromBytes(MediaTrack::ofClips($clips)->toBytes());
            for ($time = 0; $time < 640; $time += 7) {
                $best = -1;
                foreach ($clips as $n => [$clip]) {
                    if ($clip->isUpAt($time)) {
                        $best = $n;
                    }
                }
                self::assertSame($best, $track->at($time, 1)[0], "at $time");
            }
        }
    }

    public function test_whatever_is_pressed_the_show_stays_within_its_timeline_and_on_its_grid(): void
    {
        $frame = intdiv(Flicks::PER_SECOND, 25);
        for ($i = 0; $i < 100; $i++) {
            $cues = [];
            for ($k = 0; $k < mt_rand(0, 6); $k++) {
                $cues[] = [
                    'id' => "q$k",
                    'time' => mt_rand(0, 300 * $frame),
                    'number' => (string) $k,
                    'name' => "Q$k",
                    'holds' => mt_rand(0, 1) === 1,
                ];
            }
            $sheet = CueSheet::of($frame, mt_rand(1, 300) * $frame + mt_rand(0, $frame - 1), $cues);
            $transport = Transport::heldAt(0, 0);
            for ($k = 0, $engine = 0; $k < 60; $k++) {
                $engine += mt_rand(0, 40 * $frame);
                $before = $transport->positionAt($engine, $sheet);
                $transport = match (mt_rand(0, 3)) {
                    0 => $transport->play($engine, $sheet),
                    1 => $transport->hold($engine, $sheet),
                    2 => $transport->jump($engine, mt_rand(-$frame, 400 * $frame), $sheet),
                    default => $transport->go($engine, $sheet),
                };
                $now = $transport->positionAt($engine, $sheet);
                self::assertGreaterThanOrEqual(0, $now);
                self::assertLessThanOrEqual($sheet->duration, $now);
                self::assertSame(0, $transport->position % $frame);
                self::assertGreaterThanOrEqual($now, $transport->positionAt($engine + 100 * $frame, $sheet));
                self::assertEquals($transport, Transport::fromArray($transport->toArray()));
                if (! $transport->runsAt($engine, $sheet)) {
                    self::assertSame($now, $transport->positionAt($engine + 999 * $frame, $sheet));
                }
                self::assertLessThanOrEqual($sheet->duration, $before);
            }
        }
    }

    public function test_arithmetic_agrees_with_the_language_on_sums_without_units(): void
    {
        for ($i = 0; $i < 400; $i++) {
            $text = (string) mt_rand(1, 99);
            for ($k = mt_rand(0, 5); $k > 0; $k--) {
                $text .=
                    [' + ', ' - ', ' * ', ' / '][mt_rand(0, 3)].
                    (mt_rand(0, 3) === 0
                        ? '('.mt_rand(1, 9).' + '.mt_rand(1, 9).')'
                        : (string) self::real(0.5, 20));
            }
            self::assertEqualsWithDelta(eval("return $text;"), Arithmetic::evaluate($text), 1e-6, $text);
        }
    }

    public function test_no_text_whatever_breaks_the_arithmetic_but_with_an_error_of_its_own(): void
    {
        $parts = [
            '1',
            '.5',
            '(',
            ')',
            '+',
            '-',
            '*',
            '/',
            'mm',
            'm',
            "'",
            '"',
            '%',
            ' ',
            'px',
            'é',
            "\0",
            '漢',
            '1e9',
            'ft',
            '..',
        ];
        $fine = 0;
        for ($i = 0; $i < 3000; $i++) {
            $text = '';
            for ($k = mt_rand(0, 9); $k > 0; $k--) {
                $text .= $parts[mt_rand(0, count($parts) - 1)];
            }
            try {
                self::assertIsFloat(Arithmetic::evaluate($text, ['', 'm', 'px', '%'][mt_rand(0, 3)], 5.0));
                $fine++;
            } catch (ArithmeticError $error) {
                self::assertGreaterThanOrEqual(0, $error->at);
                self::assertLessThanOrEqual(strlen($text) + 4, $error->at);
            }
        }
        self::assertGreaterThan(20, $fine);
    }
}

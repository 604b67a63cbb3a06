<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Timeline\PastEnd;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\BezierPieces;
use Core\Values\Curve;
use Core\Values\HeldValue;
use Core\Values\Interpolation;
use Core\Values\Keyframe;
use Core\Values\Property;
use Core\Values\PropertySet;
use Core\Values\Stratum;
use Core\Values\Track;
use Core\Values\TrackCompiler;
use PHPUnit\Framework\TestCase;

/** How values move once compiled, against their curves, against closed forms and against plain counting. */
final class TrackTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    protected function setUp(): void
    {
        mt_srand(20_261_125);
    }

    private static function real(float $min, float $max): float
    {
        return $min + (($max - $min) * mt_rand()) / mt_getrandmax();
    }

    public function test_a_course_that_gives_way_to_another_is_the_one_before_a_time_and_the_other_from_then_on(): void
    {
        $s = Flicks::PER_SECOND;
        $ramp = Track::ramp(0.0, 2 * $s, 6 * $s, 1.0);
        $cubic = Track::of([0], [1.0, -2.0, 3.0, -0.5], true);
        foreach (
            [
                [$ramp, $cubic],
                [$cubic, $ramp],
                [Track::constant(0.3), $cubic],
                [$ramp, Track::constant(0.7)],
                [Track::step(0.0, 5 * $s, 1.0), $ramp],
            ] as $n => [$a, $b]
        ) {
            foreach ([0, 1, 2, 3, 5, 6, 9] as $second) {
                $both = $a->then($second * $s, $b);
                foreach ([-1, 0, 1, 2.5, 3, 5, 5.5, 6, 8.25, 9, 12] as $t) {
                    $time = (int) ($t * $s);
                    self::assertEqualsWithDelta(
                        $time < $second * $s ? $a->at($time) : $b->at($time),
                        $both->at($time),
                        1e-9,
                        "pair $n, $second s, at $t s",
                    );
                }
                self::assertSame($both->times, array_values(array_unique($both->times)));
            }
        }
    }

    public function test_an_address_is_read_as_it_is_written_and_nothing_else_is_one(): void
    {
        foreach (['layer:01hzzzzzzzzzzzzzzzzzzzzzzz/opacity', 'effect:a/amount#2', 'master:show/level'] as $text) {
            self::assertSame($text, (string) Address::parse($text));
        }
        self::assertSame(
            [2, 'amount'],
            [Address::parse('effect:a/amount#2')->slot, Address::parse('effect:a/amount#2')->property],
        );
        foreach (
            [
                '',
                'layer',
                'layer:/x',
                'layer:a/',
                'layer:a/x#0',
                'layer:a/x y',
                "layer:a/x\n",
                'LAYER:a/x',
                str_repeat('a', 500),
            ] as $bad
        ) {
            try {
                Address::parse($bad);
                self::fail("\"$bad\" was taken for an address.");
            } catch (InvalidValue $refused) {
                self::assertSame('address', $refused->field);
            }
        }
    }

    public function test_steps_lines_and_smooth_keyframes_are_exact_with_one_piece_each(): void
    {
        $curve = Curve::of([
            Keyframe::of(0, 0.2, Interpolation::Step),
            Keyframe::of(self::S, 0.4),
            Keyframe::of(3 * self::S, 0.8, Interpolation::Smooth),
            Keyframe::of(5 * self::S, 0.0),
        ]);
        $track = (new TrackCompiler())->compile($curve, Property::share('opacity', 'Opacity'));
        self::assertSame([0, self::S, 3 * self::S, 5 * self::S], $track->times);
        // At 4 s the smooth fall from 0.8 to 0 is half done; 3u² − 2u³ at a quarter is 0.15625.
        $at = static fn (float $seconds): float => $track->at((int) ($seconds * self::S));
        self::assertEqualsWithDelta(
            [0.2, 0.2, 0.2, 0.4, 0.6, 0.8, 0.8 * (1 - 0.15625), 0.4, 0.0, 0.0],
            [$at(-9), $at(0), $at(0.999), $at(1), $at(2), $at(3), $at(3.5), $at(4), $at(5), $at(9000)],
            1e-12,
        );
    }

    public function test_every_track_keeps_its_tolerance_to_its_curve_whatever_the_handles(): void
    {
        $worst = 0.0;
        foreach (
            [Property::share('opacity', 'Opacity'), Property::pixels('x', 'X'), Property::degrees('turn', 'Turn')] as $property
        ) {
            $compiler = new TrackCompiler();
            for ($i = 0; $i < 60; $i++) {
                $keyframes = [];
                for ($k = 0, $time = 0; $k < 6; $k++) {
                    $time += mt_rand(1_000_000, 20 * self::S);
                    $handles =
                        $k % 2 === 0
                            ? Keyframe::EASY
                            : [self::real(0, 1), self::real(0, 1), self::real(0, 1), self::real(0, 1)];
                    $keyframes[] = Keyframe::of(
                        $time,
                        self::real($property->min / 60, $property->max / ($property->unit === '%' ? 1 : 60)),
                        Interpolation::cases()[mt_rand(0, 3)],
                        $handles,
                    );
                }
                $curve = Curve::of($keyframes);
                $made = $compiler->compile($curve, $property);
                $track = Track::fromBytes($made->toBytes(), count($made->times), $property->wide);
                for ($k = 0; $k < 200; $k++) {
                    $at = mt_rand(-self::S, $time + self::S);
                    $worst = max($worst, abs($track->at($at) - $curve->at($at)) / $property->tolerance);
                }
            }
        }
        self::assertLessThanOrEqual(1.0, $worst);
        self::assertGreaterThan(0.05, $worst, 'Tracks finer than they have to be are too large.');
    }

    public function test_a_bezier_of_usual_handles_takes_a_handful_of_pieces(): void
    {
        self::assertLessThanOrEqual(8, count(BezierPieces::of(Keyframe::EASY, 1 / 2048)));
        self::assertGreaterThan(
            count(BezierPieces::of(Keyframe::EASY, 1 / 2048)),
            count(BezierPieces::of(Keyframe::EASY, 3e-7)),
        );
        // A straight Bézier is one piece, and an upright one (all at once in the middle) still ends.
        self::assertCount(1, BezierPieces::of([1 / 3, 1 / 3, 2 / 3, 2 / 3], 1e-6));
        self::assertLessThan(200, count(BezierPieces::of([1.0, 0.0, 0.0, 1.0], 1 / 2048)));
    }

    public function test_handles_that_carry_a_curve_out_of_its_range_are_held_at_the_limit(): void
    {
        $property = Property::share('opacity', 'Opacity');
        foreach (
            [[0.3, -8.0, 0.6, 9.0], [0.0, 10.0, 1.0, 10.0], [0.5, -10.0, 0.5, -10.0], [0.2, 1.4, 0.8, 1.0]] as $handles
        ) {
            $curve = Curve::of([Keyframe::of(0, 0.3, Interpolation::Bezier, $handles), Keyframe::of(4 * self::S, 0.9)]);
            $track = (new TrackCompiler())->compile($curve, $property);
            for ($k = 0; $k <= 400; $k++) {
                $at = intdiv(4 * self::S * $k, 400);
                self::assertEqualsWithDelta(
                    max(0.0, min(1.0, $curve->at($at))),
                    $track->at($at),
                    $property->tolerance,
                    json_encode($handles)." at $k",
                );
            }
            $values = array_map(static fn (int $k): float => $track->at(intdiv(4 * self::S * $k, 997)), range(0, 997));
            self::assertGreaterThanOrEqual(-1e-12, min($values));
            self::assertLessThanOrEqual(1 + 1e-12, max($values));
        }
        // Straight up from 0.5 by handles at ten times the rise: at the limit from where (0.5 + 0.4 y) = 1 on.
        self::assertContains(
            1.0,
            array_map(
                static fn (array $piece): float => round($piece[1], 9),
                BezierPieces::of([0.0, 10.0, 1.0, 10.0], 1e-4, -1.0, 1.0),
            ),
        );
    }

    public function test_keyframes_one_flick_apart_and_a_single_one_make_tracks_too(): void
    {
        $property = Property::share('opacity', 'Opacity');
        $one = (new TrackCompiler())->compile(Curve::of([Keyframe::of(50, 0.4)]), $property);
        self::assertTrue($one->isConstant());
        self::assertSame([0.4, 0.4], [$one->at(-5), $one->at(500)]);
        $close = (new TrackCompiler())->compile(
            Curve::of([
                Keyframe::of(10, 0.0, Interpolation::Bezier),
                Keyframe::of(11, 1.0, Interpolation::Bezier),
                Keyframe::of(12, 0.0),
            ]),
            $property,
        );
        self::assertEqualsWithDelta([0.0, 0.0, 1.0, 0.0, 0.0], array_map($close->at(...), [9, 10, 11, 12, 13]), 1e-9);
        self::assertSame($close->times, array_values(array_unique($close->times)));
        $flat = (new TrackCompiler())->compile(
            Curve::of([Keyframe::of(0, 0.5, Interpolation::Smooth), Keyframe::of(100, 0.5)]),
            $property,
        );
        self::assertSame(0.5, $flat->at(30));
    }

    public function test_rows_out_of_order_are_a_curve_and_its_rows_come_back(): void
    {
        $rows = [
            ['t' => 200, 'v' => 1, 'i' => 'bezier', 'h' => [0.1, 0.2, 0.3, 0.4]],
            ['t' => 100, 'v' => 0.5, 'i' => 'step'],
            ['t' => 300, 'v' => 0],
        ];
        $property = Property::share('opacity', 'Opacity');
        $curve = Curve::fromRows($rows, $property);
        self::assertSame(
            [
                ['t' => 100, 'v' => 0.5, 'i' => 'step'],
                ['t' => 200, 'v' => 1.0, 'i' => 'bezier', 'h' => [0.1, 0.2, 0.3, 0.4]],
                ['t' => 300, 'v' => 0.0, 'i' => 'linear'],
            ],
            $curve->toRows($property),
        );
        self::assertEquals($curve, Curve::of(array_map($curve->keyframe(...), [2, 0, 1])));
        // A value put where a keyframe stands keeps how that leaves; elsewhere it leaves in a straight line.
        self::assertSame(
            ['t' => 200, 'v' => 0.25, 'i' => 'bezier', 'h' => [0.1, 0.2, 0.3, 0.4]],
            $curve->with(200, 0.25)->toRows($property)[1],
        );
        self::assertSame([100, 150, 200, 300], $curve->with(150, 0.1)->times);
    }

    public function test_stored_values_are_checked_by_their_kinds_set(): void
    {
        $set = PropertySet::of('lamp', Property::share('glow', 'Glow'), Property::pixels('x', 'X'));
        self::assertSame(['x' => [5.0]], $set->check(['x' => 5]));
        foreach ([['glow' => 1.2], ['shine' => 0], ['x' => 'left'], ['x' => NAN]] as $bad) {
            try {
                $set->check($bad);
                self::fail((string) json_encode(array_keys($bad)));
            } catch (InvalidValue $refused) {
                self::assertSame('values.'.array_key_first($bad), $refused->field);
            }
        }
    }

    public function test_a_media_track_says_what_counting_frame_by_frame_says(): void
    {
        $grid = intdiv(self::S, 25);
        for ($i = 0; $i < 1000; $i++) {
            $fpf = intdiv(self::S, [24, 25, 30, 60][mt_rand(0, 3)]);
            $frames = mt_rand(2, 400);
            $in = mt_rand(0, 2) * mt_rand(0, 5 * self::S);
            $clip = Clip::of(
                mt_rand(0, 5 * self::S),
                mt_rand(1, 40 * self::S),
                $in,
                mt_rand(0, 1) === 1 ? $in + mt_rand(1, 9 * self::S) : null,
                PastEnd::cases()[mt_rand(0, 3)],
                [1.0, 1.0, -1.0, 0.5, -2.0, 3.7, -0.333, 16.0][mt_rand(0, 7)],
            );
            $track = MediaTrack::fromBytes(MediaTrack::ofClips([[$clip, $fpf, $frames]])->toBytes());
            for ($k = 0; $k < 40; $k++) {
                $time = mt_rand(-self::S, 60 * self::S);
                $whole = Flicks::snapDown($time, $grid);
                $frame = $clip->isUpAt($whole) ? $clip->mediaFrameAt($whole, $fpf, $frames) : null;
                self::assertSame($frame === null ? [-1, 0] : [0, $frame], $track->at($time, $grid));
            }
        }
    }

    public function test_what_is_shown_past_the_end_is_what_walking_there_frame_by_frame_shows(): void
    {
        // Walked: a step at a time, turning, beginning anew or staying at each end.
        $walked = static function (PastEnd $how, int $count, int $steps): array {
            [$at, $by, $shown] = [0, 1, []];
            for ($i = 0; $i < $steps; $i++) {
                $shown[] = $at < $count ? $at : null;
                if ($at + $by < 0 || ($at + $by >= $count && $how !== PastEnd::Dark)) {
                    [$at, $by] = match ($how) {
                        PastEnd::Loop => [-1, 1],
                        PastEnd::Hold => [$at - 1, 1],
                        default => $count === 1 ? [-$by, $by] : [$at, -$by],
                    };
                }
                $at += $by;
            }

            return $shown;
        };
        foreach (PastEnd::cases() as $how) {
            foreach ([1, 2, 3, 7] as $count) {
                self::assertSame(
                    $walked($how, $count, 30),
                    array_map(static fn (int $n): ?int => $how->frame($n, $count), range(0, 29)),
                    "$how->value of $count",
                );
            }
        }
        // Before its beginning, and by hand: five frames there and back.
        self::assertSame(
            [0, 1, 2, 3, 4, 3, 2, 1, 0, 1],
            array_map(static fn (int $n): ?int => PastEnd::Bounce->frame($n, 5), range(0, 9)),
        );
        self::assertSame(
            [[2, 3, 4], [2, 1], [0, 0], [null, null]],
            [
                array_map(static fn (int $n): ?int => PastEnd::Loop->frame($n, 5), [-3, -2, -1]),
                array_map(static fn (int $n): ?int => PastEnd::Bounce->frame($n, 5), [-2, -1]),
                array_map(static fn (int $n): ?int => PastEnd::Hold->frame($n, 5), [-9, -1]),
                array_map(static fn (int $n): ?int => PastEnd::Dark->frame($n, 5), [-1, 5]),
            ],
        );
    }

    public function test_a_segment_runs_backwards_and_at_any_fraction_of_its_speed(): void
    {
        // Ten frames from 20 on, looped, backwards at three frames for two grid steps: 3/2 a step from the last one
        // down, rounded down.
        $track = MediaTrack::of([[0, 0, 0, 20, 10, MediaTrack::LOOP, 200, -3, 0, 0]]);
        $expected = [];
        for ($k = 0; $k < 30; $k++) {
            $expected[] = 29 - ((int) floor(1.5 * $k) % 10);
        }
        self::assertSame($expected, array_map(static fn (int $k): int => $track->at(100 * $k, 100)[1], range(0, 29)));
        self::assertSame(20, MediaTrack::of([[0, 0, 0, 20, 10, MediaTrack::HOLD, 200, -3, 0, 0]])->at(900, 100)[1]);
        // With two thirds of a frame past already, the next comes after a third of its time.
        self::assertSame(
            [20, 20, 21],
            array_map(
                static fn (int $t): int => MediaTrack::of([[0, 0, 0, 20, 10, MediaTrack::HOLD, 300, 1, 200, 0]])->at(
                    $t,
                    1,
                )[1],
                [0, 99, 100],
            ),
        );
    }

    public function test_a_clip_runs_at_its_speed_forwards_and_backwards(): void
    {
        $frame = intdiv(self::S, 25);
        $shown = static fn (Clip $clip, array $at): array => array_map(
            static fn (int $n): ?int => $clip->mediaFrameAt($n * $frame, $frame, 100),
            $at,
        );
        // Twice as fast from frame 10 on; half as fast; backwards from the last one of its part.
        self::assertSame([10, 12, 14, 99], $shown(Clip::of(0, 99 * $frame, 10 * $frame, speed: 2), [0, 1, 2, 80]));
        self::assertSame([10, 10, 11, 11], $shown(Clip::of(0, 99 * $frame, 10 * $frame, speed: 0.5), [0, 1, 2, 3]));
        self::assertSame([99, 98, 50, 0, 0], $shown(Clip::of(0, 300 * $frame, speed: -1), [0, 1, 49, 99, 200]));
        self::assertSame(
            [29, 27, 11, 29, 27],
            $shown(Clip::of(0, 99 * $frame, 10 * $frame, 30 * $frame, PastEnd::Loop, -2), [0, 1, 9, 10, 11]),
        );
        // A third of a frame is past at its in point; of its out point, two thirds are left.
        $third = intdiv($frame, 3);
        self::assertSame(
            [[10, 10, 10, 11], [19, 18, 18, 18, 17]],
            [
                array_map(
                    static fn (int $t): ?int => Clip::of(
                        0,
                        self::S,
                        10 * $frame + $third,
                        20 * $frame,
                        speed: 1,
                    )->mediaFrameAt($t, $frame, 100),
                    [0, 1, $frame - $third - 1, $frame - $third],
                ),
                array_map(
                    static fn (int $t): ?int => Clip::of(
                        0,
                        self::S,
                        10 * $frame,
                        20 * $frame - $third,
                        speed: -1,
                    )->mediaFrameAt($t, $frame, 100),
                    [0, 2 * $third, $frame, $frame + 2 * $third - 1, $frame + 2 * $third],
                ),
            ],
        );
        foreach ([0.0, 0.0004, 16.001, -17.0] as $bad) {
            try {
                Clip::of(0, 1, speed: $bad);
                self::fail((string) $bad);
            } catch (InvalidValue $refused) {
                self::assertSame('speed', $refused->field);
            }
        }
        // Ten years at the highest speed stay within 64 bits.
        self::assertSame(99, Clip::of(0, Flicks::MAX, speed: 16)->mediaFrameAt(Flicks::MAX - 1, $frame, 100));
        self::assertSame(
            [Flicks::MAX * 16, intdiv(Flicks::MAX, 16)],
            [Clip::of(0, 1, speed: -16)->within(Flicks::MAX), Clip::of(0, 1, speed: 16)->lasting(Flicks::MAX)],
        );
    }

    public function test_clips_that_overlap_cross_over_and_the_one_below_is_known(): void
    {
        $clip = static fn (int $start, int $length): Clip => Clip::of($start, $length);
        // A runs into B; C lies within B; D begins with B's end; E begins when D does.
        $clips = [$clip(0, 100), $clip(60, 200), $clip(100, 50), $clip(260, 40), $clip(260, 60)];
        self::assertSame([0, 40, 0, 0, 0], MediaTrack::crossfades($clips));
        $all = array_map(static fn (Clip $c): array => [$c, 10, 100], $clips);
        $up = static fn (bool $under): array => array_map(
            static fn (int $t): int => MediaTrack::ofClips($all, (int) $under)->at($t, 1)[0],
            [0, 59, 60, 99, 100, 149, 150, 259, 260, 299, 300, 320],
        );
        self::assertSame([0, 0, 1, 1, 2, 2, 1, 1, 4, 4, 4, -1], $up(false));
        self::assertSame([-1, -1, 0, 0, -1, -1, -1, -1, -1, -1, -1, -1], $up(true));
        // With fades of its own, what lies within comes out of what is below and goes back.
        $within = [[Clip::of(0, 100), 10, 100], [Clip::of(20, 60, fadeIn: 10, fadeOut: 20), 10, 100]];
        self::assertSame(
            [-1, 0, 0, -1, -1, 0, 0, -1],
            array_map(static fn (int $t): int => MediaTrack::ofClips($within, 1)->at($t, 1)[0], [
                19,
                20,
                29,
                30,
                59,
                60,
                79,
                80,
            ]),
        );
        // Fades: a line up over ten, a line down over twenty, both at once where they meet.
        self::assertEqualsWithDelta(
            [0, 0.5, 0.8 * 0.85, 0.75, 0.05, 0, 0],
            array_map(static fn (int $t): float => Clip::strength([0, 10, 25, 20], $t), [0, 5, 8, 10, 24, 25, 30]),
            1e-12,
        );
        self::assertSame([1.0, 0.0], [Clip::strength([0, 0, 9, 0], 0), Clip::strength([5, 10, 25, 0], 3)]);
    }

    public function test_of_any_number_of_clips_that_overlap_each_comes_out_of_what_is_below_and_the_light_sums_to_one(): void
    {
        mt_srand(19);
        $three = [Clip::of(0, 10), Clip::of(4, 8), Clip::of(6, 8)];
        $equal = [Clip::of(0, 10), Clip::of(0, 12), Clip::of(0, 12), Clip::of(8, 12)];
        for ($run = 0; $run < 300; $run++) {
            $clips = match ($run) {
                0 => $three,
                1 => $equal,
                default => array_map(
                    static fn (): Clip => Clip::of(mt_rand(0, 40), mt_rand(1, 40)),
                    range(0, mt_rand(1, 7)),
                ),
            };
            usort($clips, static fn (Clip $a, Clip $b): int => $a->start <=> $b->start);
            $fades = MediaTrack::crossfades($clips);
            $deepest = MediaTrack::deepest($clips);
            $tracks = array_map(
                static fn (int $depth): MediaTrack => MediaTrack::ofClips(
                    array_map(static fn (Clip $c): array => [$c, 1, 1], $clips),
                    $depth,
                ),
                range(0, $deepest - 1),
            );
            for ($t = -1; $t < 82; $t++) {
                // From the bottom up, by what each says: so much of it over all that is below.
                $light = [];
                foreach ($clips as $i => $clip) {
                    if ($t >= $clip->start && $t < $clip->end()) {
                        $strength = Clip::strength($clip->fade($fades[$i]), $t);
                        $light = array_map(static fn (float $one): float => $one * (1 - $strength), $light) + [
                            $i => $strength,
                        ];
                    }
                }
                $light = array_filter($light, static fn (float $one): bool => $one > 1e-12);
                // From the top down, by what is in the plan.
                [$left, $drawn] = [1.0, []];
                foreach ($tracks as $track) {
                    [$i] = $track->at($t, 1);
                    if ($i < 0) {
                        break;
                    }
                    $drawn[$i] = $left * Clip::strength($clips[$i]->fade($fades[$i]), $t);
                    $left -= $drawn[$i];
                }
                $drawn = array_filter($drawn, static fn (float $one): bool => $one > 1e-12);
                ksort($drawn);
                ksort($light);
                self::assertEqualsWithDelta($light, $drawn, 1e-9, "run $run at $t");
                self::assertEqualsWithDelta($light === [] ? 0.0 : 1.0, array_sum($light), 1e-9, "run $run at $t");
            }
        }
        // By hand, at 8: C has a third, B two thirds of the rest, A what is left.
        $fades = MediaTrack::crossfades($three);
        self::assertSame([0, 6, 6], $fades);
        self::assertSame(
            [2, 1, 0],
            array_map(
                static fn (int $depth): int => MediaTrack::ofClips(
                    array_map(static fn (Clip $c): array => [$c, 1, 1], $three),
                    $depth,
                )->at(8, 1)[0],
                [0, 1, 2],
            ),
        );
        self::assertSame([3, 4], [MediaTrack::deepest($three), MediaTrack::deepest($equal)]);
    }

    public function test_a_map_rests_loops_and_gives_way(): void
    {
        $map = TransportMap::of([[100, 0, 1.0], [600, 500, 0.0]]);
        self::assertSame([0, 0, 250, 500, 500], array_map($map->at(...), [0, 100, 350, 600, 9000]));
        self::assertSame([false, true, true, false], array_map($map->runsAt(...), [99, 100, 599, 600]));
        self::assertSame(
            [100, 180, 100, 180, 120],
            array_map(TransportMap::of([[0, 0, 1.0]], [100, 200])->at(...), [100, 180, 200, 280, 9020]),
        );
        self::assertSame([50, 25, -25], array_map(TransportMap::of([[0, 50, -0.5]])->at(...), [0, 50, 150]));
        $jump = $map->then(TransportMap::of([[300, 9000, 1.0]]));
        self::assertSame([199, 9000, 9100], array_map($jump->at(...), [299, 300, 400]));
        self::assertEquals(
            $jump,
            TransportMap::fromArray((array) json_decode((string) json_encode($jump->toArray()), true)),
        );
        self::assertSame(0, TransportMap::fromArray([])->at(77));
    }

    public function test_held_values_mix_by_stratum_and_by_their_coming(): void
    {
        $loose = HeldValue::from(Stratum::Loose, 1, 'hand', 100, 0.8);
        $cue = HeldValue::of(Stratum::Cue, 9, 'cue', Track::constant(0.2), Track::ramp(0, 0, self::S, 1));
        $at = static fn (int $engine): float => HeldValue::over(1.0, [$loose, $cue], $engine);
        // The cue alone at first; the hand above it from 100 on, although the cue came later.
        self::assertEqualsWithDelta([1 - (0.8 * 99) / self::S, 0.8], [$at(99), $at(100)], 1e-9);
        // Within one stratum, the later one; and a fade that begins in a fade begins where the value is.
        $later = HeldValue::from(Stratum::Loose, 2, 'fader', 50, 0.1);
        self::assertEqualsWithDelta(0.1, HeldValue::over(1.0, [$later, $loose], 200), 1e-12);
        $fading = HeldValue::from(Stratum::Loose, 1, 'hand', 0, 0.0)->changed(2, 0, 1.0, self::S);
        $back = $fading->changed(3, intdiv(self::S, 2), 0.0, self::S);
        self::assertEqualsWithDelta(
            [0.5, 0.5, 0.25, 0.0],
            [
                $fading->value->at(intdiv(self::S, 2)),
                $back->value->at(intdiv(self::S, 2)),
                $back->value->at(self::S),
                $back->value->at(2 * self::S),
            ],
            1e-9,
        );
        self::assertEquals(
            $back,
            HeldValue::fromArray((array) json_decode((string) json_encode($back->toArray()), true)),
        );
    }

    public function test_cuts_keep_to_their_tolerance_where_a_curve_is_as_steep_as_it_may_be(): void
    {
        $second = Flicks::PER_SECOND;
        // Ten seconds into a piece, its bend is nearly the same all along: pure squares, pure cubes, and both.
        foreach ([[0.0, 0.0, 1.0, 0.0], [0.0, 0.0, 0.0, 0.1], [1.0, -2.0, 0.5, 0.05]] as [$a, $b, $c, $d]) {
            $track = Track::of([0], [$a, $b, $c, $d]);
            $area = static fn (float $t): float => $a * $t +
                ($b * $t ** 2) / 2 +
                ($c * $t ** 3) / 3 +
                ($d * $t ** 4) / 4;
            foreach ([0.01, 0.003, 0.0002] as $tolerance) {
                $cuts = $track->cuts(10 * $second, 11 * $second, $tolerance * $second);
                $worst = 0.0;
                for ($i = 1; $i < count($cuts); $i++) {
                    [$from, $to] = [$cuts[$i - 1] / $second, $cuts[$i] / $second];
                    for ($s = 0.1; $s < 1; $s += 0.1) {
                        $straight = $area($from) * (1 - $s) + $area($to) * $s;
                        $worst = max($worst, abs($straight - $area($from + $s * ($to - $from))));
                    }
                }
                self::assertLessThanOrEqual($tolerance, $worst);
                // And there are no more of them than it takes.
                self::assertGreaterThan($tolerance / 4, $worst * ((count($cuts) - 1) / max(1, count($cuts) - 2)) ** 2);
            }
        }
    }
}

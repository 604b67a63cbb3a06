<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Plan\PlanCompiler;
use Core\Preflight\Budget;
use Core\Preflight\Figures;
use Core\Show\ClipEditing;
use Core\Show\Document;
use Core\Show\Kinds\CueKind;
use Core\Show\Show;
use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Timeline\PastEnd;
use Core\Timeline\SoundClip;
use Core\Timeline\SpeedRamp;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Curve;
use Core\Values\Interpolation;
use Core\Values\Keyframe;
use Core\Values\Property;
use Core\Values\Track;
use Core\Values\TrackCompiler;
use PHPUnit\Framework\TestCase;

/** Clips on layers whose speed moves: against closed forms, and against walking there in small steps. */
final class SpeedRampTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const F = self::S / 25;

    /** @param  list<array{float, float, 2?: string}>  $points  seconds, speed, way to the next */
    private static function curve(array $points): Curve
    {
        return Curve::of(
            array_map(
                static fn (array $p): Keyframe => Keyframe::of(
                    (int) ($p[0] * self::S),
                    $p[1],
                    Interpolation::from($p[2] ?? 'linear'),
                ),
                $points,
            ),
        );
    }

    /** @param  list<array{float, float, 2?: string}>  $points */
    private static function speed(array $points): Track
    {
        return (new TrackCompiler())->compile(self::curve($points), Property::factor('speed', 'Speed', -4, 4));
    }

    public function test_the_area_under_a_track_is_that_of_its_closed_form(): void
    {
        self::assertSame([0.0, 1.5 * self::S, 6.0 * self::S], Track::constant(1.5)->areas([-self::S, 0, 3 * self::S]));
        // 0 to 2 in four seconds: a quarter of the time squared; before, it stands at 0, after, at 2.
        $ramp = self::speed([[1, 0], [5, 2]]);
        foreach ([0 => 0.0, 1 => 0.0, 2 => 0.25, 3 => 1.0, 5 => 4.0, 7 => 8.0] as $second => $area) {
            self::assertEqualsWithDelta($area, $ramp->areas([0, $second * self::S])[1] / self::S, 1e-9, "$second");
        }
        // Smooth keyframes are point-symmetric: over all of it, their mean. Asked in parts, it is the same.
        $smooth = self::speed([[0, -1, 'smooth'], [4, 3, 'step'], [6, 0.5]]);
        self::assertEqualsWithDelta(
            [0, 4, 10, 10.5],
            array_map(
                static fn (float $a): float => $a / self::S,
                $smooth->areas([0, 4 * self::S, 6 * self::S, 7 * self::S]),
            ),
            1e-9,
        );
        self::assertEqualsWithDelta(
            $smooth->areas([0, 7 * self::S])[1],
            $smooth->areas([
                0,
                ...array_map(static fn (int $n): int => $n * intdiv(self::S, 7), range(1, 48)),
                7 * self::S,
            ])[49],
            1.0,
        );
        self::assertSame([], $smooth->areas([]));
        self::assertSame(
            [[0, self::S, 0.0], [self::S, 5 * self::S, null], [5 * self::S, 9 * self::S, 2.0]],
            $ramp->pieces(0, 9 * self::S),
        );
    }

    public function test_a_straight_ramp_shows_the_frames_of_half_the_time_squared(): void
    {
        // From standing to full speed in four seconds: after n frames of the show, n²/200 frames have passed, in
        // whole numbers.
        $clip = Clip::of(0, 4 * self::S);
        $track = MediaTrack::fromBytes(
            MediaTrack::ofClips(
                [[$clip, (int) self::F, 1000]],
                0,
                self::speed([[0, 0], [4, 1]]),
                (int) self::F,
            )->toBytes(),
        );
        for ($n = 0; $n < 100; $n++) {
            self::assertSame([0, intdiv($n * $n, 200)], $track->at($n * (int) self::F, (int) self::F), "frame $n");
        }
        self::assertLessThan(40, count($track->segments), 'Stretches of one pace are longer than a frame.');
        // Twice as fast by the clip, from its tenth frame on, and a second later.
        $track = MediaTrack::ofClips(
            [[Clip::of(self::S, 4 * self::S, (int) (10 * self::F), speed: 2), (int) self::F, 1000]],
            0,
            self::speed([[1, 0], [5, 1]]),
            (int) self::F,
        );
        foreach ([0, 1, 7, 20, 50, 99] as $n) {
            self::assertSame(
                [0, 10 + intdiv($n * $n, 100)],
                $track->at(self::S + $n * (int) self::F, (int) self::F),
                "frame $n",
            );
        }
    }

    public function test_a_speed_of_a_whole_number_of_thousandths_is_one_segment_and_exact_for_hours(): void
    {
        $clip = Clip::of(0, 7200 * self::S, pastEnd: PastEnd::Loop, speed: 0.333);
        $track = MediaTrack::ofClips([[$clip, intdiv(self::S, 30), 250]], 0, Track::constant(-3.0), (int) self::F);
        self::assertCount(2, $track->segments);
        for ($k = 0; $k < 500; $k++) {
            $n = mt_rand(0, 7200 * 25 - 1);
            // 0.999 of a frame of 1/30 s backwards for each 1/30 s.
            $passed = -intdiv($n * 30 * 999 + 25_000 - 1, 25_000);
            self::assertSame(
                [0, (($passed % 250) + 250) % 250],
                $track->at($n * (int) self::F, (int) self::F),
                "frame $n",
            );
        }
    }

    public function test_any_course_shows_what_walking_there_shows(): void
    {
        mt_srand(11);
        [$borders, $checked] = [0, 0];
        for ($i = 0; $i < 150; $i++) {
            $points = [];
            for ($k = 0, $t = mt_rand(0, 3); $k < mt_rand(1, 5); $k++, $t += mt_rand(1, 4)) {
                $points[] = [
                    (float) $t,
                    (float) (mt_rand(-400, 400) / 100),
                    ['linear', 'smooth', 'step', 'bezier'][mt_rand(0, 3)],
                ];
            }
            [$curve, $speed] = [self::curve($points), self::speed($points)];
            $fpf = intdiv(self::S, [24, 25, 30, 60][mt_rand(0, 3)]);
            $frames = mt_rand(2, 90);
            $past = PastEnd::cases()[$i % 4];
            $clip = Clip::of(
                mt_rand(0, 100) * (int) self::F,
                mt_rand(25, 300) * (int) self::F,
                mt_rand(0, 1) * mt_rand(0, 40) * $fpf,
                pastEnd: $past,
                speed: [1.0, -1.0, 0.37, 2.0][mt_rand(0, 3)],
                offset: mt_rand(0, 1) * mt_rand(0, self::S),
            );
            $track = MediaTrack::ofClips([[$clip, $fpf, $frames]], 0, $speed, (int) self::F);
            [$first, $count] = $clip->range($fpf, $frames);
            ['flicks' => $flicks, 'frames' => $rate, 'phase' => $phase] = $clip->pace($fpf, $frames);
            $passed = ($phase / $rate) * abs($clip->speed());
            for ($t = $clip->start; $t < $clip->end(); $t += (int) self::F) {
                $exact = $passed / $fpf;
                $at = $past->frame((int) floor($exact), $count);
                $expected = $at === null ? [-1, 0] : [0, $first + ($clip->isBackwards() ? $count - 1 - $at : $at)];
                if (abs($exact - round($exact)) < 2e-3) {
                    $borders++;
                } else {
                    self::assertSame($expected, $track->at($t, (int) self::F), "clip $i at ".$t / self::F);
                }
                $checked++;
                // Simpson's rule in forty steps of a frame, by the true curve, up to where it may leap.
                $sum = 0.0;
                for ($k = 0; $k <= 40; $k++) {
                    $sum +=
                        ($k === 0 || $k === 40 ? 1 : ($k % 2 === 1 ? 4 : 2)) *
                        $curve->at($t + (int) round(($k * self::F) / 40) - ($k === 40 ? 1 : 0));
                }
                $passed += ($sum / 120) * self::F * abs($clip->speed());
            }
        }
        self::assertLessThan(0.05 * $checked, $borders);
        self::assertGreaterThan(10_000, $checked);
    }

    public function test_clips_that_overlap_and_pictures_without_an_end_follow_it_too(): void
    {
        $speed = self::speed([[0, 1], [4, -1]]);
        $clips = [
            [Clip::of(0, 4 * self::S), (int) self::F, 1000],
            [Clip::of(2 * self::S, 4 * self::S), (int) self::F, 1000],
        ];
        $over = MediaTrack::ofClips($clips, 0, $speed, (int) self::F);
        $under = MediaTrack::ofClips($clips, 1, $speed, (int) self::F);
        // t − t²/4 seconds have passed: one second at its top, three quarters a second later. What came after goes
        // back behind its beginning.
        self::assertSame(
            [[0, 0], [0, 18], [1, 0], [1, 0]],
            array_map(static fn (int $s): array => $over->at($s * self::S, (int) self::F), [0, 1, 2, 3]),
        );
        self::assertSame(
            [[0, 24], [0, 18], [-1, 0]],
            array_map(static fn (float $s): array => $under->at((int) ($s * self::S), (int) self::F), [2.04, 3.0, 4.0]),
        );
        // A pattern goes on for as long as it likes, and stops where it began.
        $pattern = MediaTrack::fromBytes(
            MediaTrack::ofClips(
                [[Clip::of(0, 20 * self::S), (int) self::F, 1 << 31]],
                0,
                $speed,
                (int) self::F,
            )->toBytes(),
        );
        self::assertSame(
            [18, 25, 18, 0],
            array_map(static fn (float $s): int => $pattern->at((int) ($s * self::S), (int) self::F)[1], [
                1.0,
                2.0,
                3.0,
                6.0,
            ]),
        );
        // A clip with a clock of its own keeps to its own speed, as does a still.
        self::assertSame(
            [0, 100],
            MediaTrack::ofClips(
                [[Clip::of(0, 9 * self::S, ownClock: true), (int) self::F, 1000]],
                0,
                $speed,
                (int) self::F,
            )->at(4 * self::S, (int) self::F),
        );
        self::assertCount(
            2,
            MediaTrack::ofClips([[Clip::of(0, 9 * self::S), 1, 1]], 0, $speed, (int) self::F)->segments,
        );
    }

    public function test_sound_follows_within_half_a_millisecond_and_goes_on_where_it_was(): void
    {
        $speed = self::speed([[0, 0, 'smooth'], [3, 2], [5, -1.5], [7, 0.3, 'bezier'], [9, 1]]);
        $clip = Clip::of(0, 10 * self::S, speed: 0.8);
        $heard = SoundClip::of($clip, 1_000_000)->ramped(new SpeedRamp($clip, $speed, (int) self::F));
        self::assertGreaterThan(20, count($heard));
        $at = static function (int $time) use ($heard): ?float {
            foreach ($heard as $one) {
                if ($time >= $one->start && $time < $one->end) {
                    return $one->sampleAt($time);
                }
            }

            return null;
        };
        $times = array_map(static fn (int $n): int => $n * intdiv(self::S, 200), range(0, 1999));
        foreach ($speed->areas($times) as $i => $area) {
            $true = ($area * 0.8) / SoundClip::FLICKS;
            self::assertEqualsWithDelta($true, $at($times[$i]) ?? -100, 24.1, 'at '.$times[$i] / self::S);
        }
        foreach ($heard as $i => $one) {
            $next = $heard[$i + 1] ?? null;
            if ($next !== null && $next->start === $one->end) {
                self::assertEqualsWithDelta($one->sampleAt($one->end - 1), $next->sampleAt($next->start), 0.01);
            }
        }
        // One that has been turned back to before its beginning is silent until it comes to it again.
        $clip = Clip::of(0, 10 * self::S);
        $heard = SoundClip::of($clip, 48_000 * 60)->ramped(
            new SpeedRamp($clip, self::speed([[0, 1, 'step'], [1, -1, 'step'], [4, 1]]), (int) self::F),
        );
        self::assertEqualsWithDelta(
            [[0, 0], [1, 48_000], [6, 0]],
            array_map(static fn (SoundClip $one): array => [$one->start / self::S, $one->sampleAt($one->start)], $heard),
            1e-6,
        );
        self::assertSame(
            [1.0, 2.0, 10.0],
            array_map(
                static fn (SoundClip $one): float => round(
                    ($one->sampleAt($one->end - 1) === null ? $one->start + self::S : $one->end) / self::S,
                    3,
                ),
                $heard,
            ),
        );
    }

    public function test_a_timeline_within_another_is_heard_where_it_is_seen(): void
    {
        $rows = static fn (array $clip, array $layer = [], int $deeper = 0): array => [
            'media' => [
                [
                    'id' => 'song',
                    'name' => 'Song',
                    'kind' => 'file',
                    'state' => 'ready',
                    'form' => [
                        'kind' => 'audio',
                        'frames' => 1,
                        'frameRate' => '25',
                        'sound' => ['samples' => 480_000, 'channels' => 2, 'url' => '/song.f32', 'peaks' => ''],
                    ],
                ],
                ['id' => 'in', 'name' => 'Inner', 'kind' => 'timeline', 'timeline' => 'inner'],
                ['id' => 'mid', 'name' => 'Middle', 'kind' => 'timeline', 'timeline' => 'middle'],
            ],
            'timeline' => [
                ['id' => 'outer', 'name' => 'Outer', 'duration' => 60 * self::S],
                ['id' => 'inner', 'name' => 'Inner', 'duration' => 12 * self::S],
                ['id' => 'middle', 'name' => 'Middle', 'duration' => 12 * self::S],
            ],
            'layer' => [
                $layer + ['id' => 'o', 'timeline' => 'outer', 'name' => 'O', 'order' => 0],
                ['id' => 'i', 'timeline' => 'inner', 'name' => 'I', 'order' => 0],
                ['id' => 'm', 'timeline' => 'middle', 'name' => 'M', 'order' => 0],
            ],
            // From its second second on, for eight, with a second of fade at its end.
            'clip' => [
                [
                    'id' => 'c',
                    'layer' => 'i',
                    'media' => 'song',
                    'start' => 2 * self::S,
                    'length' => 8 * self::S,
                    'fadeOut' => self::S,
                ],
                $clip + [
                    'id' => 'n',
                    'layer' => 'o',
                    'media' => $deeper === 1 ? 'mid' : 'in',
                    'start' => 20 * self::S,
                    'length' => 30 * self::S,
                ],
                ['id' => 'p', 'layer' => 'm', 'media' => 'in', 'start' => 0, 'length' => 12 * self::S, 'speed' => 0.5],
            ],
            'curve' => [],
        ];
        $sounds = static fn (array $rows): array => (new PlanCompiler())->compile(
            Show::fromRows(['id' => 's', 'name' => 'S', 'frameRate' => '25'], $rows),
            1,
        )->parts['sound:o']['clips'] ?? [];
        $short = static fn (array $all): array => array_map(
            static fn (array $one): array => [
                $one['start'] / self::S,
                $one['end'] / self::S,
                $one['from'],
                round($one['offset'], 3),
                $one['speed'],
            ],
            $all,
        );
        // Twice as fast from its fourth second on: the song has run two seconds as it begins, and ends three seconds
        // later.
        [$plain] = $sounds($rows(['speed' => 2.0, 'in' => 4 * self::S]));
        self::assertSame([[20, 23, 0, 96_000.0, 2.0]], $short([$plain]));
        self::assertSame(['/song.f32', 2, false], [$plain['url'], $plain['channels'], $plain['loop']]);
        // Its fade is of the last half second here; the inner layer's time is 4 s at 20 s, and goes on twice as fast.
        self::assertEquals(['o', 'i'], array_column($plain['levels'], 'layer'));
        self::assertEquals(
            [[19 * self::S, 0, 23 * self::S, self::S / 2], [20 * self::S, 4.0 * self::S, 2.0]],
            [$plain['levels'][1]['fade'], $plain['levels'][1]['at']],
        );
        // Backwards from the end of its twelve seconds: the clip's end comes after two, its own sound backwards.
        self::assertSame([[22, 30, 0, 96_000.0, -1.0]], $short($sounds($rows(['speed' => -1.0]))));
        $level = $sounds($rows(['speed' => -1.0]))[0]['levels'][1];
        self::assertEquals(
            [22 * self::S, self::S, 30 * self::S, 0],
            $level['fade'],
            'What was its fade out is its fade in.',
        );
        // In a loop of twelve seconds, three times, the last cut off; holding, once.
        self::assertSame(
            [[22, 30, 0, 0.0, 1.0], [34, 42, 0, 0.0, 1.0], [46, 50, 0, 0.0, 1.0]],
            $short($sounds($rows(['pastEnd' => 'loop']))),
        );
        self::assertSame([[22, 30, 0, 0.0, 1.0]], $short($sounds($rows([]))));
        // There and back: 300 frames on, 298 back, so that the frames at both ends are up once.
        self::assertSame(
            [[22, 30, 0, 0.0, 1.0], [33.96, 41.96, 0, 96_000.0, -1.0], [45.92, 50, 0, 0.0, 1.0]],
            $short($sounds($rows(['pastEnd' => 'bounce']))),
        );
        // Through one between that is half as fast, and one layer more.
        [$deep] = $sounds($rows(['speed' => 2.0], [], 1));
        self::assertSame([[22, 26, 0, 0.0, 1.0]], $short([$deep]));
        self::assertSame(['o', 'm', 'i'], array_column($deep['levels'], 'layer'));
        // By a layer whose speed moves: 20 to 24 s from standing to full, two seconds of it passed by then.
        $ramped = $rows(['start' => 20 * self::S]);
        $ramped['curve'] = [
            [
                'id' => 'k',
                'ownerKind' => 'layer',
                'owner' => 'o',
                'property' => 'speed',
                'slot' => 0,
                'keyframes' => [['t' => 20 * self::S, 'v' => 0], ['t' => 24 * self::S, 'v' => 1]],
            ],
        ];
        $heard = $short($sounds($ramped));
        self::assertEqualsWithDelta([24, 32, 0, 0.0, 1.0], $heard[count($heard) - 1], 1e-3);
        // Never within itself, and not by a clock of its own.
        $round = $rows([]);
        $round['media'][1]['timeline'] = 'outer';
        self::assertSame([[], []], [$sounds($round), $sounds($rows(['ownClock' => true]))]);
    }

    public function test_what_begins_later_lies_over_what_was_before(): void
    {
        $show = Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'media' => [
                    [
                        'id' => 'song',
                        'name' => 'Song',
                        'kind' => 'file',
                        'state' => 'ready',
                        'form' => [
                            'kind' => 'audio',
                            'frames' => 1,
                            'frameRate' => '25',
                            'sound' => ['samples' => 480_000, 'channels' => 2, 'url' => '/song.f32', 'peaks' => ''],
                        ],
                    ],
                ],
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 60 * self::S]],
                'layer' => [['id' => 'o', 'timeline' => 't', 'name' => 'O', 'order' => 0]],
                'clip' => [
                    ['id' => 'a', 'layer' => 'o', 'media' => 'song', 'start' => 0, 'length' => 5 * self::S],
                    ['id' => 'b', 'layer' => 'o', 'media' => 'song', 'start' => 3 * self::S, 'length' => 5 * self::S],
                    ['id' => 'd', 'layer' => 'o', 'media' => 'song', 'start' => 5 * self::S, 'length' => self::S],
                ],
            ],
        );
        $over = array_map(
            static fn (array $one): array => $one['levels'][0]['over'],
            (new PlanCompiler())->compile($show, 1)->parts['sound:o']['clips'] ?? [],
        );
        // Two seconds of crossfade; what begins where another ends lies over nothing of it.
        self::assertSame([[[3 * self::S, 2 * self::S, 8 * self::S, 0]], [[5 * self::S, 0, 6 * self::S, 0]], []], $over);
    }

    public function test_it_is_set_on_the_timeline_only(): void
    {
        $held = [['a' => 'layer:00000000000000000000000001/speed', 'v' => 0.5]];
        try {
            (new CueKind())->build(
                ['id' => 'c', 'number' => '1', 'name' => 'C', 'scope' => 'chosen', 'held' => $held],
                [],
            );
            self::fail('A cue that holds a speed was taken.');
        } catch (InvalidValue $refused) {
            self::assertStringContainsString('on the timeline only', $refused->getMessage());
        }
        self::assertSame(
            0.5,
            Property::factor('speed', 'Speed', -4, 4)
                ->onTimelineOnly()
                ->live(0.5),
        );
    }

    public function test_what_is_cut_or_trimmed_shows_the_same_frames(): void
    {
        $document = static fn (array $clip, array $keys): Document => Document::of(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [['id' => 'main', 'name' => 'Main', 'duration' => 60 * self::S, 'order' => 0]],
                'layer' => [['id' => 'a', 'timeline' => 'main', 'name' => 'A', 'order' => 0]],
                'media' => [
                    [
                        'id' => 'sea',
                        'name' => 'Sea',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 64, 'height' => 36],
                        'form' => ['frames' => 500, 'frameRate' => '50', 'kind' => 'video'],
                    ],
                ],
                'clip' => [
                    $clip + [
                        'id' => 'one',
                        'layer' => 'a',
                        'media' => 'sea',
                        'start' => 2 * self::S,
                        'length' => 6 * self::S,
                        'in' => 0,
                        'out' => null,
                    ],
                ],
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'layer',
                        'owner' => 'a',
                        'property' => 'speed',
                        'slot' => 0,
                        'keyframes' => $keys,
                    ],
                ],
            ],
        );
        $seen = static function (Document $document): array {
            $layer = $document->show->programme->layer('a') ?? self::fail('no layer');
            $track = MediaTrack::ofClips(
                array_map(static fn ($use): array => [$use->clip, intdiv(self::S, 50), 500], $layer->clips),
                0,
                $layer->speed(),
                (int) self::F,
            );

            return array_map(static fn (int $n): int => $track->at($n * (int) self::F, (int) self::F)[1], range(0, 250));
        };
        foreach (
            [
                ['pastEnd' => 'hold'],
                ['pastEnd' => 'loop', 'in' => self::S, 'out' => 2 * self::S],
                ['pastEnd' => 'bounce', 'speed' => -1.0],
            ] as $fields
        ) {
            $whole = $document($fields, [['t' => 2 * self::S, 'v' => 0.25], ['t' => 8 * self::S, 'v' => 1.5]]);
            $editing = new ClipEditing($whole->show, $whole, static fn (): string => 'two');
            [$changes] = $editing->split(['one'], 5 * self::S);
            $cut = $whole->with($whole->changedRows($changes));
            self::assertCount(2, $cut->show->programme->layer('a')->clips ?? []);
            self::assertSame($seen($whole), $seen($cut), (string) json_encode($fields));
            $later = $whole->with($whole->changedRows($editing->trim('one', 'start', 4 * self::S)));
            self::assertSame(
                array_slice($seen($whole), 100),
                array_slice($seen($later), 100),
                (string) json_encode($fields),
            );
        }
        // Back to where there is something to be shown: at a quarter of a second for each second, and a second of it
        // before.
        $late = $document(['in' => self::S, 'start' => 20 * self::S], [['t' => 0, 'v' => 0.25]]);
        $changes = (new ClipEditing($late->show, $late, static fn (): string => 'two'))->trim('one', 'start', 0);
        self::assertEquals(
            ['start' => 16 * self::S, 'in' => 0],
            array_map(
                static fn (array $pair): mixed => $pair['after'],
                array_intersect_key($changes[0]['fields'], ['start' => 1, 'in' => 1]),
            ),
        );
    }

    public function test_figures_tell_where_it_turns_and_what_it_costs(): void
    {
        $rows = [
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
            'surface' => [
                [
                    'id' => 'wall',
                    'name' => 'Wall',
                    'position' => [0, 0, 0],
                    'rotation' => [0, 0, 0],
                    'cells' => [['panel']],
                    'seams' => [],
                ],
            ],
            'timeline' => [['id' => 'main', 'name' => 'Main', 'duration' => 60 * self::S]],
            'layer' => [['id' => 'a', 'timeline' => 'main', 'name' => 'A', 'order' => 0, 'values' => ['speed' => 2]]],
            'media' => [
                [
                    'id' => 'sea',
                    'name' => 'Sea',
                    'kind' => 'file',
                    'state' => 'ready',
                    'facts' => ['width' => 64, 'height' => 36],
                    'form' => [
                        'frames' => 50,
                        'frameRate' => '25',
                        'kind' => 'video',
                        'width' => 100,
                        'height' => 10,
                        'bytes' => 5000,
                    ],
                ],
            ],
            'clip' => [
                [
                    'id' => 'c',
                    'layer' => 'a',
                    'media' => 'sea',
                    'start' => self::S,
                    'length' => (int) (3.5 * self::S),
                    'pastEnd' => 'loop',
                ],
            ],
        ];
        $show = Show::fromRows(['id' => 's', 'name' => 'S', 'frameRate' => '25'], $rows);
        // Two seconds of media, twice as fast: it begins anew after each second.
        self::assertSame([self::S, 2 * self::S, 3 * self::S], Figures::of($show)['clips']['c']['turns'] ?? null);
        $layer = $show->programme->layer('a') ?? self::fail('no layer');
        $budget = Budget::of([$layer], $show->library->media, (int) self::F);
        self::assertContainsEquals(
            50.0 * 1000,
            array_column($budget->course, 1),
            'Fifty frames of 1,000 pixels a second.',
        );
    }
}

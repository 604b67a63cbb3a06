<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Show\Changes;
use Core\Show\ClipEditing;
use Core\Show\ClipUse;
use Core\Show\Document;
use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Timeline\PastEnd;
use Core\Timeline\SoundClip;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class ClipEditingTest extends TestCase
{
    private const F = Flicks::PER_SECOND / 25;

    /** @param  array<string, array<string, mixed>>  $clips  fields by id; times in frames of the show */
    private static function document(array $clips, bool $locked = false): Document
    {
        $rows = [];
        foreach ($clips as $id => $fields) {
            foreach (['start', 'length', 'in', 'out', 'offset', 'fadeIn', 'fadeOut'] as $time) {
                if (isset($fields[$time])) {
                    $fields[$time] = (int) round($fields[$time] * self::F);
                }
            }
            $rows[] = $fields + ['id' => $id, 'layer' => 'a', 'media' => 'sea', 'in' => 0, 'out' => null];
        }

        return Document::of(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [['id' => 'main', 'name' => 'Main', 'duration' => 200 * self::F, 'order' => 0]],
                'layer' => [
                    ['id' => 'a', 'timeline' => 'main', 'name' => 'A', 'order' => 0],
                    ['id' => 'b', 'timeline' => 'main', 'name' => 'B', 'order' => 1, 'locked' => $locked],
                ],
                'media' => [
                    [
                        'id' => 'sea',
                        'name' => 'Sea',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 64, 'height' => 36],
                        'form' => ['frames' => 100, 'frameRate' => '50', 'kind' => 'video'],
                    ],
                    [
                        'id' => 'short',
                        'name' => 'Short',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 64, 'height' => 36],
                        'form' => ['frames' => 10, 'frameRate' => '25', 'kind' => 'video'],
                    ],
                    ['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000'],
                ],
                'clip' => $rows,
            ],
        );
    }

    private static function editing(Document $document): ClipEditing
    {
        $count = 0;

        return new ClipEditing($document->show, $document, static function () use (&$count): string {
            return 'new'.++$count;
        });
    }

    /** @return array<int, string> which frame of which clip's media is seen on a layer at each frame of the show */
    private static function seen(Document $document, string $layer = 'a'): array
    {
        $clips = $document->show->programme->layer($layer)->clips ?? [];
        $track = MediaTrack::ofClips(
            array_map(
                static fn (ClipUse $use): array => [
                    $use->clip,
                    $document->show->library->media[$use->media]->flicksPerFrame,
                    $document->show->library->media[$use->media]->frames,
                ],
                $clips,
            ),
        );
        $seen = [];
        for ($n = 0; $n < 400; $n++) {
            [$clip, $frame] = $track->at($n * self::F, self::F);
            $seen[$n] = $clip < 0 ? '' : $clips[$clip]->media.' '.$frame;
        }

        return $seen;
    }

    /** @param  list<array<string, mixed>>  $changes */
    private static function changed(Document $document, array $changes): Document
    {
        return $document->with($document->changedRows($changes));
    }

    /** @return array<string, string> start and end in frames, by id */
    private static function places(Document $document): array
    {
        $places = array_map(
            static fn (array $row): string => $row['layer'].
                ' '.
                round($row['start'] / self::F, 2).
                '–'.
                round(($row['start'] + $row['length']) / self::F, 2),
            $document->rows['clip'],
        );
        ksort($places);

        return $places;
    }

    /** @return iterable<array{Document, int, int}> clips of all sorts, with where they start and end */
    private static function many(): iterable
    {
        mt_srand(11);
        for ($i = 0; $i < 400; $i++) {
            $in = mt_rand(0, 1) * mt_rand(0, 20);
            $start = mt_rand(0, 60);
            $length = mt_rand(3, 120);
            $past = PastEnd::cases()[mt_rand(0, 3)]->value;
            $document = self::document([
                'one' => [
                    'start' => $start,
                    'length' => $length,
                    'in' => $in,
                    'out' => mt_rand(0, 1) === 1 ? $in + mt_rand(3, 25) : null,
                    'pastEnd' => $past,
                    'speed' => [1, 2, 0.5, -1, -2, 3][mt_rand(0, 5)],
                    'offset' => mt_rand(0, 2) === 0 ? mt_rand(0, 9) : 0,
                ],
            ]);
            yield [$document, $start, $start + $length];
        }
    }

    public function test_a_clip_that_is_cut_in_two_shows_what_it_showed(): void
    {
        foreach (self::many() as $i => [$document, $start, $end]) {
            $at = mt_rand($start + 1, $end - 1);
            [$changes, $made] = self::editing($document)->split(['one'], $at * self::F + 3);
            $after = self::changed($document, $changes);
            self::assertSame(['new1'], $made);
            self::assertSame(
                self::seen($document),
                self::seen($after),
                "clip $i cut at $at: ".json_encode($document->rows['clip']['one']),
            );
            self::assertSame(
                ['one' => "a {$start}–{$at}", 'new1' => "a {$at}–{$end}"],
                array_replace(['one' => '', 'new1' => ''], self::places($after)),
            );
        }
    }

    /**
     * @return array<int, array<string, float>> how much of which frame of which media is seen at each frame of the
     *     show, from the bottom up by each clip's own words
     */
    private static function light(Document $document): array
    {
        $uses = $document->show->programme->layer('a')->clips ?? [];
        $clips = array_map(
            static fn (ClipUse $use): array => [
                $use->clip,
                $document->show->library->media[$use->media]->flicksPerFrame,
                $document->show->library->media[$use->media]->frames,
            ],
            $uses,
        );
        $fades = MediaTrack::crossfades(array_column($clips, 0));
        $tracks = array_map(
            static fn (int $depth): MediaTrack => MediaTrack::ofClips($clips, $depth),
            range(0, MediaTrack::deepest(array_column($clips, 0)) - 1),
        );
        $light = [];
        for ($n = 0; $n < 200; $n++) {
            $left = 1.0;
            foreach ($tracks as $track) {
                [$clip, $frame] = $track->at($n * self::F, self::F);
                if ($clip < 0) {
                    break;
                }
                $part = $left * Clip::strength($uses[$clip]->clip->fade($fades[$clip]), $n * self::F);
                $left -= $part;
                $key = $uses[$clip]->media." $frame";
                $part > 1e-7 && ($light[$n][$key] = ($light[$n][$key] ?? 0.0) + $part);
            }
            isset($light[$n]) && ksort($light[$n]);
        }

        return $light;
    }

    public function test_a_cut_within_fades_and_crossfades_changes_nothing_that_is_seen(): void
    {
        mt_srand(29);
        $cut = 0;
        for ($run = 0; $run < 400; $run++) {
            $clips = [];
            for ($i = mt_rand(0, 3); $i >= 0; $i--) {
                $clips["c$i"] = [
                    'start' => mt_rand(0, 60),
                    'length' => mt_rand(4, 60),
                    'media' => ['sea', 'short', 'red'][$i % 3],
                    'pastEnd' => 'loop',
                    'fadeIn' => mt_rand(0, 2) === 0 ? mt_rand(1, 30) : 0,
                    'fadeOut' => mt_rand(0, 2) === 0 ? mt_rand(1, 30) : 0,
                ];
            }
            $after = $document = self::document($clips);
            $before = self::light($document);
            // Cut, and what was cut, cut again.
            for ($n = 0; $n < 4; $n++) {
                $ids = array_map(strval(...), array_keys($after->rows['clip']));
                $id = $ids[mt_rand(0, count($ids) - 1)];
                $row = $after->rows['clip'][$id];
                if ($row['length'] < 2 * self::F) {
                    continue;
                }
                $at = $row['start'] + self::F * mt_rand(1, (int) ($row['length'] / self::F) - 1);
                $count = 0;
                [$changes] = (new ClipEditing($after->show, $after, static function () use (&$count, $n): string {
                    return "n$n".++$count;
                }))->split([$id], $at);
                $after = self::changed($after, $changes);
                $cut++;
                self::assertEqualsWithDelta(
                    $before,
                    self::light($after),
                    1e-6,
                    "run $run, cut $n of $id at ".$at / self::F.': '.json_encode($clips),
                );
            }
        }
        self::assertGreaterThan(1500, $cut);
        // By hand: half way through a fade of ten, both halves say a half; moved apart, the second begins its fade
        // anew.
        $document = self::document(['one' => ['start' => 20, 'length' => 40, 'fadeIn' => 10, 'fadeOut' => 10]]);
        $halves = self::changed($document, self::editing($document)->split(['one'], 25 * self::F)[0]);
        self::assertEqualsWithDelta(
            [0.4, 0.5, 0.6],
            array_map(static fn (int $n): float => array_sum(self::light($halves)[$n]), [24, 25, 26]),
            1e-12,
        );
        $apart = self::changed($halves, self::editing($halves)->move(['new1'], 50 * self::F));
        self::assertSame(
            [0, 0],
            [$apart->rows['clip']['new1']['cutBefore'], (int) ($apart->rows['clip']['one']['cutBefore'] ?? 0)],
        );
        $together = self::changed($halves, self::editing($halves)->move(['one', 'new1'], 50 * self::F));
        self::assertSame(5 * self::F, $together->rows['clip']['new1']['cutBefore']);
        $trimmed = self::changed($halves, self::editing($halves)->trim('new1', 'start', 30 * self::F));
        self::assertSame(0, $trimmed->rows['clip']['new1']['cutBefore']);
    }

    public function test_keyframes_of_a_clips_effects_go_where_it_goes_and_a_trim_past_the_end_makes_the_timeline_longer(): void
    {
        $document = self::document([
            'one' => ['start' => 20, 'length' => 40],
            'two' => ['start' => 70, 'length' => 40],
        ]);
        $keys = static fn (int ...$frames): array => array_map(
            static fn (int $n): array => ['t' => $n * self::F, 'v' => $n / 100],
            $frames,
        );
        $document = $document->with([
            'effect' => [
                'e' => ['id' => 'e', 'clip' => 'one', 'kind' => 'blur', 'order' => 0],
                'f' => ['id' => 'f', 'clip' => 'two', 'kind' => 'blur', 'order' => 0],
            ],
            'curve' => [
                'k' => [
                    'id' => 'k',
                    'ownerKind' => 'effect',
                    'owner' => 'e',
                    'property' => 'radius',
                    'keyframes' => $keys(25, 50),
                ],
                'l' => [
                    'id' => 'l',
                    'ownerKind' => 'effect',
                    'owner' => 'f',
                    'property' => 'radius',
                    'keyframes' => $keys(75, 90),
                ],
            ],
        ]);
        self::assertSame([], $document->show->broken);
        $times = static fn (Document $d): array => array_map(
            static fn (array $row): array => array_map(
                static fn (array $k): int => intdiv((int) $k['t'], self::F),
                $row['keyframes'],
            ),
            $d->rows['curve'],
        );
        self::assertSame(
            ['k' => [35, 60], 'l' => [75, 90]],
            $times(self::changed($document, self::editing($document)->move(['one'], 10 * self::F))),
        );
        self::assertSame(
            ['k' => [35, 60], 'l' => [85, 100]],
            $times(self::changed($document, self::editing($document)->move(['one'], 10 * self::F, null, true))),
        );
        // Trimmed at its start, what it shows stays where it was; with ripple it comes nearer.
        self::assertSame(
            ['k' => [25, 50], 'l' => [75, 90]],
            $times(self::changed($document, self::editing($document)->trim('one', 'start', 30 * self::F))),
        );
        self::assertSame(
            ['k' => [15, 40], 'l' => [65, 80]],
            $times(self::changed($document, self::editing($document)->trim('one', 'start', 30 * self::F, true))),
        );
        self::assertSame(
            ['k' => [25, 50], 'l' => [65, 80]],
            $times(self::changed($document, self::editing($document)->trim('one', 'end', 50 * self::F, true))),
        );
        self::assertSame(
            [35, 50],
            $times(self::changed($document, self::editing($document)->remove(['one'], true)))['l'],
        );
        // Before the beginning it is where it is there.
        $first = self::changed($document, self::editing($document)->move(['one'], -20 * self::F))->rows['curve']['k'][
            'keyframes'
        ];
        self::assertSame([5, 30], array_map(static fn (array $k): int => intdiv((int) $k['t'], self::F), $first));
        // Past the end of the timeline, it grows, as by moving.
        self::assertSame(
            260 * self::F,
            self::changed($document, self::editing($document)->trim('two', 'end', 260 * self::F))->rows['timeline'][
                'main'
            ]['duration'],
        );
    }

    public function test_a_start_that_is_trimmed_leaves_the_rest_as_it_was(): void
    {
        foreach (self::many() as $i => [$document, $start, $end]) {
            $to = mt_rand($start - 15, $end + 3);
            $after = self::changed($document, self::editing($document)->trim('one', 'start', $to * self::F));
            $now = (int) ($after->rows['clip']['one']['start'] / self::F);
            self::assertLessThanOrEqual($end - 1, $now);
            self::assertSame(
                $end,
                (int) (($after->rows['clip']['one']['start'] + $after->rows['clip']['one']['length']) / self::F),
            );
            $from = max($start, $now);
            self::assertSame(
                array_slice(self::seen($document), $from, null, true),
                array_slice(self::seen($after), $from, null, true),
                "clip $i trimmed to $to: ".json_encode([$document->rows['clip']['one'], $after->rows['clip']['one']]),
            );
        }
    }

    public function test_with_ripple_what_follows_moves_along(): void
    {
        $document = self::document([
            'one' => ['start' => 10, 'length' => 20],
            'two' => ['start' => 30, 'length' => 20],
            'three' => ['start' => 60, 'length' => 10],
            'other' => ['start' => 50, 'length' => 5, 'layer' => 'b'],
        ]);
        $is = ['one' => 'a 10–30', 'other' => 'b 50–55', 'three' => 'a 60–70', 'two' => 'a 30–50'];
        $of = static fn (\Closure $do): array => array_diff_assoc(
            self::places(self::changed($document, $do(self::editing($document)))),
            $is,
        );
        self::assertSame(
            ['one' => 'a 10–35', 'three' => 'a 65–75', 'two' => 'a 35–55'],
            $of(static fn ($e) => $e->trim('one', 'end', 35 * self::F, true)),
        );
        self::assertSame(
            ['one' => 'a 10–26', 'three' => 'a 56–66', 'two' => 'a 26–46'],
            $of(static fn ($e) => $e->trim('one', 'start', 14 * self::F, true)),
        );
        self::assertSame(
            ['two' => 'a 27–47', 'three' => 'a 57–67'],
            array_replace(
                ['two' => '', 'three' => ''],
                $of(static fn ($e) => $e->move(['two'], -3 * self::F, null, true)),
            ),
        );
        self::assertSame(
            ['one' => 'a 0–20', 'two' => 'a 20–40'],
            $of(static fn ($e) => $e->move(['one', 'two'], -99 * self::F)),
        );
        self::assertSame(['two' => 'b 30–50'], $of(static fn ($e) => $e->move(['two'], 0, 'b')));
        // Two are taken out: what lies behind both moves by both.
        $gone = self::changed($document, self::editing($document)->remove(['one', 'two'], true));
        self::assertSame(['other' => 'b 50–55', 'three' => 'a 20–30'], self::places($gone));
        self::assertSame(
            ['other' => 'b 50–55', 'three' => 'a 60–70'],
            self::places(self::changed($document, self::editing($document)->remove(['one', 'two']))),
        );
    }

    public function test_clips_are_copied_where_they_are_wanted_and_the_timeline_grows(): void
    {
        $document = self::document([
            'one' => ['start' => 10, 'length' => 20, 'fadeIn' => 5],
            'two' => ['start' => 40, 'length' => 30, 'layer' => 'b'],
        ]);
        [$changes, $made] = self::editing($document)->paste(['one', 'two'], 180 * self::F);
        $after = self::changed($document, $changes);
        self::assertSame(
            ['new1' => 'a 180–200', 'new2' => 'b 210–240', 'one' => 'a 10–30', 'two' => 'b 40–70'],
            self::places($after),
        );
        self::assertSame(
            [['new1', 'new2'], 240 * self::F, 5 * self::F],
            [$made, $after->rows['timeline']['main']['duration'], $after->rows['clip']['new1']['fadeIn']],
        );
        // Onto one layer, pushing what is there out of the way.
        self::assertSame(
            ['new1' => 'a 5–35', 'one' => 'a 40–60', 'two' => 'b 40–70'],
            self::places(self::changed($document, self::editing($document)->paste(['two'], 5 * self::F, 'a', true)[0])),
        );
        self::assertSame(
            'a 30–50',
            self::places(self::changed($document, self::editing($document)->duplicate(['one'])[0]))['new1'],
        );
    }

    public function test_a_clip_is_slipped_sped_up_and_given_another_media(): void
    {
        // The media has 100 frames at 50 a second: 50 frames of the show.
        $document = self::document([
            'one' => ['start' => 10, 'length' => 20, 'in' => 5, 'out' => 25],
            'still' => ['start' => 0, 'length' => 5, 'media' => 'red', 'layer' => 'b'],
        ]);
        $after = static fn (\Closure $do, Document $of): array => array_map(
            static fn (mixed $v): mixed => is_int($v) ? $v / self::F : $v,
            array_filter(
                self::changed($of, $do(self::editing($of)))->rows['clip']['one'],
                static fn (mixed $v, string $k): bool => $v !== ($of->rows['clip']['one'][$k] ?? null) ||
                    ! array_key_exists($k, $of->rows['clip']['one']),
                ARRAY_FILTER_USE_BOTH,
            ),
        );
        self::assertEquals(['in' => 9, 'out' => 29], $after(static fn ($e) => $e->slip('one', 4 * self::F), $document));
        self::assertEquals(
            ['in' => 0, 'out' => 20],
            $after(static fn ($e) => $e->slip('one', -99 * self::F), $document),
        );
        self::assertEquals(
            ['in' => 30, 'out' => 50],
            $after(static fn ($e) => $e->slip('one', 99 * self::F), $document),
        );
        self::assertEquals(['speed' => 2.0], $after(static fn ($e) => $e->speed('one', 2), $document));
        self::assertEquals(
            ['speed' => 2.0, 'length' => 10],
            $after(static fn ($e) => $e->speed('one', 2, true), $document),
        );
        self::assertEquals(
            ['speed' => -0.5, 'length' => 40],
            $after(static fn ($e) => $e->speed('one', -0.5, true), $document),
        );
        self::assertEquals(['media' => 'red'], $after(static fn ($e) => $e->replace('one', 'red'), $document));
        // Too short for its part: all of it instead.
        self::assertEquals(
            ['media' => 'short', 'in' => 0, 'out' => null, 'offset' => 0],
            $after(static fn ($e) => $e->replace('one', 'short'), $document),
        );
        $this->expectException(InvalidValue::class);
        self::editing($document)->slip('still', 1);
    }

    public function test_when_a_clip_has_run_out_is_when_walking_through_it_says_so(): void
    {
        foreach (self::many() as $i => [$document, $start]) {
            $clip = self::changed(
                $document,
                Changes::update('clip', 'one', $document->rows['clip']['one'], ['pastEnd' => 'dark']),
            )->show->programme->layer('a')?->clips[0]->clip;
            ['pass' => $pass, 'first' => $first] = $clip->passes(intdiv(self::F, 2), 100);
            $from = (int) ($start * self::F);
            self::assertNull($clip->mediaFrameAt($from + $first, intdiv(self::F, 2), 100), "clip $i");
            self::assertTrue(
                $first === 0 || $clip->mediaFrameAt($from + $first - 1, intdiv(self::F, 2), 100) !== null,
                "clip $i",
            );
            self::assertGreaterThanOrEqual($first, $pass);
            $looped = self::changed(
                $document,
                Changes::update('clip', 'one', $document->rows['clip']['one'], ['pastEnd' => 'loop']),
            )->show->programme->layer('a')?->clips[0]->clip;
            ['first' => $turn] = $looped->passes(intdiv(self::F, 2), 100);
            // There, it is as it would be at its very beginning.
            $fresh = self::changed(
                $document,
                Changes::update('clip', 'one', $document->rows['clip']['one'], ['pastEnd' => 'loop', 'offset' => 0]),
            )->show->programme->layer('a')?->clips[0]->clip;
            $turn > 0 &&
                self::assertSame(
                    $fresh->mediaFrameAt($from, intdiv(self::F, 2), 100),
                    $looped->mediaFrameAt($from + $turn, intdiv(self::F, 2), 100),
                    "clip $i",
                );
        }
        self::assertSame(
            ['pass' => 40 * self::F, 'first' => 40 * self::F],
            self::document(['one' => ['start' => 0, 'length' => 99, 'in' => 10, 'out' => 30, 'speed' => 0.5]])
                ->show->programme->layer('a')
                ?->clips[0]->clip->passes(intdiv(self::F, 2), 100),
        );
    }

    public function test_which_sample_is_heard_when(): void
    {
        $second = Flicks::PER_SECOND;
        $at = static fn (Clip $clip, array $seconds, int $samples = 480_000): array => array_map(
            static fn (float $t): ?float => SoundClip::of($clip, $samples)->sampleAt((int) ($t * $second)),
            $seconds,
        );
        // From its third second on, at half the speed; past its end it is silent, or begins anew.
        self::assertEquals(
            [null, 144_000, 168_000, 191_976, null],
            $at(Clip::of($second, 20 * $second, 3 * $second, 4 * $second, speed: 0.5), [0.5, 1, 2, 2.999, 3]),
        );
        self::assertEquals(
            [144_000, 168_000, 144_000, 150_000],
            $at(Clip::of($second, 20 * $second, 3 * $second, 4 * $second, PastEnd::Loop, 0.5), [1, 2, 3, 5.25]),
        );
        self::assertEquals(
            [24_000, 72_000, null, null],
            $at(Clip::of(0, 20 * $second, offset: intdiv($second, 2)), [0, 1, 9.5, 21]),
        );
        // Backwards from its end, again from there where it loops, silent where it has come to its beginning.
        self::assertEquals([480_000, 456_000, null], $at(Clip::of(0, 20 * $second, speed: -1), [0, 0.5, 10]));
        self::assertEquals(
            [192_000, 168_000, 192_000, 144_001],
            $at(Clip::of($second, 20 * $second, 3 * $second, 4 * $second, PastEnd::Loop, -2), [
                1,
                1.25,
                1.5,
                1.5 - 1 / 96_000,
            ]),
        );
        self::assertSame([null], $at(Clip::of(0, $second, 20 * $second), [0.5]));
        self::assertNull(
            SoundClip::of(Clip::of(0, $second, speed: -1), 48_000, 1.0)->sampleAt(0),
            'What goes with a picture that is made backwards is not heard.',
        );
    }

    public function test_a_sound_repeats_as_the_picture_that_it_goes_with(): void
    {
        // Ninety frames of a rate at which a frame is 1601.6 samples and of one at which it is 3428.57, from files of
        // which the sound is longer.
        foreach ([['29.97', 91], ['59.94', 31], ['14', 31], ['25', 75]] as [$rate, $frames]) {
            $flicks = $rate === '14' ? intdiv(Flicks::PER_SECOND, 14) : FrameRate::of($rate)->flicksPerFrame;
            foreach ([[0, null], [10 * $flicks, 20 * $flicks]] as [$in, $out]) {
                $count = $out === null ? $frames : 10;
                $clip = Clip::of(0, 1000 * Flicks::PER_SECOND, $in, $out, PastEnd::Loop);
                $sound = SoundClip::of($clip, (int) ceil(($frames * $flicks) / SoundClip::FLICKS) + 893, null, [
                    $flicks,
                    $frames,
                ]);
                foreach ([0, 1, 50, 100] as $turn) {
                    // At the first moment of a repeat of the picture, the sound is at its first sample, within a
                    // millisecond.
                    $at = $turn * $count * $flicks;
                    self::assertSame(
                        0,
                        $clip->mediaFrameAt($at, $flicks, $frames) - intdiv($in, $flicks),
                        "$rate, repeat $turn",
                    );
                    $off =
                        fmod(($sound->sampleAt($at) ?? -1) - $sound->from + $sound->count / 2, $sound->count) -
                        $sound->count / 2;
                    self::assertLessThan(48, abs($off), "$rate, repeat $turn");
                }
            }
        }
    }

    public function test_locked_layers_and_empty_orders_are_refused(): void
    {
        $document = self::document(
            ['one' => ['start' => 10, 'length' => 20], 'two' => ['start' => 10, 'length' => 20, 'layer' => 'b']],
            true,
        );
        foreach (
            [
                static fn ($e) => $e->move(['one', 'two'], 5),
                static fn ($e) => $e->move(['one'], 5, 'b'),
                static fn ($e) => $e->trim('two', 'end', 5),
                static fn ($e) => $e->split(['two'], 15 * self::F),
                static fn ($e) => $e->paste(['one'], 5, 'b'),
                static fn ($e) => $e->remove(['two']),
                static fn ($e) => $e->replace('two', 'red'),
                static fn ($e) => $e->speed('two', 2.0),
                static fn ($e) => $e->slip('two', 5),
            ] as $i => $do
        ) {
            try {
                $do(self::editing($document));
                self::fail("order $i");
            } catch (InvalidValue $refused) {
                self::assertSame('layer', $refused->field, "order $i");
            }
        }
        foreach (
            [
                [static fn ($e) => $e->move([], 5), 'clips'],
                [static fn ($e) => $e->remove(['gone']), 'clip'],
                [static fn ($e) => $e->split(['one'], 99 * self::F), 'time'],
                [static fn ($e) => $e->replace('one', 'gone'), 'media'],
                [static fn ($e) => $e->speed('one', 0.0), 'speed'],
                [static fn ($e) => $e->trim('one', 'middle', 5), 'edge'],
            ] as [$do, $field]
        ) {
            try {
                $do(self::editing($document));
                self::fail($field);
            } catch (InvalidValue $refused) {
                self::assertSame($field, $refused->field);
            }
        }
        self::assertSame([], Changes::update('clip', 'one', $document->rows['clip']['one'], []));
    }

    public function test_a_cut_at_a_clips_very_edge_leaves_it_alone(): void
    {
        $document = self::document(['one' => ['start' => 10, 'length' => 20]]);
        foreach ([10, 30] as $time) {
            try {
                self::editing($document)->split(['one'], $time * self::F);
                self::fail('Nothing is left to be cut off.');
            } catch (InvalidValue $refused) {
                self::assertSame('time', $refused->field);
            }
        }
        [$changes, $made] = self::editing($document)->split(['one'], 11 * self::F);
        self::assertSame(['new1'], $made);
        self::assertSame(['new1' => 'a 11–30', 'one' => 'a 10–11'], self::places(self::changed($document, $changes)));
    }

    public function test_a_slip_leaves_at_least_a_frame_to_be_seen(): void
    {
        // The media has 100 frames at 50 a second: 50 frames of the show, its own last one half of one before the end.
        $document = self::document(['one' => ['start' => 10, 'length' => 20, 'in' => 5]]);
        $in = static fn (int $by): float => self::changed(
            $document,
            self::editing($document)->slip('one', $by * self::F),
        )->rows['clip']['one']['in'] / self::F;
        self::assertSame(49.5, (float) $in(99));
        self::assertSame(0.0, (float) $in(-99));
        self::assertSame(7.0, (float) $in(2));
    }
}

<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Clock;
use App\Engine\Compiler;
use App\Engine\Conductor;
use App\Engine\Decks;
use App\Engine\Guard;
use App\Engine\HeldValues;
use App\Engine\Journal;
use App\Engine\OpenShow;
use App\Engine\Packs;
use App\Engine\Performance;
use App\Engine\Wire;
use App\Support\TicketOffice;
use Core\Cues\Cue;
use Core\Plan\Bundle;
use Core\Playback\CueSheet;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use Core\Values\Track;
use Illuminate\Filesystem\Filesystem;
use PHPUnit\Framework\TestCase;
use React\EventLoop\StreamSelectLoop;

/** The small parts of the engine in process, with a clock that is moved by hand. */
final class PartsTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private string $folder = '';

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/kite-parts-'.bin2hex(random_bytes(5));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        (new Filesystem())->deleteDirectory($this->folder);
    }

    private static function decks(): Decks
    {
        $decks = new Decks();
        $cue = static fn (string $id, int $seconds, bool $holds): array => [
            'id' => $id,
            'time' => $seconds * self::S,
            'number' => $id,
            'name' => "Cue $id",
            'holds' => $holds,
        ];
        $decks->setTimelines(
            [
                'main' => [
                    'name' => 'Main',
                    'sheet' => CueSheet::of(intdiv(self::S, 25), 60 * self::S, [
                        $cue('1', 4, false),
                        $cue('2', 12, true),
                    ]),
                ],
                'bell' => ['name' => 'Bell', 'sheet' => CueSheet::of(intdiv(self::S, 25), 8 * self::S)],
            ],
            100,
        );

        return $decks;
    }

    public function test_a_deck_knows_ahead_where_it_rests_and_says_so_when_it_does(): void
    {
        $decks = self::decks();
        self::assertSame(['main', 'bell'], $decks->takeChanged());
        self::assertSame([], $decks->takeChanged());
        self::assertNull($decks->command(['action' => 'play'], 1000));
        self::assertSame(['main'], $decks->takeChanged());
        $map = $decks->heads(1000)[0]->map;
        self::assertSame(
            [0, 0, 5 * self::S, 12 * self::S, 12 * self::S],
            array_map($map->at(...), [0, 1000, 1000 + 5 * self::S, 1000 + 12 * self::S, 1000 + 90 * self::S]),
        );
        self::assertSame(1000 + 12 * self::S, $decks->nextRest(2000));
        self::assertSame(['timeline', 'on', 'next', 'map', 'number'], array_keys($decks->payload('main', 2000)));
        $decks->rested(2000, 1000 + 12 * self::S);
        self::assertSame(['main'], $decks->takeChanged());
        $waits = $decks->payload('main', 1001 + 12 * self::S);
        self::assertSame(['2', true], [$waits['next'], $waits['waiting']]);
        self::assertNull($decks->nextRest(1001 + 12 * self::S));
    }

    public function test_a_jump_says_where_it_was_until_it_takes_effect(): void
    {
        $decks = self::decks();
        $decks->command(['action' => 'play'], 0);
        $decks->command(['action' => 'jump', 'time' => 30 * self::S], 2 * self::S);
        $map = $decks->heads(self::S)[0]->map;
        self::assertSame(
            [self::S, 30 * self::S, 31 * self::S],
            array_map($map->at(...), [self::S, 2 * self::S, 3 * self::S]),
        );
        self::assertSame('There is no cue "Gone".', $decks->command(['action' => 'jump', 'cue' => 'Gone'], 5));
        self::assertNull($decks->command(['action' => 'jump', 'cue' => 'Cue 1'], 6 * self::S));
        self::assertSame(5 * self::S, $decks->heads(0)[0]->map->at(7 * self::S));
        self::assertLessThanOrEqual(
            300,
            strlen((string) json_encode(['show' => str_repeat('x', 26)] + $decks->payload('main', 6 * self::S))),
        );
    }

    public function test_a_timeline_that_is_taken_off_leaves_at_its_moment_and_comes_back_when_played(): void
    {
        $decks = self::decks();
        $decks->command(['action' => 'play', 'timeline' => 'Bell'], 10 * self::S);
        $weight = static fn (int $seconds): array => array_map(
            static fn ($head): float => $head->weight->at($seconds * self::S),
            $decks->heads($seconds * self::S),
        );
        self::assertSame([[1.0, 0.0], [1.0, 1.0]], [$weight(9), $weight(11)]);
        $decks->command(['action' => 'off', 'timeline' => 'bell'], 12 * self::S);
        self::assertSame([[1.0, 1.0], [1.0]], [$weight(11), $weight(12)]);
        self::assertSame(
            ['There is no timeline of this id or name.', 'There is no timeline of this id or name.'],
            [
                $decks->command(['action' => 'play', 'timeline' => 'Gong'], 0),
                $decks->command(['action' => 'play', 'timeline' => 7], 0),
            ],
        );
    }

    public function test_what_has_a_clock_of_its_own_runs_on_through_holds_and_jumps_within_it(): void
    {
        $decks = new Decks();
        // Up from 10 to 30 s.
        $sheet = CueSheet::fromArray(
            CueSheet::of(intdiv(self::S, 25), 60 * self::S, own: [[10 * self::S, 30 * self::S]])->toArray(),
        );
        $decks->setTimelines(['main' => ['name' => 'Main', 'sheet' => $sheet]], 0);
        $since = static fn (Decks $decks, int $seconds): float => $decks
            ->heads($seconds * self::S)[0]
            ->map->since(10 * self::S, 30 * self::S, $seconds * self::S) / self::S;
        $decks->command(['action' => 'play'], 100 * self::S);
        self::assertSame(110.0, $since($decks, 115));
        $decks->command(['action' => 'hold'], 115 * self::S);
        $decks->command(['action' => 'play'], 200 * self::S);
        $decks->command(['action' => 'jump', 'time' => 12 * self::S], 203 * self::S);
        $decks->command(['action' => 'rate', 'rate' => 0.5], 204 * self::S);
        self::assertSame([110.0, 110.0, 110.0], [$since($decks, 150), $since($decks, 202), $since($decks, 206)]);
        // A conductor that starts again knows it still; on another clock it begins anew.
        $saved = (array) json_decode((string) json_encode(['main' => $decks->toArray('main', 206 * self::S)]), true);
        self::assertSame(110.0, $since(Decks::restored($saved), 207));
        self::assertSame(5.0, $since(Decks::restored($saved, 5 * self::S), 7));
        // A jump with a fade within it has both places show the same; one out of it and back begins anew.
        $decks->command(['action' => 'jump', 'time' => 20 * self::S, 'fade' => 2 * self::S], 210 * self::S);
        self::assertSame(
            [110.0, 110.0],
            array_map(
                static fn ($head): float => $head->map->since(10 * self::S, 30 * self::S, 211 * self::S) / self::S,
                $decks->heads(211 * self::S),
            ),
        );
        $decks->command(['action' => 'jump', 'time' => 40 * self::S], 215 * self::S);
        $decks->command(['action' => 'jump', 'time' => 15 * self::S], 220 * self::S);
        self::assertSame(220.0, $since($decks, 222));
    }

    public function test_timelines_follow_a_clock_from_outside_and_hold_when_it_falls_silent(): void
    {
        $decks = new Decks();
        $frame = intdiv(self::S, 25);
        $sheet = static fn (string $clock, int $start): CueSheet => CueSheet::fromArray(
            CueSheet::of($frame, 60 * self::S, clock: $clock, clockStart: $start)->toArray(),
        );
        $decks->setTimelines(
            [
                'main' => ['name' => 'Main', 'sheet' => $sheet('desk', 3600 * self::S)],
                'bell' => ['name' => 'Bell', 'sheet' => $sheet('', 0)],
            ],
            0,
        );
        self::assertSame('lost', $decks->payload('main', 0)['clock']);
        self::assertArrayNotHasKey('clock', $decks->payload('bell', 0));
        $hear = static function (int $from, int $to) use ($decks, $frame): void {
            for ($n = $from; $n < $to; $n++) {
                self::assertNull(
                    $decks->hear(
                        ['source' => 'desk', 'time' => 3610 * self::S + $n * $frame],
                        100 * self::S + $n * $frame,
                        100 * self::S + $n * $frame + 1000,
                    ),
                );
            }
        };
        $hear(0, 10);
        $decks->takeChanged();
        $position = static fn (int $frames): float => $decks->heads(0)[0]->map->at(100 * self::S + $frames * $frame) /
            $frame;
        self::assertEqualsWithDelta(250 + 40, $position(40), 1e-3);
        // While it runs as thought, nothing is told and nothing written.
        $decks->takeUnsaved(0);
        $hear(10, 50);
        self::assertSame([[], []], [$decks->takeChanged(), $decks->takeUnsaved(0)]);
        self::assertSame('locked', $decks->payload('main', 0)['clock']);
        self::assertStringContainsString(
            'follows the clock desk',
            (string) $decks->command(['action' => 'jump', 'time' => 0], 200 * self::S),
        );
        self::assertNull($decks->command(['action' => 'play', 'timeline' => 'bell'], 102 * self::S));
        self::assertFalse($decks->freewheel(100 * self::S + 60 * $frame, 0));
        // A second after the last reading it holds, where it had come to; then it may be moved by hand.
        self::assertTrue($decks->freewheel(100 * self::S + 49 * $frame + self::S, 100 * self::S + 80 * $frame));
        self::assertEqualsWithDelta(250 + 80, $position(500), 1);
        self::assertSame('lost', $decks->payload('main', 100 * self::S + 90 * $frame)['clock']);
        self::assertNull($decks->command(['action' => 'jump', 'time' => 0], 200 * self::S));
        foreach (
            [
                ['source' => ''],
                ['source' => 'desk'],
                ['source' => str_repeat('x', 41), 'time' => 1],
                ['source' => 7, 'time' => 1],
                ['source' => 'desk', 'time' => '1'],
            ] as $bad
        ) {
            self::assertNotNull($decks->hear($bad, 0, 0));
        }
        for ($n = 0; $n < 63; $n++) {
            self::assertNull($decks->hear(['source' => "other $n", 'time' => 0], 300 * self::S, 300 * self::S));
        }
        self::assertNull(
            $decks->hear(
                ['source' => 'one that takes the place of a silent one', 'time' => 0],
                300 * self::S,
                300 * self::S,
            ),
        );
        self::assertStringContainsString(
            '64',
            (string) $decks->hear(['source' => 'one too many', 'time' => 0], 300 * self::S, 300 * self::S),
        );
        // One that is told to follow none any more goes on as it was.
        for ($n = 0; $n < 10; $n++) {
            $decks->hear(
                ['source' => 'desk', 'time' => 3605 * self::S + $n * $frame],
                400 * self::S + $n * $frame,
                400 * self::S + $n * $frame,
            );
        }
        $decks->setTimelines(
            [
                'main' => ['name' => 'Main', 'sheet' => $sheet('', 0)],
                'bell' => ['name' => 'Bell', 'sheet' => $sheet('', 0)],
            ],
            401 * self::S,
        );
        self::assertTrue($decks->freewheel(401 * self::S, 401 * self::S));
        self::assertTrue($decks->runs(401 * self::S));
        self::assertNull($decks->command(['action' => 'hold'], 402 * self::S));
    }

    public function test_decks_come_back_from_what_was_written_also_from_what_an_older_engine_wrote(): void
    {
        $decks = self::decks();
        $decks->command(['action' => 'play'], 1000);
        $saved = json_decode(
            (string) json_encode(['main' => $decks->toArray('main', 5000), 'bell' => $decks->toArray('bell', 5000)]),
            true,
        );
        $again = Decks::restored($saved);
        self::assertEquals($decks->now(9 * self::S), $again->now(9 * self::S));
        self::assertEqualsWithDelta(
            $decks->heads(3 * self::S)[0]->map->at(3 * self::S),
            $again->heads(3 * self::S)[0]->map->at(3 * self::S),
            0,
        );
        $stood = Decks::restored($saved, 50)->now(60)['main'];
        self::assertSame([false, 4000], [$stood['running'], $stood['position']]);
        self::assertSame([], Decks::restored(['x' => 'nonsense'])->ids());
        self::assertSame(['x'], Decks::restored(['x' => []])->ids());
    }

    public function test_a_timeline_that_is_shortened_or_removed_while_it_runs_is_followed(): void
    {
        $decks = self::decks();
        $decks->command(['action' => 'play'], 0);
        $decks->takeChanged();
        $sheet = CueSheet::of(intdiv(self::S, 25), 6 * self::S);
        $decks->setTimelines(
            ['main' => ['name' => 'Main', 'sheet' => $sheet], 'new' => ['name' => 'New', 'sheet' => $sheet]],
            2 * self::S,
        );
        self::assertSame(['main', 'new'], $decks->takeChanged());
        self::assertSame(
            [3 * self::S, 6 * self::S],
            array_map($decks->heads(0)[0]->map->at(...), [3 * self::S, 40 * self::S]),
        );
        self::assertFalse($decks->has('bell'));
        $decks->setTimelines(
            ['main' => ['name' => 'Renamed', 'sheet' => $sheet], 'new' => ['name' => 'New', 'sheet' => $sheet]],
            2 * self::S,
        );
        self::assertSame([], $decks->takeChanged());
    }

    public function test_held_values_are_told_once_and_let_go_of_at_a_moment(): void
    {
        $held = new HeldValues();
        self::assertNull($held->set(['layer:a/opacity' => 0.4, 'layer:a/x' => 70_000], 100));
        self::assertSame(['layer:a/opacity', 'layer:a/x'], array_keys($held->takeChanged(0)));
        self::assertSame(
            [[], ['layer:a/opacity' => 0.4, 'layer:a/x' => 65_536.0]],
            [$held->takeChanged(0), $held->loose()],
        );
        $held->set(['layer:a/opacity' => null], 500);
        $told = $held->takeChanged(400)['layer:a/opacity'];
        self::assertCount(1, $told);
        $going = HeldValue::fromArray($told[0]);
        self::assertEqualsWithDelta(
            [0.4, 1.0],
            [HeldValue::over(1.0, [$going], 499), HeldValue::over(1.0, [$going], 500)],
            1e-9,
        );
        self::assertSame(['layer:a/x'], array_keys($held->all(600)));
        foreach (
            [
                ['layer:a/opacity' => 'x'],
                ['layer:a/opacity' => INF],
                ['nonsense' => 1],
                ['layer:a/glow' => 1],
                ['seat:a/opacity' => 1],
            ] as $bad
        ) {
            self::assertIsString($held->set(['layer:b/x' => 5] + $bad, 0));
        }
        self::assertArrayNotHasKey('layer:b/x', $held->loose());
        $again = HeldValues::restored((array) json_decode((string) json_encode($held->saved()), true));
        self::assertSame($held->loose(), $again->loose());
        self::assertNull($again->set(['layer:a/x' => 3], 900));
        self::assertSame(
            [3.0, 65_536.0],
            array_map(Track::fromList($again->all(0)['layer:a/x'][0]['v'])->at(...), [900, 899]),
        );
    }

    public function test_media_that_a_console_calls_run_on_and_cover_one_another(): void
    {
        $held = new HeldValues();
        $source = 'layer:a/source';
        $list = static fn (HeldValues $of, int $at = 0): array => array_map(
            HeldValue::fromArray(...),
            $of->all($at)[$source] ?? [],
        );
        self::assertNull($held->bind([$source => 5.0, 'layer:a/opacity' => 0.5], 1000, [$source => ['rate' => 2]]));
        [$one] = $list($held);
        self::assertSame(
            [5.0, 2.0, 0.0, 1000],
            [$one->valueAt(1000), $one->run?->rate, $one->run?->offset, $one->since],
        );
        // The same again, otherwise: from where it is. The same without a word of how stays as it runs.
        $held->bind([$source => 5.0], 3000, [$source => ['rate' => 0, 'past' => 'hold']]);
        $held->bind([$source => 5.0], 3500);
        [$stood] = $list($held);
        self::assertSame(
            [4000.0, 0.0, 3000, 1000],
            [$stood->run?->offset, $stood->run?->rate, $stood->since, $stood->run?->begun],
        );
        // Another covers it in 400 flicks: both are there meanwhile, as after a restart.
        $held->bind([$source => 6.0], 5000, [], [$source => 400]);
        foreach (
            [$held, HeldValues::restored((array) json_decode((string) json_encode($held->saved()), true))] as $now
        ) {
            $both = $list($now, 5200);
            usort($both, static fn (HeldValue $a, HeldValue $b): int => $a->sequence <=> $b->sequence);
            // The one below stays until it is really covered.
            self::assertSame(
                [[5.0, 1.0, 1.0], [6.0, 0.5, 1.0]],
                array_map(
                    static fn (HeldValue $v): array => [$v->valueAt(5200), $v->weight->at(5200), $v->weight->at(5400)],
                    $both,
                ),
            );
            self::assertSame([4000.0, null], [$both[0]->run?->offset, $both[1]->run]);
        }
        self::assertCount(1, $list($held, 6000));
        foreach ([['rate' => 99], ['in' => 2], ['past' => 'dark']] as $bad) {
            self::assertIsString($held->bind([$source => 7.0], 7000, [$source => $bad]));
        }
        self::assertSame(6.0, $list($held, 8000)[0]->valueAt(8000), 'What was refused changed nothing.');
        $held->bind([$source => null], 9000);
        self::assertSame([], $list($held, 9000));
    }

    public function test_of_two_controls_the_latest_wins_and_the_other_is_there_again_when_it_lets_go(): void
    {
        $held = new HeldValues();
        $a = 'layer:a/opacity';
        $top = static function (HeldValues $of) use ($a): ?array {
            $all = array_map(HeldValue::fromArray(...), $of->all(0)[$a] ?? []);
            usort($all, static fn (HeldValue $x, HeldValue $y): int => $y->sequence <=> $x->sequence);

            return $all === [] ? null : [$all[0]->source, $all[0]->valueAt(99)];
        };
        $held->bind([$a => 0.2], 0);
        $held->bind([$a => 0.7], 10, source: 'wing');
        self::assertSame(['wing', 0.7], $top($held));
        $held->bind([$a => 0.3], 20);
        self::assertSame(['console', 0.3], $top($held));
        $again = HeldValues::restored((array) json_decode((string) json_encode($held->saved()), true));
        foreach ([$held, $again] as $one) {
            $one->bind([$a => null], 30);
            self::assertSame(['wing', 0.7], $top($one));
            $one->bind([$a => null], 40);
            self::assertSame(['wing', 0.7], $top($one), 'what it did not hold it can not let go of');
            $one->bind([$a => null], 50, source: 'wing');
            self::assertNull($top($one));
        }
        self::assertSame([], $held->saved());
    }

    public function test_the_journal_tells_its_state_whatever_its_lines(): void
    {
        $path = "$this->folder/journal.jsonl";
        $journal = new Journal($path);
        self::assertNull($journal->state());
        $state = ['show' => 'a', 'held' => ['x' => ['v' => 1]], 'cards' => ['s']];
        $write = static function (array $change) use ($journal, &$state): void {
            $state = Journal::merged($state, $change);
            $journal->write($change, static function () use (&$state): array {
                return $state;
            });
        };
        $write([]);
        $write(['held' => ['y' => ['v' => 2], 'x' => null], 'cards' => []]);
        self::assertSame(['show' => 'a', 'held' => ['y' => ['v' => 2]], 'cards' => []], (new Journal($path))->state());
        // Lines that say nothing, half a line, and one that is larger than any buffer.
        file_put_contents($path, "{}\n[]\nnull\n{\"change\": 5}\n{\"half\n", FILE_APPEND);
        $write(['held' => ['big' => ['v' => str_repeat('x', 900_000)]]]);
        $read = new Journal($path);
        self::assertSame(900_000, strlen($read->state()['held']['big']['v'] ?? ''));
        self::assertSame(5, $read->skipped);
        for ($i = 0; $i < 3000; $i++) {
            $write(['held' => ['y' => ['v' => $i], 'big' => null]]);
        }
        clearstatcache();
        self::assertLessThan(1_200_000, filesize($path));
        self::assertSame(
            ['show' => 'a', 'held' => ['y' => ['v' => 2999]], 'cards' => []],
            (new Journal($path))->state(),
        );
    }

    public function test_a_disk_that_takes_nothing_is_counted_and_the_next_good_write_has_all(): void
    {
        $path = "$this->folder/later/journal.jsonl";
        $journal = new Journal($path);
        $journal->write(['n' => 1], static fn (): array => ['n' => 1]);
        $journal->write(['n' => 2], static fn (): array => ['n' => 2]);
        self::assertSame(2, $journal->lost);
        mkdir("$this->folder/later");
        $journal->write(['n' => 3], static fn (): array => ['n' => 3, 'show' => 'a']);
        $journal->write(['n' => 4], static fn (): array => ['n' => 4]);
        self::assertSame([['n' => 4, 'show' => 'a'], 2], [(new Journal($path))->state(), $journal->lost]);
    }

    public function test_a_guard_counts_what_is_thrown_and_goes_on(): void
    {
        $guard = new Guard();
        $calls = 0;
        $guarded = $guard->around('here', static function (int $n) use (&$calls): int {
            $calls++;

            return $n > 1 ? throw new \LogicException("too much \xff") : $n;
        });
        self::assertSame([1, null], [$guarded(1), @$guarded(2)]);
        self::assertSame([1, 2], [$guard->figures()['caught'], $calls]);
        self::assertStringStartsWith('here: too much', $guard->figures()['last']);
    }

    public function test_packs_are_known_by_their_content_and_old_ones_go(): void
    {
        $packs = new Packs("$this->folder/packs");
        $key = $packs->put(new Bundle('s', 1, ['a' => ['n' => 1]], []));
        self::assertSame($key, $packs->put(new Bundle('s', 1, ['a' => ['n' => 1]], [])));
        for ($i = 0; $i < 60; $i++) {
            $packs->put(new Bundle('s', $i, [], ['x' => Track::constant($i)]));
        }
        self::assertLessThanOrEqual(41, count(glob("$this->folder/packs/*.pack") ?: []));
    }

    /**
     * A compiler that is no process: it writes down what it is told, and says what the test has it say.
     *
     * @param  list<array{\Closure(int, string): void, \Closure(string): void}>  $started
     * @param  list<array<string, mixed>>  $told
     */
    private static function compiler(array &$started, array &$told): \Closure
    {
        return static function (mixed $show, \Closure $onFrame, \Closure $onEnd) use (&$started, &$told): Compiler {
            $started[] = [$onFrame, $onEnd];

            return new class($told) implements Compiler
            {
                /** @param  list<array<string, mixed>>  $told */
                public function __construct(private array &$told)
                {
                }

                public function send(array $message): void
                {
                    $this->told[] = $message;
                }

                public function ask(array $message, \Closure $then): void
                {
                    $this->told[] = $message;
                    $then([
                        'links' => [['link' => 'Media']],
                        'revision' => 1,
                        'figures' => [],
                        'time' => count($this->told),
                    ]);
                }

                public function end(): void
                {
                }

                public function pid(): ?int
                {
                    return 42;
                }
            };
        };
    }

    public function test_an_open_show_packs_anew_when_many_edits_came_and_starts_again_what_ended(): void
    {
        [$started, $told, $later, $ready, $compiled, $figures] = [[], [], [], 0, 0, 0];
        $open = new OpenShow(
            self::compiler($started, $told),
            static function () use (&$ready): void {
                $ready++;
            },
            static function (OpenShow $show, string $bundle) use (&$compiled): void {
                $compiled++;
                $show->keep(Wire::delta(5, $show->id, $bundle));
            },
            static function () use (&$figures): void {
                $figures++;
            },
            static function (float $seconds, \Closure $then) use (&$later): void {
                $later[] = [$seconds, $then];
            },
        );
        [$frame, $end] = $started[0];
        $frame(
            Wire::READY,
            (string) json_encode([
                'show' => 'a',
                'revision' => 3,
                'pack' => 'abc',
                'timelines' => ['t' => ['name' => 'T', 'sheet' => []]],
            ]),
        );
        self::assertSame([1, ['t'], 1], [$ready, array_keys($open->timelines), count($open->frames())]);
        for ($revision = 4; $revision < 206; $revision++) {
            $frame(Wire::COMPILED, (string) json_encode(['revision' => $revision, 'timelines' => []]));
            $frame(Wire::BUNDLE, 'bytes');
        }
        self::assertSame([202, 205, [['figures' => true], ['pack' => true]]], [$compiled, $open->revision, $told]);
        self::assertSame(1, $figures);
        $frame(Wire::PACKED, (string) json_encode(['pack' => 'def', 'revision' => 204]));
        // The pack and the one edit after it.
        self::assertCount(2, $open->frames());
        self::assertStringContainsString('"pack":"def"', $open->frames()[0]);
        @$end('It fell over.');
        self::assertSame(['It fell over.', 1], [$open->figures()['trouble'], count($later)]);
        $later[0][1]();
        self::assertCount(2, $started);
        self::assertCount(2, $open->frames());
        $open->close();
        @$end('Late word.');
        self::assertCount(2, $started);
    }

    public function test_a_conductor_on_a_clock_by_hand_sends_nothing_while_nobody_touches_anything(): void
    {
        $loop = new StreamSelectLoop();
        $clock = new class implements Clock
        {
            public int $now = 1000;

            public function now(): int
            {
                return $this->now;
            }

            public function name(): string
            {
                return 'by hand';
            }
        };
        [$started, $told] = [[], []];
        $conductor = new Conductor(
            $loop,
            [
                'live_port' => TEST_PORTS + 71,
                'osc_port' => TEST_PORTS + 72,
                'hosts' => ['127.0.0.1'],
                'run' => $this->folder,
            ],
            self::compiler($started, $told),
            ($tickets = new TicketOffice('key')),
            new Journal("$this->folder/journal.jsonl"),
            $clock,
            controls: [($pad = new DummySource())],
        );
        $started[0][0](
            Wire::READY,
            (string) json_encode([
                'show' => str_repeat('a', 26),
                'revision' => 1,
                'pack' => 'abc',
                'timelines' => [
                    't' => ['name' => 'T', 'sheet' => CueSheet::of(intdiv(self::S, 25), 60 * self::S)->toArray()],
                ],
            ]),
        );
        $socket = stream_socket_client('tcp://127.0.0.1:'.(TEST_PORTS + 71));
        self::assertIsResource($socket);
        stream_set_blocking($socket, false);
        fwrite(
            $socket,
            "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer ".
                $tickets->issue('x', time()).
                "\r\n\r\n",
        );
        $heard = '';
        $run = static function (float $seconds) use ($loop, $socket, &$heard): string {
            $loop->addTimer($seconds, static fn () => $loop->stop());
            $loop->run();
            $new = (string) stream_get_contents($socket);
            $heard .= $new;

            return $new;
        };
        $run(0.3);
        self::assertStringContainsString('"pack":"abc"', $heard);
        /** @var list<resource> $asked */
        $asked = [];
        $post = static function (array $body) use ($tickets, &$asked): void {
            $json = (string) json_encode($body);
            $host = '127.0.0.1:'.(TEST_PORTS + 71);
            $once = stream_socket_client("tcp://$host");
            fwrite(
                $once,
                "POST /live/command HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer ".
                    $tickets->issue('x', time()).
                    "\r\nContent-Length: ".
                    strlen($json).
                    "\r\n\r\n$json",
            );
            stream_set_blocking($once, false);
            $asked[] = $once;
        };
        $post(['action' => 'play']);
        self::assertStringContainsString('"map"', $run(0.2));
        // What another source of controls does goes the same way.
        $pad->press('/kite/fader/master/show/level', [0.25]);
        self::assertStringContainsString(
            '"master:show\/level":[{',
            str_replace('"master:show/level"', '"master:show\/level"', $run(0.2)),
        );
        $pad->press('/kite/nowhere', []);
        self::assertSame(['Nothing listens to /kite/nowhere.', null], array_column($pad->health()['last'], 'fault'));
        // While it plays, and for whatever engine time, one frame of health a second is all there is.
        $clock->now += 20 * self::S;
        $quiet = $run(2.2);
        self::assertLessThanOrEqual(3, substr_count($quiet, '"lateness"'));
        self::assertSame(0, substr_count($quiet, '"map"'));
        self::assertLessThan(3 * 1500, strlen($quiet));
        $jumps = '';
        // Hundreds of orders at once are told as the last of them, a few times at most.
        for ($i = 0; $i < 300; $i++) {
            $post(['action' => 'jump', 'time' => $i * 40_000_000]);
            // As many as may wait at the door are answered before more of them come.
            while ($i % 50 === 49 && $asked !== []) {
                $jumps .= $run(0.05);
                $asked = array_filter($asked, static fn ($once): bool => fread($once, 1) === '' && ! feof($once));
            }
        }
        $jumps .= $run(0.5);
        self::assertLessThan(100, substr_count($jumps, '"map"'));
        self::assertStringContainsString(
            (string) (299 * 40_000_000 - ((299 * 40_000_000 + 14_112_000) % 28_224_000) + 14_112_000),
            $jumps,
        );
        unset($conductor);
    }

    public function test_a_fade_of_a_jump_lasts_ten_minutes_at_most(): void
    {
        $decks = self::decks();
        $jump = static fn (int $fade): ?string => $decks->command(
            ['action' => 'jump', 'time' => self::S, 'fade' => $fade],
            1000,
        );
        self::assertNull($jump(0));
        self::assertNull($jump(600 * self::S));
        foreach ([600 * self::S + 1, -1] as $bad) {
            self::assertSame('A fade is a time in flicks, up to ten minutes.', $jump($bad));
        }
        self::assertNull($decks->command(['action' => 'nudge', 'by' => -99 * self::S], 1000));
        self::assertSame(0, $decks->toArray('main', 2000)['position']);
    }

    public function test_the_journal_begins_anew_when_it_has_grown_and_a_large_state_is_seldom_written(): void
    {
        $path = "$this->folder/journal.jsonl";
        foreach ([['small' => 1], ['large' => str_repeat('x', 600_000)]] as $state) {
            $journal = new Journal($path);
            [$wholes, $longest] = [0, 0];
            for ($n = 0; $n < 3000; $n++) {
                $journal->write(['n' => str_repeat('y', 1000)], static function () use ($state, &$wholes): array {
                    $wholes++;

                    return $state;
                });
                clearstatcache();
                $longest = max($longest, (int) filesize($path));
            }
            // A million bytes, or four times the state, and one line more.
            $most = max(1_000_000, 4 * strlen((string) json_encode(['state' => $state])));
            self::assertGreaterThan($most, $longest);
            self::assertLessThan($most + 1100, $longest);
            self::assertSame(isset($state['small']) ? 4 : 2, $wholes);
        }
    }

    public function test_a_cue_that_takes_its_timeline_along_is_not_fired_again_by_it(): void
    {
        $performance = Performance::of('show');
        $performance->decks->setTimelines(
            [
                'main' => [
                    'name' => 'Main',
                    'sheet' => CueSheet::of(intdiv(self::S, 25), 60 * self::S, [
                        ['id' => 'c', 'time' => 4 * self::S, 'number' => '1', 'name' => 'C', 'holds' => false],
                    ]),
                ],
            ],
            0,
        );
        $performance->cues->setCues([
            'c' => new Cue('c', '1', 'C', timeline: 'main', time: 4 * self::S),
        ]);
        self::assertNull($performance->fire('c', 1000, 'Ann'));
        $performance->advance(1000, 2000);
        self::assertSame('Ann', ((array) $performance->cues->payload()['on'])['c']['by'] ?? null);
    }
}

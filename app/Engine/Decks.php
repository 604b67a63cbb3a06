<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Playback\CueSheet;
use Core\Playback\ExternalClock;
use Core\Playback\Head;
use Core\Playback\Transport;
use Core\Protocol\MtcWriter;
use Core\Timeline\ChaseState;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Core\Values\Track;

/** The transports of a show, one for each of its timelines: what is on, where it is, and what Go would start. */
final class Decks
{
    /** The longest fade of a jump, in flicks: 10 minutes. */
    private const MAX_FADE = 600 * Flicks::PER_SECOND;

    /** What a timeline does not do by hand while it follows a clock. */
    private const BY_HAND = ['play', 'hold', 'toggle', 'stop', 'go', 'jump', 'nudge', 'rate', 'loop'];

    /** Clocks that are known at once. */
    private const MAX_CLOCKS = 64;

    /** Places that a timeline has jumped away from and that still fade. */
    private const MAX_PAST = 8;

    /**
     * @var array<string, array{transport: Transport, map: TransportMap, on: bool, weight: Track, number: int, past: list<array{map: TransportMap, weight: Track, number: int}>}> by timeline
     */
    private array $decks = [];

    /** @var array<string, CueSheet> by timeline, from the bottom up */
    private array $sheets = [];

    /** @var array<string, string> */
    private array $names = [];

    /** @var array<string, ExternalClock> clocks from outside, by name */
    private array $clocks = [];

    /** @var array<string, ChaseState> how timelines follow their clock, by timeline */
    private array $chases = [];

    /** @var array<string, true> timelines that their clocks took elsewhere, and that nobody took yet */
    private array $sought = [];

    /** @var array<string, float> by how many frames a timeline was ahead of its clock at the last reading */
    private array $errors = [];

    /** @var array<string, true> timelines whose clock is heard */
    private array $locked = [];

    /** The timeline that was chosen to be driven; the first where it is missing or gone. */
    private ?string $driven = null;

    /** @var array<string, true> timelines of which something has to be told */
    private array $changed = [];

    /** @var array<string, true> timelines whose deck the journal does not have as it is */
    private array $unsaved = [];

    /**
     * @param  array<string, mixed>  $saved  by timeline, as toArray() gave them
     * @param  int|null  $standing  engine time at which all stand where they were, for a clock that is another one
     * @param  int|null  $now  engine time from which a clock from outside that was followed counts as heard; null
     *     where none is followed on
     */
    public static function restored(array $saved, ?int $standing = null, ?int $now = null): self
    {
        $decks = new self();
        foreach ($saved as $timeline => $deck) {
            if (! is_array($deck)) {
                continue;
            }
            $sheet = CueSheet::fromArray((array) ($deck['sheet'] ?? []));
            $transport = Transport::fromArray((array) ($deck['transport'] ?? []));
            $on = (bool) ($deck['on'] ?? true);
            if (($deck['driven'] ?? false) === true) {
                $decks->driven = (string) $timeline;
            }
            if ($standing !== null) {
                $transport = Transport::heldAt($standing, (int) ($deck['position'] ?? $transport->position));
            }
            $decks->sheets[(string) $timeline] = $sheet;
            $decks->names[(string) $timeline] = (string) ($deck['name'] ?? '');
            // What an older engine wrote has no map; of another clock, all of it means nothing, and what fades is over.
            $decks->decks[(string) $timeline] =
                $standing !== null || ! is_array($deck['map'] ?? null)
                    ? self::deck($transport, $transport->map($sheet), $on)
                    : [
                        'map' => TransportMap::fromArray($deck['map']),
                        'weight' => is_array($deck['weight'] ?? null)
                            ? Track::fromList($deck['weight'])
                            : Track::constant($on ? 1.0 : 0.0),
                        'number' => (int) ($deck['number'] ?? 0),
                        'past' => self::past($deck['past'] ?? []),
                    ] + self::deck($transport, TransportMap::standing(0, 0), $on);
            if ($now !== null && ($deck['jumped'] ?? false) === true) {
                $decks->chases[(string) $timeline] = new ChaseState(refused: true);
            }
            if ($now !== null && ($deck['locked'] ?? false) === true && $sheet->clock !== '') {
                // It has a second to be heard again; until then the timeline runs as it did.
                $decks->locked[(string) $timeline] = true;
                $decks->clocks[$sheet->clock] = ExternalClock::resumed(
                    $now,
                    $transport->positionAt($now, $sheet) + $sheet->clockStart,
                    $transport->playing ? $transport->rate : 0.0,
                );
            }
        }

        return $decks;
    }

    /** @return list<array{map: TransportMap, weight: Track, number: int}> as told() tells them */
    private static function past(mixed $told): array
    {
        return array_values(
            array_map(
                static fn (array $head): array => [
                    'map' => TransportMap::fromArray((array) ($head['map'] ?? [])),
                    'weight' => Track::fromList((array) ($head['weight'] ?? [])),
                    'number' => (int) ($head['number'] ?? 0),
                ],
                array_filter((array) $told, is_array(...)),
            ),
        );
    }

    /**
     * Where a timeline is and was, and how strongly, from an engine time on.
     *
     * @param  array{transport: Transport, map: TransportMap, on: bool, weight: Track, number: int, past: list<array{map: TransportMap, weight: Track, number: int}>}  $deck
     * @return array<string, mixed>
     */
    private static function deckPayload(array $deck, int $engine): array
    {
        $past = array_values(
            array_filter($deck['past'], static fn (array $head): bool => $head['weight']->at($engine) > 0),
        );

        return ['map' => $deck['map']->toArray(), 'number' => $deck['number']] +
            ($deck['weight']->isConstant() ? [] : ['weight' => $deck['weight']->toList()]) +
            ($past === []
                ? []
                : [
                    'past' => array_map(
                        static fn (array $head): array => [
                            'map' => $head['map']->toArray(),
                            'weight' => $head['weight']->toList(),
                            'number' => $head['number'],
                        ],
                        $past,
                    ),
                ]);
    }

    /**
     * @return array{transport: Transport, map: TransportMap, on: bool, weight: Track, number: int, past: list<array{map: TransportMap, weight: Track, number: int}>}
     */
    private static function deck(Transport $transport, TransportMap $map, bool $on): array
    {
        return [
            'transport' => $transport,
            'map' => $map,
            'on' => $on,
            'weight' => Track::constant($on ? 1.0 : 0.0),
            'number' => 0,
            'past' => [],
        ];
    }

    /**
     * The timelines that there are now. New ones stand at their beginning, and only the first of a show is on by
     * itself; what is gone goes.
     *
     * @param  array<string, array{name: string, sheet: CueSheet}>  $timelines  from the bottom up
     */
    public function setTimelines(array $timelines, int $at): void
    {
        $fresh = $this->decks === [];
        $this->unsaved += array_map(static fn (): bool => true, array_diff_key($this->decks, $timelines));
        $this->decks = array_intersect_key($this->decks, $timelines);
        $this->sheets = [];
        foreach ($timelines as $id => ['name' => $name, 'sheet' => $sheet]) {
            $this->sheets[$id] = $sheet;
            $this->names[$id] = $name;
            if (! isset($this->decks[$id])) {
                $on = $fresh && array_key_first($timelines) === $id;
                $this->decks[$id] = self::deck(Transport::heldAt($at, 0), TransportMap::standing($at, 0), $on);
                $this->changed[$id] = $this->unsaved[$id] = true;

                continue;
            }
            // Where it will come to rest may be elsewhere now.
            $map = $this->decks[$id]['transport']->map($sheet);
            if ($map->pieces !== array_slice($this->decks[$id]['map']->pieces, -count($map->pieces))) {
                $this->decks[$id]['map'] = self::then($this->decks[$id]['map'], $map, $sheet, $map->pieces[0][0]);
                $this->changed[$id] = $this->unsaved[$id] = true;
            }
        }
        $this->names = array_intersect_key($this->names, $timelines);
    }

    /**
     * Plays, holds, stops, goes, jumps, nudges, changes its rate or its loop, or takes off.
     *
     * @param  array<string, mixed>  $command  do; timeline (id or name, the driven one where it is missing); for a jump
     *     time or cue, for a
     *   nudge by (flicks), both with a fade if wanted (flicks), as taking off has; for rate the rate; for loop from
     *   and to, neither for none
     * @param  int  $at  engine time at which it takes effect
     * @return string|null what is wrong with it
     */
    public function command(array $command, int $at): ?string
    {
        $id = $this->named($command['timeline'] ?? null);
        if ($id === null) {
            return isset($command['timeline'])
                ? 'There is no timeline of this id or name.'
                : 'The show has no timeline yet.';
        }
        [$sheet, $deck] = [$this->sheets[$id], $this->decks[$id]];
        $before = $deck['transport'];
        $on = true;
        if (isset($this->locked[$id]) && in_array($command['action'] ?? null, self::BY_HAND, true)) {
            return "{$this->names[$id]} follows the clock $sheet->clock. While that is heard, nothing else moves it.";
        }
        if (in_array($command['action'] ?? null, self::BY_HAND, true)) {
            // In somebody's hand, what its clock did before counts no more.
            unset($this->chases[$id]);
        }
        $fade = self::flicks($command['fade'] ?? 0);
        if ($fade === null || $fade < 0 || $fade > self::MAX_FADE) {
            return 'A fade is a time in flicks, up to ten minutes.';
        }
        try {
            switch ($command['action'] ?? null) {
                case 'toggle':
                    $runs = $before->runsAt($at, $sheet);
                    $next = $runs ? $before->hold($at, $sheet) : $before->play($at, $sheet);
                    $on = $runs ? $deck['on'] : true;
                    break;
                case 'play':
                    $next = $before->play($at, $sheet);
                    break;
                case 'hold':
                    $next = $before->hold($at, $sheet);
                    $on = $deck['on'];
                    break;
                case 'stop':
                    $next = $before->stop($at);
                    $on = $deck['on'];
                    break;
                case 'go':
                    $next = $before->go($at, $sheet);
                    break;
                case 'jump':
                    $to = $command['cue'] ?? null;
                    $time = is_string($to) ? $sheet->named($to) : self::flicks($command['time'] ?? null);
                    if ($time === null) {
                        return is_string($to)
                            ? "There is no cue \"$to\"."
                            : 'A jump needs a time in flicks or the name of a cue.';
                    }
                    $next = $before->jump($at, $time, $sheet);
                    break;
                case 'nudge':
                    $by = self::flicks($command['by'] ?? null);
                    if ($by === null) {
                        return 'A nudge needs a time in flicks.';
                    }
                    $next = $before->jump($at, $before->positionAt($at, $sheet) + $by, $sheet);
                    $on = $deck['on'];
                    break;
                case 'rate':
                    $rate = $command['rate'] ?? null;
                    $next = $before->at($at, is_int($rate) || is_float($rate) ? (float) $rate : 0.0, $sheet);
                    $on = $deck['on'];
                    break;
                case 'loop':
                    if (($command['here'] ?? false) === true) {
                        [$command['from'], $command['to']] = $sheet->loopFrom($before->positionAt($at, $sheet));
                    }
                    [$from, $to] = [self::flicks($command['from'] ?? null), self::flicks($command['to'] ?? null)];
                    if (($from === null) !== ($to === null)) {
                        return 'A loop has a beginning and an end, in flicks; neither for none.';
                    }
                    $next = $before->looped($at, $from === null || $to === null ? null : [$from, $to], $sheet);
                    $on = $deck['on'];
                    break;
                case 'off':
                    $next = $fade > 0 ? $before : Transport::heldAt($at, 0);
                    $on = false;
                    break;
                default:
                    return "Timelines know nothing of $command[action].";
            }
        } catch (InvalidValue $refused) {
            return $refused->getMessage();
        }
        $this->move($id, $next, $on, $at, $fade);

        return null;
    }

    /**
     * A reading of a clock from outside: the timelines that follow it go where it is.
     *
     * @param  array<string, mixed>  $said  source, the name of the clock; time, what it says, in flicks
     * @param  int  $now  engine time at which it came
     * @param  int  $at  engine time from which it is followed
     * @return string|null what is wrong with it
     */
    public function hear(array $said, int $now, int $at): ?string
    {
        [$source, $time] = [$said['source'] ?? null, self::flicks($said['time'] ?? null)];
        if (! is_string($source) || $source === '' || mb_strlen($source) > 40 || $time === null) {
            return 'A clock says its name as `source`, of up to 40 characters, and its `time` in flicks.';
        }
        if (! isset($this->clocks[$source]) && count($this->clocks) >= self::MAX_CLOCKS) {
            $this->clocks = array_filter(
                $this->clocks,
                static fn (ExternalClock $clock): bool => $clock->isHeardAt($now),
            );
            if (count($this->clocks) >= self::MAX_CLOCKS) {
                return 'There are '.self::MAX_CLOCKS.' clocks already.';
            }
        }
        $clock = $this->clocks[$source] = ($this->clocks[$source] ?? ExternalClock::silent())->heard($now, $time);
        foreach ($this->sheets as $id => $sheet) {
            if ($sheet->clock === $source && isset($this->decks[$id])) {
                $this->chase($id, $sheet, $clock->at($at) - $sheet->clockStart, $clock->rate, $at);
            }
        }

        return null;
    }

    /**
     * A timeline's clock is somewhere.
     *
     * @param  int  $position  where that is on the timeline, flicks; may lie before its beginning
     */
    private function chase(string $id, CueSheet $sheet, int $position, float $rate, int $at): void
    {
        $transport = $this->decks[$id]['transport'];
        $stands = $transport->positionAt($at, $sheet);
        $before = $this->chases[$id] ?? new ChaseState(locked: isset($this->locked[$id]));
        [$state, $follows] = $before->heard(
            $sheet->chase,
            $at,
            $position,
            $rate,
            $stands,
            $transport->runsAt($at, $sheet) ? $transport->rate : 0.0,
            $sheet->flicksPerFrame,
        );
        $this->chases[$id] = $state;
        $this->errors[$id] = ($stands - $position) / $sheet->flicksPerFrame;
        if ($state->locked !== isset($this->locked[$id]) || $state->refused !== $before->refused) {
            $this->changed[$id] = $this->unsaved[$id] = true;
            if ($state->locked) {
                $this->locked[$id] = true;
            } else {
                unset($this->locked[$id]);
            }
        }
        if ($follows === true) {
            if (abs($stands - $position) >= ChaseState::JUMP) {
                $this->sought[$id] = true;
            }
            $this->move($id, $transport->chase($at, $position, $rate, $sheet), true, $at);
        } elseif ($follows === false) {
            $this->move($id, $transport->hold($at, $sheet), $this->decks[$id]['on'], $at);
        }
    }

    /** @return array<string, true> timelines that their clocks took elsewhere since this was called last */
    public function takeSought(): array
    {
        [$sought, $this->sought] = [$this->sought, []];

        return $sought;
    }

    /** How timelines follow their clocks. */
    private function chaseOf(string $id): string
    {
        $state = $this->chases[$id] ?? null;

        return match (true) {
            isset($this->locked[$id]) => 'locked',
            $state?->refused === true => 'jumped',
            $state !== null => 'waits',
            default => 'lost',
        };
    }

    /** @return array<string, array{state: string, error: float}> of timelines whose clock is heard: frames by which each was ahead of it */
    public function chases(): array
    {
        $told = [];
        foreach ($this->errors as $id => $error) {
            $told[(string) $id] = ['state' => $this->chaseOf((string) $id), 'error' => round($error, 2)];
        }

        return $told;
    }

    /** Whether a timeline follows a clock of this name. */
    public function follows(string $clock): bool
    {
        return array_filter($this->sheets, static fn (CueSheet $sheet): bool => $sheet->clock === $clock) !== [];
    }

    /**
     * Holds the timelines whose clock has not been heard for so long that they no longer run on without.
     *
     * @return bool whether there were any
     */
    public function freewheel(int $now, int $at): bool
    {
        $lost = array_filter(
            array_keys($this->locked),
            fn (string $id): bool => ! isset($this->decks[$id]) ||
                ! (
                    ($this->clocks[$this->sheets[$id]->clock] ?? null)?->isHeardAt(
                        $now,
                        $this->sheets[$id]->freewheel,
                    ) ?? false
                ),
        );
        // Who waits for its clock to be believed, or holds since it jumped, begins anew once it falls silent.
        foreach (array_keys($this->chases) as $id) {
            $sheet = $this->sheets[$id] ?? null;
            $heard = $sheet === null ? null : $this->clocks[$sheet->clock] ?? null;
            $freewheel = max(ExternalClock::FREEWHEEL, $sheet->freewheel ?? 0);
            if ($heard?->isHeardAt($now, $freewheel) !== true) {
                unset($this->chases[$id], $this->errors[$id]);
                isset($this->decks[$id]) && ($this->changed[$id] = true);
            }
        }
        foreach ($lost as $id) {
            unset($this->locked[$id]);
            if (isset($this->decks[$id])) {
                $this->changed[$id] = $this->unsaved[$id] = true;
                if ($this->sheets[$id]->clock === '') {
                    // It follows none any more, and goes on.
                    continue;
                }
                $deck = $this->decks[$id];
                $this->move(
                    $id,
                    $deck['transport']->runsAt($at, $this->sheets[$id])
                        ? $deck['transport']->hold($at, $this->sheets[$id])
                        : $deck['transport'],
                    $deck['on'],
                    $at,
                );
            }
        }

        return $lost !== [];
    }

    private function move(string $id, Transport $next, bool $on, int $at, int $fade = 0): void
    {
        $deck = $this->decks[$id];
        if ($next !== $deck['transport'] || $on !== $deck['on']) {
            $this->decks[$id] = self::moved($deck, $next, $on, $at, $fade, $this->sheets[$id]);
            $this->changed[$id] = $this->unsaved[$id] = true;
        }
    }

    /** A time that somebody says, in flicks; null for what is none. */
    private static function flicks(mixed $time): ?int
    {
        return is_int($time) || (is_float($time) && is_finite($time))
            ? (int) max(-Flicks::MAX, min(Flicks::MAX, $time))
            : null;
    }

    /**
     * @param  array{transport: Transport, map: TransportMap, on: bool, weight: Track, number: int, past: list<array{map: TransportMap, weight: Track, number: int}>}  $deck
     * @return array{transport: Transport, map: TransportMap, on: bool, weight: Track, number: int, past: list<array{map: TransportMap, weight: Track, number: int}>}
     */
    private static function moved(array $deck, Transport $next, bool $on, int $at, int $fade, CueSheet $sheet): array
    {
        $past = array_values(array_filter($deck['past'], static fn (array $head): bool => $head['weight']->at($at) > 0));
        $strength = $deck['weight']->at($at);
        $to = $on ? 1.0 : 0.0;
        if ($fade > 0 && $on && $strength > 0 && $next !== $deck['transport']) {
            // Where it was goes on and fades out, with all that was fading out before: their weights sum to 1 with
            // the new one's.
            $strong = array_map(static fn (array $head): array => ['strength' => $head['weight']->at($at)] + $head, [
                ...$past,
                ['map' => $deck['map'], 'weight' => $deck['weight'], 'number' => $deck['number']],
            ]);
            while (count($strong) > self::MAX_PAST) {
                // The two oldest go on as the stronger of them, so that the sum stays.
                [$a, $b] = array_splice($strong, 0, 2);
                array_unshift(
                    $strong,
                    ['strength' => $a['strength'] + $b['strength']] + ($a['strength'] > $b['strength'] ? $a : $b),
                );
            }
            $past = array_map(
                static fn (array $head): array => [
                    'map' => $head['map'],
                    'weight' => Track::ramp($head['strength'], $at, $at + $fade, 0.0),
                    'number' => $head['number'],
                ],
                $strong,
            );

            return [
                'transport' => $next,
                'map' => $next->map($sheet)->clocked($sheet->clocks($deck['map'], $at)),
                'on' => true,
                'weight' => Track::ramp(0.0, $at, $at + $fade, 1.0),
                'number' => $deck['number'] + 1,
                'past' => $past,
            ];
        }
        // A fade that is going on is not cut off by a hold; a jump without one is at once in full.
        $weight = match (true) {
            $on === $deck['on'] &&
                $on &&
                $past !== [] &&
                $fade === 0 &&
                ! self::jumped($deck['transport'], $next, $at, $sheet) => $deck['weight'],
            $on === $deck['on'] => Track::constant($to),
            default => Track::ramp($strength, $at, $at + $fade, $to),
        };

        // Taken off over a time, what was fading out fades with it.
        $fading = match (true) {
            $weight === $deck['weight'] => $past,
            ! $on && $fade > 0 => array_map(
                static fn (array $head): array => [
                    'weight' => Track::ramp($head['weight']->at($at), $at, $at + $fade, 0.0),
                ] + $head,
                $past,
            ),
            default => [],
        };

        return [
            'transport' => $next,
            'map' => $next === $deck['transport'] ? $deck['map'] : self::then($deck['map'], $next->map($sheet), $sheet, $at),
            'on' => $on,
            'weight' => $weight,
            'number' => $deck['number'],
            'past' => $fading,
        ];
    }

    /** One way until another takes effect; what has a clock of its own runs on where both are within it. */
    private static function then(TransportMap $map, TransportMap $next, CueSheet $sheet, int $at): TransportMap
    {
        return $map->then($next)->clocked($sheet->clocks($map, $at));
    }

    /** Whether it is elsewhere at once. */
    private static function jumped(Transport $from, Transport $to, int $at, CueSheet $sheet): bool
    {
        return abs($from->positionAt($at, $sheet) - $to->positionAt($at, $sheet)) >= $sheet->flicksPerFrame;
    }

    /**
     * Timelines that play once another one comes to its end between these engine times.
     *
     * @return list<array{string, int}> id and that time
     */
    public function following(int $from, int $to): array
    {
        $found = [];
        foreach ($this->decks as $id => $deck) {
            $sheet = $this->sheets[$id];
            $rest =
                $deck['transport']->playing &&
                $sheet->then !== null &&
                $deck['transport']->rate > 0 &&
                $deck['transport']->restsOn($sheet) === $sheet->duration
                    ? $deck['transport']->restsAt($sheet)
                    : null;
            if ($rest !== null && $rest > $from && $rest <= $to && isset($this->decks[$sheet->then])) {
                $found[] = [$sheet->then, $rest];
            }
        }

        return $found;
    }

    /** Takes a timeline off at an engine time, and another one from its beginning in its place. */
    public function follow(string $id, int $at): void
    {
        $this->command(['action' => 'stop', 'timeline' => $id], $at);
        $this->command(['action' => 'play', 'timeline' => $id], $at);
    }

    /**
     * The next cues that are played over, from an engine time on: those of each timeline that come first there.
     *
     * @return list<array{int, string}> engine time and id
     */
    public function nextPassed(int $from): array
    {
        $found = [];
        foreach ($this->decks as $id => $deck) {
            $passed = $deck['transport']->nextPassed($from, $this->sheets[$id]);
            foreach ($passed[0] ?? [] as $cue) {
                $found[] = [$passed[1] ?? 0, $cue];
            }
        }

        return $found;
    }

    /** The id of a timeline by that or its name; the driven one for null. */
    public function named(mixed $named): ?string
    {
        if ($named === null) {
            return $this->driven();
        }
        if (! is_string($named)) {
            return null;
        }
        $byName = array_search($named, $this->names, true);

        return isset($this->decks[$named]) ? $named : (is_string($byName) ? $byName : null);
    }

    /** The timeline that play, hold and Go act on where none is named; null in a show without any. */
    public function driven(): ?string
    {
        return isset($this->decks[$this->driven ?? '']) ? $this->driven : array_key_first($this->decks);
    }

    /**
     * Has what names no timeline act on this one.
     *
     * @param  mixed  $named  its id or name
     * @return string|null what is wrong with it
     */
    public function drive(mixed $named): ?string
    {
        $id = $this->named($named);
        if ($id === null) {
            return 'There is no timeline of this id or name.';
        }
        $this->unsaved += array_fill_keys(array_filter([$this->driven(), $id], is_string(...)), true);
        $this->driven = $id;

        return null;
    }

    /** The cue at whose hold point the driven timeline waits at an engine time; null where it does not. */
    public function waitingAt(int $engine): ?string
    {
        $id = $this->driven();
        if ($id === null) {
            return null;
        }
        [$transport, $sheet] = [$this->decks[$id]['transport'], $this->sheets[$id]];
        $engine = max($engine, $transport->engine);

        return $transport->waitsAt($engine, $sheet) ? $transport->nextCue($engine, $sheet)['id'] ?? null : null;
    }

    /** Whether the driven timeline runs at an engine time. */
    public function drivenRuns(int $engine): bool
    {
        $id = $this->driven();

        return $id !== null && $this->decks[$id]['transport']->runsAt($engine, $this->sheets[$id]);
    }

    /**
     * Where the driven timeline is, for those who are told its timecode; null in a show without any.
     *
     * @return array{position: int, runs: bool, writer: MtcWriter}|null with what its clock says at its beginning; runs
     *     only forward at its own speed
     */
    public function timecode(int $engine): ?array
    {
        $id = $this->driven();
        if ($id === null) {
            return null;
        }
        [$transport, $sheet] = [$this->decks[$id]['transport'], $this->sheets[$id]];

        return [
            'position' => $transport->positionAt($engine, $sheet) + $sheet->clockStart,
            'runs' => $transport->rate === 1.0 && $transport->runsAt($engine, $sheet),
            'writer' => new MtcWriter(FrameRate::nearest(Flicks::PER_SECOND / $sheet->flicksPerFrame)),
        ];
    }

    /** Show time of a timeline at an engine time. */
    public function position(string $id, int $engine): int
    {
        return $this->decks[$id]['transport']->positionAt($engine, $this->sheets[$id]);
    }

    public function has(string $timeline): bool
    {
        return isset($this->decks[$timeline]);
    }

    /** @return list<Head> */
    public function heads(int $engine): array
    {
        $heads = [];
        foreach ($this->decks as $id => $deck) {
            foreach ($deck['past'] as $past) {
                $past['weight']->at($engine) > 0 && ($heads[] = new Head($id, $past['map'], $past['weight']));
            }
            if ($deck['on'] || $deck['weight']->at($engine) > 0) {
                $heads[] = new Head($id, $deck['map'], $deck['weight']);
            }
        }

        return $heads;
    }

    /**
     * What a window has to know of one timeline.
     *
     * @return array<string, mixed>
     */
    public function payload(string $id, int $engine): array
    {
        $deck = $this->decks[$id] ?? null;
        if ($deck === null) {
            return ['timeline' => $id, 'gone' => true];
        }
        [$transport, $sheet] = [$deck['transport'], $this->sheets[$id]];
        // What will be when it has taken effect, so that nobody sees the moment before.
        $engine = max($engine, $transport->engine);

        return ['timeline' => $id, 'on' => $deck['on'], 'next' => $transport->nextCue($engine, $sheet)['id'] ?? null] +
            self::deckPayload($deck, $engine) +
            ($transport->waitsAt($engine, $sheet) ? ['waiting' => true] : []) +
            ($sheet->clock === '' ? [] : ['clock' => $this->chaseOf($id)]) +
            ($transport->rate === 1.0 ? [] : ['rate' => $transport->rate]) +
            ($transport->loop === null ? [] : ['loop' => $transport->loop]);
    }

    /** @return list<string> timelines of which something changed since this was asked last */
    public function takeChanged(): array
    {
        [$changed, $this->changed] = [array_keys($this->changed), []];

        return $changed;
    }

    /**
     * @return array<string, array<string, mixed>|null> decks as restored() takes them, of which the journal does not
     *     know yet
     */
    public function takeUnsaved(int $engine): array
    {
        $unsaved = [];
        foreach (array_keys($this->unsaved) as $id) {
            $unsaved[$id] = $this->toArray($id, $engine);
        }
        $this->unsaved = [];

        return $unsaved;
    }

    /** Engine time at which the next deck comes to rest by itself; null when none will. */
    public function nextRest(int $engine): ?int
    {
        $rests = [];
        foreach ($this->decks as $id => $deck) {
            if ($deck['transport']->runsAt($engine, $this->sheets[$id])) {
                $rests[] = $deck['transport']->restsAt($this->sheets[$id]);
            }
        }
        $rests = array_filter($rests, is_int(...));

        return $rests === [] ? null : min($rests);
    }

    /** Marks what came to rest up to an engine time as changed: what is next is another cue now. */
    public function rested(int $from, int $to): void
    {
        foreach ($this->decks as $id => $deck) {
            $rest = $deck['transport']->playing ? $deck['transport']->restsAt($this->sheets[$id]) : null;
            if ($rest !== null && $rest > $from && $rest <= $to) {
                $this->changed[$id] = $this->unsaved[$id] = true;
            }
        }
    }

    public function runs(int $engine): bool
    {
        foreach ($this->decks as $id => $deck) {
            if ($deck['transport']->runsAt($engine, $this->sheets[$id])) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string> from the bottom up */
    public function ids(): array
    {
        return array_keys($this->sheets);
    }

    /** @return array<string, array<string, mixed>> each in full, for those who ask once */
    public function now(int $engine): array
    {
        $all = [];
        foreach ($this->decks as $id => $deck) {
            [$transport, $sheet] = [$deck['transport'], $this->sheets[$id]];
            $all[$id] = [
                'name' => $this->names[$id] ?? '',
                'on' => $deck['on'],
                'transport' => $transport->toArray(),
                'running' => $transport->runsAt($engine, $sheet),
                'position' => $transport->positionAt($engine, $sheet),
                'rest' => $transport->restsOn($sheet),
                'rate' => $transport->rate,
                'loop' => $transport->loop,
                'waiting' => $transport->waitsAt($engine, $sheet),
                'next' => $transport->nextCue($engine, $sheet),
                'duration' => $sheet->duration,
            ];
        }

        return $all;
    }

    /** @return array<string, mixed> one deck, as restored() takes it */
    public function toArray(string $id, int $engine): ?array
    {
        $deck = $this->decks[$id] ?? null;

        return $deck === null
            ? null
            : [
                'name' => $this->names[$id] ?? '',
                'on' => $deck['on'],
                'transport' => $deck['transport']->toArray(),
                'position' => $deck['transport']->positionAt($engine, $this->sheets[$id]),
                'sheet' => $this->sheets[$id]->toArray(),
            ] +
                    (isset($this->locked[$id]) ? ['locked' => true] : []) +
                    (($this->chases[$id] ?? null)?->refused === true ? ['jumped' => true] : []) +
                    ($this->driven === $id ? ['driven' => true] : []) +
                    self::deckPayload($deck, $engine);
    }
}

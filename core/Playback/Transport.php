<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/**
 * Where the show is: at engine time `engine` it was at show time `position`, and since then runs along at its rate or
 * stands. A state and its transitions, nothing else; all times are flicks and come in as arguments.
 */
final readonly class Transport
{
    public const MAX_RATE = 4.0;

    public const MIN_RATE = 0.1;

    /**
     * @param  float  $rate  how fast it runs when it does; negative backwards
     * @param  array{int, int}|null  $loop  the range that is repeated: from, to
     * @param  bool  $chases  whether it follows a clock from outside, which passes over hold points and repeats nothing
     * @param  int|null  $past  show time up to which cues were passed already, so that they do not count again until
     *     it turns or jumps; null
     *   where one at its very position counts
     */
    private function __construct(
        public bool $playing,
        public int $engine,
        public int $position,
        public float $rate = 1.0,
        public ?array $loop = null,
        public bool $chases = false,
        public ?int $past = null,
    ) {
    }

    public static function heldAt(int $engine, int $position): self
    {
        return new self(false, $engine, $position);
    }

    /** @param  array<string, mixed>  $data as toArray() gave it; what is missing has a default */
    public static function fromArray(array $data): self
    {
        $loop = $data['loop'] ?? null;

        return new self(
            (bool) ($data['playing'] ?? false),
            (int) ($data['engine'] ?? 0),
            (int) ($data['position'] ?? 0),
            (float) ($data['rate'] ?? 1.0),
            is_array($loop) && isset($loop[0], $loop[1]) ? [(int) $loop[0], (int) $loop[1]] : null,
            (bool) ($data['chases'] ?? false),
            isset($data['past']) ? (int) $data['past'] : null,
        );
    }

    /**
     * @return array{playing: bool, engine: int, position: int, rate: float, loop: array{int, int}|null, chases?: true, past?: int}
     */
    public function toArray(): array
    {
        return [
            'playing' => $this->playing,
            'engine' => $this->engine,
            'position' => $this->position,
            'rate' => $this->rate,
            'loop' => $this->loop,
        ] +
            ($this->chases ? ['chases' => true] : []) +
            ($this->past === null ? [] : ['past' => $this->past]);
    }

    /** The show time at an engine time: hold points and the end are waited at. */
    public function positionAt(int $engine, CueSheet $sheet): int
    {
        return $this->playing ? $this->map($sheet)->at($engine) : $this->position;
    }

    /** The same, said ahead: running from its engine time on, and at rest where it will be. */
    public function map(CueSheet $sheet): TransportMap
    {
        if (! $this->playing) {
            return TransportMap::of([[$this->engine, $this->position, 0.0]]);
        }
        $rest = $this->rest($sheet);
        $pieces = [[$this->engine, $this->position, $this->rate]];

        return TransportMap::of(
            $rest === null ? $pieces : [...$pieces, [$this->engine + $rest[0], $rest[1], 0.0]],
            $this->rate > 0 ? $this->repeats($sheet) : null,
        );
    }

    /**
     * The range that is repeated from here on: that of the loop, or all of a timeline that begins anew at its end.
     * None for who is past it.
     *
     * @return array{int, int}|null
     */
    private function repeats(CueSheet $sheet): ?array
    {
        $loop = $this->chases ? null : $this->loop ?? ($sheet->loops ? [0, $sheet->duration] : null);

        return $loop !== null && $this->position < $loop[1] ? $loop : null;
    }

    /**
     * After how much engine time, and where, it comes to rest by itself; null where it runs on.
     *
     * @return array{int, int}|null
     */
    private function rest(CueSheet $sheet): ?array
    {
        if ($this->rate < 0) {
            return [(int) ceil($this->position / -$this->rate), 0];
        }
        $way = $this->wayToRest($sheet);

        return $way === null ? null : [$this->flicksFor($way[0]), $way[1]];
    }

    /**
     * How much of the show is played, forwards, until it comes to rest by itself, and where; null where it runs on.
     *
     * @return array{int, int}|null
     */
    private function wayToRest(CueSheet $sheet): ?array
    {
        $repeats = $this->repeats($sheet);
        $at = $this->chases ? $sheet->duration : $sheet->restAfter($this->position);
        $way = $at - $this->position;
        if ($repeats !== null && $at >= $repeats[1]) {
            // Once around, hold points before where it began are met as well; one at the very beginning of the range
            // is, too.
            $at = $sheet->restAfter($repeats[0] - 1);
            if ($at >= $repeats[1]) {
                return null;
            }
            $way = $repeats[1] - $this->position + $at - $repeats[0];
        }

        return [max(0, $way), $at];
    }

    /** The least engine time after which so much of the show was played, as a map counts it. */
    private function flicksFor(int $way): int
    {
        if ($this->rate === 1.0 || $way <= 0) {
            return max(0, $way);
        }
        $flicks = (int) ceil($way / $this->rate);
        // What was rounded on the way there is put right.
        for (; $flicks > 0 && (int) floor(($flicks - 1) * $this->rate) >= $way; $flicks--);
        for (; (int) floor($flicks * $this->rate) < $way; $flicks++);

        return $flicks;
    }

    /**
     * Up to which show time cues were passed before an engine time, for who goes on from there; null where none was
     * since it turned or jumped.
     */
    private function passedBefore(int $engine, CueSheet $sheet): ?int
    {
        if (! $this->playing || $this->rate < 0 || $engine <= $this->engine) {
            return $this->past;
        }
        $rest = $this->restsAt($sheet);
        if ($rest !== null && $engine > $rest) {
            // At a hold point that was played into, its cues wait until it goes on.
            $at = $this->restsOn($sheet) ?? 0;

            return $sheet->holdsAt($at) && ! $this->chases ? $at - 1 : $at;
        }
        $position = $this->positionAt($engine - 1, $sheet);
        $repeats = $this->repeats($sheet);
        $turned =
            $repeats !== null &&
            $this->position + (int) floor(($engine - 1 - $this->engine) * $this->rate) >= $repeats[1];

        return $turned ? $position : max($position, $this->past ?? $position);
    }

    public function runsAt(int $engine, CueSheet $sheet): bool
    {
        $rest = $this->playing ? $this->restsAt($sheet) : null;

        return $this->playing && ($rest === null || $engine < $rest);
    }

    /** The engine time at which playback comes to rest by itself; null where it runs on. */
    public function restsAt(CueSheet $sheet): ?int
    {
        $rest = $this->rest($sheet);

        return $rest === null ? null : $this->engine + $rest[0];
    }

    /** Where it comes to rest by itself, in show time; null where it runs on. */
    public function restsOn(CueSheet $sheet): ?int
    {
        return $this->playing ? $this->rest($sheet)[1] ?? null : $this->position;
    }

    /** Plays on from where it is; from the end, it starts over. */
    public function play(int $engine, CueSheet $sheet): self
    {
        if ($this->runsAt($engine, $sheet)) {
            return $this;
        }
        $position = $this->positionAt($engine, $sheet);
        $start = match (true) {
            $this->rate < 0 => $position <= 0 ? $sheet->duration : $this->onGrid($position, $sheet),
            default => $position >= $sheet->duration ? 0 : $this->onGrid($position, $sheet),
        };

        return new self(
            true,
            $engine,
            $start,
            $this->rate,
            $this->loop,
            past: ! $this->playing && $start === $this->position ? $this->past : null,
        );
    }

    public function hold(int $engine, CueSheet $sheet): self
    {
        return new self(
            false,
            $engine,
            $this->onGrid($this->positionAt($engine, $sheet), $sheet),
            $this->rate,
            $this->loop,
            past: $this->passedBefore($engine, $sheet),
        );
    }

    /** Back to its beginning, where it stands. */
    public function stop(int $engine): self
    {
        return new self(false, $engine, 0, $this->rate, $this->loop);
    }

    /** Goes to a show time and does there what it did before: runs on, or stands. */
    public function jump(int $engine, int $position, CueSheet $sheet): self
    {
        return new self(
            $this->runsAt($engine, $sheet),
            $engine,
            $this->onNearest(max(0, min($sheet->duration, $position)), $sheet),
            $this->rate,
            $this->loop,
        );
    }

    /**
     * Runs at another rate from here on; standing, when it is played next.
     *
     * @throws InvalidValue
     */
    public function at(int $engine, float $rate, CueSheet $sheet): self
    {
        if (! is_finite($rate) || abs($rate) < self::MIN_RATE || abs($rate) > self::MAX_RATE) {
            throw InvalidValue::because('rate', 'A rate is between 0.1 and 4, forwards or backwards.');
        }
        $runs = $this->runsAt($engine, $sheet);

        return new self(
            $runs,
            $engine,
            $this->positionAt($engine, $sheet),
            $rate,
            $this->loop,
            past: $this->passedBefore($engine, $sheet),
        );
    }

    /**
     * Repeats a range, at least a frame of it; null for none.
     *
     * @param  array{int, int}|null  $loop
     *
     * @throws InvalidValue
     */
    public function looped(int $engine, ?array $loop, CueSheet $sheet): self
    {
        if ($loop !== null) {
            $loop = [
                $this->onNearest(max(0, $loop[0]), $sheet),
                $this->onNearest(min($sheet->duration, $loop[1]), $sheet),
            ];
            if ($loop[1] <= $loop[0]) {
                throw InvalidValue::because(
                    'loop',
                    'A loop ends at least a frame after it begins, within the timeline.',
                );
            }
        }

        return new self(
            $this->runsAt($engine, $sheet),
            $engine,
            $this->positionAt($engine, $sheet),
            $this->rate,
            $loop,
            past: $this->passedBefore($engine, $sheet),
        );
    }

    /**
     * Follows a clock from outside: where that is, at its rate. The same transport while it is within a frame of it.
     *
     * @param  int  $position  where the clock is at the engine time, as this timeline counts; before its beginning
     *     and past its end it waits there
     * @param  float  $rate  at most four times as fast either way; 0 where the clock stands
     */
    public function chase(int $engine, int $position, float $rate, CueSheet $sheet): self
    {
        $rate = $position < 0 && $rate >= 0 ? 0.0 : max(-self::MAX_RATE, min(self::MAX_RATE, $rate));
        $position = max(0, min($sheet->duration, $position));
        if ($rate === 0.0) {
            $position = $this->onNearest($position, $sheet);

            return ! $this->playing && $this->position === $position
                ? $this
                : new self(false, $engine, $position, 1.0, null, true);
        }
        // A rate that is only measured is never twice the same.
        $same = $this->playing && $this->chases && abs($this->rate - $rate) <= 0.002;

        $off = abs($this->positionAt($engine, $sheet) - $position);
        if ($same && $off <= $sheet->flicksPerFrame) {
            return $this;
        }
        // Put right by up to a second, it still passes each cue once; what is further is a jump of the clock.
        $past =
            $this->playing && $this->chases && $off <= Flicks::PER_SECOND ? $this->passedBefore($engine, $sheet) : null;

        return new self(true, $engine, $position, $rate, null, true, $past);
    }

    /** From a hold point, plays on; else goes to the next cue and plays. Without one, plays on. */
    public function go(int $engine, CueSheet $sheet): self
    {
        $next = $this->nextCue($engine, $sheet);
        $position = $this->positionAt($engine, $sheet);
        $forwards = new self($this->playing, $this->engine, $this->position, abs($this->rate), $this->loop);
        if ($this->waitsAt($engine, $sheet) || $next === null) {
            return $this->rate < 0
                ? new self(true, $engine, $this->onGrid($position, $sheet), $forwards->rate, $this->loop)
                : $this->play($engine, $sheet);
        }

        return new self(true, $engine, $this->onGrid($next['time'], $sheet), $forwards->rate, $this->loop);
    }

    /**
     * The cue that Go would start: when standing, one at this very time counts; at a hold point that was played into,
     * the cue of that point is the one that waits.
     *
     * @return array{id: string, time: int, number: string, name: string, holds: bool}|null
     */
    public function nextCue(int $engine, CueSheet $sheet): ?array
    {
        $position = $this->positionAt($engine, $sheet);

        return $sheet->firstFrom($this->runsAt($engine, $sheet) ? $position + 1 : $position);
    }

    public function waitsAt(int $engine, CueSheet $sheet): bool
    {
        return ! $this->runsAt($engine, $sheet) && $sheet->holdsAt($this->positionAt($engine, $sheet));
    }

    /**
     * The next cues that are played over from an engine time on, and when that is: each once, in their order, at the
     * same moment whenever it is asked. One at the very time where it begins counts, one at a hold point where
     * playback comes to rest waits until it goes on. Backwards, none is passed.
     *
     * @return array{non-empty-list<string>, int}|null ids of those that are passed at the same engine time, and that
     */
    public function nextPassed(int $engine, CueSheet $sheet): ?array
    {
        if (! $this->playing || $this->rate < 0 || $sheet->cues === []) {
            return null;
        }
        $rest = $this->wayToRest($sheet);
        $waits = $rest !== null && ! $this->chases && $sheet->holdsAt($rest[1]);
        $repeats = $this->repeats($sheet);
        $wanted = max(0, $engine - $this->engine);
        [$next, $found] = [null, []];
        foreach ($sheet->cues as $cue) {
            foreach ($this->waysTo($cue['time'], $wanted, $repeats) as $way) {
                $at = $this->flicksFor($way);
                if ($at < $wanted || ($rest !== null && ($way > $rest[0] || ($waits && $way === $rest[0])))) {
                    continue;
                }
                if ($next === null || $at < $next) {
                    [$next, $found] = [$at, []];
                }
                if ($at === $next) {
                    $found[] = [$way, $cue['id']];
                }
                break;
            }
        }
        if ($next === null || $found === []) {
            return null;
        }
        usort($found, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return [array_column($found, 1), $this->engine + $next];
    }

    /**
     * How much of the show is played until it is at a show time: the first time, and after the turns of a loop the
     * first that comes no earlier than an engine time after its own.
     *
     * @param  array{int, int}|null  $repeats
     * @return list<int> ascending
     */
    private function waysTo(int $time, int $wanted, ?array $repeats): array
    {
        $ways = [];
        if (
            ($this->past === null ? $time >= $this->position : $time > $this->past) &&
            ($repeats === null || $time < $repeats[1])
        ) {
            $ways[] = max(0, $time - $this->position);
        }
        if ($repeats !== null && $time >= $repeats[0] && $time < $repeats[1]) {
            $length = $repeats[1] - $repeats[0];
            $first = $repeats[1] - $this->position + $time - $repeats[0];
            $turns = max(0, intdiv((int) floor($wanted * $this->rate) - $first, $length) - 1);
            for ($i = 0; $i < 4; $i++) {
                $ways[] = $first + ($turns + $i) * $length;
            }
        }

        return $ways;
    }

    /** The nearest frame, so that seconds that came as a rounded number still mean the frame that they name. */
    private function onNearest(int $position, CueSheet $sheet): int
    {
        return $this->onGrid($position + intdiv($sheet->flicksPerFrame, 2), $sheet);
    }

    private function onGrid(int $position, CueSheet $sheet): int
    {
        return $position - ($position % $sheet->flicksPerFrame);
    }
}

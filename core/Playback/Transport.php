<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Timeline\TransportMap;
use Core\Units\InvalidValue;

/**
 * Where the show is: at engine time `engine` it was at show time `position`, and since then runs along at its rate or stands.
 * A state and its transitions, nothing else; all times are flicks and come in as arguments.
 */
final readonly class Transport
{
    public const MAX_RATE = 4.0;

    public const MIN_RATE = 0.1;

    /**
     * @param  float  $rate  how fast it runs when it does; negative backwards
     * @param  array{int, int}|null  $loop  the range that is repeated: from, to
     * @param  bool  $chases  whether it follows a clock from outside, which passes over hold points and repeats nothing
     */
    private function __construct(public bool $playing, public int $engine, public int $position, public float $rate = 1.0, public ?array $loop = null, public bool $chases = false)
    {
    }

    public static function heldAt(int $engine, int $position): self
    {
        return new self(false, $engine, $position);
    }

    /** @param  array<string, mixed>  $data as toArray() gave it; what is missing has a default */
    public static function fromArray(array $data): self
    {
        $loop = $data['loop'] ?? null;

        return new self((bool) ($data['playing'] ?? false), (int) ($data['engine'] ?? 0), (int) ($data['position'] ?? 0), (float) ($data['rate'] ?? 1.0), is_array($loop) && isset($loop[0], $loop[1]) ? [(int) $loop[0], (int) $loop[1]] : null, (bool) ($data['chases'] ?? false));
    }

    /** @return array{playing: bool, engine: int, position: int, rate: float, loop: array{int, int}|null, chases?: true} */
    public function toArray(): array
    {
        return ['playing' => $this->playing, 'engine' => $this->engine, 'position' => $this->position, 'rate' => $this->rate, 'loop' => $this->loop] + ($this->chases ? ['chases' => true] : []);
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

        return TransportMap::of($rest === null ? $pieces : [...$pieces, [$this->engine + $rest[0], $rest[1], 0.0]], $this->rate > 0 ? $this->repeats($sheet) : null);
    }

    /**
     * The range that is repeated from here on: that of the loop, or all of a timeline that begins anew at its end. None for who is past it.
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
        $repeats = $this->repeats($sheet);
        $at = $this->chases ? $sheet->duration : $sheet->restAfter($this->position);
        $way = $at - $this->position;
        if ($repeats !== null && $at >= $repeats[1]) {
            // Once around, hold points before where it began are met as well; one at the very beginning of the range is, too.
            $at = $sheet->restAfter($repeats[0] - 1);
            if ($at >= $repeats[1]) {
                return null;
            }
            $way = $repeats[1] - $this->position + $at - $repeats[0];
        }

        return [$this->rate === 1.0 ? max(0, $way) : (int) ceil(max(0, $way) / $this->rate), $at];
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
        return $this->playing ? ($this->rest($sheet)[1] ?? null) : $this->position;
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

        return new self(true, $engine, $start, $this->rate, $this->loop);
    }

    public function hold(int $engine, CueSheet $sheet): self
    {
        return new self(false, $engine, $this->onGrid($this->positionAt($engine, $sheet), $sheet), $this->rate, $this->loop);
    }

    /** Back to its beginning, where it stands. */
    public function stop(int $engine): self
    {
        return new self(false, $engine, 0, $this->rate, $this->loop);
    }

    /** Goes to a show time and does there what it did before: runs on, or stands. */
    public function jump(int $engine, int $position, CueSheet $sheet): self
    {
        return new self($this->runsAt($engine, $sheet), $engine, $this->onNearest(max(0, min($sheet->duration, $position)), $sheet), $this->rate, $this->loop);
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

        return new self($runs, $engine, $this->positionAt($engine, $sheet), $rate, $this->loop);
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
            $loop = [$this->onNearest(max(0, $loop[0]), $sheet), $this->onNearest(min($sheet->duration, $loop[1]), $sheet)];
            if ($loop[1] <= $loop[0]) {
                throw InvalidValue::because('loop', 'A loop ends at least a frame after it begins, within the timeline.');
            }
        }

        return new self($this->runsAt($engine, $sheet), $engine, $this->positionAt($engine, $sheet), $this->rate, $loop);
    }

    /**
     * Follows a clock from outside: where that is, at its rate. The same transport while it is within a frame of it.
     *
     * @param  int  $position  where the clock is at the engine time, as this timeline counts; before its beginning and past its end it waits there
     * @param  float  $rate  at most four times as fast either way; 0 where the clock stands
     */
    public function chase(int $engine, int $position, float $rate, CueSheet $sheet): self
    {
        $rate = $position < 0 && $rate >= 0 ? 0.0 : max(-self::MAX_RATE, min(self::MAX_RATE, $rate));
        $position = max(0, min($sheet->duration, $position));
        if ($rate === 0.0) {
            $position = $this->onNearest($position, $sheet);

            return ! $this->playing && $this->position === $position ? $this : new self(false, $engine, $position, 1.0, null, true);
        }
        // A rate that is only measured is never twice the same.
        $same = $this->playing && $this->chases && abs($this->rate - $rate) <= 0.002;

        return $same && abs($this->positionAt($engine, $sheet) - $position) <= $sheet->flicksPerFrame ? $this : new self(true, $engine, $position, $rate, null, true);
    }

    /** From a hold point, plays on; else goes to the next cue and plays. Without one, plays on. */
    public function go(int $engine, CueSheet $sheet): self
    {
        $next = $this->nextCue($engine, $sheet);
        $position = $this->positionAt($engine, $sheet);
        $forwards = new self($this->playing, $this->engine, $this->position, abs($this->rate), $this->loop);
        if ($this->waitsAt($engine, $sheet) || $next === null) {
            return $this->rate < 0 ? new self(true, $engine, $this->onGrid($position, $sheet), $forwards->rate, $this->loop) : $this->play($engine, $sheet);
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
     * The next cue that is played over from an engine time on, and when that is; one at the very time where it begins counts, one at
     * a hold point where playback comes to rest waits until it goes on.
     *
     * @return array{string, int}|null id and engine time
     */
    public function nextPassed(int $engine, CueSheet $sheet): ?array
    {
        if (! $this->runsAt($engine, $sheet) || $this->rate < 0 || $sheet->cues === []) {
            return null;
        }
        $map = $this->map($sheet);
        $from = $map->at(max($engine, $this->engine));
        $rest = $this->restsOn($sheet);
        $repeats = $this->repeats($sheet);
        $waits = $rest !== null && $sheet->holdsAt($rest);
        foreach ($sheet->cues as $cue) {
            if ($cue['time'] >= $from && ($repeats === null || $cue['time'] < $repeats[1])) {
                return $rest !== null && $from <= $rest && ($cue['time'] > $rest || $waits && $cue['time'] === $rest) ? null : [$cue['id'], $this->after(max($engine, $this->engine), $cue['time'] - $from)];
            }
        }
        if ($repeats !== null) {
            foreach ($sheet->cues as $cue) {
                if ($cue['time'] >= $repeats[0] && $cue['time'] < $repeats[1]) {
                    return $rest !== null && ($cue['time'] > $rest || $waits && $cue['time'] === $rest) ? null : [$cue['id'], $this->after(max($engine, $this->engine), $repeats[1] - $from + $cue['time'] - $repeats[0])];
                }
            }
        }

        return null;
    }

    private function after(int $engine, int $show): int
    {
        return $engine + ($this->rate === 1.0 ? $show : (int) ceil($show / $this->rate));
    }

    /** The nearest frame, so that seconds that came as a rounded number still mean the frame that they name. */
    private function onNearest(int $position, CueSheet $sheet): int
    {
        return $this->onGrid($position + intdiv($sheet->flicksPerFrame, 2), $sheet);
    }

    private function onGrid(int $position, CueSheet $sheet): int
    {
        return $position - $position % $sheet->flicksPerFrame;
    }
}

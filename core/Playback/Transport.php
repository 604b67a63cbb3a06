<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Timeline\TransportMap;

/**
 * Where the show is: at engine time `engine` it was at show time `position`, and since then runs along or stands.
 * A state and its transitions, nothing else; all times are flicks and come in as arguments.
 */
final readonly class Transport
{
    private function __construct(public bool $playing, public int $engine, public int $position)
    {
    }

    public static function heldAt(int $engine, int $position): self
    {
        return new self(false, $engine, $position);
    }

    /** @param  array<string, mixed>  $data as toArray() gave it; what is missing has a default */
    public static function fromArray(array $data): self
    {
        return new self((bool) ($data['playing'] ?? false), (int) ($data['engine'] ?? 0), (int) ($data['position'] ?? 0));
    }

    /** @return array{playing: bool, engine: int, position: int} */
    public function toArray(): array
    {
        return ['playing' => $this->playing, 'engine' => $this->engine, 'position' => $this->position];
    }

    /** The show time at an engine time: hold points and the end are waited at. */
    public function positionAt(int $engine, CueSheet $sheet): int
    {
        if (! $this->playing) {
            return $this->position;
        }

        return min($this->position + max(0, $engine - $this->engine), $sheet->restAfter($this->position));
    }

    /** The same, said ahead: running from its engine time on, and at rest where it will be. */
    public function map(CueSheet $sheet): TransportMap
    {
        return TransportMap::of($this->playing
            ? [[$this->engine, $this->position, 1.0], [$this->restsAt($sheet), $sheet->restAfter($this->position), 0.0]]
            : [[$this->engine, $this->position, 0.0]]);
    }

    public function runsAt(int $engine, CueSheet $sheet): bool
    {
        return $this->playing && $engine < $this->restsAt($sheet);
    }

    /** The engine time at which playback comes to rest by itself. */
    public function restsAt(CueSheet $sheet): int
    {
        return $this->engine + max(0, $sheet->restAfter($this->position) - $this->position);
    }

    /** Plays on from where it is; from the end, it starts over. */
    public function play(int $engine, CueSheet $sheet): self
    {
        if ($this->runsAt($engine, $sheet)) {
            return $this;
        }
        $position = $this->positionAt($engine, $sheet);

        return new self(true, $engine, $position >= $sheet->duration ? 0 : $this->onGrid($position, $sheet));
    }

    public function hold(int $engine, CueSheet $sheet): self
    {
        return new self(false, $engine, $this->onGrid($this->positionAt($engine, $sheet), $sheet));
    }

    /** Goes to a show time and does there what it did before: runs on, or stands. */
    public function jump(int $engine, int $position, CueSheet $sheet): self
    {
        return new self($this->runsAt($engine, $sheet), $engine, $this->onNearest(max(0, min($sheet->duration, $position)), $sheet));
    }

    /** From a hold point, plays on; else goes to the next cue and plays. Without one, plays on. */
    public function go(int $engine, CueSheet $sheet): self
    {
        $next = $this->nextCue($engine, $sheet);
        $position = $this->positionAt($engine, $sheet);
        if ($this->waitsAt($engine, $sheet) || $next === null) {
            return $this->play($engine, $sheet);
        }

        return new self(true, $engine, $this->onGrid($next['time'], $sheet));
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

<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Show\Timeline;
use Core\Units\Flicks;
use Core\Units\FrameRate;

/** What the transport has to know of a timeline: its grid, its end, and its cue points in order of time. */
final readonly class CueSheet
{
    /** @param  list<array{id: string, time: int, number: string, name: string, holds: bool}>  $cues */
    private function __construct(public int $flicksPerFrame, public int $duration, public array $cues)
    {
    }

    /**
     * Times are brought onto the frame grid, downward, so that playback can rest exactly on them.
     *
     * @param  list<array{id: string, time: int, number: string, name: string, holds: bool}>  $cues
     */
    public static function of(int $flicksPerFrame, int $duration, array $cues = []): self
    {
        $duration = max($flicksPerFrame, $duration - $duration % $flicksPerFrame);
        foreach ($cues as $i => $cue) {
            $cues[$i]['time'] -= $cue['time'] % $flicksPerFrame;
        }
        usort($cues, static fn (array $a, array $b): int => $a['time'] <=> $b['time']);

        return new self($flicksPerFrame, $duration, $cues);
    }

    public static function forTimeline(Timeline $timeline, FrameRate $rate): self
    {
        $cues = [];
        foreach ($timeline->cues as $id => $cue) {
            $cues[] = ['id' => (string) $id, 'time' => $cue->time, 'number' => $cue->number, 'name' => $cue->name, 'holds' => $cue->holds];
        }

        return self::of($rate->flicksPerFrame, $timeline->duration, $cues);
    }

    /** The first cue whose name or number is this one. */
    public function named(string $name): ?int
    {
        foreach ($this->cues as $cue) {
            if ($cue['name'] === $name || $cue['number'] === $name) {
                return $cue['time'];
            }
        }

        return null;
    }

    /** Where playback from here comes to rest: the next hold point, or the end. */
    public function restAfter(int $time): int
    {
        foreach ($this->cues as $cue) {
            if ($cue['holds'] && $cue['time'] > $time && $cue['time'] < $this->duration) {
                return $cue['time'];
            }
        }

        return $this->duration;
    }

    public function holdsAt(int $time): bool
    {
        foreach ($this->cues as $cue) {
            if ($cue['holds'] && $cue['time'] === $time) {
                return true;
            }
        }

        return false;
    }

    /** @return array{id: string, time: int, number: string, name: string, holds: bool}|null */
    public function firstFrom(int $time): ?array
    {
        foreach ($this->cues as $cue) {
            if ($cue['time'] >= $time) {
                return $cue;
            }
        }

        return null;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return get_object_vars($this);
    }

    /** @param  array<string, mixed>  $data as toArray() gave it; what is missing has a default */
    public static function fromArray(array $data): self
    {
        $cues = array_values(array_filter((array) ($data['cues'] ?? []), static fn (mixed $cue): bool => is_array($cue) && isset($cue['id'], $cue['time'], $cue['number'], $cue['name'], $cue['holds'])));

        return self::of(max(1, (int) ($data['flicksPerFrame'] ?? Flicks::PER_SECOND)), (int) ($data['duration'] ?? Flicks::PER_SECOND), $cues);
    }
}

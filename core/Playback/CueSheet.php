<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Show\Timeline;
use Core\Timeline\AtEnd;
use Core\Timeline\Chase;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;

/**
 * What the transport has to know of a timeline: its grid, its end, its cue points in order of time, and its clips
 * with a clock of their own.
 */
final readonly class CueSheet
{
    /**
     * @param  list<array{id: string, time: int, number: string, name: string, holds: bool}>  $cues
     * @param  list<array{int, int}>  $own  show times from which and up to which clips with a clock of their own are up
     * @param  string  $clock  the clock from outside that it follows; empty for none
     * @param  int  $clockStart  what that says at the beginning
     * @param  int  $bar  length of a bar, flicks; 0 without a tempo
     * @param  int  $freewheel  how long it runs on when its clock falls silent, flicks
     * @param  Chase  $chase  how it follows it
     */
    private function __construct(
        public int $flicksPerFrame,
        public int $duration,
        public array $cues,
        public bool $loops = false,
        public ?string $then = null,
        public array $own = [],
        public string $clock = '',
        public int $clockStart = 0,
        public int $bar = 0,
        public int $freewheel = Timeline::FREEWHEEL,
        public Chase $chase = new Chase(),
    ) {
    }

    /**
     * Times are brought onto the frame grid, downward, so that playback can rest exactly on them.
     *
     * @param  list<array{id: string, time: int, number: string, name: string, holds: bool}>  $cues
     * @param  bool  $loops  whether it begins anew at its end
     * @param  string|null  $then  the timeline that plays once this one is at its end
     * @param  list<array{int, int}>  $own  show times from which and up to which clips with a clock of their own are up
     * @param  string  $clock  the clock from outside that it follows; empty for none
     * @param  int  $clockStart  what that says at the beginning, flicks
     * @param  int  $bar  length of a bar, flicks; 0 without a tempo
     * @param  int  $freewheel  how long it runs on when its clock falls silent, flicks
     * @param  Chase  $chase  how it follows it
     */
    public static function of(
        int $flicksPerFrame,
        int $duration,
        array $cues = [],
        bool $loops = false,
        ?string $then = null,
        array $own = [],
        string $clock = '',
        int $clockStart = 0,
        int $bar = 0,
        int $freewheel = Timeline::FREEWHEEL,
        Chase $chase = new Chase(),
    ): self {
        $duration = max($flicksPerFrame, $duration - ($duration % $flicksPerFrame));
        foreach ($cues as $i => $cue) {
            $cues[$i]['time'] -= $cue['time'] % $flicksPerFrame;
        }
        usort($cues, static fn (array $a, array $b): int => $a['time'] <=> $b['time']);

        return new self(
            $flicksPerFrame,
            $duration,
            $cues,
            $loops,
            $then,
            $own,
            $clock,
            $clockStart,
            $bar,
            $freewheel,
            $chase,
        );
    }

    public static function forTimeline(Timeline $timeline, FrameRate $rate): self
    {
        $cues = [];
        foreach ($timeline->cues as $id => $cue) {
            $cues[] = [
                'id' => (string) $id,
                'time' => $cue->time,
                'number' => $cue->number,
                'name' => $cue->name,
                'holds' => $cue->holds,
            ];
        }

        return self::of(
            $rate->flicksPerFrame,
            $timeline->duration,
            $cues,
            $timeline->end === AtEnd::Loop,
            $timeline->end === AtEnd::Next ? $timeline->then : null,
            self::ownClocks($timeline),
            $timeline->clock,
            $timeline->clockStart,
            $timeline->grid?->bar() ?? 0,
            $timeline->freewheel,
            $timeline->chase,
        );
    }

    /** @return list<array{int, int}> each once */
    private static function ownClocks(Timeline $timeline): array
    {
        $own = [];
        foreach ($timeline->layers as $layer) {
            foreach ($layer->clips as $use) {
                if ($use->clip->ownClock) {
                    $own["{$use->clip->start} {$use->clip->end()}"] = [$use->clip->start, $use->clip->end()];
                }
            }
        }

        return array_values($own);
    }

    /**
     * Since when what has a clock of its own is up, for the map that takes over at an engine time.
     *
     * @return list<array{int, int, int}> as TransportMap::clocked() takes them
     */
    public function clocks(TransportMap $map, int $engine): array
    {
        $show = $map->at($engine);
        $up = array_filter($this->own, static fn (array $range): bool => $show >= $range[0] && $show < $range[1]);

        return array_values(
            array_map(static fn (array $range): array => [...$range, $map->since($range[0], $range[1], $engine)], $up),
        );
    }

    /**
     * The range that is repeated from a time on where nothing else is said: a bar, or four seconds without a tempo, but not
     * beyond the end; from the frame that is seen.
     *
     * @return array{int, int} show times
     */
    public function loopFrom(int $time): array
    {
        $from = max(0, min($time - ($time % $this->flicksPerFrame), $this->duration - $this->flicksPerFrame));
        $length = $this->bar > 0 ? $this->bar : 4 * Flicks::PER_SECOND;

        return [$from, min($this->duration, $from + max($this->flicksPerFrame, $length))];
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
        return ['chase' => $this->chase->toArray()] + get_object_vars($this);
    }

    /** @param  array<string, mixed>  $data as toArray() gave it; what is missing has a default */
    public static function fromArray(array $data): self
    {
        $cues = array_values(
            array_filter(
                (array) ($data['cues'] ?? []),
                static fn (mixed $cue): bool => is_array($cue) &&
                    isset($cue['id'], $cue['time'], $cue['number'], $cue['name'], $cue['holds']),
            ),
        );

        return self::of(
            max(1, (int) ($data['flicksPerFrame'] ?? Flicks::PER_SECOND)),
            (int) ($data['duration'] ?? Flicks::PER_SECOND),
            $cues,
            (bool) ($data['loops'] ?? false),
            is_string($data['then'] ?? null) ? $data['then'] : null,
            self::ranges($data['own'] ?? []),
            (string) ($data['clock'] ?? ''),
            (int) ($data['clockStart'] ?? 0),
            max(0, (int) ($data['bar'] ?? 0)),
            max(0, (int) ($data['freewheel'] ?? Timeline::FREEWHEEL)),
            self::chase((array) ($data['chase'] ?? [])),
        );
    }

    /** @param  array<mixed>  $data  as `Chase::toArray()` gave it; what means nothing is what it is by itself */
    private static function chase(array $data): Chase
    {
        try {
            return Chase::fromRow($data);
        } catch (InvalidValue) {
            return new Chase();
        }
    }

    /** @return list<array{int, int}> */
    private static function ranges(mixed $list): array
    {
        return array_values(
            array_map(
                static fn (array $r): array => [(int) $r[0], (int) $r[1]],
                array_filter((array) $list, static fn (mixed $r): bool => is_array($r) && isset($r[0], $r[1])),
            ),
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Cues;

/**
 * Which cues the time of day starts as a clock goes on, however it goes: each occurrence of a cue is fired once.
 * Times are local seconds: seconds since 1970 of the local date and time, as if that were UTC. In the hour that is
 * left out in spring, what falls into it is due at its end; in the hour that comes twice in autumn, at the first.
 */
final readonly class DayClock
{
    /** Seconds in which an occurrence is remembered, before and after the time that was read last: two days. */
    private const REMEMBERED = 172_800;

    /** Seconds that are looked back for what a clock has gone past: a day. */
    public const LOOKS_BACK = 86_400;

    /**
     * @param  int|null  $read  local second that was read last; null before the first
     * @param  array<string, list<int>>  $fired  local seconds of occurrences that were fired, by cue
     */
    private function __construct(public ?int $read, public array $fired)
    {
    }

    public static function unread(): self
    {
        return new self(null, []);
    }

    /** @param  array<mixed>  $fired  as the journal has it */
    public static function restored(array $fired): self
    {
        return new self(
            null,
            array_map(static fn (mixed $list): array => array_values(array_filter((array) $list, is_int(...))), $fired),
        );
    }

    /** The same at another reading, with nothing fired between. */
    public function at(int $local): self
    {
        return new self($local, $this->fired);
    }

    /**
     * Occurrences after a local second up to another, in their order; those of one second in the order of the cues.
     *
     * @param  array<string, Cue>  $cues  by id
     * @return list<array{cue: string, at: int}>
     */
    public static function occurrences(array $cues, int $after, int $upTo): array
    {
        $found = [];
        $after = max($after, $upTo - self::LOOKS_BACK);
        foreach ($cues as $id => $cue) {
            for ($day = intdiv($after, 86_400); $cue->clock !== null && $day <= intdiv($upTo, 86_400); $day++) {
                $at = 86_400 * $day + $cue->clock->second;
                if ($at > $after && $at <= $upTo && $cue->clock->isOn($day)) {
                    $found[] = ['cue' => (string) $id, 'at' => $at];
                }
            }
        }
        usort($found, static fn (array $a, array $b): int => $a['at'] <=> $b['at']);

        return $found;
    }

    /**
     * The clock has come to a local second, later or earlier than the last: what is due by that, without what was
     * fired.
     *
     * @param  array<string, Cue>  $cues  by id
     * @return array{self, list<string>} the clock after it, and the cues
     */
    public function advance(int $local, array $cues): array
    {
        $due = $this->waiting($cues, $this->read ?? $local - 1, $local);

        return [$this->at($local)->with($due), array_column($due, 'cue')];
    }

    /**
     * What a step passes over and was not fired yet.
     *
     * @param  array<string, Cue>  $cues  by id
     * @return list<array{cue: string, at: int}>
     */
    public function waiting(array $cues, int $after, int $upTo): array
    {
        return array_values(
            array_filter(
                self::occurrences($cues, $after, $upTo),
                fn (array $one): bool => ! in_array($one['at'], $this->fired[$one['cue']] ?? [], true),
            ),
        );
    }

    /**
     * The same with occurrences that count as fired; those of other days are forgotten.
     *
     * @param  list<array{cue: string, at: int}>  $occurrences
     */
    public function with(array $occurrences): self
    {
        $fired = $this->fired;
        foreach ($occurrences as ['cue' => $cue, 'at' => $at]) {
            $fired[$cue][] = $at;
        }
        $near = $this->read ?? ($occurrences[0]['at'] ?? 0);

        return new self(
            $this->read,
            array_filter(
                array_map(
                    static fn (array $list): array => array_values(
                        array_filter($list, static fn (int $at): bool => abs($at - $near) <= self::REMEMBERED),
                    ),
                    $fired,
                ),
            ),
        );
    }
}

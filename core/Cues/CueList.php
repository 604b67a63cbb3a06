<?php

declare(strict_types=1);

namespace Core\Cues;

/**
 * The cues that Go steps through: those of the list in order of their numbers, and among them what else stands on the
 * driven timeline, each at its place in time. Which one comes next, what Go does, and what starts by itself.
 */
final readonly class CueList
{
    /** @param  list<Cue>  $cues */
    private function __construct(public array $cues)
    {
    }

    /**
     * @param  iterable<Cue>  $cues  those that are not listed are passed over, but for those on the driven timeline
     * @param  string|null  $driven  id of the timeline that the transport drives
     */
    public static function of(iterable $cues, ?string $driven = null): self
    {
        [$list, $points] = [[], []];
        foreach ($cues as $cue) {
            if ($cue->listed) {
                $list[] = $cue;
            } elseif ($driven !== null && $cue->timeline === $driven && $cue->time !== null) {
                $points[] = $cue;
            }
        }
        usort($list, static fn (Cue $a, Cue $b): int => CueNumber::compare($a->number, $b->number) ?: $a->id <=> $b->id);
        usort($points, static fn (Cue $a, Cue $b): int => $a->time <=> $b->time ?: $a->id <=> $b->id);
        foreach ($points as $point) {
            array_splice($list, self::placeOf($point, $list), 0, [$point]);
        }

        return new self($list);
    }

    /**
     * Behind the last one of its timeline that is not later; where all are later, before the first of them; where
     * there is none, at the end.
     *
     * @param  list<Cue>  $list
     */
    private static function placeOf(Cue $point, array $list): int
    {
        [$behind, $latest, $first] = [null, -1, null];
        foreach ($list as $i => $cue) {
            if ($cue->timeline !== $point->timeline || $cue->time === null) {
                continue;
            }
            $first ??= $i;
            if ($cue->time <= $point->time && $cue->time >= $latest) {
                [$behind, $latest] = [$i + 1, $cue->time];
            }
        }

        return $behind ?? ($first ?? count($list));
    }

    public function has(string $id): bool
    {
        return $this->at($id) !== null;
    }

    /**
     * What Go does. A hold point at which the driven timeline waits comes first, unless somebody pointed to another
     * cue: playback goes on from there. Else the next cue of the list is fired, which takes its timeline to where it
     * stands. Behind the last one there is nothing to fire.
     *
     * @param  string|null  $last  the cue at which the list stands
     * @param  bool  $pointed  whether somebody chose what is next
     * @param  string|null  $waiting  the cue at whose hold point the driven timeline waits
     * @return array{cue: string|null, resumes: bool} the cue that is next, and whether its timeline only plays on
     */
    public function go(?string $last, bool $pointed = false, ?string $waiting = null): array
    {
        return $waiting !== null && ! $pointed
            ? ['cue' => $waiting, 'resumes' => true]
            : ['cue' => $this->next($last)?->id, 'resumes' => false];
    }

    /**
     * Where the list stands once the driven timeline was taken to a time by hand or by its clock: the first of its cues from there on
     * is next; behind the last of them, what comes after that.
     *
     * @return array{string|null}|null the cue at which it stands then, null for before the first; null where no cue
     *     stands on that timeline
     */
    public function soughtTo(string $timeline, int $time): ?array
    {
        $next = $latest = null;
        foreach ($this->cues as $i => $cue) {
            if ($cue->timeline !== $timeline || $cue->time === null) {
                continue;
            }
            if ($cue->time >= $time && ($next === null || $cue->time < $this->cues[$next]->time)) {
                $next = $i;
            }
            if ($latest === null || $cue->time >= $this->cues[$latest]->time) {
                $latest = $i;
            }
        }
        if ($latest === null) {
            return null;
        }

        return [$next === null ? $this->cues[$latest]->id : $this->cues[$next - 1]->id ?? null];
    }

    /** The cue that Go starts after one: the next that waits for it; the first after none. Null at the end. */
    public function next(?string $after): ?Cue
    {
        $at = $this->at($after);
        if ($after !== null && $at === null) {
            return null;
        }
        foreach (array_slice($this->cues, $at === null ? 0 : $at + 1) as $cue) {
            if ($cue->trigger === Trigger::Go) {
                return $cue;
            }
        }

        return null;
    }

    /** The cue before one that Go started; the first when it is that. */
    public function previous(?string $before): ?Cue
    {
        $at = $this->at($before);
        for ($i = ($at ?? count($this->cues)) - 1; $i >= 0; $i--) {
            if ($this->cues[$i]->trigger === Trigger::Go) {
                return $this->cues[$i];
            }
        }

        return $at === null ? null : $this->cues[0];
    }

    /**
     * The cue that one starts by itself, and how long after it was fired.
     *
     * @return array{Cue, int}|null
     */
    public function following(string $cue): ?array
    {
        $at = $this->at($cue);
        $then = $at === null ? null : $this->cues[$at + 1] ?? null;

        return match ($then?->trigger) {
            Trigger::Follow => [$then, $this->cues[$at ?? 0]->lasts()],
            Trigger::Wait => [$then, $then->wait],
            default => null,
        };
    }

    /**
     * New numbers in the same order, from a first one by steps.
     *
     * @return array<string, string> by id, those that change
     */
    public function renumbered(float $first = 1, float $step = 1): array
    {
        $numbers = [];
        foreach ($this->cues as $i => $cue) {
            $number = CueNumber::written($first + $i * $step);
            if ($number !== $cue->number) {
                $numbers[$cue->id] = $number;
            }
        }

        return $numbers;
    }

    private function at(?string $id): ?int
    {
        foreach ($this->cues as $i => $cue) {
            if ($cue->id === $id) {
                return $i;
            }
        }

        return null;
    }
}

<?php

declare(strict_types=1);

namespace Core\Cues;

/** The cues of the list in order of their numbers: which one comes next, and what starts by itself. */
final readonly class CueList
{
    /** @param  list<Cue>  $cues */
    private function __construct(public array $cues)
    {
    }

    /** @param  iterable<Cue>  $cues  those that are not listed are passed over */
    public static function of(iterable $cues): self
    {
        $list = [];
        foreach ($cues as $cue) {
            $cue->listed && ($list[] = $cue);
        }
        usort($list, static fn (Cue $a, Cue $b): int => CueNumber::compare($a->number, $b->number) ?: $a->id <=> $b->id);

        return new self($list);
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

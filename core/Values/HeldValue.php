<?php

declare(strict_types=1);

namespace Core\Values;

/**
 * A value set from outside its timeline. What it says and how strongly are tracks over engine time, so that a change
 * takes effect at a stated moment and letting go is a weight that goes to 0. The sequence in which it came decides within a stratum.
 */
final readonly class HeldValue
{
    /** @param  int  $sequence  grows with each that comes */
    private function __construct(public Stratum $stratum, public int $sequence, public string $source, public Track $value, public Track $weight)
    {
    }

    public static function of(Stratum $stratum, int $sequence, string $source, Track $value, Track $weight): self
    {
        return new self($stratum, $sequence, $source, $value, $weight);
    }

    /** Says a value from an engine time on. */
    public static function from(Stratum $stratum, int $sequence, string $source, int $at, float $value): self
    {
        return new self($stratum, $sequence, $source, Track::constant($value), Track::step(0.0, $at, 1.0));
    }

    /** The same source says another value from an engine time on; a fade takes some time, and begins where the value is. */
    public function changed(int $sequence, int $at, float $value, int $fade = 0): self
    {
        return new self($this->stratum, $sequence, $this->source, Track::ramp($this->value->at($at), $at, $at + $fade, $value), Track::ramp($this->weight->at($at), $at, $at + $fade, 1.0));
    }

    /** Lets go from an engine time on, so that what is below comes through. */
    public function letGo(int $sequence, int $at, int $fade = 0): self
    {
        return new self($this->stratum, $sequence, $this->source, Track::constant($this->value->at($at)), Track::ramp($this->weight->at($at), $at, $at + $fade, 0.0));
    }

    /** Whether it has no say any more from an engine time on. */
    public function isGone(int $engine): bool
    {
        $last = count($this->weight->times) - 1;

        return $engine >= $this->weight->times[$last] && $this->weight->at($engine) === 0.0;
    }

    /**
     * Mixes held values over what is below them: stratum by stratum, within a stratum in the sequence in which they came.
     *
     * @param  iterable<self>  $held
     */
    public static function over(float $below, iterable $held, int $engine): float
    {
        $ordered = is_array($held) ? $held : iterator_to_array($held, false);
        usort($ordered, self::inOrder(...));
        foreach ($ordered as $one) {
            $weight = $one->weight->at($engine);
            $below += ($one->value->at($engine) - $below) * $weight;
        }

        return $below;
    }

    /**
     * What holds a value that changes in steps: the uppermost with a weight of at least a half, or what is below them.
     *
     * @param  list<self>  $held
     */
    public static function uppermost(float $below, array $held, int $engine): float
    {
        usort($held, self::inOrder(...));
        foreach (array_reverse($held) as $one) {
            if ($one->weight->at($engine) >= 0.5) {
                return $one->value->at($engine);
            }
        }

        return $below;
    }

    /** From below upwards. */
    public static function inOrder(self $a, self $b): int
    {
        return [$a->stratum->value, $a->sequence] <=> [$b->stratum->value, $b->sequence];
    }

    /** @return array{s: int, n: int, by: string, v: list<int|float>, w: list<int|float>} */
    public function toArray(): array
    {
        return ['s' => $this->stratum->value, 'n' => $this->sequence, 'by' => $this->source, 'v' => $this->value->toList(), 'w' => $this->weight->toList()];
    }

    /** @param  array<mixed>  $data  as toArray() gave it; what is missing has a default */
    public static function fromArray(array $data): self
    {
        return new self(
            Stratum::tryFrom((int) ($data['s'] ?? 5)) ?? Stratum::Loose,
            (int) ($data['n'] ?? 0),
            (string) ($data['by'] ?? ''),
            Track::fromList((array) ($data['v'] ?? [])),
            Track::fromList((array) ($data['w'] ?? [0, 1, 0, 0, 0])),
        );
    }
}

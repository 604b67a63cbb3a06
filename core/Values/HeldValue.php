<?php

declare(strict_types=1);

namespace Core\Values;

/**
 * A value set from outside its timeline. What it says and how strongly are tracks over engine time, so that a change
 * takes effect at a stated moment and letting go is a weight that goes to 0. The sequence in which it came decides
 * within a stratum.
 */
final readonly class HeldValue
{
    /**
     * @param  int  $sequence  grows with each that comes
     * @param  array{int, int}|null  $loop  engine time from which the value repeats, and after how long
     * @param  int  $since  engine time at which it came; what is a media runs from there on
     * @param  MediaRun|null  $run  how it runs; null for whole, again and again
     * @param  string|null  $yieldsTo  the source that it gives way to: it goes once it is really covered; null where
     *     it gives way to none
     */
    private function __construct(
        public Stratum $stratum,
        public int $sequence,
        public string $source,
        public Track $value,
        public Track $weight,
        public ?array $loop = null,
        public int $since = 0,
        public ?MediaRun $run = null,
        public ?string $yieldsTo = null,
    ) {
    }

    /** @param  array{int, int}|null  $loop */
    public static function of(
        Stratum $stratum,
        int $sequence,
        string $source,
        Track $value,
        Track $weight,
        ?array $loop = null,
        int $since = 0,
    ): self {
        return new self($stratum, $sequence, $source, $value, $weight, $loop, $since);
    }

    /** What it says at an engine time. */
    public function valueAt(int $engine): float
    {
        return $this->value->at(
            $this->loop !== null && $engine > $this->loop[0]
                ? $this->loop[0] + (($engine - $this->loop[0]) % $this->loop[1])
                : $engine,
        );
    }

    /** The same source, saying something else and weighing something else from now on. */
    public function turned(int $sequence, Track $value, Track $weight, int $since): self
    {
        return new self(
            $this->stratum,
            $sequence,
            $this->source,
            $value,
            $weight,
            $this->loop,
            $since,
            $since === $this->since ? $this->run : null,
        );
    }

    /** The same that gives way to another source, or to none any more. */
    public function yielding(?string $to): self
    {
        return new self(
            $this->stratum,
            $this->sequence,
            $this->source,
            $this->value,
            $this->weight,
            $this->loop,
            $this->since,
            $this->run,
            $to,
        );
    }

    /** The same, held by another source or by several: their names with spaces between. */
    public function sourcedBy(string $source): self
    {
        return new self(
            $this->stratum,
            $this->sequence,
            $source,
            $this->value,
            $this->weight,
            $this->loop,
            $this->since,
            $this->run,
            $this->yieldsTo,
        );
    }

    /** The same whose weight goes to nothing from an engine time on; until then it goes on as it does. */
    public function fading(int $from, int $fade): self
    {
        $weight = $this->weight->then($from, Track::ramp($this->weight->at($from), $from, $from + $fade, 0.0));

        return new self(
            $this->stratum,
            $this->sequence,
            $this->source,
            $this->value,
            $weight,
            $this->loop,
            $this->since,
            $this->run,
        );
    }

    /** Whether it covers all that is below it from an engine time on. */
    public function covers(int $engine): bool
    {
        return $this->weight->standsFrom($engine) && $this->weight->at($engine) >= 1.0;
    }

    /** Says a value from an engine time on. */
    public static function from(Stratum $stratum, int $sequence, string $source, int $at, float $value): self
    {
        return new self($stratum, $sequence, $source, Track::constant($value), Track::step(0.0, $at, 1.0), null, $at);
    }

    /** A media, as it runs. */
    public function running(MediaRun $run): self
    {
        return new self(
            $this->stratum,
            $this->sequence,
            $this->source,
            $this->value,
            $this->weight,
            $this->loop,
            $this->since,
            $run,
        );
    }

    /** The same media runs otherwise from an engine time on. */
    public function rerun(MediaRun $next, int $at): self
    {
        return new self(
            $this->stratum,
            $this->sequence,
            $this->source,
            $this->value,
            $this->weight,
            $this->loop,
            $at,
            ($this->run ?? MediaRun::whole())->then($next, $this->since, $at),
        );
    }

    /**
     * The same source says another value from an engine time on; a fade takes some time, and begins where the value
     * is.
     */
    public function changed(int $sequence, int $at, float $value, int $fade = 0): self
    {
        return new self(
            $this->stratum,
            $sequence,
            $this->source,
            Track::ramp($this->valueAt($at), $at, $at + $fade, $value),
            Track::ramp($this->weight->at($at), $at, $at + $fade, 1.0),
            null,
            $at,
        );
    }

    /** Lets go from an engine time on, so that what is below comes through. */
    public function letGo(int $sequence, int $at, int $fade = 0): self
    {
        return new self(
            $this->stratum,
            $sequence,
            $this->source,
            Track::constant($this->valueAt($at)),
            Track::ramp($this->weight->at($at), $at, $at + $fade, 0.0),
            null,
            $this->since,
            $this->run,
        );
    }

    /** Whether its weight is 0 from an engine time on. */
    public function isGone(int $engine): bool
    {
        $last = count($this->weight->times) - 1;

        return $engine >= $this->weight->times[$last] && $this->weight->at($engine) === 0.0;
    }

    /**
     * Mixes held values over what is below them: stratum by stratum, within a stratum in the sequence in which they
     * came.
     *
     * @param  iterable<self>  $held
     */
    public static function over(float $below, iterable $held, int $engine): float
    {
        $ordered = is_array($held) ? $held : iterator_to_array($held, false);
        usort($ordered, self::inOrder(...));
        foreach ($ordered as $one) {
            $weight = $one->weight->at($engine);
            $below += ($one->valueAt($engine) - $below) * $weight;
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
                return $one->valueAt($engine);
            }
        }

        return $below;
    }

    /**
     * What several come to together at an engine time: over whatever is below them, they mix as this value with this
     * weight.
     *
     * @param  list<self>  $held  from below
     * @return array{float, float} value, and weight from 0 to 1
     */
    public static function together(array $held, int $engine): array
    {
        [$through, $light] = [1.0, 0.0];
        foreach ($held as $one) {
            $weight = $one->weight->at($engine);
            $through *= 1 - $weight;
            $light = $light * (1 - $weight) + $one->valueAt($engine) * $weight;
        }

        return [$through < 1 ? $light / (1 - $through) : 0.0, 1 - $through];
    }

    /** From below upwards. */
    public static function inOrder(self $a, self $b): int
    {
        return [$a->stratum->value, $a->sequence] <=> [$b->stratum->value, $b->sequence];
    }

    /**
     * @return array{s: int, n: int, by: string, v: list<int|float>, w: list<int|float>, l?: array{int, int}, t?: int, m?: array{float, float, float, float, int, int, int}, y?: string}
     */
    public function toArray(): array
    {
        return [
            's' => $this->stratum->value,
            'n' => $this->sequence,
            'by' => $this->source,
            'v' => $this->value->toList(),
            'w' => $this->weight->toList(),
        ] +
            ($this->loop === null ? [] : ['l' => $this->loop]) +
            ($this->since === 0 ? [] : ['t' => $this->since]) +
            ($this->run === null ? [] : ['m' => $this->run->toArray()]) +
            ($this->yieldsTo === null ? [] : ['y' => $this->yieldsTo]);
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
            is_array($data['l'] ?? null) && isset($data['l'][0], $data['l'][1]) && $data['l'][1] > 0
                ? [(int) $data['l'][0], (int) $data['l'][1]]
                : null,
            (int) ($data['t'] ?? 0),
            is_array($data['m'] ?? null) ? MediaRun::fromArray($data['m']) : null,
            isset($data['y']) ? (string) $data['y'] : null,
        );
    }
}

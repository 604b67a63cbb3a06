<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Flicks;

/**
 * How one value moves over time, as pieces: from its time on, each is a polynomial of third degree in the seconds since.
 * Before the first piece stands the value with which it begins. A value that does not move is one piece.
 */
final readonly class Track
{
    /**
     * @param  non-empty-list<int>  $times  flicks, ascending: where each piece begins
     * @param  non-empty-list<float>  $coefficients  c0 to c3 of each piece, one after another
     * @param  bool  $wide  whether it travels in 64-bit numbers
     */
    private function __construct(public array $times, public array $coefficients, public bool $wide)
    {
    }

    /**
     * @param  non-empty-list<int>  $times
     * @param  non-empty-list<float>  $coefficients
     */
    public static function of(array $times, array $coefficients, bool $wide = false): self
    {
        if (count($coefficients) !== 4 * count($times)) {
            throw new \InvalidArgumentException('A piece has four coefficients.');
        }

        return new self($times, $coefficients, $wide);
    }

    public static function constant(float $value): self
    {
        return new self([0], [$value, 0.0, 0.0, 0.0], true);
    }

    /** One value until a time, another from then on. */
    public static function step(float $before, int $at, float $after): self
    {
        return new self([$at - 1, $at], [$before, 0.0, 0.0, 0.0, $after, 0.0, 0.0, 0.0], true);
    }

    /** From one value to another in a straight line, standing before and after; at once when there is no time for it. */
    public static function ramp(float $before, int $from, int $to, float $after): self
    {
        return $to <= $from ? self::step($before, $from, $after)
            : new self([$from, $to], [$before, ($after - $before) / Flicks::toSeconds($to - $from), 0.0, 0.0, $after, 0.0, 0.0, 0.0], true);
    }

    /** The same course from another time on, counted from its 0, and at another rate. */
    public function shifted(int $by, float $rate = 1.0): self
    {
        $powers = [1.0, $rate, $rate ** 2, $rate ** 3];
        $coefficients = array_map(static fn (float $c, int $k): float => $c * $powers[$k % 4], $this->coefficients, array_keys($this->coefficients));

        return new self(array_map(static fn (int $time): int => $by + ($rate === 1.0 ? $time : (int) round($time / $rate)), $this->times), $coefficients, true);
    }

    /** Whether it stands still from a time on. */
    public function standsFrom(int $time): bool
    {
        $last = count($this->times) - 1;
        $k = 4 * $last;

        return ($last === 0 || $this->times[$last] <= $time) && $this->coefficients[$k + 1] === 0.0 && $this->coefficients[$k + 2] === 0.0 && $this->coefficients[$k + 3] === 0.0;
    }

    public function isConstant(): bool
    {
        return ! isset($this->times[1]) && $this->coefficients[1] === 0.0 && $this->coefficients[2] === 0.0 && $this->coefficients[3] === 0.0;
    }

    public function at(int $time): float
    {
        [$low, $high] = [0, count($this->times) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->times[$middle] <= $time ? $low = $middle : $high = $middle - 1;
        }
        $s = $time <= $this->times[$low] ? 0.0 : ($time - $this->times[$low]) / Flicks::PER_SECOND;
        $k = 4 * $low;

        return (($this->coefficients[$k + 3] * $s + $this->coefficients[$k + 2]) * $s + $this->coefficients[$k + 1]) * $s + $this->coefficients[$k];
    }

    /** Little-endian: the times as 64-bit floats (exact: they are below 2⁵³), then the coefficients as 64- or 32-bit floats, filled up to 8 bytes. */
    public function toBytes(): string
    {
        return pack('e*', ...$this->times).pack($this->wide ? 'e*' : 'g*', ...$this->coefficients);
    }

    public static function fromBytes(string $bytes, int $pieces, bool $wide): self
    {
        $times = array_map(intval(...), array_values(unpack("e$pieces", $bytes) ?: []));
        $coefficients = array_values(unpack(($wide ? 'e' : 'g').(4 * $pieces), $bytes, 8 * $pieces) ?: []);
        if ($times === [] || $coefficients === []) {
            throw new \UnexpectedValueException('A track has at least one piece.');
        }

        return self::of($times, $coefficients, $wide);
    }

    /** @return list<int|float> time and four coefficients of each piece, for what is small enough to be said as JSON */
    public function toList(): array
    {
        $list = [];
        foreach ($this->times as $i => $time) {
            array_push($list, $time, ...array_slice($this->coefficients, 4 * $i, 4));
        }

        return $list;
    }

    /** @param  array<mixed>  $list  as toList() gave it */
    public static function fromList(array $list): self
    {
        [$times, $coefficients] = [[], []];
        foreach (array_chunk(array_values($list), 5) as $piece) {
            if (count($piece) === 5) {
                $times[] = (int) $piece[0];
                array_push($coefficients, (float) $piece[1], (float) $piece[2], (float) $piece[3], (float) $piece[4]);
            }
        }

        return $times === [] || $coefficients === [] ? self::constant(0.0) : self::of($times, $coefficients, true);
    }
}

<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Flicks;

/**
 * How one value moves over time, as pieces: from its time on, each is a polynomial of third degree in the seconds
 * since. Before the first piece stands the value with which it begins. A value that does not move is one piece.
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

    /**
     * From one value to another in a straight line, standing before and after; at once when there is no time for it.
     */
    public static function ramp(float $before, int $from, int $to, float $after): self
    {
        return $to <= $from
            ? self::step($before, $from, $after)
            : new self(
                [$from, $to],
                [$before, ($after - $before) / Flicks::toSeconds($to - $from), 0.0, 0.0, $after, 0.0, 0.0, 0.0],
                true,
            );
    }

    /** The same course from another time on, counted from its 0, and at another rate. */
    public function shifted(int $by, float $rate = 1.0): self
    {
        $powers = [1.0, $rate, $rate ** 2, $rate ** 3];
        $coefficients = array_map(
            static fn (float $c, int $k): float => $c * $powers[$k % 4],
            $this->coefficients,
            array_keys($this->coefficients),
        );

        return new self(
            array_map(
                static fn (int $time): int => $by + ($rate === 1.0 ? $time : (int) round($time / $rate)),
                $this->times,
            ),
            $coefficients,
            true,
        );
    }

    /**
     * This course until a time, another from then on.
     *
     * @param  self  $next  whose pieces before that time count only where it has none that begins there
     */
    public function then(int $at, self $next): self
    {
        [$times, $coefficients] =
            $this->times[0] < $at ? [[], []] : [[$at - 1], [$this->coefficients[0], 0.0, 0.0, 0.0]];
        foreach ($this->times as $i => $time) {
            if ($time < $at) {
                $times[] = $time;
                array_push($coefficients, ...array_slice($this->coefficients, 4 * $i, 4));
            }
        }
        $after = [];
        foreach ($next->times as $i => $time) {
            $c = array_slice($next->coefficients, 4 * $i, 4);
            if ($time <= $at) {
                // Its polynomial about the time from which it counts here.
                $s = ($at - $time) / Flicks::PER_SECOND;
                $after = [
                    [
                        $at,
                        [
                            (($c[3] * $s + $c[2]) * $s + $c[1]) * $s + $c[0],
                            (3 * $c[3] * $s + 2 * $c[2]) * $s + $c[1],
                            3 * $c[3] * $s + $c[2],
                            $c[3],
                        ],
                    ],
                ];
            } else {
                $after === [] && ($after[] = [$at, [$next->coefficients[0], 0.0, 0.0, 0.0]]);
                $after[] = [$time, $c];
            }
        }
        foreach ($after as [$time, $c]) {
            $times[] = $time;
            array_push($coefficients, ...$c);
        }

        return $coefficients === [] ? $next : new self($times, $coefficients, true);
    }

    /** Whether it stands still from a time on. */
    public function standsFrom(int $time): bool
    {
        $last = count($this->times) - 1;
        $k = 4 * $last;

        return ($last === 0 || $this->times[$last] <= $time) &&
            $this->coefficients[$k + 1] === 0.0 &&
            $this->coefficients[$k + 2] === 0.0 &&
            $this->coefficients[$k + 3] === 0.0;
    }

    public function isConstant(): bool
    {
        return ! isset($this->times[1]) &&
            $this->coefficients[1] === 0.0 &&
            $this->coefficients[2] === 0.0 &&
            $this->coefficients[3] === 0.0;
    }

    public function at(int $time): float
    {
        [$low, $high] = [0, count($this->times) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->times[$middle] <= $time ? ($low = $middle) : ($high = $middle - 1);
        }
        $s = $time <= $this->times[$low] ? 0.0 : ($time - $this->times[$low]) / Flicks::PER_SECOND;
        $k = 4 * $low;

        return (($this->coefficients[$k + 3] * $s + $this->coefficients[$k + 2]) * $s + $this->coefficients[$k + 1]) *
            $s +
            $this->coefficients[$k];
    }

    /**
     * Little-endian: the times as 64-bit floats (exact: they are below 2⁵³), then the coefficients as 64- or 32-bit
     * floats, filled up to 8 bytes.
     */
    public function toBytes(): string
    {
        return pack('e*', ...$this->times).pack($this->wide ? 'e*' : 'g*', ...$this->coefficients);
    }

    public static function fromBytes(string $bytes, int $pieces, bool $wide): self
    {
        $times = array_map(intval(...), array_values(unpack("e$pieces", $bytes) ?: []));
        $coefficients = array_values(unpack(($wide ? 'e' : 'g'). 4 * $pieces, $bytes, 8 * $pieces) ?: []);
        if ($times === [] || $coefficients === []) {
            throw new \UnexpectedValueException('A track has at least one piece.');
        }

        return self::of($times, $coefficients, $wide);
    }

    /**
     * The area under it from the first of some times to each of them: what has passed by then of something that it is
     * the speed of. Exact but for the rounding of floats.
     *
     * @param  list<int>  $times  flicks, ascending
     * @return list<float> flicks times value
     */
    public function areas(array $times): array
    {
        [$areas, $sum, $at, $i, $count] = [[], 0.0, $times[0] ?? 0, 0, count($this->times)];
        while ($i + 1 < $count && $this->times[$i + 1] <= $at) {
            $i++;
        }
        foreach ($times as $time) {
            while ($i + 1 < $count && $this->times[$i + 1] < $time) {
                $sum += $this->area($i, $at, $this->times[$i + 1]);
                $at = $this->times[++$i];
            }
            $areas[] = $sum + $this->area($i, $at, $time);
        }

        return $areas;
    }

    /** The area under one piece; before the first it stands. */
    private function area(int $piece, int $from, int $to): float
    {
        [$c, $start] = [array_slice($this->coefficients, 4 * $piece, 4), $this->times[$piece]];
        $before = max(0, min($to, $start) - $from) * $c[0];
        $primitive = static fn (float $s): float => (((($c[3] / 4) * $s + $c[2] / 3) * $s + $c[1] / 2) * $s + $c[0]) *
            $s;
        $seconds = static fn (int $time): float => max(0, $time - $start) / Flicks::PER_SECOND;

        return $before +
            ($c[1] === 0.0 && $c[2] === 0.0 && $c[3] === 0.0
                ? max(0, $to - max($from, $start)) * $c[0]
                : ($primitive($seconds($to)) - $primitive($seconds($from))) * Flicks::PER_SECOND);
    }

    /**
     * Times between two at which it may be cut so that the area under it, taken as a straight line in each part, is
     * nowhere further off than so much: the ends, those of its pieces, and as many between as it takes.
     *
     * @param  float  $tolerance  flicks times value
     * @return list<int> ascending, the first and the last are those given
     */
    public function cuts(int $from, int $to, float $tolerance): array
    {
        $cuts = [$from];
        foreach ($this->times as $i => $start) {
            $a = max($from, $start);
            $length = min($to, $this->times[$i + 1] ?? $to) - $a;
            if ($length <= 0) {
                continue;
            }
            [$s, $past, $k] = [Flicks::toSeconds($length), Flicks::toSeconds($a - $start), 4 * $i];
            // A line between two points of a curve is off by at most an eighth of its steepest bend times the width
            // squared.
            $bend =
                abs($this->coefficients[$k + 1]) +
                2 * abs($this->coefficients[$k + 2]) * ($past + $s) +
                3 * abs($this->coefficients[$k + 3]) * ($past + $s) ** 2;
            $parts = max(1, (int) ceil(sqrt(($bend * $s * $s * Flicks::PER_SECOND) / 8 / $tolerance)));
            for ($n = 0; $n <= $parts; $n++) {
                $cuts[] = $a + (int) round(($length * $n) / $parts);
            }
        }
        $cuts[] = $to;

        return array_values(array_unique($cuts));
    }

    /**
     * Its pieces between two times.
     *
     * @return list<array{int, int, float|null}> from, to, and its value where it stands still, else null
     */
    public function pieces(int $from, int $to): array
    {
        $pieces = $from < $this->times[0] ? [[$from, min($to, $this->times[0]), $this->coefficients[0]]] : [];
        foreach ($this->times as $i => $start) {
            [$a, $b] = [max($from, $start), min($to, $this->times[$i + 1] ?? $to)];
            if ($a < $b) {
                [$c0, $c1, $c2, $c3] = array_slice($this->coefficients, 4 * $i, 4);
                $pieces[] = [$a, $b, $c1 === 0.0 && $c2 === 0.0 && $c3 === 0.0 ? $c0 : null];
            }
        }

        return $pieces;
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

<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A grid of bicubic Bézier patches over the unit square that share their edges. Patches lie between the lines `us`
 * across and `vs` down; their control points are a lattice of 3·columns + 1 by 3·rows + 1, row by row from the top,
 * in the unit square's own measure. A lattice point whose row and column are both multiples of three lies on the
 * surface: an anchor; those beside it are its handles.
 */
final readonly class BezierGrid
{
    public const MAX_PATCHES = 16;

    /**
     * @param  non-empty-list<float>  $us  from 0 to 1, rising
     * @param  non-empty-list<float>  $vs
     * @param  list<array{float, float}>  $points
     */
    private function __construct(public array $us, public array $vs, public array $points)
    {
    }

    /** One patch that moves nothing. */
    public static function plain(): self
    {
        return self::straight([0.0, 1.0], [0.0, 1.0]);
    }

    /**
     * Patches that move nothing, between given lines.
     *
     * @param  non-empty-list<float>  $us
     * @param  non-empty-list<float>  $vs
     */
    public static function straight(array $us, array $vs): self
    {
        $thirds = static function (array $lines): array {
            $all = [$lines[0]];
            for ($i = 1, $n = count($lines); $i < $n; $i++) {
                $d = $lines[$i] - $lines[$i - 1];
                array_push($all, $lines[$i - 1] + $d / 3, $lines[$i] - $d / 3, $lines[$i]);
            }

            return $all;
        };
        $points = [];
        foreach ($thirds($vs) as $v) {
            foreach ($thirds($us) as $u) {
                $points[] = [$u, $v];
            }
        }

        return new self($us, $vs, $points);
    }

    /**
     * @param  array{us?: mixed, vs?: mixed, points?: mixed}  $stored  lines, and the points as one list of numbers: x
     *     and y after one another
     *
     * @throws InvalidValue
     */
    public static function of(array $stored): self
    {
        [$us, $vs] = [self::lines('us', $stored['us'] ?? null), self::lines('vs', $stored['vs'] ?? null)];
        $numbers = is_array($stored['points'] ?? null) ? array_values($stored['points']) : [];
        $wanted = 2 * (3 * (count($us) - 1) + 1) * (3 * (count($vs) - 1) + 1);
        if (count($numbers) !== $wanted) {
            throw InvalidValue::because(
                'warp',
                sprintf(
                    'A warp of %d × %d patches has %d numbers in its points; it has %d.',
                    count($us) - 1,
                    count($vs) - 1,
                    $wanted,
                    count($numbers),
                ),
            );
        }
        $points = [];
        foreach (array_chunk($numbers, 2) as [$x, $y]) {
            $points[] = [
                Check::number('warp', self::float($x), -10, 10),
                Check::number('warp', self::float($y), -10, 10),
            ];
        }

        return new self($us, $vs, $points);
    }

    /** @return array{us: list<float>, vs: list<float>, points: list<float>} */
    public function toArray(): array
    {
        return ['us' => $this->us, 'vs' => $this->vs, 'points' => array_merge(...$this->points)];
    }

    public function columns(): int
    {
        return count($this->us) - 1;
    }

    public function rows(): int
    {
        return count($this->vs) - 1;
    }

    /**
     * Control points in a row of the lattice.
     *
     * @return int<1, max>
     */
    public function across(): int
    {
        return max(1, 3 * $this->columns() + 1);
    }

    public function isPlain(): bool
    {
        foreach (self::straight($this->us, $this->vs)->points as $i => [$x, $y]) {
            if (abs($x - $this->points[$i][0]) > 1e-12 || abs($y - $this->points[$i][1]) > 1e-12) {
                return false;
            }
        }

        return true;
    }

    /**
     * Where a place of the unit square goes; outside it, on with the patch at the edge.
     *
     * @return array{float, float}
     */
    public function at(float $u, float $v): array
    {
        [$i, $s] = self::within($this->us, $u);
        [$j, $t] = self::within($this->vs, $v);
        [$bs, $bt] = [self::bernstein($s), self::bernstein($t)];
        [$x, $y, $across] = [0.0, 0.0, $this->across()];
        for ($r = 0; $r < 4; $r++) {
            for ($c = 0; $c < 4; $c++) {
                [$px, $py] = $this->points[(3 * $j + $r) * $across + 3 * $i + $c];
                $x += $bt[$r] * $bs[$c] * $px;
                $y += $bt[$r] * $bs[$c] * $py;
            }
        }

        return [$x, $y];
    }

    /**
     * A line more across, the shape kept: each patch that it meets is split in two (de Casteljau).
     *
     * @throws InvalidValue on a line that is there, or where there are as many as there may be
     */
    public function withColumn(float $u): self
    {
        [$us, $i, $t] = self::inserted($this->us, $u);
        $points = [];
        foreach (array_chunk($this->points, $this->across()) as $row) {
            array_push($points, ...self::split($row, $i, $t));
        }

        return new self($us, $this->vs, $points);
    }

    /** The middle of the widest part between its lines across; of parts that are as wide, the first. */
    public function widestAcross(): float
    {
        [$best, $at] = [0.0, 0.5];
        for ($i = 1; $i < count($this->us); $i++) {
            $wide = $this->us[$i] - $this->us[$i - 1];
            if ($wide > $best + 1e-9) {
                [$best, $at] = [$wide, ($this->us[$i] + $this->us[$i - 1]) / 2];
            }
        }

        return $at;
    }

    /** The same down. */
    public function widestDown(): float
    {
        return $this->turned()->widestAcross();
    }

    /** @throws InvalidValue */
    public function withRow(float $v): self
    {
        return $this->turned()->withColumn($v)->turned();
    }

    /**
     * With one of the inner lines taken out: the patches beside it become one between their outer points.
     *
     * @throws InvalidValue for a line at the edge
     */
    public function withoutColumn(int $line): self
    {
        if ($line < 1 || $line >= $this->columns()) {
            throw InvalidValue::because('warp', 'Only a line between two patches can be taken out.');
        }
        $us = $this->us;
        $share = ($us[$line] - $us[$line - 1]) / ($us[$line + 1] - $us[$line - 1]);
        $points = [];
        foreach (array_chunk($this->points, $this->across()) as $row) {
            $at = 3 * $line;
            // The handles of a curve that was split are those of the halves, lengthened by their share.
            $left = self::along($row[$at - 3], $row[$at - 2], 1 / max(1e-9, $share));
            $right = self::along($row[$at + 3], $row[$at + 2], 1 / max(1e-9, 1 - $share));
            array_splice($row, $at - 2, 5, [$left, $right]);
            array_push($points, ...$row);
        }
        array_splice($us, $line, 1);

        return $us === [] ? $this : new self($us, $this->vs, $points);
    }

    /** @throws InvalidValue */
    public function withoutRow(int $line): self
    {
        return $this->turned()->withoutColumn($line)->turned();
    }

    /**
     * With points moved. An anchor takes its handles along.
     *
     * @param  array<int, array{float, float}>  $by  by lattice number, in units of the square
     * @param  bool  $symmetric  whether a handle's counterpart across its anchor turns with it
     * @param  array{float, float}  $radius  how far others are moved along, each way, in units of the square, less
     *     the farther they are: 1 at the point, 0 at the radius, by (1 + cos) / 2; 0 for none
     */
    public function moved(array $by, bool $symmetric = false, array $radius = [0.0, 0.0]): self
    {
        $across = $this->across();
        $points = $this->points;
        $shift = [];
        foreach ($by as $at => $step) {
            if (! isset($points[$at])) {
                throw InvalidValue::because('warp', "The warp has no point $at.");
            }
            [$row, $column] = [intdiv($at, $across), $at % $across];
            $shift[$at] = $step;
            if ($row % 3 === 0 && $column % 3 === 0) {
                for ($r = -1; $r <= 1; $r++) {
                    for ($c = -1; $c <= 1; $c++) {
                        $other = ($row + $r) * $across + $column + $c;
                        if (
                            ($r !== 0 || $c !== 0) &&
                            $column + $c >= 0 &&
                            $column + $c < $across &&
                            isset($points[$other]) &&
                            ! isset($by[$other])
                        ) {
                            $shift[$other] = $step;
                        }
                    }
                }
            } elseif ($symmetric) {
                $anchor = [3 * (int) round($row / 3), 3 * (int) round($column / 3)];
                $other = (2 * $anchor[0] - $row) * $across + 2 * $anchor[1] - $column;
                $within = 2 * $anchor[1] - $column >= 0 && 2 * $anchor[1] - $column < $across;
                if ($within && isset($points[$other]) && ! isset($by[$other])) {
                    $shift[$other] = [-$step[0], -$step[1]];
                }
            }
        }
        [$rx, $ry] = $radius;
        if ($rx > 0 && $ry > 0) {
            foreach ($points as $at => [$x, $y]) {
                if (isset($shift[$at])) {
                    continue;
                }
                [$weight, $dx, $dy] = [0.0, 0.0, 0.0];
                foreach ($by as $from => $step) {
                    $near = hypot(($x - $points[$from][0]) / $rx, ($y - $points[$from][1]) / $ry);
                    $w = $near < 1 ? (1 + cos(M_PI * $near)) / 2 : 0.0;
                    if ($w > $weight) {
                        [$weight, $dx, $dy] = [$w, $w * $step[0], $w * $step[1]];
                    }
                }
                if ($weight > 0) {
                    $shift[$at] = [$dx, $dy];
                }
            }
        }
        foreach ($shift as $at => [$dx, $dy]) {
            $points[$at] = [$points[$at][0] + $dx, $points[$at][1] + $dy];
        }

        return new self($this->us, $this->vs, $points);
    }

    private function turned(): self
    {
        [$across, $down] = [$this->across(), 3 * $this->rows() + 1];
        $points = [];
        for ($c = 0; $c < $across; $c++) {
            for ($r = 0; $r < $down; $r++) {
                $points[] = $this->points[$r * $across + $c];
            }
        }

        return new self($this->vs, $this->us, $points);
    }

    /**
     * @param  non-empty-list<float>  $lines
     * @return array{non-empty-list<float>, int, float} the lines with the new one, the patch that it splits, and where
     */
    private static function inserted(array $lines, float $at): array
    {
        if (count($lines) > self::MAX_PATCHES) {
            throw InvalidValue::because('warp', 'A warp has at most '.self::MAX_PATCHES.' patches each way.');
        }
        Check::number('warp', $at, 0, 1);
        foreach ($lines as $line) {
            if (abs($line - $at) < 1e-3) {
                throw InvalidValue::because('warp', 'There is a line of the warp there already.');
            }
        }
        [$i, $t] = self::within($lines, $at);
        array_splice($lines, $i + 1, 0, [$at]);

        return [array_values($lines), $i, $t];
    }

    /**
     * @param  list<array{float, float}>  $row
     * @return list<array{float, float}>
     */
    private static function split(array $row, int $i, float $t): array
    {
        [$a, $b, $c, $d] = [$row[3 * $i], $row[3 * $i + 1], $row[3 * $i + 2], $row[3 * $i + 3]];
        [$ab, $bc, $cd] = [self::along($a, $b, $t), self::along($b, $c, $t), self::along($c, $d, $t)];
        [$abc, $bcd] = [self::along($ab, $bc, $t), self::along($bc, $cd, $t)];
        array_splice($row, 3 * $i + 1, 2, [$ab, $abc, self::along($abc, $bcd, $t), $bcd, $cd]);

        return array_values($row);
    }

    /**
     * @param  array{float, float}  $a
     * @param  array{float, float}  $b
     * @return array{float, float}
     */
    private static function along(array $a, array $b, float $t): array
    {
        return [$a[0] + ($b[0] - $a[0]) * $t, $a[1] + ($b[1] - $a[1]) * $t];
    }

    /**
     * @param  non-empty-list<float>  $lines
     * @return array{int, float} the patch, and how far across it
     */
    private static function within(array $lines, float $at): array
    {
        $i = 0;
        for ($n = count($lines) - 2; $i < $n && $at >= $lines[$i + 1]; $i++) {
        }

        return [$i, ($at - $lines[$i]) / ($lines[$i + 1] - $lines[$i])];
    }

    /** @return array{float, float, float, float} */
    private static function bernstein(float $t): array
    {
        $s = 1 - $t;

        return [$s * $s * $s, 3 * $t * $s * $s, 3 * $t * $t * $s, $t * $t * $t];
    }

    /** @return non-empty-list<float> */
    private static function lines(string $name, mixed $stored): array
    {
        $lines = is_array($stored) ? array_map(self::float(...), array_values($stored)) : [];
        $n = count($lines);
        if ($n < 2 || $n > self::MAX_PATCHES + 1 || $lines[0] !== 0.0 || $lines[$n - 1] !== 1.0) {
            throw InvalidValue::because(
                'warp',
                "The lines ($name) of a warp go from 0 to 1, with at most ".(self::MAX_PATCHES - 1).' between.',
            );
        }
        for ($i = 1; $i < $n; $i++) {
            if (! ($lines[$i] - $lines[$i - 1] >= 1e-4)) {
                throw InvalidValue::because(
                    'warp',
                    "The lines ($name) of a warp have to rise, a ten-thousandth each at least.",
                );
            }
        }

        return $lines;
    }

    private static function float(mixed $v): float
    {
        return is_int($v) || is_float($v) ? (float) $v : throw InvalidValue::notANumber('warp');
    }
}

<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * Shares of the light over a rectangle of an output: at the crossings of evenly spaced lines, the first and last of
 * which are the rectangle's edges; between them, interpolated from the four nearest, and none outside.
 */
final readonly class BlendMap
{
    /** Marks the number of columns of one whose place is told in halves of pixels. */
    private const HALVES = 0x80000000;

    /** Pixels between the lines of one that is made of pixels, the widest first. */
    private const STEPS = [16, 8, 4, 2, 1];

    /**
     * What it may be off by at a pixel, of the signal: a step of 255. Shares that were written in such steps are off by
     * half a one, as are the lines that are made of them.
     */
    private const TOLERANCE = 1 / 255;

    /**
     * @param  array{int|float, int|float, int|float, int|float}  $place  x, y, width, height on the output, px; whole
     *     numbers and halves
     * @param  int  $columns  lines across, two at least
     * @param  list<float>  $shares  0 to 1, row by row from the top
     */
    public function __construct(public array $place, public int $columns, public int $rows, public array $shares)
    {
    }

    /**
     * Shares that are known at the middles of an output's pixels, by as few lines as have each within a step of
     * 255.
     *
     * @param  list<float|null>  $shares  row by row; null where it is all one, since nothing is shown
     * @param  float  $gamma  by which the signal is compared
     */
    public static function ofPixels(int $width, int $height, array $shares, float $gamma): self
    {
        $filled = self::filled($width, $height, $shares);
        foreach (self::STEPS as $step) {
            [$across, $down] = [self::lines($width, $step), self::lines($height, $step)];
            [$columns, $rows] = [count($across), count($down)];
            $lines = [];
            foreach ($down as [$y0, $y1, $v]) {
                foreach ($across as [$x0, $x1, $u]) {
                    $upper = $filled[$y0 * $width + $x0] * (1 - $u) + $filled[$y0 * $width + $x1] * $u;
                    $lower = $filled[$y1 * $width + $x0] * (1 - $u) + $filled[$y1 * $width + $x1] * $u;
                    $lines[] = max(0.0, min(1.0, $upper * (1 - $v) + $lower * $v));
                }
            }
            $map = new self(
                [0.5 - $step, 0.5 - $step, ($columns - 1) * $step, ($rows - 1) * $step],
                $columns,
                $rows,
                $lines,
            );
            if ($step === 1 || $map->tells($width, $shares, $step, 1 / $gamma)) {
                return $map;
            }
        }

        return $map;
    }

    /**
     * Lines at the middles of every so many pixels, one before the first of them and one behind the last: between which
     * pixels each lies, and how far on from the one to the other. The last may lie beyond them, as they go on.
     *
     * @return list<array{int, int, float}>
     */
    private static function lines(int $pixels, int $step): array
    {
        $lines = [[0, 0, 0.0]];
        for ($at = 0; $at < $pixels - 1; $at += $step) {
            $lines[] = [$at, $at, 0.0];
        }
        $from = $at - $step;
        $lines[] = $pixels === 1 ? [0, 0, 0.0] : [$from, $pixels - 1, $step / ($pixels - 1 - $from)];
        $lines[] = $lines[count($lines) - 1];

        return $lines;
    }

    /**
     * Shares with something wherever there is none: what is beside it.
     *
     * @param  list<float|null>  $shares
     * @return list<float>
     */
    private static function filled(int $width, int $height, array $shares): array
    {
        $rows = [];
        for ($y = 0; $y < $height; $y++) {
            $row = array_slice($shares, $y * $width, $width);
            $lit = array_keys(array_filter($row, static fn (?float $share): bool => $share !== null));
            if ($lit === []) {
                $rows[] = [];

                continue;
            }
            [$first, $last] = [$lit[0], $lit[count($lit) - 1]];
            // Beyond what is shown, it goes on as it went.
            $slope = static function (int $from, int $to) use ($row): float {
                return $row[$to] === null || $row[$from] === null || $from === $to
                    ? 0.0
                    : ($row[$from] - $row[$to]) / ($from - $to);
            };
            $before = $slope($first, min($last, $first + self::STEPS[0]));
            $after = $slope($last, max($first, $last - self::STEPS[0]));
            for ($x = 0; $x < $width; $x++) {
                $row[$x] ??= max(
                    0.0,
                    min(
                        1.0,
                        match (true) {
                            $x < $first => $row[$first] + $before * ($x - $first),
                            $x > $last => $row[$last] + $after * ($x - $last),
                            default => $row[$x - 1],
                        },
                    ),
                );
            }
            $rows[] = $row;
        }
        // A row of which nothing is known is as the next one below; under the last of them, as that.
        $lit = array_filter($rows);
        $below = $lit === [] ? array_fill(0, $width, 0.0) : $lit[array_key_last($lit)];
        for ($y = $height - 1; $y >= 0; $y--) {
            $rows[$y] = $below = $rows[$y] === [] ? $below : $rows[$y];
        }

        return array_merge(...$rows);
    }

    /** @param  list<float|null>  $shares */
    private function tells(int $width, array $shares, int $step, float $root): bool
    {
        foreach ($shares as $k => $share) {
            [$x, $y] = [$k % $width, intdiv($k, $width)];
            if ($share === null || ($x % $step === 0 && $y % $step === 0)) {
                continue;
            }
            $is = $this->at($x + 0.5, $y + 0.5);
            if ($is !== $share && abs($is ** $root - $share ** $root) > self::TOLERANCE) {
                return false;
            }
        }

        return true;
    }

    public function at(float $x, float $y): float
    {
        [$left, $top, $width, $height] = $this->place;
        if ($x < $left || $y < $top || $x > $left + $width || $y > $top + $height) {
            return 0.0;
        }
        $u = max(0.0, min($this->columns - 1.0, (($x - $left) / $width) * ($this->columns - 1)));
        $v = max(0.0, min($this->rows - 1.0, (($y - $top) / $height) * ($this->rows - 1)));
        [$i, $j] = [min($this->columns - 2, (int) $u), min($this->rows - 2, (int) $v)];
        [$s, $t, $at] = [$u - $i, $v - $j, $j * $this->columns + $i];
        $p = $this->shares;

        return ($p[$at] * (1 - $s) + $p[$at + 1] * $s) * (1 - $t) +
            ($p[$at + $this->columns] * (1 - $s) + $p[$at + $this->columns + 1] * $s) * $t;
    }

    /**
     * The place (in halves of pixels where the highest bit of the columns is set), columns and rows (32 bits each),
     * then the shares (32-bit floats), little-endian.
     */
    public function toBytes(): string
    {
        $isWhole =
            array_filter($this->place, static fn (int|float $v): bool => $v !== (int) $v && $v !== floor($v)) === [];
        $place = array_map(static fn (int|float $v): int => (int) round($isWhole ? $v : 2 * $v), $this->place);

        return pack('l4V2', ...[...$place, $this->columns | ($isWhole ? 0 : self::HALVES), $this->rows]).
            pack('g*', ...$this->shares);
    }

    /** The bytes of the map that some begin with, as far as these say. */
    public static function length(string $bytes): int
    {
        $head = strlen($bytes) < 24 ? false : unpack('Vcolumns/Vrows', $bytes, 16);

        return $head === false ? strlen($bytes) : 24 + 4 * ($head['columns'] & ~self::HALVES) * $head['rows'];
    }

    /** @throws \UnexpectedValueException */
    public static function fromBytes(string $bytes): self
    {
        $head = strlen($bytes) < 24 ? false : unpack('l4place/Vcolumns/Vrows', $bytes);
        $by = 1;
        if ($head !== false && ($head['columns'] & self::HALVES) !== 0) {
            [$by, $head['columns']] = [2, $head['columns'] & ~self::HALVES];
        }
        if (
            $head === false ||
            $head['columns'] < 2 ||
            $head['rows'] < 2 ||
            strlen($bytes) !== 24 + 4 * $head['columns'] * $head['rows']
        ) {
            throw new \UnexpectedValueException('This is no computed blend.');
        }

        return new self(
            [$head['place1'] / $by, $head['place2'] / $by, $head['place3'] / $by, $head['place4'] / $by],
            $head['columns'],
            $head['rows'],
            array_values((array) unpack('g*', substr($bytes, 24))),
        );
    }
}

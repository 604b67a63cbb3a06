<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Media\Lettering;
use Core\Media\Picture;
use Core\Units\InvalidValue;

/**
 * Squares of a real size on a surface, by which pieces are cut and laid by hand: rows from its top, each with lines from
 * its middle, so that they stay square on every tier and all the way round. Rows have letters, squares of a row numbers.
 */
final readonly class Guide
{
    /** Squares that a surface may have. */
    public const MOST = 20_000;

    /** Rows of a tier. */
    private const MOST_ROWS = 500;

    /** Metres of the smallest square. */
    public const LEAST = 0.005;

    private const GROUND = [22, 24, 38];

    private const FIELD = [44, 52, 84];

    private const LINE = [240, 236, 224];

    private const WORDS = [255, 214, 160];

    /** Places along a row, or down a tier, at which the surface is measured. */
    private const SAMPLES = 128;

    /**
     * @param  list<array{top: float, bottom: float, lines: list<float>}>  $rows  pixels of the raster; lines from left to
     *     right, the edges of the raster not among them
     */
    private function __construct(public int $width, public int $height, public array $rows)
    {
    }

    /**
     * @param  int  $width  of the surface's raster, in pixels
     * @param  float  $size  of a square, in metres
     *
     * @throws InvalidValue where there would be too many of them
     */
    public static function of(SurfaceChart $chart, int $width, int $height, float $size): self
    {
        if (! is_finite($size) || $size < self::LEAST) {
            throw InvalidValue::because('guide', 'A square of the guide is '.self::LEAST * 1000 .' mm at least.');
        }
        $rows = [];
        $breaks = [0.0, ...$chart->yBreaks, 1.0];
        foreach ($breaks as $k => $top) {
            $bottom = $breaks[$k + 1] ?? $top;
            if ($bottom - $top < 1e-9) {
                continue;
            }
            // Each tier begins with a whole square.
            $down = self::metres(static fn (float $v): float => self::along($chart, 0.5, $v, 1), $top, $bottom);
            if ($down[self::SAMPLES] / $size > self::MOST_ROWS) {
                throw self::tooSmall($size);
            }
            $lines = [$top, ...self::multiples($down, $top, $bottom, $size), $bottom];
            for ($i = 1, $n = count($lines); $i < $n; $i++) {
                if ($lines[$i] - $lines[$i - 1] < 1e-9) {
                    continue;
                }
                $middle = ($lines[$i - 1] + $lines[$i]) / 2;
                $one = static fn (float $u): float => self::along($chart, $u, $middle, 0);
                $right = self::multiples(self::metres($one, 0.5, 1.0), 0.5, 1.0, $size);
                $left = self::multiples(self::metres($one, 0.5, 0.0), 0.5, 0.0, $size);
                $across = [...array_reverse($left), 0.5, ...$right];
                $rows[] = [
                    'top' => $lines[$i - 1] * $height,
                    'bottom' => $lines[$i] * $height,
                    'lines' => array_map(static fn (float $u): float => $u * $width, $across),
                ];
                if (count($rows) * count($across) > self::MOST) {
                    throw self::tooSmall($size);
                }
            }
        }

        return new self($width, $height, $rows);
    }

    /** The name of a row: A, B, … Z, AA. */
    public static function letter(int $row): string
    {
        $name = '';
        for ($n = $row + 1; $n > 0; $n = intdiv($n - 1, 26)) {
            $name = chr(65 + (($n - 1) % 26)).$name;
        }

        return $name;
    }

    /** As it is shown on the surface, and where a row is high enough, with the name of each square. */
    public function picture(): Picture
    {
        $rgba = static fn (array $c): string => pack('C4', $c[0], $c[1], $c[2], 255);
        [$ground, $field, $line, $words] = [
            $rgba(self::GROUND),
            $rgba(self::FIELD),
            $rgba(self::LINE),
            $rgba(self::WORDS),
        ];
        $round = static fn (float $v, int $most): int => max(0, min($most, (int) round($v)));
        $bytes = '';
        foreach ($this->rows as $r => $row) {
            [$top, $bottom] = [$round($row['top'], $this->height), $round($row['bottom'], $this->height)];
            if ($bottom <= $top) {
                continue;
            }
            $edges = [0, ...array_map(fn (float $x): int => $round($x, $this->width), $row['lines']), $this->width];
            // The square right of the middle is of one colour in every other row.
            $parity = $r + intdiv(count($row['lines']), 2);
            $one = '';
            foreach ($edges as $i => $x) {
                $long = ($edges[$i + 1] ?? $x) - $x;
                $one .= $long > 0 ? $line.str_repeat(($i + $parity) % 2 === 0 ? $field : $ground, $long - 1) : '';
            }
            $lines = array_fill(0, $bottom - $top, $one);
            $lines[0] = str_repeat($line, $this->width);
            $letter = self::letter($r);
            foreach ($edges as $i => $x) {
                $text = $letter.($i + 1);
                $room = ($edges[$i + 1] ?? $x) - $x;
                $scale = min(
                    intdiv((int) ($room * 0.6), max(1, Lettering::width($text))),
                    intdiv((int) (($bottom - $top) * 0.4), Lettering::HEIGHT),
                );
                foreach ($scale < 1 ? [] : Lettering::pixels($text) as [$px, $py]) {
                    $left = $x + intdiv($room - $scale * Lettering::width($text), 2) + $px * $scale;
                    for ($k = 0; $k < $scale; $k++) {
                        $y = intdiv($bottom - $top - $scale * Lettering::HEIGHT, 2) + $py * $scale + $k;
                        $lines[$y] = substr_replace($lines[$y], str_repeat($words, $scale), 4 * $left, 4 * $scale);
                    }
                }
            }
            $bytes .= implode('', $lines);
        }

        return Picture::of($this->width, $this->height, str_pad($bytes, 4 * $this->width * $this->height, $line));
    }

    private static function tooSmall(float $size): InvalidValue
    {
        return InvalidValue::because(
            'guide',
            sprintf(
                'Squares of %s mm would be more than %d here: take larger ones.',
                round(1000 * $size, 1),
                self::MOST,
            ),
        );
    }

    /** How many metres the surface goes on at a place for the whole of its raster, along it (0) or down (1). */
    private static function along(SurfaceChart $chart, float $u, float $v, int $axis): float
    {
        // Where it has nothing, as beside it.
        foreach ($axis === 0 ? [0.0] : [0.0, -0.2, 0.2, -0.4, 0.4] as $aside) {
            $to = $chart->directions($u + $aside, $v)[$axis] ?? null;
            if ($to !== null) {
                return sqrt($to[0] ** 2 + $to[1] ** 2 + $to[2] ** 2);
            }
        }

        return 0.0;
    }

    /**
     * Metres from one place to each of so many on the way to another.
     *
     * @param  \Closure(float): float  $each  metres for 1
     * @return non-empty-list<float>
     */
    private static function metres(\Closure $each, float $from, float $to): array
    {
        $step = ($to - $from) / self::SAMPLES;
        $sum = [0.0];
        for ($i = 0; $i < self::SAMPLES; $i++) {
            $sum[] = $sum[$i] + $each($from + ($i + 0.5) * $step) * abs($step);
        }

        return $sum;
    }

    /**
     * Where multiples of a size lie on the way.
     *
     * @param  non-empty-list<float>  $metres
     * @return list<float>
     */
    private static function multiples(array $metres, float $from, float $to, float $size): array
    {
        $found = [];
        // What ends on a line has none there.
        $end = $metres[self::SAMPLES] - 1e-6 * $size;
        for ([$i, $k] = [1, 1]; $k * $size < $end && $k <= self::MOST; $k++) {
            while ($metres[$i] < $k * $size) {
                $i++;
            }
            $share = ($k * $size - $metres[$i - 1]) / ($metres[$i] - $metres[$i - 1]);
            $found[] = $from + (($i - 1 + $share) * ($to - $from)) / self::SAMPLES;
        }

        return $found;
    }
}

<?php

declare(strict_types=1);

namespace App\Rig;

use Core\Media\Lettering;
use Core\Media\TextGrid;

/** Rows of 24-bit pixels that rectangles and letters are put on. */
final class Canvas
{
    /** @param  list<string>  $rows */
    private function __construct(private readonly int $width, private array $rows)
    {
    }

    /** @param  \Closure(int): array{int, int, int}  $colour  of each row */
    public static function of(int $width, int $height, \Closure $colour): self
    {
        return new self(
            $width,
            array_map(
                static fn (int $y): string => str_repeat(pack('C3', ...$colour($y)), $width),
                range(0, $height - 1),
            ),
        );
    }

    /** @param  array{int, int, int}  $colour */
    public function rectangle(int $x, int $y, int $width, int $height, array $colour): void
    {
        $from = max(0, $x);
        $length = min($this->width, $x + $width) - $from;
        if ($length < 1) {
            return;
        }
        $line = str_repeat(pack('C3', ...$colour), $length);
        $rows = $this->rows;
        for ($row = max(0, $y); $row < min(count($rows), $y + $height); $row++) {
            $rows[$row] = substr_replace($rows[$row], $line, 3 * $from, 3 * $length);
        }
        $this->rows = array_values($rows);
    }

    /**
     * A line of text; each dot so many pixels wide and high.
     *
     * @param  array{int, int, int}  $colour
     */
    public function text(int $x, int $y, string $text, int $dot, array $colour): void
    {
        $grid = TextGrid::of($text);
        [$wide] = $grid->size();
        for ($row = 0; $row < Lettering::HEIGHT; $row++) {
            for ($column = 0; $column < $wide; $column++) {
                if ($grid->isLit($column, $row)) {
                    $run = 1;
                    while ($grid->isLit($column + $run, $row)) {
                        $run++;
                    }
                    $this->rectangle($x + $column * $dot, $y + $row * $dot, $run * $dot, $dot, $colour);
                    $column += $run;
                }
            }
        }
    }

    public function bytes(): string
    {
        return implode('', $this->rows);
    }
}

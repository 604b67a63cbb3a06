<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/**
 * Portable float map, three 32-bit floats a pixel: the rows of the file go from the bottom to the top, here from the
 * top.
 */
final readonly class Pfm
{
    public const MAX_PIXELS = 64_000_000;

    private const MAX_ACROSS = 640;

    /** @param  list<float>  $numbers  three a pixel, row by row from the top; what is not a number shows nothing */
    public function __construct(public int $width, public int $height, public array $numbers)
    {
    }

    public function toBytes(): string
    {
        $bytes = "PF\n$this->width $this->height\n-1.0\n";
        foreach (array_reverse(array_chunk($this->numbers, 3 * max(1, $this->width))) as $row) {
            $bytes .= pack('g*', ...$row);
        }

        return $bytes;
    }

    /**
     * A map of more than 640 pixels across or down is read as one of fewer, at the middles of their cells: between
     * four pixels of the file in a straight line, and not a number where one of them is not.
     *
     * @throws InvalidValue
     */
    public static function fromBytes(string $bytes): self
    {
        if (
            preg_match(
                '/^PF\s+(\d{1,6})\s+(\d{1,6})\s+(-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)\s/',
                substr($bytes, 0, 200),
                $m,
            ) !== 1
        ) {
            throw InvalidValue::because(
                'pfm',
                'This is no float map of three numbers a pixel: it has to begin with PF, its size and its order of bytes.',
            );
        }
        [$width, $height, $from] = [(int) $m[1], (int) $m[2], strlen($m[0])];
        if (
            $width < 2 ||
            $height < 2 ||
            $width * $height > self::MAX_PIXELS ||
            strlen($bytes) - $from < 12 * $width * $height
        ) {
            throw InvalidValue::because(
                'pfm',
                "The float map says that it has $width × $height pixels, and has not the bytes of so many.",
            );
        }
        $form = (float) $m[3] < 0 ? 'g*' : 'G*';
        $row = static fn (int $y): array => array_values(
            (array) unpack($form, substr($bytes, $from + 12 * $width * ($height - 1 - $y), 12 * $width)),
        );
        [$columns, $rows] = [min($width, self::MAX_ACROSS), min($height, self::MAX_ACROSS)];
        $numbers = [];
        for ($j = 0; $j < $rows; $j++) {
            [$y, $v] = self::between($j, $rows, $height);
            [$above, $below] = [$row($y), $v > 0 ? $row($y + 1) : null];
            for ($i = 0; $i < $columns; $i++) {
                [$x, $u] = self::between($i, $columns, $width);
                for ($n = 3 * $x; $n < 3 * $x + 3; $n++) {
                    $upper = $u > 0 ? $above[$n] * (1 - $u) + $above[$n + 3] * $u : $above[$n];
                    $numbers[] =
                        $below === null
                            ? $upper
                            : $upper * (1 - $v) +
                                ($u > 0 ? $below[$n] * (1 - $u) + $below[$n + 3] * $u : $below[$n]) * $v;
                }
            }
        }

        return new self($columns, $rows, $numbers);
    }

    /**
     * Where the middle of a cell lies among the middles of pixels: the one before it, and how far on to the next.
     *
     * @return array{int, float}
     */
    private static function between(int $cell, int $cells, int $pixels): array
    {
        $at = (($cell + 0.5) * $pixels) / $cells - 0.5;

        return [(int) floor($at), $at - floor($at)];
    }
}

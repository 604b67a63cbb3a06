<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/**
 * Portable float map, three 32-bit floats a pixel: the rows of the file go from the bottom to the top, here from the
 * top. It is read and written row by row.
 */
final readonly class Pfm
{
    public const MAX_PIXELS = 64_000_000;

    /** @param  \Closure(int): list<float>  $row  three numbers a pixel; what is not a number shows nothing */
    public function __construct(public int $width, public int $height, private \Closure $row)
    {
    }

    /** @return list<float> three numbers a pixel of a row, from the top */
    public function row(int $y): array
    {
        return ($this->row)($y);
    }

    /** @return \Generator<int, string> the bytes of the file, piece by piece */
    public function bytes(): \Generator
    {
        yield "PF\n$this->width $this->height\n-1.0\n";
        for ($y = $this->height - 1; $y >= 0; $y--) {
            yield pack('g*', ...$this->row($y));
        }
    }

    /**
     * A map of which bytes are read as they are asked for.
     *
     * @param  int  $size  of the file, in bytes
     * @param  \Closure(int, int): string  $read  so many bytes from a place on
     *
     * @throws InvalidValue
     */
    public static function from(int $size, \Closure $read): self
    {
        if (
            preg_match('/^PF\s+(\d{1,6})\s+(\d{1,6})\s+(-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)\s/', $read(0, 200), $m) !== 1
        ) {
            throw InvalidValue::because(
                'pfm',
                'This is no float map of three numbers a pixel: it has to begin with PF, its size and its order of bytes.',
            );
        }
        [$width, $height, $from] = [(int) $m[1], (int) $m[2], strlen($m[0])];
        if ($width < 2 || $height < 2 || $width * $height > self::MAX_PIXELS || $size - $from < 12 * $width * $height) {
            throw InvalidValue::because(
                'pfm',
                "The float map says that it has $width × $height pixels, and has not the bytes of so many.",
            );
        }
        $form = (float) $m[3] < 0 ? 'g*' : 'G*';

        return new self(
            $width,
            $height,
            static fn (int $y): array => array_values(
                (array) unpack($form, $read($from + 12 * $width * ($height - 1 - $y), 12 * $width)),
            ),
        );
    }
}

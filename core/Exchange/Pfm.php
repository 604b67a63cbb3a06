<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/** Portable float map, three 32-bit floats a pixel: the rows of the file go from the bottom to the top, here from the top. */
final readonly class Pfm
{
    public const MAX_PIXELS = 64_000_000;

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

    /** @throws InvalidValue */
    public static function fromBytes(string $bytes): self
    {
        if (preg_match('/^PF\s+(\d{1,6})\s+(\d{1,6})\s+(-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)\s/', substr($bytes, 0, 200), $m) !== 1) {
            throw InvalidValue::because('pfm', 'This is no float map of three numbers a pixel: it has to begin with PF, its size and its order of bytes.');
        }
        [$width, $height, $from] = [(int) $m[1], (int) $m[2], strlen($m[0])];
        $size = 12 * $width * $height;
        if ($width < 2 || $height < 2 || $width * $height > self::MAX_PIXELS || strlen($bytes) - $from < $size) {
            throw InvalidValue::because('pfm', "The float map says that it has $width × $height pixels, and has not the bytes of so many.");
        }
        $numbers = [];
        for ($row = $height - 1; $row >= 0; $row--) {
            array_push($numbers, ...array_values((array) unpack((float) $m[3] < 0 ? 'g*' : 'G*', substr($bytes, $from + 12 * $width * $row, 12 * $width))));
        }

        return new self($width, $height, $numbers);
    }
}

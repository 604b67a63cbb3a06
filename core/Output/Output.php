<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;

/** One connector of a media server: its raster in pixels, its refresh rate in hertz, and what the machine behind it can take. */
final readonly class Output
{
    /**
     * @param  int  $streamsLimit  videos that may play at once; 0 where it is not known
     * @param  float  $decodeLimit  million pixels that may be decoded a second; 0 where it is not known
     * @param  float  $readLimit  megabytes that may be read a second; 0 where it is not known
     * @param  float  $memoryLimit  megabytes that decoded pictures may take; 0 where it is not known
     */
    private function __construct(public string $name, public int $width, public int $height, public float $refresh, public int $streamsLimit, public float $decodeLimit, public float $readLimit, public float $memoryLimit)
    {
    }

    public static function of(string $name, int $width, int $height, float $refresh, int $streamsLimit = 0, float $decodeLimit = 0, float $readLimit = 0, float $memoryLimit = 0): self
    {
        return new self(
            Check::name('name', $name),
            Check::pixels('width', $width),
            Check::pixels('height', $height),
            Check::number('refresh', $refresh, 1, 480, 'Hz'),
            Check::whole('streamsLimit', $streamsLimit, 0, 1000),
            Check::number('decodeLimit', $decodeLimit, 0, 1_000_000, 'Mpx/s'),
            Check::number('readLimit', $readLimit, 0, 1_000_000, 'MB/s'),
            Check::number('memoryLimit', $memoryLimit, 0, 1_000_000, 'MB'),
        );
    }

    public function raster(): Rect
    {
        return Rect::of(0, 0, $this->width, $this->height);
    }
}

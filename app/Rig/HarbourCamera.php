<?php

declare(strict_types=1);

namespace App\Rig;

/**
 * A camera on the quay: dusk, water, a lantern that drifts by. In it is the time of day, to be read by people at the
 * top and by machines at the bottom, so that the way of its picture can be timed: 32 fields, the first the highest of
 * 32 bits of the milliseconds since 1970, white for one.
 */
final class HarbourCamera implements Simulation
{
    public const BITS = 32;

    /** Rows of the fields at the bottom. */
    public const STRIP = 16;

    private readonly Canvas $scene;

    public function __construct()
    {
        $this->scene = Canvas::of(
            $this->width(),
            $this->height(),
            fn (int $y): array => $y < 200
                ? [18 + intdiv($y, 3), 22 + intdiv($y, 5), 60 + intdiv($y, 4)]
                : [10, 26 + intdiv($y - 200, 8), 44 + intdiv($y - 200, 6)],
        );
        $this->scene->rectangle(0, 196, $this->width(), 8, [70, 60, 66]);
        foreach ([[60, 120], [190, 84], [420, 140], [540, 100]] as [$x, $high]) {
            $this->scene->rectangle($x, 200 - $high, 46, $high, [38, 34, 52]);
            $this->scene->rectangle($x + 14, 200 - $high + 16, 8, 12, [255, 184, 107]);
        }
    }

    public function name(): string
    {
        return 'camera';
    }

    public function label(): string
    {
        return 'Quay camera';
    }

    public function width(): int
    {
        return 640;
    }

    public function height(): int
    {
        return 360;
    }

    public function rate(): int
    {
        return 25;
    }

    public function frame(int $milliseconds): string
    {
        $canvas = clone $this->scene;
        $x = (int) (fmod($milliseconds / 6000, 1) * ($this->width() + 40)) - 40;
        $canvas->rectangle($x, 236, 32, 40, [255, 206, 120]);
        $canvas->rectangle($x + 12, 276, 8, 40, [150, 96, 60]);
        $canvas->text(
            20,
            16,
            gmdate('H:i:s', intdiv($milliseconds, 1000)).sprintf('.%03d', $milliseconds % 1000),
            4,
            [240, 240, 240],
        );
        $wide = intdiv($this->width(), self::BITS);
        for ($bit = 0; $bit < self::BITS; $bit++) {
            $on = ($milliseconds >> (self::BITS - 1 - $bit)) & 1;
            $canvas->rectangle(
                $bit * $wide,
                $this->height() - self::STRIP,
                $wide,
                self::STRIP,
                $on === 1 ? [255, 255, 255] : [0, 0, 0],
            );
        }

        return $canvas->bytes();
    }

    public function command(string $what): bool
    {
        return false;
    }
}

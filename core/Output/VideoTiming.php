<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Pixels;

/**
 * How a raster is sent: with its blanking, at a pixel clock. Television formats as CTA-861 lists them; other rasters
 * by VESA's Coordinated Video Timings with reduced blanking, version 1 (CVT 1.1, 2003) or 2 (CVT 1.2, 2013).
 */
final readonly class VideoTiming
{
    public const RULES = ['auto', 'cta', 'cvt-rb', 'cvt-rb2'];

    /** Width, height, rate, and pixels of a whole line and lines of a whole frame. */
    private const CTA = [
        [640, 480, 60, 800, 525],
        [720, 480, 60, 858, 525],
        [720, 576, 50, 864, 625],
        [1280, 720, 24, 4125, 750],
        [1280, 720, 25, 3960, 750],
        [1280, 720, 30, 3300, 750],
        [1280, 720, 50, 1980, 750],
        [1280, 720, 60, 1650, 750],
        [1280, 720, 100, 1980, 750],
        [1280, 720, 120, 1650, 750],
        [1920, 1080, 24, 2750, 1125],
        [1920, 1080, 25, 2640, 1125],
        [1920, 1080, 30, 2200, 1125],
        [1920, 1080, 50, 2640, 1125],
        [1920, 1080, 60, 2200, 1125],
        [1920, 1080, 100, 2640, 1125],
        [1920, 1080, 120, 2200, 1125],
        [2560, 1080, 50, 3300, 1125],
        [2560, 1080, 60, 3000, 1100],
        [3840, 2160, 24, 5500, 2250],
        [3840, 2160, 25, 5280, 2250],
        [3840, 2160, 30, 4400, 2250],
        [3840, 2160, 50, 5280, 2250],
        [3840, 2160, 60, 4400, 2250],
        [3840, 2160, 100, 5280, 2250],
        [3840, 2160, 120, 4400, 2250],
        [4096, 2160, 24, 5500, 2250],
        [4096, 2160, 25, 5280, 2250],
        [4096, 2160, 30, 4400, 2250],
        [4096, 2160, 50, 5280, 2250],
        [4096, 2160, 60, 4400, 2250],
        [7680, 4320, 24, 11000, 4500],
        [7680, 4320, 25, 10800, 4400],
        [7680, 4320, 30, 9000, 4400],
        [7680, 4320, 50, 10800, 4400],
        [7680, 4320, 60, 9000, 4400],
    ];

    /**
     * @param  string  $rule  cta, cvt-rb or cvt-rb2
     * @param  int  $clock  hertz
     * @param  float  $refresh  Hz that come of it
     */
    private function __construct(
        public string $rule,
        public int $totalWidth,
        public int $totalHeight,
        public int $clock,
        public float $refresh,
    ) {
    }

    /**
     * @param  string  $rule  auto takes CTA-861 where it has the raster at the rate, else reduced blanking 2
     * @return self|null null where the rule does not have it
     */
    public static function of(int $width, int $height, float $refresh, string $rule = 'auto'): ?self
    {
        return match ($rule) {
            'cta' => self::cta($width, $height, $refresh),
            'cvt-rb' => self::reduced($width, $height, $refresh, 1),
            'cvt-rb2' => self::reduced($width, $height, $refresh, 2),
            default => self::cta($width, $height, $refresh) ?? self::reduced($width, $height, $refresh, 2),
        };
    }

    /** Rates of 1000/1001 have the same line and frame, with a clock that much lower. */
    private static function cta(int $width, int $height, float $refresh): ?self
    {
        foreach (self::CTA as [$w, $h, $rate, $line, $frame]) {
            if ($w !== $width || $h !== $height) {
                continue;
            }
            foreach ([1.0, 1000 / 1001] as $factor) {
                if (abs($refresh - $rate * $factor) < 0.006) {
                    return new self(
                        'cta',
                        $line,
                        $frame,
                        (int) round($line * $frame * $rate * $factor),
                        $rate * $factor,
                    );
                }
            }
        }

        return null;
    }

    /**
     * A vertical blanking of 460 µs at least; version 1: 160 px across, a clock in steps of 250 kHz; version 2: 80
     * px, 1 kHz.
     */
    private static function reduced(int $width, int $height, float $refresh, int $version): ?self
    {
        $cell = $version === 1 ? 8 : 1;
        $across = intdiv($width, $cell) * $cell;
        $free = 1e6 / $refresh - 460;
        if ($across < 1 || $free <= 0) {
            return null;
        }
        $blank = Pixels::floor(460 / ($free / $height)) + 1;
        // Front porch 3, sync by the shape of the picture, back porch 6; version 2: 1, 8 and 6.
        $least = $version === 1 ? 3 + self::sync($width, $height) + 6 : 1 + 8 + 6;
        $total = $height + max($blank, $least);
        $line = $across + ($version === 1 ? 160 : 80);
        $step = $version === 1 ? 250_000 : 1000;
        // Not a step less where the product is one but for rounding.
        $clock = Pixels::floor(($refresh * $total * $line) / $step) * $step;

        return $clock < 1
            ? null
            : new self($version === 1 ? 'cvt-rb' : 'cvt-rb2', $line, $total, $clock, $clock / $total / $line);
    }

    /** Lines of the vertical sync, by the shape of the picture in cells of 8 px. */
    private static function sync(int $width, int $height): int
    {
        foreach ([[4, 3, 4], [16, 9, 5], [16, 10, 6], [5, 4, 7], [15, 9, 7]] as [$a, $b, $lines]) {
            if (8 * intdiv(intdiv($height * $a, $b), 8) === $width) {
                return $lines;
            }
        }

        return 10;
    }

    /** The rule in words, as its publishers call it. */
    public function inWords(): string
    {
        return ['cta' => 'CTA-861', 'cvt-rb' => 'CVT reduced blanking', 'cvt-rb2' => 'CVT reduced blanking 2'][
            $this->rule
        ];
    }
}

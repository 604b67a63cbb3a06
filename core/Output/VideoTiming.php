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

    /**
     * By their codes (VIC; of those that differ in the shape of the pixel or are sent in fields, one): width, height,
     * rate, and pixels of a whole line and lines of a whole frame.
     */
    private const CTA = [
        1 => [640, 480, 60, 800, 525],
        3 => [720, 480, 60, 858, 525],
        48 => [720, 480, 120, 858, 525],
        18 => [720, 576, 50, 864, 625],
        44 => [720, 576, 100, 864, 625],
        60 => [1280, 720, 24, 3300, 750],
        61 => [1280, 720, 25, 3960, 750],
        62 => [1280, 720, 30, 3300, 750],
        108 => [1280, 720, 48, 2500, 750],
        19 => [1280, 720, 50, 1980, 750],
        4 => [1280, 720, 60, 1650, 750],
        41 => [1280, 720, 100, 1980, 750],
        47 => [1280, 720, 120, 1650, 750],
        79 => [1680, 720, 24, 3300, 750],
        80 => [1680, 720, 25, 3168, 750],
        81 => [1680, 720, 30, 2640, 750],
        110 => [1680, 720, 48, 2750, 750],
        82 => [1680, 720, 50, 2200, 750],
        83 => [1680, 720, 60, 2200, 750],
        84 => [1680, 720, 100, 2000, 825],
        85 => [1680, 720, 120, 2000, 825],
        32 => [1920, 1080, 24, 2750, 1125],
        33 => [1920, 1080, 25, 2640, 1125],
        34 => [1920, 1080, 30, 2200, 1125],
        111 => [1920, 1080, 48, 2750, 1125],
        31 => [1920, 1080, 50, 2640, 1125],
        16 => [1920, 1080, 60, 2200, 1125],
        64 => [1920, 1080, 100, 2640, 1125],
        63 => [1920, 1080, 120, 2200, 1125],
        86 => [2560, 1080, 24, 3750, 1100],
        87 => [2560, 1080, 25, 3200, 1125],
        88 => [2560, 1080, 30, 3520, 1125],
        113 => [2560, 1080, 48, 3750, 1100],
        89 => [2560, 1080, 50, 3300, 1125],
        90 => [2560, 1080, 60, 3000, 1100],
        91 => [2560, 1080, 100, 2970, 1250],
        92 => [2560, 1080, 120, 3300, 1250],
        93 => [3840, 2160, 24, 5500, 2250],
        94 => [3840, 2160, 25, 5280, 2250],
        95 => [3840, 2160, 30, 4400, 2250],
        114 => [3840, 2160, 48, 5500, 2250],
        96 => [3840, 2160, 50, 5280, 2250],
        97 => [3840, 2160, 60, 4400, 2250],
        117 => [3840, 2160, 100, 5280, 2250],
        118 => [3840, 2160, 120, 4400, 2250],
        98 => [4096, 2160, 24, 5500, 2250],
        99 => [4096, 2160, 25, 5280, 2250],
        100 => [4096, 2160, 30, 4400, 2250],
        115 => [4096, 2160, 48, 5500, 2250],
        101 => [4096, 2160, 50, 5280, 2250],
        102 => [4096, 2160, 60, 4400, 2250],
        218 => [4096, 2160, 100, 5280, 2250],
        219 => [4096, 2160, 120, 4400, 2250],
        121 => [5120, 2160, 24, 7500, 2200],
        122 => [5120, 2160, 25, 7200, 2200],
        123 => [5120, 2160, 30, 6000, 2200],
        124 => [5120, 2160, 48, 6250, 2475],
        125 => [5120, 2160, 50, 6600, 2250],
        126 => [5120, 2160, 60, 5500, 2250],
        127 => [5120, 2160, 100, 6600, 2250],
        193 => [5120, 2160, 120, 5500, 2250],
        194 => [7680, 4320, 24, 11000, 4500],
        195 => [7680, 4320, 25, 10800, 4400],
        196 => [7680, 4320, 30, 9000, 4400],
        197 => [7680, 4320, 48, 11000, 4500],
        198 => [7680, 4320, 50, 10800, 4400],
        199 => [7680, 4320, 60, 9000, 4400],
        200 => [7680, 4320, 100, 10560, 4500],
        201 => [7680, 4320, 120, 8800, 4500],
        210 => [10240, 4320, 24, 12500, 4950],
        211 => [10240, 4320, 25, 13500, 4400],
        212 => [10240, 4320, 30, 11000, 4500],
        213 => [10240, 4320, 48, 12500, 4950],
        214 => [10240, 4320, 50, 13500, 4400],
        215 => [10240, 4320, 60, 11000, 4500],
        216 => [10240, 4320, 100, 13200, 4500],
        217 => [10240, 4320, 120, 11000, 4500],
    ];

    /**
     * @param  string  $rule  cta, cvt-rb or cvt-rb2
     * @param  int  $clock  hertz
     * @param  float  $refresh  Hz that come of it
     * @param  int|null  $vic  code of the format, where CTA-861 lists it
     */
    private function __construct(
        public string $rule,
        public int $totalWidth,
        public int $totalHeight,
        public int $clock,
        public float $refresh,
        public ?int $vic = null,
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

    /** Multiples of 6 Hz are sent at 1000/1001 of it as well, with the same line and frame and a clock that much lower. */
    private static function cta(int $width, int $height, float $refresh): ?self
    {
        foreach (self::CTA as $vic => [$w, $h, $rate, $line, $frame]) {
            if ($w !== $width || $h !== $height) {
                continue;
            }
            foreach ($rate % 6 === 0 ? [1.0, 1000 / 1001] : [1.0] as $factor) {
                if (abs($refresh - $rate * $factor) < 0.006) {
                    return new self(
                        'cta',
                        $line,
                        $frame,
                        (int) round($line * $frame * $rate * $factor),
                        $rate * $factor,
                        $vic,
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
        return [
            'cta' => "CTA-861, VIC $this->vic",
            'cvt-rb' => 'CVT reduced blanking',
            'cvt-rb2' => 'CVT reduced blanking 2',
        ][$this->rule];
    }
}

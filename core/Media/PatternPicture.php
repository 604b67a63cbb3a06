<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\Flicks;
use Core\Units\Pixels;

/**
 * One frame of a pattern: what is there at any place of it, the same for the same frame everywhere. The shader of
 * players says the same (`resources/js/live/pattern.ts`). Colours are display-encoded, opaque.
 */
final readonly class PatternPicture
{
    /** How far from the right and lower edge the last place is that still belongs to it, in pixels. */
    private const WITHIN = 1e-3;

    /**
     * @param  float  $time  seconds since its first frame
     * @param  array{float, float, float}  $front  red, green, blue, 0 to 1
     * @param  array{float, float, float}  $back
     * @param  float  $size  pixels
     * @param  float  $angle  radians, clockwise
     * @param  TextGrid|null  $text  what is written on this frame
     */
    private function __construct(
        public Pattern $pattern,
        public int $width,
        public int $height,
        public float $time,
        public array $front,
        public array $back,
        public float $size,
        public float $angle,
        public float $speed,
        public float $density,
        public float $softness,
        public int $seed,
        public ?TextGrid $text = null,
    ) {
    }

    /**
     * @param  int  $flicksPerFrame  of the show
     * @param  \Closure(string): float  $value  of the media, by name, with the slot of a colour as in `front#1`
     * @param  TextGrid|null  $text  of the pattern that is one
     */
    public static function of(
        Pattern $pattern,
        int $width,
        int $height,
        int $frame,
        int $flicksPerFrame,
        \Closure $value,
        ?TextGrid $text = null,
    ): self {
        $colour = static fn (string $name): array => [$value($name), $value("$name#1"), $value("$name#2")];

        $time = ($frame * $flicksPerFrame) / Flicks::PER_SECOND;

        return new self(
            $pattern,
            $width,
            $height,
            $time,
            $colour('front'),
            $colour('back'),
            max(1.0, $value('size')),
            deg2rad(fmod($value('angle'), 360)),
            $value('speed'),
            $value('density'),
            $value('softness'),
            (int) floor($value('seed')),
            $pattern === Pattern::Countdown ? self::clock($value('from') - $time * $value('speed')) : $text,
        );
    }

    /** @return array{float, float, float, float} red, green, blue, alpha, 0 to 1 */
    public function sample(float $u, float $v): array
    {
        $x = max(0.0, min($this->width - self::WITHIN, $u * $this->width));
        $y = max(0.0, min($this->height - self::WITHIN, $v * $this->height));
        if ($this->pattern === Pattern::Bars) {
            // White, yellow, cyan, green, magenta, red, blue, black.
            $i = (int) floor(($x / $this->width) * 8);

            return [$i % 4 < 2 ? 1.0 : 0.0, $i < 4 ? 1.0 : 0.0, $i % 2 === 0 ? 1.0 : 0.0, 1.0];
        }
        if ($this->pattern === Pattern::Ramp) {
            // Red, green, blue and white, one below another.
            $i = (int) floor(($y / $this->height) * 4);
            $m = $x / $this->width;

            return [$i === 0 || $i === 3 ? $m : 0.0, $i === 1 || $i === 3 ? $m : 0.0, $i >= 2 ? $m : 0.0, 1.0];
        }
        $m = $this->amount($x, $y);
        $mix = fn (int $c): float => $this->back[$c] + ($this->front[$c] - $this->back[$c]) * $m;

        return [$mix(0), $mix(1), $mix(2), 1.0];
    }

    /** All of it, pixel by pixel. */
    public function rendered(): Picture
    {
        $bytes = '';
        for ($y = 0; $y < $this->height; $y++) {
            for ($x = 0; $x < $this->width; $x++) {
                [$r, $g, $b] = $this->sample(($x + 0.5) / $this->width, ($y + 0.5) / $this->height);
                $bytes .= pack('C4', (int) round(255 * $r), (int) round(255 * $g), (int) round(255 * $b), 255);
            }
        }

        return Picture::of($this->width, $this->height, $bytes);
    }

    /** How much of the front colour is at a place, 0 to 1. */
    private function amount(float $x, float $y): float
    {
        [$s, $t] = [$this->size, $this->time * $this->speed];
        [$c, $n] = [cos($this->angle), sin($this->angle)];
        [$dx, $dy] = [$x - $this->width / 2, $y - $this->height / 2];
        // Along the angle, and across it.
        [$along, $across] = [$c * $dx + $n * $dy, $c * $dy - $n * $dx];
        $length = abs($this->width * $c) + abs($this->height * $n);

        return match ($this->pattern) {
            Pattern::Grid => self::mod(floor($x), floor($s)) < 1 || self::mod(floor($y), floor($s)) < 1 ? 1.0 : 0.0,
            Pattern::Checker => self::mod(floor($x / $s) + floor($y / $s), 2),
            Pattern::Gradient => 1 - abs(self::mod(0.5 + $along / $length + $t / 10, 2) - 1),
            Pattern::Noise => $this->noise($x / $s, $y / $s, $t),
            Pattern::Sweep => ($at = $along + $length / 2 - (self::fract($t / 4) * ($length + $s) - $s)) >= 0 &&
            $at < $s
                ? 1.0
                : 0.0,
            Pattern::Flash => self::fract($t) < 0.079 ? 1.0 : 0.0,
            Pattern::Particles => $this->particles($along / $s - $t, $across / $s),
            Pattern::Lines => $this->line(self::fract($along / $s - $t)),
            Pattern::Waves => (0.5 +
                0.5 * sin(2 * M_PI * ($across / $s + 0.35 * sin(2 * M_PI * ($along / (2.7 * $s) - $t / 4))))) **
                (1 + 7 * (1 - $this->density)),
            Pattern::Shapes => $this->shapes($dx, $dy, $t),
            Pattern::Blocks => $this->blocks((int) floor($x), (int) floor($y), (int) floor($s)),
            Pattern::Text, Pattern::Countdown => $this->lettered((int) floor($x), (int) floor($y)),
            default => 0.0,
        };
    }

    /** A smooth landscape over a lattice of chance, that changes with time. */
    private function noise(float $x, float $y, float $z): float
    {
        [$ix, $iy, $iz] = [floor($x), floor($y), floor($z)];
        [$fx, $fy, $fz] = [self::smooth($x - $ix), self::smooth($y - $iy), self::smooth($z - $iz)];
        $at = fn (int $dx, int $dy, int $dz): float => $this->chance((int) $ix + $dx, (int) $iy + $dy, (int) $iz + $dz);
        $row = static fn (float $a, float $b): float => $a + ($b - $a) * $fx;
        $plane = static fn (int $dz): float => ($a = $row($at(0, 0, $dz), $at(1, 0, $dz))) +
            ($row($at(0, 1, $dz), $at(1, 1, $dz)) - $a) * $fy;

        return ($a = $plane(0)) + ($plane(1) - $a) * $fz;
    }

    /** Round specks, at most one in each square of a lattice that drifts. */
    private function particles(float $x, float $y): float
    {
        [$ix, $iy] = [(int) floor($x), (int) floor($y)];
        $most = 0.0;
        for ($j = -1; $j <= 1; $j++) {
            for ($i = -1; $i <= 1; $i++) {
                [$cx, $cy] = [$ix + $i, $iy + $j];
                if ($this->chance($cx, $cy, 0) >= $this->density) {
                    continue;
                }
                $radius = 0.1 + 0.3 * $this->chance($cx, $cy, 1);
                $d =
                    hypot(
                        $x - $cx - 0.2 - 0.6 * $this->chance($cx, $cy, 2),
                        $y - $cy - 0.2 - 0.6 * $this->chance($cx, $cy, 3),
                    ) / $radius;
                $most = max($most, $this->edge($d));
            }
        }

        return $most;
    }

    /** Some discs that wander round the middle. */
    private function shapes(float $x, float $y, float $t): float
    {
        $most = 0.0;
        for ($k = 0; $k < 8; $k++) {
            if ($k >= 1 + 7 * $this->density) {
                break;
            }
            $phase = fn (int $n): float => 2 * M_PI * $this->chance($k, $n, 7);
            $cx = 0.4 * $this->width * sin($t * (0.2 + 0.3 * $this->chance($k, 2, 7)) + $phase(0));
            $cy = 0.4 * $this->height * sin($t * (0.2 + 0.3 * $this->chance($k, 3, 7)) + $phase(1));
            $most = max($most, $this->edge(hypot($x - $cx, $y - $cy) / $this->size));
        }

        return $most;
    }

    /** Squares, every other one a quarter lit, each with its number in reading order, half as wide as the square. */
    private function blocks(int $x, int $y, int $size): float
    {
        [$column, $row] = [intdiv($x, $size), intdiv($y, $size)];
        $number = (string) ($row * Pixels::ceil($this->width / $size) + $column + 1);
        $wide = Lettering::width($number);
        $dot = intdiv($size, 2 * $wide);
        if ($dot > 0) {
            $dx = $x - $column * $size - intdiv($size - $wide * $dot, 2);
            $dy = $y - $row * $size - intdiv($size - Lettering::HEIGHT * $dot, 2);
            [$px, $py] = [intdiv($dx, $dot), intdiv($dy, $dot)];
            if (
                $dx >= 0 &&
                $dy >= 0 &&
                $px < $wide &&
                Lettering::isLit(
                    Lettering::bits($number[intdiv($px, Lettering::ADVANCE)]),
                    $px % Lettering::ADVANCE,
                    $py,
                )
            ) {
                return 1.0;
            }
        }

        return ($column + $row) % 2 === 1 ? 0.25 : 0.0;
    }

    /** Signs in the middle, as high as the size. */
    private function lettered(int $x, int $y): float
    {
        $text = $this->text;
        if ($text === null) {
            return 0.0;
        }
        $dot = max(1, intdiv((int) floor($this->size), Lettering::HEIGHT));
        [$wide, $high] = $text->size();
        // Rounded down on both sides of nought.
        $dx = $x - Pixels::floor(($this->width - $wide * $dot) / 2);
        $dy = $y - Pixels::floor(($this->height - $high * $dot) / 2);

        return $dx >= 0 && $dy >= 0 && $text->isLit(intdiv($dx, $dot), intdiv($dy, $dot)) ? 1.0 : 0.0;
    }

    /** Minutes and seconds that are left, so that there is nought when nothing is left. */
    private static function clock(float $seconds): TextGrid
    {
        $left = (int) max(0, min(5999, ceil($seconds - self::WITHIN)));

        return TextGrid::of(sprintf('%02d:%02d', intdiv($left, 60), $left % 60));
    }

    /** A stripe of each period, as wide as the density says. */
    private function line(float $at): float
    {
        $half = $this->density / 2;

        return $half <= 0 ? 0.0 : $this->edge(abs($at - 0.5) / $half);
    }

    /** From 1 in the middle to 0 at a distance of 1, the softer the earlier it begins to fall. */
    private function edge(float $distance): float
    {
        $from = 1 - $this->softness;

        return match (true) {
            $distance >= 1 => 0.0,
            $distance <= $from => 1.0,
            default => 1 - self::smooth(($distance - $from) / (1 - $from)),
        };
    }

    private static function smooth(float $t): float
    {
        return $t * $t * (3 - 2 * $t);
    }

    private static function fract(float $x): float
    {
        return $x - floor($x);
    }

    private static function mod(float $x, float $by): float
    {
        return $x - $by * floor($x / $by);
    }

    private function chance(int $x, int $y, int $z): float
    {
        return Chance::of($x, $y, $z, $this->seed);
    }
}

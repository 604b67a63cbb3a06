<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;
use Core\Units\Check;
use Core\Units\Refused;

/**
 * A face to project on: flat, a box of some of its sides, or a drum. Its raster follows from its size along the face and its
 * pixels per metre.
 */
final readonly class Face implements Carrier
{
    public const KINDS = ['flat', 'box', 'drum'];

    public const SIDES = ['left', 'front', 'right', 'back'];

    /** Degrees of a drum that one flat strip of its mesh takes at most. */
    private const STRIP = 3.0;

    /**
     * @param  list<array{float, float, float, float}>  $strip  from left to right as seen from the front: x and z where the face stands, distance along it, and the share of its width there
     */
    private function __construct(
        public string $kind,
        public float $width,
        public float $height,
        private array $strip,
        private int $rasterWidth,
        private int $rasterHeight,
        private string $words,
    ) {
    }

    /**
     * @param  array<string, mixed>  $shape  width, height (m), pixelsPerMetre; for a box depth and sides ("left,front,right"); for a drum radius and arc (degrees)
     */
    public static function fromRow(string $kind, array $shape): self
    {
        $number = static function (string $name, float $usual, float $least, float $most, string $unit) use ($shape): float {
            $value = $shape[$name] ?? $usual;

            return Check::number($name, is_int($value) || is_float($value) ? (float) $value : throw Refused::notANumber($name), $least, $most, $unit);
        };
        $height = $number('height', 3, 0.01, 500, 'm');
        $density = $number('pixelsPerMetre', 100, 1, 5000, 'px/m');

        return match ($kind) {
            'flat' => self::make('flat', self::straight($number('width', 4, 0.01, 1000, 'm')), $height, $density, sprintf('Flat face, %s × %s m', self::short($number('width', 4, 0.01, 1000, 'm')), self::short($height))),
            'box' => self::box($number('width', 4, 0.01, 1000, 'm'), $number('depth', 2, 0.01, 1000, 'm'), $height, $density, (string) ($shape['sides'] ?? 'left,front,right')),
            'drum' => self::drum($number('radius', 2, 0.05, 500, 'm'), $number('arc', 180, 1, 360, 'degrees'), $height, $density),
            default => throw Refused::notOneOf('kind', $kind, ['wall', ...self::KINDS]),
        };
    }

    /** @return list<array{float, float, float}> x, z, distance along */
    private static function straight(float $width): array
    {
        return [[-$width / 2, 0.0, 0.0], [$width / 2, 0.0, $width]];
    }

    private static function box(float $width, float $depth, float $height, float $density, string $sides): self
    {
        $wanted = array_map(trim(...), explode(',', $sides));
        if ($wanted === [''] || array_diff($wanted, self::SIDES) !== []) {
            throw Refused::because('sides', 'The sides of a box are some of '.implode(', ', self::SIDES).', with commas between them.');
        }
        // The sides that are wanted, in the order in which one walks round from house left; each starts where it stands.
        [$w, $d] = [$width / 2, $depth];
        $ends = ['left' => [[-$w, -$d], [-$w, 0.0]], 'front' => [[-$w, 0.0], [$w, 0.0]], 'right' => [[$w, 0.0], [$w, -$d]], 'back' => [[$w, -$d], [-$w, -$d]]];
        [$points, $along] = [[], 0.0];
        foreach (self::SIDES as $side) {
            if (! in_array($side, $wanted, true)) {
                continue;
            }
            [[$x0, $z0], [$x1, $z1]] = $ends[$side];
            $points[] = [$x0, $z0, $along];
            $along += hypot($x1 - $x0, $z1 - $z0);
            $points[] = [$x1, $z1, $along];
        }

        return self::make('box', $points, $height, $density, sprintf('Box, %s × %s × %s m, %s', self::short($width), self::short($depth), self::short($height), implode(' ', $wanted)), true);
    }

    private static function drum(float $radius, float $arc, float $height, float $density): self
    {
        $strips = max(2, (int) ceil($arc / self::STRIP));
        $points = [];
        for ($i = 0; $i <= $strips; $i++) {
            $angle = deg2rad($arc * ($i / $strips - 0.5));
            // The front of the drum stands at the origin, so that it is placed by what is seen of it.
            $points[] = [$radius * sin($angle), $radius * (cos($angle) - 1), $radius * deg2rad($arc) * $i / $strips];
        }

        return self::make('drum', $points, $height, $density, sprintf('Drum, radius %s m, %s°, %s m high', self::short($radius), self::short($arc), self::short($height)));
    }

    /** @param  list<array{float, float, float}>  $points */
    private static function make(string $kind, array $points, float $height, float $density, string $words, bool $pairs = false): self
    {
        $width = $points[count($points) - 1][2];
        $px = max(1, (int) round($width * $density));
        $py = max(1, (int) round($height * $density));
        Check::whole('pixelsPerMetre', $px, 1, Check::MOST_PIXELS * 4, 'px wide');
        Check::whole('pixelsPerMetre', $py, 1, Check::MOST_PIXELS * 4, 'px high');
        $strip = array_map(static fn (array $p): array => [$p[0], $p[1], $p[2], $p[2] / $width], $points);
        if (! $pairs) {
            // Joined strips: each inner point ends one quad and begins the next.
            $joined = [];
            for ($i = 0; $i < count($strip) - 1; $i++) {
                array_push($joined, $strip[$i], $strip[$i + 1]);
            }
            $strip = $joined;
        }

        return new self($kind, $width, $height, $strip, $px, $py, $words);
    }

    public function rasterWidth(): int
    {
        return $this->rasterWidth;
    }

    public function rasterHeight(): int
    {
        return $this->rasterHeight;
    }

    public function area(): float
    {
        return $this->width * $this->height;
    }

    public function inWords(): string
    {
        return $this->words;
    }

    public function mesh(): Mesh
    {
        [$positions, $uvs, $indices] = [[], [], []];
        for ($i = 0; $i < count($this->strip); $i += 2) {
            [$a, $b] = [$this->strip[$i], $this->strip[$i + 1]];
            $first = intdiv(count($positions), 3);
            foreach ([[$a, $this->height, 0.0], [$a, 0.0, 1.0], [$b, 0.0, 1.0], [$b, $this->height, 0.0]] as [$p, $y, $v]) {
                array_push($positions, $p[0], $y, $p[1]);
                array_push($uvs, $p[3], $v);
            }
            array_push($indices, $first, $first + 1, $first + 2, $first, $first + 2, $first + 3);
        }

        return Mesh::of($positions, $uvs, $indices);
    }

    private static function short(float $number): string
    {
        return rtrim(rtrim(sprintf('%.2f', $number), '0'), '.');
    }
}

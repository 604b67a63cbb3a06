<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\MeshMaker;
use Core\Geometry\Vec3;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A face to project on: flat, a box of some of its sides, a drum, drums standing on one another, a dome, or a back
 * face with reliefs and openings at other depths. Its raster follows from its size along the face and its pixels per
 * metre, or is given.
 */
final readonly class Face implements Carrier
{
    use FlatCarrier;

    public const KINDS = ['flat', 'box', 'drum', 'drums', 'dome', 'relief'];

    public const SIDES = ['left', 'front', 'right', 'back'];

    /** Names of its settings. */
    public const SETTINGS = [
        'pixelsPerMetre',
        'rasterWidth',
        'rasterHeight',
        'width',
        'height',
        'depth',
        'sides',
        'radius',
        'arc',
        'tiers',
        'tilt',
        'outside',
    ];

    /** Degrees that one flat strip of a round mesh takes at most. */
    private const STRIP = 3.0;

    /**
     * @param  (\Closure(float, float): ?array{float, float, float})|null  $shape  the true place of a place of the
     *     raster, where the mesh only comes near it
     * @param  list<float>  $breaks  v at which the shape jumps
     */
    private function __construct(
        public string $kind,
        private Mesh $mesh,
        private float $area,
        private int $rasterWidth,
        private int $rasterHeight,
        private string $words,
        private ?\Closure $shape = null,
        private array $breaks = [],
        private ?Round $round = null,
    ) {
    }

    /**
     * @param  array<string, mixed>  $shape  pixelsPerMetre, or rasterWidth and rasterHeight (px); then in metres and
     *     degrees: flat and
     *                                       relief: width, height; box: width, depth, height, sides
     *                                       ("left,front,right"); drum: radius, arc, height; drums: tiers
     *                                       ("radius × height; …" from the floor), arc; dome: radius, arc (of the
     *                                       whole opening), tilt, outside
     * @param  mixed  $reliefs  see Reliefs::of()
     */
    public static function fromRow(string $kind, array $shape, mixed $reliefs = []): self
    {
        $s = new Settings($shape);
        $height = $s->number('height', 3, 0.01, 500, 'm');
        $width = $s->number('width', 4, 0.01, 1000, 'm');

        return match ($kind) {
            'flat' => self::strips(
                'flat',
                $s,
                [[[-$width / 2, 0.0, 0.0], [$width / 2, 0.0, $width]]],
                $height,
                sprintf('Flat face, %s × %s m', self::short($width), self::short($height)),
            ),
            'box' => self::box($s, $width, $s->number('depth', 2, 0.01, 1000, 'm'), $height),
            'drum' => self::drum(
                $s,
                $s->number('radius', 2, 0.05, 500, 'm'),
                $s->number('arc', 180, 1, 360, 'degrees'),
                $height,
            ),
            'drums' => self::drums(
                $s,
                self::tiers($s->text('tiers', '2 × 3; 1.5 × 2')),
                $s->number('arc', 180, 1, 360, 'degrees'),
            ),
            'dome' => self::dome(
                $s,
                $s->number('radius', 4, 0.05, 500, 'm'),
                $s->number('arc', 180, 1, 360, 'degrees'),
                $s->number('tilt', 0, -180, 180, 'degrees'),
                $s->flag('outside'),
            ),
            'relief' => self::relief($s, $width, $height, Reliefs::of($reliefs)),
            default => throw InvalidValue::notOneOf('kind', $kind, ['wall', ...self::KINDS, 'model', 'light']),
        };
    }

    private static function box(Settings $s, float $width, float $depth, float $height): self
    {
        $wanted = array_map(trim(...), explode(',', $s->text('sides', 'left,front,right')));
        if ($wanted === [''] || array_diff($wanted, self::SIDES) !== []) {
            throw InvalidValue::because(
                'sides',
                'The sides of a box are some of '.implode(', ', self::SIDES).', with commas between them.',
            );
        }
        // The sides that are wanted, in the order in which one walks round from house left; each starts where it
        // stands.
        [$w, $d] = [$width / 2, $depth];
        $ends = [
            'left' => [[-$w, -$d], [-$w, 0.0]],
            'front' => [[-$w, 0.0], [$w, 0.0]],
            'right' => [[$w, 0.0], [$w, -$d]],
            'back' => [[$w, -$d], [-$w, -$d]],
        ];
        [$strips, $along] = [[], 0.0];
        foreach (self::SIDES as $side) {
            if (! in_array($side, $wanted, true)) {
                continue;
            }
            [[$x0, $z0], [$x1, $z1]] = $ends[$side];
            $length = hypot($x1 - $x0, $z1 - $z0);
            $strips[] = [[$x0, $z0, $along], [$x1, $z1, $along + $length]];
            $along += $length;
        }

        if ($strips === []) {
            throw InvalidValue::because('sides', 'A box needs one side at least.');
        }

        return self::strips(
            'box',
            $s,
            $strips,
            $height,
            sprintf(
                'Box, %s × %s × %s m, %s',
                self::short($width),
                self::short($depth),
                self::short($height),
                implode(' ', $wanted),
            ),
        );
    }

    private static function drum(Settings $s, float $radius, float $arc, float $height): self
    {
        return self::strips(
            'drum',
            $s,
            self::round($radius, $arc),
            $height,
            sprintf('Drum, radius %s m, %s°, %s m high', self::short($radius), self::short($arc), self::short($height)),
            static function (float $u, float $v) use ($radius, $arc, $height): array {
                $angle = deg2rad($arc * ($u - 0.5));

                return [$radius * sin($angle), $height * (1 - $v), $radius * (cos($angle) - 1)];
            },
            self::axis($radius, $radius * deg2rad($arc)),
        );
    }

    /** Drums that are so many metres wide along the widest face, whose front is at the origin. */
    private static function axis(float $radius, float $across): Round
    {
        return new Round(false, Mat4::translation(Vec3::of(0, 0, -$radius)), $across);
    }

    /**
     * The front of a drum stands at the origin, so that it is placed by what is seen of it.
     *
     * @return non-empty-list<array{array{float, float, float}, array{float, float, float}}> strips: x, z and distance
     *     along of both ends
     */
    private static function round(float $radius, float $arc): array
    {
        $n = max(2, (int) ceil($arc / self::STRIP));
        $point = static function (int $i) use ($radius, $arc, $n): array {
            $angle = deg2rad($arc * ($i / $n - 0.5));

            return [$radius * sin($angle), $radius * (cos($angle) - 1), ($radius * deg2rad($arc) * $i) / $n];
        };

        return array_map(static fn (int $i): array => [$point($i), $point($i + 1)], range(0, $n - 1));
    }

    /**
     * @param  non-empty-list<array{array{float, float, float}, array{float, float, float}}>  $strips
     * @param  (\Closure(float, float): ?array{float, float, float})|null  $shape
     */
    private static function strips(
        string $kind,
        Settings $s,
        array $strips,
        float $height,
        string $words,
        ?\Closure $shape = null,
        ?Round $round = null,
    ): self {
        $width = $strips[count($strips) - 1][1][2];
        $m = new MeshMaker();
        foreach ($strips as [$a, $b]) {
            $m->add(
                [$a[0], $height, $a[1], $a[2] / $width, 0.0],
                [$a[0], 0.0, $a[1], $a[2] / $width, 1.0],
                [$b[0], 0.0, $b[1], $b[2] / $width, 1.0],
                [$b[0], $height, $b[1], $b[2] / $width, 0.0],
            );
        }

        return self::make($kind, $s, $m->mesh(), $width, $height, $width * $height, $words, $shape, [], $round);
    }

    /** @return non-empty-list<array{float, float}> radius and height, from the floor up */
    private static function tiers(string $text): array
    {
        $tiers = [];
        foreach (explode(';', $text) as $i => $tier) {
            if (preg_match('/^\s*(\d+(?:\.\d+)?)\s*[×x*]\s*(\d+(?:\.\d+)?)\s*$/u', $tier, $m) !== 1) {
                throw InvalidValue::because(
                    'tiers',
                    'Tier '.($i + 1).' has to read "radius × height" in metres; tiers are parted by semicolons.',
                );
            }
            $tiers[] = [
                Check::number('tiers', (float) $m[1], 0.05, 500, 'm'),
                Check::number('tiers', (float) $m[2], 0.01, 500, 'm'),
            ];
        }
        if (count($tiers) > 50) {
            throw InvalidValue::because('tiers', 'At most 50 drums stand on one another.');
        }

        return $tiers;
    }

    /**
     * Every drum is as wide in the raster as along its face, from the middle, so that pixels are square on all of them.
     *
     * @param  non-empty-list<array{float, float}>  $tiers
     */
    private static function drums(Settings $s, array $tiers, float $arc): self
    {
        [$widest, $height] = [max(array_column($tiers, 0)), array_sum(array_column($tiers, 1))];
        $across = $widest * deg2rad($arc);
        $m = new MeshMaker();
        [$bottom, $area] = [0.0, 0.0];
        foreach ($tiers as [$radius, $high]) {
            $own = $radius * deg2rad($arc);
            $area += $own * $high;
            $u = static fn (float $along): float => 0.5 + ($along - $own / 2) / $across;
            [$v0, $v1] = [1 - ($bottom + $high) / $height, 1 - $bottom / $height];
            foreach (self::round($radius, $arc) as [$a, $b]) {
                // All stand on one axis: the widest one's front is at the origin.
                [$az, $bz, $top] = [$a[1] + $radius - $widest, $b[1] + $radius - $widest, $bottom + $high];
                $m->add(
                    [$a[0], $top, $az, $u($a[2]), $v0],
                    [$a[0], $bottom, $az, $u($a[2]), $v1],
                    [$b[0], $bottom, $bz, $u($b[2]), $v1],
                    [$b[0], $top, $bz, $u($b[2]), $v0],
                );
            }
            $bottom += $high;
        }

        $breaks = [];
        for ($bottom = 0.0, $i = 0; $i < count($tiers) - 1; $i++) {
            $bottom += $tiers[$i][1];
            array_unshift($breaks, 1 - $bottom / $height);
        }
        $shape = static function (float $u, float $v) use ($tiers, $arc, $across, $height, $widest): ?array {
            [$y, $bottom] = [$height * (1 - $v), 0.0];
            foreach ($tiers as $i => [$radius, $high]) {
                if ($y >= $bottom + $high && $i < count($tiers) - 1) {
                    $bottom += $high;

                    continue;
                }
                $angle = (($u - 0.5) * $across) / $radius;

                return abs($angle) > deg2rad($arc / 2) * (1 + 1e-9)
                    ? null
                    : [$radius * sin($angle), $y, $radius * cos($angle) - $widest];
            }

            return null;
        };

        return self::make(
            'drums',
            $s,
            $m->mesh(),
            $across,
            $height,
            $area,
            sprintf('%d drums, %s m high', count($tiers), self::short($height)),
            $shape,
            $breaks,
            self::axis($widest, $across),
        );
    }

    /**
     * Part of a sphere round its origin, opening toward the audience (tilt 0) or upward (tilt 90 shows its top
     * outside). In its raster, the angle from the middle grows evenly toward the edge (azimuthal equidistant), as
     * masters for domes are drawn.
     */
    private static function dome(Settings $s, float $radius, float $arc, float $tilt, bool $outside): self
    {
        $rings = max(3, (int) ceil($arc / 2 / self::STRIP));
        $spokes = 72;
        // Tilted up, the pole that one looks at rises, whichever side that is.
        $turn = deg2rad($outside ? -$tilt : $tilt);
        $point = static function (int $ring, int $spoke) use ($radius, $arc, $rings, $spokes, $turn, $outside): array {
            [$polar, $round] = [(deg2rad($arc / 2) * $ring) / $rings, (2 * M_PI * $spoke) / $spokes];
            // Before the tilt the pole lies behind (seen from within) or before (seen from outside).
            $x = $radius * sin($polar) * cos($round);
            $y = $radius * sin($polar) * sin($round);
            $z = ($outside ? 1 : -1) * $radius * cos($polar);

            return [
                $x,
                $y * cos($turn) - $z * sin($turn),
                $y * sin($turn) + $z * cos($turn),
                0.5 + ($ring / $rings / 2) * cos($round),
                0.5 - ($ring / $rings / 2) * sin($round),
            ];
        };
        $m = new MeshMaker();
        for ($k = 0; $k < $spokes; $k++) {
            $m->add($point(0, $k), $point(1, $k), $point(1, $k + 1));
            for ($r = 1; $r < $rings; $r++) {
                $m->add($point($r, $k), $point($r + 1, $k), $point($r + 1, $k + 1), $point($r, $k + 1));
            }
        }
        $across = $radius * deg2rad($arc);

        return self::make(
            'dome',
            $s,
            $m->mesh(),
            $across,
            $across,
            2 * M_PI * $radius ** 2 * (1 - cos(deg2rad($arc / 2))),
            sprintf(
                'Dome, radius %s m, %s°, tilted by %s°',
                self::short($radius),
                self::short($arc),
                self::short($tilt),
            ),
            static function (float $u, float $v) use ($radius, $arc, $turn, $outside): ?array {
                [$dx, $dy] = [$u - 0.5, 0.5 - $v];
                $from = 2 * hypot($dx, $dy);
                if ($from > 1 + 1e-9) {
                    return null;
                }
                $polar = deg2rad($arc / 2) * $from;
                $across = $from > 0 ? ($radius * sin($polar)) / ($from / 2) : 0.0;
                [$x, $y, $z] = [$across * $dx, $across * $dy, ($outside ? 1 : -1) * $radius * cos($polar)];

                return [$x, $y * cos($turn) - $z * sin($turn), $y * sin($turn) + $z * cos($turn)];
            },
            [],
            new Round(true, self::tilted($turn, $outside), deg2rad($arc), $radius),
        );
    }

    /** A dome's own place into the face's: its pole behind or before, and tilted. */
    private static function tilted(float $turn, bool $outside): Mat4
    {
        [$c, $n, $pole] = [cos($turn), sin($turn), $outside ? 1 : -1];

        return Mat4::of([1, 0, 0, 0, 0, $c, $n, 0, 0, -$n * $pole, $c * $pole, 0, 0, 0, 0, 1]);
    }

    /** @param  list<array{depth: float, points: list<array{float, float}>}>  $reliefs */
    private static function relief(Settings $s, float $width, float $height, array $reliefs): self
    {
        return self::make(
            'relief',
            $s,
            Reliefs::mesh($width, $height, $reliefs),
            $width,
            $height,
            $width * $height,
            sprintf(
                'Face with %d reliefs and openings, %s × %s m',
                count($reliefs),
                self::short($width),
                self::short($height),
            ),
        );
    }

    /**
     * @param  (\Closure(float, float): ?array{float, float, float})|null  $shape
     * @param  list<float>  $breaks
     */
    private static function make(
        string $kind,
        Settings $s,
        Mesh $mesh,
        float $width,
        float $height,
        float $area,
        string $words,
        ?\Closure $shape = null,
        array $breaks = [],
        ?Round $round = null,
    ): self {
        [$px, $py] = self::raster($s, $width, $height);

        return new self($kind, $mesh, $area, $px, $py, $words, $shape, $breaks, $round);
    }

    /**
     * The raster of a face that is so wide and high in metres.
     *
     * @return array{int, int}
     */
    public static function raster(Settings $s, float $width, float $height): array
    {
        $given = [
            $s->whole('rasterWidth', 0, 0, Check::MAX_PIXELS * 4, 'px'),
            $s->whole('rasterHeight', 0, 0, Check::MAX_PIXELS * 4, 'px'),
        ];
        if ($given[0] > 0 && $given[1] > 0) {
            return $given;
        }
        $density = $s->number('pixelsPerMetre', 100, 1, 5000, 'px/m');

        return [
            Check::whole('pixelsPerMetre', max(1, (int) round($width * $density)), 1, Check::MAX_PIXELS * 4, 'px wide'),
            Check::whole(
                'pixelsPerMetre',
                max(1, (int) round($height * $density)),
                1,
                Check::MAX_PIXELS * 4,
                'px high',
            ),
        ];
    }

    public function shape(): ?\Closure
    {
        return $this->shape;
    }

    public function roundness(): ?Round
    {
        return $this->round;
    }

    public function breaks(): array
    {
        return $this->breaks;
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
        return $this->area;
    }

    public function inWords(): string
    {
        return $this->words;
    }

    public function mesh(): Mesh
    {
        return $this->mesh;
    }

    public function triangles(): int
    {
        return $this->mesh->triangleCount();
    }

    private static function short(float $number): string
    {
        return rtrim(rtrim(sprintf('%.2f', $number), '0'), '.');
    }
}

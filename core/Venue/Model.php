<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;
use Core\Geometry\MeshMaker;
use Core\Units\InvalidValue;

/** A surface imported from a file. Until its file is read, it has its raster but no triangles. */
final readonly class Model implements Carrier
{
    use FlatCarrier;

    /** Names of its settings. */
    public const SETTINGS = ['flip', 'zUp', 'scale', 'uv', 'pixelsPerMetre', 'rasterWidth', 'rasterHeight'];

    public const UVS = ['file', 'box', 'front', 'top'];

    /** Above this many triangles UVs are not made by box, which takes each triangle's corners apart. */
    public const MAX_BY_BOX = 400_000;

    /**
     * @param  array<string, mixed>|null  $geometry
     * @param  string|null  $trouble  why there is nothing to see of it
     */
    private function __construct(
        private ?array $geometry,
        private float $scale,
        private bool $flip,
        private bool $zUp,
        private string $uv,
        private float $area,
        private int $rasterWidth,
        private int $rasterHeight,
        private string $words,
        public ?string $trouble,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  shape: rasterWidth and rasterHeight or pixelsPerMetre; scale (metres for
     *     one unit of the
     *                                     file), uv (one of UVS), flip (wind the other way), zUp; geometry, once the
     *                                     file is read: load (a closure that gives
     *                                     positions and uvs as packed little-endian 32-bit floats, indices as packed
     *                                     32-bit), least, most, area, triangles, hasUvs; modelFile:
     *                                     state and message of its file
     */
    public static function fromRow(array $row): self
    {
        $s = new Settings((array) ($row['shape'] ?? []));
        $uv = $s->choice('uv', self::UVS);
        $scale = $s->number('scale', 1, 1e-6, 1e6);
        [$flip, $zUp] = [$s->flag('flip'), $s->flag('zUp')];
        $geometry = $row['geometry'] ?? null;
        if (! is_array($geometry)) {
            [$px, $py] = Face::raster($s, 19.2, 10.8);

            return new self(
                null,
                $scale,
                $flip,
                $zUp,
                $uv,
                0.0,
                $px,
                $py,
                'Model, not read yet',
                match ((array) ($row['modelFile'] ?? []) ? $row['modelFile']['state'] : 'missing') {
                    'waiting', 'working' => 'Its model is still being read.',
                    'failed' => (string) ($row['modelFile']['message'] ?? 'Its model could not be read.'),
                    'cancelled' => 'Reading its model was stopped.',
                    default => 'Its model is not here; bring in its file.',
                },
            );
        }
        [$w, $h, $d] = array_map(
            static fn (int $axis): float => ($geometry['max'][$axis] - $geometry['min'][$axis]) * $scale,
            $zUp ? [0, 2, 1] : [0, 1, 2],
        );
        if (max(0.0, ...array_map(abs(...), [...$geometry['min'], ...$geometry['max']])) * $scale > 100_000) {
            throw InvalidValue::because('scale', 'At this scale the model reaches farther than 100 km.');
        }
        [$px, $py] = Face::raster($s, max($w, $d, 0.01), max($h, 0.01));

        return new self(
            $geometry,
            $scale,
            $flip,
            $zUp,
            $uv,
            $geometry['area'] * $scale ** 2,
            $px,
            $py,
            sprintf('Model of %s triangles, %.2f × %.2f × %.2f m', number_format($geometry['triangles']), $w, $h, $d),
            $uv !== 'front' &&
            $uv !== 'top' &&
            ! ($uv === 'file' && $geometry['hasUvs']) &&
            $geometry['triangles'] > self::MAX_BY_BOX
                ? 'It has too many triangles for UVs by box; they are thrown from the front.'
                : null,
        );
    }

    public function mesh(): Mesh
    {
        if ($this->geometry === null) {
            return Mesh::of([], [], []);
        }
        $packed = $this->geometry['load']();
        $positions = array_values(unpack('g*', (string) $packed['positions']) ?: []);
        $uvs = array_values(unpack('g*', (string) $packed['uvs']) ?: []);
        $indices = array_values(unpack('V*', (string) $packed['indices']) ?: []);
        if ($this->scale !== 1.0) {
            $positions = array_map(fn (float $p): float => $p * $this->scale, $positions);
        }
        if ($this->zUp) {
            $upright = [];
            for ($i = 0, $n = count($positions); $i < $n; $i += 3) {
                array_push($upright, $positions[$i], $positions[$i + 2], -$positions[$i + 1]);
            }
            $positions = $upright;
        }
        if ($this->flip) {
            $indices = Mesh::wound($indices);
        }
        $mesh = Mesh::of($positions, $uvs, $indices);

        return match ($this->uv === 'file' && ! $this->geometry['hasUvs'] ? 'box' : $this->uv) {
            'box' => $mesh->triangleCount() > self::MAX_BY_BOX ? self::planarUvs($mesh, 1) : self::boxUvs($mesh),
            'front' => self::planarUvs($mesh, 1),
            'top' => self::planarUvs($mesh, 2),
            default => $mesh,
        };
    }

    public function triangles(): int
    {
        return $this->geometry['triangles'] ?? 0;
    }

    /** The picture thrown straight on it, from the front (X and Y) or from above (X and Z). */
    private static function planarUvs(Mesh $mesh, int $down): Mesh
    {
        [$min, $max] = $mesh->bounds();
        [$w, $h] = [max($max[0] - $min[0], 1e-9), max($max[$down] - $min[$down], 1e-9)];
        $uvs = [];
        for ($i = 0, $n = count($mesh->positions); $i < $n; $i += 3) {
            $v = ($mesh->positions[$i + $down] - $min[$down]) / $h;
            array_push($uvs, ($mesh->positions[$i] - $min[0]) / $w, $down === 1 ? 1 - $v : $v);
        }

        return Mesh::of($mesh->positions, $uvs, $mesh->indices);
    }

    /**
     * Each triangle takes the side of the box that it faces; the six sides lie in the raster as three columns of two.
     */
    private static function boxUvs(Mesh $mesh): Mesh
    {
        [$min, $max] = $mesh->bounds();
        $m = new MeshMaker();
        // side: its column and row, and which axis goes right and which up, with their turn
        $sides = [
            [2, 0, 2, -1, 1, 1],
            [0, 0, 2, 1, 1, 1],
            [1, 1, 0, 1, 2, -1],
            [2, 1, 0, 1, 2, 1],
            [1, 0, 0, 1, 1, 1],
            [0, 1, 0, -1, 1, 1],
        ];
        for ($t = 0, $n = count($mesh->indices); $t < $n; $t += 3) {
            $p = array_map(
                static fn (int $i): array => array_slice($mesh->positions, 3 * $i, 3),
                array_slice($mesh->indices, $t, 3),
            );
            [$u, $v] = [
                [$p[1][0] - $p[0][0], $p[1][1] - $p[0][1], $p[1][2] - $p[0][2]],
                [$p[2][0] - $p[0][0], $p[2][1] - $p[0][1], $p[2][2] - $p[0][2]],
            ];
            $normal = [$u[1] * $v[2] - $u[2] * $v[1], $u[2] * $v[0] - $u[0] * $v[2], $u[0] * $v[1] - $u[1] * $v[0]];
            $axis = 0;
            foreach ([1, 2] as $k) {
                abs($normal[$k]) > abs($normal[$axis]) && ($axis = $k);
            }
            [$column, $row, $right, $rightTurn, $up, $upTurn] = $sides[2 * $axis + ($normal[$axis] < 0 ? 1 : 0)];
            $share = static function (array $p, int $axis, int $turn) use ($min, $max): float {
                $s = ($p[$axis] - $min[$axis]) / max($max[$axis] - $min[$axis], 1e-9);

                return $turn > 0 ? $s : 1 - $s;
            };
            $m->add(
                ...array_map(
                    static fn (array $q): array => [
                        $q[0],
                        $q[1],
                        $q[2],
                        ($column + $share($q, $right, $rightTurn)) / 3,
                        ($row + 1 - $share($q, $up, $upTurn)) / 2,
                    ],
                    $p,
                ),
            );
        }

        return $m->mesh();
    }

    public function trouble(): ?string
    {
        return $this->trouble;
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
}

<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Venue\Surface;

/** Where in the venue places of a surface's raster are: by its true shape where it has one, else on its triangles. */
final class SurfaceChart
{
    /** Squares of the raster along a side, each with the triangles that lie in it. */
    private const CELLS = 64;

    /** @var array<int, list<int>> triangles by square */
    private array $cells = [];

    /**
     * @param  (\Closure(float, float): ?array{float, float, float})|null  $shape
     * @param  list<float>  $xBreaks  u at which the surface has an edge or jumps
     * @param  list<float>  $yBreaks
     */
    private function __construct(
        private readonly Mesh $mesh,
        private readonly Mat4 $world,
        private readonly ?\Closure $shape,
        public readonly array $xBreaks,
        public readonly array $yBreaks,
    ) {
        if ($shape !== null) {
            return;
        }
        $cell = static fn (float $v): int => max(0, min(self::CELLS - 1, (int) ($v * self::CELLS)));
        for ($t = 0, $n = $mesh->triangleCount(); $t < $n; $t++) {
            if (! $mesh->pictured($t)) {
                continue;
            }
            [$us, $vs] = [[], []];
            for ($k = 0; $k < 3; $k++) {
                $at = $mesh->indices[3 * $t + $k];
                $us[] = $mesh->uvs[2 * $at];
                $vs[] = $mesh->uvs[2 * $at + 1];
            }
            for ($j = $cell(min($vs) - 1e-6), $bottom = $cell(max($vs) + 1e-6); $j <= $bottom; $j++) {
                for ($i = $cell(min($us) - 1e-6), $right = $cell(max($us) + 1e-6); $i <= $right; $i++) {
                    $this->cells[$j * self::CELLS + $i][] = $t;
                }
            }
        }
    }

    public static function of(Surface $surface, Mat4 $world): self
    {
        $carrier = $surface->carrier;
        $mesh = $carrier->mesh();
        $shape = $carrier->shape();
        if ($shape !== null) {
            return new self($mesh, $world, $shape, [], $carrier->breaks());
        }
        // Where a mesh is built of few strips, its lines are the edges of flat pieces.
        $lines = static function (int $axis) use ($mesh): array {
            $at = [];
            for ($i = $axis, $n = count($mesh->uvs); $i < $n; $i += 2) {
                $at[(string) round($mesh->uvs[$i], 6)] = $mesh->uvs[$i];
            }
            $at = array_values(array_filter($at, static fn (float $v): bool => $v > 1e-6 && $v < 1 - 1e-6));
            sort($at);

            return count($at) <= 40 ? $at : [];
        };

        return new self($mesh, $world, null, $lines(0), $lines(1));
    }

    /** Whether it has a true shape that its triangles only come near. */
    public function isRound(): bool
    {
        return $this->shape !== null;
    }

    /** @return array{float, float, float}|null metres in the venue; null where the surface has nothing */
    public function place(float $u, float $v): ?array
    {
        if ($this->shape !== null) {
            $p = ($this->shape)($u, $v);
        } else {
            $met = $this->met($u, $v);
            $at = $met === null ? null : $this->mesh->positions;
            [$a, $b, $c, $r, $s, $q] =
                $met === null
                    ? [0, 0, 0, 0.0, 0.0, 0.0]
                    : [
                        3 * $this->mesh->indices[3 * $met[0]],
                        3 * $this->mesh->indices[3 * $met[0] + 1],
                        3 * $this->mesh->indices[3 * $met[0] + 2],
                        1 - $met[1] - $met[2],
                        $met[1],
                        $met[2],
                    ];
            $p =
                $at === null
                    ? null
                    : [
                        $r * $at[$a] + $s * $at[$b] + $q * $at[$c],
                        $r * $at[$a + 1] + $s * $at[$b + 1] + $q * $at[$c + 1],
                        $r * $at[$a + 2] + $s * $at[$b + 2] + $q * $at[$c + 2],
                    ];
        }
        if ($p === null) {
            return null;
        }
        $m = $this->world->m;

        return [
            $m[0] * $p[0] + $m[4] * $p[1] + $m[8] * $p[2] + $m[12],
            $m[1] * $p[0] + $m[5] * $p[1] + $m[9] * $p[2] + $m[13],
            $m[2] * $p[0] + $m[6] * $p[1] + $m[10] * $p[2] + $m[14],
        ];
    }

    /**
     * How far one goes in the venue when one goes over the whole raster to the right and down, as at that place.
     *
     * @return array{array{float, float, float}, array{float, float, float}}|null metres
     */
    public function directions(float $u, float $v): ?array
    {
        $e = 1e-5;
        $along = function (float $du, float $dv) use ($u, $v, $e): ?array {
            // At an edge of the raster, from within.
            [$a, $b] = [$this->place($u - $e * $du, $v - $e * $dv), $this->place($u + $e * $du, $v + $e * $dv)];
            $here = $this->place($u, $v);
            [$from, $to, $by] =
                $a !== null && $b !== null ? [$a, $b, 2 * $e] : ($b !== null ? [$here, $b, $e] : [$a, $here, $e]);

            return $from === null || $to === null
                ? null
                : [($to[0] - $from[0]) / $by, ($to[1] - $from[1]) / $by, ($to[2] - $from[2]) / $by];
        };
        [$right, $down] = [$along(1, 0), $along(0, 1)];

        return $right === null || $down === null ? null : [$right, $down];
    }

    /** @return array{float, float, float}|null the unit normal of its front */
    public function normal(float $u, float $v): ?array
    {
        if ($this->shape === null) {
            $met = $this->met($u, $v);
            if ($met === null) {
                return null;
            }
            [$m, [$x, $y, $z]] = [$this->world->m, $this->mesh->normal($met[0])];

            return [
                $m[0] * $x + $m[4] * $y + $m[8] * $z,
                $m[1] * $x + $m[5] * $y + $m[9] * $z,
                $m[2] * $x + $m[6] * $y + $m[10] * $z,
            ];
        }
        $directions = $this->directions($u, $v);
        if ($directions === null) {
            return null;
        }
        [[$rx, $ry, $rz], [$dx, $dy, $dz]] = $directions;
        [$x, $y, $z] = [$dy * $rz - $dz * $ry, $dz * $rx - $dx * $rz, $dx * $ry - $dy * $rx];
        $length = sqrt($x * $x + $y * $y + $z * $z);

        return $length > 0 ? [$x / $length, $y / $length, $z / $length] : null;
    }

    /** @return array{int, float, float}|null the triangle, and how far along its first two edges */
    private function met(float $u, float $v): ?array
    {
        if ($u < -1e-9 || $v < -1e-9 || $u > 1 + 1e-9 || $v > 1 + 1e-9) {
            return null;
        }
        $cell = static fn (float $x): int => max(0, min(self::CELLS - 1, (int) ($x * self::CELLS)));
        [$uv, $indices] = [$this->mesh->uvs, $this->mesh->indices];
        foreach ($this->cells[$cell($v) * self::CELLS + $cell($u)] ?? [] as $t) {
            [$a, $b, $c] = [$indices[3 * $t], $indices[3 * $t + 1], $indices[3 * $t + 2]];
            [$u0, $v0] = [$uv[2 * $a], $uv[2 * $a + 1]];
            [$u1, $v1, $u2, $v2] = [$uv[2 * $b] - $u0, $uv[2 * $b + 1] - $v0, $uv[2 * $c] - $u0, $uv[2 * $c + 1] - $v0];
            $det = $u1 * $v2 - $u2 * $v1;
            if ($det === 0.0) {
                continue;
            }
            [$s, $q] = [(($u - $u0) * $v2 - ($v - $v0) * $u2) / $det, (($v - $v0) * $u1 - ($u - $u0) * $v1) / $det];
            if (min($s, $q, 1 - $s - $q) >= -1e-7) {
                return [$t, $s, $q];
            }
        }

        return null;
    }
}

<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Halving;
use Core\Geometry\Mesh;
use Core\Geometry\Vec3;
use Core\Light\Scene;
use Core\Units\InvalidValue;
use Core\Venue\Round;
use Core\Venue\Surface;

/**
 * The warp of a region from the venue: the surface's own triangles as its projector sees them, and all that is opaque
 * as what hides them. Flat triangles are right as they are, in perspective. What is round is divided until every edge
 * is nearer to its true shape than a tolerance, each edge by itself, so that neighbours fit.
 *
 * A corner is eight numbers: its place in metres (3), u and v of the raster (2), and the numbers of its true shape (3).
 * Where it is seen is three: the place on the output times its depth (2), and that depth in metres.
 */
final class ModelWarp
{
    /** Pixels of the output by which an edge may be missed; within a triangle it may be twice as much. */
    private const TOLERANCE = 0.015;

    /** How far from the middle of its raster the rim of a dome is. */
    private const RIM = 0.5 - 1e-7;

    /** How often an edge is halved at most. */
    private const DEEPEST = 8;

    /** Metres before the lens from which on anything is drawn. */
    private const NEAREST = 0.02;

    /** Metres, and share of the depth, by which what hides lies farther than it is: what lies on a face hides it not. */
    private const SLACK = [0.01, 1e-4];

    private string $bytes = '';

    private float $error = 0.0;

    private int $pictured = 0;

    /** @var array{float, float, float, float, float} of what is drawn: left, top, right, bottom on the output; depth of the farthest */
    private array $reach = [INF, INF, -INF, -INF, 0.0];

    /** @var array{float, float, float} where the lens is */
    private readonly array $lens;

    /** @var array{float, float, float, float} of the surface's raster, 0 to 1: left, top, right, bottom of the source */
    private readonly array $source;

    private readonly ?Round $round;

    /** Where the axis or the centre of what is round is, before it is placed. */
    private readonly ?Vec3 $axis;

    private readonly bool $isTranslucent;

    /** Whether the lens bends straight lines. */
    private readonly bool $isBent;

    /** @var list<int> triangles of the surface that show nothing, or whose back is met */
    private array $hidden = [];

    private function __construct(
        private readonly Surface $surface,
        private readonly ProjectedRegion $of,
        private readonly Scene $scene,
        private readonly int $body,
    ) {
        $m = $of->beam->world->m;
        $this->lens = [$m[12], $m[13], $m[14]];
        $source = $of->region->source;
        [$width, $height] = [$surface->width(), $surface->height()];
        $this->source = [
            $source->x / $width,
            $source->y / $height,
            ($source->x + $source->width) / $width,
            ($source->y + $source->height) / $height,
        ];
        $round = $surface->carrier->roundness();
        $this->axis = $round?->frame->origin();
        $this->round = $round?->moved($scene->bodies[$body]->world);
        $this->isBent = $of->beam->projector->lens->distortion !== 0.0;
        $this->isTranslucent = $scene->bodies[$body]->material?->translucent === true;
    }

    /**
     * @param  int  $body  of the surface in the scene
     * @param  (\Closure(float): void)|null  $progress  told the share that is done; may throw to stop
     *
     * @throws InvalidValue where the projector reaches nothing of it
     */
    public static function of(
        Surface $surface,
        ProjectedRegion $of,
        Scene $scene,
        int $body,
        ?\Closure $progress = null,
    ): ProjectedMesh {
        $warp = new self($surface, $of, $scene, $body);
        $progress ??= static fn (float $done): null => null;
        $warp->draw($progress);
        if ($warp->pictured === 0) {
            throw InvalidValue::because(
                'region',
                'The projector of this region lights nothing of its surface as it stands.',
            );
        }
        $warp->hide($progress);

        return new ProjectedMesh($warp->bytes, $warp->error);
    }

    /** @param  \Closure(float): void  $progress */
    private function draw(\Closure $progress): void
    {
        $mesh = $this->surface->carrier->mesh();
        $placed = $mesh->moved($this->scene->bodies[$this->body]->world);
        for ($t = 0, $n = $mesh->triangleCount(); $t < $n; $t++) {
            $t % 512 === 0 && $progress((0.7 * $t) / $n);
            $corners = $mesh->pictured($t) ? $this->corners($mesh, $placed, $t) : [];
            if ($corners === [] || ! $this->mayBeMet($corners)) {
                $this->hidden[] = $t;

                continue;
            }
            foreach (Halving::fans($this->cut($corners)) as $triangle) {
                $whole = [];
                foreach ($triangle as $corner) {
                    $seen = $this->of->pixel($corner[0], $corner[1], $corner[2]);
                    $seen !== null && ($whole[] = [$corner, $seen]);
                }
                if (count($whole) < 3) {
                    continue;
                }
                foreach (
                    $this->round === null && ! $this->isBent
                        ? [$whole]
                        : Halving::of($whole, $this->middle(...), self::DEEPEST) as $piece
                ) {
                    $this->put($piece);
                }
            }
        }
    }

    /** @return list<list<float>> the corners of a triangle of the surface */
    private function corners(Mesh $mesh, Mesh $placed, int $t): array
    {
        [$round, $axis] = [$this->round, $this->axis];
        $corners = [];
        for ($k = 0; $k < 3; $k++) {
            $v = $mesh->indices[3 * $t + $k];
            [$x, $y, $z] = [$mesh->positions[3 * $v], $mesh->positions[3 * $v + 1], $mesh->positions[3 * $v + 2]];
            $uv = [$mesh->uvs[2 * $v], $mesh->uvs[2 * $v + 1]];
            $corners[] =
                $round === null || $axis === null
                    ? [
                        $placed->positions[3 * $v],
                        $placed->positions[3 * $v + 1],
                        $placed->positions[3 * $v + 2],
                        ...$uv,
                        0.0,
                        0.0,
                        0.0,
                    ]
                    : $this->truly([
                        0.0,
                        0.0,
                        0.0,
                        ...$uv,
                        ...$round->corner($uv[0], $uv[1], $x - $axis->x, $y - $axis->y, $z - $axis->z),
                    ]);
        }

        return $corners;
    }

    /**
     * A corner where its true shape has it.
     *
     * @param  list<float>  $corner
     * @return list<float>
     */
    private function truly(array $corner): array
    {
        if ($this->round !== null) {
            [$place] = Round::at($this->round->dome, $this->round->frame->m, $corner[5], $corner[6], $corner[7]);
            [$corner[0], $corner[1], $corner[2]] = $place;
        }

        return $corner;
    }

    /**
     * Whether light of the projector may come to the side of a triangle that shows it: of what is round, to any part
     * of it.
     *
     * @param  list<list<float>>  $corners
     */
    private function mayBeMet(array $corners): bool
    {
        if ($this->isMet($corners)) {
            return true;
        }
        $round = $this->round;
        if ($round === null) {
            return false;
        }
        foreach ($corners as [$x, $y, $z, , , $radius, $a, $b]) {
            [, [$nx, $ny, $nz]] = Round::at($round->dome, $round->frame->m, $radius, $a, $b);
            [$px, $py, $pz] = $this->lens;
            // Its front looks away from the axis or the centre, or towards it.
            $front = self::side($corners, $x + $nx, $y + $ny, $z + $nz) > 0 ? 1 : -1;
            if ($front * ($nx * ($px - $x) + $ny * ($py - $y) + $nz * ($pz - $z)) > 0) {
                return true;
            }
        }

        return false;
    }

    /**
     * Whether light of the projector comes to the side of a flat triangle that shows it.
     *
     * @param  list<list<float>>  $corners
     */
    private function isMet(array $corners): bool
    {
        return $this->isTranslucent || self::side($corners, ...$this->lens) > 0;
    }

    /**
     * On which side of a triangle a place is: above 0 before its front.
     *
     * @param  list<list<float>>  $corners
     */
    private static function side(array $corners, float $x, float $y, float $z): float
    {
        [[$ax, $ay, $az], [$bx, $by, $bz], [$cx, $cy, $cz]] = $corners;
        [$ux, $uy, $uz] = [$bx - $ax, $by - $ay, $bz - $az];
        [$vx, $vy, $vz] = [$cx - $ax, $cy - $ay, $cz - $az];

        return ($uy * $vz - $uz * $vy) * ($x - $ax) +
            ($uz * $vx - $ux * $vz) * ($y - $ay) +
            ($ux * $vy - $uy * $vx) * ($z - $az);
    }

    /**
     * The part of a triangle that lies before the lens and within the source.
     *
     * @param  list<list<float>>  $corners
     * @return list<list<float>>
     */
    private function cut(array $corners): array
    {
        [$left, $top, $right, $bottom] = $this->source;
        $sides = [
            static fn (array $c): float => $c[3] - $left,
            static fn (array $c): float => $right - $c[3],
            static fn (array $c): float => $c[4] - $top,
            static fn (array $c): float => $bottom - $c[4],
            fn (array $c): float => $this->of->depth($c[0], $c[1], $c[2]) - self::NEAREST,
        ];
        foreach ($sides as $side) {
            $corners = Halving::clipped($corners, $side);
        }

        return $corners;
    }

    /**
     * The middle of an edge by its true shape, where the straight edge misses it.
     *
     * @param  array{list<float>, array{float, float, float}}  $from
     * @param  array{list<float>, array{float, float, float}}  $to
     * @return array{list<float>, array{float, float, float}}|null null where it is near enough
     */
    private function middle(array $from, array $to): ?array
    {
        [[$a, $p], [$b, $q]] = [$from, $to];

        return $this->halved($p, $q, fn (float $along): array => $this->between($a, $b, $along));
    }

    /**
     * A place along an edge by its true shape.
     *
     * @param  list<float>  $a
     * @param  list<float>  $b
     * @return list<float>
     */
    private function between(array $a, array $b, float $along): array
    {
        $corner = array_values(
            array_map(static fn (float $from, float $to): float => (1 - $along) * $from + $along * $to, $a, $b),
        );
        $onRim = static fn (array $c): bool => hypot($c[3] - 0.5, $c[4] - 0.5) > self::RIM;
        if ($this->round?->dome === true && $onRim($a) && $onRim($b)) {
            // The rim of a dome is a circle on its raster.
            [$x, $y, $z, $u, $v, $radius, $right, $up] = $corner;
            $out = 0.5 / max(1e-9, hypot($u - 0.5, $v - 0.5));
            $corner = [
                $x,
                $y,
                $z,
                0.5 + $out * ($u - 0.5),
                0.5 + $out * ($v - 0.5),
                $radius,
                $out * $right,
                $out * $up,
            ];
        }

        return $this->truly($corner);
    }

    /**
     * Whether all corners lie past the same side of what the projector is fed, by more than so many pixels.
     *
     * @param  list<array{float, float, float}>  $seen
     */
    private function isOutside(array $seen, float $by): bool
    {
        $part = $this->of->part;

        return self::isPast(
            $seen,
            $part->x - $by,
            $part->y - $by,
            $part->x + $part->width + $by,
            $part->y + $part->height + $by,
        );
    }

    /**
     * Whether all corners lie past the same side of a rectangle of the output.
     *
     * @param  list<array{float, float, float}>  $seen
     */
    private static function isPast(array $seen, float $left, float $top, float $right, float $bottom): bool
    {
        [$beside, $over, $past, $under] = [true, true, true, true];
        foreach ($seen as [$x, $y, $w]) {
            $beside = $beside && $x < $left * $w;
            $over = $over && $y < $top * $w;
            $past = $past && $x > $right * $w;
            $under = $under && $y > $bottom * $w;
        }

        return $beside || $over || $past || $under;
    }

    /** @param  array{array{list<float>, array{float, float, float}}, array{list<float>, array{float, float, float}}, array{list<float>, array{float, float, float}}}  $triangle */
    private function put(array $triangle): void
    {
        if (! $this->isMet(array_column($triangle, 0))) {
            $this->block(array_column($triangle, 1));

            return;
        }
        [$width, $height] = [$this->surface->width(), $this->surface->height()];
        $corners = array_map(
            static fn (array $one): array => [...$one[1], $one[0][3] * $width, $one[0][4] * $height, $one[1][2]],
            $triangle,
        );
        ($this->round === null && ! $this->isBent) || $this->measure($triangle);
        foreach ($this->within($corners) as $corner) {
            [$x, $y, $w] = $corner;
            $this->bytes .= pack('g6', ...$corner);
            $this->reach = [
                min($this->reach[0], $x / $w),
                min($this->reach[1], $y / $w),
                max($this->reach[2], $x / $w),
                max($this->reach[3], $y / $w),
                max($this->reach[4], $w),
            ];
            $this->pictured++;
        }
    }

    /**
     * By how much the middle of a triangle is missed.
     *
     * @param  array{array{list<float>, array{float, float, float}}, array{list<float>, array{float, float, float}}, array{list<float>, array{float, float, float}}}  $triangle
     */
    private function measure(array $triangle): void
    {
        [[$a, $p], [$b, $q], [$c, $r]] = $triangle;
        $middle = $this->truly(
            array_values(array_map(static fn (float $x, float $y, float $z): float => ($x + $y + $z) / 3, $a, $b, $c)),
        );
        $true = $this->of->pixel($middle[0], $middle[1], $middle[2]);
        if ($true === null || $this->isOutside([$true], 0)) {
            return;
        }
        $w = $p[2] + $q[2] + $r[2];
        $this->error = max(
            $this->error,
            hypot(
                ($p[0] + $q[0] + $r[0]) / $w - $true[0] / $true[2],
                ($p[1] + $q[1] + $r[1]) / $w - $true[1] / $true[2],
            ),
        );
    }

    /**
     * What of a polygon lies in what the projector is fed, as corners of triangles.
     *
     * @param  list<list<float>>  $corners  place times depth, depth, and more that is linear in the same measure
     * @return list<list<float>>
     */
    private function within(array $corners): array
    {
        $part = $this->of->part;
        foreach (
            [
                static fn (array $c): float => $c[0] - $part->x * $c[2],
                static fn (array $c): float => ($part->x + $part->width) * $c[2] - $c[0],
                static fn (array $c): float => $c[1] - $part->y * $c[2],
                static fn (array $c): float => ($part->y + $part->height) * $c[2] - $c[1],
            ] as $side
        ) {
            $corners = Halving::clipped($corners, $side);
        }

        return array_merge(...Halving::fans($corners));
    }

    /** @param  \Closure(float): void  $progress */
    private function hide(\Closure $progress): void
    {
        foreach ($this->scene->bodies as $b => $body) {
            if (($body->material->transmission ?? 0.0) > 0) {
                continue;
            }
            $progress(0.7 + (0.3 * $b) / count($this->scene->bodies));
            $placed = $body->inVenue();
            if ($b !== $this->body && $this->isWhollyBeside($placed)) {
                continue;
            }
            $of = $b === $this->body ? $this->hidden : range(0, max(0, $placed->triangleCount() - 1));
            foreach ($placed->indices === [] ? [] : $of as $t) {
                $corners = [];
                for ($k = 0; $k < 3; $k++) {
                    $v = 3 * $placed->indices[3 * $t + $k];
                    $corners[] = [$placed->positions[$v], $placed->positions[$v + 1], $placed->positions[$v + 2]];
                }
                $before = Halving::clipped(
                    $corners,
                    fn (array $c): float => $this->of->depth($c[0], $c[1], $c[2]) - self::NEAREST,
                );
                $seen = [];
                foreach ($before as $place) {
                    $at = $this->of->pixel($place[0], $place[1], $place[2]);
                    $at !== null && ($seen[] = [$place, $at]);
                }
                if ($seen === [] || $this->isBeside(array_column($seen, 1))) {
                    continue;
                }
                if (! $this->isBent) {
                    $this->block(array_column($seen, 1));

                    continue;
                }
                foreach (Halving::fans($seen) as $triangle) {
                    foreach (Halving::of($triangle, $this->bent(...), self::DEEPEST) as $piece) {
                        $this->block(array_column($piece, 1));
                    }
                }
            }
        }
    }

    /**
     * The middle of an edge of what hides, where the lens bends it.
     *
     * @param  array{list<float>, array{float, float, float}}  $from
     * @param  array{list<float>, array{float, float, float}}  $to
     * @return array{list<float>, array{float, float, float}}|null null where it is near enough
     */
    private function bent(array $from, array $to): ?array
    {
        [[$a, $p], [$b, $q]] = [$from, $to];

        return $this->halved(
            $p,
            $q,
            static fn (float $along): array => array_map(
                static fn (float $one, float $other): float => (1 - $along) * $one + $along * $other,
                $a,
                $b,
            ),
        );
    }

    /**
     * The middle of an edge, where a straight one misses it.
     *
     * @param  array{float, float, float}  $p  where its ends are seen
     * @param  array{float, float, float}  $q
     * @param  \Closure(float): list<float>  $at  what is along it, 0 to 1
     * @return array{list<float>, array{float, float, float}}|null null where it is near enough
     */
    private function halved(array $p, array $q, \Closure $at): ?array
    {
        // What reaches into the picture beside the edge is no larger than it.
        if ($this->isOutside([$p, $q], hypot($p[0] / $p[2] - $q[0] / $q[2], $p[1] / $p[2] - $q[1] / $q[2]))) {
            return null;
        }
        $worst = 0.0;
        $middle = null;
        // In the middle it is bent away most; a quarter along, places lie farthest from where they run evenly.
        foreach ([0.5, 0.25, 0.75] as $along) {
            $corner = $at($along);
            $true = $this->of->pixel($corner[0], $corner[1], $corner[2]);
            if ($true === null) {
                return null;
            }
            $middle ??= [$corner, $true];
            $worst = max($worst, self::miss($p, $q, $along, $true));
            if ($worst > self::TOLERANCE) {
                return $middle;
            }
        }
        $this->error = max($this->error, $worst);

        return null;
    }

    /**
     * Pixels by which a straight edge misses where a place along it is seen.
     *
     * @param  array{float, float, float}  $p
     * @param  array{float, float, float}  $q
     * @param  array{float, float, float}  $true
     */
    private static function miss(array $p, array $q, float $along, array $true): float
    {
        $w = (1 - $along) * $p[2] + $along * $q[2];

        return hypot(
            ((1 - $along) * $p[0] + $along * $q[0]) / $w - $true[0] / $true[2],
            ((1 - $along) * $p[1] + $along * $q[1]) / $w - $true[1] / $true[2],
        );
    }

    /** Whether the box round a body lies past a side of all that is drawn, or behind it. */
    private function isWhollyBeside(Mesh $placed): bool
    {
        [$min, $max] = $placed->bounds();
        $seen = [];
        for ($k = 0; $k < 8; $k++) {
            $at = $this->of->pixel(
                ($k & 1) === 0 ? $min[0] : $max[0],
                ($k & 2) === 0 ? $min[1] : $max[1],
                ($k & 4) === 0 ? $min[2] : $max[2],
            );
            if ($at === null) {
                return false;
            }
            $seen[] = $at;
        }

        return $this->isBeside($seen);
    }

    /** @param  list<array{float, float, float}>  $seen  corners of what hides */
    private function block(array $seen): void
    {
        foreach ($this->within($seen) as [$x, $y, $w]) {
            $this->bytes .= pack('g6', $x, $y, $w, 0, 0, -($w * (1 + self::SLACK[1]) + self::SLACK[0]));
        }
    }

    /**
     * Whether something lies past a side of all that is drawn, or behind it.
     *
     * @param  non-empty-list<array{float, float, float}>  $seen
     */
    private function isBeside(array $seen): bool
    {
        [$left, $top, $right, $bottom, $deepest] = $this->reach;

        return self::isPast($seen, $left, $top, $right, $bottom) || min(array_column($seen, 2)) > $deepest;
    }
}

<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Geometry\Vec3;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Venue\Shot;
use Core\Venue\Surface;

/**
 * How a camera sees the surfaces of a show of which the middle or a corner of their bounds is in its picture, nearest
 * first.
 */
final class Shots
{
    /** @return list<Shot> */
    public static function of(Show $show, string $camera, ResultCache $cache): array
    {
        $corners = [];
        foreach ($show->venue->surfaces as $id => $surface) {
            $corners[$id] = $cache->get(
                "corners $id",
                [$surface->carrier],
                static fn (): array => self::corners($surface),
            );
        }

        return $cache->get(
            "shots $camera",
            [$show->venue],
            static fn (): array => self::taken($show, $camera, $corners),
        );
    }

    /** @return non-empty-list<Vec3> the middle of its bounds, then their corners */
    private static function corners(Surface $surface): array
    {
        [[$x0, $y0, $z0], [$x1, $y1, $z1]] = $surface->carrier->mesh()->bounds();
        $points = [Vec3::of(($x0 + $x1) / 2, ($y0 + $y1) / 2, ($z0 + $z1) / 2)];
        foreach ([$x0, $x1] as $x) {
            foreach ([$y0, $y1] as $y) {
                array_push($points, Vec3::of($x, $y, $z0), Vec3::of($x, $y, $z1));
            }
        }

        return $points;
    }

    /**
     * @param  array<string, non-empty-list<Vec3>>  $corners  by surface
     * @return list<Shot>
     */
    private static function taken(Show $show, string $camera, array $corners): array
    {
        $in = $show->venue->world($camera)->rigidInverse();
        [, [$right, $top]] = $show->venue->cameras[$camera]->corners();
        $shots = [];
        foreach ($show->venue->surfaces as $id => $surface) {
            $seen = array_map($in->times($show->venue->world((string) $id))->point(...), $corners[$id]);
            $shot = self::anyWithin($seen, $right, $top)
                ? Shot::of($show->venue->cameras[$camera], $surface, -$seen[0]->z)
                : null;
            $shot !== null && ($shots[] = $shot);
        }
        usort($shots, static fn (Shot $a, Shot $b): int => $a->distance <=> $b->distance);

        return $shots;
    }

    /** @param  non-empty-list<Vec3>  $points  in the camera's own place */
    private static function anyWithin(array $points, float $right, float $top): bool
    {
        foreach ($points as $p) {
            if ($p->z < 0 && abs($p->x) <= $right * -$p->z && abs($p->y) <= $top * -$p->z) {
                return true;
            }
        }

        return false;
    }
}

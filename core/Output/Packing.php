<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Pixels;

/**
 * Rectangles put onto as few rasters as can be found: by maximal free rectangles (Jylänki 2010), in several orders
 * and by several rules of choice, of which the best is kept. What is pinned stays. Nothing ever lies on anything
 * else; guard pixels stay free between two, not at the raster's edge.
 */
final class Packing
{
    public const MAX_ITEMS = 500;

    /**
     * @param  array<string, array{int, int}>  $items  width and height by name
     * @param  list<array{int, int}>  $rasters  width and height of those that there are, in the order in which they
     *     are filled
     * @param  list<list<Rect>>  $pinned  of each raster, what stays on it
     * @param  bool  $turns  whether an item may be turned by a quarter
     * @param  int  $guard  px that stay free between two
     * @param  array{int, int}  $step  px of the grid on which items begin
     * @return array{places: array<string, array{raster: int, x: int, y: int, turned: bool}>, unplaced: list<string>, used: list<float>} used:
     *     share of each raster's pixels that carry something, pinned ones too
     */
    public static function of(
        array $items,
        array $rasters,
        array $pinned = [],
        bool $turns = false,
        int $guard = 0,
        array $step = [1, 1],
    ): array {
        $orders = [
            static fn (array $a, array $b): int => max($b[0], $b[1]) <=> max($a[0], $a[1]) ?:
            min($b[0], $b[1]) <=> min($a[0], $a[1]),
            static fn (array $a, array $b): int => $b[0] * $b[1] <=> $a[0] * $a[1] ?:
            max($b[0], $b[1]) <=> max($a[0], $a[1]),
            static fn (array $a, array $b): int => $b[1] <=> $a[1] ?: $b[0] <=> $a[0],
            static fn (array $a, array $b): int => $b[0] <=> $a[0] ?: $b[1] <=> $a[1],
        ];
        $best = null;
        foreach ($orders as $order) {
            $sorted = $items;
            uasort($sorted, $order);
            foreach (['short', 'bottom', 'contact'] as $rule) {
                $found = self::fill($sorted, $rasters, $pinned, $turns, $guard, $step, $rule);
                if ($best === null || $found[1] < $best[1]) {
                    $best = $found;
                }
            }
        }
        [$places] = $best;
        $used = [];
        foreach ($rasters as $k => [$w, $h]) {
            $area = array_sum(array_map(static fn (Rect $r): int => $r->width * $r->height, $pinned[$k] ?? []));
            foreach ($places as $name => $place) {
                $area += $place['raster'] === $k ? $items[$name][0] * $items[$name][1] : 0;
            }
            $used[] = (float) ($area / ($w * $h));
        }

        return [
            'places' => $places,
            'unplaced' => array_values(array_map(strval(...), array_keys(array_diff_key($items, $places)))),
            'used' => $used,
        ];
    }

    /**
     * @param  array<string, array{int, int}>  $items
     * @param  list<array{int, int}>  $rasters
     * @param  list<list<Rect>>  $pinned
     * @param  array{int, int}  $step
     * @return array{array<string, array{raster: int, x: int, y: int, turned: bool}>, array{int, int, int}} places;
     *     how good they are, the less the better: items left, rasters used, height of the last
     */
    private static function fill(
        array $items,
        array $rasters,
        array $pinned,
        bool $turns,
        int $guard,
        array $step,
        string $rule,
    ): array {
        $places = [];
        $last = -1;
        $bottom = 0;
        foreach ($rasters as $k => [$width, $height]) {
            // Free rectangles reach a guard beyond the raster, as each item takes a guard on its right and below.
            $free = [[0, 0, $width + $guard, $height + $guard]];
            $taken = [];
            foreach ($pinned[$k] ?? [] as $r) {
                $around = [$r->x - $guard, $r->y - $guard, $r->width + 2 * $guard, $r->height + 2 * $guard];
                $free = self::without($free, $around);
                $taken[] = $around;
            }
            foreach (array_diff_key($items, $places) as $name => [$w, $h]) {
                $choice = null;
                foreach ($turns && $w !== $h ? [false, true] : [false] as $turned) {
                    [$iw, $ih] = $turned ? [$h + $guard, $w + $guard] : [$w + $guard, $h + $guard];
                    foreach ($free as [$fx, $fy, $fw, $fh]) {
                        $x = $step[0] * Pixels::ceil($fx / $step[0]);
                        $y = $step[1] * Pixels::ceil($fy / $step[1]);
                        [$rw, $rh] = [$fw - ($x - $fx) - $iw, $fh - ($y - $fy) - $ih];
                        if ($rw < 0 || $rh < 0) {
                            continue;
                        }
                        $score = match ($rule) {
                            'short' => [min($rw, $rh), max($rw, $rh)],
                            'bottom' => [$y + $ih, $x],
                            default => [
                                -self::contact($x, $y, $iw, $ih, $width + $guard, $height + $guard, $taken),
                                $y,
                            ],
                        };
                        if ($choice === null || [...$score, $x] < $choice[0]) {
                            $choice = [[...$score, $x], $x, $y, $iw, $ih, $turned];
                        }
                    }
                }
                if ($choice === null) {
                    continue;
                }
                [, $x, $y, $iw, $ih, $turned] = $choice;
                $places[$name] = ['raster' => $k, 'x' => $x, 'y' => $y, 'turned' => $turned];
                $free = self::without($free, [$x, $y, $iw, $ih]);
                $taken[] = [$x, $y, $iw, $ih];
                $bottom = $k > $last ? $y + $ih : max($bottom, $y + $ih);
                $last = $k;
            }
        }

        return [$places, [count($items) - count($places), $last + 1, $bottom]];
    }

    /**
     * Free rectangles without what a new one takes, none within another.
     *
     * @param  list<array{int, int, int, int}>  $free  x, y, width, height
     * @param  array{int, int, int, int}  $taken
     * @return list<array{int, int, int, int}>
     */
    private static function without(array $free, array $taken): array
    {
        [$x, $y, $w, $h] = $taken;
        $kept = $new = [];
        foreach ($free as $f) {
            [$fx, $fy, $fw, $fh] = $f;
            if ($x >= $fx + $fw || $y >= $fy + $fh || $x + $w <= $fx || $y + $h <= $fy) {
                $kept[] = $f;

                continue;
            }
            $x > $fx && ($new[] = [$fx, $fy, $x - $fx, $fh]);
            $x + $w < $fx + $fw && ($new[] = [$x + $w, $fy, $fx + $fw - $x - $w, $fh]);
            $y > $fy && ($new[] = [$fx, $fy, $fw, $y - $fy]);
            $y + $h < $fy + $fh && ($new[] = [$fx, $y + $h, $fw, $fy + $fh - $y - $h]);
        }
        $within = static fn (array $a, array $b): bool => $a[0] >= $b[0] &&
            $a[1] >= $b[1] &&
            $a[0] + $a[2] <= $b[0] + $b[2] &&
            $a[1] + $a[3] <= $b[1] + $b[3];
        foreach ($new as $i => $a) {
            foreach ($kept as $b) {
                if ($within($a, $b)) {
                    continue 2;
                }
            }
            foreach ($new as $j => $b) {
                if ($i !== $j && $within($a, $b) && ($a !== $b || $j < $i)) {
                    continue 2;
                }
            }
            $kept[] = $a;
        }

        return $kept;
    }

    /**
     * Pixels of an item's edges that touch the raster's or another's.
     *
     * @param  list<array{int, int, int, int}>  $taken
     */
    private static function contact(int $x, int $y, int $w, int $h, int $width, int $height, array $taken): int
    {
        $sum =
            ($x === 0 ? $h : 0) + ($y === 0 ? $w : 0) + ($x + $w === $width ? $h : 0) + ($y + $h === $height ? $w : 0);
        foreach ($taken as [$tx, $ty, $tw, $th]) {
            if ($tx + $tw === $x || $x + $w === $tx) {
                $sum += max(0, min($y + $h, $ty + $th) - max($y, $ty));
            }
            if ($ty + $th === $y || $y + $h === $ty) {
                $sum += max(0, min($x + $w, $tx + $tw) - max($x, $tx));
            }
        }

        return $sum;
    }
}

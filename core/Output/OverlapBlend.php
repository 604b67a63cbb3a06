<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Light\Body;
use Core\Light\Scene;
use Core\Light\SurfaceChart;
use Core\Venue\Surface;

/**
 * How several projectors share the light of a surface. Each one's weight at a place is how far that place lies within
 * its own picture: the product, for its sides and for its top and bottom, of the distance in its pixels to the nearer
 * edge over the width in which that edge fades (where none is set, over half the picture), and of how far it is to
 * what the projector does not light (shadows, other bodies, places that it meets at too flat an angle), each 1 at
 * most, to the power of its curve, and times its masks. Where edges of two pictures lie on one another, they cancel.
 * Its share is its weight over the sum of all. Projectors of one stack have the weight of the strongest of them, and
 * each gives that stack's share: their light adds.
 *
 * On round things, how straight the light comes in counts as well: the cosine of its angle, from that of the limit
 * on, over what is left to 1. So the one that stands straighter before a place gives more of it, and none of it ends
 * in a step.
 *
 * Levelled, each gives share · T / E, with E the lux that it gives there at full white and T the most that all places
 * can have: then every place has T. Else the light goes over from one's to the other's as the shares do.
 *
 * Black shines from all that reach a place, whatever their shares. With N the most that reach one place, a place that
 * n reach lacks N − n blacks; each of the n adds the same of them. Said as a share of what one gives alone, N − 1: (N
 * − n) / (n · (N − 1)).
 */
final class OverlapBlend
{
    /** Lines across the picture of a projector at which its share is worked out. */
    public const LINES = 401;

    /** How often the distances to edges are softened. */
    private const SOFTER = 4;

    /** Pixels of each projector that are asked at once, before progress is told. */
    private const CHUNK = 512;

    /**
     * @var array<int, array{columns: int, rows: int, lit: list<bool>, on: list<bool>, depth: list<float>, step: array{float, float}}> by number of the projector
     */
    private array $fields = [];

    /** Metres, and share of the depth, by which a place may lie behind what is seen at its pixel and still be that. */
    private const SLACK = [0.02, 1e-3];

    /** @var list<SeenTriangles> what each projector sees */
    private array $seen = [];

    private readonly SurfaceChart $chart;

    /** Whether something lets light through before the surface. */
    private readonly bool $isVeiled;

    /**
     * @param  int  $body  of the surface in the scene
     * @param  list<ProjectedRegion>  $regions  all that show the surface
     * @param  array<string, ProjectedMesh>  $meshes  what each projector sees, by region; what is missing is computed
     * @param  array<string, list<MaskShape>>  $masks  of outputs, by region
     * @param  float  $limit  degrees from straight on, beyond which a projector does not count
     * @param  int  $lines  across each picture
     * @param  (\Closure(float): void)|null  $progress  told the share that is done; may throw to stop
     */
    public function __construct(
        private readonly Scene $scene,
        private readonly int $body,
        private readonly Surface $surface,
        private readonly array $regions,
        array $meshes = [],
        private readonly array $masks = [],
        private readonly float $limit = 80,
        private readonly int $lines = self::LINES,
        private readonly ?\Closure $progress = null,
    ) {
        $this->chart = SurfaceChart::of($surface, $scene->bodies[$body]->world);
        $veils = array_filter(
            $scene->bodies,
            static fn (Body $one, int $b): bool => $b !== $body && ($one->material->transmission ?? 0.0) > 0,
            ARRAY_FILTER_USE_BOTH,
        );
        $this->isVeiled = $veils !== [];
        foreach ($regions as $i => $region) {
            $mesh = $meshes[$region->id] ?? ModelWarp::of($surface, $region, $scene, $body);
            $this->seen[] = SeenTriangles::of(DeliveryMesh::fromBytes($mesh->bytes));
            $this->fields[$i] = $this->field($i, $region);
        }
    }

    /**
     * @return array{maps: array<string, BlendMap>, lifts: array<string, BlendMap>, target: float, cost: float} by
     *     region, lifts only where several reach one place; the lux that all places have where it is levelled (0
     *     else), and the share of the light that this costs
     */
    public function maps(bool $level = false): array
    {
        [$shares, $lux, $reached] = [[], [], []];
        [$target, $sum, $count] = [INF, 0.0, 0];
        foreach ($this->regions as $i => $region) {
            ['columns' => $n, 'rows' => $m, 'lit' => $lit] = $this->fields[$i];
            foreach ($lit as $k => $on) {
                $k % self::CHUNK === 0 && $this->tell(0.5 + (0.5 * ($i + $k / count($lit))) / count($this->regions));
                [$shares[$i][$k], $lux[$i][$k], $reached[$i][$k]] = [$on ? 1.0 : 0.0, 0.0, 0];
                if (! $on) {
                    continue;
                }
                [$x, $y] = $this->pixel($region, $k, $n, $m);
                $hit = $this->hit($i, $x, $y);
                if ($hit === null) {
                    continue;
                }
                [$share, $own, $all, $by] = $this->share($i, $hit[0], $hit[1], $this->weight($i, $x, $y));
                [$shares[$i][$k], $lux[$i][$k], $reached[$i][$k]] = [$share, $own, $by];
                if ($share > 1e-4 && $own > 0) {
                    $target = min($target, $own / $share);
                    $sum += $all;
                    $count++;
                }
            }
        }
        $levelled = $level && is_finite($target);
        [$maps, $lifts] = [[], []];
        $most = max(0, ...array_map(static fn (array $by): int => max(0, ...$by), $reached));
        foreach ($this->regions as $i => $region) {
            $part = $region->part;
            if ($most > 1) {
                $lacks = array_map(
                    static fn (int $by): float => $by === 0 ? 0.0 : ($most - $by) / ($by * ($most - 1)),
                    $reached[$i],
                );
                $lifts[$region->id] = new BlendMap(
                    [$part->x, $part->y, $part->width, $part->height],
                    $this->fields[$i]['columns'],
                    $this->fields[$i]['rows'],
                    self::carriedOn(
                        array_values($lacks),
                        $lux[$i],
                        $this->fields[$i]['on'],
                        $this->fields[$i]['columns'],
                        $this->fields[$i]['rows'],
                    ),
                );
            }
            $values = [];
            foreach ($shares[$i] as $k => $share) {
                $values[] = ! $levelled
                    ? $share
                    : ($lux[$i][$k] > 0
                        ? min(1.0, ($share * $target) / $lux[$i][$k])
                        : 0.0);
            }
            $values = self::carriedOn(
                $values,
                $lux[$i],
                $this->fields[$i]['on'],
                $this->fields[$i]['columns'],
                $this->fields[$i]['rows'],
            );
            $maps[$region->id] = new BlendMap(
                [$part->x, $part->y, $part->width, $part->height],
                $this->fields[$i]['columns'],
                $this->fields[$i]['rows'],
                $values,
            );
        }

        return [
            'maps' => $maps,
            'lifts' => $lifts,
            'target' => $levelled ? $target : 0.0,
            'cost' => $levelled && $count > 0 ? max(0.0, 1 - $target / ($sum / $count)) : 0.0,
        ];
    }

    /**
     * Points that are not on the surface have what the nearest lit ones have, ring by ring, so that the light does not
     * fall before its edge is reached: where that is, its triangles say. Those that are on it and get no light have
     * what lit ones beside them have, and nothing is carried past them.
     *
     * @param  list<float>  $values
     * @param  array<int, float>  $lux
     * @param  list<bool>  $on  whether a point is on the surface
     * @return list<float>
     */
    private static function carriedOn(array $values, array $lux, array $on, int $columns, int $rows): array
    {
        $known = array_map(static fn (float $light): bool => $light > 0, $lux);
        $edge = array_keys(array_filter($known));
        $all = $columns * $rows;
        for ($ring = 0; $edge !== []; $ring++) {
            // Of each point beside, the sum and number of those that know by now.
            $sums = $counts = [];
            foreach ($edge as $k) {
                $i = $k % $columns;
                [$first, $last] = [max(0, $i - 1) - $i, min($columns - 1, $i + 1) - $i];
                for (
                    $row = $k < $columns ? $k : $k - $columns;
                    $row <= $k + $columns && $row < $all;
                    $row += $columns
                ) {
                    for ($at = $row + $first; $at <= $row + $last; $at++) {
                        if (! $known[$at] && ($ring === 0 || ! $on[$at])) {
                            $sums[$at] = ($sums[$at] ?? 0.0) + $values[$k];
                            $counts[$at] = ($counts[$at] ?? 0) + 1;
                        }
                    }
                }
            }
            $edge = [];
            foreach ($sums as $at => $sum) {
                $values[$at] = $sum / $counts[$at];
                $known[$at] = true;
                $on[$at] || ($edge[] = $at);
            }
        }
        foreach ($values as $at => $value) {
            $values[$at] = $known[$at] ? $value : 0.0;
        }

        return array_values($values);
    }

    /**
     * Share and lux of a projector at a place, and how many reach it.
     *
     * @param  array{float, float, float}  $place
     * @param  array{float, float, float}  $normal
     * @return array{float, float, float, int} its share, its lux at full white, the lux of all by their shares, and
     *     how many reach the place
     */
    private function share(int $own, array $place, array $normal, float $weight): array
    {
        $stacks = [];
        $light = [];
        foreach ($this->regions as $j => $other) {
            if ($j === $own) {
                $w = $weight;
            } else {
                $at = $other->pixel(...$place);
                $w = $at === null ? 0.0 : $this->weight($j, $at[0] / $at[2], $at[1] / $at[2]);
            }
            if ($w <= 0) {
                continue;
            }
            $lux = $other->lux(
                $this->scene,
                $place,
                $normal,
                $this->limit,
                $this->isTranslucent(),
                $this->through($j, $place, $j === $own),
            );
            if ($lux <= 0) {
                continue;
            }
            if ($this->chart->isRound()) {
                $flattest = cos(deg2rad($this->limit));
                $w *= max(0.0, ($other->straight($place, $normal) - $flattest) / (1 - $flattest));
            }
            $stack = $other->stack === '' ? "#$j" : $other->stack;
            $stacks[$stack] = max($stacks[$stack] ?? 0.0, $w);
            $light[$j] = [$stack, $lux];
        }
        $sum = array_sum($stacks);
        if (! isset($light[$own]) || $sum <= 0) {
            return [0.0, 0.0, 0.0, 0];
        }
        $all = 0.0;
        foreach ($light as [$stack, $lux]) {
            $all += ($stacks[$stack] / $sum) * $lux;
        }

        return [$stacks[$light[$own][0]] / $sum, $light[$own][1], $all, count($light)];
    }

    /** The weight of a projector at one of its pixels. */
    private function weight(int $i, float $x, float $y): float
    {
        $region = $this->regions[$i];
        $part = $region->part;
        [$left, $top, $right, $bottom] = $region->region->blend->widths;
        $least = static function (float $before, float $after, float $first, float $last, float $half): float {
            $near = min($before / ($first > 0 ? $first : $half), $after / ($last > 0 ? $last : $half), 1.0);

            // At its very edge it still has all of what nobody else lights.
            return $near < -1e-9 ? 0.0 : max(1e-6, $near);
        };
        $t =
            $least($x - $part->x, $part->x + $part->width - $x, $left, $right, $part->width / 2) *
            $least($y - $part->y, $part->y + $part->height - $y, $top, $bottom, $part->height / 2);
        if ($t <= 0) {
            return 0.0;
        }
        ['columns' => $n, 'rows' => $m, 'depth' => $depth, 'step' => [$sx, $sy]] = $this->fields[$i];
        $u = min($n - 1.0, ($x - $part->x) / $sx);
        $v = min($m - 1.0, ($y - $part->y) / $sy);
        [$a, $b] = [min($n - 2, (int) $u), min($m - 2, (int) $v)];
        [$s, $q, $k] = [$u - $a, $v - $b, $b * $n + $a];
        $deep =
            (($depth[$k] * (1 - $s) + $depth[$k + 1] * $s) * (1 - $q) +
                ($depth[$k + $n] * (1 - $s) + $depth[$k + $n + 1] * $s) * $q) *
            min($sx, $sy);
        $t *= max(1e-6, min(1.0, (2 * $deep) / min($part->width, $part->height)));
        $mask = ($this->masks[$region->id] ?? []) === [] ? 1.0 : MaskShape::light($this->masks[$region->id], $x, $y);

        return $t ** $region->region->blend->curve * $mask;
    }

    /**
     * What of its picture a projector lights of the surface, and how far within that each of the lattice's points lies.
     *
     * @return array{columns: int, rows: int, lit: list<bool>, on: list<bool>, depth: list<float>, step: array{float, float}}
     */
    private function field(int $i, ProjectedRegion $region): array
    {
        $part = $region->part;
        $columns = max(2, min($this->lines, $part->width + 1));
        $rows = max(2, min((int) round((($columns - 1) * $part->height) / $part->width) + 1, $part->height + 1));
        [$lit, $on] = [[], []];
        for ($k = 0, $n = $columns * $rows; $k < $n; $k++) {
            $k % self::CHUNK === 0 && $this->tell((0.5 * ($i + $k / $n)) / count($this->regions));
            $hit = $this->meets($i, ...$this->pixel($region, $k, $columns, $rows));
            $on[] = $hit !== null;
            $lit[] = $hit !== null && $hit[2];
        }

        return [
            'columns' => $columns,
            'rows' => $rows,
            'lit' => $lit,
            'on' => $on,
            'depth' => self::softened(DistanceField::of($lit, $columns, $rows), $columns, $rows),
            'step' => [$part->width / ($columns - 1), $part->height / ($rows - 1)],
        ];
    }

    /**
     * Without the ridges of a distance, half way between two edges: between lines, shares are taken as straight.
     *
     * @param  list<float>  $depth
     * @return list<float> 0 where it was
     */
    private static function softened(array $depth, int $columns, int $rows): array
    {
        for ($pass = 0; $pass < self::SOFTER; $pass++) {
            foreach ([[1, $columns], [$columns, $rows]] as [$step, $count]) {
                $from = $depth;
                foreach ($from as $k => $deep) {
                    $at = intdiv($k, $step) % $count;
                    if ($deep > 0 && $at > 0 && $at < $count - 1) {
                        $depth[$k] = ($from[$k - $step] + 2 * $deep + $from[$k + $step]) / 4;
                    }
                }
            }
        }

        return array_values($depth);
    }

    /** @return array{float, float} */
    private function pixel(ProjectedRegion $region, int $k, int $columns, int $rows): array
    {
        $part = $region->part;

        return [
            $part->x + ($part->width * ($k % $columns)) / ($columns - 1),
            $part->y + ($part->height * intdiv($k, $columns)) / ($rows - 1),
        ];
    }

    /**
     * Share of the light of a projector that gets to a place.
     *
     * @param  array{float, float, float}  $place
     * @param  bool  $seen  whether it is known to be seen
     */
    private function through(int $i, array $place, bool $seen): float
    {
        $region = $this->regions[$i];
        if (! $seen) {
            $at = $region->pixel(...$place);
            $depth = $at === null ? null : $this->seen[$i]->depth($at[0] / $at[2], $at[1] / $at[2]);
            if ($at === null || $depth === null || $at[2] > $depth * (1 + self::SLACK[1]) + self::SLACK[0]) {
                return 0.0;
            }
        }
        $m = $region->beam->world->m;

        return $this->isVeiled ? $this->scene->transmission($this->body, $m[12], $m[13], $m[14], ...$place) : 1.0;
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}}|null the place on the surface that a
     *     pixel lights, and the normal of its front there; null where it lights another body, none, or too flat
     */
    private function hit(int $i, float $x, float $y): ?array
    {
        $met = $this->meets($i, $x, $y);

        return $met !== null && $met[2] ? [$met[0], $met[1]] : null;
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}, bool}|null the place on the surface that
     *     a pixel meets, the normal of its front there, and whether it is not too flat; null where it meets another
     *     body, or none
     */
    private function meets(int $i, float $x, float $y): ?array
    {
        $at = $this->seen[$i]->place($x, $y);
        if ($at === null) {
            return null;
        }
        [$u, $v] = [$at[0] / $this->surface->width(), $at[1] / $this->surface->height()];
        [$place, $normal] = [$this->chart->place($u, $v), $this->chart->normal($u, $v)];
        if ($place === null || $normal === null) {
            return null;
        }
        $cos = $this->regions[$i]->straight($place, $normal);
        $least = $this->chart->isRound() ? 1e-6 : max(1e-6, cos(deg2rad($this->limit)));

        // Only sides that show it are seen at all.
        return [$place, $normal, $cos > $least];
    }

    private function isTranslucent(): bool
    {
        return $this->scene->bodies[$this->body]->material?->translucent === true;
    }

    private function tell(float $share): void
    {
        $this->progress !== null && ($this->progress)(min(1.0, $share));
    }
}

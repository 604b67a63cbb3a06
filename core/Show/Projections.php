<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Scene;
use Core\Light\SurfaceChart;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\Evenness;
use Core\Output\MaskShape;
use Core\Output\ModelWarp;
use Core\Output\OverlapBlend;
use Core\Output\ProjectedRegion;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Output\SeamPicture;
use Core\Units\InvalidValue;
use Core\Venue\Surface;

/**
 * A surface of a show with all the projectors that its regions go to: what is computed of them together. Not a value:
 * it keeps the tree of the venue's triangles.
 */
final class Projections
{
    /** Part of all keys: another one where the same venue is computed in another way. */
    private const FORM = 'as seen by lenses';

    private ?Scene $scene = null;

    /**
     * @param  list<ProjectedRegion>  $regions
     * @param  array<string, string>  $outputs  by region
     * @param  array<string, list<MaskShape>>  $masks  of outputs, by region
     */
    private function __construct(
        private readonly Show $show,
        public readonly Surface $surface,
        public readonly SurfaceChart $chart,
        public readonly array $regions,
        public readonly array $outputs,
        private readonly array $masks,
    ) {
    }

    /**
     * @param  (\Closure(string): ?string)|null  $kept  shares of painted masks, by key
     *
     * @throws InvalidValue where there is no such surface
     */
    public static function of(Show $show, string $surface, ?\Closure $kept = null): self
    {
        $of =
            $show->venue->surfaces[$surface] ??
            throw InvalidValue::because('surface', 'This surface is not in the show.');
        [$regions, $outputs, $masks] = [[], [], []];
        foreach ($show->delivery->regionsOf($surface) as $id => [$region, $output]) {
            $feed = $show->delivery->feedOf($output, $region);
            $projector = $feed?->projector === null ? null : $show->venue->projectors[$feed->projector] ?? null;
            if ($feed === null || $projector === null) {
                continue;
            }
            $regions[] = new ProjectedRegion(
                (string) $id,
                $region,
                $feed->part($show->delivery->outputs[$output]),
                new Beam((string) $feed->projector, $projector, $show->venue->world((string) $feed->projector)),
                $feed->stack,
            );
            $outputs[$id] = $output;
            $masks[$id] = $show->delivery->maskShapes($output, $show->venue, $kept);
        }

        return new self($show, $of, SurfaceChart::of($of, $show->venue->world($surface)), $regions, $outputs, $masks);
    }

    public function scene(): Scene
    {
        return $this->scene ??= Scene::of($this->show->venue->bodies());
    }

    /**
     * The warp and the share of the light of each of its regions.
     *
     * @param  bool  $level  whether all places get the same light
     * @param  float  $limit  degrees from straight on beyond which a projector does not count
     * @param  (\Closure(float): void)|null  $progress
     * @return array{warps: array<string, ComputedWarp>, target: float, cost: float} by region
     *
     * @throws InvalidValue where none of its regions goes to a projector, or one lights nothing of it
     */
    public function compute(
        bool $level,
        float $limit,
        int $lines = OverlapBlend::LINES,
        ?\Closure $progress = null,
    ): array {
        if ($this->regions === []) {
            throw InvalidValue::because(
                'surface',
                "No region of {$this->surface->name} feeds a venue projector: set the projector on the output's device.",
            );
        }
        if ($limit < 10 || $limit > 89) {
            throw InvalidValue::outside('limit', $limit, 10, 89, 'degrees');
        }
        $meshes = [];
        foreach ($this->regions as $i => $region) {
            $count = count($this->regions);
            $share = static fn (float $done): float => (0.3 * ($i + $done)) / $count;
            $meshes[$region->id] = ModelWarp::of(
                $this->surface,
                $region,
                $this->scene(),
                $this->body(),
                $progress === null ? null : static fn (float $done) => $progress($share($done)),
            );
        }
        $blend = new OverlapBlend(
            $this->scene(),
            $this->body(),
            $this->surface,
            $this->regions,
            $meshes,
            $this->masks,
            $limit,
            $lines,
            $progress === null ? null : static fn (float $done) => $progress(0.3 + 0.7 * $done),
        );
        $found = $blend->maps($level);

        $warps = [];
        foreach ($meshes as $id => $mesh) {
            $warps[$id] = new ComputedWarp($mesh, $found['maps'][$id], $found['lifts'][$id] ?? null);
        }

        return ['warps' => $warps, 'target' => $found['target'], 'cost' => $found['cost']];
    }

    /** Cache key of a computation: hash of all its inputs. */
    public function key(bool $level, float $limit): string
    {
        $context = hash_init('xxh128');
        hash_update($context, self::FORM);
        $numbers = static fn (iterable $values) => hash_update($context, pack('e*', ...[...$values]));
        $bodies = $this->show->venue->bodies();
        usort($bodies, static fn (Body $a, Body $b): int => $a->id <=> $b->id);
        foreach ($bodies as $body) {
            hash_update(
                $context,
                $body->id.($body->material === null ? '' : ($body->material->translucent ? 't' : 'f')),
            );
            $numbers($body->world->m);
            foreach (array_chunk($body->mesh->positions, 4096) as $some) {
                $numbers($some);
            }
            foreach (array_chunk($body->mesh->uvs, 4096) as $some) {
                $numbers($some);
            }
        }
        $numbers([$level ? 1 : 0, $limit, $this->surface->width(), $this->surface->height()]);
        foreach ($this->regions as $of) {
            $region = $of->region;
            $lens = $of->beam->projector->lens;
            hash_update($context, $of->id.$of->stack);
            $numbers($of->beam->world->m);
            $numbers([
                ...[
                    $lens->widthPx,
                    $lens->heightPx,
                    $lens->throw,
                    $lens->shiftX,
                    $lens->shiftY,
                    $lens->portrait ? 1 : 0,
                ],
                ...[$lens->distortion, $lens->corners, $of->beam->projector->output()],
                $of->beam->projector->mirrored ? 1 : 0,
                ...array_values(get_object_vars($of->part)),
                ...array_values(get_object_vars($region->source)),
                ...$region->blend->widths,
                $region->blend->curve,
            ]);
            foreach ($this->show->delivery->masks[$this->outputs[$of->id]] ?? [] as $mask) {
                hash_update($context, $mask->image);
                $numbers([
                    ...$mask->image === '' ? array_merge(...$mask->line()) : [],
                    $mask->feather,
                    $mask->inverted ? 1 : 0,
                ]);
            }
        }

        return hash_final($context);
    }

    /**
     * The light along a line across the surface, as it is set.
     *
     * @param  array<string, ComputedWarp>  $computed  by region
     * @param  array{float, float}  $from  0 to 1 over the raster
     * @param  array{float, float}  $to
     */
    public function seam(array $computed, array $from, array $to): SeamPicture
    {
        $gains = [];
        foreach ($this->regions as $region) {
            $output = $this->show->delivery->outputs[$this->outputs[$region->id]];
            // Luminance of white by the shares of BT.709.
            $gains[$region->id] =
                $output->peak * (0.2126 * $output->gain[0] + 0.7152 * $output->gain[1] + 0.0722 * $output->gain[2]);
        }

        return SeamPicture::of(
            $this->scene(),
            $this->chart,
            $this->regions,
            array_filter(array_map(static fn (ComputedWarp $warp): ?BlendMap => $warp->blend, $computed)),
            $gains,
            $from,
            $to,
        );
    }

    /**
     * How evenly squares of content come out through one of its regions: on the surface where a projector lights it,
     * else on the output.
     *
     * @return array{evenness: Evenness, metres: bool, spill: float, places: list<array{float, float}|null>} the
     *     corners of the cells on the output, row by row; whether sizes are metres, else pixels of the output; and
     *     the share of what is sent that lands past the surface
     */
    public function evenness(string $region, ?ComputedWarp $computed, int $columns, int $rows): array
    {
        [$of, $row, $lands] = $this->landing($region, $computed !== null);
        $places = $this->places($region, $computed, $columns, $rows);
        if ($of === null) {
            return [
                'places' => $places,
                'evenness' => Evenness::of($row->source, $columns, $rows, static function (float $x, float $y) use (
                    $row,
                ): array {
                    [$px, $py] = $row->lands($x, $y);

                    return [$px, $py, 0.0];
                }),
                'metres' => false,
                'spill' => 0.0,
            ];
        }
        [$sent, $past] = [0, 0];
        $evenness = Evenness::of($row->source, $columns, $rows, function (float $x, float $y) use (
            $lands,
            $of,
            &$sent,
            &$past,
        ): ?array {
            $at = $lands($x, $y);
            if ($at === null || ! self::within($of->part, $at)) {
                return null;
            }
            $sent++;
            $hit = $this->hit($of, $at);
            $past += $hit === null ? 1 : 0;

            return $hit;
        });

        return [
            'places' => $places,
            'evenness' => $evenness,
            'metres' => true,
            'spill' => $sent > 0 ? (float) ($past / $sent) : 0.0,
        ];
    }

    /**
     * Where no face and no straight line should be drawn: cells of the surface's raster that some region shows
     * stretched or out of size, and those that several projectors share, but for those that are converged.
     *
     * @param  array<string, ComputedWarp>  $computed  by region
     * @param  int  $across  cells along the longer side of the raster
     * @return list<array{string, float, float, float, float}> stretch or seam; left, top, width and height in pixels
     *     of the raster; runs of cells along a row are one
     */
    public function zones(array $computed, int $across = 48): array
    {
        [$width, $height] = [$this->surface->width(), $this->surface->height()];
        [$columns, $rows] =
            $width >= $height
                ? [$across, max(2, (int) round(($across * $height) / $width))]
                : [max(2, (int) round(($across * $width) / $height)), $across];
        [$w, $h] = [(float) ($width / $columns), (float) ($height / $rows)];
        [$poor, $stacks] = [[], []];
        foreach ($this->show->delivery->regionsOf($this->surface->id) as $id => [$region]) {
            $warp = $computed[$id] ?? null;
            $source = $region->source;
            [$m, $n] = [max(2, (int) round($source->width / $w)), max(2, (int) round($source->height / $h))];
            foreach ($this->evenness((string) $id, $warp, $m, $n)['evenness']->cells as $k => $cell) {
                if (
                    $cell !== null &&
                    ($cell[0] >= Evenness::STRETCH || $cell[1] < Evenness::SIZES[0] || $cell[1] > Evenness::SIZES[1])
                ) {
                    $poor[
                        (int) (($source->y + ((intdiv($k, $m) + 0.5) * $source->height) / $n) / $h) * $columns +
                            (int) (($source->x + ((($k % $m) + 0.5) * $source->width) / $m) / $w)
                    ] = true;
                }
            }
        }
        foreach ($this->regions as $of) {
            for ($k = 0; $k < $columns * $rows; $k++) {
                if (
                    $this->reaches(
                        $of,
                        $computed[$of->id] ?? null,
                        (($k % $columns) + 0.5) * $w,
                        (intdiv($k, $columns) + 0.5) * $h,
                    )
                ) {
                    $stacks[$k][$of->stack === '' ? $of->id : "stack $of->stack"] = true;
                }
            }
        }
        $zones = [];
        foreach (
            ['stretch' => $poor, 'seam' => array_filter($stacks, static fn (array $s): bool => count($s) > 1)] as $kind => $cells
        ) {
            for ($j = 0; $j < $rows; $j++) {
                for ($i = 0; $i < $columns; $i++) {
                    $from = $i;
                    while ($i < $columns && isset($cells[$j * $columns + $i])) {
                        $i++;
                    }
                    if ($i > $from) {
                        $zones[] = [$kind, $from * $w, $j * $h, ($i - $from) * $w, $h];
                    }
                }
            }
        }

        return $zones;
    }

    /** Whether a region lights a pixel of the surface's raster, by more than a fiftieth of its light. */
    private function reaches(ProjectedRegion $of, ?ComputedWarp $warp, float $x, float $y): bool
    {
        $source = $of->region->source;
        $at =
            $x < $source->x || $y < $source->y || $x > $source->x + $source->width || $y > $source->y + $source->height
                ? null
                : $this->landing($of->id, $warp !== null)[2]($x, $y);
        if ($at === null || ! self::within($of->part, $at)) {
            return false;
        }
        $share =
            $warp?->blend === null
                ? $of->region->blend->share($x - $source->x, $y - $source->y, $source->width, $source->height)
                : $warp->blend->at(...$of->region->unpinned()->point(...$at));
        $hit = $share <= 0.02 ? null : $this->hit($of, $at);
        if ($hit === null || $warp === null) {
            return $hit !== null;
        }
        // The far side of a round thing is not lit through its near side.
        $place = $this->chart->place($x / $this->surface->width(), $y / $this->surface->height());

        return $place !== null &&
            sqrt(($hit[0] - $place[0]) ** 2 + ($hit[1] - $place[1]) ** 2 + ($hit[2] - $place[2]) ** 2) < 0.05;
    }

    /**
     * Where evenly spaced lines of a region's source land on the output.
     *
     * @return list<array{float, float}|null> row by row, a line more than there are columns and rows
     */
    public function places(string $region, ?ComputedWarp $computed, int $columns, int $rows): array
    {
        [, $row, $lands] = $this->landing($region, $computed !== null);
        $places = [];
        for ($j = 0; $j <= $rows; $j++) {
            for ($i = 0; $i <= $columns; $i++) {
                $places[] = $lands(
                    $row->source->x + ($row->source->width * $i) / $columns,
                    $row->source->y + ($row->source->height * $j) / $rows,
                );
            }
        }

        return $places;
    }

    /**
     * Where a pixel of the surface's raster leaves, by each of its regions that show it.
     *
     * @return list<array{region: string, output: string, x: float, y: float}> pixels of the output
     */
    public function lands(float $x, float $y): array
    {
        $found = [];
        foreach ($this->show->delivery->regionsOf($this->surface->id) as $id => [$region, $output]) {
            $source = $region->source;
            $isShown =
                $x >= $source->x &&
                $y >= $source->y &&
                $x <= $source->x + $source->width &&
                $y <= $source->y + $source->height;
            $at = $isShown ? $this->landing((string) $id, $region->model !== '')[2]($x, $y) : null;
            $at === null || ($found[] = ['region' => (string) $id, 'output' => $output, 'x' => $at[0], 'y' => $at[1]]);
        }

        return $found;
    }

    /**
     * Two halves of one patch, side by side in the middle of what both of two computed regions light: what each of them
     * shows, so that they are compared by eye.
     *
     * @return array<string, array{float, float, float, float}>|null by region: left, top, width and height in pixels of
     *     the surface's raster; null where they light nothing together
     */
    public function halves(string $one, string $other): ?array
    {
        $found = array_values(
            array_filter($this->regions, static fn (ProjectedRegion $r): bool => in_array($r->id, [$one, $other], true)),
        );
        [$width, $height] = [$this->surface->width(), $this->surface->height()];
        if (count($found) !== 2) {
            return null;
        }
        [$columns, $rows] = [32, max(2, min(64, (int) round((32 * $height) / $width)))];
        // Of each, and of both: cells, and the sums of their places.
        $lit = [[0, 0.0, 0.0], [0, 0.0, 0.0], [0, 0.0, 0.0]];
        $common = [];
        for ($k = 0; $k < $columns * $rows; $k++) {
            [$x, $y] = [
                ((($k % $columns) + 0.5) * $width) / $columns,
                ((intdiv($k, $columns) + 0.5) * $height) / $rows,
            ];
            $by = array_map(fn (ProjectedRegion $of): bool => $this->lights($of, $x, $y), $found);
            foreach ([$by[0], $by[1], $by[0] && $by[1]] as $i => $is) {
                $is && ($lit[$i] = [$lit[$i][0] + 1, $lit[$i][1] + $x, $lit[$i][2] + $y]);
            }
            $by[0] && $by[1] && ($common[] = [$x, $y]);
        }
        if ($common === []) {
            return null;
        }
        [$a, $b, $both] = array_map(static fn (array $of): array => [$of[1] / $of[0], $of[2] / $of[0]], $lit);
        $axis = abs($a[0] - $b[0]) >= abs($a[1] - $b[1]) ? 0 : 1;
        // The cell of both that is nearest to the middle of them, which may lie in a hole.
        usort(
            $common,
            static fn (array $p, array $q): int => hypot($p[0] - $both[0], $p[1] - $both[1]) <=>
                hypot($q[0] - $both[0], $q[1] - $both[1]),
        );
        $across = array_column($common, $axis);
        // Well within what both light.
        $size = max(1.0, (max($across) - min($across)) / 3);
        $at = $common[0];
        $half = static function (int $side) use ($at, $axis, $size): array {
            $from = [$at[0] - $size / 2, $at[1] - $size / 2];
            $from[$axis] = $side < 0 ? $at[$axis] - $size : $at[$axis];

            return [...$from, $size, $size];
        };
        $isFirst = $a[$axis] <= $b[$axis];

        return [$found[0]->id => $half($isFirst ? -1 : 1), $found[1]->id => $half($isFirst ? 1 : -1)];
    }

    /** Whether a projector sees a pixel of the surface's raster, at whatever share of its light. */
    private function lights(ProjectedRegion $of, float $x, float $y): bool
    {
        $place = $this->chart->place($x / $this->surface->width(), $y / $this->surface->height());
        $pixel = $place === null ? null : $of->pixel(...$place);
        if ($place === null || $pixel === null) {
            return false;
        }
        $at = [$pixel[0] / $pixel[2], $pixel[1] / $pixel[2]];
        $hit = self::within($of->part, $at) ? $this->hit($of, $at) : null;

        return $hit !== null &&
            sqrt(($hit[0] - $place[0]) ** 2 + ($hit[1] - $place[1]) ** 2 + ($hit[2] - $place[2]) ** 2) < 0.05;
    }

    /**
     * @return array{ProjectedRegion|null, Region, \Closure(float, float): (array{float, float}|null)} the region, and
     *     where pixels of its source land on the output
     */
    private function landing(string $region, bool $isComputed): array
    {
        $of =
            array_column(array_map(static fn (ProjectedRegion $r): array => [$r->id, $r], $this->regions), 1, 0)[
                $region
            ] ?? null;
        $row = $of->region ?? $this->anywhere($region);
        $lands = function (float $x, float $y) use ($of, $row, $isComputed): ?array {
            if (! $isComputed || $of === null) {
                return $row->lands($x, $y);
            }
            $place = $this->chart->place($x / $this->surface->width(), $y / $this->surface->height());
            $pixel = $place === null ? null : $of->pixel(...$place);
            if ($pixel === null) {
                return null;
            }
            [$u, $v] = [
                ($pixel[0] / $pixel[2] - $row->place->x) / $row->place->width,
                ($pixel[1] / $pixel[2] - $row->place->y) / $row->place->height,
            ];

            return $row->pinned()->point(...$row->grid?->at($u, $v) ?? [$u, $v]);
        };

        return [$of, $row, $lands];
    }

    /**
     * @param  array{float, float}  $at
     */
    private static function within(Rect $part, array $at): bool
    {
        return $at[0] >= $part->x &&
            $at[1] >= $part->y &&
            $at[0] <= $part->x + $part->width &&
            $at[1] <= $part->y + $part->height;
    }

    /**
     * @param  array{float, float}  $at  pixel of the output
     * @return array{float, float, float}|null the place on the surface that it lights; null where it lights something
     *     else
     */
    private function hit(ProjectedRegion $of, array $at): ?array
    {
        [[$ox, $oy, $oz], [$dx, $dy, $dz]] = $of->ray($at[0], $at[1]);
        $hit = $this->scene()->meets($this->body(), $ox, $oy, $oz, $dx, $dy, $dz);

        return $hit === null ? null : [$ox + $hit[1] * $dx, $oy + $hit[1] * $dy, $oz + $hit[1] * $dz];
    }

    private function body(): int
    {
        return (int) array_search($this->surface->id, array_column($this->scene()->bodies, 'id'), true);
    }

    private function anywhere(string $region): Region
    {
        $found = $this->show->delivery->region($region)[0] ?? null;

        return $found?->surface === $this->surface->id
            ? $found
            : throw InvalidValue::because('region', 'This region is not one of the surface.');
    }
}

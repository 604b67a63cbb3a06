<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Geometry\Mat3;
use Core\Output\BlendMap;
use Core\Output\DeliveryMesh;
use Core\Output\EdgeBlend;
use Core\Output\MaskShape;
use Core\Output\SeenTriangles;
use Core\Plan\Plan;

/**
 * The last pass: surface rasters onto an output, each region through its triangles, its masks and its share of the
 * light. A share of the light is a share of the signal to the power of γ: out = (((signal^γ · share · gain) + black ·
 * lift) · mask)^(1/γ). Between pixels of a surface's raster four are interpolated; where the region is shown smaller,
 * a pixel is the mean of samples two of them apart, as in the passes before. At an outline a pixel has the share of the
 * light that regions cover of it; what several cover is added up.
 */
final readonly class Delivered
{
    /**
     * @param  array<string, mixed>  $output
     * @param  list<array{part: array<string, mixed>, triangles: SeenTriangles|null, blend: BlendMap|null, lift: BlendMap|null, masks: list<MaskShape>}>  $regions
     * @param  list<MaskShape>  $masks  of the output
     */
    private function __construct(private array $output, private array $regions, private array $masks)
    {
    }

    public static function of(Plan $plan, string $output): self
    {
        $masks = [];
        foreach ($plan->of('mask') as $id => $mask) {
            $image = $plan->tracks["mask:$id/image"] ?? null;
            if (isset($mask['painted']) && ! ($image instanceof BlendMap)) {
                continue;
            }
            $line = array_map(
                static fn (array $p): array => [(float) $p[0], (float) $p[1]],
                array_chunk($mask['line'], 2),
            );
            $masks[$mask['on']][] = new MaskShape(
                $line,
                (float) $mask['feather'],
                (bool) $mask['inverted'],
                $image instanceof BlendMap ? $image : null,
            );
        }
        $regions = [];
        foreach ($plan->deliveries($output) as $id => $part) {
            [$mesh, $blend, $lift] = [
                $plan->tracks["delivery:$id/mesh"] ?? null,
                $plan->tracks["delivery:$id/blend"] ?? null,
                $plan->tracks["delivery:$id/lift"] ?? null,
            ];
            $regions[] = [
                'part' => $part,
                'triangles' => isset($part['mesh'])
                    ? SeenTriangles::of($mesh instanceof DeliveryMesh ? $mesh : DeliveryMesh::fromBytes(''))
                    : null,
                'blend' => $blend instanceof BlendMap ? $blend : null,
                'lift' => $lift instanceof BlendMap ? $lift : null,
                'masks' => $masks[$part['surface']] ?? [],
            ];
        }

        return new self($plan->parts["output:$output"] ?? [], $regions, $masks[$output] ?? []);
    }

    /**
     * @param  \Closure(string, int, int): array{float, float, float}  $signal  what a pixel of a surface's raster
     *     shows, 0 to 1
     * @return array{float, float, float} the signal of a pixel of the output, 0 to 1
     */
    public function pixel(int $x, int $y, \Closure $signal): array
    {
        $found = [0.0, 0.0, 0.0];
        [$px, $py] = [$x + 0.5, $y + 0.5];
        $covered = array_map(static fn (array $region): float => self::covered($region, $px, $py), $this->regions);
        $whole = min(1.0, array_sum($covered));
        $masked = $whole > 0 ? $whole * MaskShape::light($this->masks, $px, $py) : 0.0;
        foreach ($this->regions as $k => $region) {
            $part = $region['part'];
            [$sx, $sy] = $part['source'];
            if ($covered[$k] === 0.0) {
                continue;
            }
            if ($region['triangles'] === null) {
                [$i, $j] = [$sx + $x - $part['place'][0], $sy + $y - $part['place'][1]];
                [$at, $rgb] = [[$i + 0.5, $j + 0.5], $signal($part['surface'], $i, $j)];
            } else {
                // A pixel whose middle is past the outline is that region's which covers the most of it.
                $most = $whole < 1 ? 2 * $covered[$k] >= $whole : $covered[$k] > 0.5;
                $met =
                    $region['triangles']->at($px, $py) ??
                    ($most ? $region['triangles']->beside($px, $py, $part['source']) : null);
                if ($met === null) {
                    continue;
                }
                [$at, $covers] = $met;
                $rgb = self::mean($part, $at, $covers, $signal);
            }
            $found = $this->given(
                $rgb,
                $this->share($region, $at, $px, $py),
                $region['lift']?->at(...self::unpinned($part, $px, $py)) ?? 1.0,
                $masked * MaskShape::light($region['masks'], $at[0], $at[1]),
            );
        }

        return $found;
    }

    /**
     * What share of a pixel of the output a region covers.
     *
     * @param  array{part: array<string, mixed>, triangles: SeenTriangles|null, ...}  $region
     */
    private static function covered(array $region, float $x, float $y): float
    {
        if ($region['triangles'] !== null) {
            return $region['triangles']->covered($x, $y);
        }
        [$left, $top] = $region['part']['place'];
        [, , $w, $h] = $region['part']['source'];

        return $x < $left || $y < $top || $x >= $left + $w || $y >= $top + $h ? 0.0 : 1.0;
    }

    /**
     * The share of the light that a region has at a place of the output.
     *
     * @param  array{part: array<string, mixed>, blend: BlendMap|null, ...}  $region
     * @param  array{float, float}  $at  pixel of the surface's raster
     */
    private function share(array $region, array $at, float $x, float $y): float
    {
        $part = $region['part'];
        [$sx, $sy, $w, $h] = $part['source'];
        $edges = isset($part['blend'])
            ? EdgeBlend::of(array_combine(EdgeBlend::EDGES, $part['blend']) + ['curve' => $part['curve']])
            : null;

        return ($edges?->share($at[0] - $sx, $at[1] - $sy, $w, $h) ?? 1.0) *
            ($region['blend']?->at(...self::unpinned($part, $x, $y)) ?? 1.0);
    }

    /**
     * Where what was computed of a region is looked up for a pixel: as if its corners were not pinned.
     *
     * @param  array<string, mixed>  $part
     * @return array{float, float}
     */
    private static function unpinned(array $part, float $x, float $y): array
    {
        return isset($part['unpin']) ? Mat3::of($part['unpin'])->point($x, $y) : [$x, $y];
    }

    /**
     * What of which surface is shown at a pixel of the output: of the last region that has anything there.
     *
     * @return array{surface: string, x: float, y: float, weight: float}|null pixel of the surface's raster, and the
     *     share of the light that it is given; null where nothing is shown
     */
    public function place(float $x, float $y): ?array
    {
        $found = null;
        foreach ($this->regions as $region) {
            $part = $region['part'];
            [$sx, $sy, $w, $h] = $part['source'];
            if ($region['triangles'] === null) {
                [$px, $py] = [$x - $part['place'][0], $y - $part['place'][1]];
                $at = $px < 0 || $py < 0 || $px >= $w || $py >= $h ? null : [$sx + $px, $sy + $py];
            } else {
                $at = $region['triangles']->at($x, $y)[0] ?? null;
            }
            if ($at !== null) {
                $found = [
                    'surface' => $part['surface'],
                    'x' => $at[0],
                    'y' => $at[1],
                    'weight' => $this->share($region, $at, $x, $y) *
                        MaskShape::light($this->masks, $x, $y) *
                        MaskShape::light($region['masks'], $at[0], $at[1]),
                ];
            }
        }

        return $found;
    }

    /**
     * @param  array{float, float, float}  $rgb
     * @return array{float, float, float}
     */
    private function given(array $rgb, float $share, float $lift, float $mask): array
    {
        $gain = $this->output['light'] ?? [1.0, 1.0, 1.0];
        $black = $this->output['black'] ?? 0.0;
        if ($share === 1.0 && $mask === 1.0 && $black === 0.0 && $gain === [1.0, 1.0, 1.0]) {
            return $rgb;
        }
        $gamma = $this->output['gamma'] ?? 2.2;
        $out = static fn (float $v, float $g): float => min(
            1.0,
            (($v ** $gamma * $share * $g + $black * $lift) * $mask) ** (1 / $gamma),
        );

        return [$out($rgb[0], $gain[0]), $out($rgb[1], $gain[1]), $out($rgb[2], $gain[2])];
    }

    /**
     * @param  array<string, mixed>  $part
     * @param  array{float, float}  $at
     * @param  array{float, float}  $covers
     * @param  \Closure(string, int, int): array{float, float, float}  $signal
     * @return array{float, float, float}
     */
    private static function mean(array $part, array $at, array $covers, \Closure $signal): array
    {
        [$nx, $ny] = array_map(ReferenceRaster::samples(...), $covers);
        $sum = [0.0, 0.0, 0.0];
        for ($j = 0; $j < $ny; $j++) {
            for ($i = 0; $i < $nx; $i++) {
                $one = self::between(
                    $part,
                    $nx === 1 ? $at[0] : $at[0] + (($i + 0.5) / $nx - 0.5) * $covers[0],
                    $ny === 1 ? $at[1] : $at[1] + (($j + 0.5) / $ny - 0.5) * $covers[1],
                    $signal,
                );
                $sum = [$sum[0] + $one[0], $sum[1] + $one[1], $sum[2] + $one[2]];
            }
        }

        return [$sum[0] / $nx / $ny, $sum[1] / $nx / $ny, $sum[2] / $nx / $ny];
    }

    /**
     * @param  array<string, mixed>  $part
     * @param  \Closure(string, int, int): array{float, float, float}  $signal
     * @return array{float, float, float}
     */
    private static function between(array $part, float $x, float $y, \Closure $signal): array
    {
        [$sx, $sy, $w, $h] = $part['source'];
        [$x, $y] = [max($sx + 0.5, min($sx + $w - 0.5, $x)) - 0.5, max($sy + 0.5, min($sy + $h - 0.5, $y)) - 0.5];
        [$i, $j] = [(int) floor($x), (int) floor($y)];
        [$s, $t] = [$x - $i, $y - $j];
        $surface = $part['surface'];
        $a = $signal($surface, $i, $j);
        $b = $s > 0 ? $signal($surface, $i + 1, $j) : $a;
        [$c, $d] = $t > 0 ? [$signal($surface, $i, $j + 1), $s > 0 ? $signal($surface, $i + 1, $j + 1) : $a] : [$a, $b];
        if ($t > 0 && $s <= 0) {
            $d = $c;
        }
        $mix = static fn (int $k): float => ($a[$k] * (1 - $s) + $b[$k] * $s) * (1 - $t) +
            ($c[$k] * (1 - $s) + $d[$k] * $s) * $t;

        return [$mix(0), $mix(1), $mix(2)];
    }
}

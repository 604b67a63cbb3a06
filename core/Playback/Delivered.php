<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Output\BlendMap;
use Core\Output\DeliveryMesh;
use Core\Output\EdgeBlend;
use Core\Output\MaskShape;
use Core\Plan\Plan;

/**
 * The last pass: surface rasters onto an output, each region through its triangles, its masks and its share of the
 * light. A share of the light is a share of the signal to the power of γ: out = (((signal^γ · share · gain) + black ·
 * lift) · mask)^(1/γ). Between pixels of a surface's raster four are interpolated; where the region is shown smaller,
 * a pixel is the mean of samples two of them apart, as in the passes before.
 */
final readonly class Delivered
{
    /**
     * @param  array<string, mixed>  $output
     * @param  list<array{part: array<string, mixed>, triangles: list<list<float>>|null, blend: BlendMap|null, lift: BlendMap|null, masks: list<MaskShape>}>  $regions
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
                    ? ($mesh instanceof DeliveryMesh
                        ? array_chunk($mesh->numbers(), 3 * DeliveryMesh::NUMBERS)
                        : [])
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
        $masked = null;
        foreach ($this->regions as $region) {
            $part = $region['part'];
            [$sx, $sy, $w, $h] = $part['source'];
            if ($region['triangles'] === null) {
                [$px, $py] = [$x - $part['place'][0], $y - $part['place'][1]];
                if ($px < 0 || $py < 0 || $px >= $w || $py >= $h) {
                    continue;
                }
                [$at, $rgb] = [[$sx + $px + 0.5, $sy + $py + 0.5], $signal($part['surface'], $sx + $px, $sy + $py)];
            } else {
                $met = self::met($region['triangles'], $x + 0.5, $y + 0.5);
                if ($met === null) {
                    continue;
                }
                [$at, $covers] = $met;
                $rgb = self::mean($part, $at, $covers, $signal);
            }
            $share = isset($part['blend'])
                ? EdgeBlend::of(array_combine(EdgeBlend::EDGES, $part['blend']) + ['curve' => $part['curve']])->share(
                    $at[0] - $sx,
                    $at[1] - $sy,
                    $w,
                    $h,
                )
                : 1.0;
            $share *= $region['blend']?->at($x + 0.5, $y + 0.5) ?? 1.0;
            $masked ??= MaskShape::light($this->masks, $x + 0.5, $y + 0.5);
            $found = $this->given(
                $rgb,
                $share,
                $region['lift']?->at($x + 0.5, $y + 0.5) ?? 1.0,
                $masked * MaskShape::light($region['masks'], $at[0], $at[1]),
            );
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
     * Where the uppermost triangle at a place of the output has it on the surface's raster.
     *
     * @param  list<list<float>>  $triangles
     * @return array{array{float, float}, array{float, float}}|null the place, and how many pixels one of the output
     *     covers there
     */
    private static function met(array $triangles, float $x, float $y): ?array
    {
        for ($i = count($triangles) - 1; $i >= 0; $i--) {
            [$ax, $ay, $aw, $as, $at, $bx, $by, $bw, $bs, $bt, $cx, $cy, $cw, $cs, $ct] = $triangles[$i];
            [$left, $right] = [min($ax / $aw, $bx / $bw, $cx / $cw), max($ax / $aw, $bx / $bw, $cx / $cw)];
            if ($x < $left || $x > $right) {
                continue;
            }
            // Weights of the corners are the adjugate of the matrix of their homogeneous places times the point.
            $weights = static function (float $x, float $y) use ($ax, $ay, $aw, $bx, $by, $bw, $cx, $cy, $cw): array {
                return [
                    ($by * $cw - $cy * $bw) * $x + ($cx * $bw - $bx * $cw) * $y + $bx * $cy - $cx * $by,
                    ($cy * $aw - $ay * $cw) * $x + ($ax * $cw - $cx * $aw) * $y + $cx * $ay - $ax * $cy,
                    ($ay * $bw - $by * $aw) * $x + ($bx * $aw - $ax * $bw) * $y + $ax * $by - $bx * $ay,
                ];
            };
            [$a, $b, $c] = $weights($x, $y);
            if (! (($a >= 0 && $b >= 0 && $c >= 0) || ($a <= 0 && $b <= 0 && $c <= 0)) || $a + $b + $c === 0.0) {
                continue;
            }
            $place = static function (float $a, float $b, float $c) use ($as, $at, $bs, $bt, $cs, $ct): array {
                $sum = $a + $b + $c;

                return [($a * $as + $b * $bs + $c * $cs) / $sum, ($a * $at + $b * $bt + $c * $ct) / $sum];
            };
            $here = $place($a, $b, $c);
            [$right, $down] = [$place(...$weights($x + 1, $y)), $place(...$weights($x, $y + 1))];

            return [
                $here,
                [hypot($right[0] - $here[0], $down[0] - $here[0]), hypot($right[1] - $here[1], $down[1] - $here[1])],
            ];
        }

        return null;
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

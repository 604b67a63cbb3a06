<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Effects\EffectPicture;
use Core\Media\PatternPicture;
use Core\Media\Picture;
use Core\Media\TestCard;
use Core\Plan\SurfaceMesh;
use Core\Routing\Projection;

/**
 * The same picture that a player draws, one pixel at a time and slowly: steps from the bottom up, premultiplied,
 * blended in display-encoded space. Where a picture is shown smaller than it is, a pixel is the mean of samples two
 * of its pixels apart, at least 2 and at most 16 each way; else it is one sample. Each is interpolated between the
 * four nearest. A layer's colours are turned into their opposites as far as it says, and its gain is cut off at full
 * light before it is laid on what is below; an opaque one is black where its picture is clear. Where several lenses
 * throw one picture onto a place, their weights are made to sum to 1, and their light is summed.
 */
final class ReferenceRaster
{
    private const MAX_SAMPLES = 16;

    /**
     * @var array<string, list<array{DrawStep, list<float>|null}>> steps and the inverse of their matrix, null where it has none, by surface
     */
    private array $steps = [];

    /** @var array<string, RasterPlaces> by surface */
    private array $places = [];

    /** @var array<string, Delivered> by output */
    private array $deliveries = [];

    /**
     * @var array<string, array<int, array<int, array{float, float, float}>>> signals of surfaces that outputs sample, by row and column
     */
    private array $kept = [];

    private ?Occlusion $occlusion = null;

    /** @var array<string, Picture> pictures that are nobody's media */
    private array $own = [];

    private readonly float $master;

    /**
     * @param  \Closure(string, int): ?Picture  $source  a media by its key in the plan, and a frame; null shows nothing
     */
    public function __construct(
        private readonly Moment $moment,
        private readonly \Closure $source,
        private readonly EffectPictures $effects = new EffectPictures(),
    ) {
        $this->master = $moment->master();
    }

    /** @return array{int, int, int} what a pixel of an output shows, 0 to 255 */
    public function outputPixel(string $output, int $x, int $y): array
    {
        $card = DrawStep::identify($this->moment, $output);
        $picture = $card === null ? null : $this->unchanged($card);
        if ($picture instanceof Picture && $x >= 0 && $y >= 0 && $x < $picture->width && $y < $picture->height) {
            [$r, $g, $b] = $picture->pixel($x, $y);

            return [$r, $g, $b];
        }
        $light = $this->deliveries[$output] ??= Delivered::of($this->moment->plan, $output);

        return self::bytes(
            $light->pixel(
                $x,
                $y,
                fn (string $surface, int $sx, int $sy): array => array_map(
                    fn (float $v): float => max(0.0, min(1.0, $v * $this->master)),
                    $this->kept[$surface][$sy][$sx] ??= $this->surfaceSignal($surface, $sx, $sy),
                ),
            ),
        );
    }

    /**
     * @param  array{float, float, float}  $signal  0 to 1
     * @return array{int, int, int}
     */
    private static function bytes(array $signal): array
    {
        return [(int) round($signal[0] * 255), (int) round($signal[1] * 255), (int) round($signal[2] * 255)];
    }

    /** @return array{int, int, int} what a pixel of a surface's raster shows, the master allowed for */
    public function surfacePixel(string $surface, int $x, int $y): array
    {
        return self::bytes($this->surfaceLight($surface, $x, $y));
    }

    /** @return array{float, float, float} the same, 0 to 1 */
    public function surfaceLight(string $surface, int $x, int $y): array
    {
        [$r, $g, $b] = $this->surfaceSignal($surface, $x, $y);
        $shown = fn (float $light): float => max(0.0, min(1.0, $light * $this->master));

        return [$shown($r), $shown($g), $shown($b)];
    }

    /** @return array{float, float, float} what a pixel of a surface's raster shows before the master, 0 to 1 */
    private function surfaceSignal(string $surface, int $x, int $y): array
    {
        $raster = $this->moment->plan->parts["surface:$surface"] ?? null;
        if ($raster === null || $x < 0 || $y < 0 || $x >= $raster['width'] || $y >= $raster['height']) {
            return [0.0, 0.0, 0.0];
        }
        [$r, $g, $b] = [0.0, 0.0, 0.0];
        $sum = [0.0, 0.0, 0.0, 0.0];
        foreach ($this->steps[$surface] ??= $this->prepare($surface) as [$step, $m]) {
            $light = $this->light($surface, $step, $m, $x + 0.5, $y + 0.5);
            if ($light !== null) {
                foreach ([0, 1, 2] as $c) {
                    $sum[$c] +=
                        min(
                            $light[3],
                            ($light[$c] + ($light[3] - 2 * $light[$c]) * $step->invert[$c]) * $step->gain[$c],
                        ) * $step->opacity;
                }
                $sum[3] += $light[3] * $step->opacity;
            }
            if ($step->shared) {
                continue;
            }
            if ($sum[3] > 0 || $sum[0] + $sum[1] + $sum[2] > 0) {
                $r = $step->blend->over($sum[0], $sum[3], $r);
                $g = $step->blend->over($sum[1], $sum[3], $g);
                $b = $step->blend->over($sum[2], $sum[3], $b);
            }
            $sum = [0.0, 0.0, 0.0, 0.0];
        }

        return [$r, $g, $b];
    }

    /**
     * What reaches a pixel of a surface's raster, from the top down: each step with the places of its picture that
     * are seen there.
     *
     * @return list<array{step: DrawStep, hits: non-empty-list<array{u: float, v: float, weight: float, across: float, down: float}>}>
     */
    public function under(string $surface, int $x, int $y): array
    {
        $found = [];
        foreach ($this->steps[$surface] ??= $this->prepare($surface) as [$step, $m]) {
            $hits = $m === null ? [] : $this->hits($surface, $step, $m, $x + 0.5, $y + 0.5);
            if ($hits !== []) {
                array_unshift($found, [
                    'step' => $step,
                    'hits' => array_map(
                        static fn (array $hit): array => array_combine(['u', 'v'], $step->tiled($hit['u'], $hit['v'])) +
                            $hit,
                        $hits,
                    ),
                ]);
            }
        }

        return $found;
    }

    /**
     * The places of a step's picture that are seen at a point of the raster.
     *
     * @param  list<float>  $m  the raster's pixels, or the pane's where it is thrown, onto the picture's unit square
     * @return list<array{u: float, v: float, weight: float, across: float, down: float}> in the unit square; `across`
     *     and `down`: how much of
     *                                                                                    the picture's width and
     *                                                                                    height one pixel of the
     *                                                                                    raster covers
     */
    private function hits(string $surface, DrawStep $step, array $m, float $x, float $y): array
    {
        if ($step->thrown !== []) {
            return $this->thrown($surface, $step, $m, $x, $y);
        }
        if (
            $step->clip !== null &&
            ($x < $step->clip[0] || $y < $step->clip[1] || $x >= $step->clip[2] || $y >= $step->clip[3])
        ) {
            return [];
        }
        [$u, $v] = self::through($m, $x, $y);

        return self::inside($step, $u, $v)
            ? [['u' => $u, 'v' => $v, 'weight' => 1.0, 'across' => hypot($m[0], $m[1]), 'down' => hypot($m[3], $m[4])]]
            : [];
    }

    /**
     * @param  list<float>  $m  the pane's pixels onto the picture's unit square
     * @return list<array{u: float, v: float, weight: float, across: float, down: float}>
     */
    private function thrown(string $surface, DrawStep $step, array $m, float $x, float $y): array
    {
        $mesh = $this->moment->plan->tracks["surface:$surface/mesh"] ?? null;
        $found =
            $mesh instanceof SurfaceMesh
                ? ($this->places[$surface] ??= new RasterPlaces(
                    $mesh,
                    $this->moment->plan->parts["round:$surface"] ?? null,
                ))->at($x, $y)
                : null;
        if ($found === null) {
            return [];
        }
        [$place, $normal, $right, $down, $flat] = $found;
        $lit = [];
        foreach ($step->thrown as $projection) {
            $at = $projection->at(...$place);
            if (
                $at !== null &&
                $at[2] > 0 &&
                $projection->lights(...$place, ...$normal) &&
                ! $this->isHidden($projection, $flat)
            ) {
                $lit[] = [$projection, $at];
            }
        }
        $sum = array_sum(array_map(static fn (array $one): float => $one[1][2], $lit));
        $hits = [];
        foreach ($lit as [$projection, $at]) {
            [$u, $v] = self::through($m, $at[0], $at[1]);
            if (! self::inside($step, $u, $v)) {
                continue;
            }
            [$ux, $vx] = self::beside($projection, $place, $right, $at, $m);
            [$uy, $vy] = self::beside($projection, $place, $down, $at, $m);
            $hits[] = [
                'u' => $u,
                'v' => $v,
                'weight' => count($lit) > 1 ? $at[2] / $sum : $at[2],
                'across' => hypot($ux, $uy),
                'down' => hypot($vx, $vy),
            ];
        }

        return $hits;
    }

    /** @param  array{float, float, float}  $place */
    private function isHidden(Projection $projection, array $place): bool
    {
        $eye = $projection->hiddenFrom();
        $solids = $eye === null ? null : $this->moment->plan->tracks['venue/solids'] ?? null;

        return $eye !== null &&
            $solids instanceof SurfaceMesh &&
            ($this->occlusion ??= Occlusion::of($solids))->hides($eye, $place);
    }

    /**
     * The light of a step at a point of the raster.
     *
     * @param  list<float>|null  $m
     * @return array{float, float, float, float}|null premultiplied; null where nothing is
     */
    private function light(string $surface, DrawStep $step, ?array $m, float $x, float $y): ?array
    {
        $hits = $m === null ? [] : $this->hits($surface, $step, $m, $x, $y);
        $picture = $hits === [] ? null : $this->picture($step);
        if ($picture === null) {
            return null;
        }
        $light = [0.0, 0.0, 0.0, 0.0];
        $mask =
            $step->mask === null
                ? null
                : $step->mask->pattern ?? ($this->source)($step->mask->media, $step->mask->frame);
        foreach ($hits as ['u' => $u, 'v' => $v, 'weight' => $weight, 'across' => $across, 'down' => $down]) {
            $sample = self::average($picture, $u, $v, $picture->width * $across, $picture->height * $down, $step);
            $weight *= $step->mask?->at($mask, $u, $v, $across, $down) ?? 1.0;
            $light = [
                $light[0] + $weight * $sample[0],
                $light[1] + $weight * $sample[1],
                $light[2] + $weight * $sample[2],
                $light[3] + $weight * ($step->opaque ? 1.0 : $sample[3]),
            ];
        }

        return $light;
    }

    /**
     * How far one goes on the picture, in its unit square, for a step from a place in the venue.
     *
     * @param  array{float, float, float}  $place
     * @param  array{float, float, float}  $step
     * @param  array{float, float, float}  $at  what the projection says of the place
     * @param  list<float>  $m  the pane's pixels onto the picture's unit square
     * @return array{float, float}
     */
    private static function beside(Projection $projection, array $place, array $step, array $at, array $m): array
    {
        $next = $projection->at($place[0] + $step[0], $place[1] + $step[1], $place[2] + $step[2]);
        if ($next === null) {
            return [0.0, 0.0];
        }
        $turn = $projection->around();
        $by = $next[0] - $at[0];
        $by -= $turn > 0 ? $turn * round($by / $turn) : 0;
        [$u, $v] = self::through($m, $at[0], $at[1]);
        [$u1, $v1] = self::through($m, $at[0] + $by, $next[1]);

        return [$u1 - $u, $v1 - $v];
    }

    /**
     * @param  list<float>  $m
     * @return array{float, float}
     */
    private static function through(array $m, float $x, float $y): array
    {
        $w = $m[6] * $x + $m[7] * $y + $m[8];

        return [($m[0] * $x + $m[1] * $y + $m[2]) / $w, ($m[3] * $x + $m[4] * $y + $m[5]) / $w];
    }

    private static function inside(DrawStep $step, float $u, float $v): bool
    {
        return (($step->tile & 1) !== 0 || ($u >= $step->crop[0] && $u < $step->crop[2])) &&
            (($step->tile & 2) !== 0 || ($v >= $step->crop[1] && $v < $step->crop[3]));
    }

    private function picture(DrawStep $step): Picture|PatternPicture|EffectPicture|null
    {
        $plain = $this->unchanged($step);

        return $plain === null || $step->effects === [] ? $plain : $this->effects->of($step, $plain);
    }

    /** The picture of a step before its effects. */
    private function unchanged(DrawStep $step): Picture|PatternPicture|null
    {
        if ($step->pattern !== null) {
            return $step->pattern;
        }
        if ($step->media === DrawStep::BAR) {
            return $this->own[$step->media] ??= Picture::solid(1, 1, [255, 255, 255]);
        }
        if (str_starts_with($step->media, DrawStep::CARD)) {
            $id = substr($step->media, strlen(DrawStep::CARD));
            $raster = $this->moment->plan->parts["surface:$id"] ?? $this->moment->plan->parts["output:$id"];

            return $this->own[$step->media] ??= TestCard::picture($raster['width'], $raster['height'], $raster['name']);
        }

        return ($this->source)($step->media, $step->frame);
    }

    /** @return list<array{DrawStep, list<float>|null}> */
    private function prepare(string $surface): array
    {
        $prepared = [];
        foreach (DrawStep::of($this->moment, $surface) as $step) {
            // What has no area shows nothing; the step that ends a sum stays all the same.
            $prepared[] = [$step, $step->matrix->inverse()?->m];
        }

        return $prepared;
    }

    /** How many samples a mean is of along one direction, of so many pixels that are covered. */
    public static function samples(float $covered): int
    {
        return $covered < 1.01 ? 1 : max(2, min(self::MAX_SAMPLES, (int) ceil($covered / 2)));
    }

    /**
     * The mean of a picture over a place: of samples two of its pixels apart, as many as that takes.
     *
     * @param  float  $across  pixels of the picture that are covered, also down
     * @param  DrawStep|null  $step  that may repeat what is seen of it
     * @return array{float, float, float, float} premultiplied
     */
    public static function average(
        Picture|PatternPicture|EffectPicture $picture,
        float $u,
        float $v,
        float $across,
        float $down,
        ?DrawStep $step = null,
    ): array {
        $place = static fn (float $u, float $v): array => $step?->tiled($u, $v) ?? [$u, $v];
        [$nx, $ny] = [self::samples($across), self::samples($down)];
        if ($nx === 1 && $ny === 1) {
            return $picture->sample(...$place($u, $v));
        }
        [$r, $g, $b, $a] = [0.0, 0.0, 0.0, 0.0];
        for ($j = 0; $j < $ny; $j++) {
            for ($i = 0; $i < $nx; $i++) {
                [$sr, $sg, $sb, $sa] = $picture->sample(
                    ...$place(
                        $u + ((($i + 0.5) / $nx - 0.5) * $across) / $picture->width,
                        $v + ((($j + 0.5) / $ny - 0.5) * $down) / $picture->height,
                    ),
                );
                [$r, $g, $b, $a] = [$r + $sr, $g + $sg, $b + $sb, $a + $sa];
            }
        }
        $n = $nx * $ny;

        return [$r / $n, $g / $n, $b / $n, $a / $n];
    }
}

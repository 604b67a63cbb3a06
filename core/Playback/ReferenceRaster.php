<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Media\Picture;
use Core\Media\TestCard;

/**
 * The same picture that a player draws, one pixel at a time and slowly: steps from the bottom up, premultiplied, blended
 * in display-encoded space. Where a picture is shown smaller than it is, a pixel is the mean of samples two of its
 * pixels apart, at least 2 and at most 16 each way; else it is one sample. Each is interpolated between the four nearest.
 * A layer's gain is cut off at full light before it is laid on what is below.
 */
final class ReferenceRaster
{
    public const MAX_SAMPLES = 16;

    /** @var array<string, list<array{DrawStep, list<float>}>> steps and the inverse of their matrix, by surface */
    private array $steps = [];

    /** @var array<string, Picture> pictures that are nobody's media */
    private array $own = [];

    private readonly float $master;

    /** @param  \Closure(string, int): ?Picture  $source  a media by its key in the plan, and a frame; null shows nothing */
    public function __construct(private readonly Moment $moment, private readonly \Closure $source)
    {
        $this->master = $moment->master();
    }

    /** @return array{int, int, int} what a pixel of an output shows, 0 to 255 */
    public function outputPixel(string $output, int $x, int $y): array
    {
        $card = DrawStep::identify($this->moment, $output);
        $picture = $card === null ? null : $this->picture($card);
        if ($picture !== null && $x >= 0 && $y >= 0 && $x < $picture->width && $y < $picture->height) {
            [$r, $g, $b] = $picture->pixel($x, $y);

            return [$r, $g, $b];
        }
        $rgb = [0, 0, 0];
        foreach ($this->moment->plan->deliveries($output) as $region) {
            [$sx, $sy, $w, $h] = $region['source'];
            [$px, $py] = $region['place'];
            if ($x >= $px && $y >= $py && $x < $px + $w && $y < $py + $h) {
                $rgb = $this->surfacePixel($region['surface'], $sx + $x - $px, $sy + $y - $py);
            }
        }

        return $rgb;
    }

    /** @return array{int, int, int} what a pixel of a surface's raster shows, the master allowed for */
    public function surfacePixel(string $surface, int $x, int $y): array
    {
        $raster = $this->moment->plan->parts["surface:$surface"] ?? null;
        if ($raster === null || $x < 0 || $y < 0 || $x >= $raster['width'] || $y >= $raster['height']) {
            return [0, 0, 0];
        }
        [$r, $g, $b] = [0.0, 0.0, 0.0];
        foreach ($this->steps[$surface] ??= $this->prepare($surface) as [$step, $m]) {
            $w = $m[6] * ($x + 0.5) + $m[7] * ($y + 0.5) + $m[8];
            $u = ($m[0] * ($x + 0.5) + $m[1] * ($y + 0.5) + $m[2]) / $w;
            $v = ($m[3] * ($x + 0.5) + $m[4] * ($y + 0.5) + $m[5]) / $w;
            if ($u < 0 || $v < 0 || $u >= 1 || $v >= 1) {
                continue;
            }
            $picture = $this->picture($step);
            if ($picture === null) {
                continue;
            }
            // How many of the picture's pixels lie under one of the raster's, each way.
            $across = $picture->width * hypot($m[0], $m[1]);
            $down = $picture->height * hypot($m[3], $m[4]);
            [$sr, $sg, $sb, $sa] = self::average($picture, $u, $v, $across, $down);
            $alpha = $sa * $step->opacity;
            $r = $step->blend->over(min($sa, $sr * $step->gain[0]) * $step->opacity, $alpha, $r);
            $g = $step->blend->over(min($sa, $sg * $step->gain[1]) * $step->opacity, $alpha, $g);
            $b = $step->blend->over(min($sa, $sb * $step->gain[2]) * $step->opacity, $alpha, $b);
        }
        $shown = fn (float $light): int => (int) round(max(0.0, min(1.0, $light * $this->master)) * 255);

        return [$shown($r), $shown($g), $shown($b)];
    }

    private function picture(DrawStep $step): ?Picture
    {
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

    /** @return list<array{DrawStep, list<float>}> */
    private function prepare(string $surface): array
    {
        $prepared = [];
        foreach (DrawStep::of($this->moment, $surface) as $step) {
            $inverse = $step->matrix->inverse();
            if ($inverse !== null) {
                $prepared[] = [$step, $inverse->m];
            }
        }

        return $prepared;
    }

    /** @return array{float, float, float, float} */
    private static function average(Picture $picture, float $u, float $v, float $across, float $down): array
    {
        $nx = $across < 1.01 ? 1 : max(2, min(self::MAX_SAMPLES, (int) ceil($across / 2)));
        $ny = $down < 1.01 ? 1 : max(2, min(self::MAX_SAMPLES, (int) ceil($down / 2)));
        if ($nx === 1 && $ny === 1) {
            return $picture->sample($u, $v);
        }
        [$r, $g, $b, $a] = [0.0, 0.0, 0.0, 0.0];
        for ($j = 0; $j < $ny; $j++) {
            for ($i = 0; $i < $nx; $i++) {
                [$sr, $sg, $sb, $sa] = $picture->sample($u + (($i + 0.5) / $nx - 0.5) * $across / $picture->width, $v + (($j + 0.5) / $ny - 0.5) * $down / $picture->height);
                [$r, $g, $b, $a] = [$r + $sr, $g + $sg, $b + $sb, $a + $sa];
            }
        }
        $n = $nx * $ny;

        return [$r / $n, $g / $n, $b / $n, $a / $n];
    }
}

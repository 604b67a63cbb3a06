<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Media\Picture;

/**
 * The same picture that a player draws, one pixel at a time and slowly: layers from the bottom up, premultiplied, blended
 * in display-encoded space, sampled linearly.
 */
final readonly class ReferenceRaster
{
    /**
     * @param  \Closure(int): float  $value  of a lane, by number, at the moment that is drawn
     * @param  \Closure(string, int): ?Picture  $source  a media by its key in the plan, and a frame; null shows nothing
     */
    public function __construct(private Plan $plan, private \Closure $value, private \Closure $source)
    {
    }

    /** @return array{int, int, int} what a pixel of an output shows, 0 to 255 */
    public function outputPixel(string $output, int $x, int $y): array
    {
        $rgb = [0, 0, 0];
        foreach ($this->plan->data['outputs'][$output]['regions'] as $region) {
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
        $raster = $this->plan->data['surfaces'][$surface];
        if ($x < 0 || $y < 0 || $x >= $raster['width'] || $y >= $raster['height']) {
            return [0, 0, 0];
        }
        [$r, $g, $b] = [0.0, 0.0, 0.0];
        foreach ($raster['layers'] as $layer) {
            $clip = $layer['clips'][(int) ($this->value)($layer['lanes']['clip'])] ?? null;
            $opacity = ($this->value)($layer['lanes']['opacity']);
            if ($clip === null || $clip['rect'] === null || $opacity <= 0) {
                continue;
            }
            [$left, $top, $width, $height] = $clip['rect'];
            $u = ($x + 0.5 - $left - ($this->value)($layer['lanes']['x'])) / $width;
            $v = ($y + 0.5 - $top - ($this->value)($layer['lanes']['y'])) / $height;
            if ($u < 0 || $v < 0 || $u >= 1 || $v >= 1) {
                continue;
            }
            $picture = ($this->source)($clip['media'], (int) ($this->value)($layer['lanes']['frame']));
            if ($picture === null) {
                continue;
            }
            [$sr, $sg, $sb, $sa] = $picture->sample($u, $v);
            $rest = 1 - $sa * $opacity;
            $r = $sr * $opacity + $r * $rest;
            $g = $sg * $opacity + $g * $rest;
            $b = $sb * $opacity + $b * $rest;
        }
        $master = ($this->value)(Plan::MASTER);

        return [(int) round($r * $master * 255), (int) round($g * $master * 255), (int) round($b * $master * 255)];
    }
}

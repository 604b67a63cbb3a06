<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Geometry\Mat3;

/** One picture laid on a surface's raster: which, where, how strongly and how it blends. The same list is drawn by players and by the reference. */
final readonly class DrawStep
{
    /**
     * @param  string  $media  key of its part
     * @param  Mat3  $matrix  the picture's unit square onto the raster's pixels
     */
    public function __construct(public string $layer, public string $media, public int $frame, public Mat3 $matrix, public float $opacity, public string $blend)
    {
    }

    /** @return list<self> what a surface shows at a moment, from the bottom up; what can't be seen is left out */
    public static function of(Moment $moment, string $surface): array
    {
        $steps = [];
        foreach ($moment->plan->contributions($surface) as $part) {
            $timeline = $moment->plan->parts["layer:$part[layer]"]['timeline'];
            foreach ($moment->headsOf($timeline) as $head) {
                [$index, $frame] = $moment->media($part['layer'], $head);
                $clip = $part['clips'][$index] ?? null;
                $value = static fn (string $property): float => $moment->value("layer:$part[layer]/$property", $head);
                $opacity = $clip === null || $clip['fit'] === null ? 0.0 : $value('opacity') * $moment->value("timeline:$timeline/level", $head) * $head->weight->at($moment->engine);
                if ($opacity > 0) {
                    $matrix = Mat3::about($clip['middle'][0], $clip['middle'][1], $value('scale'), $value('turn'), $value('x'), $value('y'))->times(Mat3::of($clip['fit']));
                    $steps[] = new self($part['layer'], $clip['media'], $frame, $matrix, $opacity, $part['blend']);
                }
            }
        }

        return $steps;
    }
}

<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Geometry\Mat3;
use Core\Timeline\BlendMode;
use Core\Units\Flicks;

/** One picture laid on a surface's raster: which, where, how strongly and how it blends. The same list is drawn by players and by the reference. */
final readonly class DrawStep
{
    /** What the media of a test card that is put up are called: this with the id of its surface or output, and white for its bar. */
    public const CARD = 'card ';

    public const BAR = 'card bar';

    /** A bar's way across a test card, in flicks: 4 s. */
    private const RUN = 4 * Flicks::PER_SECOND;

    /**
     * @param  string  $layer  empty for a test card that is put up
     * @param  string  $media  key of its part
     * @param  Mat3  $matrix  the picture's unit square onto the raster's pixels
     * @param  array{float, float, float}  $gain  what red, green and blue are multiplied by, before they are cut off at 1
     */
    public function __construct(public string $layer, public string $media, public int $frame, public Mat3 $matrix, public float $opacity, public BlendMode $blend = BlendMode::Normal, public array $gain = [1.0, 1.0, 1.0])
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
                $opacity = $clip === null || $clip['fit'] === null || $value('mute') >= 0.5 ? 0.0 : $value('opacity') * $moment->value("timeline:$timeline/level", $head) * $head->weight->at($moment->engine);
                if ($opacity > 0) {
                    $matrix = Mat3::about($clip['middle'][0], $clip['middle'][1], $value('scale'), $value('turn'), $value('x'), $value('y'))->times(Mat3::of($clip['fit']));
                    $steps[] = new self($part['layer'], $clip['media'], $frame, $matrix, $opacity, BlendMode::numbered($value('blend')), $moment->colour("layer:$part[layer]/gain", $head));
                }
            }
        }

        return in_array($surface, $moment->cards, true) ? [...$steps, ...self::card($moment, $surface)] : $steps;
    }

    /** @return self|null the card over the whole of an output by which it is recognised, past the master, while that is asked for */
    public static function identify(Moment $moment, string $output): ?self
    {
        $raster = $moment->plan->parts["output:$output"] ?? null;

        return $raster !== null && $moment->engine < ($moment->identified[$output] ?? 0) ? self::cardOver($output, $raster['width'], $raster['height']) : null;
    }

    /**
     * The test card over a surface, with a bar that runs across it once in four seconds, so that a frozen picture is seen to be one.
     *
     * @return list<self>
     */
    private static function card(Moment $moment, string $surface): array
    {
        $raster = $moment->plan->parts["surface:$surface"] ?? null;
        if ($raster === null) {
            return [];
        }
        [$width, $height] = [$raster['width'], $raster['height']];
        $bar = max(2, $width / 96);
        $left = ($moment->engine % self::RUN) / self::RUN * ($width + $bar) - $bar;

        return [
            self::cardOver($surface, $width, $height),
            new self('', self::BAR, 0, Mat3::rectangle($left, 0, $bar, $height), 0.85),
        ];
    }

    private static function cardOver(string $id, int $width, int $height): self
    {
        return new self('', self::CARD.$id, 0, Mat3::rectangle(0, 0, $width, $height), 1);
    }
}

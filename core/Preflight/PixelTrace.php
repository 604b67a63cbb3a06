<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Media\Picture;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Show\Show;
use Core\Units\InvalidValue;

/**
 * What a pixel of a surface is: every layer that reaches it, from the top down, with the pixel of its content that
 * lands there.
 */
final class PixelTrace
{
    /**
     * @return list<array{layer: string, name: string, media: string, mediaName: string, route: string, frame: int, x: float, y: float, opacity: float, blend: string}>
     *   `x` and `y` in pixels of the content as it was made, from its upper left corner; `opacity` with the feather
     *   of what throws it; ids of layer
     *   and media are empty for a test card that is put up; a layer stands once for each lens that reaches the pixel
     *
     * @throws InvalidValue for a place that the surface does not have
     */
    public static function of(Show $show, string $surface, int $x, int $y, Moment $moment): array
    {
        $of =
            $show->venue->surfaces[$surface] ??
            throw InvalidValue::because('surface', 'This surface is not in the show.');
        if ($x < 0 || $y < 0 || $x >= $of->width() || $y >= $of->height()) {
            throw InvalidValue::because(
                $x < 0 || $x >= $of->width() ? 'x' : 'y',
                "$of->name has pixels 0, 0 to ".($of->width() - 1).', '.($of->height() - 1).'.',
            );
        }
        $told = [];
        foreach (
            (new ReferenceRaster($moment, static fn (): ?Picture => null))->under($surface, $x, $y) as ['step' => $step, 'hits' => $hits]
        ) {
            $part = $moment->plan->parts["media:$step->media"] ?? [];
            $layer = $show->programme->layer($step->layer);
            $head = $layer === null ? null : $moment->headsOf($layer->timeline)[0] ?? null;
            $route =
                $layer === null
                    ? null
                    : $show->programme->wayAt(
                        $layer,
                        $head === null ? 0 : $moment->value("layer:$layer->id/route", $head),
                    );
            $id = explode('@', $step->media)[0];
            $item = $show->library->media[$id] ?? null;
            $size =
                $item !== null && $item->width > 0
                    ? [$item->width, $item->height]
                    : [(int) ($part['width'] ?? $of->width()), (int) ($part['height'] ?? $of->height())];
            foreach ($hits as $hit) {
                $told[] = [
                    'layer' => $step->layer,
                    'name' => $layer->name ?? 'Test card',
                    'media' => $item === null ? '' : $id,
                    'mediaName' => $item->name ?? 'Test card',
                    'route' => $layer === null ? '' : ($route === null || $route->name === '' ? 'skin' : $route->name),
                    'frame' => $step->frame,
                    'x' => $hit['u'] * $size[0],
                    'y' => $hit['v'] * $size[1],
                    'opacity' => $step->opacity * $hit['weight'],
                    'blend' => $step->blend->value,
                ];
            }
        }

        return $told;
    }
}

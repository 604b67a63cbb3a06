<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Media\MediaItem;
use Core\Routing\Fit;
use Core\Routing\Landing;
use Core\Routing\Placement;
use Core\Routing\Route;
use Core\Venue\Surface;

/** A media as a layer shows it on a surface: where it lands in the pane, and what becomes of its pixels. */
final readonly class PlacedUse
{
    /**
     * @param  Fit  $fit  as it is fitted here
     * @param  array{int, int}  $content  pixels as stored
     * @param  array{int, int}  $pane  pixels
     * @param  Placement|null  $placement  null where it has no picture yet
     * @param  Landing|null  $landing  null also where it is thrown, and differs from place to place
     */
    private function __construct(
        public MediaItem $item,
        public Surface $surface,
        public Fit $fit,
        public array $content,
        public array $pane,
        public ?Placement $placement,
        public ?Landing $landing,
    ) {
    }

    public static function of(Route $route, MediaItem $item, Surface $surface, Fit $fit, ?string $part): self
    {
        $placement = $route->place($item, $surface, $fit, $part);
        $onto = $placement === null ? null : $route->onto($surface);
        [, , $width, $height] = $route->room($surface, $part);
        $content = $item->contentSize([max(1, (int) round($width)), max(1, (int) round($height))]);

        return new self(
            $item,
            $surface,
            $route->fit($surface, $fit),
            $content,
            $route->pane($surface),
            $placement,
            $placement === null || $onto === null
                ? null
                : Landing::of($onto->times($placement->matrix()), $content[0], $content[1], $item->pixelAspect),
        );
    }

    public function isSquashed(): bool
    {
        return $this->landing?->isSquashed() ?? $this->placement !== null && abs($this->placement->squash - 1) > 0.01;
    }

    /**
     * What a designer ought to know before seeing it.
     *
     * @return list<string>
     */
    public function remarks(): array
    {
        if ($this->placement === null) {
            return [];
        }
        $remarks = $this->landing?->remarks() ?? [];
        if ($this->landing === null && $this->isSquashed()) {
            $squash = $this->placement->squash;
            $remarks[] = sprintf(
                'The picture is stretched %.0f %% %s than it was made.',
                (max($squash, 1 / $squash) - 1) * 100,
                $squash > 1 ? 'wider' : 'higher',
            );
        }
        if ($this->placement->hidden() > 0.01) {
            $remarks[] = sprintf('%.0f %% of the picture is cut off.', $this->placement->hidden() * 100);
        }

        return $remarks;
    }
}

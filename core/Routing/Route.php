<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat3;
use Core\Media\MediaItem;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Surface;

/**
 * How a picture reaches surfaces: a pane in which it is placed, and a reach that carries the pane's pixels. One
 * without a name belongs to the layer that was aimed straight at its surfaces.
 */
final readonly class Route
{
    public const MAX_SURFACES = 10_000;

    /** Pixels of a pane each way: it is never composed whole. */
    public const MAX_PANE = 32_768;

    /** How many lenses of one route may be stitched. */
    public const MAX_LENSES = 8;

    /**
     * @param  list<string>  $aimed  ids of surfaces, each once; those of a canvas follow from its shares
     * @param  int  $width  of the pane in pixels; 0 for each surface's own raster
     * @param  array<string, Fitting>  $fittings  by surface: of the pane where it has a size, else of what a layer
     *     shows there
     * @param  string|null  $rig  that carries the centre of a globe
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot
     * @param  list<Share>  $shares  of a canvas, at most one a surface
     * @param  list<VirtualLens>  $lenses
     */
    private function __construct(
        public string $id,
        public string $name,
        public Reach $reach,
        public array $aimed,
        public ?string $layer,
        public int $width,
        public int $height,
        public array $fittings,
        public ?string $rig,
        public array $stored,
        public array $shares,
        public array $lenses,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  name (empty: of one layer), reach, surfaces, layer, width, height,
     *     fittings, rig
     * @param  array<string, non-empty-list<float>>  $stored
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row, array $stored = []): self
    {
        $layer = isset($row['layer']) ? (string) $row['layer'] : null;
        $name = (string) ($row['name'] ?? '');
        if ($layer === null) {
            Check::name('name', $name);
        }
        $surfaces = array_values(array_unique(array_map(strval(...), (array) ($row['surfaces'] ?? []))));
        if (count($surfaces) > self::MAX_SURFACES) {
            throw InvalidValue::because('surfaces', 'A route reaches at most '.self::MAX_SURFACES.' surfaces.');
        }
        $reach =
            Reach::tryFrom((string) ($row['reach'] ?? 'skin')) ??
            throw InvalidValue::notOneOf('reach', (string) $row['reach'], array_column(Reach::cases(), 'value'));
        $width = Check::whole('width', (int) ($row['width'] ?? 0), 0, self::MAX_PANE, 'px');
        $height = Check::whole('height', (int) ($row['height'] ?? 0), 0, self::MAX_PANE, 'px');
        if (($width === 0) !== ($height === 0)) {
            throw InvalidValue::because(
                $width === 0 ? 'width' : 'height',
                'A pane has a width and a height, or neither: then it is the raster of each surface.',
            );
        }
        if ($width === 0 && ! $reach->strategy()->mayBeWithoutPane()) {
            throw InvalidValue::because('width', "The pane of a $reach->value needs a width and a height.");
        }
        $fittings = [];
        foreach ((array) ($row['fittings'] ?? []) as $surface => $fitting) {
            $fittings[(string) $surface] =
                Fitting::tryFrom((string) $fitting) ??
                throw InvalidValue::notOneOf('fittings', (string) $fitting, array_column(Fitting::cases(), 'value'));
        }

        return new self(
            (string) $row['id'],
            $name,
            $reach,
            $surfaces,
            $layer,
            $width,
            $height,
            $fittings,
            isset($row['rig']) ? (string) $row['rig'] : null,
            $stored,
            [],
            [],
        );
    }

    /**
     * @param  list<Share>  $shares
     * @param  list<VirtualLens>  $lenses
     */
    public function with(array $shares, array $lenses): self
    {
        return new self(
            $this->id,
            $this->name,
            $this->reach,
            $this->aimed,
            $this->layer,
            $this->width,
            $this->height,
            $this->fittings,
            $this->rig,
            $this->stored,
            Share::placed($shares),
            $lenses,
        );
    }

    /** @return list<string> ids of the surfaces that it reaches */
    public function surfaces(): array
    {
        return $this->reach->strategy()->surfaces($this);
    }

    public function share(string $surface): ?Share
    {
        foreach ($this->shares as $share) {
            if ($share->surface === $surface) {
                return $share;
            }
        }

        return null;
    }

    /**
     * All that the way to one surface depends on: as long as these are the same, so is where things land there.
     *
     * @param  string|null  $part  that is fitted into
     * @return list<mixed>
     */
    public function toward(string $surface, ?string $part): array
    {
        $into = null;
        foreach ($part === null ? [] : [...$this->shares, ...$this->lenses] as $one) {
            $into = $one->id === $part ? $one : $into;
        }

        return [
            $this->id,
            $this->reach,
            $this->width,
            $this->height,
            $this->fittings[$surface] ?? null,
            $this->rig,
            $into,
            ...$this->reach->strategy()->dependencies($this, $surface),
        ];
    }

    /** Whether it has a pane of its own, instead of the raster of each surface. */
    public function hasPane(): bool
    {
        return $this->width > 0;
    }

    /**
     * The pane in which a layer is placed on its way to a surface.
     *
     * @return array{int, int} pixels
     */
    public function pane(Surface $surface): array
    {
        return $this->hasPane() ? [$this->width, $this->height] : [$surface->width(), $surface->height()];
    }

    /**
     * The room of the pane that content is fitted into: all of it, or the part that a share or a lens takes.
     *
     * @param  string|null  $part  id of a share or lens
     * @return array{float, float, float, float} x, y, width, height in pane pixels
     */
    public function room(Surface $surface, ?string $part): array
    {
        $pane = $this->pane($surface);
        foreach ($part === null ? [] : [...$this->shares, ...$this->lenses] as $one) {
            if ($one->id === $part) {
                return $one instanceof Share ? $one->rectangle() : array_map(floatval(...), $one->rectangle($pane));
            }
        }

        return [0.0, 0.0, (float) $pane[0], (float) $pane[1]];
    }

    /**
     * How content is fitted on its way to a surface: where the pane is the surface's own, the route may say so for
     * each.
     */
    public function fit(Surface $surface, Fit $own): Fit
    {
        return $this->hasPane() ? $own : $own->with($this->fittings[$surface->id] ?? null);
    }

    /** Where a media lands in the pane toward a surface; null when it has no picture yet. */
    public function place(MediaItem $item, Surface $surface, Fit $fit, ?string $part = null): ?Placement
    {
        [$x, $y, $roomWidth, $roomHeight] = $this->room($surface, $part);
        $room = [max(1, (int) round($roomWidth)), max(1, (int) round($roomHeight))];
        [$width, $height] = $item->contentSize($room);
        $fit = $this->fit($surface, $fit);

        return $width < 1 || $height < 1
            ? null
            : Placement::of(
                $width,
                $height,
                $item->pixelAspect,
                $room[0],
                $room[1],
                $fit->fitting,
                $fit->anchorX,
                $fit->anchorY,
            )->moved($x, $y);
    }

    /**
     * The pane's pixels onto those of a surface's raster, by the stored values; null where it depends on where in the
     * venue they are.
     */
    public function onto(Surface $surface): ?Mat3
    {
        return $this->reach->strategy()->onto($this, $surface);
    }

    /** @return list<ReachPart> what of it has values and may ride on a rig */
    public function parts(): array
    {
        return $this->reach->strategy()->parts($this);
    }
}

<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat3;
use Core\Values\Property;
use Core\Values\PropertySet;

/**
 * The part of a canvas that a surface shows: a rectangle of the pane, perhaps turned about its middle and mirrored.
 * Shares may overlap, and reach beyond the pane.
 */
final readonly class Share
{
    /** Its values, in the order in which matrix() takes them. */
    public const VALUES = ['x', 'y', 'width', 'height', 'turn', 'mirror'];

    /**
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot; what is not stored rests at its
     *     default
     * @param  string|null  $follows  id of another share of the canvas whose place it has, while its own is kept
     * @param  string|null  $led  id of the share whose values it has now, where that is another
     */
    public function __construct(
        public string $id,
        public string $route,
        public string $surface,
        public array $stored,
        public ?string $follows = null,
        public ?string $led = null,
    ) {
    }

    /** The share whose values it has. */
    public function valuesOf(): string
    {
        return $this->led ?? $this->id;
    }

    /**
     * Shares as they are placed: those that follow another have its values, through as many as there are; one that
     * follows nothing that is there, or itself in the end, has its own.
     *
     * @param  list<self>  $shares  of one canvas
     * @return list<self>
     */
    public static function placed(array $shares): array
    {
        $byId = array_column(array_map(static fn (self $share): array => [$share->id, $share], $shares), 1, 0);

        return array_map(static function (self $share) use ($byId): self {
            $leader = $share;
            for (
                $seen = [];
                $leader->follows !== null && isset($byId[$leader->follows]) && ! isset($seen[$leader->id]);

            ) {
                $seen[$leader->id] = true;
                $leader = $byId[$leader->follows];
            }

            return $leader === $share || isset($seen[$leader->id])
                ? $share
                : new self($share->id, $share->route, $share->surface, $leader->stored, $share->follows, $leader->id);
        }, $shares);
    }

    public static function properties(): PropertySet
    {
        return PropertySet::of(
            'share',
            Property::pixels('x', 'Position X'),
            Property::pixels('y', 'Position Y'),
            Property::size('width', 'Width', 1920),
            Property::size('height', 'Height', 1080),
            Property::degrees('turn', 'Rotation'),
            Property::switch('mirror', 'Mirror'),
        );
    }

    /** @return array{float, float, float, float} x, y, width, height in pane pixels as stored, before it is turned */
    public function rectangle(): array
    {
        return [$this->value('x'), $this->value('y'), $this->value('width'), $this->value('height')];
    }

    /**
     * The pane's pixels onto those of the surface's raster, by the stored values.
     */
    public function stored(int $rasterWidth, int $rasterHeight): Mat3
    {
        return self::matrix(...[...array_map($this->value(...), self::VALUES), $rasterWidth, $rasterHeight]);
    }

    /**
     * The pane's pixels onto those of a surface's raster: its rectangle, turned clockwise about its middle, is the
     * whole raster.
     *
     * @param  float  $mirror  0.5 and above swap left and right of the picture on the surface
     */
    public static function matrix(
        float $x,
        float $y,
        float $width,
        float $height,
        float $turn,
        float $mirror,
        int $rasterWidth,
        int $rasterHeight,
    ): Mat3 {
        [$cx, $cy] = [$x + $width / 2, $y + $height / 2];
        $upright = Mat3::about($cx, $cy, 1, -$turn, 0, 0);
        [$sx, $sy] = [$rasterWidth / $width, $rasterHeight / $height];
        $onto =
            $mirror >= 0.5
                ? Mat3::of([-$sx, 0.0, $sx * ($x + $width), 0.0, $sy, -$sy * $y, 0.0, 0.0, 1.0])
                : Mat3::of([$sx, 0.0, -$sx * $x, 0.0, $sy, -$sy * $y, 0.0, 0.0, 1.0]);

        return $onto->times($upright);
    }

    private function value(string $name): float
    {
        return $this->stored[$name][0] ?? self::properties()->named($name)->default;
    }
}

<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;
use Core\Geometry\MeshMaker;
use Core\Units\InvalidValue;

/**
 * A light whose pixels show a picture: a flat face whose raster is the grid of its pixels, finer where its pixels lie
 * at free points.
 */
final readonly class PixelLight implements Carrier
{
    use FlatCarrier;

    /** Names of its settings. */
    public const SETTINGS = ['fixture', 'fineness'];

    /** @param  int  $fineness  pixels of the raster to a cell of the light's grid, each way */
    private function __construct(public FixtureType $type, public int $fineness)
    {
    }

    /** @throws InvalidValue */
    public static function of(FixtureType $type, int $fineness = 1): self
    {
        if ($fineness < 1 || $fineness > 16) {
            throw InvalidValue::outside('fineness', $fineness, 1, 16);
        }

        return new self($type, $fineness);
    }

    public function shines(): bool
    {
        return true;
    }

    public function fixture(): FixtureType
    {
        return $this->type;
    }

    public function oversampling(): int
    {
        return $this->fineness;
    }

    public function rasterWidth(): int
    {
        return $this->type->columns * $this->fineness;
    }

    public function rasterHeight(): int
    {
        return $this->type->rows * $this->fineness;
    }

    public function mesh(): Mesh
    {
        [$w, $h] = [$this->type->widthMm / 1000, $this->type->heightMm / 1000];
        $maker = new MeshMaker();
        $maker->add(
            [-$w / 2, 0.0, 0.0, 0.0, 1.0],
            [$w / 2, 0.0, 0.0, 1.0, 1.0],
            [$w / 2, $h, 0.0, 1.0, 0.0],
            [-$w / 2, $h, 0.0, 0.0, 0.0],
        );

        return $maker->mesh();
    }

    public function triangles(): int
    {
        return 2;
    }

    public function area(): float
    {
        return ($this->type->widthMm * $this->type->heightMm) / 1e6;
    }

    public function inWords(): string
    {
        return sprintf(
            '%s, %d pixels, %s × %s mm',
            $this->type->name,
            $this->type->count(),
            0 + round($this->type->widthMm, 1),
            0 + round($this->type->heightMm, 1),
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Venue;

/** What people plan a wall by. */
final readonly class WallFigures
{
    /**
     * @param  float  $pitchX  mm, the coarsest of its columns
     * @param  float  $pitchY  mm, the coarsest of its rows
     */
    public function __construct(
        public int $columns,
        public int $rows,
        public int $rasterWidth,
        public int $rasterHeight,
        public float $widthMetres,
        public float $heightMetres,
        public int $panels,
        public int $litPixels,
        public float $areaSquareMetres,
        public float $kilograms,
        public float $wattsAverage,
        public float $wattsMaximum,
        public float $pitchX,
        public float $pitchY,
    ) {
    }
}

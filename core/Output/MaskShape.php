<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Polygon;

/**
 * What a mask lets through at places of its raster. Over the feather, half on either side of the line and a pixel at
 * least, light rises as 3t² − 2t³. Of several masks on one raster, those that are not inverted are joined (the
 * strongest counts), and each inverted one takes away what lies within it.
 */
final readonly class MaskShape
{
    /**
     * @param  list<array{float, float}>  $line  px; none of a painted one
     * @param  float  $feather  px
     * @param  BlendMap|null  $image  of a painted one, over its raster
     */
    public function __construct(
        public array $line,
        public float $feather,
        public bool $inverted,
        public ?BlendMap $image = null,
    ) {
    }

    /**
     * @param  array{int, int}  $raster  px of what it lies on
     * @param  (\Closure(string): ?string)|null  $kept  shares of painted masks, by key
     * @return self|null null of a painted one whose picture is gone
     */
    public static function of(Mask $mask, array $raster, ?\Closure $kept = null): ?self
    {
        if ($mask->image === '') {
            return new self($mask->line(), $mask->feather, $mask->inverted);
        }
        $image = self::image($mask, $raster, $kept);

        return $image === null ? null : new self([], $mask->feather, $mask->inverted, $image);
    }

    /**
     * @param  array{int, int}  $raster  px
     * @param  (\Closure(string): ?string)|null  $kept
     */
    public static function image(Mask $mask, array $raster, ?\Closure $kept): ?BlendMap
    {
        $bytes = $kept === null ? null : $kept($mask->image);
        if ($bytes === null) {
            return null;
        }
        $painted = BlendMap::fromBytes($bytes);

        return new BlendMap([0, 0, ...$raster], $painted->columns, $painted->rows, $painted->shares);
    }

    /** How much of the light lies within it at a place of the raster, 0 to 1, its inversion not heeded. */
    public function within(float $x, float $y): float
    {
        if ($this->image !== null) {
            return $this->image->at($x, $y);
        }
        if ($this->line === []) {
            return 0.0;
        }
        $t = max(0.0, min(1.0, Polygon::depth($this->line, $x, $y) / max(1.0, $this->feather) + 0.5));

        return $t * $t * (3 - 2 * $t);
    }

    /**
     * What several let through together: the strongest of those that are not inverted, times what each inverted one
     * leaves.
     *
     * @param  list<self>  $masks
     */
    public static function light(array $masks, float $x, float $y): float
    {
        [$through, $left] = [null, 1.0];
        foreach ($masks as $mask) {
            $within = $mask->within($x, $y);
            if ($mask->inverted) {
                $left *= 1 - $within;
            } else {
                $through = max($through ?? 0.0, $within);
            }
        }

        return ($through ?? 1.0) * $left;
    }
}

<?php

declare(strict_types=1);

namespace Core\Venue;

/**
 * The light that a wall gives at full white, by the direction from which it is seen. A panel's luminance falls to a
 * half at half its viewing angle; between, it is taken as L · cosᵃ(across) · cosᵇ(down), with the exponents that meet
 * that: ln ½ / ln cos(angle / 2).
 */
final readonly class Emission
{
    /**
     * @param  float  $nits  cd/m² straight on
     * @param  float  $ambient  cd/m² that it throws back of the light around it
     */
    private function __construct(
        public float $nits,
        private float $across,
        private float $down,
        public float $ambient,
    ) {
    }

    /** By area over all panels that say how bright they are; null where none does. */
    public static function ofWall(Wall $wall, Material $material): ?self
    {
        [$area, $nits, $across, $down] = [0.0, 0.0, 0.0, 0.0];
        foreach ($wall->cells as $row) {
            foreach ($row as $panel) {
                if ($panel !== null && $panel->candela > 0) {
                    $own = $panel->widthMm * $panel->heightMm;
                    $area += $own;
                    $nits += $own * $panel->candela;
                    $across += $own * self::exponent($panel->viewAcross);
                    $down += $own * self::exponent($panel->viewDown);
                }
            }
        }

        return $area > 0
            ? new self($nits / $area, $across / $area, $down / $area, $material->ambientLuminance(true))
            : null;
    }

    private static function exponent(float $angle): float
    {
        $cos = cos(deg2rad($angle / 2));

        return $cos > 1e-6 ? log(0.5) / log($cos) : 0.0;
    }

    /**
     * cd/m² in a direction.
     *
     * @param  float  $across  radians from straight on, to either side
     * @param  float  $down  radians, up or down
     */
    public function toward(float $across, float $down): float
    {
        return $this->nits * max(0.0, cos($across)) ** $this->across * max(0.0, cos($down)) ** $this->down;
    }
}

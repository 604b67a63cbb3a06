<?php

declare(strict_types=1);

namespace Core\Light;

/** How one face is lit: maps over the cells of its grid, and what they come to. */
final readonly class FaceLight
{
    /** Foot-lamberts in one cd/m²: π · 0.3048². */
    private const FOOT_LAMBERTS = M_PI * 0.3048 * 0.3048;

    public const MAPS = ['count', 'lux', 'nits', 'angle', 'across', 'down', 'focus'];

    /**
     * @param  array<string, list<float>>  $maps  by name, row by row from the top; -1 where there is no face, and,
     *     but for count, lux and nits, where no light is. count: projectors; lux; nits: cd/m²; angle of incidence in
     *     degrees, across and down in pixels per metre and focus (distance along the axis against the focused one, 1
     *     where sharp): of the projector that gives most
     * @param  array{none: float, one: float, more: float, area: float, luxMin: float, luxMax: float, luxMean: float, nitsMean: float, even: float, evenAll: float, lumensWanted: float, contrast: float, footLamberts: float, angleMean: float, angleMax: float, densityMin: float, densityMean: float}  $figures  shares
     *     of the area; lux over the lit part; even: least over mean of the lit part, evenAll: of the whole face, 0
     *     where a part is dark; lumensWanted: that all projectors which reach it need together for the luminance it
     *     is meant to have, 0 for none stated; contrast: white over black with the light around it; footLamberts:
     *     mean luminance; densities in pixels per metre
     * @param  array<string, float>  $lumens  that stay on it, by projector
     */
    public function __construct(
        public string $id,
        public string $name,
        public int $columns,
        public int $rows,
        public array $maps,
        public array $figures,
        public array $lumens,
    ) {
    }

    /** @param  list<Beam>  $beams */
    public static function of(Body $face, array $beams, Casts $casts): self
    {
        $cells = $casts->cells($face);
        $size = $cells->columns * $cells->rows;
        $maps = array_fill_keys(self::MAPS, array_fill(0, $size, -1.0));
        [$lumens, $arrivals, $lumensHere, $black] = [[], [], 0.0, 0.0];
        foreach ($beams as $beam) {
            $arrival = $casts->arrival($beam, $face);
            $lumens[$beam->id] = $arrival->lumens;
            if ($arrival->lit !== []) {
                $arrivals[] = $arrival->lit;
                $lumensHere += $beam->projector->lumens;
                $black = max($black, 1 / $beam->projector->lens->contrast);
            }
        }
        [
            $none,
            $one,
            $more,
            $area,
            $luxSum,
            $nitsSum,
            $angleSum,
            $densitySum,
            $luxMin,
            $luxMax,
            $angleMax,
            $densityMin,
        ] = [0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, INF, 0.0, 0.0, INF];
        foreach ($cells->areas as $at => $share) {
            [$count, $lux, $nits, $best, $angle, $across, $down, $focus] = [0, 0.0, 0.0, 0.0, -1.0, -1.0, -1.0, -1.0];
            foreach ($arrivals as $lit) {
                if (! isset($lit[$at])) {
                    continue;
                }
                $count++;
                $lux += $lit[$at][0];
                $nits += $lit[$at][1];
                if ($lit[$at][0] > $best) {
                    [$best, , $angle, $across, $down, $focus] = $lit[$at];
                }
            }
            $maps['count'][$at] = (float) $count;
            $maps['lux'][$at] = $lux;
            $maps['nits'][$at] = $nits;
            $maps['angle'][$at] = $angle;
            $maps['across'][$at] = $across;
            $maps['down'][$at] = $down;
            $maps['focus'][$at] = $focus;
            $area += $share;
            if ($count === 0) {
                $none += $share;

                continue;
            }
            $count === 1 ? ($one += $share) : ($more += $share);
            $density = min($across, $down);
            $luxSum += $lux * $share;
            $nitsSum += $nits * $share;
            $angleSum += $angle * $share;
            $densitySum += $density * $share;
            $luxMin = min($luxMin, $lux);
            $luxMax = max($luxMax, $lux);
            $angleMax = max($angleMax, $angle);
            $densityMin = min($densityMin, $density);
        }
        $lit = $one + $more;
        $nits = $lit > 0 ? $nitsSum / $lit : 0.0;
        $around = $face->material?->ambientLuminance(false) ?? 0.0;
        $target = $face->material->target ?? 0.0;
        $mean = static fn (float $sum): float => $lit > 0 ? $sum / $lit : 0.0;
        $whole = $area > 0 ? $area : 1.0;

        return new self(
            $face->id,
            $face->name,
            $cells->columns,
            $cells->rows,
            array_map(array_values(...), $maps),
            [
                'none' => $area > 0 ? $none / $whole : 1.0,
                'one' => $one / $whole,
                'more' => $more / $whole,
                'area' => $area,
                'luxMin' => $lit > 0 ? $luxMin : 0.0,
                'luxMax' => $luxMax,
                'luxMean' => $mean($luxSum),
                'nitsMean' => $mean($nitsSum),
                'even' => $luxSum > 0 ? $luxMin / $mean($luxSum) : 0.0,
                'evenAll' => $luxSum > 0 && $none <= 1e-9 * $whole ? $luxMin / ($luxSum / $whole) : 0.0,
                'lumensWanted' => $target > 0 && $nits > 0 ? ($lumensHere * $target) / $nits : 0.0,
                'contrast' => $nits > 0 ? ($nits + $around) / ($nits * $black + $around) : 0.0,
                'footLamberts' => $nits * self::FOOT_LAMBERTS,
                'angleMean' => $mean($angleSum),
                'angleMax' => $angleMax,
                'densityMin' => $lit > 0 ? $densityMin : 0.0,
                'densityMean' => $mean($densitySum),
            ],
            $lumens,
        );
    }
}

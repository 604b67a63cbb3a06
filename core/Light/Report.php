<?php

declare(strict_types=1);

namespace Core\Light;

/** A placement of projectors, by what it comes to on the faces that they are there for. */
final readonly class Report
{
    /**
     * @param  list<FaceLight>  $faces
     * @param  list<Footprint>  $projectors
     * @param  array{projectors: int, lumens: float, none: float, one: float, more: float, luxMean: float, nitsMean: float, even: float, evenAll: float, angleMean: float, angleMax: float, densityMean: float, spillLumens: float}  $sum  over
     *     all faces that some projector is there for, by area
     */
    private function __construct(public array $faces, public array $projectors, public array $sum)
    {
    }

    /**
     * @param  list<Beam>  $beams
     * @param  int  $cells  of each face, about
     * @param  (\Closure(float): void)|null  $progress  told the share that is done; may throw to stop
     */
    public static function of(
        Scene $scene,
        array $beams,
        int $cells = 1200,
        int $columns = 64,
        int $rows = 36,
        ?\Closure $progress = null,
    ): self {
        return self::by(
            $scene->bodies,
            $beams,
            new SceneCasts(
                static fn (): Scene => $scene,
                $cells,
                $columns,
                $rows,
                self::casts($scene->bodies, $beams),
                $progress,
            ),
        );
    }

    /**
     * How many casts a report takes.
     *
     * @param  list<Body>  $bodies
     * @param  list<Beam>  $beams
     */
    public static function casts(array $bodies, array $beams): int
    {
        return count($beams) * (1 + count(array_filter($bodies, static fn (Body $b): bool => $b->material !== null)));
    }

    /**
     * @param  list<Body>  $bodies
     * @param  list<Beam>  $beams
     */
    public static function by(array $bodies, array $beams, Casts $casts): self
    {
        $faces = [];
        foreach ($bodies as $body) {
            if ($body->material !== null && $body->mesh->triangleCount() > 0) {
                $faces[$body->id] = FaceLight::of($body, $beams, $casts);
            }
        }
        $names = array_column($bodies, 'name', 'id');
        $thrown = array_map(
            static fn (Beam $beam): Footprint => Footprint::of($beam, $casts->walk($beam), $names, $faces),
            $beams,
        );

        return new self(array_values($faces), $thrown, self::sum($faces, $beams, $thrown));
    }

    /**
     * @param  array<string, FaceLight>  $faces
     * @param  list<Beam>  $beams
     * @param  list<Footprint>  $thrown
     * @return array{projectors: int, lumens: float, none: float, one: float, more: float, luxMean: float, nitsMean: float, even: float, evenAll: float, angleMean: float, angleMax: float, densityMean: float, spillLumens: float}
     */
    private static function sum(array $faces, array $beams, array $thrown): array
    {
        $aims = array_merge(...array_map(static fn (Beam $b): array => $b->projector->aims, $beams));
        $meant = $aims === [] ? $faces : array_intersect_key($faces, array_flip($aims));
        [$area, $lit] = [0.0, 0.0];
        $sum = [
            'projectors' => count($beams),
            'lumens' => array_sum(array_map(static fn (Beam $b): float => $b->projector->lumens, $beams)),
            'none' => 0.0,
            'one' => 0.0,
            'more' => 0.0,
            'luxMean' => 0.0,
            'nitsMean' => 0.0,
            'even' => 1.0,
            'evenAll' => 1.0,
            'angleMean' => 0.0,
            'angleMax' => 0.0,
            'densityMean' => 0.0,
            'spillLumens' => array_sum(array_column($thrown, 'spillLumens')),
        ];
        foreach ($meant as $face) {
            $f = $face->figures;
            $area += $f['area'];
            $own = $f['area'] * ($f['one'] + $f['more']);
            $lit += $own;
            foreach (['none', 'one', 'more'] as $k) {
                $sum[$k] += $f[$k] * $f['area'];
            }
            foreach (['luxMean', 'nitsMean', 'angleMean', 'densityMean'] as $k) {
                $sum[$k] += $f[$k] * $own;
            }
            $sum['even'] = min($sum['even'], $f['even']);
            $sum['evenAll'] = min($sum['evenAll'], $f['evenAll']);
            $sum['angleMax'] = max($sum['angleMax'], $f['angleMax']);
        }
        foreach (['none', 'one', 'more'] as $k) {
            $sum[$k] /= max($area, 1e-9);
        }
        foreach (['luxMean', 'nitsMean', 'angleMean', 'densityMean'] as $k) {
            $sum[$k] /= max($lit, 1e-9);
        }

        return $sum;
    }
}

<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Show\ResultCache;
use Core\Show\Show;

/** What will go wrong with a show, before it does. */
final class Preflight
{
    /** @return list<Inspection> */
    private static function inspections(): array
    {
        return [
            new Inspections\BrokenRows(),
            new Inspections\BrokenCurves(),
            new Inspections\WallFeeding(),
            new Inspections\ModelTrouble(),
            new Inspections\ProjectorLens(),
            new Inspections\ProjectorTarget(),
            new Inspections\Materials(),
            new Inspections\Moire(),
            new Inspections\MediaTrouble(),
            new Inspections\LostInput(),
            new Inspections\UnsampledMedia(),
            new Inspections\OverBudget(),
            new Inspections\AimlessLayer(),
            new Inspections\SquashedPicture(),
            new Inspections\UnreachedSurface(),
            new Inspections\LensFeathers(),
            new Inspections\CueBeyondEnd(),
            new Inspections\BrokenCues(),
            new Inspections\BrokenBindings(),
            new Inspections\RegionPlaces(),
            new Inspections\RegionSources(),
            new Inspections\SurfaceWithoutRegion(),
            new Inspections\OutputLinks(),
            new Inspections\RegionShapes(),
            new Inspections\WarpOutOfDate(),
            new Inspections\LightAddresses(),
            new Inspections\ControlAddresses(),
            new Inspections\ControlEffects(),
        ];
    }

    /** @return list<Finding> */
    public static function of(Show $show, ResultCache $cache = new ResultCache()): array
    {
        $found = [];
        foreach (self::inspections() as $inspection) {
            foreach ($inspection->inspect($show, $cache) as $finding) {
                $found[] = $finding;
            }
        }

        return $found;
    }
}

<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Show\StoredCurve;
use Core\Units\InvalidValue;

/** Curves whose rows hold no keyframes that could be read. */
final readonly class BrokenCurves implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->programme->layers() as $layer) {
            foreach ($layer->curves as $curve) {
                $trouble = $cache->get(
                    "curve {$curve->address}",
                    [$curve],
                    static fn (): ?string => self::trouble($curve),
                );
                if ($trouble !== null) {
                    yield Finding::fault(
                        'timeline',
                        'layer',
                        $layer->id,
                        "{$curve->property->label} of $layer->name: $trouble",
                    );
                }
            }
        }
    }

    private static function trouble(StoredCurve $curve): ?string
    {
        try {
            $curve->curve();

            return null;
        } catch (InvalidValue $refused) {
            return $refused->getMessage();
        }
    }
}

<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Layers whose personality has slots for more effects than the layer has. */
final readonly class ControlEffects implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->delivery->controls as $id => $control) {
            $layer = $show->programme->layer($control->layer);
            [$wanted, $there] = [
                $control->personality->effectSlots(),
                count($show->programme->effects($control->layer)),
            ];
            if ($layer !== null && $there < $wanted) {
                yield Finding::attention(
                    'bindings',
                    'control',
                    (string) $id,
                    sprintf(
                        '%s has slots for %d %s, %s has %d: add %d to the layer.',
                        $control->personality->name,
                        $wanted,
                        $wanted === 1 ? 'effect' : 'effects',
                        $layer->name,
                        $there,
                        $wanted - $there,
                    ),
                );
            }
        }
    }
}

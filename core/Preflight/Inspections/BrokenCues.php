<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Cues\Cue;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Values\Address;

/** Cues that hold values of what was removed, name a timeline that is gone, or have a number that another one has. */
final readonly class BrokenCues implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        $numbers = [];
        foreach ($show->programme->cues as $id => $cue) {
            $gone = self::gone($show, $cue);
            if ($gone > 0) {
                yield Finding::attention(
                    'cues',
                    'cue',
                    (string) $id,
                    "Cue $cue->number \"$cue->name\" holds $gone ".
                        ($gone === 1 ? 'value' : 'values').
                        ' of what was removed.',
                );
            }
            if ($cue->starts !== null && ! isset($show->programme->timelines[$cue->starts])) {
                yield Finding::attention(
                    'cues',
                    'cue',
                    (string) $id,
                    "Cue $cue->number \"$cue->name\" starts a timeline that was removed.",
                );
            }
            if (isset($numbers[$cue->number])) {
                yield Finding::attention(
                    'cues',
                    'cue',
                    (string) $id,
                    "There are two cues $cue->number; an outside call fires \"{$numbers[$cue->number]}\".",
                );
            }
            $numbers[$cue->number] ??= $cue->name;
        }
    }

    private static function gone(Show $show, Cue $cue): int
    {
        $gone = 0;
        foreach ($cue->values as $value) {
            $gone += $show->has(Address::parse($value->address)) ? 0 : 1;
        }

        return $gone;
    }
}

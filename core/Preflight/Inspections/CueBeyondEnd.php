<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Units\Timecode;

/** Cues that lie past the end of their timeline. */
final readonly class CueBeyondEnd implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->programme->timelines as $timeline) {
            foreach ($timeline->cues as $id => $cue) {
                if ($cue->time >= $timeline->duration) {
                    yield Finding::attention(
                        'timeline',
                        'cue',
                        (string) $id,
                        "Cue $cue->number \"$cue->name\" at ".
                            Timecode::format($cue->time, $show->rate).
                            ' lies past the end of the timeline.',
                    );
                }
            }
        }
    }
}

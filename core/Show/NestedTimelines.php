<?php

declare(strict_types=1);

namespace Core\Show;

/** Which timelines lie within one another, by the clips that show them. */
final class NestedTimelines
{
    /** @return list<string> ids of a timeline and of all that it shows, each once */
    public static function within(Show $show, string $timeline): array
    {
        $found = [$timeline];
        for ($i = 0; $i < count($found); $i++) {
            foreach (self::shown($show, $found[$i]) as $inner) {
                in_array($inner, $found, true) || ($found[] = $inner);
            }
        }

        return $found;
    }

    /** Whether a timeline is shown within itself, by whatever way. */
    public static function isCircular(Show $show, string $timeline): bool
    {
        foreach (self::shown($show, $timeline) as $inner) {
            if (in_array($timeline, self::within($show, $inner), true)) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string> ids of the timelines that clips of one show */
    private static function shown(Show $show, string $timeline): array
    {
        $found = [];
        foreach ($show->programme->timelines[$timeline]->layers ?? [] as $layer) {
            foreach ($layer->clips as $use) {
                $inner = $show->library->media[$use->media]->timeline;
                if ($inner !== null && isset($show->programme->timelines[$inner])) {
                    $found[$inner] = true;
                }
            }
        }

        return array_map(strval(...), array_keys($found));
    }
}

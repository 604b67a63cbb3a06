<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Bindings\LayerControl;
use Core\PixelMap\Universes;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/**
 * Layers that a lighting console drives by channels which another one's begin within. Two that begin together by the
 * same personality are meant to move together.
 */
final readonly class ControlAddresses implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        $taken = [];
        foreach ($show->delivery->controls as $id => $control) {
            $taken["$control->protocol $control->universe"][] = [
                $control->channel,
                $control->channel + $control->personality->slots() - 1,
                (string) $id,
                $control,
            ];
        }
        foreach ($taken as $controls) {
            usort($controls, static fn (array $a, array $b): int => [$a[0], $a[2]] <=> [$b[0], $b[2]]);
            $reach = null;
            foreach ($controls as [$from, $to, $id, $control]) {
                if (
                    $reach !== null &&
                    $from <= $reach[1] &&
                    ! ($from === $reach[0] && $control->personality == $reach[3]->personality)
                ) {
                    yield Finding::attention(
                        'bindings',
                        'control',
                        $id,
                        sprintf(
                            '%s is driven from channel %d of %s universe %d on, which is within the channels %d to %d of %s.',
                            self::named($show, $control),
                            $from,
                            Universes::NAMES[$control->protocol] ?? $control->protocol,
                            $control->universe,
                            $reach[0],
                            $reach[1],
                            self::named($show, $reach[3]),
                        ),
                    );
                }
                if ($reach === null || $to > $reach[1]) {
                    $reach = [$from, $to, $id, $control];
                }
            }
        }
    }

    private static function named(Show $show, LayerControl $control): string
    {
        return $show->programme->layer($control->layer)->name ?? 'A layer that was removed';
    }
}

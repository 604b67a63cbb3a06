<?php

declare(strict_types=1);

namespace App\Show;

use Core\Plan\Plan;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Timeline\TransportMap;
use Core\Values\HeldValue;

/** What the engine says of where a show is, as the core's values. */
final class EngineState
{
    /**
     * @param  array<string, mixed>  $state  heads, held and engine, as the conductor tells them
     * @param  int|null  $time  show time at which every timeline is looked at instead of where it is
     * @param  list<string>  $timelines  those that are looked at then
     */
    public static function moment(Plan $plan, array $state, ?int $time = null, array $timelines = []): Moment
    {
        $heads =
            $time === null
                ? array_map(
                    static fn (array $head): Head => Head::fromArray($head),
                    array_values((array) ($state['heads'] ?? [])),
                )
                : array_map(static fn (string $id): Head => Head::of($id, TransportMap::standing(0, $time)), $timelines);
        $held = array_map(
            static fn (array $list): array => array_map(
                static fn (array $one): HeldValue => HeldValue::fromArray($one),
                array_values($list),
            ),
            (array) ($state['held'] ?? []),
        );

        return new Moment($plan, $heads, $held, (int) ($state['engine'] ?? 0));
    }

    /**
     * Projectors that give no light, or not what they are sent.
     *
     * @param  array<string, mixed>  $state
     * @return array<string, string> why, by projector
     */
    public static function dark(array $state): array
    {
        return array_filter((array) ($state['dark'] ?? []), is_string(...));
    }

    /**
     * What open players report, by output; null when the show is not on air.
     *
     * @param  array<string, mixed>  $state
     * @return array<string, list<array<string, mixed>>>|null
     */
    public static function players(array $state): ?array
    {
        if (($state['looked'] ?? false) === true) {
            return null;
        }
        $players = [];
        foreach ((array) ($state['players'] ?? []) as $player) {
            if (is_array($player)) {
                $players[is_string($player['output'] ?? null) ? $player['output'] : ''][] =
                    ['lacks' => array_values(array_filter((array) ($player['lacks'] ?? []), is_string(...)))] + $player;
            }
        }

        return $players;
    }
}

<?php

declare(strict_types=1);

namespace Core\Bindings;

/** The slots of a DMX universe as controls: what of it changed. */
final readonly class DmxSlots
{
    /**
     * What changed between two states of a universe. A pair of slots that is bound changes once, and its halves only
     * where they are bound by themselves. Of a universe that is heard for the first time, what is bound tells where it
     * stands.
     *
     * @param  string|null  $before  the slots that there were, a byte each; null where none were known
     * @param  string  $after  the slots that there are; one that it does not reach is as it was
     * @param  list<string>  $bound  names of controls of it that are bound
     * @return list<array{string, list<int>}> control, and what it sends, in the order of the slots
     */
    public static function changes(?string $before, string $after, array $bound): array
    {
        $names = [];
        foreach ($before === null ? [] : self::apart($before, $after) as $slot) {
            $pairs = array_filter(
                [$slot - 1, $slot],
                static fn (int $first): bool => in_array("slot16:$first", $bound, true),
            );
            foreach ($pairs as $first) {
                $names["slot16:$first"] = $first;
            }
            if ($pairs === [] || in_array("slot:$slot", $bound, true)) {
                $names["slot:$slot"] = $slot;
            }
        }
        foreach ($before === null ? $bound : [] as $name) {
            $names[$name] = (int) (explode(':', $name)[1] ?? 0);
        }
        asort($names);
        $changes = [];
        foreach ($names as $name => $slot) {
            $isPair = str_starts_with($name, 'slot16:');
            if ($slot >= 1 && $slot + ($isPair ? 1 : 0) <= strlen($after)) {
                $coarse = ord($after[$slot - 1]);
                $changes[] = [$name, [$isPair ? 256 * $coarse + ord($after[$slot]) : $coarse]];
            }
        }

        return $changes;
    }

    /** @return list<int> the slots, from 1, that both have and in which they differ */
    private static function apart(string $before, string $after): array
    {
        $apart = [];
        $long = min(strlen($before), strlen($after));
        for ($at = strspn($before ^ $after, "\0"); $at < $long; $at += 1 + strspn($before ^ $after, "\0", $at + 1)) {
            $apart[] = $at + 1;
        }
        // What it did not reach before stood at nothing.
        for ($at = $long; $at < strlen($after); $at++) {
            if ($after[$at] !== "\0") {
                $apart[] = $at + 1;
            }
        }

        return $apart;
    }
}

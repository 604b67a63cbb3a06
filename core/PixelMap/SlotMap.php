<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;

/**
 * Who has which slots of the universes that go to one destination. Two lights may have the same slots on purpose,
 * where each leaves unused what the other uses; where both use one, that is a conflict.
 */
final readonly class SlotMap
{
    /**
     * @param  list<array{string, string, int, int, int}>  $conflicts  the two patches, and universe and slot of the
     *     first slot that both use, and how many there are
     * @param  list<array{string, string, int}>  $merged  two patches that share slots without a conflict, and the
     *     first universe in which they do
     * @param  list<int>  $universes  all that are sent
     */
    private function __construct(public array $conflicts, public array $merged, public array $universes)
    {
    }

    /**
     * @param  array<string, array{Addressing, list<FixtureChannel>, list<FixtureChannel>}>  $lights  by patch:
     *     addresses, channels of its header and of a pixel
     */
    public static function of(array $lights): self
    {
        [$used, $taken] = [[], []];
        [$conflicts, $merged, $universes] = [[], [], []];
        foreach ($lights as [$addressing]) {
            for ($u = 0; $u < $addressing->universes(); $u++) {
                $universes[$addressing->universe + $u] = true;
            }
        }
        // Slot by slot only where ranges of two meet.
        foreach (self::meeting($lights) as $id => [$addressing, $header, $channels]) {
            $first = FixtureType::UNIVERSE * $addressing->universe;
            $runs = [
                [$addressing->header[0], $header],
                ...array_map(static fn (int $start): array => [$start, $channels], $addressing->starts),
            ];
            foreach ($runs as [$start, $of]) {
                $at = $first + $start;
                foreach ($of as $channel) {
                    for ($k = 0; $k < $addressing->slots; $k++, $at++) {
                        $other = $taken[$at] ?? null;
                        if ($other !== null && $other !== $id) {
                            $merged["$other $id"] ??= [
                                (string) $other,
                                (string) $id,
                                intdiv($at, FixtureType::UNIVERSE),
                            ];
                        }
                        $taken[$at] ??= $id;
                        if ($channel->isUnused()) {
                            continue;
                        }
                        $rival = $used[$at] ?? null;
                        if ($rival === null) {
                            $used[$at] = $id;
                        } elseif ($rival !== $id) {
                            $conflicts["$rival $id"] ??= [
                                (string) $rival,
                                (string) $id,
                                intdiv($at, FixtureType::UNIVERSE),
                                ($at % FixtureType::UNIVERSE) + 1,
                                0,
                            ];
                            $conflicts["$rival $id"][4]++;
                        }
                    }
                }
            }
        }
        ksort($universes);

        return new self(
            array_values($conflicts),
            array_values(array_diff_key($merged, $conflicts)),
            array_keys($universes),
        );
    }

    /**
     * Those whose first to last slot meets that of another, in their order.
     *
     * @param  array<string, array{Addressing, list<FixtureChannel>, list<FixtureChannel>}>  $lights
     * @return array<string, array{Addressing, list<FixtureChannel>, list<FixtureChannel>}>
     */
    private static function meeting(array $lights): array
    {
        $ranges = [];
        foreach ($lights as $id => [$addressing]) {
            $first = FixtureType::UNIVERSE * $addressing->universe;
            $ranges[] = [
                $first + min([$addressing->header[0], ...array_slice($addressing->starts, 0, 1)]),
                $first + $addressing->end,
                (string) $id,
            ];
        }
        usort($ranges, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $meeting = [];
        [$end, $of] = [-1, ''];
        foreach ($ranges as [$from, $to, $id]) {
            if ($from < $end) {
                $meeting[$id] = $meeting[$of] = true;
            }
            if ($to > $end) {
                [$end, $of] = [$to, $id];
            }
        }

        return array_intersect_key($lights, $meeting);
    }
}

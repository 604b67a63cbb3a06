<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\InvalidValue;
use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;

/**
 * Which control slots the pixels of one light have: its header first, then pixel after pixel along its wiring. A
 * pixel that would begin in one universe and end in the next begins in the next, and what is left over in the first
 * is sent as it is (0), unless the light takes pixels that straddle.
 */
final readonly class Addressing
{
    /**
     * @param  int  $universe  the first, counted from 1
     * @param  list<int>  $order  pixels along the wiring
     * @param  list<int>  $starts  the first slot of each pixel along the wiring, counted from 0 at slot 1 of the
     *     first universe: slot s of universe u is 512 (u − first) + s − 1
     * @param  array{int, int}  $header  first slot, counted likewise, and number of slots
     * @param  list<array{int, int}>  $left  universes in which slots are left over because a pixel did not fit, and
     *     how many
     * @param  int  $end  the slot after the last
     */
    private function __construct(
        public int $universe,
        public array $order,
        public array $starts,
        public array $header,
        public int $slots,
        public array $left,
        public int $end,
    ) {
    }

    /**
     * @param  list<FixtureChannel>  $channels  of a pixel
     * @param  list<FixtureChannel>  $header
     * @param  int  $universe  from 1
     * @param  int  $channel  1 to 512
     * @param  list<int>  $order  pixels along the wiring
     *
     * @throws InvalidValue
     */
    public static function of(
        FixtureType $type,
        array $header,
        array $channels,
        int $universe,
        int $channel,
        array $order,
    ): self {
        if ($universe < 1 || $universe > Universes::LAST) {
            throw InvalidValue::outside('universe', $universe, 1, Universes::LAST);
        }
        if ($channel < 1 || $channel > FixtureType::UNIVERSE) {
            throw InvalidValue::outside('channel', $channel, 1, FixtureType::UNIVERSE);
        }
        $slots = $type->slots();
        [$before, $each] = [count($header) * $slots, count($channels) * $slots];
        $at = $channel - 1;
        $left = [];
        $from = self::room($at, $before, $type->straddles, $universe, $left);
        $at = $from + $before;
        $starts = [];
        foreach ($order as $_) {
            $at = self::room($at, $each, $type->straddles, $universe, $left);
            $starts[] = $at;
            $at += $each;
        }

        return new self($universe, $order, $starts, [$from, $before], $slots, $left, $at);
    }

    /**
     * Where so many slots begin.
     *
     * @param  list<array{int, int}>  $left
     */
    private static function room(int $at, int $slots, bool $straddles, int $universe, array &$left): int
    {
        $within = $at % FixtureType::UNIVERSE;
        if ($straddles || $slots === 0 || $within + $slots <= FixtureType::UNIVERSE) {
            return $at;
        }
        // Nothing is left over at the very beginning of a universe: what is longer than one begins there.
        if ($within === 0) {
            return $at;
        }
        $left[] = [$universe + intdiv($at, FixtureType::UNIVERSE), FixtureType::UNIVERSE - $within];

        return $at + FixtureType::UNIVERSE - $within;
    }

    /** Universes that it reaches into. */
    public function universes(): int
    {
        return $this->end === 0 ? 0 : intdiv($this->end - 1, FixtureType::UNIVERSE) + 1;
    }

    public function lastUniverse(): int
    {
        return $this->universe + max(1, $this->universes()) - 1;
    }

    /** The last channel that it has in its last universe, 1 to 512; 0 where it has none. */
    public function lastChannel(): int
    {
        return $this->end === 0 ? 0 : (($this->end - 1) % FixtureType::UNIVERSE) + 1;
    }

    /** @return array{int, int} universe and slot (1 to 512) of what is counted from the first universe */
    public function address(int $slot): array
    {
        return [$this->universe + intdiv($slot, FixtureType::UNIVERSE), ($slot % FixtureType::UNIVERSE) + 1];
    }

    /**
     * How many pixels begin in each universe.
     *
     * @return array<int, int> by universe
     */
    public function pixelsByUniverse(): array
    {
        $counts = [];
        foreach ($this->starts as $start) {
            $universe = $this->universe + intdiv($start, FixtureType::UNIVERSE);
            $counts[$universe] = ($counts[$universe] ?? 0) + 1;
        }

        return $counts;
    }
}

<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\PixelMap\Universes;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\FixtureType;

/**
 * A layer that a lighting console drives: by which personality, from which universe and channel on, and what holds
 * when several consoles speak, or none.
 */
final readonly class LayerControl
{
    public const PROTOCOLS = ['sacn', 'artnet'];

    /** Of sources of one priority: the highest of each slot, or all of the one that changed last. */
    public const MERGES = ['highest', 'latest'];

    /** When the last source is lost: what it said stays, or what is below comes through. */
    public const LOST = ['hold', 'release'];

    /** Seconds that what was said may stay, at most. */
    public const LONGEST = 3600;

    /**
     * @param  int  $universe  from 1, also of Art-Net, whose port-address is one less
     * @param  float  $releaseAfter  seconds that what a lost source said stays before it is released
     */
    private function __construct(
        public string $layer,
        public Personality $personality,
        public string $protocol,
        public int $universe,
        public int $channel,
        public string $merge,
        public string $lost,
        public float $releaseAfter = 0.0,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row, Personality $personality): self
    {
        $channel = Check::whole('channel', (int) ($row['channel'] ?? 1), 1, FixtureType::UNIVERSE);
        $latest = FixtureType::UNIVERSE + 1 - $personality->slots();
        if ($channel > $latest) {
            throw InvalidValue::because(
                'channel',
                sprintf(
                    '%s has %d channels: from %d on they do not fit into one universe; it begins at %d at the latest.',
                    $personality->name,
                    $personality->slots(),
                    $channel,
                    $latest,
                ),
            );
        }

        $protocol = Check::oneOf('protocol', (string) ($row['protocol'] ?? 'sacn'), self::PROTOCOLS);

        return new self(
            (string) $row['layer'],
            $personality,
            $protocol,
            Check::whole('universe', (int) ($row['universe'] ?? 1), 1, Universes::last($protocol)),
            $channel,
            Check::oneOf('merge', (string) ($row['merge'] ?? 'highest'), self::MERGES),
            Check::oneOf('lost', (string) ($row['lost'] ?? 'hold'), self::LOST),
            Check::number('releaseAfter', (float) ($row['releaseAfter'] ?? 0), 0, self::LONGEST, 's'),
        );
    }

    /**
     * The universe and channel for the next layer, so that none straddles.
     *
     * @return array{int, int}
     */
    public static function following(int $universe, int $channel, int $slots, int $next): array
    {
        $channel += $slots;

        return $channel + $next > FixtureType::UNIVERSE + 1 ? [$universe + 1, 1] : [$universe, $channel];
    }
}

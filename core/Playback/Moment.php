<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Plan\Plan;
use Core\Show\Schema;
use Core\Timeline\MediaTrack;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Property;
use Core\Values\Track;

/**
 * What every value is at one engine time: what its track says where its timeline is, then the held values from below, each
 * mixed over it by its weight. Masters and levels multiply at the end, where something is drawn.
 */
final readonly class Moment
{
    /**
     * @param  list<Head>  $heads
     * @param  array<string, list<HeldValue>>  $held  by address
     * @param  list<string>  $cards  ids of surfaces that show the test card over whatever plays
     * @param  array<string, int>  $identified  until when outputs show the card by which they are recognised, in engine time, by id
     */
    public function __construct(public Plan $plan, public array $heads, public array $held, public int $engine, public array $cards = [], public array $identified = [])
    {
    }

    /** @return list<Head> those of one timeline */
    public function headsOf(string $timeline): array
    {
        return array_values(array_filter($this->heads, static fn (Head $head): bool => $head->timeline === $timeline));
    }

    /** A value where a head is; null for what stands on no timeline. */
    public function value(string $address, ?Head $head): float
    {
        $track = $this->plan->tracks[$address] ?? null;
        $below = $track instanceof Track ? $track->at($head === null ? 0 : $head->map->at($this->engine)) : self::property($address)->default;
        $held = $this->held[$address] ?? [];

        return match (true) {
            $held === [] => $below,
            self::property($address)->type->mixes() => HeldValue::over($below, $held, $this->engine),
            default => HeldValue::uppermost($below, $held, $this->engine),
        };
    }

    /**
     * The three numbers of a colour where a head is.
     *
     * @return array{float, float, float} red, green, blue
     */
    public function colour(string $address, ?Head $head): array
    {
        return [$this->value($address, $head), $this->value("$address#1", $head), $this->value("$address#2", $head)];
    }

    /** The strongest of those who hold a value now, or null when its track says it. */
    public function holder(string $address): ?HeldValue
    {
        $found = null;
        foreach ($this->held[$address] ?? [] as $held) {
            if ($held->weight->at($this->engine) > 0 && ($found === null || HeldValue::inOrder($held, $found) > 0)) {
                $found = $held;
            }
        }

        return $found;
    }

    /**
     * Which clip of a layer is up where a head is, and which frame of its media.
     *
     * @return array{int, int} −1 and 0 for none
     */
    public function media(string $layer, Head $head): array
    {
        $track = $this->plan->tracks["layer:$layer/media"] ?? null;

        return $track instanceof MediaTrack ? $track->at($head->map->at($this->engine), $this->plan->flicksPerFrame()) : [-1, 0];
    }

    public function master(): float
    {
        return $this->value((string) Address::master(), null);
    }

    private static function property(string $address): Property
    {
        $parsed = Address::parse($address);

        return Schema::properties($parsed->kind)->named($parsed->property);
    }
}

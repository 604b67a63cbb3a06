<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Cues\CueMix;
use Core\Plan\Plan;
use Core\Show\ResultCache;
use Core\Show\Schema;
use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Timeline\TransportMap;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Property;
use Core\Values\Track;

/**
 * What every value is at one engine time: what its track says where its timeline is, then the held values from below,
 * each mixed over it by its weight. Masters and levels multiply at the end, where something is drawn.
 */
final readonly class Moment
{
    /** Timelines within one another, at most. */
    private const DEEPEST = 4;

    /** @var list<Head> where timelines are that clips of others show */
    private array $nested;

    /** What was worked out at this moment already, for whoever asks again for another surface. */
    private ResultCache $known;

    /**
     * @param  list<Head>  $heads
     * @param  array<string, list<HeldValue>>  $held  by address
     * @param  list<string>  $cards  ids of surfaces that show the test card over whatever plays
     * @param  array<string, int>  $identified  until when outputs show the card by which they are recognised, in
     *     engine time, by id
     */
    public function __construct(
        public Plan $plan,
        public array $heads,
        public array $held,
        public int $engine,
        public array $cards = [],
        public array $identified = [],
    ) {
        $this->known = new ResultCache();
        $this->nested = $this->within();
    }

    /** @return list<Head> those of one timeline, where clips of others show it last */
    public function headsOf(string $timeline): array
    {
        return array_values(
            array_filter(
                [...$this->heads, ...$this->nested],
                static fn (Head $head): bool => $head->timeline === $timeline,
            ),
        );
    }

    /**
     * Where timelines are that clips of others show: on the show's frames, as strongly as their clips. What has no
     * clock but its own stands there, and their hold points and cues do not count.
     *
     * @return list<Head>
     */
    private function within(): array
    {
        if ($this->plan->nesting === []) {
            return [];
        }
        // What is looked at, and the timelines that it lies within.
        $asked = array_map(static fn (Head $head): array => [$head, [$head->timeline]], $this->heads);
        $found = [];
        $grid = $this->plan->flicksPerFrame();
        while ($asked !== []) {
            [$head, $chain] = array_shift($asked);
            foreach ($this->plan->nesting as $layer => $part) {
                if (
                    $part['timeline'] !== $head->timeline ||
                    count($chain) > self::DEEPEST ||
                    $this->isMuted((string) $layer, $head)
                ) {
                    continue;
                }
                $left =
                    $this->value("layer:$layer/opacity", $head) *
                    $this->value("timeline:$head->timeline/level", $head) *
                    $head->weight->at($this->engine);
                foreach ($this->clips((string) $layer, $head) as [$index, $frame]) {
                    $one = $part['nested'][$index] ?? null;
                    if ($one === null) {
                        continue;
                    }
                    // What is on top takes its part, what is below it the rest, whatever either shows.
                    $strength =
                        $left *
                        (isset($one['fade']) ? Clip::strength($one['fade'], $head->map->at($this->engine)) : 1.0);
                    $left -= $strength;
                    if ($strength > 0 && isset($one['timeline']) && ! in_array($one['timeline'], $chain, true)) {
                        $found[] = $inner = new Head(
                            $one['timeline'],
                            TransportMap::standing($this->engine, $frame * $grid),
                            Track::constant($strength),
                        );
                        $asked[] = [$inner, [...$chain, $one['timeline']]];
                    }
                }
            }
        }

        return $found;
    }

    /**
     * Something of a layer or a timeline where a head is, worked out once.
     *
     * @template T
     *
     * @param  \Closure(): T  $make
     * @return T
     */
    public function once(string $what, Head $head, \Closure $make): mixed
    {
        return $this->known->get($what.' '.spl_object_id($head), [], $make);
    }

    /** A value where a head is; null for what stands on no timeline. */
    public function value(string $address, ?Head $head): float
    {
        $below = $this->below($address, $head);
        $held = $this->heldOf($address);

        return match (true) {
            $held === [] => $below,
            self::property($address)->type->mixes() => HeldValue::over($below, $held, $this->engine),
            default => HeldValue::uppermost($below, $held, $this->engine),
        };
    }

    /** What its track says of a value, whoever holds it. */
    public function below(string $address, ?Head $head): float
    {
        $track = $this->plan->tracks[$address] ?? null;

        return $track instanceof Track
            ? $track->at($head === null ? 0 : $head->map->at($this->engine))
            : self::property($address)->default;
    }

    /** @return list<HeldValue> all that hold a value, those that hold it of every layer among them */
    public function heldOf(string $address): array
    {
        $held = $this->held[$address] ?? [];
        if (isset($this->held[CueMix::ALL_LAYERS_OPACITY]) && CueMix::isCoveredByAllLayers($address)) {
            return [...$held, ...$this->held[CueMix::ALL_LAYERS_OPACITY]];
        }

        return $held;
    }

    /** Whether a layer is muted, or another one of its timeline is soloed and it is not. */
    public function isMuted(string $layer, Head $head): bool
    {
        return $this->value("layer:$layer/mute", $head) >= 0.5 ||
            ($this->soloed($head) && $this->value("layer:$layer/solo", $head) < 0.5);
    }

    /** Whether any layer of a head's timeline is soloed. */
    private function soloed(Head $head): bool
    {
        $candidates = $this->plan->parts["timeline:$head->timeline"]['solo'] ?? [];
        foreach (array_keys($this->held) as $address) {
            if (str_ends_with((string) $address, '/solo')) {
                $layer = substr((string) $address, 6, -5);
                ($this->plan->parts["layer:$layer"]['timeline'] ?? null) === $head->timeline &&
                    ($candidates[] = $layer);
            }
        }
        foreach ($candidates as $layer) {
            if ($this->value("layer:$layer/solo", $head) >= 0.5) {
                return true;
            }
        }

        return false;
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

    /**
     * The number of the route that a layer takes where a head is; 0 for its own, also where it is told one that it
     * never takes.
     */
    public function way(string $layer, Head $head): int
    {
        $others = $this->plan->parts["layer:$layer"]['routes'] ?? [];
        $number = $others === [] ? 0 : (int) round($this->value("layer:$layer/route", $head));

        return in_array($number, $others, true) ? $number : 0;
    }

    /** The strongest of those who hold a value now, or null when its track says it. */
    public function holder(string $address): ?HeldValue
    {
        $found = null;
        foreach ($this->heldOf($address) as $held) {
            if ($held->weight->at($this->engine) > 0 && ($found === null || HeldValue::inOrder($held, $found) > 0)) {
                $found = $held;
            }
        }

        return $found;
    }

    /**
     * Which clip of a layer is up where a head is, and which frame of its media.
     *
     * @param  int  $depth  how far below that one instead, while it comes out of those or goes into them
     * @return array{int, int} −1 and 0 for none
     */
    public function media(string $layer, Head $head, int $depth = 0): array
    {
        $track = $this->plan->tracks["layer:$layer/".MediaTrack::nameAt($depth)] ?? null;

        return $track instanceof MediaTrack
            ? $track->at(
                $head->map->at($this->engine),
                $this->plan->flicksPerFrame(),
                fn (int $from, int $to): int => max(0, $this->engine - $head->map->since($from, $to, $this->engine)),
            )
            : [-1, 0];
    }

    /**
     * The clips of a layer that are drawn where a head is, from the top down: one, and those below while it comes out
     * of them.
     *
     * @return list<array{int, int}> clip and frame
     */
    public function clips(string $layer, Head $head): array
    {
        $found = [];
        while (($one = $this->media($layer, $head, count($found)))[0] >= 0) {
            $found[] = $one;
        }

        return $found;
    }

    /**
     * The media that are called in place of a layer's clips, from the top down, by their numbers, with the part of
     * the picture that each takes, since when it runs and how; and what is left for the clips.
     *
     * @return array{list<array{int, float, HeldValue}>, float} number, part, and who called it; and what is left, 0
     *     to 1
     */
    public function called(string $layer, Head $head): array
    {
        $held = $this->heldOf("layer:$layer/source");
        usort($held, HeldValue::inOrder(...));
        [$called, $left, $clips] = [[], 1.0, 0.0];
        foreach (array_reverse($held) as $one) {
            $part = $left * $one->weight->at($this->engine);
            $number = (int) round($one->valueAt($this->engine));
            if ($part <= 0) {
                continue;
            }
            if ($number === 0) {
                // Whoever names none has the clips shown.
                [$clips, $left] = [$clips + $part, $left - $part];

                continue;
            }
            $called[] = [$number, $part, $one];
            $left -= $part;
        }

        return [$called, $left + $clips];
    }

    /**
     * Which frame of a media that is called is up, counted from 0; null for none.
     *
     * @param  int  $flicks  per frame of the media
     */
    public function frameOf(HeldValue $called, int $flicks, int $frames): ?int
    {
        if ($frames <= 1) {
            return 0;
        }
        $gone = max(0, $this->engine - $called->since);

        return $called->run === null
            ? intdiv($gone, $flicks) % $frames
            : MediaTrack::called($called->run, $gone, $flicks, $frames);
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

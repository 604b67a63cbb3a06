<?php

declare(strict_types=1);

namespace Core\Bindings;

/**
 * What several sources say of universes. Only those of the highest priority are heard; of several, each slot is the
 * highest, or all is of the one that changed last. A source that is not heard for some time, or that says that it
 * ends, has no say. Only universes that somebody uses are kept, so that no number of others can take their room.
 */
final class SourceMerge
{
    /** Seconds after which a source of sACN counts as lost (E1.31, 6.7.1), one of Art-Net, and a line. */
    public const LOST = ['sacn' => 2.5, 'artnet' => 10.0, 'serial' => 2.5];

    private const MAX_SOURCES = 16;

    /**
     * @var array<string, array<string, array{slots: string, priority: int, sequence: int|null, changed: float, until: float, name: string}>> by universe, then source
     */
    private array $heard = [];

    /** @var array<string, true> */
    private array $used = [];

    /**
     * Which universes are kept from now on; what was heard of others is forgotten.
     *
     * @param  list<string>  $universes  with their protocol, as in "sacn 7"
     */
    public function use(array $universes): void
    {
        $this->used = array_fill_keys($universes, true);
        $this->heard = array_intersect_key($this->heard, $this->used);
    }

    public function uses(string $universe): bool
    {
        return isset($this->used[$universe]);
    }

    /** Forgets sources that were not heard for their time. */
    public function prune(float $now): void
    {
        foreach ($this->heard as $universe => $sources) {
            $this->heard[$universe] = array_filter($sources, static fn (array $s): bool => $s['until'] >= $now);
            if ($this->heard[$universe] === []) {
                unset($this->heard[$universe]);
            }
        }
    }

    /**
     * Hears a source; one of a universe that nobody uses, or beyond the sixteenth of a universe, is passed over.
     *
     * @param  string  $universe  with its protocol, as in "sacn 7"
     * @param  string  $source  that tells it from others
     * @param  int|null  $sequence  0 to 255; null where it is not counted
     */
    public function hear(
        string $universe,
        string $source,
        string $slots,
        int $priority,
        float $now,
        float $lost,
        string $name = '',
        ?int $sequence = null,
    ): void {
        if (! isset($this->used[$universe])) {
            return;
        }
        $known = $this->heard[$universe][$source] ?? null;
        if ($known === null && count($this->heard[$universe] ?? []) >= self::MAX_SOURCES) {
            // Those that were lost make room.
            $this->heard[$universe] = array_filter(
                $this->heard[$universe],
                static fn (array $s): bool => $s['until'] >= $now,
            );
        }
        if ($known === null && count($this->heard[$universe] ?? []) >= self::MAX_SOURCES) {
            return;
        }
        if ($sequence !== null && isset($known['sequence'])) {
            // What comes late is passed over (E1.31, 6.7.2): a step of −20 to 0.
            $step = (($sequence - $known['sequence'] + 384) & 255) - 128;
            if ($step <= 0 && $step > -20) {
                return;
            }
        }
        $changed = $known === null || $known['slots'] !== $slots ? $now : $known['changed'];
        $this->heard[$universe][$source] = [
            'slots' => $slots,
            'priority' => $priority,
            'sequence' => $sequence,
            'changed' => $changed,
            'until' => $now + $lost,
            'name' => $name,
        ];
    }

    /** A source says that it ends. */
    public function end(string $universe, string $source): void
    {
        unset($this->heard[$universe][$source]);
    }

    /** All slots of a universe; null while nobody speaks. */
    public function slots(string $universe, string $merge, float $now): ?string
    {
        $sources = array_filter($this->heard[$universe] ?? [], static fn (array $s): bool => $s['until'] >= $now);
        $this->heard[$universe] = $sources;
        if ($sources === []) {
            unset($this->heard[$universe]);

            return null;
        }
        $top = max(array_column($sources, 'priority'));
        $sources = array_values(array_filter($sources, static fn (array $s): bool => $s['priority'] === $top));
        if (count($sources) === 1) {
            return $sources[0]['slots'];
        }
        if ($merge === 'latest') {
            usort($sources, static fn (array $a, array $b): int => $b['changed'] <=> $a['changed']);

            return $sources[0]['slots'];
        }
        $long = max(0, ...array_map(static fn (array $s): int => strlen($s['slots']), $sources));
        $highest = '';
        for ($i = 0; $i < $long; $i++) {
            $highest .= chr(max(0, ...array_map(static fn (array $s): int => ord($s['slots'][$i] ?? "\0"), $sources)));
        }

        return $highest;
    }

    /** @return list<array{universe: string, name: string, priority: int}> who speaks */
    public function sources(float $now): array
    {
        $told = [];
        foreach ($this->heard as $universe => $sources) {
            foreach ($sources as $source) {
                $source['until'] >= $now &&
                    ($told[] = [
                        'universe' => (string) $universe,
                        'name' => $source['name'],
                        'priority' => $source['priority'],
                    ]);
            }
        }

        return $told;
    }
}

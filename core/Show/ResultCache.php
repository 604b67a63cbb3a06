<?php

declare(strict_types=1);

namespace Core\Show;

/**
 * Remembers what was made of what: as long as the same objects and equal numbers go in, what came out before comes out
 * again. Not a value: it goes along with a show that is being edited. What was not asked for in a round is forgotten.
 */
final class ResultCache
{
    /** @var array<string, array{list<mixed>, mixed, int}> */
    private array $kept = [];

    private int $round = 0;

    public int $made = 0;

    /**
     * @template T
     *
     * @param  list<mixed>  $madeOf
     * @param  \Closure(): T  $make
     * @return T
     */
    public function get(string $name, array $madeOf, \Closure $make): mixed
    {
        $old = $this->kept[$name] ?? null;
        if ($old !== null && $old[0] === $madeOf) {
            $this->kept[$name][2] = $this->round;

            /** @var T */
            return $old[1];
        }
        $this->made++;
        $value = $make();
        $this->kept[$name] = [$madeOf, $value, $this->round];

        return $value;
    }

    /** What was made under a name stays for another round, whatever it was made of. */
    public function keep(string $name): void
    {
        if (isset($this->kept[$name])) {
            $this->kept[$name][2] = $this->round;
        }
    }

    /** Evicts entries that were not used since the last call. */
    public function end(): void
    {
        $round = $this->round++;
        $this->kept = array_filter($this->kept, static fn (array $kept): bool => $kept[2] === $round);
    }
}

<?php

declare(strict_types=1);

namespace Core\Timeline;

/**
 * Which show time a timeline is at, for engine time from now on: pieces of an engine time, the show time there, and a
 * rate until the next piece. Where playback comes to rest by itself (a hold point, the end) is a piece as well, so
 * that a player knows it without the engine. A loop brings show times past its end back into it, in the pieces from
 * its engine time on. For what has a clock of its own it remembers since when that is up.
 */
final readonly class TransportMap
{
    /**
     * @param  non-empty-list<array{int, int, float}>  $pieces  engine time, show time, rate; ascending in engine time
     * @param  array{int, int, int}|null  $loop  show times from which and up to which it repeats, and the engine time
     *     of the first piece that does
     * @param  list<array{int, int, int}>  $clocks  ranges of show time, from and up to, within which it was when its
     *     first piece began, and since which engine time
     */
    private function __construct(public array $pieces, public ?array $loop, public array $clocks = [])
    {
    }

    /**
     * @param  non-empty-list<array{int, int, float}>  $pieces
     * @param  array{int, int}|null  $loop
     */
    public static function of(array $pieces, ?array $loop = null): self
    {
        return new self($pieces, $loop !== null && $loop[1] > $loop[0] ? [$loop[0], $loop[1], $pieces[0][0]] : null);
    }

    public static function standing(int $engine, int $show): self
    {
        return new self([[$engine, $show, 0.0]], null);
    }

    /** The show time at an engine time; before the first piece, where that begins. */
    public function at(int $engine): int
    {
        $piece = $this->pieces[0];
        foreach ($this->pieces as $next) {
            if ($next[0] > $engine) {
                break;
            }
            $piece = $next;
        }
        [$from, $show, $rate] = $piece;
        $time =
            $rate === 0.0 || $engine <= $from
                ? $show
                : $show + ($rate === 1.0 ? $engine - $from : (int) floor(($engine - $from) * $rate));
        if ($this->loop !== null && $from >= $this->loop[2] && $time >= $this->loop[1]) {
            $time = $this->loop[0] + (($time - $this->loop[0]) % ($this->loop[1] - $this->loop[0]));
        }

        return $time;
    }

    /** A second, in flicks: so much of what was before is kept when another map takes effect. */
    private const KEPT = 705_600_000;

    /** This one until another takes effect: what is past when that does is left out. */
    public function then(self $next): self
    {
        $from = $next->pieces[0][0];
        $kept = [];
        foreach ($this->pieces as $piece) {
            if ($piece[0] < $from) {
                $kept[] = $piece;
            }
        }
        // One piece says where it is until then; more are only wanted where it comes to rest in between.
        $kept = array_slice($kept, -2);
        $last = $kept[count($kept) - 1] ?? null;
        if ($this->loop !== null && $last !== null && $last[0] >= $this->loop[2] && $last[2] > 0) {
            // The loop is over with the next map, so what it did up to there is told in pieces.
            $kept = [];
            [$begin, $rate] = [max($last[0], $from - self::KEPT), $last[2]];
            while ($begin < $from && count($kept) < 64) {
                $show = $this->at($begin);
                $kept[] = [$begin, $show, $rate];
                $begin += max(1, (int) ceil(($this->loop[1] - $show) / $rate));
            }
        }

        return new self([...$kept, ...$next->pieces], $next->loop);
    }

    /**
     * The engine time since which it has been within a range of show time without leaving it, where it is there at an
     * engine time. A jump within the range does not leave it; a loop does where it turns outside of it.
     *
     * @param  int  $from  the first show time of the range
     * @param  int  $to  the first one after it
     */
    public function since(int $from, int $to, int $engine): int
    {
        $last = 0;
        while (isset($this->pieces[$last + 1]) && $this->pieces[$last + 1][0] <= $engine) {
            $last++;
        }
        for ($i = $last, $until = $engine; $i >= 0; $until = $this->pieces[$i][0] - 1, $i--) {
            $show = $this->at($until);
            if ($show < $from || $show >= $to) {
                return $i === $last ? $engine : $until + 1;
            }
            $entered = $this->enteredIn($i, $from, $to, $until);
            if ($entered !== null) {
                return max($this->pieces[$i][0], $entered);
            }
        }
        foreach ($this->clocks as [$begin, $end, $since]) {
            if ($begin === $from && $end === $to) {
                return min($since, $this->pieces[0][0]);
            }
        }

        return $this->pieces[0][0];
    }

    /** When a piece came into a range in which it is at an engine time; null where it was from its beginning on. */
    private function enteredIn(int $piece, int $from, int $to, int $engine): ?int
    {
        [$began, $show, $rate] = $this->pieces[$piece];
        // The first flick at which at least so much of the show has passed, or for a rate below 0, at most.
        $after = static function (int $way) use ($began, $rate): int {
            $is = static fn (int $gone): bool => $rate > 0
                ? (int) floor($gone * $rate) >= $way
                : (int) floor($gone * $rate) <= $way;
            $gone = (int) ceil($way / $rate);
            // What was rounded on the way there is put right.
            for (; $gone > 0 && $is($gone - 1); $gone--);
            for (; ! $is($gone); $gone++);

            return $began + $gone;
        };
        if ($rate <= 0) {
            return $rate === 0.0 || $show < $to ? null : $after($to - 1 - $show);
        }
        if ($this->loop !== null && $began >= $this->loop[2]) {
            [$first, $end] = $this->loop;
            $gone = $show + ($rate === 1.0 ? $engine - $began : (int) floor(($engine - $began) * $rate));
            $turns = $gone < $end ? 0 : intdiv($gone - $first, $end - $first);
            if ($turns > 0 && ! ($from <= $first && $to >= $end)) {
                return $after($first + $turns * ($end - $first) + max(0, $from - $first) - $show);
            }
        }

        return $show >= $from ? null : $after($from - $show);
    }

    /** @param  list<array{int, int, int}>  $clocks  as the constructor has them */
    public function clocked(array $clocks): self
    {
        return new self($this->pieces, $this->loop, $clocks);
    }

    /** Whether it moves at an engine time. */
    public function runsAt(int $engine): bool
    {
        $rate = 0.0;
        foreach ($this->pieces as $piece) {
            if ($piece[0] > $engine) {
                break;
            }
            $rate = $piece[2];
        }

        return $rate !== 0.0;
    }

    /** @return array{p: list<array{int, int, float}>, l?: array{int, int, int}, c?: list<array{int, int, int}>} */
    public function toArray(): array
    {
        return ['p' => $this->pieces] +
            ($this->loop === null ? [] : ['l' => $this->loop]) +
            ($this->clocks === [] ? [] : ['c' => $this->clocks]);
    }

    /** @param  array<mixed>  $data  as toArray() gave it */
    public static function fromArray(array $data): self
    {
        $pieces = [];
        foreach ((array) ($data['p'] ?? []) as $piece) {
            if (is_array($piece) && isset($piece[0], $piece[1], $piece[2])) {
                $pieces[] = [(int) $piece[0], (int) $piece[1], (float) $piece[2]];
            }
        }
        $loop = $data['l'] ?? null;

        $pieces = $pieces === [] ? [[0, 0, 0.0]] : $pieces;

        return new self(
            $pieces,
            is_array($loop) && isset($loop[0], $loop[1]) && $loop[1] > $loop[0]
                ? [(int) $loop[0], (int) $loop[1], (int) ($loop[2] ?? $pieces[0][0])]
                : null,
            self::clocksOf($data['c'] ?? []),
        );
    }

    /** @return list<array{int, int, int}> */
    private static function clocksOf(mixed $list): array
    {
        return array_values(
            array_map(
                static fn (array $c): array => [(int) $c[0], (int) $c[1], (int) $c[2]],
                array_filter((array) $list, static fn (mixed $c): bool => is_array($c) && isset($c[0], $c[1], $c[2])),
            ),
        );
    }
}

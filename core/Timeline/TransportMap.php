<?php

declare(strict_types=1);

namespace Core\Timeline;

/**
 * Which show time a timeline is at, for engine time from now on: pieces of an engine time, the show time there, and a
 * rate until the next piece. Where playback comes to rest by itself (a hold point, the end) is a piece as well, so that a
 * player knows it without the engine. A loop brings show times past its end back into it.
 */
final readonly class TransportMap
{
    /**
     * @param  non-empty-list<array{int, int, float}>  $pieces  engine time, show time, rate; ascending in engine time
     * @param  array{int, int}|null  $loop  show times from which and up to which it repeats
     */
    private function __construct(public array $pieces, public ?array $loop)
    {
    }

    /**
     * @param  non-empty-list<array{int, int, float}>  $pieces
     * @param  array{int, int}|null  $loop
     */
    public static function of(array $pieces, ?array $loop = null): self
    {
        return new self($pieces, $loop !== null && $loop[1] > $loop[0] ? $loop : null);
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
        $time = $rate === 0.0 || $engine <= $from ? $show : $show + ($rate === 1.0 ? $engine - $from : (int) floor(($engine - $from) * $rate));
        if ($this->loop !== null && $time >= $this->loop[1]) {
            $time = $this->loop[0] + ($time - $this->loop[0]) % ($this->loop[1] - $this->loop[0]);
        }

        return $time;
    }

    /** This one until another takes effect: what is past when that does is left out. */
    public function then(self $next): self
    {
        $from = $next->pieces[0][0];
        $kept = [];
        foreach ($this->pieces as $i => $piece) {
            if ($piece[0] < $from) {
                $kept[] = $piece;
            }
        }

        // One piece says where it is until then; more are only wanted where it comes to rest in between.
        return new self([...array_slice($kept, -2), ...$next->pieces], $next->loop);
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

    /** @return array{p: list<array{int, int, float}>, l?: array{int, int}} */
    public function toArray(): array
    {
        return ['p' => $this->pieces] + ($this->loop === null ? [] : ['l' => $this->loop]);
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

        return self::of($pieces === [] ? [[0, 0, 0.0]] : $pieces, is_array($loop) && isset($loop[0], $loop[1]) ? [(int) $loop[0], (int) $loop[1]] : null);
    }
}

<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * How a media that is called in place of a layer's clips runs: where it is when it is told so, how fast it goes on
 * from there, which part of it is shown, and what comes past the end of that. Without one it runs whole, again and
 * again.
 */
final readonly class MediaRun
{
    /** Past the end: as MediaTrack numbers it. */
    public const PAST = ['hold' => 0, 'loop' => 1, 'bounce' => 2];

    /**
     * @param  float  $offset  flicks of the media that had passed, from the beginning of its part, or backwards from
     *     its end
     * @param  bool  $restarts  whether it goes back to its beginning in place of going on where the one before was
     * @param  int  $begun  engine time at which it was called, where that was before it was told how to run; else 0
     */
    private function __construct(
        public float $offset,
        public float $rate,
        public float $in,
        public float $out,
        public int $past,
        public bool $fromEnd,
        public int $begun = 0,
        public bool $restarts = false,
    ) {
    }

    /**
     * @param  float  $rate  −16 to 16; 0 stands
     * @param  float  $in  where its part begins, as a share of the media, 0 to 1
     * @param  float  $out  where it ends
     * @param  bool  $fromEnd  whether it begins at the end of its part
     * @param  bool  $restarts  whether it goes back to the beginning, where the media is up already
     *
     * @throws InvalidValue
     */
    public static function of(
        float $rate,
        float $in = 0,
        float $out = 1,
        string $past = 'loop',
        bool $fromEnd = false,
        bool $restarts = false,
    ): self {
        Check::number('rate', $rate, -16, 16);
        Check::number('in', $in, 0, 1);
        Check::number('out', $out, 0, 1);

        return new self(
            0.0,
            $rate,
            $in,
            $out,
            self::PAST[Check::oneOf('past', $past, array_keys(self::PAST))],
            $fromEnd,
            0,
            $restarts,
        );
    }

    /**
     * @return array{rate: float, in: float, out: float, past: string, fromEnd: bool, restarts: bool} in words, as it
     *     is told before it runs
     */
    public function toWords(): array
    {
        return [
            'rate' => $this->rate,
            'in' => $this->in,
            'out' => $this->out,
            'past' => (string) array_search($this->past, self::PAST, true),
            'fromEnd' => $this->fromEnd,
            'restarts' => $this->restarts,
        ];
    }

    /**
     * @param  array<mixed>  $words  as toWords() gave them; what is missing has its default
     *
     * @throws InvalidValue
     */
    public static function fromWords(array $words): self
    {
        $number = static fn (string $name, float $default): float => is_int($words[$name] ?? null) ||
        is_float($words[$name] ?? null)
            ? (float) $words[$name]
            : $default;

        return self::of(
            $number('rate', 1),
            $number('in', 0),
            $number('out', 1),
            is_string($words['past'] ?? null) ? $words['past'] : 'loop',
            ($words['fromEnd'] ?? false) === true,
            ($words['restarts'] ?? false) === true,
        );
    }

    /** The whole of it from its beginning, again and again. */
    public static function whole(): self
    {
        return new self(0.0, 1.0, 0.0, 1.0, self::PAST['loop'], false);
    }

    /**
     * The next one, going on where this one is.
     *
     * @param  int  $since  engine time at which this one was told
     * @param  int  $at  engine time at which the next is
     */
    public function then(self $next, int $since, int $at): self
    {
        [$offset, $fromEnd] = $next->restarts
            ? [0.0, $next->fromEnd]
            : [$this->offset + max(0, $at - $since) * $this->rate, $this->fromEnd];

        return new self(
            $offset,
            $next->rate,
            $next->in,
            $next->out,
            $next->past,
            $fromEnd,
            $this->begun === 0 ? $since : $this->begun,
        );
    }

    /** @return array{float, float, float, float, int, int, int} offset, rate, in, out, past, from its end, begun */
    public function toArray(): array
    {
        return [$this->offset, $this->rate, $this->in, $this->out, $this->past, (int) $this->fromEnd, $this->begun];
    }

    /** @param  array<mixed>  $data  as toArray() gave it */
    public static function fromArray(array $data): self
    {
        [$offset, $rate, $in, $out, $past, $fromEnd, $begun] = array_map(
            floatval(...),
            array_slice(array_values($data) + [0, 1, 0, 1, 1, 0, 0], 0, 7),
        );

        return new self(
            $offset,
            $rate,
            max(0.0, min(1.0, $in)),
            max(0.0, min(1.0, $out)),
            max(0, min(2, (int) $past)),
            $fromEnd >= 1,
            (int) $begun,
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Timeline;

/** Where a timeline is in following a clock: whether it does, and since when the clock runs on without a jump. */
final readonly class ChaseState
{
    /** A clock that is this far from where the timeline is has jumped, in flicks: 0.25 s. */
    public const JUMP = 176_400_000;

    /** A rate within this of another is the same. */
    private const SAME_RATE = 0.002;

    /**
     * @param  bool  $locked  whether it follows
     * @param  bool  $refused  whether it holds because the clock jumped
     * @param  array{int, int}|null  $since  engine time and clock's place since which the clock runs on without a jump
     * @param  bool  $armed  whether the clock was heard at or before the timeline's beginning
     */
    public function __construct(
        public bool $locked = false,
        public bool $refused = false,
        public ?array $since = null,
        public bool $armed = false,
    ) {
    }

    /**
     * What comes of a reading.
     *
     * @param  int  $engine  engine time from which it would be followed
     * @param  int  $position  where the clock is then on the timeline, flicks; may lie before its beginning
     * @param  float  $rate  of the clock
     * @param  int  $stands  where the timeline would be then
     * @param  float  $runs  the timeline's own rate, 0 where it stands
     * @param  int  $frame  flicks of a frame
     * @return array{self, bool|null} the next state, and whether the timeline follows (true), holds (false) or goes on
     *     as it does (null)
     */
    public function heard(
        Chase $rule,
        int $engine,
        int $position,
        float $rate,
        int $stands,
        float $runs,
        int $frame,
    ): array {
        $goesOn =
            $this->since !== null &&
            abs($position - ($this->since[1] + (int) round(($engine - $this->since[0]) * $rate))) < self::JUMP;
        // Of a clock that stood and begins to run, what was before says nothing.
        $since = $goesOn && $this->since !== null ? $this->since : [$engine, $position];
        $armed = $this->armed || $position <= 0;
        $isSteady = $engine - $since[0] >= $rule->believe;
        $next = new self($this->locked, $this->refused, $since, $armed);
        if ($this->refused) {
            return [$next, null];
        }
        if (! $this->locked) {
            $isLate = $rule->waits && ! $armed && $position > $frame;

            return $isLate || ! $isSteady ? [$next, null] : [new self(true, false, $since, $armed), true];
        }
        $off = abs($position - $stands);
        if ($off >= self::JUMP && $rule->jump === ClockJump::Hold && ! $this->isRest($position, $stands, $frame)) {
            return [new self(false, true, $since, $armed), false];
        }
        if ($off >= self::JUMP && ! $isSteady) {
            return [$next, null];
        }
        $isSameRate = abs($rate - $runs) <= self::SAME_RATE;

        return [$next, $isSameRate && $off < $rule->ignore * $frame ? null : true];
    }

    /** Whether the timeline stands at an end that the clock is beyond: that is no jump. */
    private function isRest(int $position, int $stands, int $frame): bool
    {
        return $position < 0 && $stands <= $frame;
    }

    /** Somebody took the timeline in hand, or the clock fell silent. */
    public function released(): self
    {
        return new self();
    }
}

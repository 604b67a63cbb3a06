<?php

declare(strict_types=1);

namespace App\Lights;

/** What was sent of one universe last, so that what did not change is sent as seldom as receivers allow. */
final class Universe
{
    /** Seconds after which what did not change is sent again: well within the 2.5 s of sACN and the 4 s of Art-Net. */
    public const KEEP_ALIVE = 0.8;

    /** Packets that say the same before it is left at rest (E1.31, 6.6.2). */
    private const SETTLED = 3;

    /**
     * Receivers pass over a packet that is 1 to 20 behind the last (E1.31, 6.7.2). What was kept is at most two seconds
     * old, 88 packets at 44 Hz: 120 on is between 32 and 120 ahead.
     */
    private const AHEAD = 120;

    private string $last = '';

    private float $at = -INF;

    private int $same = 0;

    public int $sequence = 0;

    /**
     * A universe that another process sent before us: its count goes on well ahead of what may have come since it was
     * kept.
     */
    public static function resumed(string $last, int $sequence): self
    {
        $universe = new self();
        [$universe->last, $universe->sequence] = [$last, $sequence + self::AHEAD];

        return $universe;
    }

    /** The slots that were sent last. */
    public function last(): string
    {
        return $this->last;
    }

    /** Whether these slots have to be sent now; if so, they count as sent. */
    public function isDue(string $slots, float $seconds, bool $onlyChanges): bool
    {
        $this->same = $slots === $this->last ? min(self::SETTLED + 1, $this->same + 1) : 0;
        $due = ! $onlyChanges || $this->same <= self::SETTLED || $seconds - $this->at >= self::KEEP_ALIVE;
        if ($due) {
            [$this->last, $this->at] = [$slots, $seconds];
        }

        return $due;
    }
}

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

    private string $last = '';

    private float $at = -INF;

    private int $same = 0;

    public int $sequence = 0;

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

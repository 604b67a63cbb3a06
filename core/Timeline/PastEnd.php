<?php

declare(strict_types=1);

namespace Core\Timeline;

/** What a clip shows when its media has run out. */
enum PastEnd: string
{
    case Loop = 'loop';
    case Hold = 'hold';
    /** Back to its beginning and on again; the frames at both ends are up once each time. */
    case Bounce = 'bounce';
    /** Nothing, as if the clip were over. */
    case Dark = 'dark';

    public function repeats(): bool
    {
        return $this === self::Loop || $this === self::Bounce;
    }

    /**
     * Which of so many frames is up, counted from where the clip begins, also before it.
     *
     * @param  positive-int  $count
     * @return int|null from 0; null for none
     */
    public function frame(int $n, int $count): ?int
    {
        return match ($this) {
            self::Loop => (($n % $count) + $count) % $count,
            self::Hold => max(0, min($count - 1, $n)),
            self::Dark => $n < 0 || $n >= $count ? null : $n,
            self::Bounce => ($j = (($n % ($turn = max(1, 2 * ($count - 1)))) + $turn) % $turn) < $count
                ? $j
                : $turn - $j,
        };
    }
}

<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Check;
use Core\Units\Flicks;

/** How a timeline follows a clock from outside. */
final readonly class Chase
{
    /** The longest for which a clock has to run on before it is believed, in flicks: 10 s. */
    private const MAX_BELIEVE = 10 * Flicks::PER_SECOND;

    private const MAX_FRAMES = 250;

    /**
     * @param  ClockJump  $jump  what a jump of the clock does
     * @param  int  $believe  how long the clock has to run on before it is followed, at first and after a jump, flicks
     * @param  int  $ignore  frames by which the clock may be elsewhere before the timeline is moved; 0 for none
     * @param  bool  $waits  whether it is followed only when it was heard at or before the beginning: what comes late
     *     does not join
     */
    public function __construct(
        public ClockJump $jump = ClockJump::Follow,
        public int $believe = 0,
        public int $ignore = 0,
        public bool $waits = false,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  clockJump, clockBelieve, clockIgnore, clockWaits
     *
     * @throws \Core\Units\InvalidValue
     */
    public static function fromRow(array $row): self
    {
        return new self(
            Check::choice(ClockJump::class, 'clockJump', (string) ($row['clockJump'] ?? 'follow')),
            Check::whole('clockBelieve', (int) ($row['clockBelieve'] ?? 0), 0, self::MAX_BELIEVE, 'flicks'),
            Check::whole('clockIgnore', (int) ($row['clockIgnore'] ?? 0), 0, self::MAX_FRAMES, 'frames'),
            (bool) ($row['clockWaits'] ?? false),
        );
    }

    /** @return array{clockJump: string, clockBelieve: int, clockIgnore: int, clockWaits: bool} */
    public function toArray(): array
    {
        return [
            'clockJump' => $this->jump->value,
            'clockBelieve' => $this->believe,
            'clockIgnore' => $this->ignore,
            'clockWaits' => $this->waits,
        ];
    }
}

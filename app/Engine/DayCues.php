<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Cues\DayClock;
use Core\Units\Flicks;

/**
 * Holds the time of day against the monotonic clock. Where it was set by more than ten seconds, that is shown; where
 * cues lie in what was passed over, somebody is asked which to fire. Nobody answers for a minute: the last of them is
 * fired, as it is after the machine was started, so that an unattended place shows what it would be at by now. Set
 * back, nothing is fired twice.
 */
final class DayCues
{
    /** What may be answered: fire the last of the cues that were passed over, all of them, or none. */
    public const ANSWERS = ['last', 'all', 'none'];

    /** Seconds by which a clock may be corrected without being told. */
    public const STEP = 10.0;

    /** Seconds that are waited for an answer. */
    public const WAITS = 60.0;

    /** Seconds between two conductors in which what was due is still fired. */
    private const MISSED = 5;

    /** Flicks that a step is shown where nothing is asked: five minutes. */
    private const SHOWN = 300 * Flicks::PER_SECOND;

    /** @var array{int, int}|null the time of day that was read last, in seconds since 1970, and when, in engine time */
    private ?array $last = null;

    /**
     * @var array{seconds: int, at: string, engine: int, cues: list<string>}|null the last step, and what waits for an answer
     */
    private ?array $step = null;

    /** @var \Closure(): \DateTimeImmutable */
    private readonly \Closure $wall;

    /**
     * @param  bool  $poweredUp  whether the machine was started anew, so that the last of the day before is fired
     * @param  bool  $goesOn  whether this follows a conductor that ended just now
     * @param  (\Closure(): \DateTimeImmutable)|null  $wall  the time of day
     */
    public function __construct(private bool $poweredUp, private readonly bool $goesOn, ?\Closure $wall = null)
    {
        $this->wall = $wall ?? static fn (): \DateTimeImmutable => new \DateTimeImmutable();
    }

    /**
     * Reads the time of day.
     *
     * @return list<string> cues to fire now
     */
    public function check(CuePlayer $cues, int $engine): array
    {
        $wall = ($this->wall)();
        [$utc, $offset] = [$wall->getTimestamp(), $wall->getOffset()];
        $local = $utc + $offset;
        [$last, $this->last] = [$this->last, [$utc, $engine]];
        $late =
            $this->step !== null &&
            $this->step['cues'] !== [] &&
            $engine >= $this->step['engine'] + Flicks::fromSeconds(self::WAITS)
                ? $this->answer('last')
                : [];
        if ($this->poweredUp) {
            $this->poweredUp = false;
            $due = array_slice(DayClock::occurrences($cues->cues(), $local - DayClock::LOOKS_BACK, $local), -1);
            $cues->setDay($cues->day()->at($local)->with($due));

            return array_column($due, 'cue');
        }
        $day = $cues->day();
        if ($day->read === null) {
            $cues->setDay($day->at($local - ($this->goesOn && $last === null ? self::MISSED : 1)));

            return [...$late, ...$cues->due($local)];
        }
        $step = $last === null ? 0.0 : $utc - $last[0] - Flicks::toSeconds($engine - $last[1]);
        if (abs($step) > self::STEP) {
            $before = (int) round($local - $step);
            $passed = $step > 0 ? $cues->passedOver($before, $local) : [];
            $due = $step > 0 ? $cues->passedOver($day->read, $before) : [];
            // What was passed over has been dealt with, whatever is answered.
            $cues->setDay($day->at($local)->with([...$due, ...$passed]));
            // Of a question that is still open, what it asked about stays with this one.
            $open = $this->step['cues'] ?? [];
            $this->step = [
                'seconds' => (int) round($step),
                'at' => $wall->format('H:i:s'),
                'engine' => $engine,
                'cues' => [...$open, ...array_column($passed, 'cue')],
            ];

            return [...$late, ...array_column($due, 'cue')];
        }
        if ($this->step !== null && $this->step['cues'] === [] && $engine > $this->step['engine'] + self::SHOWN) {
            $this->step = null;
        }

        return [...$late, ...$cues->due($local)];
    }

    /**
     * Somebody says what of the cues that were passed over is fired.
     *
     * @param  string  $fire  one of ANSWERS
     * @return list<string>
     */
    public function answer(string $fire): array
    {
        $cues = $this->step['cues'] ?? [];
        $this->step = null;

        return match ($fire) {
            'all' => $cues,
            'last' => array_slice($cues, -1),
            default => [],
        };
    }

    /**
     * @return array{seconds: int, at: string, cues: list<string>, left: float}|null the last step, and how many
     *     seconds are left to answer
     */
    public function figures(int $engine): ?array
    {
        if ($this->step === null) {
            return null;
        }
        ['seconds' => $seconds, 'at' => $at, 'cues' => $cues, 'engine' => $began] = $this->step;

        return [
            'seconds' => $seconds,
            'at' => $at,
            'cues' => $cues,
            'left' => max(0.0, self::WAITS - Flicks::toSeconds($engine - $began)),
        ];
    }
}

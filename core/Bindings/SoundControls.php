<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\Flicks;

/**
 * What is heard, as controls: level, three and eight bands (0 to 1), onsets and beats (1, then 0). Told piece by piece
 * how loud each band was.
 */
final class SoundControls
{
    /** The bands that are measured, lowest and highest frequency in Hz; null for all that is heard. */
    public const BANDS = [
        'sound:level' => null,
        'sound:low' => [40, 250],
        'sound:mid' => [250, 2500],
        'sound:high' => [2500, 16_000],
        'sound:band1' => [40, 80],
        'sound:band2' => [80, 160],
        'sound:band3' => [160, 320],
        'sound:band4' => [320, 640],
        'sound:band5' => [640, 1280],
        'sound:band6' => [1280, 2560],
        'sound:band7' => [2560, 5120],
        'sound:band8' => [5120, 16_000],
    ];

    /** How long a piece is that one measure is of, in flicks: 20 ms. */
    public const HOP = 14_112_000;

    /** What is softer counts as silence, in dB of full scale. */
    public const SILENCE = -70.0;

    /** Where nothing is set, floor and ceiling are what was heard, and come closer by so many dB a second. */
    private const FORGET = 1.0;

    /** Learnt floor and ceiling stay so many dB apart, so that hum is no show. */
    private const SPAN = 12.0;

    /** The softest that is learnt as loud, in dB. */
    private const LEAST_CEILING = -48.0;

    /** A change of a value that is told. */
    private const STEP = 1 / 512;

    /** A rise, in dB over the eight bands, that is an onset however steady it was before. */
    private const RISE = 18.0;

    /** So much more than the mean rise of the last second. */
    private const OVER = 2.0;

    /** Pieces that are heard before the first onset: half a second. */
    private const KNOWN = 25;

    /** Between two onsets, in flicks: 0.1 s. */
    private const APART = 70_560_000;

    /** Pieces that beats are found in: 6 s. */
    private const HISTORY = 300;

    /** Pieces between two beats: of 180 to 60 a minute. */
    private const LAGS = [16, 50];

    /** Lags that are gone through with each piece. */
    private const A_PIECE = 2;

    /** How alike what is a beat apart has to be, 0 to 1. */
    private const ALIKE = 0.35;

    /** @var array<string, float> as it was told last, by control */
    private array $told = [];

    /** @var array<string, float> as the followers stand */
    private array $values = [];

    /** @var array<string, array{float, float}> floor and ceiling that were learnt, dB */
    private array $range = [];

    /** @var list<float> of the eight bands, dB */
    private array $bands = [];

    /** @var list<float> rises, the newest last */
    private array $rises = [];

    private int $pieces = 0;

    /** @var list<float> rises that are being compared with themselves, about their mean */
    private array $compared = [];

    /** @var array<int, float> how alike they are, by lags that were gone through */
    private array $scores = [];

    private ?int $onsetAt = null;

    /** Pieces between two beats; null where there are none. */
    private ?float $period = null;

    /** Time of the next beat, flicks of what was heard. */
    private ?int $nextBeat = null;

    /** @var array<string, true> onset and beat that are on since the last piece */
    private array $lit = [];

    /**
     * @param  float  $attack  seconds in which a value rises by 63 % of the way, as $release those in which it falls
     * @param  float|null  $floor  dB of full scale at which a value is 0; null to learn it
     * @param  float|null  $ceiling  dB at which it is 1; null to learn it
     */
    public function __construct(
        private readonly float $attack = 0.0,
        private readonly float $release = 0.3,
        private readonly ?float $floor = null,
        private readonly ?float $ceiling = null,
    ) {
    }

    /** @return list<string> of all its controls */
    public static function names(): array
    {
        return [...array_keys(self::BANDS), 'sound:onset', 'sound:beat'];
    }

    /** What people call a control of it. */
    public static function label(string $control): string
    {
        $band = self::BANDS[$control] ?? null;
        $name = substr($control, 6);

        return match (true) {
            $name === 'level' => 'Sound level',
            $name === 'onset' => 'Onset',
            $name === 'beat' => 'Beat',
            $band === null => $control,
            default => ucfirst((string) preg_replace('/(\d)$/', ' $1', $name)).", $band[0] to $band[1] Hz",
        };
    }

    /**
     * Takes a piece of 20 ms.
     *
     * @param  list<float>  $levels  of each of `BANDS`, in dB of full scale (mean square)
     * @return list<array{string, list<float|int>}> controls that changed, and what they send
     */
    public function take(array $levels): array
    {
        $events = [];
        // Pieces come evenly, however late they are delivered.
        $time = ++$this->pieces * self::HOP;
        foreach (array_keys($this->lit) as $name) {
            $events[] = [$name, [0]];
        }
        $this->lit = [];
        foreach (array_keys(self::BANDS) as $n => $name) {
            $value = $this->follow($name, max(-120.0, min(0.0, $levels[$n] ?? -120.0)));
            $told = $this->told[$name] ?? 0.0;
            // The ends are told as they are.
            if (abs($value - $told) >= self::STEP || ($value !== $told && ($value === 0.0 || $value === 1.0))) {
                $this->told[$name] = $value;
                $events[] = [$name, [$value]];
            }
        }
        $rise = $this->rise(array_slice($levels, 4, 8));
        $recent = array_slice($this->rises, -50);
        $usual = $recent === [] ? 0.0 : array_sum($recent) / count($recent);
        $this->rises[] = $rise;
        if (count($this->rises) > self::HISTORY) {
            array_shift($this->rises);
        }
        // What is usual has to be known first.
        $isOnset =
            count($recent) >= self::KNOWN &&
            $rise >= self::RISE + self::OVER * $usual &&
            ($this->onsetAt === null || $time - $this->onsetAt >= self::APART);
        if ($isOnset) {
            $this->onsetAt = $time;
            $events[] = $this->light('sound:onset');
        }
        $this->findPeriod();
        $this->beat($time, $isOnset) && ($events[] = $this->light('sound:beat'));

        return $events;
    }

    /** Beats a minute; null where there is no beat. */
    public function tempo(): ?float
    {
        return $this->period === null ? null : 60 / ($this->period * Flicks::toSeconds(self::HOP));
    }

    /** @return array<string, float> each value as it stands, 0 to 1 */
    public function levels(): array
    {
        return $this->values;
    }

    /** @return array{string, list<int>} */
    private function light(string $name): array
    {
        $this->lit[$name] = true;

        return [$name, [1]];
    }

    private function follow(string $name, float $level): float
    {
        $forgets = self::FORGET * Flicks::toSeconds(self::HOP);
        $heard = max(self::SILENCE, $level);
        [$floor, $ceiling] = $this->range[$name] ?? [$heard, max(self::LEAST_CEILING, $heard)];
        $ceiling = max(self::LEAST_CEILING, $heard, $ceiling - $forgets);
        $floor = min($heard, $floor + $forgets, $ceiling - self::SPAN);
        $this->range[$name] = [$floor, $ceiling];
        $low = $this->floor ?? min($floor, ($this->ceiling ?? $ceiling) - self::SPAN);
        $high = $this->ceiling ?? max($ceiling, $low + self::SPAN);
        $wanted = $high > $low ? max(0.0, min(1.0, ($level - $low) / ($high - $low))) : (float) ($level >= $high);
        $stands = $this->values[$name] ?? 0.0;
        $seconds = $wanted > $stands ? $this->attack : $this->release;
        $next =
            $seconds <= 0
                ? $wanted
                : $stands + ($wanted - $stands) * (1 - exp(-Flicks::toSeconds(self::HOP) / $seconds));
        // What is hardly apart has arrived.
        $next = abs($next - $wanted) < self::STEP / 4 ? $wanted : $next;

        return $this->values[$name] = $next;
    }

    /**
     * By how much the bands rose together since the last piece, in dB.
     *
     * @param  list<float>  $bands
     */
    private function rise(array $bands): float
    {
        $bands = array_map(static fn (float $level): float => max(self::SILENCE, $level), $bands);
        $rise = 0.0;
        foreach ($bands as $n => $level) {
            $rise += max(0.0, $level - ($this->bands[$n] ?? $level));
        }
        $this->bands = $bands;

        return $rise;
    }

    /**
     * The lag at which rises are most like themselves, those near 120 beats a minute first (autocorrelation, weighted
     * by a bell over the octaves from there). A few lags are gone through with each piece, so that none takes long.
     */
    private function findPeriod(): void
    {
        if ($this->compared === []) {
            $count = count($this->rises);
            if ($count < 100) {
                return;
            }
            $mean = array_sum($this->rises) / $count;
            $this->compared = array_map(static fn (float $rise): float => $rise - $mean, $this->rises);
            $this->scores = [];
        }
        $rises = $this->compared;
        $count = count($rises);
        $last = self::LAGS[1] + 1;
        for (
            $n = 0, $lag = self::LAGS[0] - 1 + count($this->scores);
            $n < self::A_PIECE && $lag <= $last;
            $n++, $lag++
        ) {
            $sum = 0.0;
            for ($i = $lag; $i < $count; $i++) {
                // What is a beat apart may fall into the piece beside.
                $sum += $rises[$i] * max($rises[$i - $lag], $rises[$i - $lag + 1], $rises[$i - $lag - 1] ?? -INF);
            }
            $this->scores[$lag] = $sum * ($count / ($count - $lag));
        }
        if (isset($this->scores[$last])) {
            $whole = array_sum(array_map(static fn (float $rise): float => $rise * $rise, $rises));
            $this->choosePeriod(
                array_map(static fn (float $score): float => $whole > 0 ? $score / $whole : 0.0, $this->scores),
            );
            $this->compared = [];
        }
    }

    /** @param  array<int, float>  $scores  how alike rises are at each lag, 1 for wholly */
    private function choosePeriod(array $scores): void
    {
        [$best, $most] = [null, 0.0];
        for ($lag = self::LAGS[0]; $lag <= self::LAGS[1]; $lag++) {
            $octaves = log(($lag * Flicks::toSeconds(self::HOP)) / 0.5, 2);
            $score = $scores[$lag] * exp(-0.5 * ($octaves / 0.9) ** 2);
            if ($scores[$lag] >= self::ALIKE && $score > $most) {
                [$best, $most] = [$lag, $score];
            }
        }
        if ($best === null) {
            [$this->period, $this->nextBeat] = [null, null];

            return;
        }
        // Between the pieces: the middle of what scores about as much.
        [$sum, $weight] = [0.0, 0.0];
        for ($lag = $best - 1; $lag <= $best + 1; $lag++) {
            $sum += $lag * max(0.0, $scores[$lag]) ** 4;
            $weight += max(0.0, $scores[$lag]) ** 4;
        }
        $found = $sum / max(1e-9, $weight);
        $this->period =
            $this->period !== null && abs($found - $this->period) < 1.5
                ? $this->period + 0.3 * ($found - $this->period)
                : $found;
    }

    /** Whether a beat falls into the piece that ended at a time. */
    private function beat(int $time, bool $isOnset): bool
    {
        if ($this->period === null) {
            return false;
        }
        $period = (int) round($this->period * self::HOP);
        if ($isOnset) {
            $off = $this->nextBeat === null ? 0 : $time - $this->nextBeat;
            // One that has just been given counts for what comes; off the beat says nothing.
            $off = $off < -$period / 2 ? $off + $period : $off;
            if ($this->nextBeat === null) {
                $this->nextBeat = $time;
            } elseif (abs($off) <= $period * 0.2) {
                $this->nextBeat += intdiv($off, 2);
            }
        }
        if ($this->nextBeat === null || $time < $this->nextBeat) {
            return false;
        }
        $this->nextBeat += $period * (1 + intdiv($time - $this->nextBeat, $period));

        return true;
    }
}

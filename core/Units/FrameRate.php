<?php

declare(strict_types=1);

namespace Core\Units;

/** A frame rate that is exact in flicks. */
final readonly class FrameRate
{
    private const KNOWN = [
        '23.976' => [24000, 1001],
        '24' => [24, 1],
        '25' => [25, 1],
        '29.97' => [30000, 1001],
        '30' => [30, 1],
        '48' => [48, 1],
        '50' => [50, 1],
        '59.94' => [60000, 1001],
        '60' => [60, 1],
        '100' => [100, 1],
        '119.88' => [120000, 1001],
        '120' => [120, 1],
    ];

    private function __construct(
        public string $name,
        public int $numerator,
        public int $denominator,
        public int $flicksPerFrame,
    ) {
    }

    /** @throws InvalidValue for a name that is not in names() */
    public static function of(string $name): self
    {
        [$numerator, $denominator] =
            self::KNOWN[$name] ?? throw InvalidValue::notOneOf('frameRate', $name, self::names());

        return new self($name, $numerator, $denominator, intdiv(Flicks::PER_SECOND * $denominator, $numerator));
    }

    /** The known rate nearest to a measured one: what a file of an odd rate is conformed to. */
    public static function nearest(float $framesPerSecond): self
    {
        if (! is_finite($framesPerSecond) || $framesPerSecond <= 0) {
            throw InvalidValue::notANumber('frameRate');
        }
        $best = '25';
        $distance = INF;
        foreach (self::KNOWN as $name => [$n, $d]) {
            if (abs($n / $d - $framesPerSecond) < $distance) {
                $distance = abs($n / $d - $framesPerSecond);
                $best = (string) $name;
            }
        }

        return self::of($best);
    }

    /** @return list<string> */
    public static function names(): array
    {
        return array_map(strval(...), array_keys(self::KNOWN));
    }

    /** Frames counted in one second of timecode. */
    public function nominal(): int
    {
        return (int) ceil($this->numerator / $this->denominator);
    }

    /** Whether timecode of this rate drops numbers to keep up with the clock. */
    public function dropsFrames(): bool
    {
        return $this->name === '29.97' || $this->name === '59.94';
    }

    public function frameAt(int $flicks): int
    {
        return intdiv(Flicks::snapDown($flicks, $this->flicksPerFrame), $this->flicksPerFrame);
    }

    public function snap(int $flicks): int
    {
        return Flicks::snapDown($flicks, $this->flicksPerFrame);
    }
}

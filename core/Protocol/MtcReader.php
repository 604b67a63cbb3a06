<?php

declare(strict_types=1);

namespace Core\Protocol;

use Core\Units\FrameRate;

/**
 * MIDI time code: quarter frames in both directions, and full frames. Eight quarter frames say one time, which is that
 * of the moment at which the first of them came; backwards the last piece comes first.
 */
final class MtcReader
{
    /** Rates by the two bits that name them. */
    public const RATES = ['24', '25', '29.97', '30'];

    /** @var array<int, int> pieces of this round, by number */
    private array $pieces = [];

    private int $last = -1;

    private int $direction = 0;

    /**
     * @param  list<int>  $message  of `MidiStream`
     * @return array{timecode: TimecodeFrame, rate: string, time: int, direction: int}|null where it is now, `time` in
     *     flicks with what has passed of its frames; direction 1, −1, or 0 where it stands; null where it says
     *     nothing whole
     */
    public function read(array $message): ?array
    {
        if ($message[0] === 0xF1 && isset($message[1])) {
            return $this->quarter(($message[1] >> 4) & 7, $message[1] & 0xF);
        }
        if (
            count($message) === 10 &&
            array_slice($message, 0, 2) === [0xF0, 0x7F] &&
            array_slice($message, 3, 2) === [1, 1]
        ) {
            [$this->pieces, $this->last, $this->direction] = [[], -1, 0];

            return self::told(array_slice($message, 5, 4), 0, 0);
        }

        return null;
    }

    /** @return array{timecode: TimecodeFrame, rate: string, time: int, direction: int}|null */
    private function quarter(int $piece, int $nibble): ?array
    {
        $direction =
            $this->last < 0
                ? 0
                : match (($piece - $this->last) & 7) {
                    1 => 1,
                    7 => -1,
                    default => 0,
                };
        if ($direction === 0 || ($this->direction !== 0 && $direction !== $this->direction)) {
            $this->pieces = [];
        }
        [$this->direction, $this->last] = [$direction, $piece];
        if ($this->pieces === [] && $piece !== 0 && $piece !== 7) {
            return null;
        }
        $this->pieces[$piece] = $nibble;
        if (count($this->pieces) < 8 || $piece !== ($direction >= 0 ? 7 : 0)) {
            return null;
        }
        $p = $this->pieces;
        $this->pieces = [];

        return self::told(
            [($p[7] << 4) | $p[6], ($p[5] << 4) | $p[4], ($p[3] << 4) | $p[2], ($p[1] << 4) | $p[0]],
            $direction,
            // Seven quarters have gone since the piece that came first.
            7 * $direction,
        );
    }

    /**
     * @param  list<int>  $numbers  hours with the rate, minutes, seconds, frames
     * @return array{timecode: TimecodeFrame, rate: string, time: int, direction: int}|null
     */
    private static function told(array $numbers, int $direction, int $quarters): ?array
    {
        $name = self::RATES[($numbers[0] >> 5) & 3];
        $rate = FrameRate::of($name);
        $timecode = new TimecodeFrame(
            $numbers[0] & 0x1F,
            $numbers[1] & 0x3F,
            $numbers[2] & 0x3F,
            $numbers[3] & 0x1F,
            $name === '29.97',
        );
        if (! $timecode->isValid($rate->nominal())) {
            return null;
        }

        return [
            'timecode' => $timecode,
            'rate' => $name,
            'time' => $timecode->at($rate) + intdiv($quarters * $rate->flicksPerFrame, 4),
            'direction' => $direction,
        ];
    }

    /**
     * Quarter frames of a time, in the order in which they are sent forward: eight messages over two frames.
     *
     * @return list<string>
     */
    public static function quarters(TimecodeFrame $frame, string $rate): array
    {
        $bits = ((int) array_search($rate, self::RATES, true) << 5) | $frame->hours;
        $pieces = [];
        foreach ([$frame->frames, $frame->seconds, $frame->minutes, $bits] as $i => $number) {
            $pieces[] = "\xF1".chr(((2 * $i) << 4) | ($number & 0xF));
            $pieces[] = "\xF1".chr(((2 * $i + 1) << 4) | ($number >> 4));
        }

        return $pieces;
    }
}

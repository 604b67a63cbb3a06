<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\ReadsText;
use Core\Protocol\LtcEncoder;
use Core\Protocol\TimecodeFrame;
use Illuminate\Console\Command;

/** Writes longitudinal timecode as a recording, for machines that follow it and to try those that do. */
final class WriteLtc extends Command
{
    use ReadsText;

    protected $signature = 'kite:ltc-write {file : a WAV that is made} {--from=00:00:00:00 : a semicolon before the frames for drop-frame} {--seconds=10} {--rate=25 : 23.976, 24, 25, 29.97 or 30} {--sample-rate=48000} {--user-bits=0 : as hex} {--level=-6 : of its peaks, dBFS}';

    protected $description = 'Write a range of longitudinal timecode as a WAV';

    private const RATES = ['23.976' => 24000 / 1001, '24' => 24.0, '25' => 25.0, '29.97' => 30000 / 1001, '30' => 30.0];

    private const LONGEST = 86_400;

    public function handle(): int
    {
        $rate = self::RATES[self::text($this->option('rate'))] ?? null;
        $sampleRate = (int) self::text($this->option('sample-rate'));
        $seconds = (float) self::text($this->option('seconds'));
        $level = (float) self::text($this->option('level'));
        $user = self::text($this->option('user-bits'));
        $fits = preg_match('/^(\d\d):(\d\d):(\d\d)([:;])(\d\d)$/D', self::text($this->option('from')), $m) === 1;
        $frame = $fits ? new TimecodeFrame((int) $m[1], (int) $m[2], (int) $m[3], (int) $m[5], $m[4] === ';') : null;
        $wrong = match (true) {
            $rate === null => '--rate is one of '.implode(', ', array_keys(self::RATES)).'.',
            $frame === null || ! $frame->isValid((int) round($rate)) => '--from is a timecode of that rate, HH:MM:SS:FF.',
            $frame->drops && $rate < 29 => 'Only at 29.97 and 30 numbers are dropped.',
            $sampleRate < 8000 || $sampleRate > 192_000 => '--sample-rate is 8000 to 192000.',
            $seconds <= 0 || $seconds > self::LONGEST => '--seconds is more than 0, up to a day.',
            $level > 0 || $level < -60 => '--level is -60 to 0.',
            preg_match('/^[0-9a-fA-F]{1,8}$/D', $user) !== 1 => '--user-bits are up to eight hex digits.',
            default => null,
        };
        $out = $wrong === null ? @fopen(self::text($this->argument('file')), 'wb') : false;
        if ($rate === null || $frame === null || $out === false) {
            $this->error($wrong ?? 'The file can\'t be written.');

            return self::FAILURE;
        }
        $encoder = new LtcEncoder($sampleRate, $rate, 10 ** ($level / 20));
        $frames = (int) ceil($seconds * $rate);
        fwrite($out, str_repeat("\0", 44));
        $bytes = 0;
        for ($i = 0; $i < $frames; $i++) {
            $samples = array_map(
                static fn (float $x): int => (int) round(32_767 * $x),
                $encoder->write($frame, (int) hexdec($user)),
            );
            $bytes += (int) fwrite($out, pack('v*', ...$samples));
            $frame = $frame->next((int) round($rate));
        }
        rewind($out);
        fwrite(
            $out,
            'RIFF'.
                pack('V', 36 + $bytes).
                'WAVEfmt '.
                pack('VvvVVvv', 16, 1, 1, $sampleRate, 2 * $sampleRate, 2, 16).
                'data'.
                pack('V', $bytes),
        );
        fclose($out);

        return self::SUCCESS;
    }
}

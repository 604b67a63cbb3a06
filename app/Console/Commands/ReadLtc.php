<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\ReadsText;
use Core\Protocol\LtcDecoder;
use Core\Protocol\LtcFrame;
use Illuminate\Console\Command;

/** Reads longitudinal timecode out of a recording. */
final class ReadLtc extends Command
{
    use ReadsText;

    protected $signature = 'kite:ltc {file : a recording, as WAV} {--channel= : from 1; the first that has timecode where it is missing}';

    protected $description = 'Print a JSON line for each frame of timecode in a recording';

    /** Samples of one channel that are read at once. */
    private const PIECE = 16_384;

    private const MAX_CHANNELS = 32;

    public function handle(): int
    {
        $file = self::text($this->argument('file'));
        $facts = is_file($file) ? $this->facts($file) : null;
        if ($facts === null) {
            $this->error("$file is no recording that can be read.");

            return self::FAILURE;
        }
        [$rate, $channels] = $facts;
        $channel = $this->option('channel') === null ? null : self::text($this->option('channel'));
        if (
            $channel !== null &&
            (! ctype_digit($channel) || (int) $channel < 1 || (int) $channel > $channels)
        ) {
            $this->error("--channel is 1 to $channels.");

            return self::FAILURE;
        }
        $process = proc_open(
            ['ffmpeg', '-v', 'error', '-nostdin', '-i', $file, '-map', '0:a:0', '-f', 'f32le', '-'],
            [1 => ['pipe', 'w'], 2 => ['file', '/dev/null', 'w']],
            $pipes,
        );
        if ($process === false) {
            $this->error('ffmpeg could not be started.');

            return self::FAILURE;
        }
        $chosen = $channel === null ? null : (int) $channel - 1;
        $decoders = [];
        foreach ($chosen === null ? range(0, $channels - 1) : [$chosen] as $n) {
            $decoders[$n] = new LtcDecoder($rate);
        }
        $whole = 4 * $channels;
        $left = '';
        while (! feof($pipes[1])) {
            $left .= (string) fread($pipes[1], max(1, $whole * self::PIECE));
            $length = intdiv(strlen($left), $whole) * $whole;
            if ($length === 0) {
                continue;
            }
            $samples = array_values((array) unpack('g*', substr($left, 0, $length)));
            $left = substr($left, $length);
            foreach ($decoders as $n => $decoder) {
                $own = $samples;
                if ($channels > 1) {
                    $own = [];
                    for ($i = $n; $i < count($samples); $i += $channels) {
                        $own[] = $samples[$i];
                    }
                }
                foreach ($decoder->read($own) as $frame) {
                    // The first channel that has some is the one.
                    $chosen ??= $n;
                    $n === $chosen && $this->output->writeln(self::written($frame));
                }
            }
            $decoders = $chosen === null ? $decoders : array_intersect_key($decoders, [$chosen => 0]);
        }
        proc_close($process);
        $last = $chosen === null ? null : ($decoders[$chosen] ?? null)?->finish();
        $last === null || $this->output->writeln(self::written($last));

        return self::SUCCESS;
    }

    private static function written(LtcFrame $frame): string
    {
        return (string) json_encode([
            'sample' => (int) round($frame->start),
            'timecode' => $frame->timecode->text(),
            'direction' => $frame->isReversed ? -1 : 1,
            'userBits' => sprintf('%08x', $frame->userBits),
        ]);
    }

    /** @return array{int, int}|null sample rate and channels */
    private function facts(string $file): ?array
    {
        $process = proc_open(
            [
                'ffprobe',
                '-v',
                'error',
                '-select_streams',
                'a:0',
                '-show_entries',
                'stream=sample_rate,channels',
                '-of',
                'json',
                $file,
            ],
            [1 => ['pipe', 'w'], 2 => ['file', '/dev/null', 'w']],
            $pipes,
        );
        if ($process === false) {
            return null;
        }
        $stream = json_decode((string) stream_get_contents($pipes[1]), true)['streams'][0] ?? null;
        proc_close($process);
        [$rate, $channels] = [(int) ($stream['sample_rate'] ?? 0), (int) ($stream['channels'] ?? 0)];

        return $rate >= 8000 && $channels >= 1 && $channels <= self::MAX_CHANNELS ? [$rate, $channels] : null;
    }
}

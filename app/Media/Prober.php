<?php

declare(strict_types=1);

namespace App\Media;

use Core\Exchange\TarReader;
use Core\Media\Facts;
use Core\Media\FileHead;
use Core\Media\IccProfile;
use Core\Media\ImageSequence;
use Core\Media\Orientation;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Symfony\Component\Process\Process;

/** Asks the prober what a file is. Only containers and stills that carry their own content are read: no playlists. */
final class Prober
{
    private const FORMATS = 'mov,matroska,webm,avi,mpegts,mpeg,mxf,ogg,wav,flac,mp3,aiff,aac,gif,apng,nut,flv,png_pipe,jpeg_pipe,tiff_pipe,bmp_pipe,webp_pipe,exr_pipe,dpx_pipe,sgi_pipe,pam_pipe,ppm_pipe';

    public const READ_ONLY = ['-protocol_whitelist', 'file', '-format_whitelist', self::FORMATS];

    /** For a list of our own making, of stills within an archive. */
    public const READ_LIST = [
        '-protocol_whitelist',
        'file,subfile',
        '-format_whitelist',
        'concat,'.self::FORMATS,
        '-f',
        'concat',
        '-safe',
        '0',
    ];

    public function facts(string $path, string $name): Facts
    {
        clearstatcache(true, $path);
        $bytes = (int) filesize($path);
        $read = self::reader($path);
        $head = $read(0, FileHead::BYTES);
        if (TarReader::isTar($head)) {
            return $this->sequenceFacts($path, $name);
        }
        $trouble = FileHead::trouble(
            $name,
            $head,
            $bytes <= FileHead::BYTES ? $head : $read($bytes - FileHead::BYTES, FileHead::BYTES),
        );
        if ($trouble !== null) {
            throw InvalidValue::because('file', $trouble);
        }
        $facts = Facts::fromProbe(
            $this->probe($path, $name, self::READ_ONLY),
            $bytes,
            IccProfile::in($read),
            FileHead::hasInks($head),
            Orientation::in($read),
        );
        if ($facts->duration > Flicks::fromSeconds((float) config('kite.longest_video'))) {
            throw InvalidValue::because(
                'file',
                sprintf(
                    '%s says that it lasts %.1f hours; at most %.0f are taken. If it does not, its times are wrong: export it again.',
                    $name,
                    Flicks::toSeconds($facts->duration) / 3600,
                    config('kite.longest_video') / 3600,
                ),
            );
        }

        return $facts;
    }

    /**
     * @param  list<string>  $allowed
     * @return array<string, mixed>
     */
    private function probe(string $url, string $name, array $allowed): array
    {
        $process = Confined::process(
            [
                'ffprobe',
                '-v',
                'error',
                ...$allowed,
                '-show_streams',
                '-show_format',
                '-show_frames',
                '-read_intervals',
                '%+#1',
                '-of',
                'json',
                $url,
            ],
            60,
        );
        $process->setTimeout(120);
        $process->run();
        $probe = json_decode($process->getOutput(), true);
        if (! $process->isSuccessful() || ! is_array($probe) || ! isset($probe['streams'])) {
            $said = $process->getErrorOutput();
            throw InvalidValue::because(
                'file',
                str_contains($said, 'moov atom not found') || str_contains($said, 'End of file')
                    ? "$name is damaged or incomplete: its table of contents is missing. Copy it again from where it came from."
                    : "$name is no picture, video or sound that can be read here.",
            );
        }

        return $probe;
    }

    private function sequenceFacts(string $path, string $name): Facts
    {
        [$sequence, $files] = $this->sequence($path);
        $first = $files[$sequence->shown[0]];
        $facts = Facts::fromProbe(
            $this->probe(self::within($path, $first), $first['name'], [
                '-protocol_whitelist',
                'file,subfile',
                '-format_whitelist',
                self::FORMATS,
            ]),
            $first['bytes'],
        );

        return $facts->inSequence(
            count($sequence->shown),
            $sequence->rate,
            (int) filesize($path),
            ...$sequence->remarks,
        );
    }

    /**
     * The stills of an archive.
     *
     * @return array{ImageSequence, list<array{name: string, at: int, bytes: int}>}
     */
    private function sequence(string $path): array
    {
        $read = self::reader($path);
        [$files, $rate] = [[], null];
        foreach (TarReader::files($read, (int) filesize($path)) as $file) {
            if ($file['name'] === ImageSequence::RATE) {
                $rate = FrameRate::of(trim($read($file['at'], min(20, $file['bytes']))));
            } else {
                $files[] = $file;
            }
        }

        return [ImageSequence::of(array_column($files, 'name'), $rate), $files];
    }

    /** The stills of an archive as a list for the transcoder, one a frame, none of them taken out of it. */
    public function list(string $path): string
    {
        [$sequence, $files] = $this->sequence($path);
        $lines = ['ffconcat version 1.0'];
        foreach ($sequence->shown as $place) {
            array_push(
                $lines,
                "file '".str_replace("'", "'\\''", self::within($path, $files[$place]))."'",
                "option framerate {$sequence->rate->numerator}/{$sequence->rate->denominator}",
                sprintf('duration %.7F', $sequence->rate->denominator / $sequence->rate->numerator),
            );
        }

        return implode("\n", $lines)."\n";
    }

    /** @param  array{name: string, at: int, bytes: int}  $file */
    private static function within(string $path, array $file): string
    {
        return sprintf('subfile,,start,%d,end,%d,,:%s', $file['at'], $file['at'] + $file['bytes'], $path);
    }

    public static function isSequence(string $path): bool
    {
        return TarReader::isTar((string) @file_get_contents($path, length: 512));
    }

    /** @return \Closure(int, int): string */
    public static function reader(string $path): \Closure
    {
        $handle = fopen($path, 'rb') ?: throw InvalidValue::because('file', 'The file can\'t be read.');

        return static fn (
            int $at,
            int $length,
        ): string => $length < 1 || fseek($handle, $at) !== 0 ? '' : (string) stream_get_contents($handle, $length);
    }

    /**
     * The packets of a playback form's picture as they are named, so that those of a long one take no room.
     *
     * @return \Generator<array{int, int, int, bool}> time, offset, size, whether it is a key frame
     */
    public function packets(string $path): \Generator
    {
        $process = Confined::process(
            [
                'ffprobe',
                '-v',
                'error',
                '-select_streams',
                'v:0',
                '-show_entries',
                'packet=pts,size,pos,flags',
                '-of',
                'compact=p=0',
                $path,
            ],
            600,
        );
        $process->start();
        $left = '';
        foreach ($process as $type => $text) {
            if ($type !== Process::OUT) {
                continue;
            }
            $lines = explode("\n", $left.$text);
            $left = array_pop($lines);
            foreach ($lines as $line) {
                parse_str(str_replace('|', '&', trim($line)), $packet);
                if (isset($packet['pts'], $packet['pos'], $packet['size'], $packet['flags'])) {
                    yield [
                        (int) $packet['pts'],
                        (int) $packet['pos'],
                        (int) $packet['size'],
                        is_string($packet['flags']) && str_contains($packet['flags'], 'K'),
                    ];
                }
            }
        }
    }

    /** The decoder's configuration of a playback form, as bytes. */
    public function configuration(string $path): string
    {
        $process = Confined::process(
            [
                'ffprobe',
                '-v',
                'error',
                '-select_streams',
                'v:0',
                '-show_data',
                '-show_entries',
                'stream=extradata',
                '-of',
                'json',
                $path,
            ],
            60,
        );
        $process->mustRun();
        $probe = json_decode($process->getOutput(), true, 16, JSON_THROW_ON_ERROR);
        $bytes = '';
        foreach (explode("\n", (string) ($probe['streams'][0]['extradata'] ?? '')) as $line) {
            if (preg_match('/^[0-9a-f]{8}: ((?:[0-9a-f]{2,4} ?)+)/', $line, $m) === 1) {
                $bytes .= (string) hex2bin(str_replace(' ', '', $m[1]));
            }
        }

        return $bytes;
    }
}

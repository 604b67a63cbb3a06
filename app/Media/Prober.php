<?php

declare(strict_types=1);

namespace App\Media;

use Core\Media\Facts;
use Core\Media\FileHead;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/** Asks the prober what a file is. Only containers and stills that carry their own content are read: no playlists. */
final class Prober
{
    public const READ_ONLY = ['-protocol_whitelist', 'file', '-format_whitelist', 'mov,matroska,webm,avi,mpegts,mpeg,mxf,ogg,wav,flac,mp3,aiff,aac,gif,apng,nut,flv,png_pipe,jpeg_pipe,tiff_pipe,bmp_pipe,webp_pipe,exr_pipe,dpx_pipe,sgi_pipe,pam_pipe,ppm_pipe'];

    public function facts(string $path, string $name): Facts
    {
        clearstatcache(true, $path);
        $head = (string) file_get_contents($path, length: FileHead::BYTES);
        $bytes = (int) filesize($path);
        $trouble = FileHead::trouble($name, $head, $bytes <= FileHead::BYTES ? $head : (string) file_get_contents($path, offset: $bytes - FileHead::BYTES));
        if ($trouble !== null) {
            throw InvalidValue::because('file', $trouble);
        }
        $process = Confined::process(['ffprobe', '-v', 'error', ...self::READ_ONLY, '-show_streams', '-show_format', '-of', 'json', $path], 60);
        $process->setTimeout(120);
        $process->run();
        $probe = json_decode($process->getOutput(), true);
        if (! $process->isSuccessful() || ! is_array($probe) || ! isset($probe['streams'])) {
            $said = $process->getErrorOutput();
            throw InvalidValue::because('file', str_contains($said, 'moov atom not found') || str_contains($said, 'End of file')
                ? "$name is damaged or incomplete: its table of contents is missing. Copy it again from where it came from."
                : "$name is no picture, video or sound that can be read here.");
        }

        $facts = Facts::fromProbe($probe, $bytes);
        if ($facts->kind === 'image') {
            // How a still is to be turned stands with its picture, not in its head.
            $first = Confined::process(['ffprobe', '-v', 'error', ...self::READ_ONLY, '-select_streams', 'v:0', '-read_intervals', '%+#1', '-show_entries', 'frame_side_data', '-of', 'json', $path], 60);
            $first->setTimeout(120);
            $first->run();
            $turned = json_decode($first->getOutput(), true)['frames'][0]['side_data_list'] ?? [];
            foreach ($probe['streams'] as $i => $stream) {
                $probe['streams'][$i]['side_data_list'] = [...(array) ($stream['side_data_list'] ?? []), ...$turned];
            }
            $facts = Facts::fromProbe($probe, $bytes);
        }
        if ($facts->duration > Flicks::fromSeconds((float) config('kite.longest_video'))) {
            throw InvalidValue::because('file', sprintf('%s says that it lasts %.1f hours; at most %.0f are taken. If it does not, its times are wrong: export it again.', $name, Flicks::toSeconds($facts->duration) / 3600, config('kite.longest_video') / 3600));
        }

        return $facts;
    }

    /**
     * @return array{packets: list<array<string, mixed>>, configuration: string} packets of the picture, and the decoder's configuration as bytes
     */
    public function samples(string $path): array
    {
        $process = Confined::process(['ffprobe', '-v', 'error', '-select_streams', 'v:0', '-show_data', '-show_entries', 'stream=extradata:packet=pts,pos,size,flags', '-of', 'json', $path], 600);
        $process->mustRun();
        $probe = json_decode($process->getOutput(), true, 16, JSON_THROW_ON_ERROR);
        $bytes = '';
        foreach (explode("\n", (string) ($probe['streams'][0]['extradata'] ?? '')) as $line) {
            if (preg_match('/^[0-9a-f]{8}: ((?:[0-9a-f]{2,4} ?)+)/', $line, $m) === 1) {
                $bytes .= (string) hex2bin(str_replace(' ', '', $m[1]));
            }
        }

        return ['packets' => $probe['packets'] ?? [], 'configuration' => $bytes];
    }
}

<?php

declare(strict_types=1);

namespace App\Media;

use Core\Media\Facts;
use Core\Units\Refused;
use Symfony\Component\Process\Process;

/** Asks the prober what a file is. Only containers and stills that carry their own content are read: no playlists. */
final class Prober
{
    public const READ_ONLY = ['-protocol_whitelist', 'file', '-format_whitelist', 'mov,matroska,webm,avi,mpegts,mpeg,mxf,ogg,wav,flac,mp3,aiff,aac,gif,apng,nut,flv,png_pipe,jpeg_pipe,tiff_pipe,bmp_pipe,webp_pipe,exr_pipe,dpx_pipe,sgi_pipe,pam_pipe,ppm_pipe'];

    public function facts(string $path, string $name): Facts
    {
        $process = new Process(['ffprobe', '-v', 'error', ...self::READ_ONLY, '-show_streams', '-show_format', '-of', 'json', $path], timeout: 60);
        $process->run();
        $probe = json_decode($process->getOutput(), true);
        if (! $process->isSuccessful() || ! is_array($probe) || ! isset($probe['streams'])) {
            $said = $process->getErrorOutput();
            throw Refused::because('file', str_contains($said, 'moov atom not found') || str_contains($said, 'End of file')
                ? "$name is damaged or incomplete: its table of contents is missing. Copy it again from where it came from."
                : "$name is no picture, video or sound that can be read here.");
        }

        return Facts::fromProbe($probe, (int) filesize($path));
    }

    /**
     * @return array{packets: list<array<string, mixed>>, configuration: string} packets of the picture, and the decoder's configuration as bytes
     */
    public function samples(string $path): array
    {
        $process = new Process(['ffprobe', '-v', 'error', '-select_streams', 'v:0', '-show_data', '-show_entries', 'stream=extradata:packet=pts,pos,size,flags', '-of', 'json', $path], timeout: 600);
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

<?php

declare(strict_types=1);

namespace App\Demo;

use Symfony\Component\Process\Process;

/** The demo's moving pictures, made by the transcoder out of nothing, and kept by a hash of their recipes. */
final readonly class DemoMedia
{
    /** @var array<string, array{string, int}> source filter and seconds, by file name */
    private const RECIPES = [
        'harbour dusk.mp4' => ['gradients=s=128x72:r=25:d=12:n=4:c0=0x1b1440:c1=0x6b2f5f:c2=0xd9793f:c3=0x14304f:x0=0:y0=72:x1=128:y1=0:speed=0.015:type=linear,scale=1280:720:flags=bicubic,format=yuv420p', 12],
        'tide lines.mp4' => ["nullsrc=s=120x68:r=25:d=8,format=gray,geq=lum='40+110*pow(abs(sin((Y+3*sin(X/11+T*1.57))/4-T*1.57)),6)',scale=960:540:flags=bicubic,format=rgb24,colorchannelmixer=rr=0.2:gg=0.72:bb=0.9,format=yuv420p", 8],
        'lantern drift.mp4' => ["nullsrc=s=96x54:r=25:d=10,format=gray,geq=lum='255*pow(max(0,sin(X/4.6+2*sin(Y/7-T*0.6283))*sin((Y+T*5.4)/4.3)),6)',scale=640:360:flags=bicubic,format=rgb24,colorchannelmixer=rr=1:gr=0.66:gg=0:br=0.28:bb=0,format=yuv420p", 10],
    ];

    public function __construct(private string $folder)
    {
        is_dir($folder) || mkdir($folder, 0770, true);
    }

    /** @return array<string, string> path by file name */
    public function files(): array
    {
        $files = [];
        foreach (self::RECIPES as $name => [$filter, $seconds]) {
            $path = $this->folder.'/'.substr(hash('sha256', $filter), 0, 16).'.mp4';
            if (! is_file($path)) {
                (new Process(['ffmpeg', '-y', '-nostdin', '-v', 'error', '-f', 'lavfi', '-i', $filter, '-t', (string) $seconds,
                    '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '18', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv', '-fflags', '+bitexact', "$path.part.mp4"], timeout: 120))->mustRun();
                rename("$path.part.mp4", $path);
            }
            $files[$name] = $path;
        }

        return $files;
    }
}

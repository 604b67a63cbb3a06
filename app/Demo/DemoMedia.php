<?php

declare(strict_types=1);

namespace App\Demo;

use App\Paper\Png;
use Core\Media\Picture;
use Symfony\Component\Process\Process;

/**
 * The demo's moving pictures and its music, made by the transcoder out of nothing, and kept by a hash of their
 * recipes.
 */
final readonly class DemoMedia
{
    /** @var array<string, array{string, int}> source filter and seconds, by file name */
    private const RECIPES = [
        'harbour dusk.mp4' => [
            'gradients=s=128x72:r=25:d=12:n=4:c0=0x1b1440:c1=0x6b2f5f:c2=0xd9793f:c3=0x14304f:x0=0:y0=72:x1=128:y1=0:speed=0.015:type=linear,scale=1280:720:flags=bicubic,format=yuv420p',
            12,
        ],
        'tide lines.mp4' => [
            "nullsrc=s=120x68:r=25:d=8,format=gray,geq=lum='40+110*pow(abs(sin((Y+3*sin(X/11+T*1.57))/4-T*1.57)),6)',scale=960:540:flags=bicubic,format=rgb24,colorchannelmixer=rr=0.2:gg=0.72:bb=0.9,format=yuv420p",
            8,
        ],
        'lantern drift.mp4' => [
            "nullsrc=s=96x54:r=25:d=10,format=gray,geq=lum='255*pow(max(0,sin(X/4.6+2*sin(Y/7-T*0.6283))*sin((Y+T*5.4)/4.3)),6)',scale=640:360:flags=bicubic,format=rgb24,colorchannelmixer=rr=1:gr=0.66:gg=0:br=0.28:bb=0,format=yuv420p",
            10,
        ],
    ];

    /** A lantern kite on its string, lit from within, with alpha. */
    private const EMBLEM = "nullsrc=s=400x560,format=rgba,geq=r='255':g='150+90*exp(-pow((Y-200)/140,2))':b='70+60*exp(-pow((Y-200)/90,2))':a='255*clip((1-abs(X-200)/170-if(lt(Y,190),(190-Y)/190,(Y-190)/300))*14,0,1)+255*lt(abs(X-200-14*sin(Y/22)),4)*gt(Y,480)'";

    /** Beats a minute of the music: sixteen of them are ten seconds. */
    public const BPM = 96;

    /**
     * The music, part by part: how often its sixteen beats are played, the roots of its four chords in hertz, how
     * loud bass, bells and drum are.
     */
    private const MUSIC = [
        [6, [110.0, 98.0, 82.41, 98.0], 0.2, 0.1, 0.0],
        [8, [110.0, 130.81, 98.0, 146.83], 0.24, 0.18, 0.06],
        [8, [130.81, 98.0, 110.0, 87.31], 0.26, 0.2, 0.2],
        [8, [82.41, 87.31, 82.41, 77.78], 0.3, 0.05, 0.28],
        [6, [110.0, 98.0, 82.41, 110.0], 0.18, 0.16, 0.0],
    ];

    public function __construct(private string $folder)
    {
        is_dir($folder) || mkdir($folder, 0770, true);
    }

    /**
     * @return array<string, string> what the ferry's cameras shot of the harbour at night, and all of it as a half
     *     sphere: path by file name
     */
    private function plates(): array
    {
        $truth = (string) file_get_contents(__DIR__.'/NightSurround.php');
        $made = function (string $of, \Closure $picture) use ($truth): string {
            $path = $this->folder.'/'.substr(hash('sha256', $truth.$of), 0, 16).'.png';
            if (! is_file($path)) {
                file_put_contents("$path.part", Png::of($picture()));
                rename("$path.part", $path);
            }

            return $path;
        };
        $files = [];
        foreach (FerryArray::lenses() as $i => $lens) {
            $files['ferry plate '.($i + 1).'.png'] = $made(
                (string) json_encode([$lens, FerryArray::WIDTH, FerryArray::HEIGHT]),
                static fn (): Picture => NightSurround::plate($lens, FerryArray::WIDTH, FerryArray::HEIGHT),
            );
        }

        return $files + [
            'ferry half sphere.png' => $made(
                'half sphere 384',
                static fn (): Picture => NightSurround::halfSphere(384, 384),
            ),
        ];
    }

    /**
     * The music of the night: of each part, sixteen beats of plucked bass, bells two octaves above it and a drum,
     * over four chords; repeated, and put together. No sample comes from elsewhere.
     */
    private function music(): string
    {
        $path =
            $this->folder.
            '/'.
            substr(hash('sha256', (string) json_encode([self::MUSIC, self::BPM, 2])), 0, 16).
            '.flac';
        if (is_file($path)) {
            return $path;
        }
        $beat = 60 / self::BPM;
        [$inputs, $joined, $count] = [[], '', 0];
        foreach (self::MUSIC as [$times, $roots, $bass, $bells, $drum]) {
            $chord = 4 * $beat;
            $root = sprintf(
                'if(lt(t,%F),%F,if(lt(t,%F),%F,if(lt(t,%F),%F,%F)))',
                $chord,
                $roots[0],
                2 * $chord,
                $roots[1],
                3 * $chord,
                $roots[2],
                $roots[3],
            );
            $in = sprintf('mod(t,%F)', $beat);
            $half = sprintf('mod(t,%F)', $beat / 2);
            // The phase begins anew with each beat, so that no chord is cut off within a wave.
            $sound =
                sprintf('%F*sin(2*PI*(%s)*%s)*exp(-2.2*%s)', $bass, $root, $in, $in).
                sprintf(
                    '+%F*sin(2*PI*4*(%s)*(1+0.5*mod(floor(t/%F),2))*%s)*exp(-7*%s)',
                    $bells,
                    $root,
                    $beat / 2,
                    $half,
                    $half,
                ).
                sprintf('+%F*(2*random(0)-1)*exp(-26*%s)', $drum, $in);
            array_push($inputs, '-f', 'lavfi', '-t', (string) (16 * $beat), '-i', "aevalsrc='$sound':s=48000:c=mono");
            $joined .= sprintf(
                '[%d:a]aloop=loop=%d:size=%d[p%d];',
                $count,
                $times - 1,
                (int) round(16 * $beat * 48_000),
                $count,
            );
            $count++;
        }
        $joined .=
            implode('', array_map(static fn (int $n): string => "[p$n]", range(0, $count - 1))).
            'concat=n='.
            $count.
            ':v=0:a=1[out]';
        (new Process(
            [
                'ffmpeg',
                '-y',
                '-nostdin',
                '-v',
                'error',
                ...$inputs,
                '-filter_complex',
                $joined,
                '-map',
                '[out]',
                '-c:a',
                'flac',
                '-fflags',
                '+bitexact',
                "$path.part.flac",
            ],
            timeout: 300,
        ))->mustRun();
        rename("$path.part.flac", $path);

        return $path;
    }

    /** @return array<string, string> path by file name */
    public function files(): array
    {
        $files = [];
        foreach (self::RECIPES as $name => [$filter, $seconds]) {
            $path = $this->folder.'/'.substr(hash('sha256', $filter), 0, 16).'.mp4';
            if (! is_file($path)) {
                (new Process(
                    [
                        'ffmpeg',
                        '-y',
                        '-nostdin',
                        '-v',
                        'error',
                        '-f',
                        'lavfi',
                        '-i',
                        $filter,
                        '-t',
                        (string) $seconds,
                        '-c:v',
                        'libx264',
                        '-preset',
                        'ultrafast',
                        '-crf',
                        '18',
                        '-color_primaries',
                        'bt709',
                        '-color_trc',
                        'bt709',
                        '-colorspace',
                        'bt709',
                        '-color_range',
                        'tv',
                        '-fflags',
                        '+bitexact',
                        "$path.part.mp4",
                    ],
                    timeout: 120,
                ))->mustRun();
                rename("$path.part.mp4", $path);
            }
            $files[$name] = $path;
        }

        $path = $this->folder.'/'.substr(hash('sha256', self::EMBLEM), 0, 16).'.png';
        if (! is_file($path)) {
            (new Process(
                [
                    'ffmpeg',
                    '-y',
                    '-nostdin',
                    '-v',
                    'error',
                    '-f',
                    'lavfi',
                    '-i',
                    self::EMBLEM,
                    '-frames:v',
                    '1',
                    "$path.part.png",
                ],
                timeout: 60,
            ))->mustRun();
            rename("$path.part.png", $path);
        }

        return $files + ['lantern kite.png' => $path, 'lantern night.flac' => $this->music()] + $this->plates();
    }
}

<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\FrameRate;

/**
 * How a file becomes a playback form: what the transcoder is told. Video becomes H.264 with closed groups of at most
 * half a second and no B-frames, at a constant rate, its colours converted to bt709 limited range and tagged so. A
 * still becomes PNG. Alpha rides below the colour as a matte of the same size. Beside it, in the same run: its sound
 * as 32-bit floats, and small raw frames for what is sampled rather than shown.
 */
final readonly class PlaybackRecipe
{
    /** Samples a second of all sound. */
    public const SAMPLE_RATE = 48_000;

    /** Most channels of sound that are kept. */
    public const MAX_CHANNELS = 8;

    /** Longest side of a raw frame, in pixels. */
    public const RAW_SIDE = 64;

    /**
     * @param  list<string>  $arguments  before the name of the form; none where there is no picture
     * @param  string  $extension  mp4, png, or pcm where there is only sound
     * @param  list<string>|null  $raw  before the name of the raw frames
     * @param  array{int, int}  $rawSize  pixels of a raw frame, each of three bytes, or of four with alpha
     * @param  list<string>|null  $sound  before the name of the sound
     * @param  list<string>|null  $thumbnail  before the name of a still's small picture, dark where it is transparent
     */
    private function __construct(
        public array $arguments,
        public string $extension,
        public int $width,
        public int $height,
        public bool $matte,
        public ?string $frameRate,
        public ?array $raw = null,
        public array $rawSize = [0, 0],
        public int $rawChannels = 3,
        public ?array $sound = null,
        public int $channels = 0,
        public ?array $thumbnail = null,
    ) {
    }

    /** @param  string|null  $lut  path of a table that carries the colours of a still to those that are shown */
    public static function for(Facts $facts, ?string $lut = null): self
    {
        $channels = min(self::MAX_CHANNELS, $facts->audio['channels'] ?? 0);
        // What begins late within its file begins with silence.
        $sound =
            $channels === 0
                ? null
                : [
                    '-map',
                    '0:a:0',
                    '-vn',
                    '-af',
                    'aresample='.self::SAMPLE_RATE.':async=1:first_pts=0',
                    '-ac',
                    (string) $channels,
                    '-c:a',
                    'pcm_f32le',
                    '-f',
                    'f32le',
                ];
        if ($facts->kind === 'audio') {
            return new self([], 'pcm', 0, 0, false, null, sound: $sound, channels: $channels);
        }
        $smaller = min(1, self::RAW_SIDE / max($facts->width, $facts->height));
        $rawSize = [max(1, (int) round($facts->width * $smaller)), max(1, (int) round($facts->height * $smaller))];
        [$pixels, $rawChannels] = $facts->alpha ? ['rgba', 4] : ['rgb24', 3];
        // H.264 in 4:2:0 wants even sides; the form is at most one pixel larger, repeated from the edge.
        $width = $facts->width + ($facts->width % 2);
        $height = $facts->height + ($facts->height % 2);
        if ($facts->kind === 'image') {
            $table =
                Orientation::filter($facts->orientation).($lut === null ? '' : "lut3d=file=$lut:interp=tetrahedral,");

            return new self(
                ['-map', '0:v:0', '-frames:v', '1', '-vf', "{$table}format=$pixels", '-c:v', 'png', '-f', 'image2'],
                'png',
                $facts->width,
                $facts->height,
                false,
                null,
                [
                    '-map',
                    '0:v:0',
                    '-frames:v',
                    '1',
                    '-vf',
                    "{$table}scale=$rawSize[0]:$rawSize[1]:flags=area,format=$pixels",
                    '-f',
                    'rawvideo',
                ],
                $rawSize,
                $rawChannels,
                thumbnail: [
                    '-map',
                    '0:v:0',
                    '-frames:v',
                    '1',
                    '-vf',
                    $table.
                    ($facts->alpha ? 'format=gbrap,premultiply=inplace=1,' : '').
                    'format=gbrp,scale=w=320:h=180:force_original_aspect_ratio=decrease,format=yuvj444p',
                    '-q:v',
                    '4',
                    '-f',
                    'image2',
                ],
            );
        }
        $rate = FrameRate::of($facts->frameRate ?? '25');
        $in =
            [
                'gbr' => 'bt709',
                'rgb' => 'bt709',
                'smpte170m' => 'smpte170m',
                'bt470bg' => 'bt470bg',
                'bt2020nc' => 'bt2020nc',
                'bt2020c' => 'bt2020nc',
                'fcc' => 'fcc',
                'smpte240m' => 'smpte240m',
            ][$facts->matrix] ?? 'bt709';
        $scale = "scale=w=$facts->width:h=$facts->height:in_color_matrix=$in:in_range=$facts->range:out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int";
        $even =
            $width === $facts->width && $height === $facts->height
                ? ''
                : ",pad=$width:$height,fillborders=right=".
                    ($width - $facts->width).
                    ':bottom='.
                    ($height - $facts->height).
                    ':mode=smear';
        $filter = $facts->alpha
            ? "[0:v:0]split[a][b];[a]$scale,format=yuv420p{$even}[colour];[b]format=yuva420p,alphaextract,scale=in_range=pc:out_range=tv,format=yuv420p{$even}[matte];[colour][matte]vstack[v]"
            : "[0:v:0]$scale,format=yuv420p{$even}[v]";
        $group = (string) self::groupOf($rate);

        return new self(
            [
                '-filter_complex',
                $filter,
                '-map',
                '[v]',
                '-an',
                '-sn',
                '-dn',
                '-r',
                "$rate->numerator/$rate->denominator",
                '-fps_mode',
                'cfr',
                '-c:v',
                'libx264',
                '-preset',
                'veryfast',
                '-crf',
                '14',
                '-profile:v',
                'high',
                '-pix_fmt',
                'yuv420p',
                '-g',
                $group,
                '-keyint_min',
                $group,
                '-sc_threshold',
                '0',
                '-bf',
                '0',
                '-flags',
                '+cgop',
                '-refs',
                '2',
                '-x264-params',
                'colorprim=bt709:transfer=bt709:colormatrix=bt709:fullrange=off',
                '-color_primaries',
                'bt709',
                '-color_trc',
                'bt709',
                '-colorspace',
                'bt709',
                '-color_range',
                'tv',
                '-video_track_timescale',
                (string) $rate->numerator,
                '-map_metadata',
                '-1',
                '-movflags',
                '+faststart',
            ],
            'mp4',
            $width,
            $facts->alpha ? 2 * $height : $height,
            $facts->alpha,
            $rate->name,
            [
                '-map',
                '0:v:0',
                '-an',
                '-vf',
                "scale=w=$rawSize[0]:h=$rawSize[1]:in_color_matrix=$in:in_range=$facts->range:flags=area,format=$pixels",
                '-r',
                "$rate->numerator/$rate->denominator",
                '-fps_mode',
                'cfr',
                '-f',
                'rawvideo',
            ],
            $rawSize,
            $rawChannels,
            $sound,
            $channels,
        );
    }

    /** Frames from one key frame to the next; 1 for a still. */
    public function group(): int
    {
        return $this->frameRate === null ? 1 : self::groupOf(FrameRate::of($this->frameRate));
    }

    private static function groupOf(FrameRate $rate): int
    {
        return max(1, intdiv($rate->nominal(), 2));
    }
}

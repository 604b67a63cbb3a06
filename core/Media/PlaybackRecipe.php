<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\FrameRate;

/**
 * How a file becomes a playback form: what the transcoder is told. Video becomes H.264 with closed groups of at most
 * half a second and no B-frames, at a constant rate, its colours converted to bt709 limited range and tagged so. A still
 * becomes PNG. Alpha rides below the colour as a matte of the same size.
 */
final readonly class PlaybackRecipe
{
    /**
     * @param  list<string>  $arguments  between the input and the name of the output
     * @param  string  $extension  mp4 or png
     */
    private function __construct(
        public array $arguments,
        public string $extension,
        public int $width,
        public int $height,
        public bool $matte,
        public ?string $frameRate,
    ) {
    }

    public static function for(Facts $facts): self
    {
        // H.264 in 4:2:0 wants even sides; the form is at most one pixel larger, repeated from the edge.
        $width = $facts->width + $facts->width % 2;
        $height = $facts->height + $facts->height % 2;
        if ($facts->kind === 'image') {
            return new self(['-frames:v', '1', '-pix_fmt', $facts->alpha ? 'rgba' : 'rgb24'], 'png', $facts->width, $facts->height, false, null);
        }
        $rate = FrameRate::of($facts->frameRate ?? '25');
        $in = ['gbr' => 'bt709', 'rgb' => 'bt709', 'smpte170m' => 'smpte170m', 'bt470bg' => 'bt470bg', 'bt2020nc' => 'bt2020nc', 'bt2020c' => 'bt2020nc', 'fcc' => 'fcc', 'smpte240m' => 'smpte240m'][$facts->matrix] ?? 'bt709';
        $scale = "scale=w=$facts->width:h=$facts->height:in_color_matrix=$in:in_range=$facts->range:out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int";
        $even = $width === $facts->width && $height === $facts->height ? '' : ",pad=$width:$height,fillborders=right=".($width - $facts->width).':bottom='.($height - $facts->height).':mode=smear';
        $filter = $facts->alpha
            ? "[0:v:0]split[a][b];[a]$scale,format=yuv420p{$even}[colour];[b]format=yuva420p,alphaextract,scale=in_range=pc:out_range=tv,format=yuv420p{$even}[matte];[colour][matte]vstack[v]"
            : "[0:v:0]$scale,format=yuv420p{$even}[v]";
        $group = (string) max(1, intdiv($rate->nominal(), 2));

        return new self([
            '-filter_complex', $filter, '-map', '[v]', '-an', '-sn', '-dn',
            '-r', "$rate->numerator/$rate->denominator", '-fps_mode', 'cfr',
            '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '14', '-profile:v', 'high', '-pix_fmt', 'yuv420p',
            '-g', $group, '-keyint_min', $group, '-sc_threshold', '0', '-bf', '0', '-flags', '+cgop', '-refs', '2',
            '-x264-params', 'colorprim=bt709:transfer=bt709:colormatrix=bt709:range=tv',
            '-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv',
            '-video_track_timescale', (string) $rate->numerator, '-map_metadata', '-1', '-movflags', '+faststart',
        ], 'mp4', $width, $facts->alpha ? 2 * $height : $height, $facts->alpha, $rate->name);
    }
}

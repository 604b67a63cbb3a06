<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;

/**
 * What a probed file is. Where the file does not say how its colours are meant, a default is taken and named in
 * `assumed`: matrix and primaries bt709 from 720 lines on and smpte170m below, limited range, bt709 transfer.
 */
final readonly class Facts
{
    /** What is assumed, as the standards call it. */
    private const WORDS = [
        'tv' => 'limited',
        'pc' => 'full',
        'bt709' => 'BT.709',
        'smpte170m' => 'BT.601',
        'iec61966-2-1' => 'sRGB',
    ];

    /**
     * @param  string  $kind  video, image or audio
     * @param  float  $pixelAspect  width over height of one stored pixel
     * @param  string|null  $frameRate  the rate it is conformed to
     * @param  int  $duration  flicks; 0 for a still
     * @param  array{codec: string, channels: int, sampleRate: int}|null  $audio
     * @param  int  $width  px as it is shown: a picture that says it lies on its side has been set up
     * @param  list<string>  $assumed  sentences for defaults that were taken
     * @param  int  $rotation  degrees clockwise by which it is turned to be shown: 0, 90, 180 or 270
     * @param  int  $bits  of each channel; 0 without a picture
     * @param  string  $chroma  how colour is sampled, as in 4:2:0; RGB or grey where it is not
     * @param  bool|null  $constantRate  whether its frames are evenly spaced; null for a still or a sound
     * @param  int  $frames  in the file; 1 for a still, 0 without a picture
     * @param  int  $bitRate  bits a second; 0 where it is not said
     * @param  string|null  $timecode  of its first frame
     * @param  string|null  $alphaMode  straight or premultiplied; null without alpha
     * @param  string|null  $profile  name of the colour profile that a still carries
     * @param  int  $orientation  by which a still has yet to be set up once it is decoded; 1 where it is upright
     */
    private function __construct(
        public string $kind,
        public int $width,
        public int $height,
        public float $pixelAspect,
        public ?string $frameRate,
        public ?float $measuredRate,
        public int $duration,
        public bool $alpha,
        public string $codec,
        public string $matrix,
        public string $range,
        public string $transfer,
        public ?array $audio,
        public int $bytes,
        public array $assumed,
        public int $rotation,
        public int $bits = 0,
        public string $chroma = '',
        public ?bool $constantRate = null,
        public int $frames = 0,
        public int $bitRate = 0,
        public ?string $timecode = null,
        public ?string $alphaMode = null,
        public ?string $profile = null,
        public int $orientation = Orientation::UPRIGHT,
    ) {
    }

    /**
     * @param  array<string, mixed>  $probe  the prober's JSON, with streams, format and the first frames
     * @param  IccProfile|null  $profile  that a still carries
     * @param  bool  $inks  whether its channels are those of four inks
     * @param  int  $orientation  that a still says of itself and the decoder does not heed
     *
     * @throws InvalidValue in words for a person when there is nothing playable
     */
    public static function fromProbe(
        array $probe,
        int $bytes,
        ?IccProfile $profile = null,
        bool $inks = false,
        int $orientation = Orientation::UPRIGHT,
    ): self {
        $streams = array_values(array_filter((array) ($probe['streams'] ?? []), is_array(...)));
        $format = (array) ($probe['format'] ?? []);
        $first = static function (string $type) use ($streams): ?array {
            foreach ($streams as $stream) {
                if (
                    ($stream['codec_type'] ?? '') === $type &&
                    (int) ($stream['disposition']['attached_pic'] ?? 0) === 0
                ) {
                    return $stream;
                }
            }

            return null;
        };
        [$video, $sound] = [$first('video'), $first('audio')];
        $audio =
            $sound === null
                ? null
                : [
                    'codec' => (string) ($sound['codec_name'] ?? 'unknown'),
                    'channels' => (int) ($sound['channels'] ?? 0),
                    'sampleRate' => (int) ($sound['sample_rate'] ?? 0),
                ];
        $seconds = (float) ($format['duration'] ?? ($video['duration'] ?? ($sound['duration'] ?? 0)));
        if ($video === null) {
            if ($audio === null) {
                throw InvalidValue::because('file', 'This file contains no video and no audio.');
            }

            return new self(
                'audio',
                0,
                0,
                1.0,
                null,
                null,
                Flicks::fromSeconds($seconds),
                false,
                $audio['codec'],
                '',
                '',
                '',
                $audio,
                $bytes,
                [],
                0,
                bitRate: (int) ($format['bit_rate'] ?? ($sound['bit_rate'] ?? 0)),
            );
        }
        $width = (int) ($video['width'] ?? 0);
        $height = (int) ($video['height'] ?? 0);
        if ($width < 1 || $height < 1) {
            throw InvalidValue::because(
                'file',
                'The picture in this file has no size, so the file is damaged or incomplete.',
            );
        }
        Check::whole('width', $width, 1, Check::MAX_PIXELS, 'px');
        Check::whole('height', $height, 1, Check::MAX_PIXELS, 'px');
        $names = explode(',', (string) ($format['format_name'] ?? ''));
        $still =
            array_filter($names, static fn (string $n): bool => str_ends_with($n, '_pipe') || $n === 'image2') !== [];
        $pixelFormat = (string) ($video['pix_fmt'] ?? '');
        $alpha =
            preg_match('/^(yuva|rgba|bgra|argb|abgr|gbrap|ya\d|pal8)/', $pixelFormat) === 1 ||
            (string) ($video['tags']['alpha_mode'] ?? '') === '1';
        $rgb = preg_match('/^(rgb|bgr|gbr|rgba|bgra|argb|abgr|pal8|gray|mono|ya)/', $pixelFormat) === 1;
        $assumed = [];
        $say = static function (string $key, string $label, string $default) use ($video, $rgb, &$assumed): string {
            $value = (string) ($video[$key] ?? 'unknown');
            if (! in_array($value, ['unknown', 'unspecified', 'reserved', ''], true)) {
                return $value;
            }
            if (! $rgb) {
                $assumed[] =
                    "The file does not name its $label; ".(self::WORDS[$default] ?? $default).' is assumed.';
            }

            return $default;
        };
        $matrix = $say('color_space', 'colour matrix', $rgb ? 'gbr' : ($height >= 720 ? 'bt709' : 'smpte170m'));
        $range = $say('color_range', 'range', $rgb || str_starts_with($pixelFormat, 'yuvj') ? 'pc' : 'tv');
        $transfer = $say('color_transfer', 'transfer', $rgb ? 'iec61966-2-1' : 'bt709');
        $rate = null;
        $measured = null;
        if (! $still) {
            $measured =
                self::ratio((string) ($video['avg_frame_rate'] ?? '0/0')) ?:
                self::ratio((string) ($video['r_frame_rate'] ?? '0/0'));
            if ($measured <= 0) {
                throw InvalidValue::because(
                    'file',
                    'The picture in this file has no frame rate, so the file is damaged or incomplete.',
                );
            }
            $nearest = FrameRate::nearest($measured);
            $rate = $nearest->name;
            if (abs($nearest->numerator / $nearest->denominator - $measured) > 0.001 * $measured) {
                $assumed[] = sprintf('The file runs at %.3f frames a second; it is conformed to %s.', $measured, $rate);
            }
        }

        $aspect = self::ratio(str_replace(':', '/', (string) ($video['sample_aspect_ratio'] ?? '1:1'))) ?: 1.0;
        // How a still is to be turned stands with its picture, not in its head.
        $frame = (array) ($probe['frames'] ?? []);
        $rotation = self::rotation([
            ...(array) ($video['side_data_list'] ?? []),
            ...$still ? (array) ($frame[0]['side_data_list'] ?? []) : [],
        ]);
        // Where the decoder has set it up after all, its tag is done with.
        $orientation = $still && $rotation === 0 ? $orientation : Orientation::UPRIGHT;
        $rotation = $orientation === Orientation::UPRIGHT ? $rotation : Orientation::degrees($orientation);
        $bits = self::bits($pixelFormat, (int) ($video['bits_per_raw_sample'] ?? 0));
        if ($bits > 8) {
            $assumed[] = "The file has $bits bits a channel; it is shown with 8.";
        }
        if ($inks) {
            $assumed[] =
                'The file is CMYK; it is converted to RGB without regard to its inks. Export it as RGB for its true colours.';
        }
        if ($profile !== null && $profile->space !== 'RGB ') {
            $assumed[] = "Its colour profile, $profile->name, is not for RGB and is not used.";
        }
        $evenly = self::ratio((string) ($video['r_frame_rate'] ?? ''));
        if ($rotation % 180 !== 0) {
            [$width, $height, $aspect] = [$height, $width, 1 / $aspect];
        }

        return new self(
            $still ? 'image' : 'video',
            $width,
            $height,
            $aspect,
            $rate,
            $measured,
            $still ? 0 : Flicks::fromSeconds((float) ($video['duration'] ?? $seconds)),
            $alpha,
            (string) ($video['codec_name'] ?? 'unknown'),
            $matrix,
            $range,
            $transfer,
            $audio,
            $bytes,
            $assumed,
            $rotation,
            $bits,
            self::chroma($pixelFormat),
            $still || $measured === null ? null : $evenly <= 0 || abs($evenly / $measured - 1) < 0.001,
            $still
                ? 1
                : ((int) ($video['nb_frames'] ?? 0) ?:
                (int) round((float) ($video['duration'] ?? $seconds) * (float) $measured)),
            (int) ($video['bit_rate'] ?? ($format['bit_rate'] ?? 0)),
            self::timecode($streams, $format),
            $alpha ? 'straight' : null,
            $profile?->name,
            $orientation,
        );
    }

    /**
     * Degrees clockwise, from the matrix by which a file says how it is to be shown; the prober counts them the other
     * way round. What is no quarter turn is shown as it is stored.
     *
     * @param  array<mixed>  $sideData
     */
    private static function rotation(array $sideData): int
    {
        foreach ($sideData as $one) {
            $turned = is_array($one) ? $one['rotation'] ?? null : null;
            if ((is_int($turned) || is_float($turned)) && abs(fmod((float) $turned, 90)) < 1e-6) {
                return (360 - ((int) $turned % 360)) % 360;
            }
        }

        return 0;
    }

    private static function bits(string $pixelFormat, int $said): int
    {
        return match (true) {
            $said > 0 => $said,
            preg_match('/(?:rgb48|bgr48|rgba64|bgra64|gray16|ya16)/', $pixelFormat) === 1 => 16,
            preg_match('/f32(le|be)?$/', $pixelFormat) === 1 => 32,
            preg_match('/(?:p|gray|[pyv][0-4]|xyz)(9|10|12|14|16)(le|be)?$/', $pixelFormat, $m) === 1 => (int) $m[1],
            str_starts_with($pixelFormat, 'mono') => 1,
            default => 8,
        };
    }

    private static function chroma(string $pixelFormat): string
    {
        return match (true) {
            preg_match('/^(gray|mono|ya\d)/', $pixelFormat) === 1 => 'grey',
            preg_match('/^(yuv[aj]?|nv|p0)(4[0-4]{2}|12|21|16|24|10)/', $pixelFormat, $m) === 1 => [
                '420' => '4:2:0',
                '422' => '4:2:2',
                '444' => '4:4:4',
                '440' => '4:4:0',
                '411' => '4:1:1',
                '410' => '4:1:0',
                '12' => '4:2:0',
                '21' => '4:2:0',
                '10' => '4:2:0',
                '16' => '4:2:2',
                '24' => '4:4:4',
            ][$m[2]] ?? '',
            default => 'RGB',
        };
    }

    /**
     * @param  list<array<string, mixed>>  $streams
     * @param  array<string, mixed>  $format
     */
    private static function timecode(array $streams, array $format): ?string
    {
        foreach ([...$streams, $format] as $one) {
            $said = (string) ($one['tags']['timecode'] ?? '');
            if (preg_match('/^\d\d:\d\d:\d\d[:;.]\d\d$/', $said) === 1) {
                return $said;
            }
        }

        return null;
    }

    private static function ratio(string $text): float
    {
        [$n, $d] = array_map(floatval(...), explode('/', $text, 2) + [1 => '1']);

        return $d > 0 ? $n / $d : 0.0;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return get_object_vars($this);
    }

    /**
     * What was stored; null where it is from a time when less was asked for.
     *
     * @param  array<string, mixed>  $stored  of toArray()
     */
    public static function fromArray(array $stored): ?self
    {
        $names = array_keys(get_class_vars(self::class));

        return array_diff($names, array_keys($stored)) === []
            ? new self(...array_intersect_key($stored, array_fill_keys($names, true)))
            : null;
    }

    /** The same as a sequence of so many stills. */
    public function inSequence(int $frames, FrameRate $rate, int $bytes, string ...$remarks): self
    {
        return new self(
            ...[
                ...$this->toArray(),
                'kind' => 'video',
                'frameRate' => $rate->name,
                'measuredRate' => $rate->numerator / $rate->denominator,
                'duration' => $frames * $rate->flicksPerFrame,
                'frames' => $frames,
                'constantRate' => true,
                'bytes' => $bytes,
                'codec' => "$this->codec sequence",
                'assumed' => [...$this->assumed, ...$remarks],
            ],
        );
    }
}

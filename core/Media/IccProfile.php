<?php

declare(strict_types=1);

namespace Core\Media;

/** The colour profile that a still carries (ISO 15076-1), found where PNG, JPEG, WebP and TIFF keep it. */
final readonly class IccProfile
{
    /** Largest profile that is read, in bytes. */
    public const MAX = 4 * 1024 ** 2;

    /** @param  string  $space  of the colours that it is for, four letters: "RGB ", "CMYK", "GRAY" */
    private function __construct(public string $bytes, public string $name, public string $space)
    {
    }

    /**
     * @param  \Closure(int, int): string  $read  bytes of the file, from one on and so many; fewer at its end
     * @return self|null null where there is none that can be read
     */
    public static function in(\Closure $read): ?self
    {
        $head = $read(0, 12);
        $bytes = match (true) {
            str_starts_with($head, "\x89PNG\r\n\x1a\n") => self::ofPng($read),
            str_starts_with($head, "\xFF\xD8") => self::ofJpeg($read),
            str_starts_with($head, 'RIFF') && substr($head, 8, 4) === 'WEBP' => self::ofWebP($read),
            str_starts_with($head, "II*\0"), str_starts_with($head, "MM\0*") => self::ofTiff($read),
            default => '',
        };

        return self::of($bytes);
    }

    public static function of(string $bytes): ?self
    {
        // A header of 128 bytes, the signature at 36, then the count of tags.
        return strlen($bytes) < 132 || substr($bytes, 36, 4) !== 'acsp'
            ? null
            : new self($bytes, self::description($bytes), substr($bytes, 16, 4));
    }

    /** Whether it says of itself that its colours are those that are shown anyway. */
    public function isPlain(): bool
    {
        return $this->space === 'RGB ' && stripos($this->name, 'sRGB') !== false;
    }

    private static function description(string $bytes): string
    {
        $count = min(100, self::long($bytes, 128));
        for ($i = 0; $i < $count; $i++) {
            if (substr($bytes, 132 + 12 * $i, 4) !== 'desc') {
                continue;
            }
            $tag = substr($bytes, self::long($bytes, 136 + 12 * $i), min(4096, self::long($bytes, 140 + 12 * $i)));
            $text = match (substr($tag, 0, 4)) {
                'desc' => substr($tag, 12, max(0, self::long($tag, 8) - 1)),
                // The first of its languages.
                'mluc' => mb_convert_encoding(
                    substr($tag, self::long($tag, 24), self::long($tag, 20)),
                    'UTF-8',
                    'UTF-16BE',
                ),
                default => '',
            };
            $text = trim((string) preg_replace('/[\x00-\x1f]/', '', mb_scrub((string) $text, 'UTF-8')));

            return $text === '' ? 'unnamed' : mb_substr($text, 0, 100);
        }

        return 'unnamed';
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofPng(\Closure $read): string
    {
        for ($at = 8, $n = 0; $n < 64; $n++) {
            $chunk = $read($at, 8);
            $type = substr($chunk, 4, 4);
            if (strlen($chunk) < 8 || $type === 'IDAT') {
                return '';
            }
            $length = self::long($chunk, 0);
            if ($type === 'iCCP' && $length <= self::MAX) {
                [, $packed] = explode("\0", $read($at + 8, $length), 2) + ['', ''];

                return (string) @gzuncompress(substr($packed, 1), self::MAX);
            }
            $at += 12 + $length;
        }

        return '';
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofJpeg(\Closure $read): string
    {
        $parts = [];
        for ($at = 2, $n = 0; $n < 512; $n++) {
            $mark = $read($at, 4);
            if (strlen($mark) < 4 || $mark[0] !== "\xFF" || $mark[1] === "\xDA") {
                break;
            }
            $length = self::short($mark, 2);
            if ($mark[1] === "\xE2" && $length > 16) {
                $part = $read($at + 4, $length - 2);
                if (str_starts_with($part, "ICC_PROFILE\0")) {
                    $parts[ord($part[12])] = substr($part, 14);
                }
            }
            $at += 2 + $length;
        }
        ksort($parts);

        return implode('', $parts);
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofWebP(\Closure $read): string
    {
        for ($at = 12, $n = 0; $n < 64; $n++) {
            $chunk = $read($at, 8);
            if (strlen($chunk) < 8) {
                return '';
            }
            $length = (unpack('V', $chunk, 4) ?: [1 => 0])[1];
            if (str_starts_with($chunk, 'ICCP') && $length <= self::MAX) {
                return $read($at + 8, $length);
            }
            $at += 8 + $length + ($length % 2);
        }

        return '';
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofTiff(\Closure $read): string
    {
        $head = $read(0, 8);
        [$short, $long] = $head[0] === 'I' ? ['v', 'V'] : ['n', 'N'];
        $number = static fn (string $how, string $bytes, int $at): int => strlen($bytes) <
        $at + ($how === $short ? 2 : 4)
            ? 0
            : (unpack($how, $bytes, $at) ?: [1 => 0])[1];
        $at = $number($long, $head, 4);
        $count = $number($short, $read($at, 2), 0);
        $entries = $read($at + 2, 12 * $count);
        for ($i = 0; $i < $count; $i++) {
            $length = $number($long, $entries, 12 * $i + 4);
            if ($number($short, $entries, 12 * $i) === 34_675 && $length <= self::MAX) {
                return $read($number($long, $entries, 12 * $i + 8), $length);
            }
        }

        return '';
    }

    private static function long(string $bytes, int $at): int
    {
        return strlen($bytes) < $at + 4 ? 0 : (unpack('N', $bytes, $at) ?: [1 => 0])[1];
    }

    private static function short(string $bytes, int $at): int
    {
        return strlen($bytes) < $at + 2 ? 0 : (unpack('n', $bytes, $at) ?: [1 => 0])[1];
    }
}

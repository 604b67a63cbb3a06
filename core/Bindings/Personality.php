<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * The control slots by which a lighting console drives a layer: parameters one after another, each of one byte or, with 16 after its
 * name, of two with the coarse one first. People compose them of these parts, as a text: "intensity 16, folder, index, x 16, unused".
 */
final readonly class Personality
{
    public const MAX_PARTS = 64;

    /** Pixels to either side that a position reaches. */
    public const REACH = 4096;

    /**
     * Of each part: what it is called, the layer's value and its slot, how a byte is meant, where it rests (of 256), and its attribute in the
     * General Device Type Format. Shares run from 0 to 1, unities from 0 through 1 at a quarter to 4, centred ones to either side of the
     * middle by their reach.
     */
    private const PARTS = [
        'intensity' => ['Intensity', 'opacity', 0, 'share', 1, 0, 'Dimmer'],
        'folder' => ['Media folder', 'folder', 0, 'number', 255, 0, 'MediaFolder1'],
        'index' => ['Media index', 'index', 0, 'number', 255, 0, 'MediaContent1'],
        'x' => ['Position X', 'x', 0, 'centred', self::REACH, 128, 'XYZ_X'],
        'y' => ['Position Y', 'y', 0, 'centred', self::REACH, 128, 'XYZ_Y'],
        'scale' => ['Scale', 'scale', 0, 'unity', 4, 64, 'Scale_XYZ'],
        'turn' => ['Rotation', 'turn', 0, 'centred', 360, 128, 'Rot_Z'],
        'red' => ['Gain red', 'gain', 0, 'unity', 4, 64, 'ColorAdd_R'],
        'green' => ['Gain green', 'gain', 1, 'unity', 4, 64, 'ColorAdd_G'],
        'blue' => ['Gain blue', 'gain', 2, 'unity', 4, 64, 'ColorAdd_B'],
        'blend' => ['Blend mode', 'blend', 0, 'choice', 6, 0, 'LayerMode'],
        'mirror' => ['Mirror', 'mirror', 0, 'choice', 4, 0, 'VideoEffect1Type'],
        'tile' => ['Tile', 'tile', 0, 'choice', 4, 0, 'VideoEffect2Type'],
        'crop left' => ['Crop left', 'cropLeft', 0, 'share', 1, 0, 'Crop_Left'],
        'crop right' => ['Crop right', 'cropRight', 0, 'share', 1, 0, 'Crop_Right'],
        'crop top' => ['Crop top', 'cropTop', 0, 'share', 1, 0, 'Crop_Top'],
        'crop bottom' => ['Crop bottom', 'cropBottom', 0, 'share', 1, 0, 'Crop_Bottom'],
        'volume' => ['Volume', 'volume', 0, 'unity', 4, 64, 'Volume'],
        'mute' => ['Mute', 'mute', 0, 'switch', 1, 0, 'Mute'],
        'unused' => ['Unused', '', 0, 'none', 0, 0, 'NoFeature'],
    ];

    /** Those to begin with. */
    public const PRESETS = [
        'Small' => 'intensity, folder, index, red, green, blue',
        'Standard' => 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16, red, green, blue, blend',
        'Full' => 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16, red 16, green 16, blue 16, blend, mirror, tile, crop left 16, crop right 16, crop top 16, crop bottom 16, volume, mute',
    ];

    /** @param  non-empty-list<array{string, int}>  $parts  each with its slots */
    private function __construct(public string $name, public array $parts)
    {
    }

    /** @throws InvalidValue */
    public static function of(string $name, string $text): self
    {
        $parts = [];
        foreach (array_map(trim(...), explode(',', mb_strtolower($text))) as $word) {
            $fine = preg_match('/^(.*\S)\s+16$/D', $word, $found) === 1;
            $part = $fine ? $found[1] : $word;
            if (! isset(self::PARTS[$part])) {
                throw InvalidValue::because('parts', "\"$word\" is no part: there are ".implode(', ', array_keys(self::PARTS)).'; with 16 after it, it has two channels.');
            }
            if ($fine && in_array(self::PARTS[$part][3], ['number', 'choice', 'switch'], true)) {
                throw InvalidValue::because('parts', "$part has one channel: its values are steps.");
            }
            $parts[] = [$part, $fine ? 2 : 1];
        }
        if (count($parts) > self::MAX_PARTS) {
            throw InvalidValue::because('parts', 'A personality has at most '.self::MAX_PARTS.' parts; there were '.count($parts).'.');
        }

        return new self(Check::name('name', $name), $parts);
    }

    public function text(): string
    {
        return implode(', ', array_map(static fn (array $part): string => $part[0].($part[1] === 2 ? ' 16' : ''), $this->parts));
    }

    /** Channels that it takes. */
    public function slots(): int
    {
        return array_sum(array_column($this->parts, 1));
    }

    /** Whether it calls media by folder and index. */
    public function callsMedia(): bool
    {
        return in_array('index', array_column($this->parts, 0), true);
    }

    /**
     * What is meant by its slots: values of a layer by name and slot, as in an address ("gain#2"); under folder and index the numbers of the
     * media that is called.
     *
     * @param  string  $slots  as many bytes as it has slots
     * @return array<string, float>
     */
    public function values(string $slots): array
    {
        [$values, $at] = [[], 0];
        foreach ($this->parts as [$part, $bytes]) {
            $number = $bytes === 2 ? 256 * ord($slots[$at] ?? "\0") + ord($slots[$at + 1] ?? "\0") : ord($slots[$at] ?? "\0");
            $at += $bytes;
            [, $property, $slot] = self::PARTS[$part];
            if ($property !== '') {
                $values[$property.($slot === 0 ? '' : "#$slot")] = self::meant($part, $number, $bytes);
            }
        }

        return $values;
    }

    private static function meant(string $part, int $number, int $bytes): float
    {
        [, , , $kind, $reach] = self::PARTS[$part];
        [$max, $middle, $unity] = $bytes === 2 ? [65_535, 32_768, 16_384] : [255, 128, 64];

        return match ($kind) {
            'share' => $number / $max,
            'centred' => ($number - $middle) / $middle * $reach,
            'unity' => $number <= $unity ? $number / $unity : 1 + ($number - $unity) / ($max - $unity) * ($reach - 1),
            'choice' => (float) intdiv($number * (int) $reach, 256),
            'switch' => $number >= 128 ? 1.0 : 0.0,
            default => (float) $number,
        };
    }

    /** The bytes at which nothing is changed. */
    public function rest(): string
    {
        return implode('', array_map(static fn (array $part): string => chr(self::PARTS[$part[0]][5]).($part[1] === 2 ? "\0" : ''), $this->parts));
    }

    /**
     * Its channels for a person: number of the first, name, count, where it rests, and what its least, resting and greatest values mean.
     *
     * @return list<array{channel: int, name: string, slots: int, rest: int, from: float, at: float, to: float, attribute: string}>
     */
    public function channels(): array
    {
        [$told, $at] = [[], 1];
        foreach ($this->parts as [$part, $bytes]) {
            [$label, , , , , $rest, $attribute] = self::PARTS[$part];
            $told[] = ['channel' => $at, 'name' => $label, 'slots' => $bytes, 'rest' => $rest, 'from' => self::meant($part, 0, $bytes), 'at' => self::meant($part, $bytes === 2 ? 256 * $rest : $rest, $bytes), 'to' => self::meant($part, $bytes === 2 ? 65_535 : 255, $bytes), 'attribute' => $attribute];
            $at += $bytes;
        }

        return $told;
    }
}

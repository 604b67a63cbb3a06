<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Effects\Effect;
use Core\Timeline\BlendMode;
use Core\Timeline\MaskKey;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\MediaRun;
use Core\Values\Property;

/**
 * The control slots by which a lighting console drives a layer: parameters one after another, each of one byte or,
 * with 16 after its name, of two with the coarse one first. People compose them of these parts, as a text: "intensity
 * 16, folder, index, x 16, 3 unused", where a number before a part repeats it. Each "effect" begins a slot for one of
 * the layer's effects, in their order: it says by its number which effect that is (0: as it is stored), the mixes and
 * values after it what that is made of.
 */
final readonly class Personality
{
    public const MAX_PARTS = 512;

    /** Pixels to either side that a position reaches. */
    public const REACH = 4096;

    /**
     * Of each part: what it is called, the layer's value and its slot, how a byte is meant, where it rests (of 256),
     * and its attribute in the General Device Type Format (DIN SPEC 15800, Annex A); what that has no name for is
     * marked as our own by its beginning, KiteLamp_. Shares run from 0 to 1, unities from 0 through 1 at a quarter to
     * 4, centred ones to either side of the middle by their reach; times are tenths of a second, or thousandths.
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
        'blend' => ['Blend mode', 'blend', 0, 'choice', 0, 0, 'VideoBlendMode'],
        'mirror' => ['Mirror', 'mirror', 0, 'choice', 0, 0, 'VideoEffect1Type'],
        'tile' => ['Tile', 'tile', 0, 'choice', 0, 0, 'VideoEffect2Type'],
        'crop left' => ['Crop left', 'cropLeft', 0, 'share', 1, 0, 'KiteLamp_CropLeft'],
        'crop right' => ['Crop right', 'cropRight', 0, 'share', 1, 0, 'KiteLamp_CropRight'],
        'crop top' => ['Crop top', 'cropTop', 0, 'share', 1, 0, 'KiteLamp_CropTop'],
        'crop bottom' => ['Crop bottom', 'cropBottom', 0, 'share', 1, 0, 'KiteLamp_CropBottom'],
        'volume' => ['Volume', 'volume', 0, 'unity', 4, 64, 'VideoSoundVolume1'],
        'mute' => ['Mute', 'mute', 0, 'switch', 1, 0, 'KiteLamp_Mute'],
        'invert' => ['Invert', 'invert', 0, 'share', 1, 0, 'VideoEffect3Parameter1'],
        'invert red' => ['Invert red', 'invert', 0, 'share', 1, 0, 'VideoEffect3Parameter2'],
        'invert green' => ['Invert green', 'invert', 1, 'share', 1, 0, 'VideoEffect3Parameter3'],
        'invert blue' => ['Invert blue', 'invert', 2, 'share', 1, 0, 'VideoEffect3Parameter4'],
        'opaque' => ['Opaque', 'opaque', 0, 'switch', 1, 0, 'VideoEffect4Type'],
        'mask folder' => ['Mask folder', 'maskFolder', 0, 'number', 255, 0, 'MediaFolder2'],
        'mask media' => ['Mask media', 'maskMedia', 0, 'number', 255, 0, 'MediaContent2'],
        'mask key' => ['Mask key', 'maskKey', 0, 'choice', 0, 0, 'VideoEffect5Type'],
        'mask inverted' => ['Mask inverted', 'maskInverted', 0, 'switch', 1, 0, 'VideoEffect6Type'],
        'key width' => ['Key width', 'maskWidth', 0, 'share', 1, 255, 'VideoKeyTolerance'],
        'mask x' => ['Mask X', 'maskX', 0, 'around', 4, 128, 'VideoEffect7Parameter1'],
        'mask y' => ['Mask Y', 'maskY', 0, 'around', 4, 128, 'VideoEffect7Parameter2'],
        'mask scale' => ['Mask scale', 'maskScale', 0, 'unity', 4, 64, 'VideoEffect7Parameter3'],
        'mask feather' => ['Mask feather', 'maskFeather', 0, 'share', 1, 0, 'VideoEffect7Parameter4'],
        'transport' => ['Transport', 'transport', 0, 'choice', 0, 0, 'PlayMode'],
        'in' => ['In', 'in', 0, 'share', 1, 0, 'PlayBegin'],
        'out' => ['Out', 'out', 0, 'share', 1, 255, 'PlayEnd'],
        'speed' => ['Speed', 'rate', 0, 'unity', 4, 64, 'PlaySpeed'],
        'crossfade' => ['Crossfade', 'crossfade', 0, 'time', 0, 0, 'KiteLamp_Crossfade'],
        'effect' => ['Effect', '', 0, 'effect', 0, 0, 'VideoEffect'],
        'effect mix' => ['Effect mix', '', 0, 'share', 1, 255, 'VideoEffect'],
        'effect value' => ['Effect value', '', 0, 'share', 1, 0, 'VideoEffect'],
        'unused' => ['Unused', '', 0, 'none', 0, 0, 'NoFeature'],
    ];

    /** Those to begin with. */
    public const PRESETS = [
        'Small' => 'intensity, folder, index, red, green, blue',
        'Standard' => 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16, red, green, blue, blend',
        'Effects' => 'intensity 16, folder, index, effect, effect mix, 4 effect value, effect, effect mix, 4 effect value',
        'Full' => 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16, red 16, green 16, blue 16, blend, mirror, tile, crop left 16, crop right 16, crop top 16, crop bottom 16, volume, mute, invert, opaque, transport, in 16, out 16, speed 16, crossfade, mask folder, mask media, mask key, mask inverted, key width, mask x 16, mask y 16, mask scale 16, mask feather',
    ];

    /** Of the values of effects, how a byte is meant, and how far it reaches; `about` is to either side of a half. */
    private const OF_EFFECTS = [
        'radius' => ['share', 0.5],
        'size' => ['share', 0.5],
        'amplitude' => ['share', 0.5],
        'angle' => ['around', 180],
        'strength' => ['around', 4],
        'saturation' => ['unity', 4],
        'contrast' => ['unity', 4],
        'brightness' => ['around', 1],
        'gamma' => ['unity', 4],
        'steps' => ['count', 0],
        'segments' => ['count', 0],
        'x' => ['about', 1],
        'y' => ['about', 1],
        'extent' => ['share', 2],
        'speed' => ['around', 10],
        'seed' => ['number', 0],
    ];

    /** VideoEffect attributes that other parts have already. */
    private const EFFECTS_FROM = 7;

    /** What says which media is called and how it runs, in place of a value of the layer. */
    public const CALLS = ['maskFolder', 'maskMedia', 'folder', 'index', 'transport', 'in', 'out', 'rate', 'crossfade'];

    /** How a picture is mirrored or repeated. */
    private const WAYS = ['none', 'across', 'down', 'both'];

    /**
     * The ways in which a media that is called runs: again and again, once, there and back, standing where it is,
     * backwards again and again, standing at its beginning.
     */
    public const TRANSPORTS = ['loop', 'once', 'bounce', 'hold', 'backwards', 'beginning'];

    /** @param  non-empty-list<array{string, int}>  $parts  each with its slots */
    private function __construct(public string $name, public array $parts)
    {
    }

    /** @throws InvalidValue */
    public static function of(string $name, string $text): self
    {
        $parts = [];
        $effects = 0;
        foreach (array_map(trim(...), explode(',', mb_strtolower($text))) as $word) {
            [$times, $word] =
                preg_match('/^(\d{1,3})\s+(\D.*)$/sD', $word, $found) === 1 ? [(int) $found[1], $found[2]] : [1, $word];
            $fine = preg_match('/^(.*\S)\s+16$/D', $word, $found) === 1;
            $part = $fine ? $found[1] : $word;
            if (! isset(self::PARTS[$part])) {
                throw InvalidValue::because(
                    'parts',
                    "\"$word\" is no part: there are ".
                        implode(', ', array_keys(self::PARTS)).
                        '; with 16 after it, it has two channels.',
                );
            }
            if ($fine && in_array(self::PARTS[$part][3], ['number', 'choice', 'switch', 'effect'], true)) {
                throw InvalidValue::because('parts', "$part has one channel: its values are steps.");
            }
            $effects += $part === 'effect' ? $times : 0;
            if ($effects === 0 && str_starts_with($part, 'effect ')) {
                throw InvalidValue::because('parts', "$part is of an effect: put effect before it.");
            }
            $times > 0 ?:
            throw InvalidValue::because('parts', "$part is repeated $times times; it stands at least once.");
            array_push($parts, ...array_fill(0, $times, [$part, $fine ? 2 : 1]));
        }
        if (count($parts) > self::MAX_PARTS) {
            throw InvalidValue::because(
                'parts',
                'A personality has at most '.self::MAX_PARTS.' parts; there were '.count($parts).'.',
            );
        }

        if ($effects > Effect::MAX) {
            throw InvalidValue::because(
                'parts',
                'A layer has at most '.Effect::MAX." effects; there were $effects.",
            );
        }
        $words = array_column($parts, 0);
        $calling = array_intersect(['transport', 'in', 'out', 'speed', 'crossfade'], $words);
        if ($calling !== [] && ! in_array('index', $words, true)) {
            throw InvalidValue::because(
                'parts',
                reset($calling).' is of the media that is called: put index among the parts, too.',
            );
        }

        return new self(Check::name('name', $name), $parts);
    }

    public function text(): string
    {
        [$words, $times] = [[], []];
        foreach ($this->parts as [$part, $bytes]) {
            $word = $part.($bytes === 2 ? ' 16' : '');
            if ($words !== [] && end($words) === $word) {
                $times[count($times) - 1]++;
            } else {
                [$words[], $times[]] = [$word, 1];
            }
        }

        return implode(
            ', ',
            array_map(static fn (string $word, int $n): string => ($n > 1 ? "$n " : '').$word, $words, $times),
        );
    }

    /** Channels that it takes. */
    public function slots(): int
    {
        return array_sum(array_column($this->parts, 1));
    }

    /** How many effects of the layer it drives. */
    public function effectSlots(): int
    {
        return count(array_keys(array_column($this->parts, 0), 'effect', true));
    }

    /**
     * What is meant for the effects of the layer, in their order: which each is, by its number, and its values by
     * name and slot; none where an effect is left as it is stored.
     *
     * @param  string  $slots  as many bytes as it has slots
     * @return list<array<string, float>>
     */
    public function effects(string $slots): array
    {
        $effects = [];
        foreach ($this->read($slots) as [$part, $number, $bytes, $slot, $of]) {
            if ($part === 'effect') {
                $which = Effect::numbered($number);
                $effects[] = $which === null ? [] : ['effect' => (float) $which->number(), 'on' => 1.0];
            } elseif ($part === 'effect mix' && $effects[$slot - 1] !== []) {
                $effects[$slot - 1]['mix'] = self::meant($part, $number, $bytes);
            } elseif ($of !== null) {
                $effects[$slot - 1][Address::valueOf($of[0]->name, $of[1])] = self::ofEffect($of[0], $number, $bytes);
            }
        }

        return array_values($effects);
    }

    /**
     * Its parts with the numbers of their slots.
     *
     * @return list<array{string, int, int, int, array{Property, int}|null}> part, number, bytes, the effect slot that
     *     it belongs to (from 1), and, of a value of an effect that is chosen, which value that is
     */
    private function read(string $slots): array
    {
        [$told, $at, $slot, $values] = [[], 0, 0, []];
        foreach ($this->parts as [$part, $bytes]) {
            $number =
                $bytes === 2 ? 256 * ord($slots[$at] ?? "\0") + ord($slots[$at + 1] ?? "\0") : ord($slots[$at] ?? "\0");
            if ($part === 'effect') {
                $slot++;
                $values = Effect::numbered($number)?->numbers() ?? [];
            }
            $told[] = [$part, $number, $bytes, $slot, $part === 'effect value' ? array_shift($values) : null];
            $at += $bytes;
        }

        return $told;
    }

    private static function ofEffect(Property $property, int $number, int $bytes): float
    {
        [$kind, $reach] = self::OF_EFFECTS[$property->name] ?? ['share', 1];
        $value = match ($kind) {
            'about' => 0.5 + self::scaled('around', $reach, $number, $bytes),
            'count' => (float) ($bytes === 2 ? $number >> 8 : $number),
            default => self::scaled($kind, $reach, $number, $bytes),
        };

        return max($property->min, min($property->max, $value));
    }

    /** @return list<string> what the value of a place after an effect is for each of them, and how far it reaches */
    private static function valuesAt(int $place): array
    {
        $told = [];
        foreach (Effect::cases() as $effect) {
            [$property, $slot] = $effect->numbers()[$place - 1] ?? [null, 0];
            if ($property !== null) {
                $told[] =
                    "{$effect->number()} $effect->value: ".
                    $property->slots[$slot].
                    ' '.
                    self::inWords($property, self::ofEffect($property, 0, 1)).
                    ' to '.
                    self::inWords($property, self::ofEffect($property, 255, 1));
            }
        }

        return $told;
    }

    private static function inWords(Property $property, float $value): string
    {
        return trim(round($value * $property->scale, 2).' '.$property->unit);
    }

    /** Whether it calls media by folder and index. */
    public function callsMedia(): bool
    {
        return $this->has('index');
    }

    /** Whether a part is among its own. */
    public function has(string $part): bool
    {
        return in_array($part, array_column($this->parts, 0), true);
    }

    /**
     * What is meant by its slots: values of a layer by name and slot, as in an address ("gain#2"); under folder and
     * index the numbers of the media that is called.
     *
     * @param  string  $slots  as many bytes as it has slots
     * @return array<string, float>
     */
    public function values(string $slots): array
    {
        $values = [];
        $meanings = $this->meanings($slots);
        foreach ($this->parts as $i => [$part]) {
            [, $property, $slot] = self::PARTS[$part];
            if ($property !== '') {
                $values[Address::valueOf($property, $slot)] = $meant = $meanings[$i][1];
                $part === 'invert' && ([$values['invert#1'], $values['invert#2']] = [$meant, $meant]);
            }
        }

        return $values;
    }

    /**
     * How the media that is called runs by what its slots mean, and how long it takes to cover what was before, in
     * seconds; null where nothing of it is among the parts.
     *
     * @param  array<string, float>  $values  as values() gives them
     * @return array{MediaRun|null, float}
     */
    public static function run(array $values): array
    {
        $fade = $values['crossfade'] ?? 0.0;
        if (array_intersect_key($values, ['transport' => 0, 'in' => 0, 'out' => 0, 'rate' => 0]) === []) {
            return [null, $fade];
        }
        $how = self::TRANSPORTS[(int) ($values['transport'] ?? 0)] ?? 'loop';
        $rate =
            ($values['rate'] ?? 1.0) *
            match ($how) {
                'hold', 'beginning' => 0,
                'backwards' => -1,
                default => 1,
            };
        $in = $values['in'] ?? 0.0;

        return [
            MediaRun::of(
                $rate,
                $in,
                max($in, $values['out'] ?? 1.0),
                ['once' => 'hold', 'bounce' => 'bounce'][$how] ?? 'loop',
                $how === 'backwards',
                $how === 'beginning',
            ),
            $fade,
        ];
    }

    private static function meant(string $part, int $number, int $bytes): float
    {
        [, , , $kind, $reach] = self::PARTS[$part];

        return match ($kind) {
            'choice' => (float) intdiv($number * count(self::names($part)), 256),
            'effect' => (float) (Effect::numbered($number)?->number() ?? 0),
            default => self::scaled($kind, $reach, $number, $bytes),
        };
    }

    private static function scaled(string $kind, float $reach, int $number, int $bytes): float
    {
        [$max, $middle, $unity] = $bytes === 2 ? [65_535, 32_768, 16_384] : [255, 128, 64];

        return match ($kind) {
            'share' => ($number / $max) * $reach,
            'centred', 'around' => (($number - $middle) / $middle) * $reach,
            'unity' => $number <= $unity ? $number / $unity : 1 + (($number - $unity) / ($max - $unity)) * ($reach - 1),
            'switch' => $number >= 128 ? 1.0 : 0.0,
            'time' => $number / ($bytes === 2 ? 1000 : 10),
            default => (float) $number,
        };
    }

    /**
     * What each of its parts means by its slots, in their order.
     *
     * @param  string  $slots  as many bytes as it has slots
     * @return list<array{0: int, 1: float, 2?: string}> the number, of one byte or two, and what it means; of a value
     *     of an effect also in words
     */
    public function meanings(string $slots): array
    {
        return array_map(
            static fn (array $one): array => [
                $one[1],
                self::meant($one[0], $one[1], $one[2]),
                ...$one[0] !== 'effect value'
                    ? []
                    : [
                        $one[4] === null
                            ? 'unused'
                            : $one[4][0]->slots[$one[4][1]].
                                ' '.
                                self::inWords($one[4][0], self::ofEffect($one[4][0], $one[1], $one[2])),
                    ],
            ],
            $this->read($slots),
        );
    }

    /** The number at which a part changes nothing, of one byte or two; the greatest in both where it rests at full. */
    private static function resting(string $part, int $bytes): int
    {
        $rest = self::PARTS[$part][5];

        return $bytes === 1 ? $rest : 256 * $rest + ($rest === 255 ? 255 : 0);
    }

    /** The bytes at which nothing is changed. */
    public function rest(): string
    {
        return implode(
            '',
            array_map(
                static fn (array $part): string => $part[1] === 2
                    ? pack('n', self::resting(...$part))
                    : chr(self::resting(...$part)),
                $this->parts,
            ),
        );
    }

    /** @return list<string> what a part lets choose between, in the order of its bytes */
    private static function names(string $part): array
    {
        return match ($part) {
            'blend' => array_column(BlendMode::cases(), 'value'),
            'transport' => self::TRANSPORTS,
            'mask key' => array_column(MaskKey::cases(), 'value'),
            'mirror', 'tile' => self::WAYS,
            'effect' => ['as stored', ...array_column(Effect::cases(), 'value')],
            default => self::PARTS[$part][3] === 'switch' ? ['off', 'on'] : [],
        };
    }

    /** @return array<string, int> the first byte of each of a part's choices */
    private static function choices(string $part): array
    {
        $names = self::names($part);
        if ($part === 'effect') {
            return array_flip($names);
        }

        return array_combine(
            $names,
            array_map(static fn (int $n): int => (int) ceil((256 * $n) / max(1, count($names))), array_keys($names)),
        );
    }

    /**
     * Its channels for a person: number of the first, name, count, where it rests, and what its least, resting and
     * greatest values mean.
     *
     * @return list<array{channel: int, name: string, slots: int, rest: int, resting: int, from: float, at: float, to: float, attribute: string, choices: array<string, int>, unity: int|null, unit: string, scale: int, means: list<string>}>
     *     `rest`: the coarse byte at which nothing is changed, `resting`: the whole number; `choices`: the first byte
     *     of each; `unity`: the number that means 1, where what is above it is gained; what is
     *     shown is the meaning times `scale`; `means`: of a value of an effect, what it is for each
     */
    public function channels(): array
    {
        [$told, $at, $slot, $value] = [[], 1, 0, 0];
        foreach ($this->parts as [$part, $bytes]) {
            [$label, , , $kind, , $rest, $attribute] = self::PARTS[$part];
            if ($attribute === 'VideoEffect') {
                [$slot, $value] = match ($part) {
                    'effect' => [$slot + 1, 0],
                    'effect value' => [$slot, $value + 1],
                    default => [$slot, $value],
                };
                $label = match ($part) {
                    'effect value' => "Effect $slot value $value",
                    'effect mix' => "Effect $slot mix",
                    default => "Effect $slot",
                };
                $attribute .=
                    $slot +
                    self::EFFECTS_FROM.
                    ['effect' => 'Type', 'effect mix' => 'Parameter1', 'effect value' => 'Parameter'.($value + 1)][
                        $part
                    ];
            }
            $resting = self::resting($part, $bytes);
            [$unit, $scale] = match (true) {
                in_array($kind, ['share', 'unity', 'around'], true) => ['%', 100],
                $kind === 'time' => ['s', 1],
                $part === 'turn' => ['deg', 1],
                $kind === 'centred' => ['px', 1],
                default => ['', 1],
            };
            $told[] = [
                'channel' => $at,
                'name' => $label,
                'slots' => $bytes,
                'rest' => $rest,
                'resting' => $resting,
                'from' => self::meant($part, 0, $bytes),
                'at' => self::meant($part, $resting, $bytes),
                'to' => self::meant($part, $bytes === 2 ? 65_535 : 255, $bytes),
                'attribute' => $attribute,
                'choices' => self::choices($part),
                'unity' => $kind !== 'unity' ? null : ($bytes === 2 ? 16_384 : 64),
                'unit' => $unit,
                'scale' => $scale,
                'means' => $part === 'effect value' ? self::valuesAt($value) : [],
            ];
            $at += $bytes;
        }

        return $told;
    }
}

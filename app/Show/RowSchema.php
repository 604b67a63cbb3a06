<?php

declare(strict_types=1);

namespace App\Show;

use App\Models;
use App\Support\Problem;
use Core\Cues\Cue;
use Core\Show\Schema;
use Core\Units\InvalidValue;
use Illuminate\Database\Eloquent\Model;

/**
 * The kinds of rows of a show as they are stored: the model of each, and how its fields' types are checked at the
 * door and read back. What the kinds are, the core says.
 */
final class RowSchema
{
    private const MODELS = [
        'panel' => Models\Panel::class,
        'surface' => Models\Surface::class,
        'media' => Models\Media::class,
        'timeline' => Models\Timeline::class,
        'layer' => Models\Layer::class,
        'route' => Models\Route::class,
        'share' => Models\Share::class,
        'lens' => Models\Lens::class,
        'clip' => Models\Clip::class,
        'effect' => Models\Effect::class,
        'curve' => Models\Curve::class,
        'marker' => Models\Marker::class,
        'cue' => Models\Cue::class,
        'page' => Models\Page::class,
        'group' => Models\Group::class,
        'regionGroup' => Models\RegionGroup::class,
        'server' => Models\Server::class,
        'output' => Models\Output::class,
        'feed' => Models\Feed::class,
        'mask' => Models\Mask::class,
        'point' => Models\Point::class,
        'check' => Models\Check::class,
        'region' => Models\Region::class,
        'rig' => Models\Rig::class,
        'projector' => Models\Projector::class,
        'camera' => Models\Camera::class,
        'fixture' => Models\Fixture::class,
        'node' => Models\Node::class,
        'patch' => Models\Patch::class,
        'personality' => Models\Personality::class,
        'control' => Models\Control::class,
        'device' => Models\Device::class,
        'binding' => Models\Binding::class,
        'touchItem' => Models\TouchItem::class,
        'prop' => Models\Prop::class,
        'seat' => Models\Seat::class,
        'variant' => Models\Variant::class,
    ];

    /** Fields of the show itself that may be edited. */
    public const SHOW_FIELDS = ['name' => ['string'], 'frameRate' => ['string']];

    /** @return list<string> */
    public static function names(): array
    {
        return Schema::names();
    }

    /** @return class-string<Model> */
    public static function model(string $kind): string
    {
        return $kind === 'show' ? Models\Show::class : self::MODELS[$kind];
    }

    /**
     * @return list<string> the kinds that rows of this kind may belong to, and the names of the fields that say to
     *     which
     */
    public static function parents(string $kind): array
    {
        return $kind === 'show' ? [] : Schema::parents($kind);
    }

    /** @return array<string, array{0: string, 1?: mixed, 2?: list<string>}> */
    public static function fields(string $kind): array
    {
        return $kind === 'show' ? self::SHOW_FIELDS : Schema::named($kind)->fields();
    }

    /**
     * How columns that are not stored as they are come back from the database.
     *
     * @return array<string, \Closure(mixed): mixed> by field
     */
    public static function decoders(string $kind): array
    {
        $decoders = [];
        foreach (self::fields($kind) as $field => [$type]) {
            if (
                in_array(
                    $type,
                    [
                        'ids',
                        'numbers',
                        'cells',
                        'keyframes',
                        'settings',
                        'words',
                        'hashes',
                        'reliefs',
                        'projectors',
                        'values',
                        'held',
                    ],
                    true,
                )
            ) {
                $decoders[$field] = static fn (mixed $json): array => (array) json_decode((string) $json, true);
            } elseif ($type === 'boolean') {
                $decoders[$field] = static fn (mixed $stored): bool => (bool) $stored;
            }
        }

        return $decoders;
    }

    /** Refuses a value that is not of the field's type, before the core looks at what it means. */
    public static function check(string $kind, string $field, mixed $value): mixed
    {
        if (str_starts_with($field, 'values.') && isset(self::fields($kind)['values'])) {
            if (! Schema::properties($kind)->has(substr($field, 7))) {
                throw Problem::refused($field, "A $kind has no value of the name \"".substr($field, 7).'".');
            }
            $property = Schema::properties($kind)->named(substr($field, 7));
            if ($value === null) {
                return null;
            }
            try {
                return $property->formatAll($property->parseAll($value));
            } catch (InvalidValue $refused) {
                throw Problem::refused($field, $refused->getMessage());
            }
        }
        $declared = self::fields($kind)[$field] ?? throw Problem::refused($field, "A $kind has no field \"$field\".");
        $type = $declared[0];
        if (str_ends_with($type, '?')) {
            if ($value === null) {
                return null;
            }
            $type = substr($type, 0, -1);
        }
        $fits = match ($type) {
            'string' => is_string($value) && strlen($value) <= 2000,
            'id' => is_string($value) && preg_match('/^[0-9a-hjkmnp-tv-z]{26}$/', $value) === 1,
            'ids' => is_array($value) &&
                array_is_list($value) &&
                count($value) <= 10_000 &&
                array_filter($value, static fn (mixed $v): bool => ! is_string($v) || strlen($v) > 26) === [],
            'integer' => is_int($value) || (is_float($value) && floor($value) === $value && abs($value) < 9e15),
            'number' => (is_int($value) || is_float($value)) && is_finite((float) $value),
            'numbers' => is_array($value) &&
                array_is_list($value) &&
                count($value) <= 10_000 &&
                array_filter($value, static fn (mixed $v): bool => ! is_int($v) && ! is_float($v)) === [],
            'boolean' => is_bool($value),
            'cells' => self::areCells($value),
            'keyframes' => is_array($value) && array_is_list($value),
            'reliefs' => is_array($value) && array_is_list($value) && count($value) <= 500,
            'projectors' => is_array($value) && array_is_list($value) && count($value) <= 200,
            'held' => is_array($value) && array_is_list($value) && count($value) <= Cue::MAX_VALUES,
            'values' => is_array($value) &&
                count($value) <= 200 &&
                array_filter(
                    $value,
                    static fn (mixed $v): bool => is_array($v)
                        ? count($v) > 16 || array_filter($v, is_array(...)) !== []
                        : ! is_scalar($v),
                ) === [],
            'words' => is_array($value) &&
                count($value) <= 10_000 &&
                array_filter(
                    $value,
                    static fn (mixed $v, int|string $k): bool => ! is_string($v) ||
                        strlen($v) > 40 ||
                        preg_match('/^[0-9a-hjkmnp-tv-z]{26}$/D', (string) $k) !== 1,
                    ARRAY_FILTER_USE_BOTH,
                ) === [],
            'hashes' => is_array($value) &&
                array_is_list($value) &&
                count($value) <= 100 &&
                array_filter(
                    $value,
                    static fn (mixed $v): bool => ! is_string($v) || preg_match('/^[0-9a-f]{64}$/D', $v) !== 1,
                ) === [],
            'settings' => is_array($value) &&
                array_filter(
                    $value,
                    static fn (mixed $v): bool => ! is_scalar($v) || (is_string($v) && strlen($v) > 500),
                ) === [],
            default => false,
        };
        if (! $fits) {
            throw Problem::refused($field, "$field of a $kind has to be ".self::TYPE_WORDS[$type].'.');
        }

        $unknown =
            $type === 'settings'
                ? array_diff(array_map(strval(...), array_keys((array) $value)), $declared[2] ?? [])
                : [];
        if ($unknown !== []) {
            throw Problem::refused(
                "$field.".reset($unknown),
                "The $field of a $kind has no \"".
                    mb_substr((string) reset($unknown), 0, 50).
                    '"; it has '.
                    implode(', ', $declared[2] ?? []).
                    '.',
            );
        }

        return match ($type) {
            'integer' => (int) $value,
            'number' => (float) $value,
            default => $value,
        };
    }

    private static function areCells(mixed $value): bool
    {
        if (! is_array($value) || ! array_is_list($value) || count($value) > 1000) {
            return false;
        }
        foreach ($value as $row) {
            if (! is_array($row) || ! array_is_list($row) || count($row) > 1000) {
                return false;
            }
            foreach ($row as $cell) {
                if ($cell !== null && ! is_string($cell)) {
                    return false;
                }
            }
        }

        return true;
    }

    private const TYPE_WORDS = [
        'string' => 'text of at most 2,000 bytes',
        'id' => 'the id of a row',
        'ids' => 'a list of ids',
        'integer' => 'a whole number',
        'number' => 'a finite number',
        'numbers' => 'a list of numbers',
        'boolean' => 'true or false',
        'cells' => 'a list of rows of panel ids, null for a gap',
        'keyframes' => 'a list of keyframes',
        'settings' => 'an object of plain values, texts of at most 500 bytes',
        'words' => 'an object of words by the ids of rows',
        'hashes' => 'a list of at most 100 SHA-256 hashes',
        'values' => 'an object of values by their names',
        'reliefs' => 'a list of at most 500 reliefs',
        'projectors' => 'a list of at most 200 projectors',
        'held' => 'a list of at most 5,000 values by their addresses',
    ];
}

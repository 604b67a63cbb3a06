<?php

declare(strict_types=1);

namespace App\Show;

use App\Http\Problem;
use App\Models;
use Illuminate\Database\Eloquent\Model;

/**
 * The kinds of rows that a show is made of: their model, what they belong to, and their fields with types and defaults.
 * Validation, the API's description and cascades all read from here. A field has a type and, where there is one, a default.
 */
final class Kinds
{
    /** @var array<string, array{model: class-string<Model>, parent: string|null, fields: array<string, array{0: string, 1?: mixed}>}> */
    private const ALL = [
        'panel' => ['model' => Models\Panel::class, 'parent' => null, 'fields' => [
            'name' => ['string'], 'widthMm' => ['number'], 'heightMm' => ['number'], 'widthPx' => ['integer'], 'heightPx' => ['integer'],
            'kilograms' => ['number', 0.0], 'wattsAverage' => ['number', 0.0], 'wattsMaximum' => ['number', 0.0],
            'depthMm' => ['number', 80.0], 'candela' => ['number', 0.0], 'viewAcross' => ['number', 140.0], 'viewDown' => ['number', 140.0],
            'jointLeast' => ['number', 0.0], 'jointMost' => ['number', 0.0], 'inrushAmperes' => ['number', 0.0],
        ]],
        'surface' => ['model' => Models\Surface::class, 'parent' => null, 'fields' => [
            'name' => ['string'], 'kind' => ['string', 'wall'], 'position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]],
            'cells' => ['cells', []], 'seams' => ['numbers', []], 'feeding' => ['settings', []], 'shape' => ['settings', []],
            'material' => ['settings', []], 'boards' => ['boards', []], 'model' => ['string?', null],
        ] + self::STANDING],
        'media' => ['model' => Models\Media::class, 'parent' => null, 'fields' => [
            'name' => ['string'], 'kind' => ['string'], 'file' => ['string?', null], 'width' => ['integer', 0], 'height' => ['integer', 0], 'colour' => ['string', '#ffffff'],
        ]],
        'timeline' => ['model' => Models\Timeline::class, 'parent' => null, 'fields' => ['name' => ['string'], 'duration' => ['integer']]],
        'layer' => ['model' => Models\Layer::class, 'parent' => 'timeline', 'fields' => [
            'timeline' => ['id'], 'name' => ['string'], 'order' => ['integer', 0], 'aims' => ['ids', []], 'fitting' => ['string', 'cover'],
            'anchorX' => ['number', 0.5], 'anchorY' => ['number', 0.5], 'opacity' => ['number', 1.0], 'x' => ['number', 0.0], 'y' => ['number', 0.0],
        ]],
        'clip' => ['model' => Models\Clip::class, 'parent' => 'layer', 'fields' => [
            'layer' => ['id'], 'media' => ['id'], 'start' => ['integer'], 'length' => ['integer'], 'in' => ['integer', 0], 'out' => ['integer?', null], 'pastEnd' => ['string', 'hold'],
        ]],
        'curve' => ['model' => Models\Curve::class, 'parent' => 'layer', 'fields' => ['layer' => ['id'], 'property' => ['string'], 'keyframes' => ['keyframes']]],
        'marker' => ['model' => Models\Marker::class, 'parent' => 'timeline', 'fields' => ['timeline' => ['id'], 'time' => ['integer'], 'name' => ['string']]],
        'cue' => ['model' => Models\Cue::class, 'parent' => 'timeline', 'fields' => [
            'timeline' => ['id'], 'time' => ['integer'], 'number' => ['string'], 'name' => ['string'], 'holds' => ['boolean', false],
        ]],
        'output' => ['model' => Models\Output::class, 'parent' => null, 'fields' => ['name' => ['string'], 'width' => ['integer'], 'height' => ['integer'], 'refresh' => ['number', 60.0]]],
        'region' => ['model' => Models\Region::class, 'parent' => 'output', 'fields' => [
            'output' => ['id'], 'surface' => ['id'], 'source' => ['numbers'], 'x' => ['integer', 0], 'y' => ['integer', 0],
        ]],
        'rig' => ['model' => Models\Rig::class, 'parent' => null, 'fields' => ['name' => ['string'], 'position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]]] + self::STANDING],
        'projector' => ['model' => Models\Projector::class, 'parent' => null, 'fields' => [
            'name' => ['string'], 'position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]],
            'lens' => ['settings', []], 'lumens' => ['number', 10000.0], 'mirrored' => ['boolean', false], 'aims' => ['ids', []],
        ] + self::STANDING],
        'camera' => ['model' => Models\Camera::class, 'parent' => null, 'fields' => [
            'name' => ['string'], 'position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]],
            'sensorWidth' => ['number', 36.0], 'sensorHeight' => ['number', 20.25], 'focal' => ['number', 35.0], 'tracked' => ['boolean', false],
        ] + self::STANDING],
        'prop' => ['model' => Models\Prop::class, 'parent' => null, 'fields' => [
            'name' => ['string'], 'position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]],
            'kind' => ['string', 'box'], 'shape' => ['settings', []], 'model' => ['string?', null],
        ] + self::STANDING],
        'seat' => ['model' => Models\Seat::class, 'parent' => null, 'fields' => ['name' => ['string'], 'position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]]] + self::STANDING],
        'variant' => ['model' => Models\Variant::class, 'parent' => null, 'fields' => ['name' => ['string'], 'projectors' => ['projectors', []]]],
    ];

    /** What all that stands in the venue has in common: the rig that it rides on, and whether the studio hides or locks it. */
    private const STANDING = ['rig' => ['id?', null], 'hidden' => ['boolean', false], 'locked' => ['boolean', false]];

    /** Fields of the show itself that may be edited. */
    public const SHOW_FIELDS = ['name' => ['string'], 'frameRate' => ['string']];

    /** @return list<string> */
    public static function names(): array
    {
        return array_keys(self::ALL);
    }

    /** @return class-string<Model> */
    public static function model(string $kind): string
    {
        return $kind === 'show' ? Models\Show::class : self::ALL[$kind]['model'];
    }

    /** The kind that rows of this kind belong to, and the name of the field that says to which. */
    public static function parent(string $kind): ?string
    {
        return self::ALL[$kind]['parent'] ?? null;
    }

    /** @return list<string> kinds whose rows go when a row of this kind goes */
    public static function children(string $kind): array
    {
        return array_values(array_filter(self::names(), static fn (string $k): bool => self::ALL[$k]['parent'] === $kind));
    }

    /** @return array<string, array{0: string, 1?: mixed}> */
    public static function fields(string $kind): array
    {
        return $kind === 'show' ? self::SHOW_FIELDS : self::ALL[$kind]['fields'];
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
            if (in_array($type, ['ids', 'numbers', 'cells', 'keyframes', 'settings', 'boards', 'projectors'], true)) {
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
        $type = (self::fields($kind)[$field] ?? throw Problem::refused($field, "A $kind has no field \"$field\"."))[0];
        if (str_ends_with($type, '?')) {
            if ($value === null) {
                return null;
            }
            $type = substr($type, 0, -1);
        }
        $fits = match ($type) {
            'string' => is_string($value) && strlen($value) <= 2000,
            'id' => is_string($value) && preg_match('/^[0-9a-hjkmnp-tv-z]{26}$/', $value) === 1,
            'ids' => is_array($value) && array_is_list($value) && count($value) <= 10_000 && array_filter($value, static fn (mixed $v): bool => ! is_string($v) || strlen($v) > 26) === [],
            'integer' => is_int($value) || (is_float($value) && floor($value) === $value && abs($value) < 9e15),
            'number' => (is_int($value) || is_float($value)) && is_finite((float) $value),
            'numbers' => is_array($value) && array_is_list($value) && count($value) <= 10_000 && array_filter($value, static fn (mixed $v): bool => ! is_int($v) && ! is_float($v)) === [],
            'boolean' => is_bool($value),
            'cells' => self::areCells($value),
            'keyframes' => is_array($value) && array_is_list($value),
            'boards' => is_array($value) && array_is_list($value) && count($value) <= 500,
            'projectors' => is_array($value) && array_is_list($value) && count($value) <= 200,
            'settings' => is_array($value) && count($value) <= 50 && array_filter($value, static fn (mixed $v): bool => ! is_scalar($v)) === [],
            default => false,
        };
        if (! $fits) {
            throw Problem::refused($field, "$field of a $kind has to be ".self::TYPE_WORDS[$type].'.');
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
        'string' => 'text of at most 2,000 bytes', 'id' => 'the id of a row', 'ids' => 'a list of ids', 'integer' => 'a whole number', 'number' => 'a finite number',
        'numbers' => 'a list of numbers', 'boolean' => 'true or false', 'cells' => 'a list of rows of panel ids, null for a gap', 'keyframes' => 'a list of keyframes', 'settings' => 'an object of plain values', 'boards' => 'a list of at most 500 boards', 'projectors' => 'a list of at most 200 projectors',
    ];
}

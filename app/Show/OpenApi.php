<?php

declare(strict_types=1);

namespace App\Show;

use Core\Bindings\Argument;
use Core\Bindings\ArgumentType;
use Core\Bindings\Command;
use Core\Bindings\Device;
use Core\Bindings\Meaning;
use Core\Bindings\TouchItemType;
use Core\Cues\FadeCurve;
use Core\Cues\OnStop;
use Core\Cues\Scope;
use Core\Cues\Trigger;
use Core\Light\FaceLight;
use Core\Light\Sight;
use Core\Media\Pattern;
use Core\Preflight\Finding;
use Core\Routing\Fitting;
use Core\Routing\Reach;
use Core\Show\OutputEditing;
use Core\Show\RegionEditing;
use Core\Show\Routing;
use Core\Timeline\AtEnd;
use Core\Timeline\PastEnd;
use Core\Units\FrameRate;
use Core\Values\Interpolation;
use Core\Venue\Shot;
use Core\Venue\WallFigures;
use Core\Venue\WallSheet;

/**
 * Describes the API as OpenAPI 3.1, from the kinds of rows and the values of the core; written to docs/openapi.json.
 */
final class OpenApi
{
    /** @return array<string, mixed> */
    public static function document(): array
    {
        return [
            'openapi' => '3.1.0',
            'info' => [
                'title' => 'Kite Lamp',
                'version' => '1',
                'description' => 'Times are flicks (1/705,600,000 s). Writes need an Origin of the same address and application/json. Errors are problem documents (RFC 9457).',
                'license' => ['name' => 'MIT', 'identifier' => 'MIT'],
            ],
            'paths' => self::paths(),
            'components' => ['schemas' => self::schemas()],
        ];
    }

    /** @return array<string, mixed> */
    private static function ref(string $name): array
    {
        return ['$ref' => "#/components/schemas/$name"];
    }

    /**
     * @param  array<string, mixed>  $properties
     * @param  list<string>  $optional
     * @return array<string, mixed>
     */
    private static function object(array $properties, array $optional = []): array
    {
        return [
            'type' => 'object',
            'properties' => $properties,
            'required' => array_values(array_diff(array_keys($properties), $optional)),
        ];
    }

    /** @return array<string, mixed> */
    private static function list(array $items): array
    {
        return ['type' => 'array', 'items' => $items];
    }

    /** @return array<string, mixed> */
    private static function type(string $type, string $field): array
    {
        $nullable = str_ends_with($type, '?');
        $schema = match (rtrim($type, '?')) {
            'string' => match ($field) {
                'fitting' => ['type' => 'string', 'enum' => array_column(Fitting::cases(), 'value')],
                'reach' => ['type' => 'string', 'enum' => array_column(Reach::cases(), 'value')],
                'pattern' => ['type' => 'string', 'enum' => ['', ...array_column(Pattern::cases(), 'value')]],
                'pastEnd' => ['type' => 'string', 'enum' => array_column(PastEnd::cases(), 'value')],
                'frameRate' => ['type' => 'string', 'enum' => FrameRate::names()],
                'scope' => ['type' => 'string', 'enum' => array_column(Scope::cases(), 'value')],
                'onStop' => ['type' => 'string', 'enum' => array_column(OnStop::cases(), 'value')],
                'trigger' => ['type' => 'string', 'enum' => array_column(Trigger::cases(), 'value')],
                'end' => ['type' => 'string', 'enum' => array_column(AtEnd::cases(), 'value')],
                default => ['type' => 'string'],
            },
            'id' => ['type' => 'string', 'pattern' => '^[0-9a-hjkmnp-tv-z]{26}$'],
            'ids' => self::list(['type' => 'string']),
            'integer' => ['type' => 'integer'],
            'number' => ['type' => 'number'],
            'numbers' => self::list(['type' => 'number']),
            'boolean' => ['type' => 'boolean'],
            'cells' => self::list(self::list(['type' => ['string', 'null']])),
            'keyframes' => self::list(self::ref('Keyframe')),
            'held' => self::list(self::ref('CueValue')),
            'settings' => [
                'type' => ['object', 'array'],
                'additionalProperties' => ['type' => ['string', 'number', 'boolean']],
                'items' => (object) [],
            ],
            'values' => [
                'type' => ['object', 'array'],
                'additionalProperties' => [
                    'type' => ['number', 'boolean', 'string', 'array'],
                    'items' => ['type' => 'number'],
                ],
                'items' => (object) [],
            ],
            'words' => [
                'type' => ['object', 'array'],
                'additionalProperties' => ['type' => 'string'],
                'items' => (object) [],
            ],
            'hashes' => self::list(['type' => 'string', 'pattern' => '^[0-9a-f]{64}$']),
            'reliefs' => self::list(
                self::object(['depth' => ['type' => 'number'], 'points' => self::list(['type' => 'number'])]),
            ),
            'projectors' => self::list(['type' => 'object', 'additionalProperties' => true]),
            default => throw new \LogicException("There is no type $type."),
        };

        return $nullable ? ['type' => [$schema['type'], 'null']] : $schema;
    }

    /** @return array<string, mixed> */
    private static function schemas(): array
    {
        $text = ['type' => 'string'];
        $whole = ['type' => 'integer'];
        $number = ['type' => 'number'];
        $schemas = [
            'Problem' => self::object(
                [
                    'type' => $text,
                    'title' => $text,
                    'status' => $whole,
                    'detail' => $text,
                    'field' => $text,
                    'at' => $whole,
                    'received' => $whole,
                    'revision' => $whole,
                    'clashes' => self::list(self::ref('Clash')),
                ],
                ['field', 'at', 'received', 'revision', 'clashes'],
            ),
            'Clash' => self::object([
                'kind' => $text,
                'id' => $text,
                'field' => ['type' => ['string', 'null']],
                'present' => (object) [],
            ]),
            'Keyframe' => self::object(
                [
                    't' => $whole,
                    'v' => ['type' => ['number', 'boolean', 'string']],
                    'i' => ['type' => 'string', 'enum' => array_column(Interpolation::cases(), 'value')],
                    'h' => self::list($number),
                ],
                ['i', 'h'],
            ),
            'TouchPanel' => self::object([
                'show' => [
                    'anyOf' => [
                        self::object([
                            'id' => $text,
                            'name' => $text,
                            'frameRate' => $text,
                            'flicksPerFrame' => $whole,
                        ]),
                        ['type' => 'null'],
                    ],
                ],
                'panel' => [
                    'anyOf' => [
                        self::object(['id' => $text, 'name' => $text, 'columns' => $whole, 'rows' => $whole]),
                        ['type' => 'null'],
                    ],
                ],
                'items' => self::list(
                    self::object([
                        'id' => $text,
                        'type' => ['type' => 'string', 'enum' => array_column(TouchItemType::cases(), 'value')],
                        'name' => $text,
                        'label' => $text,
                        'shows' => $text,
                        'colour' => $text,
                        'column' => $whole,
                        'row' => $whole,
                        'columns' => $whole,
                        'rows' => $whole,
                        'held' => ['type' => 'boolean'],
                        'values' => self::list([
                            'anyOf' => [
                                self::object([
                                    'low' => $number,
                                    'high' => $number,
                                    'unit' => $text,
                                    'digits' => $whole,
                                ]),
                                ['type' => 'null'],
                            ],
                        ]),
                        'picture' => $text,
                    ]),
                ),
                'pages' => self::list(
                    self::object([
                        'id' => $text,
                        'name' => $text,
                        'order' => $whole,
                        'columns' => $whole,
                        'rows' => $whole,
                    ]),
                ),
                'cues' => self::list(
                    self::object([
                        'id' => $text,
                        'number' => $text,
                        'name' => $text,
                        'colour' => $text,
                        'page' => ['type' => ['string', 'null']],
                        'row' => $whole,
                        'column' => $whole,
                    ]),
                ),
            ]),
            'WhyStack' => self::list(
                self::object([
                    'stratum' => ['type' => 'string', 'enum' => ['timeline', 'cue', 'control', 'hand', 'panic']],
                    'source' => $text,
                    'value' => $number,
                    'weight' => $number,
                    'result' => $number,
                ]),
            ),
            'CueValue' => self::object(
                [
                    'a' => $text,
                    'v' => $number,
                    'fade' => $whole,
                    'delay' => $whole,
                    'curve' => ['type' => 'string', 'enum' => array_column(FadeCurve::cases(), 'value')],
                    'keys' => self::list(self::ref('Keyframe')),
                ],
                ['fade', 'delay', 'curve', 'keys'],
            ),
            'ShowHead' => self::object([
                'id' => $text,
                'name' => $text,
                'frameRate' => self::type('string', 'frameRate'),
                'revision' => $whole,
                'engaged' => ['type' => 'boolean'],
            ]),
            'FileState' => self::object(self::schemasOfFile(), [
                'progress',
                'message',
                'facts',
                'form',
                'thumbnails',
                'bytes',
            ]),
            'FieldChange' => self::object(['before' => (object) [], 'after' => (object) []]),
            'Change' => self::object([
                'kind' => ['type' => 'string', 'enum' => ['show', ...RowSchema::names()]],
                'id' => $text,
                'op' => ['type' => 'string', 'enum' => ['create', 'update', 'delete']],
                'fields' => ['type' => 'object', 'additionalProperties' => self::ref('FieldChange')],
            ]),
            'History' => self::object([
                'undo' => ['type' => ['string', 'null']],
                'redo' => ['type' => ['string', 'null']],
            ]),
            'Done' => self::object([
                'revision' => $whole,
                'name' => $text,
                'act' => $text,
                'changes' => self::list(self::ref('Change')),
                'history' => self::ref('History'),
            ]),
            'Finding' => self::fromClass(Finding::class),
            'WallFigures' => self::fromClass(WallFigures::class),
            'SurfaceFigures' => self::object(
                [
                    'rasterWidth' => $whole,
                    'rasterHeight' => $whole,
                    'physicalWidth' => $whole,
                    'physicalHeight' => $whole,
                    'areaSquareMetres' => $number,
                    'words' => $text,
                ] + self::fromClass(WallFigures::class)['properties'],
                array_values(
                    array_diff(array_map(strval(...), array_keys(self::fromClass(WallFigures::class)['properties'])), [
                        'rasterWidth',
                        'rasterHeight',
                        'areaSquareMetres',
                    ]),
                ),
            ),
            'Placement' => self::object([
                'rectangle' => self::list($number),
                'seen' => self::list($number),
                'window' => self::list($number),
                'squash' => $number,
                'enlarged' => $number,
            ]),
            'Landing' => self::object([
                'longer' => $number,
                'shorter' => $number,
                'angle' => $number,
                'across' => $number,
                'down' => $number,
                'squash' => $number,
                'pixelForPixel' => ['type' => 'boolean'],
            ]),
            'PlacedUse' => self::object([
                'layer' => $text,
                'surface' => $text,
                'media' => $text,
                'fitting' => self::type('string', 'fitting'),
                'content' => self::list($whole),
                'pane' => self::list($whole),
                'placement' => ['anyOf' => [self::ref('Placement'), ['type' => 'null']]],
                'landing' => ['anyOf' => [self::ref('Landing'), ['type' => 'null']]],
                'squashed' => ['type' => 'boolean'],
                'remarks' => self::list($text),
            ]),
            'Coverage' => self::object([
                'reached' => $number,
                'densityMin' => $number,
                'densityMax' => $number,
                'perDegree' => ['type' => ['number', 'null']],
                'pane' => ['type' => ['array', 'null'], 'items' => $number],
            ]),
            'Budget' => self::object([
                'timeline' => $text,
                'at' => $whole,
                'streams' => $whole,
                'pixels' => $number,
                'bytes' => $number,
                'course' => self::list(self::list($number)),
                'mostStreams' => self::list($whole),
                'mostBytes' => self::list($number),
                'mostMemory' => self::list($number),
            ]),
            'RouteFigures' => self::object([
                'surfaces' => self::list($text),
                'largest' => ['type' => ['array', 'null'], 'items' => $whole],
                'shapeOfMost' => ['type' => ['array', 'null'], 'items' => $whole],
                'coverage' => [
                    'type' => ['object', 'array'],
                    'additionalProperties' => self::ref('Coverage'),
                    'items' => (object) [],
                ],
                'perDegree' => ['type' => ['number', 'null']],
                'focals' => ['type' => ['object', 'array'], 'additionalProperties' => $number, 'items' => (object) []],
                'placedAs' => ['type' => ['object', 'array'], 'additionalProperties' => $text, 'items' => (object) []],
            ]),
            'OutputFigures' => self::object([
                'timing' => [
                    'anyOf' => [
                        self::object([
                            'rule' => $text,
                            'width' => $whole,
                            'height' => $whole,
                            'clock' => $whole,
                            'refresh' => $number,
                            'rate' => $number,
                        ]),
                        ['type' => 'null'],
                    ],
                ],
                'limit' => $number,
                'connector' => $text,
                'used' => $number,
            ]),
            'RegionFigures' => self::object([
                'place' => self::list($whole),
                'corners' => self::list(self::list($number)),
                'oneToOne' => ['type' => 'boolean'],
                'warped' => ['type' => 'boolean'],
                'lattice' => self::list(self::list($number)),
                'feed' => ['type' => ['string', 'null']],
                'projector' => ['type' => ['string', 'null']],
            ]),
            'Computed' => self::object([
                'flicksPerFrame' => $whole,
                'clips' => [
                    'type' => 'object',
                    'additionalProperties' => self::object(
                        [
                            'pass' => $whole,
                            'first' => $whole,
                            'turns' => self::list($whole),
                            'heard' => self::list(
                                self::object([
                                    'start' => $whole,
                                    'end' => $whole,
                                    'from' => $whole,
                                    'count' => $number,
                                    'offset' => $number,
                                    'speed' => $number,
                                    'loop' => ['type' => 'boolean'],
                                ]),
                            ),
                            'over' => $whole,
                        ],
                        ['turns', 'heard', 'over'],
                    ),
                ],
                'surfaces' => ['type' => 'object', 'additionalProperties' => self::ref('SurfaceFigures')],
                'totals' => self::object([
                    'litPixels' => $whole,
                    'areaSquareMetres' => $number,
                    'kilograms' => $number,
                    'wattsAverage' => $number,
                    'wattsMaximum' => $number,
                    'lumens' => $number,
                ]),
                'cameras' => [
                    'type' => 'object',
                    'additionalProperties' => self::object([
                        'across' => $number,
                        'down' => $number,
                        'near' => $number,
                        'far' => $number,
                        'hyperfocal' => $number,
                        'shots' => self::list(self::fromClass(Shot::class)),
                    ]),
                ],
                'placements' => ['type' => 'object', 'additionalProperties' => self::ref('PlacedUse')],
                'routes' => ['type' => 'object', 'additionalProperties' => self::ref('RouteFigures')],
                'budgets' => ['type' => 'object', 'additionalProperties' => self::list(self::ref('Budget'))],
                'outputs' => ['type' => 'object', 'additionalProperties' => self::ref('OutputFigures')],
                'regions' => ['type' => 'object', 'additionalProperties' => self::ref('RegionFigures')],
                'points' => [
                    'type' => 'object',
                    'additionalProperties' => self::object([
                        'expected' => ['type' => ['array', 'null'], 'items' => $number],
                        'found' => ['type' => ['array', 'null'], 'items' => $number],
                    ]),
                ],
                'patches' => [
                    'type' => 'object',
                    'additionalProperties' => self::object([
                        'pixels' => $whole,
                        'channels' => $whole,
                        'universes' => $whole,
                        'from' => $text,
                        'to' => $text,
                        'lastUniverse' => $whole,
                        'lastChannel' => $whole,
                        'pixelsByUniverse' => self::list(self::list($whole)),
                        'left' => self::list(self::list($whole)),
                    ]),
                ],
                'personalities' => [
                    'type' => 'object',
                    'additionalProperties' => self::object([
                        'slots' => $whole,
                        'effects' => $whole,
                        'channels' => self::list(
                            self::object([
                                'channel' => $whole,
                                'name' => $text,
                                'slots' => $whole,
                                'rest' => $whole,
                                'resting' => $whole,
                                'from' => $number,
                                'at' => $number,
                                'to' => $number,
                                'attribute' => $text,
                                'choices' => ['type' => 'object', 'additionalProperties' => $whole],
                                'unity' => ['type' => ['integer', 'null']],
                                'unit' => $text,
                                'scale' => $whole,
                                'means' => self::list($text),
                            ]),
                        ),
                    ]),
                ],
                'media' => [
                    'type' => 'object',
                    'additionalProperties' => self::object(['clips' => $whole, 'outputs' => self::list($text)]),
                ],
                'findings' => ['type' => 'object', 'additionalProperties' => self::list(self::ref('Finding'))],
            ]),
            'CableRun' => self::object([
                'number' => $whole,
                'cells' => self::list(self::list($whole)),
                'load' => $number,
                'limit' => $number,
                'metres' => $number,
            ]),
            'WallSheet' => self::object([
                'power' => self::list(self::ref('CableRun')),
                'data' => self::list(self::ref('CableRun')),
                'figures' => self::object(
                    array_fill_keys(WallSheet::NUMBERS, ['type' => ['number', 'null']]) +
                        array_fill_keys(WallSheet::LISTS, self::list($number)),
                ),
                'remarks' => self::list($text),
            ]),
            'TraceLink' => self::object([
                'link' => $text,
                'state' => ['type' => 'string', 'enum' => ['ok', 'attention', 'fault']],
                'kind' => $text,
                'id' => $text,
                'name' => $text,
                'message' => $text,
            ]),
            'SurfaceMesh' => self::object(
                [
                    'surface' => $text,
                    'key' => $text,
                    'matrix' => self::list($number),
                    'positions' => self::list($number),
                    'uvs' => self::list($number),
                    'indices' => self::list($whole),
                    'edges' => self::list($whole),
                    'packed' => $text,
                ],
                ['positions', 'uvs', 'indices', 'edges', 'packed'],
            ),
            'PropMesh' => self::object(
                [
                    'prop' => $text,
                    'key' => $text,
                    'matrix' => self::list($number),
                    'positions' => self::list($number),
                    'indices' => self::list($whole),
                ],
                ['positions', 'indices'],
            ),
            'FaceLight' => self::object([
                'id' => $text,
                'name' => $text,
                'columns' => $whole,
                'rows' => $whole,
                'maps' => self::object(array_fill_keys(FaceLight::MAPS, self::list($number))),
                'figures' => self::object(
                    array_fill_keys(
                        [
                            'none',
                            'one',
                            'more',
                            'area',
                            'luxMin',
                            'luxMax',
                            'luxMean',
                            'nitsMean',
                            'even',
                            'evenAll',
                            'lumensWanted',
                            'contrast',
                            'footLamberts',
                            'angleMean',
                            'angleMax',
                            'densityMin',
                            'densityMean',
                        ],
                        $number,
                    ),
                ),
                'lumens' => ['type' => ['object', 'array'], 'additionalProperties' => $number, 'items' => (object) []],
            ]),
            'Footprint' => self::object([
                'id' => $text,
                'name' => $text,
                'rays' => $whole,
                'onFaces' => ['type' => ['object', 'array'], 'additionalProperties' => $number, 'items' => (object) []],
                'lostShare' => $number,
                'spillPixels' => $number,
                'spillLumens' => $number,
                'nearest' => $number,
                'farthest' => $number,
                'focus' => $number,
                'output' => $number,
                'sharpNear' => $number,
                'sharpFar' => $number,
                'outline' => self::list(['type' => ['array', 'null'], 'items' => $number]),
                'balance' => $number,
                'remarks' => self::list($text),
            ]),
            'VariantSum' => self::object(
                ['projectors' => $whole] +
                    array_fill_keys(
                        [
                            'lumens',
                            'none',
                            'one',
                            'more',
                            'luxMean',
                            'nitsMean',
                            'even',
                            'evenAll',
                            'angleMean',
                            'angleMax',
                            'densityMean',
                            'spillLumens',
                        ],
                        $number,
                    ),
            ),
            'Light' => self::object([
                'key' => $text,
                'cast' => $whole,
                'cells' => $whole,
                'triangles' => $whole,
                'milliseconds' => $number,
                'faces' => self::list(self::ref('FaceLight')),
                'projectors' => self::list(self::ref('Footprint')),
                'sum' => self::ref('VariantSum'),
            ]),
            'Command' => ['oneOf' => array_map(self::command(...), Command::windows())],
            'Task' => self::object([
                'id' => $text,
                'kind' => ['type' => 'string', 'enum' => ['light', 'projection', 'import', 'answer']],
                'state' => [
                    'type' => 'string',
                    'enum' => ['waiting', 'working', 'writing', 'ready', 'failed', 'cancelled'],
                ],
                'progress' => $number,
                'message' => ['type' => ['string', 'null']],
                'revision' => ['type' => ['integer', 'null']],
            ]),
            'Sight' => self::fromClass(Sight::class),
            'Upload' => self::object(
                [
                    'id' => $text,
                    'name' => $text,
                    'bytes' => $whole,
                    'received' => $whole,
                    'largestChunk' => $whole,
                    'tail' => ['anyOf' => [self::object(['from' => $whole, 'sha256' => $text]), ['type' => 'null']]],
                    'media' => $text,
                    'hash' => $text,
                    'known' => ['type' => 'boolean'],
                    'message' => ['type' => ['string', 'null']],
                ],
                ['tail', 'media', 'hash', 'known', 'message'],
            ),
        ];
        foreach (RowSchema::names() as $kind) {
            $properties = ['id' => self::type('id', 'id')];
            foreach (RowSchema::fields($kind) as $field => $type) {
                $properties[$field] = self::type($type[0], $field);
            }
            $row = self::object($properties);
            if (isset(RowSchema::fields($kind)['model']) && $kind !== 'region') {
                $row['properties']['modelFile'] = [
                    'type' => 'object',
                    'properties' => ['name' => $text] + self::schemasOfFile(),
                ];
            }
            $schemas[ucfirst($kind)] =
                $kind === 'media'
                    ? ['allOf' => [$row, ['type' => 'object', 'properties' => self::schemasOfFile()]]]
                    : $row;
        }
        foreach (['panel' => 'PanelFields', 'fixture' => 'FixtureFields'] as $kind => $schema) {
            $schemas[$schema] = self::object(
                array_map(static fn (array $type): array => self::type($type[0], ''), RowSchema::fields($kind)),
                array_keys(
                    array_filter(RowSchema::fields($kind), static fn (array $type): bool => array_key_exists(1, $type)),
                ),
            );
        }
        $schemas['Rows'] = self::object(
            array_combine(
                RowSchema::names(),
                array_map(static fn (string $k): array => self::list(self::ref(ucfirst($k))), RowSchema::names()),
            ),
        );
        $schemas['ShowDocument'] = [
            'allOf' => [
                self::ref('ShowHead'),
                self::object([
                    'rows' => self::ref('Rows'),
                    'computed' => self::ref('Computed'),
                    'history' => self::ref('History'),
                ]),
            ],
        ];

        return $schemas;
    }

    /** @return array<string, mixed> */
    private static function schemasOfFile(): array
    {
        return [
            'state' => ['type' => 'string'],
            'progress' => ['type' => 'number'],
            'message' => ['type' => ['string', 'null']],
            'facts' => ['type' => ['object', 'null'], 'additionalProperties' => true],
            'form' => ['type' => ['object', 'null'], 'additionalProperties' => true],
            'thumbnails' => ['type' => ['array', 'null'], 'items' => ['type' => 'string']],
            'bytes' => ['type' => 'integer'],
        ];
    }

    /**
     * @param  class-string  $class
     * @return array<string, mixed>
     */
    private static function fromClass(string $class): array
    {
        $properties = [];
        foreach ((new \ReflectionClass($class))->getProperties() as $property) {
            $properties[$property->getName()] = [
                'type' => ['int' => 'integer', 'float' => 'number', 'string' => 'string', 'bool' => 'boolean'][
                        (string) $property->getType()
                    ] ?? 'object',
            ];
        }

        return self::object($properties);
    }

    /** @return array<string, mixed> */
    private static function paths(): array
    {
        $text = ['type' => 'string'];
        $whole = ['type' => 'integer'];
        $number = ['type' => 'number'];
        $show = self::parameter('show', 'path');
        $upload = self::parameter('upload', 'path');
        $hash = self::parameter('hash', 'path');

        return [
            '/shows' => [
                'get' => self::call('All shows', self::object(['shows' => self::list(self::ref('ShowHead'))])),
                'post' => self::call(
                    'A new, empty show',
                    self::ref('ShowHead'),
                    self::object(['name' => $text, 'frameRate' => self::type('string', 'frameRate')], ['frameRate']),
                    201,
                ),
            ],
            '/shows/{show}' => [
                'parameters' => [$show],
                'get' => self::call(
                    'The show with all its rows and what the core makes of them',
                    self::ref('ShowDocument'),
                ),
                'delete' => self::call('Removes a show that is not engaged', self::object(['deleted' => $text])),
            ],
            '/shows/{show}/engage' => [
                'parameters' => [$show],
                'post' => self::call('Puts the show on the engine', self::ref('ShowHead')),
            ],
            '/shows/{show}/duplicate' => [
                'parameters' => [$show],
                'post' => self::call(
                    'A copy of the show with ids of its own, which is not on air and whose history begins anew',
                    self::ref('ShowHead'),
                    self::object(['name' => $text]),
                    201,
                ),
            ],
            '/shows/{show}/computed' => [
                'parameters' => [$show],
                'get' => self::call('Figures, placements and findings', self::ref('Computed')),
            ],
            '/shows/{show}/meshes' => [
                'parameters' => [$show, self::parameter('known', 'query', false)],
                'get' => self::call(
                    'Where everything stands, and the triangles of what is not known by its key',
                    self::object([
                        'meshes' => self::list(self::ref('SurfaceMesh')),
                        'props' => self::list(self::ref('PropMesh')),
                        'places' => ['type' => 'object', 'additionalProperties' => self::list($number)],
                        'frusta' => ['type' => 'object', 'additionalProperties' => self::list(self::list($number))],
                    ]),
                ),
            ],
            '/shows/{show}/surfaces/{surface}/mesh.bin' => [
                'parameters' => [$show, self::parameter('surface', 'path'), self::parameter('key', 'query', false)],
                'get' => self::file(
                    'The triangles of one surface, packed: counts, places, UVs, indices, little-endian',
                    'application/octet-stream',
                ),
            ],
            '/shows/{show}/surfaces/{surface}/sheet' => [
                'parameters' => [$show, self::parameter('surface', 'path')],
                'get' => self::call(
                    'What a wall is built by: curve, circuits, ports, cable runs, viewing distances',
                    self::ref('WallSheet'),
                ),
            ],
            '/shows/{show}/surfaces/{surface}/specification.{format}' => [
                'parameters' => [
                    $show,
                    self::parameter('surface', 'path'),
                    self::parameter('format', 'path'),
                    self::parameter('spares', 'query', false),
                ],
                'get' => self::slowFile('A wall, its panels with spares, and its cables, as csv or pdf', 'text/csv'),
            ],
            '/shows/{show}/surfaces/{surface}/template.{format}' => [
                'parameters' => [
                    $show,
                    self::parameter('surface', 'path'),
                    self::parameter('format', 'path'),
                    self::parameter('zones', 'query', false),
                ],
                'get' => self::slowFile(
                    'The pixel map to draw on, at exact size, as svg or png; with zones, also where squares stay stretched and seams of projectors fall',
                    'image/svg+xml',
                ),
            ],
            '/shows/{show}/surfaces/{surface}/surface.obj' => [
                'parameters' => [$show, self::parameter('surface', 'path')],
                'get' => self::slowFile('One surface in its own place, with its UVs', 'model/obj'),
            ],
            '/shows/{show}/specification.{format}' => [
                'parameters' => [$show, self::parameter('format', 'path'), self::parameter('spares', 'query', false)],
                'get' => self::slowFile('All walls, panels, cables, faces and projectors, as csv or pdf', 'text/csv'),
            ],
            '/shows/{show}/plot.svg' => [
                'parameters' => [$show],
                'get' => self::slowFile('The venue in plan and front, with dimensions', 'image/svg+xml'),
            ],
            '/shows/{show}/media.csv' => [
                'parameters' => [$show],
                'get' => self::file(
                    'The media of the show with the numbers by which a console calls them, as a table',
                    'text/csv',
                ),
            ],
            '/shows/{show}/panels.csv' => [
                'parameters' => [$show],
                'get' => self::file('The panels of the show as a table', 'text/csv'),
            ],
            '/shows/{show}/panels' => [
                'parameters' => [$show],
                'post' => self::import(
                    'Panels of a table become panels of the show',
                    self::ref('Done'),
                    self::object(['csv' => $text]),
                    201,
                ),
            ],
            '/shows/{show}/arrange' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Moves, turns, copies and lines up things of the venue, as one edit',
                    ['allOf' => [self::ref('Done'), self::object(['notes' => self::list($text)])]],
                    self::object(
                        [
                            'action' => $text,
                            'ids' => self::list($text),
                            'by' => self::list($number),
                            'axis' => $text,
                            'degrees' => $number,
                            'about' => self::list($number),
                            'to' => $text,
                            'count' => $whole,
                            'step' => self::list($number),
                            'at' => $number,
                            'copy' => ['type' => 'boolean'],
                            'rig' => ['type' => ['string', 'null']],
                            'point' => self::list($number),
                            'surface' => $text,
                            'how' => $text,
                            'variant' => $text,
                            'name' => $text,
                        ],
                        [
                            'ids',
                            'by',
                            'axis',
                            'degrees',
                            'about',
                            'to',
                            'count',
                            'step',
                            'at',
                            'copy',
                            'rig',
                            'point',
                            'surface',
                            'how',
                            'variant',
                            'name',
                        ],
                    ),
                    201,
                ),
            ],
            '/shows/{show}/light' => [
                'parameters' => [$show],
                'get' => self::call(
                    'Where the projectors\' light goes: maps over each face, figures of each projector; the finest look that is kept',
                    self::ref('Light'),
                ),
                'post' => self::call(
                    'Casts it finer, in the worker',
                    self::ref('Task'),
                    self::object(['cells' => $whole], ['cells']),
                    202,
                ),
            ],
            '/shows/{show}/light.bin' => [
                'parameters' => [$show],
                'get' => self::file(
                    'The same, packed: the length of a header, the header as JSON, the maps as 32-bit floats',
                    'application/octet-stream',
                ),
            ],
            '/tasks/{task}' => [
                'parameters' => [self::parameter('task', 'path')],
                'get' => self::call('How far what the worker does is', self::ref('Task')),
            ],
            '/tasks/{task}/cancel' => [
                'parameters' => [self::parameter('task', 'path')],
                'post' => self::call('Stops it, unless it is being written', self::ref('Task')),
            ],
            '/shows/{show}/variants' => [
                'parameters' => [$show],
                'get' => self::call(
                    'The present projectors and each placement that is kept, side by side',
                    self::object([
                        'variants' => self::list(
                            self::object([
                                'id' => ['type' => ['string', 'null']],
                                'name' => $text,
                                'sum' => self::ref('VariantSum'),
                            ]),
                        ),
                    ]),
                ),
            ],
            '/shows/{show}/sights' => [
                'parameters' => [$show],
                'get' => self::call(
                    'What each seat sees of each surface',
                    self::object([
                        'sights' => ['type' => 'object', 'additionalProperties' => self::list(self::ref('Sight'))],
                    ]),
                ),
            ],
            '/shows/{show}/venue.obj' => [
                'parameters' => [$show],
                'get' => self::slowFile('All surfaces with their UVs, metres, Y up', 'model/obj'),
            ],
            '/fixtures/gdtf' => [
                'post' => self::call(
                    'What a GDTF file, as base64, says of pixel lights',
                    self::object([
                        'name' => $text,
                        'modes' => self::list(
                            self::object([
                                'type' => self::ref('FixtureFields'),
                                'wiring' => ['type' => 'object', 'additionalProperties' => (object) []],
                                'path' => self::list($whole),
                            ]),
                        ),
                    ]),
                    self::object(['file' => $text]),
                ),
            ],
            '/fixtures' => [
                'get' => self::call(
                    'Generic pixel lights to begin with',
                    self::object(['fixtures' => self::list(self::ref('FixtureFields'))]),
                ),
            ],
            '/panels' => [
                'get' => self::call(
                    'Generic panels to begin with',
                    self::object(['panels' => self::list(self::ref('PanelFields'))]),
                ),
            ],
            '/cameras/focal' => [
                'post' => self::call(
                    'The focal length that takes in an angle across',
                    self::object(['focal' => $number]),
                    self::object(['sensorWidth' => $number, 'angle' => $number]),
                ),
            ],
            '/cameras/angle' => [
                'post' => self::call(
                    'The angle across that a focal length takes in',
                    self::object(['angle' => $number]),
                    self::object(['sensorWidth' => $number, 'focal' => $number]),
                ),
            ],
            '/walls/seams' => [
                'post' => self::call(
                    'Equal seams that meet a radius, turn by an angle in all, or have one angle each',
                    self::object(['seams' => self::list($number)]),
                    self::object(
                        [
                            'columns' => $whole,
                            'widthMm' => $number,
                            'radius' => $number,
                            'turn' => $number,
                            'angle' => $number,
                        ],
                        ['widthMm', 'radius', 'turn', 'angle'],
                    ),
                ),
            ],
            '/walls/by-size' => [
                'post' => self::call(
                    'Pixels of a wall of which only size and pitch are known',
                    self::object([
                        'widthPx' => $whole,
                        'heightPx' => $whole,
                        'widthChange' => $number,
                        'heightChange' => $number,
                        'pitchForWidth' => $number,
                        'pitchForHeight' => $number,
                    ]),
                    self::object(['width' => $number, 'height' => $number, 'pitch' => $number]),
                ),
            ],
            '/shows/{show}/pixel' => [
                'parameters' => [
                    $show,
                    self::parameter('surface', 'query'),
                    self::parameter('x', 'query'),
                    self::parameter('y', 'query'),
                    self::parameter('time', 'query', false),
                    self::parameter('layer', 'query', false),
                ],
                'get' => self::call(
                    'What reaches a pixel of a surface, from the top down, with the pixel of its content that lands there; and, of a layer that is named, where in its pane that is',
                    self::object([
                        'time' => $whole,
                        'pane' => ['type' => ['array', 'null'], 'items' => $number],
                        'layers' => self::list(
                            self::object([
                                'layer' => $text,
                                'name' => $text,
                                'media' => $text,
                                'mediaName' => $text,
                                'route' => $text,
                                'frame' => $whole,
                                'x' => $number,
                                'y' => $number,
                                'opacity' => $number,
                                'blend' => $text,
                            ]),
                        ),
                    ]),
                ),
            ],
            '/shows/{show}/trace' => [
                'parameters' => [$show, self::parameter('surface', 'query'), self::parameter('time', 'query', false)],
                'get' => self::call(
                    'Why a surface is dark, link by link',
                    self::object([
                        'engine' => ['type' => 'boolean'],
                        'time' => $whole,
                        'links' => self::list(self::ref('TraceLink')),
                    ]),
                ),
            ],
            '/shows/{show}/edits' => [
                'parameters' => [$show],
                'get' => self::call(
                    'The last 200 edits',
                    self::object([
                        'edits' => self::list(
                            self::object([
                                'id' => $text,
                                'revision' => $whole,
                                'person' => $text,
                                'name' => $text,
                                'act' => $text,
                                'state' => $text,
                                'at' => $text,
                            ]),
                        ),
                    ]),
                ),
                'post' => self::call(
                    'Changes rows: all of it or nothing; 409 names fields that somebody changed meanwhile',
                    self::ref('Done'),
                    self::object(['name' => $text, 'changes' => self::list(self::ref('Change'))]),
                    201,
                ),
            ],
            '/shows/{show}/undo' => [
                'parameters' => [$show],
                'post' => self::call('Takes back this person\'s last edit', self::ref('Done')),
            ],
            '/shows/{show}/redo' => [
                'parameters' => [$show],
                'post' => self::call('Does again what this person took back', self::ref('Done')),
            ],
            '/shows/{show}/cues' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Records a cue of what is on (`scope`: everything that is seen, or chosen values: the addresses given, else all that are loose), updates what a cue holds to what it is now, merges values into it, trims values from it, or numbers the list anew; as one edit',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(
                        [
                            'action' => [
                                'type' => 'string',
                                'enum' => ['record', 'add', 'update', 'merge', 'trim', 'renumber'],
                            ],
                            'cue' => $text,
                            'scope' => ['type' => 'string', 'enum' => array_column(Scope::cases(), 'value')],
                            'addresses' => self::list($text),
                            'discard' => ['type' => 'boolean'],
                            'number' => $text,
                            'name' => $text,
                            'note' => $text,
                            'timeline' => $text,
                            'time' => $whole,
                            'fade' => $whole,
                            'page' => $text,
                            'row' => $whole,
                            'column' => $whole,
                            'group' => $text,
                            'colour' => $text,
                            'first' => $number,
                            'step' => $number,
                        ],
                        [
                            'cue',
                            'scope',
                            'addresses',
                            'discard',
                            'number',
                            'name',
                            'note',
                            'timeline',
                            'time',
                            'fade',
                            'page',
                            'row',
                            'column',
                            'group',
                            'colour',
                            'first',
                            'step',
                        ],
                    ),
                    201,
                ),
            ],
            '/shows/{show}/bindings' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Binds controls that were learned to targets (`events`: for each control a list of what it sent, as [name, numbers]; `ends` where they were moved from end to end), has a binding learn another control, or moves all bindings of one device to another; as one edit. `createdId` has the ids of the bindings, with spaces between them',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(
                        [
                            'action' => ['type' => 'string', 'enum' => ['bind', 'learn', 'move']],
                            'events' => self::list(self::list(['type' => 'array', 'items' => new \stdClass()])),
                            'ends' => ['type' => 'boolean'],
                            'meaning' => ['type' => 'string', 'enum' => array_column(Meaning::cases(), 'value')],
                            'targets' => self::list($text),
                            'protocol' => ['type' => 'string', 'enum' => Device::PROTOCOLS],
                            'port' => $text,
                            'page' => $whole,
                            'binding' => $text,
                            'from' => $text,
                            'to' => $text,
                        ],
                        ['events', 'ends', 'meaning', 'targets', 'protocol', 'port', 'page', 'binding', 'from', 'to'],
                    ),
                    201,
                ),
            ],
            '/shows/{show}/why' => [
                'parameters' => [$show, self::parameter('addresses', 'query')],
                'get' => self::call(
                    'Who says what of some values now, from below: their timeline, cues, controls, the hand',
                    self::object(['stacks' => ['type' => 'object', 'additionalProperties' => self::ref('WhyStack')]]),
                ),
            ],
            '/shows/{show}/cues.csv' => [
                'parameters' => [$show],
                'get' => self::file('The cue list as a table', 'text/csv'),
                'post' => self::import(
                    'Takes a table of cues: what is there is changed, what is not is made',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(['csv' => $text]),
                    201,
                ),
            ],
            '/shows/{show}/touch' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Builds a touch panel: puts an item at the first free place (`createdId` is its id), moves or sizes one within the grid, removes one with what it is bound to, or binds one of its controls in place of what that was bound to; as one edit',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(
                        [
                            'action' => ['type' => 'string', 'enum' => ['add', 'place', 'remove', 'bind']],
                            'panel' => $text,
                            'type' => ['type' => 'string', 'enum' => array_column(TouchItemType::cases(), 'value')],
                            'target' => $text,
                            'item' => $text,
                            'column' => $whole,
                            'row' => $whole,
                            'columns' => $whole,
                            'rows' => $whole,
                            'slot' => $whole,
                            'meaning' => ['type' => 'string', 'enum' => array_column(Meaning::cases(), 'value')],
                        ],
                        ['panel', 'type', 'target', 'item', 'column', 'row', 'columns', 'rows', 'slot', 'meaning'],
                    ),
                    201,
                ),
            ],
            '/touch/panels' => ['get' => self::call('The first page of the cue board on air', self::ref('TouchPanel'))],
            '/touch/panels/{name}' => [
                'parameters' => [self::parameter('name', 'path')],
                'get' => self::call(
                    'A touch panel of the show on air by its name, with what stands on it; without one, the pages of the cue board',
                    self::ref('TouchPanel'),
                ),
            ],
            '/touch/here' => [
                'get' => self::call(
                    'Whether who asks may show a panel',
                    self::object(['paired' => ['type' => 'boolean']]),
                ),
            ],
            '/touch/codes' => [
                'post' => self::call(
                    'A code by which a tablet is paired with a panel: told this once, good for so many seconds',
                    self::object(['code' => $text, 'seconds' => $whole]),
                    self::object(['panel' => $text]),
                    201,
                ),
            ],
            '/touch/pair' => [
                'post' => self::call(
                    'A tablet takes a code; from then on it may show the panel',
                    self::object(['panel' => $text]),
                    self::object(['code' => $text, 'label' => $text], ['label']),
                    201,
                ),
            ],
            '/touch/paired' => [
                'get' => self::call(
                    'Tablets that may show panels over the network, and the address at which they come in',
                    self::object([
                        'paired' => self::list(
                            self::object(['id' => $text, 'panel' => $text, 'label' => $text, 'pairedAt' => $whole]),
                        ),
                        'door' => $text,
                    ]),
                ),
            ],
            '/touch/paired/{paired}' => [
                'parameters' => [self::parameter('paired', 'path')],
                'delete' => self::call(
                    'Takes the right from a tablet, which is cut off at once',
                    self::object(['deleted' => $text]),
                ),
            ],
            '/shows/{show}/devices/{device}/token' => [
                'parameters' => [$show, self::parameter('device', 'path')],
                'post' => self::call(
                    'Makes a token for a device of HTTP, which replaces the one before: told this once, kept only as its hash',
                    ['allOf' => [self::ref('Done'), self::object(['token' => $text])]],
                    null,
                    201,
                ),
            ],
            '/shows/{show}/bindings.csv' => [
                'parameters' => [$show],
                'get' => self::file('Bindings as a table', 'text/csv'),
                'post' => self::import(
                    'Takes a table of bindings (CSV, or JSON as bindings.json is): what is there is changed, what is not is made, devices too',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(['csv' => $text]),
                    201,
                ),
            ],
            '/shows/{show}/bindings.json' => [
                'parameters' => [$show],
                'get' => self::file('Bindings and their devices as JSON, by names', 'application/json'),
            ],
            '/shows/{show}/markers.csv' => [
                'parameters' => [$show],
                'get' => self::file('The markers as a table', 'text/csv'),
                'post' => self::import(
                    'Takes a table of markers: what is there is changed, what is not is made',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(['csv' => $text]),
                    201,
                ),
            ],
            '/shows/{show}/keep' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Stores loose values at the playhead',
                    self::ref('Done'),
                    self::object(['addresses' => self::list($text), 'keyframe' => ['type' => 'boolean']], ['keyframe']),
                    201,
                ),
            ],
            '/shows/{show}/aim' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Aims layers straight at surfaces, each by a route of its own',
                    self::ref('Done'),
                    self::object(['layers' => self::list($text), 'surfaces' => self::list($text)]),
                    201,
                ),
            ],
            '/shows/{show}/routes' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Names routes, lets layers take them, changes their reach, surfaces, pane, shares, fittings and lenses, as one edit; `createdId` is the id of what is new',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(
                        [
                            'action' => [
                                'type' => 'string',
                                'enum' => [
                                    'name',
                                    'take',
                                    'reach',
                                    'surfaces',
                                    'lay',
                                    'pane',
                                    'fit',
                                    'addLens',
                                    'copyCamera',
                                ],
                            ],
                            'route' => $text,
                            'name' => $text,
                            'reach' => self::type('string', 'reach'),
                            'layer' => $text,
                            'layers' => self::list($text),
                            'surfaces' => self::list($text),
                            'how' => ['type' => 'string', 'enum' => Routing::LAYOUTS],
                            'width' => $whole,
                            'height' => $whole,
                            'surface' => $text,
                            'fitting' => $text,
                            'lens' => $text,
                            'camera' => $text,
                        ],
                        [
                            'route',
                            'name',
                            'reach',
                            'layer',
                            'layers',
                            'surfaces',
                            'how',
                            'width',
                            'height',
                            'surface',
                            'fitting',
                            'lens',
                            'camera',
                        ],
                    ),
                    201,
                ),
            ],
            '/shows/{show}/outputs' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Puts surfaces on outputs, packs regions, splits outputs, fits, pins, bends, moves, copies and resets regions, and matches projectors, as one edit; `createdId` is the id of what is new',
                    [
                        'allOf' => [
                            self::ref('Done'),
                            self::object(
                                [
                                    'createdId' => ['type' => ['string', 'null']],
                                    'packed' => self::object([
                                        'used' => ['type' => 'object', 'additionalProperties' => $number],
                                        'unplaced' => self::list($text),
                                    ]),
                                    'matched' => self::object([
                                        'white' => $number,
                                        'black' => $number,
                                        'costs' => ['type' => 'object', 'additionalProperties' => $number],
                                    ]),
                                ],
                                ['packed', 'matched'],
                            ),
                        ],
                    ],
                    self::object(
                        [
                            'action' => ['type' => 'string', 'enum' => OutputEditing::ORDERS],
                            'personality' => $text,
                            'layers' => self::list($text),
                            'protocol' => $text,
                            'output' => $text,
                            'outputs' => self::list($text),
                            'surfaces' => self::list($text),
                            'region' => $text,
                            'regions' => self::list($text),
                            'from' => $text,
                            'turns' => ['type' => 'boolean'],
                            'guard' => $whole,
                            'step' => $whole,
                            'columns' => $whole,
                            'rows' => $whole,
                            'how' => $text,
                            'way' => $text,
                            'at' => $number,
                            'line' => $whole,
                            'by' => ['type' => 'object', 'additionalProperties' => (object) []],
                            'symmetric' => ['type' => 'boolean'],
                            'radius' => $number,
                            'degrees' => $number,
                            'scale' => $number,
                            'what' => ['type' => 'string', 'enum' => OutputEditing::RESETS],
                            'measured' => [
                                'type' => 'object',
                                'additionalProperties' => self::object(
                                    ['white' => $number, 'black' => $number, 'x' => $number, 'y' => $number],
                                    ['black', 'x', 'y'],
                                ),
                            ],
                            'point' => self::object(['x' => $number, 'y' => $number]),
                            'projector' => $text,
                            'surface' => $text,
                            'to' => self::object(['x' => $number, 'y' => $number]),
                            'image' => $text,
                            'name' => $text,
                            'inverted' => ['type' => 'boolean'],
                            'node' => $text,
                            'universe' => $whole,
                            'channel' => $whole,
                            'rule' => ['type' => 'string', 'enum' => OutputEditing::RULES],
                            'every' => $whole,
                            'group' => $text,
                            'into' => $text,
                            'amount' => $number,
                            'sources' => ['type' => 'object', 'additionalProperties' => self::list($number)],
                            'source' => self::list($number),
                            'brighter' => $number,
                            'warmer' => $number,
                            'greener' => $number,
                            'unit' => ['type' => 'string', 'enum' => RegionEditing::UNITS],
                        ],
                        [
                            'sources',
                            'source',
                            'brighter',
                            'warmer',
                            'greener',
                            'group',
                            'into',
                            'amount',
                            'unit',
                            'personality',
                            'layers',
                            'protocol',
                            'node',
                            'universe',
                            'channel',
                            'rule',
                            'every',
                            'image',
                            'name',
                            'inverted',
                            'projector',
                            'surface',
                            'to',
                            'output',
                            'outputs',
                            'surfaces',
                            'region',
                            'regions',
                            'from',
                            'turns',
                            'guard',
                            'step',
                            'columns',
                            'rows',
                            'how',
                            'way',
                            'at',
                            'line',
                            'by',
                            'symmetric',
                            'radius',
                            'degrees',
                            'scale',
                            'what',
                            'measured',
                            'point',
                        ],
                    ),
                    201,
                ),
            ],
            '/shows/{show}/regions.csv' => [
                'parameters' => [$show],
                'get' => self::file('Where each region lies on its output, as a table', 'text/csv'),
                'post' => self::import(
                    'Takes places of regions from a table with the columns X and Y, and Region or Surface',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(['csv' => $text]),
                    201,
                ),
            ],
            '/shows/{show}/lights.{format}' => [
                'parameters' => [$show, self::parameter('format', 'path')],
                'get' => self::slowFile('Which universes and channels pixel lights have, as csv or pdf', 'text/csv'),
            ],
            '/shows/{show}/personalities.gdtf' => [
                'parameters' => [$show],
                'get' => self::slowFile(
                    'All personalities as one fixture type in the General Device Type Format, a mode for each',
                    'application/zip',
                ),
            ],
            '/shows/{show}/personalities/{personality}.csv' => [
                'parameters' => [$show, self::parameter('personality', 'path')],
                'get' => self::file('The channels of a personality, for whoever patches the console', 'text/csv'),
            ],
            '/shows/{show}/patches/{patch}' => [
                'parameters' => [$show, self::parameter('patch', 'path')],
                'get' => self::call(
                    'Where the pixels of a light are addressed, along its wiring, and what its channels drive',
                    self::object([
                        'columns' => $whole,
                        'rows' => $whole,
                        'width' => $number,
                        'height' => $number,
                        'places' => self::list(self::list($number)),
                        'order' => self::list($whole),
                        'addresses' => self::list(self::list($whole)),
                        'header' => self::list($whole),
                        'protocol' => $text,
                        'numbers' => self::list(self::list($whole)),
                        'bits' => $whole,
                        'gamma' => $number,
                        'minimum' => $number,
                        'channels' => self::list(
                            self::object(['name' => $text, 'kind' => $text, 'colour' => self::list($number)]),
                        ),
                        'headerChannels' => self::list($text),
                    ]),
                ),
            ],
            '/shows/{show}/masks/{mask}.png' => [
                'parameters' => [$show, self::parameter('mask', 'path')],
                'get' => self::file('What a painted mask lets through', 'image/png'),
            ],
            '/shows/{show}/regions.pdf' => [
                'parameters' => [$show],
                'get' => self::slowFile('Where each region lies on its output', 'application/pdf'),
            ],
            '/shows/{show}/projections' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Has the worker compute warps and blends of all regions of a surface that go to projectors',
                    self::ref('Task'),
                    self::object(
                        ['surface' => $text, 'level' => ['type' => 'boolean'], 'limit' => $number],
                        ['level', 'limit'],
                    ),
                    202,
                ),
            ],
            '/shows/{show}/regions/{region}/evenness' => [
                'parameters' => [$show, self::parameter('region', 'path')],
                'get' => self::call(
                    'How evenly squares of content come out through a region: stretch and size of each cell',
                    self::object([
                        'columns' => $whole,
                        'rows' => $whole,
                        'cells' => self::list(['type' => ['array', 'null'], 'items' => $number]),
                        'score' => $number,
                        'worst' => ['type' => ['integer', 'null']],
                        'pixel' => $number,
                        'metres' => ['type' => 'boolean'],
                        'spill' => $number,
                        'places' => self::list(['type' => ['array', 'null'], 'items' => $number]),
                    ]),
                ),
            ],
            '/shows/{show}/projectors/{projector}/checks' => [
                'parameters' => [$show, self::parameter('projector', 'path')],
                'post' => self::call(
                    'Takes where the points of a projector are found now, in pixels of its output: all that it shows goes along, and a record is kept',
                    [
                        'allOf' => [
                            self::ref('Done'),
                            self::object(['moved' => ['type' => 'integer'], 'before' => $number, 'after' => $number]),
                        ],
                    ],
                    self::object([
                        'points' => ['type' => 'object', 'additionalProperties' => self::list($number)],
                    ]),
                    201,
                ),
            ],
            '/shows/{show}/halves' => [
                'parameters' => [$show, self::parameter('regions', 'query')],
                'get' => self::call(
                    'Where two regions, by their ids with a comma between, are compared by eye: a half of one patch each',
                    self::object([
                        'halves' => ['type' => 'object', 'additionalProperties' => self::list($number)],
                    ]),
                ),
            ],
            '/shows/{show}/surfaces/{surface}/guide' => [
                'parameters' => [$show, self::parameter('surface', 'path')],
                'get' => self::call(
                    'The squares of a surface\'s guide: rows with lines across, in pixels of its raster',
                    self::object([
                        'width' => ['type' => 'integer'],
                        'height' => ['type' => 'integer'],
                        'rows' => self::list(
                            self::object(['top' => $number, 'bottom' => $number, 'lines' => self::list($number)]),
                        ),
                    ]),
                ),
            ],
            '/shows/{show}/surfaces/{surface}/guide.png' => [
                'parameters' => [$show, self::parameter('surface', 'path')],
                'get' => self::file('The guide of a surface', 'image/png'),
            ],
            '/shows/{show}/surfaces/{surface}/lands' => [
                'parameters' => [
                    $show,
                    self::parameter('surface', 'path'),
                    self::parameter('x', 'query'),
                    self::parameter('y', 'query'),
                ],
                'get' => self::call(
                    'Where a pixel of a surface leaves, by each of its regions that show it',
                    self::object([
                        'lands' => self::list(
                            self::object(['region' => $text, 'output' => $text, 'x' => $number, 'y' => $number]),
                        ),
                    ]),
                ),
            ],
            '/shows/{show}/surfaces/{surface}/seam' => [
                'parameters' => [
                    $show,
                    self::parameter('surface', 'path'),
                    self::parameter('from', 'query'),
                    self::parameter('to', 'query'),
                ],
                'get' => self::call(
                    'The light along a line across a surface, of each region and of all',
                    self::object([
                        'along' => self::list($number),
                        'lux' => ['type' => 'object', 'additionalProperties' => self::list($number)],
                        'sum' => self::list($number),
                        'off' => $number,
                        'outputs' => ['type' => 'object', 'additionalProperties' => $text],
                    ]),
                ),
            ],
            '/shows/{show}/surfaces/{surface}/projection.mpcdi' => [
                'parameters' => [$show, self::parameter('surface', 'path')],
                'get' => self::slowFile(
                    'Warps and blends of a surface as a package of the VESA interchange format (MPCDI 2.0, profile 2d)',
                    'application/zip',
                ),
                'post' => self::import(
                    'Takes warps and blends from such a package, as base64 (up to 8 MB), or a file that was uploaded, by its hash',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(['package' => $text, 'file' => $text], ['package', 'file']),
                    201,
                ),
            ],
            '/shows/{show}/regions/{region}/alpha.png' => [
                'parameters' => [$show, self::parameter('region', 'path')],
                'get' => self::slowFile('The share of the signal that a region has over its output', 'image/png'),
            ],
            '/shows/{show}/regions/{region}/warp.csv' => [
                'parameters' => [$show, self::parameter('region', 'path')],
                'get' => self::slowFile('Where lines of a region\'s source land on its output', 'text/csv'),
            ],
            '/shows/{show}/projectors/{projector}/align' => [
                'parameters' => [$show, self::parameter('projector', 'path')],
                'post' => self::call(
                    'Finds where a projector stands from its points; with `apply`, puts it there',
                    [
                        'allOf' => [
                            self::object([
                                'pose' => self::object([
                                    'position' => self::list($number),
                                    'rotation' => self::list($number),
                                ]),
                                'throw' => $number,
                                'shiftX' => $number,
                                'shiftY' => $number,
                                'radial' => $number,
                                'rms' => $number,
                                'spread' => $number,
                                'residuals' => self::list(
                                    self::object(['id' => $text, 'name' => $text, 'px' => $number]),
                                ),
                                'bad' => ['type' => ['string', 'null']],
                            ]),
                            ['type' => 'object', 'properties' => ['revision' => $whole]],
                        ],
                    ],
                    self::object(
                        [
                            'knownLens' => ['type' => 'boolean'],
                            'radial' => ['type' => 'boolean'],
                            'apply' => ['type' => 'boolean'],
                        ],
                        ['knownLens', 'radial', 'apply'],
                    ),
                ),
            ],
            '/shows/{show}/program' => [
                'parameters' => [$show],
                'post' => self::call(
                    'Places, moves, trims, slips, cuts, copies and removes clips, with `ripple` what follows too; puts, moves and removes keyframes; brings layers up and down; takes a tempo from taps; as one edit. `createdId` are the ids of what is new',
                    ['allOf' => [self::ref('Done'), self::object(['createdId' => ['type' => ['string', 'null']]])]],
                    self::object(
                        [
                            'action' => [
                                'type' => 'string',
                                'enum' => [
                                    'trim',
                                    'place',
                                    'move',
                                    'slip',
                                    'split',
                                    'paste',
                                    'duplicate',
                                    'remove',
                                    'replace',
                                    'speed',
                                    'key',
                                    'moveKey',
                                    'dropKey',
                                    'moveKeys',
                                    'dropKeys',
                                    'valueKeys',
                                    'shapeKeys',
                                    'pasteKeys',
                                    'raise',
                                    'reorder',
                                    'tempo',
                                ],
                            ],
                            'clip' => $text,
                            'clips' => self::list($text),
                            'edge' => $text,
                            'to' => $whole,
                            'by' => $whole,
                            'media' => $text,
                            'layer' => $text,
                            'time' => $whole,
                            'speed' => $number,
                            'stretch' => ['type' => 'boolean'],
                            'ripple' => ['type' => 'boolean'],
                            'address' => $text,
                            'value' => ['type' => ['number', 'boolean', 'string']],
                            'curve' => $text,
                            'from' => $whole,
                            'keys' => self::list(self::object(['curve' => $text, 't' => $whole])),
                            'factor' => $number,
                            'about' => $whole,
                            'rise' => $number,
                            'text' => $text,
                            'way' => $text,
                            'handles' => self::list($number),
                            'up' => ['type' => 'boolean'],
                            'above' => $text,
                            'timeline' => $text,
                            'taps' => self::list($whole),
                        ],
                        [
                            'clip',
                            'clips',
                            'edge',
                            'to',
                            'by',
                            'media',
                            'layer',
                            'time',
                            'speed',
                            'stretch',
                            'ripple',
                            'address',
                            'value',
                            'curve',
                            'from',
                            'keys',
                            'factor',
                            'about',
                            'rise',
                            'text',
                            'way',
                            'handles',
                            'up',
                            'above',
                            'timeline',
                            'taps',
                        ],
                    ),
                    201,
                ),
            ],
            '/shows/{show}/uploads' => [
                'parameters' => [$show],
                'get' => self::call(
                    'What the one who asks began to send and that is not whole',
                    self::object(['uploads' => self::list(self::ref('Upload'))]),
                ),
                'post' => self::call(
                    'Announces a file',
                    self::ref('Upload'),
                    self::object(['name' => $text, 'bytes' => $whole]),
                    201,
                ),
            ],
            '/uploads/{upload}' => [
                'parameters' => [$upload],
                'get' => self::call('How much of it is here', self::ref('Upload')),
                'put' => self::call(
                    'The next bytes, as application/octet-stream',
                    self::object(
                        [
                            'received' => $whole,
                            'media' => $text,
                            'hash' => $text,
                            'known' => ['type' => 'boolean'],
                            'message' => ['type' => ['string', 'null']],
                        ],
                        ['media', 'hash', 'known', 'message'],
                    ),
                    ['type' => 'string', 'contentMediaType' => 'application/octet-stream'],
                    200,
                    [self::parameter('at', 'query')],
                ),
                'delete' => self::call('Forgets it', self::object(['deleted' => $text])),
            ],
            '/files/{hash}/log' => [
                'parameters' => [$hash],
                'get' => self::call(
                    'What was done with a file: moments and lines',
                    self::object(['lines' => self::list(self::list($text))]),
                ),
            ],
            '/files/{hash}/retry' => [
                'parameters' => [$hash],
                'post' => self::call('Makes a file ready again', self::ref('FileState')),
            ],
            '/files/{hash}/cancel' => [
                'parameters' => [$hash],
                'post' => self::call('Stops making a file ready', self::ref('FileState')),
            ],
            '/shows/{show}/media/{media}/version' => [
                'parameters' => [$show, self::parameter('media', 'path')],
                'post' => self::call(
                    'What no longer fits when a media shows what another one does, or, with `take`, has it do so, and goes back to a file of before',
                    ['anyOf' => [self::object(['misfits' => self::list($text)]), self::ref('Done')]],
                    self::object(
                        ['by' => $text, 'take' => ['type' => 'boolean'], 'file' => $text],
                        ['by', 'take', 'file'],
                    ),
                ),
            ],
            '/inputs' => [
                'get' => self::call(
                    'Live inputs that a media can be',
                    self::object([
                        'inputs' => self::list(
                            self::object([
                                'name' => $text,
                                'label' => $text,
                                'server' => $text,
                                'state' => $text,
                                'width' => $whole,
                                'height' => $whole,
                                'rate' => $number,
                            ]),
                        ),
                    ]),
                ),
            ],
            '/storage' => [
                'get' => self::call(
                    'Where everything is, how much disk it takes, and what the workers are at',
                    self::object([
                        'path' => $text,
                        'free' => $number,
                        'keepFree' => $whole,
                        'folders' => self::object(
                            array_fill_keys(
                                ['originals', 'forms', 'thumbnails', 'uploads', 'models'],
                                self::object(['files' => $whole, 'bytes' => $whole]),
                            ),
                        ),
                        'database' => self::object(['path' => $text, 'bytes' => $whole]),
                        'waiting' => $whole,
                        'jobs' => self::list(
                            self::object([
                                'hash' => $text,
                                'name' => $text,
                                'state' => $text,
                                'progress' => $number,
                                'message' => ['type' => ['string', 'null']],
                                'bytes' => $whole,
                            ]),
                        ),
                    ]),
                ),
            ],
            '/patterns/{pattern}.png' => [
                'parameters' => [
                    self::parameter('pattern', 'path'),
                    self::parameter('width', 'query', false),
                    self::parameter('height', 'query', false),
                ],
                'get' => self::file('A frame of a pattern, at most 640 × 360 px', 'image/png'),
            ],
            '/shows/{show}/timelines/{timeline}/timecode.f32' => [
                'parameters' => [$show, self::parameter('timeline', 'path')],
                'get' => self::file(
                    'A part of the timecode of a timeline (LTC), of up to four seconds: 32-bit floats at 48 kHz, by a range of bytes; the first sample is at its beginning',
                    'application/octet-stream',
                ),
            ],
            '/patterns/flash.f32' => [
                'get' => self::file(
                    'A second of what is heard with a flash: 32-bit floats at 48 kHz, whole or in part',
                    'application/octet-stream',
                ),
            ],
            '/patterns/testcard.png' => [
                'get' => [
                    'summary' => 'The test card as a picture',
                    'parameters' => [
                        self::parameter('width', 'query'),
                        self::parameter('height', 'query'),
                        self::parameter('name', 'query', false),
                    ],
                    'responses' => ['200' => ['description' => 'A PNG', 'content' => ['image/png' => (object) []]]],
                ],
            ],
            '/live/command' => [
                'servers' => [['url' => '/']],
                'post' => self::call(
                    'A command to the engine, from a window whose live stream has this ticket (Authorization: Bearer)',
                    self::object(['engine' => $whole]),
                    self::ref('Command'),
                ),
            ],
            '/live/tickets' => [
                'post' => self::call(
                    'A ticket for the live stream',
                    self::object(['ticket' => $text, 'person' => $text]),
                    null,
                    201,
                ),
            ],
            '/arithmetic' => [
                'post' => self::call(
                    'What typed arithmetic comes to',
                    self::object(
                        ['value' => ['type' => 'number'], 'values' => self::list(['type' => 'number'])],
                        ['value', 'values'],
                    ),
                    self::object(
                        [
                            'text' => $text,
                            'unit' => $text,
                            'present' => ['type' => ['number', 'null']],
                            'presents' => self::list(['type' => 'number']),
                        ],
                        ['unit', 'present', 'presents'],
                    ),
                ),
            ],
            '/timecode' => [
                'post' => self::call(
                    'What typed timecode means',
                    self::object(['flicks' => $whole, 'text' => $text]),
                    self::object(
                        ['text' => $text, 'frameRate' => self::type('string', 'frameRate'), 'present' => $whole],
                        ['frameRate', 'present'],
                    ),
                ),
            ],
            '/walls/figures' => [
                'post' => self::call(
                    'Figures of a wall that is not stored',
                    self::ref('WallFigures'),
                    self::object(['panel' => self::ref('PanelFields'), 'columns' => $whole, 'rows' => $whole]),
                ),
            ],
            '/openapi.json' => [
                'get' => self::call('This description', ['type' => 'object', 'additionalProperties' => true]),
            ],
        ];
    }

    /** @return array<string, mixed> */
    private static function file(string $summary, string $type): array
    {
        return [
            'summary' => $summary,
            'responses' => ['200' => ['description' => 'The file', 'content' => [$type => (object) []]]],
        ];
    }

    /** @return array<string, mixed> */
    private static function command(Command $command): array
    {
        $fields = ['action' => ['type' => 'string', 'enum' => [$command->value]]];
        foreach ($command->arguments() as $argument) {
            $type = match ($argument->type) {
                ArgumentType::Time, ArgumentType::Number => 'number',
                ArgumentType::Whole => 'integer',
                ArgumentType::Switch => 'boolean',
                ArgumentType::List => 'array',
                ArgumentType::Object => 'object',
                default => 'string',
            };
            $fields[$argument->name] = ['type' => $argument->required ? $type : [$type, 'null']] +
                ($type === 'object' ? ['additionalProperties' => true] : []) + [
                    'description' => $argument->says.($argument->type === ArgumentType::Time ? ', flicks' : ''),
                ];
        }
        $common = ['show' => ['type' => 'string'], 'stream' => ['type' => 'integer'], 'as' => ['type' => 'string']];
        $optional = array_filter(
            $command->arguments(),
            static fn (Argument $one): bool => ! $one->required ||
                array_filter(
                    $command->arguments(),
                    static fn (Argument $other): bool => $other->insteadOf === $one->name,
                ) !== [],
        );

        return ['description' => $command->label()] +
            self::object($fields + $common, [
                ...array_map(static fn (Argument $one): string => $one->name, array_values($optional)),
                ...array_keys($common),
            ]);
    }

    /**
     * A file that may take long: with `Prefer: respond-async` a task where it is not kept yet.
     *
     * @return array<string, mixed>
     */
    private static function slowFile(string $summary, string $type): array
    {
        $get = self::file($summary, $type);

        return ['parameters' => [self::parameter('Prefer', 'header', false)]] + [
            'responses' => $get['responses'] + self::later(),
        ] +
            $get;
    }

    /** @return array<int, mixed> the answer of what the worker does */
    private static function later(): array
    {
        return [
            202 => [
                'description' => 'The worker does it: ask for the task until it is ready',
                'content' => ['application/json' => ['schema' => self::ref('Task')]],
            ],
        ];
    }

    /**
     * @param  array<string, mixed>  $answer
     * @param  array<string, mixed>  $body
     * @return array<string, mixed> what takes a file: a small one at once, a large one by a task
     */
    private static function import(string $summary, array $answer, array $body, int $status): array
    {
        $post = self::call($summary, $answer, $body, $status);

        return ['responses' => $post['responses'] + self::later()] + $post;
    }

    /** @return array<string, mixed> */
    private static function parameter(string $name, string $in, bool $required = true): array
    {
        return [
            'name' => $name,
            'in' => $in,
            'required' => $required,
            'schema' => ['type' => in_array($name, ['width', 'height', 'at', 'time'], true) ? 'integer' : 'string'],
        ];
    }

    /**
     * @param  array<string, mixed>  $answer
     * @param  array<string, mixed>|null  $body
     * @param  list<array<string, mixed>>  $parameters
     * @return array<string, mixed>
     */
    private static function call(
        string $summary,
        array $answer,
        ?array $body = null,
        int $status = 200,
        array $parameters = [],
    ): array {
        $media = $body['contentMediaType'] ?? 'application/json';

        return ['summary' => $summary] +
            ($parameters === [] ? [] : ['parameters' => $parameters]) +
            ($body === null
                ? []
                : ['requestBody' => ['required' => true, 'content' => [$media => ['schema' => $body]]]]) + [
                    'responses' => [
                        (string) $status => [
                            'description' => 'Done',
                            'content' => ['application/json' => ['schema' => $answer]],
                        ],
                        'default' => [
                            'description' => 'A problem',
                            'content' => ['application/problem+json' => ['schema' => self::ref('Problem')]],
                        ],
                    ],
                ];
    }
}

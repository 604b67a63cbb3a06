<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Light\Guide;
use Core\Show\Kind;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Carrier;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\FixtureType;
use Core\Venue\Material;
use Core\Venue\Model;
use Core\Venue\Panel;
use Core\Venue\PixelLight;
use Core\Venue\Settings;
use Core\Venue\Surface;
use Core\Venue\Wall;

final readonly class SurfaceKind implements Kind
{
    use PosedKind;

    public function name(): string
    {
        return 'surface';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'kind' => ['string', 'wall'],
            'cells' => ['cells', []],
            'seams' => ['numbers', []],
            'feeding' => ['settings', [], Feeding::SETTINGS],
            'shape' => [
                'settings',
                [],
                [
                    ...Face::SETTINGS,
                    ...Model::SETTINGS,
                    ...PixelLight::SETTINGS,
                    'workedWidth',
                    'workedHeight',
                    'guide',
                ],
            ],
            'material' => ['settings', [], Material::SETTINGS],
            'reliefs' => ['reliefs', []],
            'model' => ['string?', null],
            'colour' => ['string', ''],
        ] +
            self::POSE +
            self::STANDING;
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array<string, list<string>>
     */
    public function needs(array $row): array
    {
        $fixture = ($row['kind'] ?? '') === 'light' ? ((array) ($row['shape'] ?? []))['fixture'] ?? null : null;

        return (is_string($fixture) ? ['fixture' => [$fixture]] : []) + [
            'panel' => array_values(
                array_unique(
                    array_filter(
                        array_merge([], ...array_map(array_values(...), array_values((array) ($row['cells'] ?? [])))),
                        is_string(...),
                    ),
                ),
            ),
        ];
    }

    public function build(array $row, array $needed): object
    {
        $kind = (string) ($row['kind'] ?? 'wall');
        $carrier = match ($kind) {
            'wall' => self::wall($row, $needed),
            'model' => Model::fromRow($row),
            'light' => self::light((array) ($row['shape'] ?? []), $needed),
            default => Face::fromRow($kind, (array) ($row['shape'] ?? []), $row['reliefs'] ?? []),
        };

        return self::placed(
            $row,
            new Surface(
                (string) $row['id'],
                Check::name('name', (string) $row['name']),
                self::pose($row),
                $carrier,
                Feeding::fromRow((array) ($row['feeding'] ?? [])),
                Material::fromRow((array) ($row['material'] ?? [])),
                self::worked($row, $carrier),
                self::colour((string) ($row['colour'] ?? '')),
                self::guide((array) ($row['shape'] ?? [])),
            ),
        );
    }

    /** @param  array<array-key, mixed>  $shape */
    private static function guide(array $shape): float
    {
        $size = (new Settings($shape))->number('guide', 0, 0, 100, 'm');

        return $size === 0.0 || $size >= Guide::LEAST
            ? $size
            : throw InvalidValue::because(
                'guide',
                'A square of the guide is '.Guide::LEAST * 1000 .' mm at least, or 0.',
            );
    }

    private static function colour(string $text): string
    {
        return $text === '' || preg_match('/^#[0-9a-f]{6}$/D', $text) === 1
            ? $text
            : throw InvalidValue::because(
                'colour',
                'A colour is written as # and six digits of 0 to 9 and a to f, or left empty.',
            );
    }

    /**
     * @param  array<array-key, mixed>  $shape
     * @param  array<string, object>  $needed
     */
    private static function light(array $shape, array $needed): PixelLight
    {
        $type = $needed[(string) ($shape['fixture'] ?? '')] ?? null;

        return PixelLight::of(
            $type instanceof FixtureType
                ? $type
                : throw InvalidValue::because('shape', 'The kind of this light was removed, or none is chosen.'),
            (new Settings($shape))->whole('fineness', 1, 1, 16),
        );
    }

    /**
     * The raster that content is made for where it differs from the panels' own pixels.
     *
     * @param  array<string, mixed>  $row
     * @return array{int, int}|null
     */
    private static function worked(array $row, Carrier $carrier): ?array
    {
        $s = new Settings((array) ($row['shape'] ?? []));
        $worked =
            $carrier instanceof Wall
                ? [
                    $s->whole('workedWidth', 0, 0, Check::MAX_PIXELS * 4, 'px'),
                    $s->whole('workedHeight', 0, 0, Check::MAX_PIXELS * 4, 'px'),
                ]
                : [0, 0];

        return min($worked) > 0 ? $worked : null;
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, object>  $panels
     */
    private static function wall(array $row, array $panels): Wall
    {
        $cells = [];
        foreach ((array) $row['cells'] as $cellRow) {
            $cells[] = array_map(static function (?string $id) use ($panels): ?Panel {
                $panel = $id === null ? null : $panels[$id] ?? null;

                return $panel === null && $id === null
                    ? null
                    : ($panel instanceof Panel
                        ? $panel
                        : throw InvalidValue::because('cells', 'A panel type of this wall was removed.'));
            }, array_values((array) $cellRow));
        }

        return Wall::of($cells, array_map(floatval(...), array_values((array) $row['seams'])));
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\BezierGrid;
use Core\Output\EdgeBlend;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Show\Kind;
use Core\Units\Check;
use Core\Units\InvalidValue;

final readonly class RegionKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'region';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function parent(): ?string
    {
        return 'output';
    }

    public function fields(): array
    {
        return [
            'output' => ['id'],
            'surface' => ['id'],
            'source' => ['numbers'],
            'x' => ['integer', 0],
            'y' => ['integer', 0],
            'width' => ['integer', 0],
            'height' => ['integer', 0],
            'turn' => ['integer', 0],
            'mirror' => ['boolean', false],
            'polygon' => ['numbers', []],
            'pin' => ['numbers', []],
            'columns' => ['numbers', []],
            'rows' => ['numbers', []],
            'points' => ['numbers', []],
            'blend' => ['settings', [], EdgeBlend::SETTINGS],
            'pinned' => ['boolean', false],
            'locked' => ['boolean', false],
            'model' => ['string', ''],
            'modelOf' => ['string', ''],
            'group' => ['id?', null],
        ];
    }

    public function build(array $row, array $needed): object
    {
        $source = self::rect('source', $row['source'] ?? []);
        $pin = self::pairs('pin', $row['pin'] ?? []);
        if ($pin !== [] && count($pin) !== 4) {
            throw InvalidValue::because(
                'pin',
                'The pin of a region is eight numbers: by how much its four corners are moved.',
            );
        }
        $points = (array) ($row['points'] ?? []);
        $grid =
            $points === []
                ? null
                : BezierGrid::of(['us' => $row['columns'] ?? null, 'vs' => $row['rows'] ?? null, 'points' => $points]);

        return Region::of(
            (string) $row['surface'],
            $source,
            (int) $row['x'],
            (int) $row['y'],
            Check::whole('width', (int) ($row['width'] ?? 0), 0, Check::MAX_PIXELS * 4, 'px'),
            Check::whole('height', (int) ($row['height'] ?? 0), 0, Check::MAX_PIXELS * 4, 'px'),
            (int) ($row['turn'] ?? 0),
            (bool) ($row['mirror'] ?? false),
            self::pairs('polygon', $row['polygon'] ?? []),
            $pin,
            $grid,
            (bool) ($row['pinned'] ?? false),
            EdgeBlend::of((array) ($row['blend'] ?? [])),
            (string) ($row['model'] ?? ''),
            (string) ($row['modelOf'] ?? ''),
        );
    }

    /** @throws InvalidValue */
    public static function rect(string $field, mixed $stored): Rect
    {
        $numbers = array_map(intval(...), array_values((array) $stored));
        if (count($numbers) !== 4) {
            throw InvalidValue::because($field, "The $field is x, y, width and height.");
        }

        return Rect::of($numbers[0], $numbers[1], $numbers[2], $numbers[3]);
    }

    /** @return list<array{float, float}> */
    private static function pairs(string $field, mixed $stored): array
    {
        $numbers = array_values((array) $stored);
        if (count($numbers) % 2 !== 0) {
            throw InvalidValue::because($field, "The $field has two numbers for each corner.");
        }

        return array_map(static fn (array $p): array => [(float) $p[0], (float) $p[1]], array_chunk($numbers, 2));
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\Mask;
use Core\Show\BelongsToOneOf;
use Core\Units\InvalidValue;

final readonly class MaskKind implements BelongsToOneOf
{
    use Simple;

    public function name(): string
    {
        return 'mask';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function parents(): array
    {
        return ['surface', 'output'];
    }

    public function fields(): array
    {
        return [
            'surface' => ['id?', null],
            'output' => ['id?', null],
            'name' => ['string'],
            'nodes' => ['numbers', []],
            'feather' => ['number', 0.0],
            'inverted' => ['boolean', false],
            'image' => ['string', ''],
        ];
    }

    public function build(array $row, array $needed): object
    {
        if (isset($row['surface']) === isset($row['output'])) {
            throw InvalidValue::because('surface', 'A mask lies on a surface or on an output, on one of them.');
        }

        return Mask::of(
            (string) $row['name'],
            array_map(floatval(...), array_values((array) ($row['nodes'] ?? []))),
            (float) ($row['feather'] ?? 0),
            (bool) ($row['inverted'] ?? false),
            (string) ($row['image'] ?? ''),
        );
    }
}

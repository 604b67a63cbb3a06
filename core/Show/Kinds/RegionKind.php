<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\Rect;
use Core\Output\Region;
use Core\Show\Kind;
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
        return ['output' => ['id'], 'surface' => ['id'], 'source' => ['numbers'], 'x' => ['integer', 0], 'y' => ['integer', 0]];
    }

    public function build(array $row, array $needed): object
    {
        $source = array_map(intval(...), array_values((array) $row['source']));
        if (count($source) !== 4) {
            throw InvalidValue::because('source', 'The source of a region is x, y, width and height.');
        }

        return Region::of((string) $row['surface'], Rect::of($source[0], $source[1], $source[2], $source[3]), (int) $row['x'], (int) $row['y']);
    }
}

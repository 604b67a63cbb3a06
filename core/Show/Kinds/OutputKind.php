<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\Output;
use Core\Show\Kind;

final readonly class OutputKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'output';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'width' => ['integer'], 'height' => ['integer'], 'refresh' => ['number', 60.0], 'streamsLimit' => ['integer', 0], 'decodeLimit' => ['number', 0.0], 'readLimit' => ['number', 0.0], 'memoryLimit' => ['number', 0.0]];
    }

    public function build(array $row, array $needed): object
    {
        return Output::of((string) $row['name'], (int) $row['width'], (int) $row['height'], (float) $row['refresh'], (int) ($row['streamsLimit'] ?? 0), (float) ($row['decodeLimit'] ?? 0), (float) ($row['readLimit'] ?? 0), (float) ($row['memoryLimit'] ?? 0));
    }
}

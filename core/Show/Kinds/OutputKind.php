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
        return [
            'name' => ['string'],
            'width' => ['integer'],
            'height' => ['integer'],
            'refresh' => ['number', 60.0],
            'server' => ['id?', null],
            'connector' => ['string', ''],
            'bitDepth' => ['integer', 8],
            'timing' => ['string', 'auto'],
            'delay' => ['number', 0.0],
            'gamma' => ['number', 2.2],
            'peak' => ['number', 1.0],
            'gain' => ['numbers', []],
            'black' => ['number', 0.0],
            'streamsLimit' => ['integer', 0],
            'decodeLimit' => ['number', 0.0],
            'readLimit' => ['number', 0.0],
            'memoryLimit' => ['number', 0.0],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Output::fromRow($row);
    }
}

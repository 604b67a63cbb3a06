<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Venue\FixtureType;

final readonly class FixtureKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'fixture';
    }

    public function view(): string
    {
        return 'venue';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'columns' => ['integer'],
            'rows' => ['integer'],
            'widthMm' => ['number'],
            'heightMm' => ['number'],
            'points' => ['numbers', []],
            'channels' => ['string', 'RGB'],
            'header' => ['string', ''],
            'bits' => ['integer', 8],
            'straddles' => ['boolean', false],
            'gamma' => ['number', 1.0],
            'minimum' => ['number', 0.0],
            'watts' => ['number', 0.0],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return FixtureType::fromRow($row);
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Timeline\Marker;

final readonly class MarkerKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'marker';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function parent(): ?string
    {
        return 'timeline';
    }

    public function fields(): array
    {
        return ['timeline' => ['id'], 'time' => ['integer'], 'name' => ['string'], 'colour' => ['string', '']];
    }

    public function build(array $row, array $needed): object
    {
        GroupKind::checkColour((string) ($row['colour'] ?? ''));

        return Marker::of((int) $row['time'], (string) $row['name']);
    }
}

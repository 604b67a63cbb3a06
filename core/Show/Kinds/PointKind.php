<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\AlignmentPoint;
use Core\Show\Kind;

final readonly class PointKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'point';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function parent(): ?string
    {
        return 'projector';
    }

    public function fields(): array
    {
        return ['projector' => ['id'], 'name' => ['string'], 'place' => ['numbers'], 'pixel' => ['numbers', []]];
    }

    public function build(array $row, array $needed): object
    {
        return AlignmentPoint::fromRow($row);
    }
}

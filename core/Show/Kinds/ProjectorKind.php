<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Venue\Lens;
use Core\Venue\Projector;

final readonly class ProjectorKind implements Kind
{
    use PosedKind;

    public function name(): string
    {
        return 'projector';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'lens' => ['settings', [], Lens::SETTINGS],
            'lumens' => ['number', 10000.0],
            'mirrored' => ['boolean', false],
            'aims' => ['ids', []],
        ] +
            self::POSE +
            self::STANDING;
    }

    public function build(array $row, array $needed): object
    {
        return self::placed($row, Projector::fromRow($row));
    }
}

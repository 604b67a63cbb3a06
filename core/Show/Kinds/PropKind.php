<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Venue\Prop;

final readonly class PropKind implements Kind
{
    use PosedKind;

    public function name(): string
    {
        return 'prop';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'kind' => ['string', 'box'],
            'shape' => ['settings', [], Prop::SETTINGS],
            'model' => ['string?', null],
        ] +
            self::POSE +
            self::STANDING;
    }

    public function build(array $row, array $needed): object
    {
        return self::placed($row, Prop::fromRow($row));
    }
}

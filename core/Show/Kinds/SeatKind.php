<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Named;
use Core\Units\Check;

final readonly class SeatKind implements Kind
{
    use PosedKind;

    public function name(): string
    {
        return 'seat';
    }

    public function fields(): array
    {
        return ['name' => ['string']] + self::POSE + self::STANDING;
    }

    public function build(array $row, array $needed): object
    {
        return self::placed($row, new Named(Check::name('name', (string) $row['name'])));
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Venue\Camera;

final readonly class CameraKind implements Kind
{
    use PosedKind;

    public function name(): string
    {
        return 'camera';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'sensorWidth' => ['number', 36.0],
            'sensorHeight' => ['number', 20.25],
            'focal' => ['number', 35.0],
            'tracked' => ['boolean', false],
            'pixels' => ['integer', 3840],
            'fNumber' => ['number', 2.8],
            'focus' => ['number', 10.0],
        ] +
            self::POSE +
            self::STANDING;
    }

    public function build(array $row, array $needed): object
    {
        return self::placed($row, Camera::fromRow($row));
    }
}

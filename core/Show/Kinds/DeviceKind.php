<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Bindings\Device;
use Core\Show\Kind;

final readonly class DeviceKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'device';
    }

    public function view(): string
    {
        return 'bindings';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'protocol' => ['string', 'midi'],
            'port' => ['string', ''],
            'showControl' => ['boolean', true],
            'timecode' => ['boolean', false],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Device::fromRow($row);
    }
}

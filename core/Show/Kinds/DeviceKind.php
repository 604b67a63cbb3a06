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
            'invite' => ['string', ''],
            'token' => ['string', ''],
            'attack' => ['number', 0],
            'release' => ['number', 0.3],
            'floor' => ['number?', null],
            'ceiling' => ['number?', null],
            'columns' => ['integer', 6],
            'rows' => ['integer', 4],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Device::fromRow($row);
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Units\InvalidValue;
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
            'address' => ['string', ''],
            'password' => ['string', ''],
            'shutsAtPanic' => ['boolean', false],
        ] +
            self::POSE +
            self::STANDING;
    }

    public function build(array $row, array $needed): object
    {
        // Where it is told by PJLink; empty where it is not.
        $address = trim((string) ($row['address'] ?? ''));
        if ($address !== '' && preg_match('/^[A-Za-z0-9.-]{1,200}(:\d{1,5})?$/D', $address) !== 1) {
            throw InvalidValue::because('address', "\"$address\" is no address; write 10.0.0.5, or 10.0.0.5:4352.");
        }

        return self::placed($row, Projector::fromRow($row));
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Schema;
use Core\Show\StoredCurve;
use Core\Values\Address;

final readonly class CurveKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'curve';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function fields(): array
    {
        return [
            'ownerKind' => ['string', 'layer'],
            'owner' => ['id'],
            'property' => ['string'],
            'slot' => ['integer', 0],
            'keyframes' => ['keyframes'],
        ];
    }

    public function build(array $row, array $needed): object
    {
        $kind = (string) ($row['ownerKind'] ?? 'layer');
        $property = Schema::properties($kind)->named((string) $row['property']);

        return StoredCurve::of(
            Address::of(
                $kind,
                (string) ($row['owner'] ?? ''),
                $property->name,
                $property->checkSlot((int) ($row['slot'] ?? 0)),
            ),
            $property,
            $row['keyframes'],
        );
    }
}

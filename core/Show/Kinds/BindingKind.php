<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Bindings\Binding;
use Core\Bindings\Meaning;
use Core\Show\Kind;
use Core\Show\Schema;
use Core\Units\InvalidValue;
use Core\Values\Address;

final readonly class BindingKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'binding';
    }

    public function view(): string
    {
        return 'bindings';
    }

    public function parent(): ?string
    {
        return 'device';
    }

    public function fields(): array
    {
        return [
            'device' => ['id'],
            'control' => ['string'],
            'label' => ['string', ''],
            'page' => ['integer', 0],
            'meaning' => ['string', 'action'],
            'gesture' => ['string', 'press'],
            'target' => ['string', ''],
            'other' => ['string', ''],
            'choices' => ['string', ''],
            'from' => ['number', 0],
            'to' => ['number', 127],
            'low' => ['number', 0],
            'high' => ['number', 1],
            'shape' => ['string', 'linear'],
            'invert' => ['boolean', false],
            'steps' => ['integer', 0],
            'deadBand' => ['number', 0],
            'smoothing' => ['integer', 0],
            'takeover' => ['string', 'meet'],
            'encoder' => ['string', 'absolute'],
            'click' => ['number', 0.01],
            'acceleration' => ['number', 0],
            'fade' => ['integer?', null],
            'velocity' => ['boolean', false],
            'lamp' => ['boolean', true],
            'motor' => ['boolean', false],
            'lampOff' => ['number', 0],
            'lampOn' => ['number', 127],
        ];
    }

    public function build(array $row, array $needed): object
    {
        $binding = Binding::fromRow($row);
        if ($binding->meaning === Meaning::Value) {
            try {
                $address = Address::parse($binding->target);
                $property = Schema::properties($address->kind)->named($address->property)->checkHeld();
                $property->checkSlot($address->slot, 'target');
            } catch (InvalidValue $refused) {
                throw InvalidValue::because('target', $refused->getMessage());
            }
        }

        return $binding;
    }
}

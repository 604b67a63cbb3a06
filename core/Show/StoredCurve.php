<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Curve;
use Core\Values\Property;

/** A curve as its row has it: its keyframes are read when somebody asks, for most questions about a show never do. */
final readonly class StoredCurve
{
    private function __construct(public Address $address, public Property $property, private mixed $keyframes)
    {
    }

    /** @param  mixed  $keyframes  a list of rows, or that list as JSON */
    public static function of(Address $address, Property $property, mixed $keyframes): self
    {
        return new self($address, $property, $keyframes);
    }

    /** Keyframes as they are stored or came, a list of rows or that list as JSON: as rows. */
    public static function rows(mixed $keyframes): mixed
    {
        return is_string($keyframes) ? json_decode($keyframes, true) : $keyframes;
    }

    /** @throws InvalidValue when the row holds no curve */
    public function curve(): Curve
    {
        $rows = self::rows($this->keyframes);

        return Curve::fromRows(
            is_array($rows) && array_is_list($rows)
                ? $rows
                : throw InvalidValue::because('keyframes', 'The keyframes of a curve are a list.'),
            $this->property,
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** A place of the venue, and the pixel of a projector's picture that was found to light it. */
final readonly class AlignmentPoint
{
    /**
     * @param  array{float, float, float}  $place  metres in the venue
     * @param  array{float, float}|null  $pixel  of the picture, from its top left; null until it was found
     */
    private function __construct(
        public string $projector,
        public string $name,
        public array $place,
        public ?array $pixel,
    ) {
    }

    /** @param  array<string, mixed>  $row */
    public static function fromRow(array $row): self
    {
        $place = array_map(floatval(...), array_values((array) $row['place']));
        $pixel = array_map(floatval(...), array_values((array) ($row['pixel'] ?? [])));
        if (count($place) !== 3) {
            throw InvalidValue::because('place', 'The place of a point is three numbers: x, y and z in metres.');
        }
        if (! in_array(count($pixel), [0, 2], true)) {
            throw InvalidValue::because('pixel', 'The pixel of a point is two numbers, or none while it is not found.');
        }
        foreach ($place as $v) {
            Check::number('place', $v, -10_000, 10_000, 'm');
        }
        foreach ($pixel as $v) {
            Check::number('pixel', $v, -100_000, 100_000, 'px');
        }

        return new self(
            (string) $row['projector'],
            Check::name('name', (string) $row['name']),
            [$place[0], $place[1], $place[2]],
            $pixel === [] ? null : [$pixel[0], $pixel[1]],
        );
    }
}

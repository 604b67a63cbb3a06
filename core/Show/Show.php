<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\Check;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Core\Values\Address;

/**
 * The whole document, immutable. Rows that name things which are gone are kept out of what plays and told in $broken;
 * nothing else of the show suffers from them.
 */
final readonly class Show
{
    /** @param  list<InvalidRow>  $broken */
    public function __construct(
        public string $id,
        public string $name,
        public FrameRate $rate,
        public Venue $venue,
        public Library $library,
        public Programme $programme,
        public Delivery $delivery,
        public array $broken,
    ) {
    }

    /**
     * @param  array<string, mixed>  $show  id, name, frameRate
     * @param  array<string, list<array<string, mixed>>>  $rows  by kind
     */
    public static function fromRows(array $show, array $rows): self
    {
        return Document::of($show, $rows)->show;
    }

    /**
     * Refuses a row that the show could not hold, whatever else is in it.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, object>  $needed  what the row needs of others, by id
     *
     * @throws InvalidValue
     */
    public static function checkRow(string $kind, array $row, array $needed = []): void
    {
        if ($kind === 'show') {
            Check::name('name', (string) $row['name']);
            FrameRate::of((string) $row['frameRate']);

            return;
        }
        $built = Schema::named($kind)->build($row, $needed);
        if ($built instanceof StoredCurve) {
            $built->curve();
        }
    }

    /** Whether what an address names is in the show. */
    public function has(Address $address): bool
    {
        return match ($address->kind) {
            'layer' => $this->programme->layer($address->id) !== null,
            'timeline' => isset($this->programme->timelines[$address->id]),
            'media' => isset($this->library->media[$address->id]),
            'route' => isset($this->programme->routes[$address->id]),
            default => true,
        };
    }
}

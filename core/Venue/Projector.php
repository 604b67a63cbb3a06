<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;

/** What throws a picture. Looks along its own -Z. */
final readonly class Projector
{
    /**
     * @param  float  $lumens  of a white picture
     * @param  bool  $mirrored  whether the picture is mirrored, as for throwing from behind
     * @param  list<string>  $aims  ids of the faces that it is there for; none: whatever it meets
     */
    private function __construct(
        public string $name,
        public Lens $lens,
        public float $lumens,
        public bool $mirrored,
        public array $aims,
    ) {
    }

    /** Lumens that leave the lens as it is zoomed and shifted. */
    public function output(): float
    {
        return $this->lumens * $this->lens->output();
    }

    /** @param  array<string, mixed>  $row  name, lens, lumens, mirrored, aims */
    public static function fromRow(array $row): self
    {
        return new self(
            Check::name('name', (string) $row['name']),
            Lens::fromRow((array) ($row['lens'] ?? [])),
            Check::number('lumens', (float) ($row['lumens'] ?? 10_000), 1, 1_000_000, 'lm'),
            (bool) ($row['mirrored'] ?? false),
            array_values(array_map(strval(...), (array) ($row['aims'] ?? []))),
        );
    }
}

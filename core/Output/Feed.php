<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A device that shows an output, or through a splitter a rectangle of it: an LED processor, a projector of the venue,
 * or a monitor.
 */
final readonly class Feed
{
    public const ROLES = ['led', 'projector', 'monitor'];

    /**
     * @param  string|null  $projector  of the venue
     * @param  Rect|null  $part  of the output's raster; null for all of it
     * @param  string  $stack  projectors of one name are converged, so that their light adds; empty for none
     */
    private function __construct(
        public string $name,
        public string $role,
        public ?string $projector,
        public ?Rect $part,
        public string $stack,
    ) {
    }

    public static function of(
        string $name,
        string $role,
        ?string $projector = null,
        ?Rect $part = null,
        string $stack = '',
    ): self {
        if (! in_array($role, self::ROLES, true)) {
            throw InvalidValue::notOneOf('role', $role, self::ROLES);
        }
        if ($projector !== null && $role !== 'projector') {
            throw InvalidValue::because(
                'projector',
                'Only a feed of the role "projector" names a projector of the venue.',
            );
        }
        if (mb_strlen($stack) > 60) {
            throw InvalidValue::because('stack', 'The name of a stack has at most 60 characters.');
        }

        return new self(Check::name('name', $name), $role, $projector, $part, trim($stack));
    }

    public function part(Output $output): Rect
    {
        return $this->part ?? $output->raster();
    }
}

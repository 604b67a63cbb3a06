<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What a binding remembers between events. */
final readonly class BindingState
{
    /**
     * @param  float|null  $value  what the place at which the control stands stands for; null before it was heard
     * @param  float|null  $sent  the value that it set last; null where it has not taken the value over
     * @param  bool  $pressed  whether it is kept pressed
     * @param  int|null  $since  engine time at which it was pressed, or turned, last
     * @param  int|null  $tapped  engine time of a first press that a second one may follow
     * @param  bool  $toggled  whether the first of two commands was given last
     */
    public function __construct(
        public ?float $value = null,
        public ?float $sent = null,
        public bool $pressed = false,
        public ?int $since = null,
        public ?int $tapped = null,
        public bool $toggled = false,
    ) {
    }

    /** @param  array{value?: float|null, sent?: float|null, pressed?: bool, since?: int|null, tapped?: int|null, toggled?: bool}  $changed */
    public function with(array $changed): self
    {
        return new self(...$changed + get_object_vars($this));
    }
}

<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What comes of one event by one binding. */
final readonly class Reaction
{
    /**
     * @param  array<string, mixed>|null  $command  as a window would send it; null for none
     * @param  int|null  $page  the page of its device that is on from now
     * @param  array{value: float, above: bool}|null  $meets  where a value is that the control has to meet, and whether
     *     that is above where the control stands
     * @param  string  $note  why nothing came of it, in words; empty where something did
     * @param  int|null  $wakeAt  engine time at which it wants to be asked again, without an event
     */
    public function __construct(
        public BindingState $state,
        public ?array $command = null,
        public ?int $page = null,
        public ?array $meets = null,
        public string $note = '',
        public ?int $wakeAt = null,
    ) {
    }
}

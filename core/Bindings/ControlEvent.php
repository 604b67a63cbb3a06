<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What a control from outside did. */
final readonly class ControlEvent
{
    /**
     * @param  string  $source  which source of controls it comes from, as osc
     * @param  string  $control  which of its controls, as the source calls it (`Control`)
     * @param  list<int|float|string|bool|null>  $raw  what it sent, as it came
     * @param  int  $time  engine time at which it came, or is meant for
     * @param  string  $device  which device of the source sent it: a MIDI port, a session, a host
     * @param  bool  $isReport  whether the device only tells where it stands, as when it has just come
     * @param  string  $bytes  as they came on the line, where it is one of bytes
     */
    public function __construct(
        public string $source,
        public string $control,
        public array $raw,
        public int $time,
        public string $device = '',
        public bool $isReport = false,
        public string $bytes = '',
    ) {
    }
}

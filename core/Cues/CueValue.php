<?php

declare(strict_types=1);

namespace Core\Cues;

use Core\Values\Track;

/** One value that a cue holds, with what of its fade is its own. */
final readonly class CueValue
{
    /**
     * @param  string  $address  of the value, as text
     * @param  float  $value  its number; of a moving one, that with which it begins
     * @param  int|null  $fade  flicks; null as the cue has it, as the delay and the curve
     * @param  Track|null  $moving  how it moves, over the time since it was fired at a rate of 1
     */
    public function __construct(
        public string $address,
        public float $value,
        public ?int $fade = null,
        public ?int $delay = null,
        public ?FadeCurve $curve = null,
        public ?Track $moving = null,
    ) {
    }

    /** @return list<mixed> as short as it can be said to those who fire it */
    public function toList(): array
    {
        return [
            $this->address,
            $this->value,
            $this->fade,
            $this->delay,
            $this->curve?->value,
            $this->moving?->toList(),
        ];
    }

    /** @param  array<mixed>  $list  as toList() gave it */
    public static function fromList(array $list): self
    {
        return new self(
            (string) ($list[0] ?? ''),
            (float) ($list[1] ?? 0),
            isset($list[2]) ? (int) $list[2] : null,
            isset($list[3]) ? (int) $list[3] : null,
            FadeCurve::tryFrom((string) ($list[4] ?? '')),
            isset($list[5]) ? Track::fromList((array) $list[5]) : null,
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Cues;

use Core\Timeline\CuePoint;
use Core\Units\Flicks;

/** A recorded change that can be fired. Times in flicks. */
final readonly class Cue
{
    /** Values that one cue can hold. */
    public const MAX_VALUES = 5000;

    /** The longest fade, delay or wait: a day. */
    public const MAX_TIME = 86_400 * Flicks::PER_SECOND;

    /**
     * @param  string|null  $timeline  id of the one on which it stands at a time, or that it starts; null for none
     * @param  int|null  $time  where it stands on its timeline; null where it does not
     * @param  bool  $holds  whether playback waits there
     * @param  list<CueValue>  $values
     * @param  int  $fade  of values that have none of their own, as the delay and the curve
     * @param  int  $loop  length of the repeat of what moves, in the time in which it moves; 0 for none
     * @param  float  $rate  how fast what moves does
     * @param  string|null  $group  id of its yield group
     * @param  int  $wait  after the start of the cue before it, where that starts it
     * @param  ClockTime|null  $clock  where a time of day starts it
     * @param  string|null  $starts  id of a timeline that plays from its beginning when it is fired
     * @param  list<array<string, mixed>>  $does  commands that it gives besides, as windows would send them
     * @param  float  $level  how strongly it takes hold of its values, 0 to 1, where it is fired so
     */
    public function __construct(
        public string $id,
        public string $number,
        public string $name,
        public string $note = '',
        public ?string $timeline = null,
        public ?int $time = null,
        public bool $holds = false,
        public Scope $scope = Scope::Chosen,
        public array $values = [],
        public int $fade = 0,
        public int $delay = 0,
        public FadeCurve $curve = FadeCurve::Linear,
        public OnStop $onStop = OnStop::Returns,
        public int $loop = 0,
        public float $rate = 1.0,
        public ?string $group = null,
        public Trigger $trigger = Trigger::Go,
        public int $wait = 0,
        public ?ClockTime $clock = null,
        public ?string $starts = null,
        public bool $listed = true,
        public array $does = [],
        public float $level = 1.0,
    ) {
    }

    /** The same with all of its values over one time, without delays. */
    public function withFade(int $fade): self
    {
        return new self(
            ...array_merge(get_object_vars($this), [
                'values' => array_map(
                    static fn (CueValue $v): CueValue => new CueValue(
                        $v->address,
                        $v->value,
                        $fade,
                        0,
                        $v->curve,
                        $v->moving,
                    ),
                    $this->values,
                ),
                'fade' => $fade,
                'delay' => 0,
            ]),
        );
    }

    /** The same, fired so strongly: between what is below and what it holds. */
    public function withLevel(float $level): self
    {
        return new self(...array_merge(get_object_vars($this), ['level' => $level]));
    }

    /** Where it stands on its timeline; null where it does not. */
    public function point(): ?CuePoint
    {
        return $this->time === null ? null : CuePoint::of($this->time, $this->number, $this->name, $this->holds);
    }

    /** How long it takes until all of its values are there. */
    public function lasts(): int
    {
        return array_reduce(
            $this->values,
            fn (int $most, CueValue $value): int => max($most, $this->delayOf($value) + $this->fadeOf($value)),
            $this->scope === Scope::Everything ? $this->delay + $this->fade : 0,
        );
    }

    public function fadeOf(CueValue $value): int
    {
        return $value->fade ?? $this->fade;
    }

    public function delayOf(CueValue $value): int
    {
        return $value->delay ?? $this->delay;
    }

    public function curveOf(CueValue $value): FadeCurve
    {
        return $value->curve ?? $this->curve;
    }

    /** @return array<string, mixed> for those who fire it; what is as usual is left out */
    public function toArray(): array
    {
        return array_filter(
            [
                'number' => $this->number,
                'name' => $this->name,
                'timeline' => $this->timeline,
                'time' => $this->time,
                'everything' => $this->scope === Scope::Everything,
                'values' => array_map(static fn (CueValue $v): array => $v->toList(), $this->values),
                'fade' => $this->fade,
                'delay' => $this->delay,
                'curve' => $this->curve->value,
                'stays' => $this->onStop === OnStop::Stays,
                'loop' => $this->loop,
                'rate' => $this->rate,
                'group' => $this->group,
                'trigger' => $this->trigger->value,
                'wait' => $this->wait,
                'clock' => $this->clock?->text,
                'starts' => $this->starts,
                'unlisted' => ! $this->listed,
                'does' => $this->does,
            ],
            static fn (mixed $v): bool => $v !== null && $v !== false && $v !== [] && $v !== 0,
        );
    }

    /** @param  array<mixed>  $data  as toArray() gave it */
    public static function fromArray(string $id, array $data): self
    {
        return new self(
            $id,
            (string) ($data['number'] ?? ''),
            (string) ($data['name'] ?? ''),
            '',
            isset($data['timeline']) ? (string) $data['timeline'] : null,
            isset($data['time']) ? (int) $data['time'] : null,
            false,
            isset($data['everything']) ? Scope::Everything : Scope::Chosen,
            array_map(
                static fn (mixed $v): CueValue => CueValue::fromList((array) $v),
                array_values((array) ($data['values'] ?? [])),
            ),
            (int) ($data['fade'] ?? 0),
            (int) ($data['delay'] ?? 0),
            FadeCurve::tryFrom((string) ($data['curve'] ?? '')) ?? FadeCurve::Linear,
            isset($data['stays']) ? OnStop::Stays : OnStop::Returns,
            (int) ($data['loop'] ?? 0),
            (float) ($data['rate'] ?? 1),
            isset($data['group']) ? (string) $data['group'] : null,
            Trigger::tryFrom((string) ($data['trigger'] ?? '')) ?? Trigger::Go,
            (int) ($data['wait'] ?? 0),
            isset($data['clock']) ? ClockTime::parse((string) $data['clock']) : null,
            isset($data['starts']) ? (string) $data['starts'] : null,
            ! isset($data['unlisted']),
            array_values(array_filter((array) ($data['does'] ?? []), is_array(...))),
        );
    }
}

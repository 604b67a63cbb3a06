<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/**
 * Keyframes in order of time. Before the first and after the last, the value stands. They are held in columns, for
 * shows have a hundred thousand of them; a Keyframe is made when one is asked for.
 */
final readonly class Curve
{
    public const MAX_KEYFRAMES = 20_000;

    /**
     * @param  non-empty-list<int>  $times  flicks, ascending
     * @param  non-empty-list<float>  $values
     * @param  list<Interpolation>  $ways  how each leaves for the next
     * @param  array<int, array{float, float, float, float}>  $handles  of those that have their own, by index
     */
    private function __construct(
        public array $times,
        public array $values,
        public array $ways,
        public array $handles,
    ) {
    }

    /**
     * @param  list<Keyframe>  $keyframes  in any order
     *
     * @throws InvalidValue when there is none, too many, or two at one time
     */
    public static function of(array $keyframes): self
    {
        usort($keyframes, static fn (Keyframe $a, Keyframe $b): int => $a->time <=> $b->time);
        [$times, $values, $ways, $handles] = [[], [], [], []];
        foreach ($keyframes as $i => $keyframe) {
            [$times[], $values[], $ways[]] = [$keyframe->time, $keyframe->value, $keyframe->interpolation];
            $keyframe->handles === Keyframe::EASY || ($handles[$i] = $keyframe->handles);
        }

        return self::ordered($times, $values, $ways, $handles);
    }

    /**
     * @param  list<mixed>  $rows  each {t: flicks, v: value as the property's parse() takes it, i?: interpolation,
     *     h?: four handles}, in any order
     *
     * @throws InvalidValue for a row that is no keyframe, a value out of range, none, too many, or two at one time
     */
    public static function fromRows(array $rows, Property $property): self
    {
        [$times, $values, $ways, $handles] = [[], [], [], []];
        $known = [
            'step' => Interpolation::Step,
            'linear' => Interpolation::Linear,
            'smooth' => Interpolation::Smooth,
            'bezier' => Interpolation::Bezier,
        ];
        [$min, $max, $last, $sorted] = [$property->min, $property->max, PHP_INT_MIN, true];
        [$mixes, $usual] = [$property->type->mixes(), $property->interpolation()->value];
        foreach ($rows as $i => $row) {
            if (
                ! is_array($row) ||
                ! is_int($row['t'] ?? null) ||
                ! ($mixes ? is_float($row['v'] ?? null) || is_int($row['v'] ?? null) : isset($row['v']))
            ) {
                throw InvalidValue::because(
                    'keyframes',
                    'Keyframe '.($i + 1).' needs a time t in flicks and a value v.',
                );
            }
            $time = $row['t'];
            $value = $mixes ? (float) $row['v'] : $property->parse($row['v']);
            if ($time < -Flicks::MAX || $time > Flicks::MAX) {
                Check::whole('time', $time, -Flicks::MAX, Flicks::MAX, 'flicks');
            }
            if (! ($value >= $min && $value <= $max)) {
                $property->check($value);
            }
            $name = $row['i'] ?? $usual;
            $way =
                is_string($name) && isset($known[$name])
                    ? $known[$name]
                    : throw InvalidValue::notOneOf(
                        'interpolation',
                        is_string($name) ? $name : gettype($name),
                        array_keys($known),
                    );
            if (! $mixes && $way !== Interpolation::Step) {
                throw InvalidValue::because(
                    'interpolation',
                    "$property->label changes in steps; there is nothing between its values.",
                );
            }
            if (isset($row['h'])) {
                $handles[$i] = Keyframe::handles($row['h']);
            }
            $sorted = $sorted && $time > $last;
            $times[] = $last = $time;
            $values[] = $value;
            $ways[] = $way;
        }
        if (! $sorted) {
            asort($times);
            $order = array_keys($times);
            $times = array_values($times);
            $values = array_map(static fn (int $i): float => $values[$i], $order);
            $ways = array_map(static fn (int $i): Interpolation => $ways[$i], $order);
            $handles = array_filter(array_map(static fn (int $i): ?array => $handles[$i] ?? null, $order));
        }

        return self::ordered($times, $values, $ways, $handles);
    }

    /**
     * @param  list<int>  $times
     * @param  list<float>  $values
     * @param  list<Interpolation>  $ways
     * @param  array<int, array{float, float, float, float}>  $handles
     */
    private static function ordered(array $times, array $values, array $ways, array $handles): self
    {
        if ($times === [] || $values === []) {
            throw InvalidValue::because('keyframes', 'A curve needs at least one keyframe.');
        }
        if (count($times) > self::MAX_KEYFRAMES) {
            throw InvalidValue::because('keyframes', 'A curve holds at most '.self::MAX_KEYFRAMES.' keyframes.');
        }
        $before = null;
        foreach ($times as $time) {
            if ($time === $before) {
                throw InvalidValue::because('keyframes', 'Two keyframes of one value stand at the same time.');
            }
            $before = $time;
        }

        return new self($times, $values, $ways, $handles);
    }

    public function count(): int
    {
        return count($this->times);
    }

    public function keyframe(int $i): Keyframe
    {
        return Keyframe::of($this->times[$i], $this->values[$i], $this->ways[$i], $this->handles[$i] ?? Keyframe::EASY);
    }

    /**
     * The same curve with a value at a time: what stood there gives way, and keeps how it leaves for the next; else
     * it leaves in the given way.
     */
    public function with(int $time, float $value, Interpolation $way = Interpolation::Linear): self
    {
        $keyframes = [];
        $handles = Keyframe::EASY;
        foreach ($this->times as $i => $at) {
            if ($at === $time) {
                [$way, $handles] = [$this->ways[$i], $this->handles[$i] ?? Keyframe::EASY];
            } else {
                $keyframes[] = $this->keyframe($i);
            }
        }

        return self::of([...$keyframes, Keyframe::of($time, $value, $way, $handles)]);
    }

    /** @return list<array{t: int, v: float|bool|string, i: string, h?: list<float>}> as it is stored */
    public function toRows(Property $property): array
    {
        $rows = [];
        foreach ($this->times as $i => $time) {
            $rows[] =
                ['t' => $time, 'v' => $property->format($this->values[$i]), 'i' => $this->ways[$i]->value] +
                (isset($this->handles[$i]) ? ['h' => $this->handles[$i]] : []);
        }

        return $rows;
    }

    public function at(int $time): float
    {
        [$low, $high] = [-1, count($this->times) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->times[$middle] <= $time ? ($low = $middle) : ($high = $middle - 1);
        }
        if ($low < 0) {
            return $this->values[0];
        }
        if (! isset($this->values[$low + 1])) {
            return $this->values[$low];
        }

        return $this->keyframe($low)->toward(
            $this->keyframe($low + 1),
            ($time - $this->times[$low]) / ($this->times[$low + 1] - $this->times[$low]),
        );
    }
}

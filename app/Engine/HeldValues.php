<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Cues\Cue;
use Core\Cues\CueMix;
use Core\Cues\CueValue;
use Core\Cues\Scope;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\MediaRun;
use Core\Values\Property;
use Core\Values\Stratum;
use Core\Values\Track;

/** Values set from outside the timelines, by address. A change takes effect at a stated engine time. */
final class HeldValues
{
    public const MAX = 10_000;

    /** @var array<string, HeldValue> loose ones, by address */
    private array $loose = [];

    /** @var array<string, list<HeldValue>> those that were let go of and still fade, by address */
    private array $going = [];

    /**
     * @var array<string, array<string, HeldValue>> what controls say, by address and source; the latest wins, and when it lets go, the one before
     */
    private array $bound = [];

    /** @var array<string, list<HeldValue>> what cues hold, from below, by address */
    private array $cues = [];

    private int $sequence = 0;

    /** @var array<string, true> those that windows have not been told of */
    private array $changed = [];

    /** @var array<string, true> those that the journal does not have */
    private array $unsaved = [];

    /** @param  array<string, mixed>  $saved  by address, as toArray() gave them */
    public static function restored(array $saved): self
    {
        $held = new self();
        foreach ($saved as $address => $one) {
            if (! is_array($one) || $one === []) {
                continue;
            }
            $all = array_map(
                static fn (mixed $each): HeldValue => HeldValue::fromArray((array) $each),
                array_is_list($one) ? $one : [$one],
            );
            foreach ($all as $value) {
                match (true) {
                    $value->stratum === Stratum::Cue => ($held->cues[(string) $address][] = $value),
                    $value->stratum === Stratum::Panic => ($held->panic = $value),
                    $value->stratum === Stratum::Bound && $value->yieldsTo === null && ! $value->isGone(PHP_INT_MAX) => ($held->bound[(string) $address][$value->source] = $value),
                    // One whose weight comes to nothing was let go of, one that gives way lies below another.
                    $value->isGone(PHP_INT_MAX) || $value->yieldsTo !== null => ($held->going[
                        (string) $address
                    ][] = $value),
                    default => ($held->loose[(string) $address] = $value),
                };
                $held->sequence = max($held->sequence, $value->sequence);
            }
        }

        return $held;
    }

    /** So many that were let go of or give way are kept of one value; beyond, the lowest fade as one. */
    private const MAX_GOING = 16;

    private ?HeldValue $panic = null;

    /** A cue takes hold of all that it names, and one of everything of the rest, too. */
    public function fire(Cue $cue, int $at): void
    {
        if ($cue->scope === Scope::Everything) {
            $others = [];
            foreach ($this->cues as $address => $stack) {
                if ($address !== CueMix::ALL_LAYERS_OPACITY && CueMix::isCoveredByAllLayers((string) $address)) {
                    array_push(
                        $others,
                        ...array_filter(
                            $stack,
                            static fn (HeldValue $one): bool => CueMix::sources($one) !== [$cue->id],
                        ),
                    );
                }
            }
            $this->stack(
                CueMix::ALL_LAYERS_OPACITY,
                CueMix::fired(
                    $this->cues[CueMix::ALL_LAYERS_OPACITY] ?? [],
                    $cue,
                    new CueValue(CueMix::ALL_LAYERS_OPACITY, 0.0),
                    ++$this->sequence,
                    $at,
                    across: $others,
                ),
            );
        }
        foreach ($cue->values as $value) {
            $this->stack(
                $value->address,
                CueMix::fired(
                    $this->cues[$value->address] ?? [],
                    $cue,
                    $value,
                    ++$this->sequence,
                    $at,
                    $this->blanket($value->address),
                ),
            );
        }
    }

    /** @return list<HeldValue> what holds all layers, where it holds this value */
    private function blanket(string $address): array
    {
        return $address !== CueMix::ALL_LAYERS_OPACITY && CueMix::isCoveredByAllLayers($address)
            ? $this->cues[CueMix::ALL_LAYERS_OPACITY] ?? []
            : [];
    }

    /**
     * A cue lets go of all that it holds, over a time, or leaves it where it is. What gave way to it and is not
     * covered yet holds on.
     *
     * @param  Cue|null  $for  the cue that it gives way to: what both hold stays until that has it
     * @return list<string> cues that hold something again
     */
    public function end(string $cue, int $at, int $fade, bool $stays, ?Cue $for = null): array
    {
        $named = [];
        foreach ($for->values ?? [] as $value) {
            $named[$value->address] = true;
        }
        $again = [];
        foreach ($this->cues as $address => $stack) {
            $address = (string) $address;
            $before = $stack;
            $blanket = $this->blanket($address);
            $covered =
                $for !== null &&
                (isset($named[$address]) ||
                    ($for->scope === Scope::Everything && CueMix::isCoveredByAllLayers($address)));
            $holds =
                array_filter($stack, static fn (HeldValue $one): bool => in_array($cue, CueMix::sources($one), true)) !==
                [];
            if ($for === null) {
                // Before it goes: what it covers wholly is not held again.
                [$stack, $back] = CueMix::takenBack($stack, $cue, $at, $blanket);
                array_push($again, ...$back);
            } elseif ($covered && ! $holds && $for->scope !== Scope::Everything) {
                // What held all layers goes, so what lay below it lies below the next.
                $stack = CueMix::redirected($stack, $cue, $for->id);
            }
            if ($covered) {
                $stack = CueMix::yieldTo($stack, $cue, $for->id);
            } else {
                // What it has not covered yet goes with it where another one takes its place.
                foreach ($for === null ? ($holds ? [$cue] : []) : CueMix::withYielding($stack, $cue) as $one) {
                    $stack = $stays
                        ? CueMix::freeze($stack, $one, $at, $blanket)
                        : CueMix::release($stack, $one, $at, $fade, $for->delay ?? 0, $blanket);
                }
            }
            $stack === $before || $this->stack($address, $stack);
        }

        return array_values(array_unique($again));
    }

    /** What no cue holds any more, though one left it, lets go. */
    public function clear(int $at, int $fade): void
    {
        foreach ($this->cues as $address => $stack) {
            if (array_filter($stack, static fn (HeldValue $one): bool => $one->source === '') !== []) {
                $this->stack((string) $address, CueMix::cleared($stack, $at, $fade));
            }
        }
    }

    /** @param  list<HeldValue>  $stack */
    private function stack(string $address, array $stack): void
    {
        $this->cues[$address] = $stack;
        if ($stack === []) {
            unset($this->cues[$address]);
        }
        $this->changed[$address] = $this->unsaved[$address] = true;
    }

    /** Removes values whose weight stays 0. */
    public function settle(int $now): void
    {
        foreach ($this->cues as $address => $stack) {
            $kept = CueMix::prune($stack, $now, $this->blanket((string) $address));
            if (count($kept) !== count($stack)) {
                $this->stack((string) $address, $kept);
            }
        }
        foreach (array_keys($this->going) as $address) {
            $this->prune((string) $address, $now);
        }
    }

    /** @return array<string, true> cues that hold something now or will, by id */
    public function holding(int $now): array
    {
        $found = [];
        foreach ($this->cues as $stack) {
            foreach ($stack as $one) {
                if (! $one->isGone($now)) {
                    $found += array_fill_keys(CueMix::sources($one), true);
                }
            }
        }

        return $found;
    }

    /** @return list<string> of these addresses, those that somebody holds by hand */
    public function masked(Cue $cue): array
    {
        return array_values(
            array_filter(
                array_map(static fn (CueValue $value): string => $value->address, $cue->values),
                fn (string $address): bool => isset($this->loose[$address]),
            ),
        );
    }

    /** Everything goes dark over a time, or comes back. */
    public function panic(bool $dark, int $at, int $fade): void
    {
        $weight = $this->panic?->weight->at($at) ?? 0.0;
        if (! $dark && $weight === 0.0) {
            return;
        }
        $address = (string) Address::master();
        $this->panic = HeldValue::of(
            Stratum::Panic,
            ++$this->sequence,
            'panic',
            Track::constant(0.0),
            Track::ramp($weight, $at, $at + $fade, $dark ? 1.0 : 0.0),
        );
        $this->changed[$address] = $this->unsaved[$address] = true;
    }

    /** Whether everything is dark, or on its way there. */
    public function isPanicking(): bool
    {
        return ($this->panic?->weight->at(PHP_INT_MAX) ?? 0.0) > 0;
    }

    /**
     * Sets values by hand, or lets go of those that are null. Values beyond their range are brought into it.
     *
     * @param  array<mixed>  $values  by address
     * @param  int  $at  engine time
     * @param  int  $fade  how long it takes; what can't lie between two values crosses over by its weight
     * @return string|null what is wrong with them; then nothing was set
     */
    public function set(array $values, int $at, int $fade = 0): ?string
    {
        $good = self::checked($values);
        if (is_string($good)) {
            return $good;
        }
        if (count($this->loose + array_filter($good, is_float(...))) > self::MAX) {
            return 'There are '.self::MAX.' loose values already.';
        }
        foreach ($good as $address => $value) {
            $is = $this->loose[$address] ?? null;
            if ($value === null) {
                if ($is !== null) {
                    unset($this->loose[$address]);
                    $this->prune($address, $at);
                    $this->going[$address] = array_map(
                        static fn (HeldValue $one): HeldValue => $one->yieldsTo !== null &&
                        $one->stratum === Stratum::Loose
                            ? $one->fading($at, $fade)
                            : $one,
                        $this->going[$address] ?? [],
                    );
                    $this->going[$address][] = $is->letGo(++$this->sequence, $at, $fade);
                    $this->changed[$address] = $this->unsaved[$address] = true;
                }

                continue;
            }
            $this->prune($address, $at);
            if ($is !== null && $fade > 0 && ! self::property($address)->type->mixes()) {
                $this->cover($address, $is);
                $is = null;
            }
            $this->loose[$address] =
                $is === null
                    ? HeldValue::of(
                        Stratum::Loose,
                        ++$this->sequence,
                        'hand',
                        Track::constant($value),
                        Track::ramp(0.0, $at, $at + $fade, 1.0),
                        null,
                        $at,
                    )
                    : $is->changed(++$this->sequence, $at, $value, $fade);
            $this->changed[$address] = $this->unsaved[$address] = true;
        }

        return null;
    }

    /**
     * @param  array<mixed>  $values  by address
     * @return array<string, float|null>|string within their ranges; or what is wrong with them
     */
    private static function checked(array $values): array|string
    {
        $good = [];
        foreach ($values as $text => $value) {
            if ((! is_scalar($value) && $value !== null) || (is_float($value) && ! is_finite($value))) {
                return 'A held value is a number, a switch or a choice for an address, or null to let go.';
            }
            try {
                $address = Address::parse((string) $text);
                $property = Schema::properties($address->kind)->named($address->property)->checkHeld();
                $property->checkSlot($address->slot, 'address');
                $good[(string) $address] = $value === null ? null : $property->live($value);
            } catch (InvalidValue $refused) {
                return $refused->getMessage();
            }
        }

        return $good;
    }

    /**
     * What a control says of values, from an engine time on; it lets go of those that are null. A media that is
     * called runs from there.
     *
     * @param  array<array-key, mixed>  $values  by address
     * @param  array<array-key, mixed>  $runs  how media that are called run, by address: rate, in, out, past,
     *     fromEnd, restarts
     * @param  array<array-key, mixed>  $fades  how long those take to cover what was before, in flicks
     * @param  string  $source  which of them says so
     * @return string|null what is wrong with them
     */
    public function bind(
        array $values,
        int $at,
        array $runs = [],
        array $fades = [],
        string $source = 'console',
    ): ?string {
        $good = self::checked($values);
        try {
            $runs = array_map(static fn (mixed $run): MediaRun => MediaRun::fromWords((array) $run), $runs);
        } catch (InvalidValue $refused) {
            return $refused->getMessage();
        }
        if (is_string($good)) {
            return $good;
        }
        if (count($this->bound + array_filter($good, is_float(...))) > self::MAX) {
            return 'There are '.self::MAX.' values of controls already.';
        }
        foreach ($good as $address => $value) {
            if ($value === null) {
                unset($this->bound[$address][$source]);
                $this->going[$address] = array_values(
                    array_filter(
                        $this->going[$address] ?? [],
                        static fn (HeldValue $one): bool => $one->stratum !== Stratum::Bound || $one->source !== $source,
                    ),
                );
                if (($this->bound[$address] ?? []) === []) {
                    unset($this->bound[$address]);
                }
            } elseif (str_ends_with((string) $address, '/source')) {
                $this->call(
                    (string) $address,
                    $source,
                    $value,
                    $runs[$address] ?? null,
                    $at,
                    self::fade($fades[$address] ?? null),
                );
            } else {
                $this->bound[$address][$source] = HeldValue::from(
                    Stratum::Bound,
                    ++$this->sequence,
                    $source,
                    $at,
                    $value,
                );
            }
            $this->changed[$address] = $this->unsaved[$address] = true;
        }

        return null;
    }

    /**
     * What can't lie between two values stays below the next until that covers it, so that what is below both does
     * not show between them.
     */
    private function cover(string $address, HeldValue $is): void
    {
        $this->going[$address][] = $is->yielding($is->source);
    }

    /** Forgets what was let go of and has faded out, and what is covered by now. */
    private function prune(string $address, int $now): void
    {
        $above = [
            Stratum::Loose->value => $this->loose[$address] ?? null,
            Stratum::Bound->value => $this->latest($address),
        ];
        $before = $this->going[$address] ?? [];
        $left = array_values(
            array_filter(
                $before,
                static fn (HeldValue $one): bool => ! $one->isGone($now) &&
                    ($above[$one->stratum->value] ?? null)?->covers($now) !== true,
            ),
        );
        if (count($left) >= self::MAX_GOING) {
            $lowest = array_splice($left, 0, count($left) - self::MAX_GOING + 2);
            [$value, $weight] = HeldValue::together($lowest, $now);
            $until = max(
                array_map(
                    static fn (HeldValue $one): int => $one->weight->times[count($one->weight->times) - 1],
                    $lowest,
                ),
            );
            array_unshift(
                $left,
                HeldValue::of(
                    $lowest[0]->stratum,
                    $lowest[0]->sequence,
                    $lowest[0]->source,
                    Track::constant($value),
                    Track::ramp($weight, $now, max($now + 1, $until), 0.0),
                    null,
                    $now,
                ),
            );
        }
        $this->going[$address] = $left;
        if ($left === []) {
            unset($this->going[$address]);
        }
        if (count($left) !== count($before)) {
            $this->changed[$address] = $this->unsaved[$address] = true;
        }
    }

    /** What wins of controls. */
    private function latest(string $address): ?HeldValue
    {
        $latest = null;
        foreach ($this->bound[$address] ?? [] as $one) {
            $latest = $latest === null || $one->sequence > $latest->sequence ? $one : $latest;
        }

        return $latest;
    }

    private static function property(string $text): Property
    {
        $address = Address::parse($text);

        return Schema::properties($address->kind)->named($address->property);
    }

    /** How long a fade that is asked for lasts, in flicks: ten minutes at most, at once where it is no whole number. */
    public static function fade(mixed $asked): int
    {
        return is_int($asked) ? max(0, min(600 * Flicks::PER_SECOND, $asked)) : 0;
    }

    /** A control calls a media, or has the one that it called run otherwise. */
    private function call(string $address, string $source, float $media, ?MediaRun $run, int $at, int $fade): void
    {
        $is = $this->bound[$address][$source] ?? null;
        if ($is !== null && $is->valueAt($at) === $media) {
            $this->bound[$address][$source] = $run === null ? $is : $is->rerun($run, $at);

            return;
        }
        if ($is !== null && $fade > 0) {
            $this->cover($address, $is);
        }
        $new = HeldValue::of(
            Stratum::Bound,
            ++$this->sequence,
            $source,
            Track::constant($media),
            Track::ramp(0.0, $at, $at + $fade, 1.0),
            null,
            $at,
        );
        $this->bound[$address][$source] = $run === null ? $new : $new->running($run);
    }

    /** What a loose value is set to; null where there is none. */
    public function looseAt(string $address): ?float
    {
        return isset($this->loose[$address]) ? $this->loose[$address]->value->at(PHP_INT_MAX) : null;
    }

    /** @return array<string, float> what each loose value is set to */
    public function loose(): array
    {
        return array_map(static fn (HeldValue $held): float => $held->value->at(PHP_INT_MAX), $this->loose);
    }

    /**
     * All that have a say, as windows and the compiler are told.
     *
     * @return array<string, list<array<string, mixed>>> by address
     */
    public function all(int $engine): array
    {
        foreach (array_keys($this->going) as $address) {
            $this->prune((string) $address, $engine);
        }
        $all = array_map(static fn (HeldValue $held): array => [$held->toArray()], $this->loose);
        foreach ($this->going as $address => $some) {
            foreach ($some as $held) {
                $all[$address][] = $held->toArray();
            }
        }
        foreach ($this->bound as $address => $sources) {
            foreach ($sources as $held) {
                $all[$address][] = $held->toArray();
            }
        }
        foreach ($this->cues as $address => $stack) {
            foreach ($stack as $held) {
                $all[$address][] = $held->toArray();
            }
        }
        if ($this->panic !== null && ! $this->panic->isGone($engine)) {
            $all[(string) Address::master()][] = $this->panic->toArray();
        }

        return $all;
    }

    /**
     * What changed since this was asked last: for each address all that hold it, none when it is free.
     *
     * @return array<string, list<array<string, mixed>>>
     */
    public function takeChanged(int $engine): array
    {
        $all = $this->all($engine);
        $changed = array_map(static fn (): array => [], $this->changed);
        $this->changed = [];

        return array_intersect_key($all, $changed) + $changed;
    }

    /** Whether windows have not been told of something. */
    public function hasChanged(): bool
    {
        return $this->changed !== [];
    }

    /**
     * @return array<string, list<array<string, mixed>>|null> what the journal does not have yet, by address; null
     *     where it is free
     */
    public function takeUnsaved(): array
    {
        $unsaved = [];
        foreach (array_keys($this->unsaved) as $address) {
            $unsaved[$address] = $this->of((string) $address) ?: null;
        }
        $this->unsaved = [];

        return $unsaved;
    }

    /** @return list<array<string, mixed>> */
    private function of(string $address): array
    {
        $held = array_filter([
            $this->loose[$address] ?? null,
            ...array_values($this->bound[$address] ?? []),
            ...$this->going[$address] ?? [],
            ...$this->cues[$address] ?? [],
            $address === (string) Address::master() ? $this->panic : null,
        ]);

        return array_values(array_map(static fn (HeldValue $one): array => $one->toArray(), $held));
    }

    /** @return array<string, list<array<string, mixed>>> all for the journal */
    public function saved(): array
    {
        $addresses = array_keys(
            $this->loose +
                $this->bound +
                $this->going +
                $this->cues +
                ($this->panic === null ? [] : [(string) Address::master() => 0]),
        );

        return array_combine(
            $addresses,
            array_map(fn (int|string $address): array => $this->of((string) $address), $addresses),
        );
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Show\Schema;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Stratum;

/** Values set from outside the timelines, by address. A change takes effect at a stated engine time. */
final class HeldValues
{
    public const MAX = 10_000;

    /** @var array<string, HeldValue> loose ones, by address */
    private array $loose = [];

    /** @var array<string, HeldValue> those that were let go of and still fade, by address */
    private array $going = [];

    private int $sequence = 0;

    /** @var array<string, true> those that windows have not been told of */
    private array $changed = [];

    /** @var array<string, true> those that the journal does not have */
    private array $unsaved = [];

    /** @param  array<string, mixed>  $saved  by address, as toArray() gave them */
    public static function restored(array $saved): self
    {
        $held = new self;
        foreach ($saved as $address => $one) {
            if (is_array($one) && $one !== []) {
                $value = HeldValue::fromArray($one);
                $held->loose[(string) $address] = $value;
                $held->sequence = max($held->sequence, $value->sequence);
            }
        }

        return $held;
    }

    /**
     * Sets values by hand, or lets go of those that are null. Values beyond their range are brought into it.
     *
     * @param  array<mixed>  $values  by address
     * @param  int  $at  engine time
     * @return string|null what is wrong with them; then nothing was set
     */
    public function set(array $values, int $at): ?string
    {
        $good = [];
        foreach ($values as $text => $value) {
            if (! is_scalar($value) && $value !== null || is_float($value) && ! is_finite($value)) {
                return 'A loose value is a number, a switch or a choice for an address, or null to let go.';
            }
            try {
                $address = Address::parse((string) $text);
                $property = Schema::properties($address->kind)->named($address->property);
                $property->checkSlot($address->slot, 'address');
                $good[(string) $address] = $value === null ? null : $property->live($value);
            } catch (InvalidValue $refused) {
                return $refused->getMessage();
            }
        }
        if (count($this->loose + array_filter($good, is_float(...))) > self::MAX) {
            return 'There are '.self::MAX.' loose values already.';
        }
        foreach ($good as $address => $value) {
            $is = $this->loose[$address] ?? null;
            if ($value === null) {
                if ($is !== null) {
                    unset($this->loose[$address]);
                    $this->going[$address] = $is->letGo(++$this->sequence, $at);
                    $this->changed[$address] = $this->unsaved[$address] = true;
                }

                continue;
            }
            $this->loose[$address] = $is === null ? HeldValue::from(Stratum::Loose, ++$this->sequence, 'hand', $at, $value) : $is->changed(++$this->sequence, $at, $value);
            unset($this->going[$address]);
            $this->changed[$address] = $this->unsaved[$address] = true;
        }

        return null;
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
        $this->going = array_filter($this->going, static fn (HeldValue $held): bool => ! $held->isGone($engine));
        $all = [];
        foreach ([$this->loose, $this->going] as $some) {
            foreach ($some as $address => $held) {
                $all[$address][] = $held->toArray();
            }
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

    /** @return array<string, array<string, mixed>|null> what the journal does not have yet, by address; null where it is free */
    public function takeUnsaved(): array
    {
        $unsaved = [];
        foreach (array_keys($this->unsaved) as $address) {
            $unsaved[$address] = ($this->loose[$address] ?? null)?->toArray();
        }
        $this->unsaved = [];

        return $unsaved;
    }

    /** @return array<string, array<string, mixed>> all loose ones for the journal */
    public function saved(): array
    {
        return array_map(static fn (HeldValue $held): array => $held->toArray(), $this->loose);
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Show\Kinds;
use Core\Units\Refused;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Stratum;

/** Values set from outside the timelines, by address. A change takes effect at a stated engine time. */
final class HeldValues
{
    public const MOST = 10_000;

    /** @var array<string, HeldValue> loose ones, by address */
    private array $loose = [];

    /** @var array<string, HeldValue> those that were let go of and still fade, by address */
    private array $going = [];

    private int $sequence = 0;

    /** @var array<string, true> */
    private array $changed = [];

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
            if ($value !== null && ! is_int($value) && ! (is_float($value) && is_finite($value))) {
                return 'A loose value is a number for an address, or null to let go.';
            }
            try {
                $address = Address::parse((string) $text);
                $property = Kinds::properties($address->kind)->named($address->property);
            } catch (Refused $refused) {
                return $refused->getMessage();
            }
            $good[(string) $address] = $value === null ? null : $property->clamp((float) $value);
        }
        if (count($this->loose + array_filter($good, is_float(...))) > self::MOST) {
            return 'There are '.self::MOST.' loose values already.';
        }
        foreach ($good as $address => $value) {
            $is = $this->loose[$address] ?? null;
            if ($value === null) {
                if ($is !== null) {
                    unset($this->loose[$address]);
                    $this->going[$address] = $is->letGo(++$this->sequence, $at);
                    $this->changed[$address] = true;
                }

                continue;
            }
            $this->loose[$address] = $is === null ? HeldValue::from(Stratum::Loose, ++$this->sequence, 'hand', $at, $value) : $is->changed(++$this->sequence, $at, $value);
            unset($this->going[$address]);
            $this->changed[$address] = true;
        }

        return null;
    }

    /** @return array<string, float> what each loose value is set to */
    public function loose(): array
    {
        return array_map(static fn (HeldValue $held): float => $held->value->at(PHP_INT_MAX >> 8), $this->loose);
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

    /** @return array<string, mixed> one for the journal; null when it is free */
    public function toArray(string $address): ?array
    {
        return ($this->loose[$address] ?? null)?->toArray();
    }

    /** @return array<string, array<string, mixed>> all loose ones for the journal */
    public function saved(): array
    {
        return array_map(static fn (HeldValue $held): array => $held->toArray(), $this->loose);
    }
}

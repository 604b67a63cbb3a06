<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Protocol\Osc;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Property;

/**
 * What an OSC message means. `/kite/NAME` gives a command with arguments in their order; its address may be a pattern
 * that names several. `/kite/value/KIND/ID/PROPERTY` sets a loose value in the unit in which it is shown,
 * `/kite/fader/KIND/ID/PROPERTY` as a fader from 0 to 1 over its range; a number more behind the address is the slot,
 * further arguments set the slots after it, and none discards the value.
 */
final class OscMessage
{
    private const ROOT = '/kite/';

    /** Ways in which a value is given, by the word in the address. */
    public const VALUES = ['value' => 'in its unit', 'fader' => '0 to 1 over its range'];

    /**
     * @param  list<int|float|string|bool|null>  $arguments
     * @param  \Closure(Address): Property  $property  throws InvalidValue where there is none
     * @return list<array<string, mixed>> commands, as windows would send them
     *
     * @throws InvalidValue with what is wrong, where none of it can be done
     */
    public static function commands(string $address, array $arguments, \Closure $property): array
    {
        $parts = explode('/', $address);
        if (count($parts) > 3 && "/$parts[1]/" === self::ROOT && isset(self::VALUES[$parts[2]])) {
            return [self::value($parts, $arguments, $property)];
        }
        $commands = [];
        $heard = false;
        foreach (Command::controls() as $command) {
            if (Osc::matches($address, self::ROOT.$command->value)) {
                $heard = true;
                $commands[] = $command->given($arguments);
            }
        }

        return $heard
            ? array_values(array_filter($commands))
            : throw InvalidValue::because(
                'address',
                'Nothing listens to '.mb_strimwidth(mb_scrub($address), 0, 100, '…').'.',
            );
    }

    /**
     * @param  list<string>  $parts  of the address
     * @param  list<int|float|string|bool|null>  $arguments
     * @param  \Closure(Address): Property  $property
     * @return array<string, mixed>
     */
    private static function value(array $parts, array $arguments, \Closure $property): array
    {
        [, , $way, $kind, $id, $name, $slot] = $parts + [5 => '', 6 => '0'] + [4 => ''];
        if (count($parts) > 7 || preg_match('/^\d{1,3}$/D', $slot) !== 1) {
            throw InvalidValue::because(
                'address',
                'Write /kite/'.$way.'/KIND/ID/PROPERTY, with a slot behind it where there are several.',
            );
        }
        $values = [];
        foreach ($arguments === [] ? [null] : $arguments as $n => $given) {
            // Reads it as it would be written, so that it is judged in one place.
            $address = Address::parse("$kind:$id/$name".((int) $slot + $n === 0 ? '' : '#'.((int) $slot + $n)));
            $of = $property($address);
            $of->checkSlot($address->slot, 'address');
            $number = is_int($given) || is_float($given) ? (float) $given : (is_bool($given) ? (float) $given : null);
            $values[(string) $address] = match (true) {
                $given === null => null,
                $number !== null && ! is_finite($number) => throw InvalidValue::notANumber($name),
                $way === 'fader' => $of->fromFader($number ?? throw InvalidValue::notANumber($name)),
                default => $of->fromShown($given),
            };
        }

        return ['action' => Command::Live->value, 'values' => $values];
    }
}

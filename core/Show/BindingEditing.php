<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Bindings\Device;
use Core\Bindings\LearnedControl;
use Core\Bindings\Meaning;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Property;

/**
 * How controls are bound, as the changes of an Edit.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class BindingEditing
{
    /** Bindings that are made at once. */
    public const MAX = 128;

    /** The most that a range that is offered goes to either side, where a value has no narrower one. */
    private const WIDE = 10_000.0;

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
    }

    /**
     * Binds controls that were learned to targets, the first to the first. Their device is made where it is new.
     *
     * @param  list<LearnedControl>  $controls
     * @param  list<string>  $targets  addresses, ids of cues, or commands
     * @param  int  $page  of the device, 0 for all
     * @return array{list<Change>, list<string>} and the ids of the bindings
     *
     * @throws InvalidValue
     */
    public function bind(
        array $controls,
        Meaning $meaning,
        array $targets,
        string $protocol,
        string $port,
        int $page = 0,
    ): array {
        if ($controls === [] || count($controls) !== count($targets) || count($controls) > self::MAX) {
            throw InvalidValue::because(
                'targets',
                sprintf(
                    '%d controls for %d targets: each takes one, at most %d.',
                    count($controls),
                    count($targets),
                    self::MAX,
                ),
            );
        }
        [$device, $changes] = $this->device($protocol, $port);
        $ids = [];
        foreach ($controls as $i => $control) {
            [$low, $high] = $meaning === Meaning::Value ? self::range($targets[$i]) : [0.0, 1.0];
            $fields = ['device' => $device, 'page' => $page] + $control->fields($meaning, $targets[$i], $low, $high);
            $fields['lampOn'] = $control->to;
            if ($meaning === Meaning::Value && ! self::property($targets[$i])->type->mixes()) {
                // Each option has an equal part of the way.
                $fields['steps'] = (int) ($high - $low) + 1;
            }
            $ids[] = $id = ($this->newId)();
            // Judged here, so that what is wrong says of which.
            Schema::named('binding')->build(['id' => $id] + $fields, []);
            $changes[] = Changes::create('binding', $id, $fields);
        }

        return [$changes, $ids];
    }

    /**
     * The device that an event comes from, and what makes it where it is new.
     *
     * @return array{string, list<Change>}
     */
    private function device(string $protocol, string $port): array
    {
        $isNamed = in_array($protocol, Device::NAMED, true);
        foreach ($this->show->delivery->devices as $id => $device) {
            if ($device->protocol === $protocol && ($isNamed ? $device->name : $device->port) === $port) {
                return [(string) $id, []];
            }
        }
        if ($isNamed) {
            throw InvalidValue::because('port', "No device of this protocol is called \"$port\" any more.");
        }
        $id = ($this->newId)();
        $names = ['midi' => 'MIDI device', 'osc' => 'OSC device', 'keys' => 'Keyboard', 'sound' => 'Sound'];
        $fields = [
            'name' => $port === '' ? $names[$protocol] ?? $protocol : mb_substr($port, 0, 60),
            'protocol' => $protocol,
            'port' => $port,
        ];
        Device::fromRow($fields);

        return [$id, [Changes::create('device', $id, $fields)]];
    }

    /**
     * From where to where a value goes over the way of its control: its range, where that is narrow enough to be of
     * use.
     *
     * @return array{float, float}
     */
    private static function range(string $target): array
    {
        $property = self::property($target);

        return [max(-self::WIDE, $property->min), min(self::WIDE, $property->max)];
    }

    private static function property(string $target): Property
    {
        $address = Address::parse($target);

        return Schema::properties($address->kind)->named($address->property);
    }

    /**
     * Has a binding listen to another control of its device.
     *
     * @return list<Change>
     */
    public function relearn(string $binding, LearnedControl $control): array
    {
        $row =
            $this->document->rows['binding'][$binding] ??
            throw InvalidValue::because('binding', 'This binding is not in the show.');
        $fields = [
            'control' => $control->control->name,
            'from' => $control->from,
            'to' => $control->to,
            'encoder' => $control->encoder->value,
            'lampOn' => $control->to,
        ];
        Schema::named('binding')->build($fields + $row, []);

        return Changes::update('binding', $binding, $row, $fields);
    }

    /**
     * Brings bindings of one device to another one: it takes over with all of its controls.
     *
     * @return list<Change>
     */
    public function move(string $from, string $to): array
    {
        foreach (['from' => $from, 'to' => $to] as $field => $id) {
            isset($this->show->delivery->devices[$id]) ||
                throw InvalidValue::because($field, 'This device is not in the show.');
        }
        $changes = [];
        foreach ($this->document->rows['binding'] ?? [] as $id => $row) {
            if ($row['device'] === $from) {
                array_push($changes, ...Changes::update('binding', (string) $id, $row, ['device' => $to]));
            }
        }

        return $changes;
    }
}

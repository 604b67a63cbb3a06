<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Bindings\Action;
use Core\Cues\ClockTime;
use Core\Cues\Cue;
use Core\Cues\CueValue;
use Core\Cues\FadeCurve;
use Core\Cues\OnStop;
use Core\Cues\Scope;
use Core\Cues\Trigger;
use Core\Show\Kind;
use Core\Show\Schema;
use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Curve;
use Core\Values\Property;
use Core\Values\TrackCompiler;

final readonly class CueKind implements Kind
{
    use Simple;

    /** Keyframes of one moving value. */
    private const MAX_KEYFRAMES = 500;

    public function name(): string
    {
        return 'cue';
    }

    public function view(): string
    {
        return 'cues';
    }

    public function parent(): ?string
    {
        return 'timeline';
    }

    public function fields(): array
    {
        return [
            'timeline' => ['id?', null],
            'time' => ['integer?', null],
            'number' => ['string'],
            'name' => ['string'],
            'note' => ['string', ''],
            'holds' => ['boolean', false],
            'colour' => ['string', ''],
            'scope' => ['string', 'chosen'],
            'held' => ['held', []],
            'fade' => ['integer', 0],
            'delay' => ['integer', 0],
            'curve' => ['string', 'linear'],
            'onStop' => ['string', 'returns'],
            'loop' => ['integer', 0],
            'rate' => ['number', 1],
            'bpm' => ['number', 0],
            'group' => ['id?', null],
            'trigger' => ['string', 'go'],
            'wait' => ['integer', 0],
            'clock' => ['string', ''],
            'starts' => ['id?', null],
            'listed' => ['boolean', true],
            'actions' => ['string', ''],
            'page' => ['id?', null],
            'row' => ['integer', 0],
            'column' => ['integer', 0],
        ];
    }

    public function build(array $row, array $needed): object
    {
        $length = static fn (string $field): int => Check::whole(
            $field,
            (int) ($row[$field] ?? 0),
            0,
            Cue::MAX_TIME,
            'flicks',
        );
        $time = isset($row['time']) ? Check::whole('time', (int) $row['time'], 0, Flicks::MAX, 'flicks') : null;
        $bpm = (float) ($row['bpm'] ?? 0);
        // What moves to beats is stored with a second for each of them.
        $beats = $bpm === 0.0 ? 1.0 : Check::number('bpm', $bpm, 1, 1000) / 60;
        $clock = trim((string) ($row['clock'] ?? ''));
        $trigger = Check::choice(Trigger::class, 'trigger', (string) ($row['trigger'] ?? 'go'));
        if ($trigger === Trigger::Clock && $clock === '') {
            throw InvalidValue::because('clock', 'A cue that starts by the clock needs a time of day, such as 21:30.');
        }
        Check::whole('row', (int) ($row['row'] ?? 0), 0, PageKind::MAX - 1);
        Check::whole('column', (int) ($row['column'] ?? 0), 0, PageKind::MAX - 1);
        GroupKind::checkColour((string) ($row['colour'] ?? ''));

        return new Cue(
            (string) ($row['id'] ?? ''),
            Check::name('number', (string) $row['number']),
            Check::name('name', (string) $row['name']),
            (string) ($row['note'] ?? ''),
            isset($row['timeline']) ? (string) $row['timeline'] : null,
            $time !== null && isset($row['timeline']) ? $time : null,
            (bool) ($row['holds'] ?? false),
            Check::choice(Scope::class, 'scope', (string) ($row['scope'] ?? 'chosen')),
            self::values($row['held'] ?? []),
            $length('fade'),
            $length('delay'),
            Check::choice(FadeCurve::class, 'curve', (string) ($row['curve'] ?? 'linear')),
            Check::choice(OnStop::class, 'onStop', (string) ($row['onStop'] ?? 'returns')),
            $length('loop'),
            Check::number('rate', (float) ($row['rate'] ?? 1), 0.01, 100) * $beats,
            isset($row['group']) ? (string) $row['group'] : null,
            $trigger,
            $length('wait'),
            $clock === '' ? null : ClockTime::parse($clock),
            isset($row['starts']) ? (string) $row['starts'] : null,
            (bool) ($row['listed'] ?? true),
            self::actions((string) ($row['actions'] ?? '')),
        );
    }

    /** @return list<array<string, mixed>> */
    private static function actions(string $text): array
    {
        try {
            return Action::ofCue($text);
        } catch (InvalidValue $refused) {
            throw InvalidValue::because('actions', $refused->getMessage());
        }
    }

    /**
     * @return list<CueValue>
     *
     * @throws InvalidValue
     */
    private static function values(mixed $held): array
    {
        $held = is_string($held) ? json_decode($held, true) : $held;
        if (! is_array($held) || ! array_is_list($held) || count($held) > Cue::MAX_VALUES) {
            throw InvalidValue::because(
                'held',
                'A cue holds a list of at most '.number_format(Cue::MAX_VALUES).' values.',
            );
        }
        [$values, $compiler] = [[], null];
        foreach ($held as $i => $entry) {
            try {
                if (! is_array($entry)) {
                    throw InvalidValue::because('', 'What a cue holds has an address `a` and a value `v`.');
                }
                $address = Address::parse((string) ($entry['a'] ?? ''));
                $property = Schema::properties($address->kind)->named($address->property)->checkHeld();
                $property->checkSlot($address->slot, 'a');
                if (isset($values[(string) $address])) {
                    throw InvalidValue::because('a', "This cue holds $address twice.");
                }
                $moving = isset($entry['keys']) ? self::moving($entry['keys'], $property) : null;
                $track = $moving === null ? null : ($compiler ??= new TrackCompiler())->compile($moving, $property);
                $own = static fn (string $field): ?int => isset($entry[$field])
                    ? Check::whole($field, (int) $entry[$field], 0, Cue::MAX_TIME, 'flicks')
                    : null;
                $number =
                    is_int($entry['v'] ?? null) || is_float($entry['v'] ?? null)
                        ? (float) $entry['v']
                        : throw InvalidValue::because(
                            'v',
                            'What a cue holds is a number; of a choice, the number of its option.',
                        );
                $values[(string) $address] = new CueValue(
                    (string) $address,
                    $property->live($number),
                    $own('fade'),
                    $own('delay'),
                    isset($entry['curve'])
                        ? Check::choice(FadeCurve::class, 'curve', (string) ($entry['curve'] ?? 'linear'))
                        : null,
                    $track,
                );
            } catch (InvalidValue $refused) {
                throw $refused->within("held.$i");
            }
        }

        return array_values($values);
    }

    private static function moving(mixed $keys, Property $property): Curve
    {
        if (! is_array($keys) || ! array_is_list($keys) || $keys === [] || count($keys) > self::MAX_KEYFRAMES) {
            throw InvalidValue::because('keys', 'A value that moves has 1 to '.self::MAX_KEYFRAMES.' keyframes.');
        }

        return Curve::fromRows($keys, $property);
    }
}

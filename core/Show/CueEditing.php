<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Cues\Cue;
use Core\Cues\CueList;
use Core\Cues\CueNumber;
use Core\Units\InvalidValue;
use Core\Values\Address;

/**
 * How cues come to hold what is on, as the changes of an Edit. What values are at the moment, whoever asks knows.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class CueEditing
{
    use OnGrid;

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
    }

    /**
     * A new cue that holds these values.
     *
     * @param  array<string, float>  $values  by address
     * @param  array<string, mixed>  $fields  of the cue that are given; a number that is not is the next free one
     * @return array{list<Change>, string} and the id of the cue
     */
    public function record(array $values, array $fields): array
    {
        $taken = array_values(array_map(static fn (Cue $cue): string => $cue->number, $this->show->programme->cues));
        $list = CueList::of($this->show->programme->cues)->cues;
        $number =
            (string) ($fields['number'] ??
                CueNumber::after($list === [] ? '' : $list[count($list) - 1]->number, $taken));
        if (in_array($number, $taken, true)) {
            throw InvalidValue::because('number', "There is a cue $number already.");
        }
        if (isset($fields['time'])) {
            $fields['time'] = $this->onGrid((int) $fields['time']);
        }
        $id = ($this->newId)();

        return [
            [
                Changes::create(
                    'cue',
                    $id,
                    array_merge($fields, [
                        'number' => $number,
                        'name' => (string) ($fields['name'] ?? "Cue $number"),
                        'held' => $this->held($values),
                    ]),
                ),
            ],
            $id,
        ];
    }

    /**
     * A new cue without values at a time of a timeline, where playback holds. Its number comes after that of the cue before it
     * there, and before the next.
     *
     * @return array{list<Change>, string} and the id of the cue
     */
    public function add(string $timeline, int $time): array
    {
        if (! isset($this->show->programme->timelines[$timeline])) {
            throw InvalidValue::because('timeline', 'This timeline is not in the show.');
        }
        $before = null;
        foreach (CueList::of($this->show->programme->cues)->cues as $cue) {
            if (
                $cue->timeline === $timeline &&
                $cue->time !== null &&
                $cue->time <= $time &&
                ($before === null || $cue->time >= $before->time)
            ) {
                $before = $cue;
            }
        }
        $taken = array_values(array_map(static fn (Cue $cue): string => $cue->number, $this->show->programme->cues));
        $number = $before === null ? [] : ['number' => CueNumber::after($before->number, $taken)];

        return $this->record([], $number + ['timeline' => $timeline, 'time' => $time, 'holds' => true]);
    }

    /**
     * Everything that a cue holds becomes what it is now; fades and delays of single values stay, what moved stands
     * still.
     *
     * @param  array<string, float>  $values  by address
     * @return list<Change>
     */
    public function update(string $cue, array $values): array
    {
        $held = $this->heldOf($cue);
        foreach ($held as $i => $entry) {
            if (isset($values[$entry['a']])) {
                $held[$i] = ['v' => $values[$entry['a']]] + array_diff_key($entry, ['keys' => 0]);
            }
        }

        return $this->changed($cue, $held);
    }

    /**
     * Values taken into a cue, in place of what it held of them.
     *
     * @param  array<string, float>  $values  by address
     * @return list<Change>
     */
    public function merge(string $cue, array $values): array
    {
        $held = array_column($this->heldOf($cue), null, 'a');
        foreach ($this->held($values) as $entry) {
            $held[$entry['a']] = $entry + array_diff_key($held[$entry['a']] ?? [], ['keys' => 0]);
        }

        return $this->changed($cue, array_values($held));
    }

    /**
     * Values taken out of a cue.
     *
     * @param  list<string>  $addresses
     * @return list<Change>
     */
    public function trim(string $cue, array $addresses): array
    {
        return $this->changed(
            $cue,
            array_values(
                array_filter(
                    $this->heldOf($cue),
                    static fn (array $entry): bool => ! in_array($entry['a'], $addresses, true),
                ),
            ),
        );
    }

    /**
     * New numbers for the list, in its order.
     *
     * @return list<Change>
     */
    public function renumber(float $first, float $step): array
    {
        if (
            ! is_finite($first) ||
            ! is_finite($step) ||
            $first < 0 ||
            $first > 100_000 ||
            $step < 0.000_001 ||
            $step > 1000
        ) {
            throw InvalidValue::because('step', 'Numbers begin at 0 to 100,000 and go up by at most 1,000.');
        }
        $changes = [];
        foreach (CueList::of($this->show->programme->cues)->renumbered($first, $step) as $id => $number) {
            array_push(
                $changes,
                ...Changes::update('cue', (string) $id, $this->row('cue', (string) $id), ['number' => $number]),
            );
        }

        return $changes;
    }

    /** @return list<string> addresses of what a cue holds */
    public function addressesOf(string $cue): array
    {
        return array_column($this->heldOf($cue), 'a');
    }

    /** @return list<array<string, mixed>> */
    private function heldOf(string $cue): array
    {
        $held = $this->row('cue', $cue)['held'] ?? [];

        return array_values((array) (is_string($held) ? json_decode($held, true) : $held));
    }

    /**
     * @param  array<string, float>  $values
     * @return list<array{a: string, v: float}>
     */
    private function held(array $values): array
    {
        $held = [];
        foreach ($values as $text => $value) {
            $address = Address::parse((string) $text);
            if ($address->kind === 'master') {
                continue;
            }
            $this->row($address->kind, $address->id);
            $held[] = [
                'a' => (string) $address,
                'v' => Schema::properties($address->kind)->named($address->property)->checkHeld()->live($value),
            ];
        }
        usort($held, static fn (array $a, array $b): int => $a['a'] <=> $b['a']);

        return $held;
    }

    /**
     * @param  list<array<string, mixed>>  $held
     * @return list<Change>
     */
    private function changed(string $cue, array $held): array
    {
        return $held === $this->heldOf($cue)
            ? []
            : Changes::update('cue', $cue, ['held' => $this->heldOf($cue)], ['held' => $held]);
    }
}

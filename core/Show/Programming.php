<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Media\MediaItem;
use Core\Timeline\BeatGrid;
use Core\Units\Arithmetic;
use Core\Units\ArithmeticError;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Curve;
use Core\Values\Interpolation;
use Core\Values\Keyframe;
use Core\Values\Property;
use Core\Values\PropertyType;

/**
 * What is done on a timeline by hand, as the changes of an Edit: clips placed and trimmed, keyframes put, moved and
 * removed, layers brought up and down. All times land on the show's frame grid.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class Programming
{
    use OnGrid;

    /** How long a clip is whose media has no length of its own. */
    private const USUAL = 5 * Flicks::PER_SECOND;

    /** Keyframes that one order may name. */
    public const MAX_KEYS = 20_000;

    /** @var array<string, string> ids of curves by what they belong to */
    private array $curves;

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
        $curves = [];
        foreach ($document->rows['curve'] ?? [] as $id => $row) {
            $curves["{$row['owner']} {$row['property']} ".(int) ($row['slot'] ?? 0)] = (string) $id;
        }
        $this->curves = $curves;
    }

    /**
     * Puts a media on a layer at a time, as long as it is; a timeline that is too short for it grows. Another
     * timeline is put there as a media that shows it, made where there is none yet.
     *
     * @param  string  $media  id; of a timeline, "timeline:" and its id
     * @return array{list<Change>, string} and the id of the clip
     */
    public function place(string $media, string $layer, int $time): array
    {
        $other = str_starts_with($media, 'timeline:')
            ? $this->show->programme->timelines[substr($media, 9)] ??
                throw InvalidValue::because('media', 'This timeline is not in the show.')
            : null;
        $item =
            $other === null
                ? $this->show->library->media[$media] ??
                    throw InvalidValue::because('media', 'This media is not in the show.')
                : $this->showing($other->id);
        $on =
            $this->show->programme->layer($layer) ??
            throw InvalidValue::because('layer', 'This layer is not in the show.');
        $frame = $this->show->rate->flicksPerFrame;
        $start = $this->onGrid($time);
        $inner = $this->show->programme->timelines[$item->timeline ?? ($other->id ?? '')] ?? null;
        if ($inner !== null && $this->contains($inner->id, $on->timeline)) {
            throw InvalidValue::because('media', "$inner->name can't nest itself.");
        }
        $whole = $inner->duration ?? $item?->length();
        $length = $whole === null ? $this->show->rate->snap(self::USUAL) : max($frame, $this->onGrid($whole));
        $id = ($this->newId)();
        $line =
            $this->show->programme->timelines[$on->timeline] ??
            throw InvalidValue::because('layer', 'The timeline of this layer was removed.');
        $grow =
            $start + $length > $line->duration
                ? Changes::update('timeline', $line->id, $this->row('timeline', $line->id), [
                    'duration' => $start + $length,
                ])
                : [];

        $made = [];
        if ($other !== null && $item === null) {
            $media = ($this->newId)();
            $made = [
                Changes::create('media', $media, [
                    'name' => $other->name,
                    'kind' => 'timeline',
                    'timeline' => $other->id,
                ]),
            ];
        }

        return [
            [
                ...$grow,
                ...$made,
                Changes::create('clip', $id, [
                    'layer' => $layer,
                    'media' => $item->id ?? $media,
                    'start' => $start,
                    'length' => $length,
                ]),
            ],
            $id,
        ];
    }

    /** The media that shows a timeline, where there is one. */
    private function showing(string $timeline): ?MediaItem
    {
        foreach ($this->show->library->media as $item) {
            if ($item->timeline === $timeline) {
                return $item;
            }
        }

        return null;
    }

    /** Whether a timeline is another one, or shows it, or one that shows it. */
    private function contains(string $timeline, string $other): bool
    {
        return in_array($other, NestedTimelines::within($this->show, $timeline), true);
    }

    /**
     * Puts a value at a time of an address: what stands there gives way.
     *
     * @param  mixed  $value  as the property's live() takes it
     * @return array{list<Change>, string} and the id of the curve
     */
    public function key(Address $address, int $time, mixed $value): array
    {
        $property = Schema::properties($address->kind)->named($address->property);
        $property->checkSlot($address->slot, 'address');
        $number = self::number($property, $value);
        $this->row($address->kind, $address->id);
        $time = $this->onGrid($time);
        $id = $this->curveOf($address);
        if ($id !== null) {
            $old = $this->curve($this->row('curve', $id));

            return [$this->reshape($id, $old, $old->with($time, $number, $property->interpolation()), $property), $id];
        }
        $id = ($this->newId)();
        $keys = [Keyframe::of($time, $number, $property->interpolation())];
        if ($property->type === PropertyType::Reference && $time > 0) {
            // From here on it is another row; what was before stays.
            array_unshift($keys, Keyframe::of(0, $property->default, $property->interpolation()));
        }

        return [
            [
                Changes::create('curve', $id, [
                    'ownerKind' => $address->kind,
                    'owner' => $address->id,
                    'property' => $address->property,
                    'slot' => $address->slot,
                    'keyframes' => Curve::of($keys)->toRows($property),
                ]),
            ],
            $id,
        ];
    }

    /** The id of the curve that an address has; null where it has none. */
    public function curveOf(Address $address): ?string
    {
        return $this->curves["$address->id $address->property $address->slot"] ?? null;
    }

    /**
     * Moves a keyframe to another time and value; one that stands there gives way, and how it leaves for the next
     * stays.
     *
     * @return list<Change>
     */
    public function moveKey(string $curve, int $from, int $to, mixed $value): array
    {
        $row = $this->row('curve', $curve);
        $old = $this->curve($row);
        $at = array_search($from, $old->times, true);
        if (! is_int($at)) {
            throw InvalidValue::because('from', 'There is no keyframe at this time.');
        }
        $property = Schema::properties((string) $row['ownerKind'])->named((string) $row['property']);
        $to = $this->onGrid($to);
        $kept = $old->keyframe($at);
        $others = array_values(
            array_filter(
                array_map($old->keyframe(...), array_keys($old->times)),
                static fn (Keyframe $k): bool => $k->time !== $from && $k->time !== $to,
            ),
        );

        return $this->reshape(
            $curve,
            $old,
            Curve::of([
                ...$others,
                Keyframe::of($to, self::number($property, $value), $kept->interpolation, $kept->handles),
            ]),
            $property,
        );
    }

    /** @return list<Change> the curve goes with its last keyframe */
    public function dropKey(string $curve, int $time): array
    {
        $row = $this->row('curve', $curve);
        $old = $this->curve($row);
        $rest = array_values(
            array_filter(
                array_map($old->keyframe(...), array_keys($old->times)),
                static fn (Keyframe $k): bool => $k->time !== $time,
            ),
        );
        if (count($rest) === $old->count()) {
            throw InvalidValue::because('time', 'There is no keyframe at this time.');
        }

        return $rest === []
            ? [Changes::delete('curve', $curve)]
            : $this->reshape(
                $curve,
                $old,
                Curve::of($rest),
                Schema::properties((string) $row['ownerKind'])->named((string) $row['property']),
            );
    }

    /**
     * Moves keyframes of any values together: along the time, spread about a time by a factor, and by an amount of
     * their value. What stands where one comes to gives way.
     *
     * @param  list<array{curve: string, t: int}>  $keys
     * @param  int  $by  flicks
     * @param  float  $factor  1 leaves them as far from `about` as they are
     * @param  float  $rise  added to each value, as far as its range goes; nothing to what does not mix
     * @return list<Change>
     */
    public function moveKeys(array $keys, int $by, float $factor = 1.0, int $about = 0, float $rise = 0.0): array
    {
        if (! is_finite($factor) || $factor <= 0 || $factor > 1000) {
            throw InvalidValue::because('factor', 'Keyframes are spread by a factor above 0, up to 1,000.');
        }
        $changes = [];
        foreach ($this->byCurve($keys) as $id => $times) {
            [$old, $property, $chosen, $others] = $this->parted((string) $id, $times);
            $moved = [];
            foreach ($chosen as $key) {
                $to = $this->onGrid((int) round($about + ($key->time - $about) * $factor) + $by);
                $value = $property->type->mixes()
                    ? max($property->min, min($property->max, $key->value + $rise))
                    : $key->value;
                $moved[$to] = Keyframe::of($to, $value, $key->interpolation, $key->handles);
            }
            $kept = array_filter($others, static fn (Keyframe $key): bool => ! isset($moved[$key->time]));
            array_push(
                $changes,
                ...$this->reshape(
                    (string) $id,
                    $old,
                    Curve::of([...array_values($kept), ...array_values($moved)]),
                    $property,
                ),
            );
        }

        return $changes;
    }

    /**
     * Gives keyframes of any values what is typed, each from what it is: +5, -=5, −10%, *2; or 0. Kept within their ranges.
     *
     * @param  list<array{curve: string, t: int}>  $keys
     * @param  string  $text  as Arithmetic::evaluate() reads it, in the unit in which each value is shown
     * @return list<Change>
     */
    public function valueKeys(array $keys, string $text): array
    {
        $changes = [];
        foreach ($this->byCurve($keys) as $id => $times) {
            [$old, $property, $chosen, $others] = $this->parted((string) $id, $times);
            if (! $property->type->mixes()) {
                throw InvalidValue::because(
                    'keys',
                    "$property->label changes in steps: it is no number to calculate with.",
                );
            }
            $set = array_map(static function (Keyframe $key) use ($property, $text): Keyframe {
                try {
                    $value =
                        Arithmetic::evaluate($text, $property->unit, $key->value * $property->scale) / $property->scale;
                } catch (ArithmeticError $error) {
                    throw InvalidValue::because('text', $error->getMessage());
                }

                return Keyframe::of(
                    $key->time,
                    max($property->min, min($property->max, $value)),
                    $key->interpolation,
                    $key->handles,
                );
            }, $chosen);
            array_push($changes, ...$this->reshape((string) $id, $old, Curve::of([...$others, ...$set]), $property));
        }

        return $changes;
    }

    /**
     * Says how keyframes leave for the next, and for a Bézier by which handles; those lie within what they may.
     *
     * @param  list<array{curve: string, t: int}>  $keys
     * @param  array{float, float, float, float}|null  $handles  shares of the time and of the way, of both; null
     *     leaves them
     * @return list<Change>
     */
    public function shapeKeys(array $keys, string $way, ?array $handles = null): array
    {
        $interpolation =
            Interpolation::tryFrom($way) ??
            throw InvalidValue::notOneOf('way', $way, array_column(Interpolation::cases(), 'value'));
        $kept =
            $handles === null
                ? null
                : array_map(
                    static fn (float $h, int $i): float => $i % 2 === 0
                        ? max(0.0, min(1.0, $h))
                        : max(-10.0, min(10.0, $h)),
                    $handles,
                    array_keys($handles),
                );
        $changes = [];
        foreach ($this->byCurve($keys) as $id => $times) {
            [$old, $property, $chosen, $others] = $this->parted((string) $id, $times);
            if (! $property->type->mixes() && $interpolation !== Interpolation::Step) {
                throw InvalidValue::because(
                    'way',
                    "$property->label changes in steps; there is nothing between its values.",
                );
            }
            $shaped = array_map(
                static fn (Keyframe $key): Keyframe => Keyframe::of(
                    $key->time,
                    $key->value,
                    $interpolation,
                    $kept === null ? $key->handles : [$kept[0], $kept[1], $kept[2], $kept[3]],
                ),
                $chosen,
            );
            array_push($changes, ...$this->reshape((string) $id, $old, Curve::of([...$others, ...$shaped]), $property));
        }

        return $changes;
    }

    /**
     * @param  list<array{curve: string, t: int}>  $keys
     * @return list<Change> curves go with their last keyframe
     */
    public function dropKeys(array $keys): array
    {
        $changes = [];
        foreach ($this->byCurve($keys) as $id => $times) {
            [$old, $property, , $others] = $this->parted((string) $id, $times);
            array_push(
                $changes,
                ...$others === []
                    ? [Changes::delete('curve', (string) $id)]
                    : $this->reshape((string) $id, $old, Curve::of($others), $property),
            );
        }

        return $changes;
    }

    /**
     * Copies of keyframes at a time: the earliest stands there, the others as far from it as they are. What stands
     * there gives way.
     *
     * @param  list<array{curve: string, t: int}>  $keys
     * @param  string|null  $layer  whose values of the same names get them; null for their own
     * @return list<Change>
     */
    public function pasteKeys(array $keys, int $time, ?string $layer = null): array
    {
        $chosen = [];
        foreach ($this->byCurve($keys) as $id => $times) {
            $chosen[$id] = [$this->row('curve', (string) $id), $this->parted((string) $id, $times)[2]];
        }
        $earliest = min(
            array_map(
                static fn (array $one): int => min(array_map(static fn (Keyframe $k): int => $k->time, $one[1])),
                $chosen,
            ),
        );
        $by = $this->onGrid($time) - $earliest;
        if ($layer !== null) {
            $this->row('layer', $layer);
        }
        $changes = [];
        foreach ($chosen as [$row, $some]) {
            [$kind, $owner] =
                $layer === null
                    ? [(string) $row['ownerKind'], (string) $row['owner']]
                    : $this->counterpart($row, $layer);
            $address = Address::of($kind, $owner, (string) $row['property'], (int) ($row['slot'] ?? 0));
            $property = Schema::properties($kind)->named($address->property);
            $fresh = [];
            foreach ($some as $key) {
                $to = max(0, $key->time + $by);
                $fresh[$to] = Keyframe::of($to, $key->value, $key->interpolation, $key->handles);
            }
            $id = $this->curveOf($address);
            if ($id === null) {
                $changes[] = Changes::create('curve', ($this->newId)(), [
                    'ownerKind' => $kind,
                    'owner' => $address->id,
                    'property' => $address->property,
                    'slot' => $address->slot,
                    'keyframes' => Curve::of(array_values($fresh))->toRows($property),
                ]);

                continue;
            }
            $old = $this->curve($this->row('curve', $id));
            $kept = array_filter(
                array_map($old->keyframe(...), array_keys($old->times)),
                static fn (Keyframe $key): bool => ! isset($fresh[$key->time]),
            );
            array_push(
                $changes,
                ...$this->reshape($id, $old, Curve::of([...array_values($kept), ...array_values($fresh)]), $property),
            );
        }

        return $changes;
    }

    /**
     * What takes the keyframes of a curve on another layer: that layer, or the first of its effects that is the same.
     *
     * @param  array<string, mixed>  $row  of the curve
     * @return array{string, string} kind and id
     */
    private function counterpart(array $row, string $layer): array
    {
        if ($row['ownerKind'] !== 'effect') {
            return ['layer', $layer];
        }
        $of = $this->show->programme->effect((string) $row['owner']);
        foreach ($of === null ? [] : $this->show->programme->effects($layer) as $use) {
            if (($use->stored['effect'] ?? null) === ($of->stored['effect'] ?? null)) {
                return ['effect', $use->id];
            }
        }
        throw InvalidValue::because(
            'layer',
            'This layer has no effect of the kind whose keyframes are pasted; add it first.',
        );
    }

    /**
     * @param  list<array{curve: string, t: int}>  $keys
     * @return non-empty-array<string, non-empty-array<int, true>> their times, by curve
     */
    private function byCurve(array $keys): array
    {
        $found = [];
        foreach ($keys as $key) {
            $found[$key['curve']][$key['t']] = true;
        }

        return $found !== [] && count($keys) <= self::MAX_KEYS
            ? $found
            : throw InvalidValue::because(
                'keys',
                'An order names 1 to '.number_format(self::MAX_KEYS).' keyframes.',
            );
    }

    /**
     * @param  non-empty-array<int, true>  $times
     * @return array{Curve, Property, non-empty-list<Keyframe>, list<Keyframe>} the curve, its property, those that
     *     are meant, and the others
     */
    private function parted(string $id, array $times): array
    {
        $row = $this->row('curve', $id);
        $old = $this->curve($row);
        [$chosen, $others] = [[], []];
        foreach (array_keys($old->times) as $i) {
            $key = $old->keyframe($i);
            isset($times[$key->time]) ? ($chosen[] = $key) : ($others[] = $key);
        }
        if ($chosen === [] || count($chosen) < count($times)) {
            throw InvalidValue::because('keys', 'There is no keyframe at one of these times.');
        }

        return [
            $old,
            Schema::properties((string) $row['ownerKind'])->named((string) $row['property']),
            $chosen,
            $others,
        ];
    }

    /**
     * Gives a timeline the tempo that taps mean.
     *
     * @param  list<int>  $taps  show times, flicks
     * @return list<Change>
     */
    public function tempo(string $timeline, array $taps): array
    {
        $row = $this->row('timeline', $timeline);
        $grid =
            BeatGrid::ofTaps($taps, (int) ($row['beats'] ?? 4)) ??
            throw InvalidValue::because('taps', 'A tempo takes at least two taps, of 20 to 400 beats a minute.');

        return Changes::update('timeline', $timeline, $row, ['bpm' => $grid->bpm, 'firstBeat' => $grid->first]);
    }

    /**
     * Changes places with the next layer of its timeline, above or below. Where layers share an order, all are
     * numbered anew.
     *
     * @return list<Change> none when there is no such layer
     */
    public function raise(string $layer, bool $up): array
    {
        $mine =
            $this->show->programme->layer($layer) ??
            throw InvalidValue::because('layer', 'This layer is not in the show.');
        $layers = $this->show->programme->timelines[$mine->timeline]->layers ?? [];
        $at = (int) array_search($mine, $layers, true);
        $with = $at + ($up ? 1 : -1);
        if (! isset($layers[$with])) {
            return [];
        }
        $orders = array_map(static fn (Layer $l): int => $l->order, $layers);
        if (count(array_unique($orders)) < count($orders)) {
            $orders = array_keys($layers);
        }
        [$layers[$at], $layers[$with]] = [$layers[$with], $layers[$at]];

        return array_merge(
            ...array_map(
                fn (Layer $l, int $order): array => Changes::update('layer', $l->id, $this->row('layer', $l->id), [
                    'order' => $order,
                ]),
                $layers,
                $orders,
            ),
        );
    }

    /**
     * Puts a layer right above another one of its timeline, or at the bottom.
     *
     * @param  string|null  $above  id; null for the bottom
     * @return list<Change>
     */
    public function reorder(string $layer, ?string $above): array
    {
        $mine =
            $this->show->programme->layer($layer) ??
            throw InvalidValue::because('layer', 'This layer is not in the show.');
        $others = array_values(
            array_filter(
                $this->show->programme->timelines[$mine->timeline]->layers ?? [],
                static fn (Layer $l): bool => $l->id !== $layer,
            ),
        );
        $at =
            $above === null ? 0 : array_search($above, array_map(static fn (Layer $l): string => $l->id, $others), true);
        if ($at === false) {
            throw InvalidValue::because('above', 'That layer is not on the same timeline.');
        }
        array_splice($others, $above === null ? 0 : $at + 1, 0, [$mine]);

        return array_merge(
            ...array_map(
                fn (Layer $l, int $order): array => Changes::update('layer', $l->id, $this->row('layer', $l->id), [
                    'order' => $order,
                ]),
                $others,
                array_keys($others),
            ),
        );
    }

    private static function number(Property $property, mixed $value): float
    {
        try {
            return $property->live($value);
        } catch (InvalidValue $refused) {
            throw InvalidValue::because('value', $refused->getMessage());
        }
    }

    /** @param  array<string, mixed>  $row */
    private function curve(array $row): Curve
    {
        $curve = Schema::named('curve')->build($row, []);

        return $curve instanceof StoredCurve
            ? $curve->curve()
            : throw InvalidValue::because('curve', 'This row holds no curve.');
    }

    /** @return list<Change> none when it is the same curve */
    private function reshape(string $id, Curve $old, Curve $curve, Property $property): array
    {
        if ($old == $curve) {
            return [];
        }
        $row = $this->row('curve', $id);
        $before = StoredCurve::rows($row['keyframes']);

        return Changes::update('curve', $id, ['keyframes' => $before], ['keyframes' => $curve->toRows($property)]);
    }
}

<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Curve;
use Core\Values\Keyframe;
use Core\Values\Property;

/**
 * What is done on a timeline by hand, as the changes of an Edit: clips placed and trimmed, keyframes put, moved and removed,
 * layers brought up and down. All times land on the show's frame grid.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class Programming
{
    /** How long a clip is whose media has no length of its own. */
    private const USUAL = 5 * Flicks::PER_SECOND;

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
     * Moves an edge of a clip. Its start goes no further than its media and its end allow, and at least a frame is left;
     * a media without a length of its own, such as a picture, sets no limit to the start.
     *
     * @param  string  $edge  start or end
     * @param  int  $to  show time, flicks
     * @return list<Change>
     */
    public function trim(string $clip, string $edge, int $to): array
    {
        $row = $this->row('clip', $clip);
        $frame = $this->show->rate->flicksPerFrame;
        [$start, $length, $in] = [(int) $row['start'], (int) $row['length'], (int) $row['in']];
        $to = $this->onGrid($to);
        if ($edge === 'end') {
            return Changes::update('clip', $clip, $row, ['length' => max($frame, $to - $start)]);
        }
        if ($edge !== 'start') {
            throw InvalidValue::notOneOf('edge', $edge, ['start', 'end']);
        }
        $media = $this->show->library->media[(string) $row['media']] ?? null;
        $still = $media !== null && $media->state === 'ready' && $media->frames <= 1;
        $max = min($length, $still || ! isset($row['out']) ? $length : (int) $row['out'] - $in) - $frame;
        $to = min($start + max(0, $max), max(0, $still ? 0 : $start - $in, $to));

        return Changes::update('clip', $clip, $row, ['start' => $to, 'length' => $length + $start - $to, 'in' => $still ? $in : $in + $to - $start]);
    }

    /**
     * Puts a media on a layer at a time, as long as it is; a timeline that is too short for it grows.
     *
     * @return array{list<Change>, string} and the id of the clip
     */
    public function place(string $media, string $layer, int $time): array
    {
        $item = $this->show->library->media[$media] ?? throw InvalidValue::because('media', 'This media is not in the show.');
        $on = $this->show->programme->layer($layer) ?? throw InvalidValue::because('layer', 'This layer is not in the show.');
        $frame = $this->show->rate->flicksPerFrame;
        $start = $this->onGrid($time);
        $length = $item->frames > 1 ? max($frame, $this->onGrid($item->frames * $item->flicksPerFrame)) : $this->show->rate->snap(self::USUAL);
        $id = ($this->newId)();
        $line = $this->show->programme->timelines[$on->timeline] ?? throw InvalidValue::because('layer', 'The timeline of this layer was removed.');
        $grow = $start + $length > $line->duration ? Changes::update('timeline', $line->id, $this->row('timeline', $line->id), ['duration' => $start + $length]) : [];

        return [[...$grow, Changes::create('clip', $id, ['layer' => $layer, 'media' => $media, 'start' => $start, 'length' => $length])], $id];
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

        return [[Changes::create('curve', $id, ['ownerKind' => $address->kind, 'owner' => $address->id, 'property' => $address->property, 'slot' => $address->slot, 'keyframes' => Curve::of([Keyframe::of($time, $number, $property->interpolation())])->toRows($property)])], $id];
    }

    /** The id of the curve that an address has; null where it has none. */
    public function curveOf(Address $address): ?string
    {
        return $this->curves["$address->id $address->property $address->slot"] ?? null;
    }

    /**
     * Moves a keyframe to another time and value; one that stands there gives way, and how it leaves for the next stays.
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
        $others = array_values(array_filter(array_map($old->keyframe(...), array_keys($old->times)), static fn (Keyframe $k): bool => $k->time !== $from && $k->time !== $to));

        return $this->reshape($curve, $old, Curve::of([...$others, Keyframe::of($to, self::number($property, $value), $kept->interpolation, $kept->handles)]), $property);
    }

    /** @return list<Change> the curve goes with its last keyframe */
    public function dropKey(string $curve, int $time): array
    {
        $row = $this->row('curve', $curve);
        $old = $this->curve($row);
        $rest = array_values(array_filter(array_map($old->keyframe(...), array_keys($old->times)), static fn (Keyframe $k): bool => $k->time !== $time));
        if (count($rest) === $old->count()) {
            throw InvalidValue::because('time', 'There is no keyframe at this time.');
        }

        return $rest === [] ? [Changes::delete('curve', $curve)] : $this->reshape($curve, $old, Curve::of($rest), Schema::properties((string) $row['ownerKind'])->named((string) $row['property']));
    }

    /**
     * Changes places with the next layer of its timeline, above or below. Where layers share an order, all are numbered anew.
     *
     * @return list<Change> none when there is no such layer
     */
    public function raise(string $layer, bool $up): array
    {
        $mine = $this->show->programme->layer($layer) ?? throw InvalidValue::because('layer', 'This layer is not in the show.');
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

        return array_merge(...array_map(fn (Layer $l, int $order): array => Changes::update('layer', $l->id, $this->row('layer', $l->id), ['order' => $order]), $layers, $orders));
    }

    private static function number(Property $property, mixed $value): float
    {
        try {
            return $property->live($value);
        } catch (InvalidValue $refused) {
            throw InvalidValue::because('value', $refused->getMessage());
        }
    }

    /** The nearest frame, none before the first. */
    private function onGrid(int $time): int
    {
        return max(0, $this->show->rate->snap($time + intdiv($this->show->rate->flicksPerFrame, 2)));
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return $this->document->rows[$kind][$id] ?? throw InvalidValue::because($kind, "This $kind is not in the show.");
    }

    /** @param  array<string, mixed>  $row */
    private function curve(array $row): Curve
    {
        $curve = Schema::named('curve')->build($row, []);

        return $curve instanceof StoredCurve ? $curve->curve() : throw InvalidValue::because('curve', 'This row holds no curve.');
    }

    /** @return list<Change> none when it is the same curve */
    private function reshape(string $id, Curve $old, Curve $curve, Property $property): array
    {
        if ($old == $curve) {
            return [];
        }
        $row = $this->row('curve', $id);
        $before = is_string($row['keyframes']) ? json_decode($row['keyframes'], true) : $row['keyframes'];

        return Changes::update('curve', $id, ['keyframes' => $before], ['keyframes' => $curve->toRows($property)]);
    }
}

<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\Flicks;
use Core\Units\Refused;
use Core\Values\Address;
use Core\Values\Curve;
use Core\Values\Keyframe;

/**
 * What is done on a timeline by hand, as the changes of an Edit: clips placed and trimmed, keyframes put, moved and removed,
 * layers brought up and down. All times land on the show's frame grid.
 *
 * @phpstan-type Change array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}
 */
final readonly class Programming
{
    /** How long a clip is whose media has no length of its own. */
    private const USUAL = 5 * Flicks::PER_SECOND;

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
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
            return $this->update('clip', $row, ['length' => max($frame, $to - $start)]);
        }
        if ($edge !== 'start') {
            throw Refused::notOneOf('edge', $edge, ['start', 'end']);
        }
        $media = $this->show->library->media[(string) $row['media']] ?? null;
        $still = $media !== null && $media->state === 'ready' && $media->frames <= 1;
        $most = min($length, $still || ! isset($row['out']) ? $length : (int) $row['out'] - $in) - $frame;
        $to = min($start + max(0, $most), max(0, $still ? 0 : $start - $in, $to));

        return $this->update('clip', $row, ['start' => $to, 'length' => $length + $start - $to, 'in' => $still ? $in : $in + $to - $start]);
    }

    /**
     * Puts a media on a layer at a time, as long as it is; a timeline that is too short for it grows.
     *
     * @return array{list<Change>, string} and the id of the clip
     */
    public function place(string $media, string $layer, int $time): array
    {
        $item = $this->show->library->media[$media] ?? throw Refused::because('media', 'This media is not in the show.');
        $on = $this->show->programme->layer($layer) ?? throw Refused::because('layer', 'This layer is not in the show.');
        $frame = $this->show->rate->flicksPerFrame;
        $start = $this->onGrid($time);
        $length = $item->frames > 1 ? max($frame, $this->onGrid($item->frames * $item->flicksPerFrame)) : $this->show->rate->snap(self::USUAL);
        $id = ($this->newId)();
        $line = $this->show->programme->timelines[$on->timeline] ?? throw Refused::because('layer', 'The timeline of this layer is gone.');
        $grow = $start + $length > $line->duration ? $this->update('timeline', $this->row('timeline', $line->id), ['duration' => $start + $length]) : [];

        return [[...$grow, self::create('clip', $id, ['layer' => $layer, 'media' => $media, 'start' => $start, 'length' => $length])], $id];
    }

    /**
     * Puts a value at a time of an address: what stands there gives way.
     *
     * @return array{list<Change>, string} and the id of the curve
     */
    public function key(Address $address, int $time, float $value): array
    {
        $property = Kinds::properties($address->kind)->named($address->property);
        $this->row($address->kind, $address->id);
        $time = $this->onGrid($time);
        foreach ($this->document->rows['curve'] ?? [] as $id => $row) {
            if ($row['owner'] === $address->id && $row['property'] === $address->property && (int) ($row['slot'] ?? 0) === $address->slot) {
                $old = $this->curve($row);

                return [$this->reshape((string) $id, $old, $old->with($time, $property->clamp($value))), (string) $id];
            }
        }
        $id = ($this->newId)();

        return [[self::create('curve', $id, ['ownerKind' => $address->kind, 'owner' => $address->id, 'property' => $address->property, 'slot' => $address->slot, 'keyframes' => Curve::of([Keyframe::of($time, $property->clamp($value))])->toRows()])], $id];
    }

    /**
     * Moves a keyframe to another time and value; one that stands there gives way, and how it leaves for the next stays.
     *
     * @return list<Change>
     */
    public function moveKey(string $curve, int $from, int $to, float $value): array
    {
        $row = $this->row('curve', $curve);
        $old = $this->curve($row);
        $at = array_search($from, $old->times, true);
        if (! is_int($at)) {
            throw Refused::because('from', 'There is no keyframe at this time.');
        }
        $property = Kinds::properties((string) $row['ownerKind'])->named((string) $row['property']);
        $to = $this->onGrid($to);
        $kept = $old->keyframe($at);
        $others = array_values(array_filter(array_map($old->keyframe(...), array_keys($old->times)), static fn (Keyframe $k): bool => $k->time !== $from && $k->time !== $to));

        return $this->reshape($curve, $old, Curve::of([...$others, Keyframe::of($to, $property->clamp($value), $kept->interpolation, $kept->handles)]));
    }

    /** @return list<Change> the curve goes with its last keyframe */
    public function dropKey(string $curve, int $time): array
    {
        $old = $this->curve($this->row('curve', $curve));
        $rest = array_values(array_filter(array_map($old->keyframe(...), array_keys($old->times)), static fn (Keyframe $k): bool => $k->time !== $time));
        if (count($rest) === $old->count()) {
            throw Refused::because('time', 'There is no keyframe at this time.');
        }

        return $rest === [] ? [['kind' => 'curve', 'id' => $curve, 'op' => 'delete', 'fields' => []]] : $this->reshape($curve, $old, Curve::of($rest));
    }

    /**
     * Changes places with the next layer of its timeline, above or below. Where layers share an order, all are numbered anew.
     *
     * @return list<Change> none when there is no such layer
     */
    public function raise(string $layer, bool $up): array
    {
        $mine = $this->show->programme->layer($layer) ?? throw Refused::because('layer', 'This layer is not in the show.');
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

        return array_merge(...array_map(fn (Layer $l, int $order): array => $this->update('layer', $this->row('layer', $l->id), ['order' => $order]), $layers, $orders));
    }

    /** The nearest frame, none before the first. */
    private function onGrid(int $time): int
    {
        return max(0, $this->show->rate->snap($time + intdiv($this->show->rate->flicksPerFrame, 2)));
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return $this->document->rows[$kind][$id] ?? throw Refused::because($kind, "This $kind is not in the show.");
    }

    /** @param  array<string, mixed>  $row */
    private function curve(array $row): Curve
    {
        $curve = Kinds::named('curve')->build($row, []);

        return $curve instanceof StoredCurve ? $curve->curve() : throw Refused::because('curve', 'This row holds no curve.');
    }

    /** @return list<Change> none when it is the same curve */
    private function reshape(string $id, Curve $old, Curve $curve): array
    {
        if ($old == $curve) {
            return [];
        }
        $row = $this->row('curve', $id);
        $before = is_string($row['keyframes']) ? json_decode($row['keyframes'], true) : $row['keyframes'];

        return [['kind' => 'curve', 'id' => $id, 'op' => 'update', 'fields' => ['keyframes' => ['before' => $before, 'after' => $curve->toRows()]]]];
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $fields
     * @return list<Change>
     */
    private function update(string $kind, array $row, array $fields): array
    {
        $changed = array_filter($fields, static fn (mixed $after, string $field): bool => ($row[$field] ?? null) !== $after, ARRAY_FILTER_USE_BOTH);

        return $changed === [] ? [] : [['kind' => $kind, 'id' => (string) $row['id'], 'op' => 'update', 'fields' => array_combine(array_keys($changed), array_map(static fn (mixed $after, string $field): array => ['before' => $row[$field] ?? null, 'after' => $after], $changed, array_keys($changed)))]];
    }

    /**
     * @param  array<string, mixed>  $fields
     * @return Change
     */
    private static function create(string $kind, string $id, array $fields): array
    {
        return ['kind' => $kind, 'id' => $id, 'op' => 'create', 'fields' => array_map(static fn (mixed $after): array => ['before' => null, 'after' => $after], $fields)];
    }
}

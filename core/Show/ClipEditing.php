<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Media\MediaItem;
use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Timeline\PastEnd;
use Core\Timeline\SpeedRamp;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;

/**
 * What is done to clips by hand, as the changes of an Edit. All times land on the show's frame grid. With ripple,
 * what lies later on the same layer moves along. Clips of locked layers are left alone, with a word.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class ClipEditing
{
    use OnGrid;

    /** Clips that one order may name. */
    public const MAX = 5000;

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
    }

    /**
     * Moves an edge of a clip. Its start goes no further than its media and its end allow, and at least a frame is
     * left; a media without a length of its own, such as a picture, sets no limit to the start.
     *
     * @param  string  $edge  start or end
     * @param  int  $to  show time, flicks
     * @return list<Change>
     */
    public function trim(string $clip, string $edge, int $to, bool $ripple = false): array
    {
        $row = $this->clip($clip);
        $frame = $this->show->rate->flicksPerFrame;
        [$start, $length] = [(int) $row['start'], (int) $row['length']];
        $to = $this->onGrid($to);
        if ($edge === 'end') {
            $new = max($frame, $to - $start);

            $changes = [
                ...Changes::update('clip', $clip, $row, ['length' => $new] + self::uncut($row, 'cutAfter')),
                ...$ripple
                    ? $this->shift((string) $row['layer'], $start + $length, $new - $length, [$clip => true])
                    : [],
            ];

            return [...$changes, ...$this->grown($changes)];
        }
        if ($edge !== 'start') {
            throw InvalidValue::notOneOf('edge', $edge, ['start', 'end']);
        }
        $built = $this->built($row);
        $still = $this->isStill($row);
        $ramp = $still ? null : $this->ramp($row, $built);
        $part =
            $still || ! isset($row['out']) || $built->pastEnd->repeats() || $ramp !== null
                ? $length
                : $built->lasting(max(0, (int) $row['out'] - $built->in - $built->offset));
        $max = min($length, intdiv($part + $frame - 1, $frame) * $frame) - $frame;
        $earliest = match (true) {
            $still => 0,
            $ramp !== null => $this->earliest($ramp, $start, $this->before($row, $built)),
            default => max(0, $start - $built->lasting($this->before($row, $built))),
        };
        // The first whole frame at which there is something to be shown.
        $earliest += ($frame - ($earliest % $frame)) % $frame;
        $to = min($start + max(0, $max), max(min($start, $earliest), $to));
        // With ripple, the start stays where it is and what follows comes nearer.
        $by = $to - $start;

        return [
            ...Changes::update(
                'clip',
                $clip,
                $row,
                ['start' => $ripple ? $start : $to, 'length' => $length - $by] +
                    self::uncut($row, 'cutBefore') +
                    ($still ? [] : $this->advanced($row, $built, $by)),
            ),
            ...$ripple
                ? [
                    ...$this->keysAlong($clip, -$by),
                    ...$this->shift((string) $row['layer'], $start + $length, -$by, [$clip => true]),
                ]
                : [],
        ];
    }

    /**
     * Moves clips along the timeline, and one step of layers up or down if wanted; none before the beginning.
     *
     * @param  list<string>  $clips
     * @param  string|null  $layer  onto which; null leaves each on its own
     * @return list<Change>
     */
    public function move(array $clips, int $by, ?string $layer = null, bool $ripple = false): array
    {
        $rows = array_map($this->clip(...), $this->few($clips));
        $earliest = min(array_map(static fn (array $row): int => (int) $row['start'], $rows));
        $by = max(-$earliest, $by >= 0 ? $this->onGrid($by) : -$this->onGrid(-$by));
        if ($layer !== null) {
            $this->unlocked($layer);
        }
        $changes = [];
        $moved = array_fill_keys($clips, true);
        foreach ($rows as $row) {
            $onto = $layer === null ? [] : ['layer' => $layer];
            array_push(
                $changes,
                ...Changes::update(
                    'clip',
                    (string) $row['id'],
                    $row,
                    ['start' => (int) $row['start'] + $by] + $onto + $this->parted($row, $moved),
                ),
                ...$this->keysAlong((string) $row['id'], $by),
            );
        }
        if ($ripple && $by !== 0) {
            foreach ($this->lastByLayer($rows) as $of => $end) {
                array_push($changes, ...$this->shift((string) $of, $end, $by, array_fill_keys($clips, true)));
            }
        }

        return [...$changes, ...$this->grown($changes)];
    }

    /**
     * What a clip shows of its media, moved along within it; the clip stays where it is.
     *
     * @param  int  $by  of the media, flicks; later for more
     * @return list<Change>
     */
    public function slip(string $clip, int $by): array
    {
        $row = $this->clip($clip);
        $item = $this->item($row);
        if ($item === null || $item->frames <= 1) {
            throw InvalidValue::because('clip', 'What has no frames can not be slipped.');
        }
        $in = (int) ($row['in'] ?? 0);
        $by = max(-$in, $by);
        $whole = $item->frames * $item->flicksPerFrame;
        $by = min($by, isset($row['out']) ? $whole - (int) $row['out'] : $whole - $item->flicksPerFrame - $in);

        return Changes::update(
            'clip',
            $clip,
            $row,
            ['in' => $in + max(-$in, $by)] + (isset($row['out']) ? ['out' => (int) $row['out'] + max(-$in, $by)] : []),
        );
    }

    /**
     * Cuts clips in two at a time: what is seen stays the same. Those that are not up then are left alone.
     *
     * @param  list<string>  $clips
     * @return array{list<Change>, list<string>} and the ids of the new ones
     */
    public function split(array $clips, int $time): array
    {
        $time = $this->onGrid($time);
        [$changes, $made] = [[], []];
        foreach (array_map($this->clip(...), $this->few($clips)) as $row) {
            [$start, $length] = [(int) $row['start'], (int) $row['length']];
            if ($time <= $start || $time >= $start + $length) {
                continue;
            }
            $id = ($this->newId)();
            $built = $this->built($row);
            // Within a fade, or where clips overlap, both go on over the cut; else each is by itself.
            $goesOn =
                $built->cutBefore + $built->cutAfter > 0 ||
                $this->goesOnOver((string) $row['id'], (string) $row['layer'], $built, $time);
            $first =
                ['length' => $time - $start] +
                ($goesOn
                    ? ['cutAfter' => $built->cutAfter + $start + $length - $time]
                    : ['fadeOut' => 0] + self::uncut($row, 'cutAfter'));
            $second = array_diff_key($row, ['id' => 0, 'showId' => 0]);
            $second = array_merge(
                $second,
                ['start' => $time, 'length' => $start + $length - $time] +
                    ($goesOn
                        ? [
                            'cutBefore' => $built->cutBefore +
                                $time -
                                $start +
                                ($this->hasEqualAbove((string) $row['id'], (string) $row['layer'], $built) ? 1 : 0),
                        ]
                        : ['fadeIn' => 0] + self::uncut($row, 'cutBefore')),
                $this->isStill($row) ? [] : $this->advanced($row, $built, $time - $start),
            );
            array_push(
                $changes,
                ...Changes::update('clip', (string) $row['id'], $row, $first),
                ...[Changes::create('clip', $id, $second)],
                ...$this->effects((string) $row['id'], $id, 0),
            );
            $made[] = $id;
        }
        if ($made === []) {
            throw InvalidValue::because('time', 'No clip is cut there; put the playhead within one.');
        }

        return [$changes, $made];
    }

    /**
     * An edge that is set anew goes on over no cut.
     *
     * @param  array<string, mixed>  $row
     * @return array<string, int>
     */
    private static function uncut(array $row, string $field): array
    {
        return (int) ($row[$field] ?? 0) === 0 ? [] : [$field => 0];
    }

    /**
     * Whether another clip that began at the same time lies over one: what is cut from that then counts as begun a
     * flick earlier.
     */
    private function hasEqualAbove(string $id, string $layer, Clip $clip): bool
    {
        foreach ($this->show->programme->layer($layer)->clips ?? [] as $use) {
            if ($use->id > $id && $use->clip->begin() === $clip->begin() && ! $use->clip->isCutFromSame($clip)) {
                return true;
            }
        }

        return false;
    }

    /** Whether a cut at a time lies within a fade of a clip, or where it overlaps another one. */
    private function goesOnOver(string $id, string $layer, Clip $clip, int $time): bool
    {
        $uses = $this->show->programme->layer($layer)->clips ?? [];
        $fades = MediaTrack::crossfades(array_column($uses, 'clip'));
        foreach ($uses as $i => $use) {
            $isOther = $use->id !== $id;
            [$begin, $in, $finish, $out] = $use->clip->fade($fades[$i]);
            if (! $isOther && ($time < $begin + $in || $time > $finish - $out)) {
                return true;
            }
            if ($isOther && $time >= $use->clip->start && $time <= $use->clip->end()) {
                return true;
            }
        }

        return false;
    }

    /**
     * Copies of clips at a time: the earliest starts there, the others as far from it as they are.
     *
     * @param  list<string>  $clips
     * @param  string|null  $layer  onto which all of them go; null for their own
     * @return array{list<Change>, list<string>} and the ids of the new ones
     */
    public function paste(array $clips, int $time, ?string $layer = null, bool $ripple = false): array
    {
        $rows = array_map(fn (string $id): array => ['id' => $id] + $this->row('clip', $id), $this->few($clips));
        $earliest = min(array_map(static fn (array $row): int => (int) $row['start'], $rows));
        $time = $this->onGrid($time);
        [$changes, $made, $room] = [[], [], []];
        foreach ($rows as $row) {
            $onto = $layer ?? (string) $row['layer'];
            $this->unlocked($onto);
            $id = ($this->newId)();
            $start = $time + (int) $row['start'] - $earliest;
            $changes[] = Changes::create(
                'clip',
                $id,
                array_merge(array_diff_key($row, ['id' => 0, 'showId' => 0]), ['start' => $start, 'layer' => $onto]),
            );
            array_push($changes, ...$this->effects((string) $row['id'], $id, $start - (int) $row['start']));
            $made[] = $id;
            $room[$onto] = max($room[$onto] ?? 0, $start + (int) $row['length'] - $time);
        }
        if ($ripple) {
            foreach ($room as $onto => $length) {
                array_push($changes, ...$this->shift((string) $onto, $time, $length, []));
            }
        }

        return [[...$changes, ...$this->grown($changes)], $made];
    }

    /**
     * Copies of clips, right after the last of them.
     *
     * @param  list<string>  $clips
     * @return array{list<Change>, list<string>} and the ids of the new ones
     */
    public function duplicate(array $clips, bool $ripple = false): array
    {
        $rows = array_map(fn (string $id): array => $this->row('clip', $id), $this->few($clips));

        return $this->paste(
            $clips,
            max(array_map(static fn (array $row): int => (int) $row['start'] + (int) $row['length'], $rows)),
            null,
            $ripple,
        );
    }

    /**
     * Takes clips out; with ripple, what follows moves up into the room that they leave.
     *
     * @param  list<string>  $clips
     * @return list<Change>
     */
    public function remove(array $clips, bool $ripple = false): array
    {
        $rows = array_map($this->clip(...), $this->few($clips));
        $changes = array_map(static fn (array $row): array => Changes::delete('clip', (string) $row['id']), $rows);
        if ($ripple) {
            $gone = array_fill_keys($clips, true);
            $by = [];
            foreach ($this->document->rows['clip'] ?? [] as $id => $other) {
                foreach ($rows as $row) {
                    if (
                        ! isset($gone[$id]) &&
                        $other['layer'] === $row['layer'] &&
                        (int) $other['start'] >= (int) $row['start'] + (int) $row['length']
                    ) {
                        $by[$id] = ($by[$id] ?? 0) + (int) $row['length'];
                    }
                }
            }
            foreach ($by as $id => $less) {
                $other = $this->row('clip', (string) $id);
                $to = max(0, (int) $other['start'] - $less);
                array_push(
                    $changes,
                    ...Changes::update('clip', (string) $id, $other, ['start' => $to]),
                    ...$this->keysAlong((string) $id, $to - (int) $other['start']),
                );
            }
        }

        return $changes;
    }

    /**
     * Another media in a clip's place: where it stands, how long it is, its fades and values stay.
     *
     * @return list<Change>
     */
    public function replace(string $clip, string $media): array
    {
        $row = $this->clip($clip);
        $item =
            $this->show->library->media[$media] ??
            throw InvalidValue::because('media', 'This media is not in the show.');
        $whole = $item->frames > 1 ? $item->frames * $item->flicksPerFrame : null;
        $in = (int) ($row['in'] ?? 0);
        $out = isset($row['out']) ? (int) $row['out'] : null;
        // A part that the new one does not have is given up.
        $fits = $whole === null || ($in < $whole && ($out === null || $out <= $whole));

        return Changes::update(
            'clip',
            $clip,
            $row,
            ['media' => $media] + ($fits ? [] : ['in' => 0, 'out' => null, 'offset' => 0]),
        );
    }

    /**
     * Another speed; with stretch, the clip gets as long as what it shows takes then.
     *
     * @return list<Change>
     */
    public function speed(string $clip, float $speed, bool $stretch = false, bool $ripple = false): array
    {
        $row = $this->clip($clip);
        $built = $this->built($row);
        $new = $this->built(array_merge($row, ['speed' => $speed]));
        $length = $stretch
            ? max($this->show->rate->flicksPerFrame, $this->onGrid($new->lasting($built->within($built->length))))
            : $built->length;
        $changes = Changes::update('clip', $clip, $row, ['speed' => $new->speed(), 'length' => $length]);

        return [
            ...$changes,
            ...$ripple
                ? $this->shift((string) $row['layer'], $built->end(), $length - $built->length, [$clip => true])
                : [],
            ...$this->grown($changes),
        ];
    }

    /**
     * The effects of a clip for another one, with their keyframes so much later.
     *
     * @return list<Change>
     */
    private function effects(string $of, string $for, int $by): array
    {
        $changes = [];
        foreach ($this->show->programme->effects($of) as $use) {
            $id = ($this->newId)();
            $changes[] = Changes::create(
                'effect',
                $id,
                ['clip' => $for] + array_diff_key($this->row('effect', $use->id), ['id' => 0, 'showId' => 0]),
            );
            foreach ($this->show->programme->curves[$use->id] ?? [] as $curve) {
                $changes[] = Changes::create('curve', ($this->newId)(), [
                    'ownerKind' => 'effect',
                    'owner' => $id,
                    'property' => $curve->property->name,
                    'slot' => $curve->address->slot,
                    'keyframes' => self::shifted($curve, $by),
                ]);
            }
        }

        return $changes;
    }

    /**
     * Fields of what a clip shows when it starts so much later, in show time: the same picture at the same moment.
     *
     * @param  array<string, mixed>  $row
     * @return array<string, int|null>
     */
    private function advanced(array $row, Clip $built, int $by): array
    {
        $passed =
            $this->ramp($row, $built)?->passed($built->start, $built->start + $by) ??
            ($by >= 0 ? $built->within($by) : -$built->within(-$by));
        $item = $this->item($row);
        if ($item !== null && $item->frames > 1 && $built->pastEnd->repeats()) {
            [, $count] = $built->range($item->flicksPerFrame, $item->frames);
            $round = ($built->pastEnd === PastEnd::Bounce ? max(1, 2 * ($count - 1)) : $count) * $item->flicksPerFrame;

            return ['offset' => ((($built->offset + $passed) % $round) + $round) % $round];
        }
        // First what is past as if it had begun earlier, then the part itself.
        $offset = max(0, $built->offset + $passed);
        if ($built->offset > 0 && $built->offset + $passed >= 0) {
            return ['offset' => $offset];
        }
        $passed += $built->offset;
        $rest = $built->offset > 0 ? ['offset' => 0] : [];
        $whole = $item === null || $item->frames <= 1 ? PHP_INT_MAX : $item->frames * $item->flicksPerFrame;
        $out = isset($row['out']) ? (int) $row['out'] : $whole;
        // Past what there is, it holds its last frame, or is dark.
        if ($built->isBackwards()) {
            return $rest + ($out - $passed > $built->in ? ['out' => $out - $passed] : ['offset' => $passed]);
        }

        return $rest + ($built->in + $passed < $out ? ['in' => max(0, $built->in + $passed)] : ['offset' => $passed]);
    }

    /**
     * How the speed of a clip's layer moves; null where it does not count.
     *
     * @param  array<string, mixed>  $row
     */
    private function ramp(array $row, Clip $built): ?SpeedRamp
    {
        return SpeedRamp::of(
            $built,
            $this->show->programme->layer((string) $row['layer'])?->speed(),
            $this->show->rate->flicksPerFrame,
        );
    }

    /**
     * The earliest time, frame by frame, at which a clip may start so that no more has passed until a time than there
     * is.
     */
    private function earliest(SpeedRamp $ramp, int $start, int $there): int
    {
        $frame = $this->show->rate->flicksPerFrame;
        [$low, $high] = [0, intdiv($start, $frame)];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            abs($ramp->passed($start - $middle * $frame, $start)) <= $there ? ($low = $middle) : ($high = $middle - 1);
        }

        return $start - $low * $frame;
    }

    /**
     * How much of the media there is before what a clip begins with, flicks.
     *
     * @param  array<string, mixed>  $row
     */
    private function before(array $row, Clip $built): int
    {
        if ($built->pastEnd->repeats()) {
            return Flicks::MAX;
        }
        $item = $this->item($row);

        return $built->offset +
            ($built->isBackwards()
                ? (isset($row['out']) && $item !== null
                    ? max(0, $item->frames * $item->flicksPerFrame - (int) $row['out'])
                    : 0)
                : $built->in);
    }

    /**
     * What begins on a layer at a time or after it, moved along; none before the beginning.
     *
     * @param  array<string, true>  $without  ids
     * @return list<Change>
     */
    private function shift(string $layer, int $from, int $by, array $without): array
    {
        $changes = [];
        foreach ($by === 0 ? [] : $this->document->rows['clip'] ?? [] as $id => $row) {
            if ($row['layer'] === $layer && (int) $row['start'] >= $from && ! isset($without[$id])) {
                $to = max(0, (int) $row['start'] + $by);
                array_push(
                    $changes,
                    ...Changes::update('clip', (string) $id, $row, ['start' => $to]),
                    ...$this->keysAlong((string) $id, $to - (int) $row['start']),
                );
            }
        }

        return $changes;
    }

    /**
     * What of a clip that was cut goes on over the cut no more, where it moves without what it was cut from.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, true>  $moved  ids of all that move along
     * @return array<string, int>
     */
    private function parted(array $row, array $moved): array
    {
        $fields = [];
        foreach (['cutBefore' => 'start', 'cutAfter' => 'end'] as $field => $edge) {
            if ((int) ($row[$field] ?? 0) === 0) {
                continue;
            }
            $at = (int) $row['start'] + ($edge === 'end' ? (int) $row['length'] : 0);
            foreach (array_keys($moved) as $id) {
                $other = $this->document->rows['clip'][$id] ?? null;
                if (
                    $other !== null &&
                    $other['layer'] === $row['layer'] &&
                    $at === (int) $other['start'] + ($edge === 'start' ? (int) $other['length'] : 0)
                ) {
                    continue 2;
                }
            }
            $fields[$field] = 0;
        }

        return $fields;
    }

    /**
     * Keyframes of a clip's own effects go where it goes.
     *
     * @return list<Change>
     */
    private function keysAlong(string $clip, int $by): array
    {
        $effects = $by === 0 ? [] : array_fill_keys(array_column($this->show->programme->effects($clip), 'id'), true);
        $changes = [];
        foreach ($effects === [] ? [] : $this->document->rows['curve'] ?? [] as $id => $row) {
            $curve = isset($effects[$row['owner']])
                ? $this->show->programme->curves[$row['owner']][
                        Address::valueOf((string) $row['property'], (int) ($row['slot'] ?? 0))
                    ] ?? null
                : null;
            if ($curve !== null) {
                array_push(
                    $changes,
                    ...Changes::update(
                        'curve',
                        (string) $id,
                        ['keyframes' => StoredCurve::rows($row['keyframes'])],
                        ['keyframes' => self::shifted($curve, $by)],
                    ),
                );
            }
        }

        return $changes;
    }

    /**
     * @return list<array<string, mixed>> keyframes of a curve so much later; what would lie before the beginning is
     *     where it is there
     */
    private static function shifted(StoredCurve $stored, int $by): array
    {
        $curve = $stored->curve();
        $keys = array_map(
            static fn (array $key): array => ['t' => (int) $key['t'] + $by] + $key,
            $curve->toRows($stored->property),
        );
        $kept = array_values(array_filter($keys, static fn (array $key): bool => $key['t'] >= 0));
        $before =
            count($keys) > count($kept) && ($kept[0]['t'] ?? 1) > 0
                ? [['t' => 0, 'v' => $stored->property->format($curve->at(-$by))]]
                : [];

        return [...$before, ...$kept];
    }

    /**
     * Timelines that are too short for what is put on them, as long as it takes.
     *
     * @param  list<Change>  $changes
     * @return list<Change>
     */
    private function grown(array $changes): array
    {
        $ends = [];
        foreach ($changes as $change) {
            if ($change['kind'] === 'clip' && $change['op'] !== 'delete') {
                $row = Changes::into(
                    $this->document->rows['clip'][$change['id']] ?? [],
                    array_map(static fn (array $pair): mixed => $pair['after'] ?? null, $change['fields']),
                );
                $timeline = $this->show->programme->layer((string) ($row['layer'] ?? ''))?->timeline;
                $timeline === null ||
                    ($ends[$timeline] = max($ends[$timeline] ?? 0, (int) $row['start'] + (int) $row['length']));
            }
        }
        $grown = [];
        foreach ($ends as $id => $end) {
            $line = $this->show->programme->timelines[$id] ?? null;
            if ($line !== null && $end > $line->duration) {
                array_push(
                    $grown,
                    ...Changes::update('timeline', (string) $id, $this->row('timeline', (string) $id), [
                        'duration' => $end,
                    ]),
                );
            }
        }

        return $grown;
    }

    /**
     * @param  list<array<string, mixed>>  $rows
     * @return array<string, int> where the last of them ends, by layer
     */
    private function lastByLayer(array $rows): array
    {
        $ends = [];
        foreach ($rows as $row) {
            $ends[(string) $row['layer']] = max(
                $ends[(string) $row['layer']] ?? 0,
                (int) $row['start'] + (int) $row['length'],
            );
        }

        return $ends;
    }

    /** @return array<string, mixed> of a clip on a layer that is not locked */
    private function clip(string $id): array
    {
        $row = $this->row('clip', $id);
        $this->unlocked((string) $row['layer']);

        return ['id' => $id] + $row;
    }

    private function unlocked(string $layer): void
    {
        $row = $this->row('layer', $layer);
        if ((bool) ($row['locked'] ?? false)) {
            throw InvalidValue::because('layer', "$row[name] is locked; unlock it to change its clips.");
        }
    }

    /**
     * @param  list<string>  $clips
     * @return non-empty-list<string>
     */
    private function few(array $clips): array
    {
        $clips = array_values(array_unique($clips));

        return $clips !== [] && count($clips) <= self::MAX
            ? $clips
            : throw InvalidValue::because('clips', 'An order names 1 to '.number_format(self::MAX).' clips.');
    }

    /** @param  array<string, mixed>  $row */
    private function built(array $row): Clip
    {
        $use = Schema::named('clip')->build($row, []);

        return $use instanceof ClipUse ? $use->clip : throw InvalidValue::because('clip', 'This row holds no clip.');
    }

    /** @param  array<string, mixed>  $row */
    private function item(array $row): ?MediaItem
    {
        return $this->show->library->media[(string) $row['media']] ?? null;
    }

    /** @param  array<string, mixed>  $row */
    private function isStill(array $row): bool
    {
        $item = $this->item($row);

        return $item !== null && $item->state === 'ready' && $item->frames <= 1;
    }
}

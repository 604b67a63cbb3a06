<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Mat3;
use Core\Light\SurfaceChart;
use Core\Output\EyeMatch;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Units\InvalidValue;

/**
 * What is done to regions that lie beside one another on a surface, as the changes of an Edit: taken into groups, made
 * to overlap by a measure, faded where they do.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class RegionEditing
{
    /** In what an overlap is measured: pixels of the raster, a share of the narrower region, or on the surface. */
    public const UNITS = ['px', '%', 'mm'];

    private const MOST = 2000;

    public function __construct(private Show $show, private Document $document)
    {
    }

    /**
     * Regions in a group of their own, which lies where all of them were.
     *
     * @param  list<string>  $regions
     * @param  string  $id  of the group
     * @return list<Change>
     */
    public function group(array $regions, string $name, string $id): array
    {
        $parents = array_map(fn (string $region): ?string => $this->groupOf($region), $regions);
        $parent = count(array_unique($parents)) === 1 ? $parents[0] : null;
        $orders = array_column($this->document->rows['regionGroup'] ?? [], 'order');

        return [
            Changes::create('regionGroup', $id, [
                'name' => $name,
                'parent' => $parent,
                'order' => $orders === [] ? 0 : max($orders) + 1,
            ]),
            ...$this->intoGroup($regions, $id),
        ];
    }

    /**
     * Regions taken into a group, or out of all.
     *
     * @param  list<string>  $regions
     * @param  string|null  $group  null for none
     * @return list<Change>
     */
    public function gather(array $regions, ?string $group): array
    {
        $group === null || $this->groupRow($group);

        return $this->intoGroup($regions, $group);
    }

    /**
     * A group taken into another, or out of all.
     *
     * @return list<Change>
     *
     * @throws InvalidValue where it would lie in itself
     */
    public function nest(string $group, ?string $into): array
    {
        $row = $this->groupRow($group);
        for ($above = $into, $met = []; $above !== null && ! isset($met[$above]); $above = $this->parentOf($above)) {
            $met[$above] = true;
            if ($above === $group) {
                throw InvalidValue::because('into', "$row[name] can't lie in itself.");
            }
        }
        $into === null || $this->groupRow($into);

        return Changes::update('regionGroup', $group, $row, ['parent' => $into]);
    }

    /**
     * Two regions beside one another made to share so much of their surface: the sources of both grow or shrink by the
     * same, what they show stays where it is on their outputs, and their edges fade over what is shared.
     *
     * @param  float  $amount  how much, in one of the units
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public function overlap(string $one, string $other, float $amount, string $unit): array
    {
        [[$a], [$b]] = [$this->region($one), $this->region($other)];
        if ($a->surface !== $b->surface) {
            throw InvalidValue::because('regions', 'Regions that overlap are of one surface.');
        }
        if (! is_finite($amount) || $amount < 0) {
            throw InvalidValue::because('amount', 'An overlap is 0 or more.');
        }
        $axis = self::axis($a->source, $b->source);
        $isFirst = self::middle($a->source, $axis) <= self::middle($b->source, $axis);
        [$firstId, $first, $secondId, $second] = $isFirst ? [$one, $a, $other, $b] : [$other, $b, $one, $a];
        [, $end] = self::span($first->source, $axis);
        [$start] = self::span($second->source, $axis);
        $seam = ($end + $start) / 2;
        $shared = (int) round(
            match ($unit) {
                'px' => $amount,
                '%' => ($amount / 100) *
                    min(self::span($first->source, $axis)[2], self::span($second->source, $axis)[2]),
                'mm' => $amount * $this->pixelsPerMillimetre($first, $second, $axis, $seam),
                default => throw InvalidValue::notOneOf('unit', $unit, self::UNITS),
            },
        );
        $face = $this->show->venue->surfaces[$a->surface];
        $size = $axis === 0 ? $face->width() : $face->height();
        $to = (int) floor($seam + ($shared + 1) / 2);
        $from = $to - $shared;
        // At the surface's edge, the other one gives what this one can't.
        if ($to > $size) {
            [$from, $to] = [$from - ($to - $size), $size];
        }
        if ($from < 0) {
            [$from, $to] = [0, $to - $from];
        }
        $startOfFirst = self::span($first->source, $axis)[0];
        $endOfSecond = self::span($second->source, $axis)[1];
        if ($to > $size || $to - $startOfFirst < 1 || $endOfSecond - $from < 1 || $shared > $size) {
            throw InvalidValue::because(
                'amount',
                "They can't share $shared px: ".$face->name.' has '.$size.($axis === 0 ? ' across.' : ' down.'),
            );
        }

        return [
            ...$this->stretched($firstId, $first, $axis, $startOfFirst, $to, $axis === 0 ? 'right' : 'bottom', $shared),
            ...$this->stretched($secondId, $second, $axis, $from, $endOfSecond, $axis === 0 ? 'left' : 'top', $shared),
        ];
    }

    /**
     * Regions that take another part of their surfaces' pictures: where they go stays as it is, and the polygon that one is
     * cut to goes along. What is pixel for pixel, and not warped, stays pixel for pixel.
     *
     * @param  array<string, list<float|int>>  $sources  by region: left, top, width and height in pixels of the raster
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public function sources(array $sources): array
    {
        $changes = [];
        foreach ($sources as $id => $numbers) {
            [$region] = $this->region((string) $id);
            if (count($numbers) !== 4) {
                throw InvalidValue::because('source', 'A source is four numbers: left, top, width and height.');
            }
            [$x, $y, $w, $h] = array_map(static fn (float|int $v): int => (int) round($v), $numbers);
            Rect::of($x, $y, $w, $h);
            $row = $this->row((string) $id);
            $fields = ['source' => [$x, $y, $w, $h]];
            $s = $region->source;
            if (($w !== $s->width || $h !== $s->height) && ! ($region->isOneToOne() && ! $region->isWarped())) {
                // As large on the output as it was.
                $fields += ['width' => $region->place->width, 'height' => $region->place->height];
            }
            if ($region->polygon !== []) {
                $fields['polygon'] = [];
                foreach ($region->polygon as [$px, $py]) {
                    array_push(
                        $fields['polygon'],
                        max($x, min($x + $w, round($x + (($px - $s->x) * $w) / $s->width, 3))),
                        max($y, min($y + $h, round($y + (($py - $s->y) * $h) / $s->height, 3))),
                    );
                }
            }
            array_push($changes, ...Changes::update('region', (string) $id, $row, $fields));
        }

        return $changes;
    }

    /**
     * A piece of a surface that was drawn on its picture, on an output: as large as it is, in its middle.
     *
     * @param  list<float|int>  $source
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public function piece(string $surface, string $output, array $source, string $id): array
    {
        $face =
            $this->show->venue->surfaces[$surface] ??
            throw InvalidValue::because('surface', 'This surface is not in the show.');
        $on =
            $this->show->delivery->outputs[$output] ??
            throw InvalidValue::because('output', 'This output is not in the show.');
        if (count($source) !== 4) {
            throw InvalidValue::because('source', 'A source is four numbers: left, top, width and height.');
        }
        [$x, $y] = [max(0, (int) round($source[0])), max(0, (int) round($source[1]))];
        $w = min($face->width() - $x, (int) round($source[0] + $source[2]) - $x);
        $h = min($face->height() - $y, (int) round($source[1] + $source[3]) - $y);
        if ($w < 1 || $h < 1) {
            throw InvalidValue::because('source', "This piece leaves the picture of $face->name.");
        }

        return [
            Changes::create('region', $id, [
                'output' => $output,
                'surface' => $surface,
                'source' => [$x, $y, $w, $h],
                'x' => intdiv($on->width - $w, 2),
                'y' => intdiv($on->height - $h, 2),
            ]),
        ];
    }

    /**
     * Two halves of one patch, side by side where two regions meet: what each of them shows, so that they are compared by
     * eye.
     *
     * @return array<string, array{float, float, float, float}> by region: left, top, width and height in pixels of the
     *     surface's raster
     *
     * @throws InvalidValue
     */
    public function halves(string $one, string $other): array
    {
        [[$a], [$b]] = [$this->region($one), $this->region($other)];
        if ($a->surface !== $b->surface || $one === $other) {
            throw InvalidValue::because('regions', 'Two regions of one surface are compared.');
        }
        $axis = self::axis($a->source, $b->source);
        $isFirst = self::middle($a->source, $axis) <= self::middle($b->source, $axis);
        [$firstId, $first, $secondId, $second] = $isFirst ? [$one, $a, $other, $b] : [$other, $b, $one, $a];
        [$startOfFirst, $endOfFirst, $long] = self::span($first->source, $axis);
        [$startOfSecond, $endOfSecond, $short] = self::span($second->source, $axis);
        $seam = ($endOfFirst + $startOfSecond) / 2;
        [$to, $from] = [min($seam, (float) $endOfFirst), max($seam, (float) $startOfSecond)];
        $size = max(1.0, floor(min($long, $short) / 4));
        $aside = static function (Rect $own) use ($first, $second, $axis, $size): array {
            [$a, $b] = [self::span($first->source, 1 - $axis), self::span($second->source, 1 - $axis)];
            [$low, $high] = [max($a[0], $b[0]), min($a[1], $b[1])];
            // Where they have nothing in common, each in its own middle.
            [$low, $high] = $high > $low ? [$low, $high] : array_slice(self::span($own, 1 - $axis), 0, 2);
            $wide = min($size, (float) ($high - $low));

            return [($low + $high - $wide) / 2, $wide];
        };
        $half = static function (Rect $own, float $from, float $to) use ($axis, $aside): array {
            [$top, $wide] = $aside($own);

            return $axis === 0 ? [$from, $top, $to - $from, $wide] : [$top, $from, $wide, $to - $from];
        };

        return [
            $firstId => $half($first->source, max((float) $startOfFirst, $to - $size), $to),
            $secondId => $half($second->source, $from, min((float) $endOfSecond, $from + $size)),
        ];
    }

    /**
     * The output of a region brought to that of another one by eye.
     *
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public function eye(string $region, string $reference, float $brighter, float $warmer, float $greener): array
    {
        [[, $output], [, $other]] = [$this->region($region), $this->region($reference)];
        if ($output === $other) {
            throw InvalidValue::because('regions', 'Both leave by one output: there is nothing to be matched.');
        }
        $light = fn (string $id): array => array_map(
            fn (float $gain): float => $this->show->delivery->outputs[$id]->peak * $gain,
            $this->show->delivery->outputs[$id]->gain,
        );
        $present = $light($other);
        $made = EyeMatch::stepped($light($output), $present, $brighter, $warmer, $greener);
        $rows = $this->document->rows['output'];

        return [
            ...Changes::update('output', $output, $rows[$output], EyeMatch::fields($made->light)),
            ...$made->reference === $present
                ? []
                : Changes::update('output', $other, $rows[$other], EyeMatch::fields($made->reference)),
        ];
    }

    /**
     * Edges of regions faded where another of them overlaps, as far as it does; the others do not fade.
     *
     * @param  list<string>  $regions
     * @return list<Change>
     *
     * @throws InvalidValue where none overlap
     */
    public function fade(array $regions): array
    {
        if (count($regions) > self::MOST) {
            throw InvalidValue::because('regions', 'At most '.self::MOST.' regions are faded at once.');
        }
        $fades = [];
        $of = array_combine($regions, array_map(fn (string $id): Region => $this->region($id)[0], $regions));
        foreach ($of as $id => $region) {
            $fades[$id] ??= ['left' => 0, 'top' => 0, 'right' => 0, 'bottom' => 0];
            foreach ($of as $otherId => $other) {
                if ($id === $otherId || $region->surface !== $other->surface) {
                    continue;
                }
                $s = $region->source;
                $common = $s->overlap($other->source);
                // One that lies within another is not beside it.
                if ($common === null || $s->contains($other->source) || $other->source->contains($s)) {
                    continue;
                }
                $axis = self::axis($s, $other->source);
                $isFirst = self::middle($s, $axis) <= self::middle($other->source, $axis);
                $edge = $axis === 0 ? ($isFirst ? 'right' : 'left') : ($isFirst ? 'bottom' : 'top');
                $width = $axis === 0 ? $common->width : $common->height;
                $fades[$id][$edge] = max($fades[$id][$edge], $width);
            }
        }
        if (max([0, ...array_merge([], ...array_map(array_values(...), array_values($fades)))]) === 0) {
            throw InvalidValue::because(
                'regions',
                'None of these regions overlap on their surface; make them share some of it first.',
            );
        }
        $changes = [];
        foreach ($fades as $id => $widths) {
            $row = $this->row((string) $id);
            array_push(
                $changes,
                ...Changes::update('region', (string) $id, $row, ['blend' => $widths + (array) ($row['blend'] ?? [])]),
            );
        }

        return $changes;
    }

    /**
     * A region whose source ends elsewhere along an axis.
     *
     * @return list<Change>
     */
    private function stretched(
        string $id,
        Region $region,
        int $axis,
        int $start,
        int $end,
        string $edge,
        int $fade,
    ): array {
        if ($region->grid !== null) {
            throw InvalidValue::because(
                'regions',
                'A region that is bent keeps its source: unbend it, or set the fades of both.',
            );
        }
        $s = $region->source;
        $source = $axis === 0 ? [$start, $s->y, $end - $start, $s->height] : [$s->x, $start, $s->width, $end - $start];
        $row = $this->row($id);
        $fields = ['source' => $source, 'blend' => [$edge => $fade] + (array) ($row['blend'] ?? [])];
        if ($region->model === '') {
            $fields += $this->placed($region, $source, $row);
        }

        return Changes::update('region', $id, $row, $fields);
    }

    /**
     * Where a region of another source lies, so that all that it showed is where it was.
     *
     * @param  array{int, int, int, int}  $source
     * @param  array<string, mixed>  $row
     * @return array<string, mixed> fields
     */
    private function placed(Region $region, array $source, array $row): array
    {
        [$x, $y, $w, $h] = $source;
        $unit = $region->unit();
        $place = $region->place;
        $flat = Mat3::rectangle($place->x, $place->y, $place->width, $place->height)->times($unit);
        [$p, $q] = [$flat->point($x, $y), $flat->point($x + $w, $y + $h)];
        [$left, $top] = [(int) round(min($p[0], $q[0])), (int) round(min($p[1], $q[1]))];
        [$width, $height] = [(int) round(abs($q[0] - $p[0])), (int) round(abs($q[1] - $p[1]))];
        $isOneToOne = ($row['width'] ?? 0) === 0 && ($row['height'] ?? 0) === 0 && $region->isOneToOne();
        $fields = ['x' => $left, 'y' => $top] + ($isOneToOne ? [] : ['width' => $width, 'height' => $height]);
        if ($region->pin === []) {
            return $fields;
        }
        // Its corners go on as they are pinned.
        $pinned = $region->pinned();
        $back = $flat->inverse() ?? Mat3::identity();
        $pin = [];
        foreach ([[0, 0], [1, 0], [1, 1], [0, 1]] as [$i, $j]) {
            $corner = [$left + $i * $width, $top + $j * $height];
            $onRaster = $back->point(...$corner);
            $lands = $pinned->point(...$unit->point(...$onRaster));
            array_push($pin, $lands[0] - $corner[0], $lands[1] - $corner[1]);
        }

        return $fields + ['pin' => $pin];
    }

    /** Pixels of the raster in a millimetre of the surface, across the seam of two regions. */
    private function pixelsPerMillimetre(Region $one, Region $other, int $axis, float $seam): float
    {
        $face = $this->show->venue->surfaces[$one->surface];
        $along = (self::middle($one->source, 1 - $axis) + self::middle($other->source, 1 - $axis)) / 2;
        $chart = SurfaceChart::of($face, $this->show->venue->world($one->surface));
        [$width, $height] = [$face->width(), $face->height()];
        $at = static function (float $on) use ($chart, $axis, $along, $width, $height): ?array {
            [$x, $y] = $axis === 0 ? [$on, $along] : [$along, $on];

            return $chart->place($x / $width, $y / $height);
        };
        $step = min(0.5, $seam / 2, (($axis === 0 ? $width : $height) - $seam) / 2);
        [$from, $to] = [$at($seam - $step), $at($seam + $step)];
        $metres =
            $from === null || $to === null
                ? 0.0
                : sqrt(($to[0] - $from[0]) ** 2 + ($to[1] - $from[1]) ** 2 + ($to[2] - $from[2]) ** 2);
        if ($metres <= 0.0) {
            throw InvalidValue::because(
                'unit',
                "Nobody knows how large a pixel of $face->name is there: give it in px.",
            );
        }

        return (2 * $step) / ($metres * 1000);
    }

    /**
     * Along which axis two sources lie beside one another, 0 across or 1 down: that in which they have less in common,
     * as a share of the shorter one.
     */
    private static function axis(Rect $one, Rect $other): int
    {
        $common = static function (int $axis) use ($one, $other): float {
            [$a, $b] = [self::span($one, $axis), self::span($other, $axis)];

            return (min($a[1], $b[1]) - max($a[0], $b[0])) / min($a[2], $b[2]);
        };
        $apart = static fn (int $axis): float => abs(self::middle($one, $axis) - self::middle($other, $axis));

        return match ($common(0) <=> $common(1)) {
            -1 => 0,
            1 => 1,
            default => $apart(0) >= $apart(1) ? 0 : 1,
        };
    }

    private static function middle(Rect $of, int $axis): float
    {
        [$from, $to] = self::span($of, $axis);

        return ($from + $to) / 2;
    }

    /** @return array{int, int, int} where it begins and ends along an axis, and its length */
    private static function span(Rect $of, int $axis): array
    {
        return $axis === 0 ? [$of->x, $of->x + $of->width, $of->width] : [$of->y, $of->y + $of->height, $of->height];
    }

    /**
     * @param  list<string>  $regions
     * @return list<Change>
     */
    private function intoGroup(array $regions, ?string $group): array
    {
        return array_merge(
            [],
            ...array_map(
                fn (string $id): array => Changes::update('region', $id, $this->row($id), ['group' => $group]),
                $regions,
            ),
        );
    }

    private function groupOf(string $region): ?string
    {
        $group = $this->row($region)['group'] ?? null;

        return isset($this->document->rows['regionGroup'][$group ?? '']) ? (string) $group : null;
    }

    private function parentOf(string $group): ?string
    {
        return $this->document->rows['regionGroup'][$group]['parent'] ?? null;
    }

    /** @return array<string, mixed> */
    private function groupRow(string $id): array
    {
        return $this->document->rows['regionGroup'][$id] ??
            throw InvalidValue::because('group', 'This group is not in the show.');
    }

    /** @return array{Region, string} and its output */
    private function region(string $id): array
    {
        return $this->show->delivery->region($id) ??
            throw InvalidValue::because('regions', 'This region is not in the show.');
    }

    /** @return array<string, mixed> */
    private function row(string $id): array
    {
        return $this->document->rows['region'][$id] ??
            throw InvalidValue::because('regions', 'This region is not in the show.');
    }
}

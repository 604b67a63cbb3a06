<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Bindings\LayerControl;
use Core\Bindings\Personality;
use Core\Light\Beam;
use Core\Light\SurfaceChart;
use Core\Output\BezierGrid;
use Core\Output\FedProjector;
use Core\Output\Output;
use Core\Output\Packing;
use Core\Output\Rect;
use Core\Output\Region;
use Core\PixelMap\Addressing;
use Core\PixelMap\Universes;
use Core\PixelMap\Wiring;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * What is done to outputs by hand, as the changes of an Edit: surfaces put on them and packed, an output split,
 * regions fitted, pinned, bent, moved together and reset.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class OutputEditing
{
    public const ORDERS = [
        'put',
        'pack',
        'split',
        'fit',
        'pin',
        'line',
        'bend',
        'together',
        'copy',
        'reset',
        'match',
        'points',
        'found',
        'project',
        'paint',
        'patch',
        'console',
        'group',
        'gather',
        'nest',
        'overlap',
        'fade',
        'eye',
        'sources',
        'piece',
    ];

    /**
     * How lights are addressed one after another: without a gap, each in a universe of its own, or so many universes
     * apart.
     */
    public const RULES = ['pack', 'new universe', 'every'];

    public const RESETS = ['pin', 'bend', 'blend', 'model', 'all'];

    private const BENT = ['columns' => [], 'rows' => [], 'points' => []];

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
    }

    /**
     * Surfaces on an output, each wholly and one to one, where there is room; what finds none, at its top left.
     *
     * @param  list<string>  $surfaces
     * @return array{list<Change>, string|null} and the id of the first region
     */
    public function put(string $output, array $surfaces): array
    {
        $on = $this->output($output);
        $items = [];
        foreach ($surfaces as $id) {
            $surface =
                $this->show->venue->surfaces[$id] ??
                throw InvalidValue::because('surfaces', 'This surface is not in the show.');
            $items[$id] = [$surface->width(), $surface->height()];
        }
        $taken = array_values(
            array_map(static fn (Region $r): Rect => $r->place, $this->show->delivery->regions[$output]),
        );
        $places = Packing::of($items, [[$on->width, $on->height]], [$taken])['places'];
        [$changes, $first] = [[], null];
        foreach ($items as $id => [$width, $height]) {
            $region = ($this->newId)();
            $first ??= $region;
            $changes[] = Changes::create('region', $region, [
                'output' => $output,
                'surface' => $id,
                'source' => [0, 0, $width, $height],
                'x' => $places[$id]['x'] ?? 0,
                'y' => $places[$id]['y'] ?? 0,
            ]);
        }

        return [$changes, $first];
    }

    /**
     * All regions of some outputs packed onto as few of them as can be; what is pinned or warped stays.
     *
     * @param  list<string>  $outputs  in the order in which they are filled
     * @param  array{int, int}|null  $step  px of the grid on which regions begin; null for that of the panels of each
     *     wall
     * @return array{list<Change>, array{used: array<string, float>, unplaced: list<string>}} use by output, and
     *     regions that found no room and stay where they are
     */
    public function pack(array $outputs, bool $turns, int $guard, ?array $step): array
    {
        if ($outputs === []) {
            throw InvalidValue::because('outputs', 'There is no output to pack onto.');
        }
        if ($guard < 0 || $guard > 1000) {
            throw InvalidValue::outside('guard', $guard, 0, 1000, 'px');
        }
        [$items, $rasters, $pinned, $regions, $panels] = [[], [], [], [], []];
        foreach ($outputs as $k => $id) {
            $on = $this->output($id);
            $rasters[] = [$on->width, $on->height];
            $pinned[$k] = [];
            foreach ($this->show->delivery->regions[$id] as $regionId => $region) {
                if ($region->pinned || $region->isWarped()) {
                    $pinned[$k][] = $region->place;

                    continue;
                }
                $regions[$regionId] = $region;
                // As it lies now, turned back where turns are chosen anew.
                $items[$regionId] =
                    $turns && $region->turn % 180 !== 0
                        ? [$region->place->height, $region->place->width]
                        : [$region->place->width, $region->place->height];
                $wall = $this->show->venue->surfaces[$region->surface]->wall();
                foreach ($wall === null ? [] : $wall->cells as $row) {
                    foreach ($row as $panel) {
                        $panel !== null &&
                            ($panels["$panel->widthPx $panel->heightPx"] = [$panel->widthPx, $panel->heightPx]);
                    }
                }
            }
        }
        if (count($items) > Packing::MAX_ITEMS) {
            throw InvalidValue::because(
                'outputs',
                sprintf('At most %d regions are packed at once; there are %d.', Packing::MAX_ITEMS, count($items)),
            );
        }
        $step ??= array_reduce(
            $panels,
            static fn (array $s, array $p): array => [self::divisor($s[0], $p[0]), self::divisor($s[1], $p[1])],
            [0, 0],
        );
        $found = Packing::of($items, $rasters, array_values($pinned), $turns, $guard, [
            max(1, $step[0]),
            max(1, $step[1]),
        ]);
        $changes = [];
        foreach ($found['places'] as $id => $place) {
            $row = $this->row('region', (string) $id);
            $turn = $turns ? ($place['turned'] ? 90 : 0) : $regions[$id]->turn;
            array_push(
                $changes,
                ...Changes::update('region', (string) $id, $row, [
                    'output' => $outputs[$place['raster']],
                    'x' => $place['x'],
                    'y' => $place['y'],
                    'turn' => $turn,
                ]),
            );
        }

        return [$changes, ['used' => array_combine($outputs, $found['used']), 'unplaced' => $found['unplaced']]];
    }

    /**
     * An output parted into equal rectangles, each feeding a device of its own. Feeds that there are already are kept
     * and get their rectangle.
     *
     * @return list<Change>
     */
    public function split(string $output, int $columns, int $rows): array
    {
        $on = $this->output($output);
        if ($columns < 1 || $rows < 1 || $columns > 8 || $rows > 8) {
            throw InvalidValue::because('columns', 'An output is split into 1 to 8 columns and rows.');
        }
        $there = array_map(strval(...), array_keys($this->show->delivery->feeds[$output]));
        $changes = [];
        for ($k = 0; $k < $columns * $rows; $k++) {
            [$i, $j] = [$k % $columns, intdiv($k, $columns)];
            [$x, $y] = [intdiv($on->width * $i, $columns), intdiv($on->height * $j, $rows)];
            $part = [$x, $y, intdiv($on->width * ($i + 1), $columns) - $x, intdiv($on->height * ($j + 1), $rows) - $y];
            if (isset($there[$k])) {
                array_push(
                    $changes,
                    ...Changes::update('feed', $there[$k], $this->row('feed', $there[$k]), [
                        'part' => $columns * $rows === 1 ? [] : $part,
                    ]),
                );
            } else {
                $changes[] = Changes::create('feed', ($this->newId)(), [
                    'output' => $output,
                    'name' => "$on->name.".($k + 1),
                    'role' => 'led',
                    'part' => $columns * $rows === 1 ? [] : $part,
                ]);
            }
        }

        return $changes;
    }

    /**
     * A region scaled to the raster of its output or, where a device is fed a part, to that: to fill it in its own
     * shape, or one to one.
     *
     * @return list<Change>
     */
    public function fit(string $region, string $how): array
    {
        [$of, $output] = $this->region($region);
        $row = $this->row('region', $region);
        if ($how === 'one-to-one') {
            return Changes::update('region', $region, $row, ['width' => 0, 'height' => 0]);
        }
        if (! in_array($how, ['contain', 'stretch'], true)) {
            throw InvalidValue::notOneOf('how', $how, ['one-to-one', 'contain', 'stretch']);
        }
        $on = $this->show->delivery->outputs[$output];
        $room = $this->show->delivery->feedOf($output, $of)?->part($on) ?? $on->raster();
        [$w, $h] =
            $of->turn % 180 === 0
                ? [$of->source->width, $of->source->height]
                : [$of->source->height, $of->source->width];
        $scale = min($room->width / $w, $room->height / $h);
        [$width, $height] =
            $how === 'stretch'
                ? [$room->width, $room->height]
                : [max(1, (int) round($w * $scale)), max(1, (int) round($h * $scale))];

        return Changes::update('region', $region, $row, [
            'x' => $room->x + intdiv($room->width - $width, 2),
            'y' => $room->y + intdiv($room->height - $height, 2),
            'width' => $width === $w ? 0 : $width,
            'height' => $height === $h ? 0 : $height,
        ]);
    }

    /**
     * Corners of a region moved on the output.
     *
     * @param  array<int, array{float, float}>  $by  pixels, by corner: 0 top left, 1 top right, 2 bottom right, 3
     *     bottom left
     * @return list<Change>
     */
    public function pin(string $region, array $by): array
    {
        [$of] = $this->region($region);
        $pin = $of->pin === [] ? array_fill(0, 4, [0.0, 0.0]) : $of->pin;
        foreach ($by as $corner => [$dx, $dy]) {
            if (! isset($pin[$corner])) {
                throw InvalidValue::because('corner', 'A region has the corners 0 to 3.');
            }
            $pin[$corner] = [$pin[$corner][0] + $dx, $pin[$corner][1] + $dy];
        }

        return Changes::update('region', $region, $this->row('region', $region), ['pin' => array_merge(...$pin)]);
    }

    /**
     * A line more in a region's warp; its shape is kept.
     *
     * @param  string  $way  column or row
     * @param  float|null  $at  where, 0 to 1 over the region; null for the middle of the widest part
     * @return list<Change>
     */
    public function addLine(string $region, string $way, ?float $at): array
    {
        $grid = $this->grid($region);

        return $this->bent(
            $region,
            match ($way) {
                'column' => $grid->withColumn($at ?? $grid->widestAcross()),
                'row' => $grid->withRow($at ?? $grid->widestDown()),
                default => throw InvalidValue::notOneOf('way', $way, ['column', 'row']),
            },
        );
    }

    /**
     * A line less in a region's warp; its shape is kept as far as it can be.
     *
     * @param  string  $way  column or row
     * @param  int  $line  the number of the line that is taken out, from 0 at the edge
     * @return list<Change>
     */
    public function removeLine(string $region, string $way, int $line): array
    {
        $grid = $this->grid($region);

        return $this->bent(
            $region,
            match ($way) {
                'column' => $grid->withoutColumn($line),
                'row' => $grid->withoutRow($line),
                default => throw InvalidValue::notOneOf('way', $way, ['column', 'row']),
            },
        );
    }

    /**
     * Points of a region's warp moved on the output.
     *
     * @param  array<int, array{float, float}>  $by  pixels, by point of the lattice
     * @param  float  $radius  pixels around each within which others follow
     * @return list<Change>
     */
    public function bend(string $region, array $by, bool $symmetric, float $radius): array
    {
        [$of] = $this->region($region);
        [$place, $grid, $pinned] = [$of->place, $this->grid($region), $of->pinned()];
        $back =
            $pinned->inverse() ??
            throw InvalidValue::because('region', 'The corners of this region are pinned to one line.');
        $steps = [];
        foreach ($by as $point => [$dx, $dy]) {
            [$u, $v] = $grid->points[$point] ?? throw InvalidValue::because('by', "The warp has no point $point.");
            [$x, $y] = $pinned->point($u, $v);
            [$toU, $toV] = $back->point($x + $dx, $y + $dy);
            $steps[$point] = [$toU - $u, $toV - $v];
        }

        return $this->bent(
            $region,
            $grid->moved($steps, $symmetric, [$radius / $place->width, $radius / $place->height]),
        );
    }

    /**
     * Regions moved, turned and scaled together on their output.
     *
     * @param  list<string>  $regions
     * @param  array{float, float}  $by  pixels
     * @param  float  $degrees  clockwise, about the middle of all
     * @return list<Change>
     */
    public function together(array $regions, array $by, float $degrees, float $scale): array
    {
        if ($scale < 0.01 || $scale > 100) {
            throw InvalidValue::outside('scale', $scale, 0.01, 100);
        }
        $of = array_map(fn (string $id): Region => $this->region($id)[0], $regions);
        $corners = array_merge([], ...array_map(static fn (Region $r): array => $r->corners(), $of));
        if ($corners === []) {
            return [];
        }
        [$xs, $ys] = [array_column($corners, 0), array_column($corners, 1)];
        [$cx, $cy] = [(min($xs) + max($xs)) / 2, (min($ys) + max($ys)) / 2];
        $moves =
            $degrees === 0.0 && $scale === 1.0 && floor($by[0]) === (float) $by[0] && floor($by[1]) === (float) $by[1];
        [$c, $s] = [cos(deg2rad($degrees)) * $scale, sin(deg2rad($degrees)) * $scale];
        $changes = [];
        foreach ($of as $k => $region) {
            $row = $this->row('region', $regions[$k]);
            if ($moves && $region->model === '') {
                array_push(
                    $changes,
                    ...Changes::update('region', $regions[$k], $row, [
                        'x' => $region->place->x + (int) $by[0],
                        'y' => $region->place->y + (int) $by[1],
                    ]),
                );

                continue;
            }
            $pin = [];
            foreach ($region->corners() as $i => [$x, $y]) {
                $old = $region->pin[$i] ?? [0.0, 0.0];
                array_push(
                    $pin,
                    $old[0] + $cx + $by[0] + $c * ($x - $cx) - $s * ($y - $cy) - $x,
                    $old[1] + $cy + $by[1] + $s * ($x - $cx) + $c * ($y - $cy) - $y,
                );
            }
            array_push($changes, ...Changes::update('region', $regions[$k], $row, ['pin' => $pin]));
        }

        return $changes;
    }

    /**
     * The warp of one region on others.
     *
     * @param  list<string>  $onto
     * @return list<Change>
     */
    public function copy(string $from, array $onto): array
    {
        [$of] = $this->region($from);
        $row = $this->row('region', $from);
        $changes = [];
        foreach ($onto as $id) {
            [$other] = $this->region($id);
            [$sx, $sy] = [$other->place->width / $of->place->width, $other->place->height / $of->place->height];
            $pin = array_merge([], ...array_map(static fn (array $p): array => [$p[0] * $sx, $p[1] * $sy], $of->pin));
            array_push(
                $changes,
                ...Changes::update('region', $id, $this->row('region', $id), [
                    'pin' => $pin,
                    'columns' => $row['columns'] ?? [],
                    'rows' => $row['rows'] ?? [],
                    'points' => $row['points'] ?? [],
                ]),
            );
        }

        return $changes;
    }

    /**
     * What was done to regions, step by step taken back.
     *
     * @param  list<string>  $regions
     * @return list<Change>
     */
    public function reset(array $regions, string $what): array
    {
        $fields = match ($what) {
            'pin' => ['pin' => []],
            'bend' => self::BENT,
            'blend' => ['blend' => []],
            'model' => ['model' => '', 'modelOf' => ''],
            'all' => ['pin' => [], 'blend' => [], 'model' => '', 'modelOf' => ''] + self::BENT,
            default => throw InvalidValue::notOneOf('what', $what, self::RESETS),
        };

        return array_merge(
            [],
            ...array_map(function (string $id) use ($fields): array {
                $this->region($id);

                return Changes::update('region', $id, $this->row('region', $id), $fields);
            }, $regions),
        );
    }

    /**
     * Places of regions as a technician dictates them.
     *
     * @param  array<string, array{output: string, x: int, y: int, turn: int}>  $places  by region
     * @return list<Change>
     */
    public function place(array $places): array
    {
        $changes = [];
        foreach ($places as $id => $place) {
            $this->region((string) $id);
            $this->output($place['output']);
            array_push(
                $changes,
                ...Changes::update('region', (string) $id, $this->row('region', (string) $id), $place),
            );
        }

        return $changes;
    }

    /**
     * A region of a surface for each projector that is there for it and is fed by an output, where there is none yet:
     * it fills what the projector is fed until its warp is computed.
     *
     * @return list<Change>
     */
    public function project(string $surface): array
    {
        $of =
            $this->show->venue->surfaces[$surface] ??
            throw InvalidValue::because('surface', 'This surface is not in the show.');
        $changes = [];
        foreach ($this->show->delivery->feeds as $output => $feeds) {
            foreach ($feeds as $feed) {
                $projector =
                    $feed->projector === null ? null : $this->show->venue->projectors[$feed->projector] ?? null;
                if ($projector === null || ! in_array($surface, $projector->aims, true)) {
                    continue;
                }
                $there = array_filter(
                    $this->show->delivery->regions[$output],
                    fn (Region $r): bool => $r->surface === $surface &&
                        $this->show->delivery->feedOf((string) $output, $r) === $feed,
                );
                if ($there === []) {
                    $part = $feed->part($this->show->delivery->outputs[$output]);
                    $changes[] = Changes::create('region', ($this->newId)(), [
                        'output' => (string) $output,
                        'surface' => $surface,
                        'source' => [0, 0, $of->width(), $of->height()],
                        'x' => $part->x,
                        'y' => $part->y,
                        'width' => $part->width,
                        'height' => $part->height,
                    ]);
                }
            }
        }
        if ($changes === [] && Projections::of($this->show, $surface)->regions === []) {
            throw InvalidValue::because(
                'surface',
                "No projector that an output feeds is there for $of->name: say so in the details of the projector and of the output.",
            );
        }

        return $changes;
    }

    /**
     * Lights addressed one after another; those that have a patch keep it but for node and address.
     *
     * @param  list<string>  $lights  ids of surfaces, in order
     * @param  int  $every  universes from the beginning of one light to that of the next
     * @return list<Change>
     *
     * @throws InvalidValue where they do not end within what the protocol has
     */
    public function patch(string $node, array $lights, int $universe, int $channel, string $rule, int $every = 1): array
    {
        $of =
            $this->show->delivery->nodes[$node] ?? throw InvalidValue::because('node', 'This node is not in the show.');
        Check::oneOf('rule', $rule, self::RULES);
        Check::whole('every', $every, 1, 1000);
        $changes = [];
        $patched = [];
        foreach ($this->show->delivery->patches as $id => $patch) {
            $patched[$patch->surface] ??= (string) $id;
        }
        foreach ($lights as $surface) {
            $type = ($this->show->venue->surfaces[$surface] ?? null)?->carrier->fixture();
            if ($type === null) {
                throw InvalidValue::because('surfaces', 'Only pixel lights of the show are patched.');
            }
            $id = $patched[$surface] ?? null;
            $there = $id === null ? null : $this->show->delivery->patches[$id];
            $addressing = Addressing::of(
                $type,
                $type->header,
                $there?->channelsOf($type) ?? $type->channels,
                $universe,
                $channel,
                ($there->wiring ?? Wiring::of())->order($type),
            );
            if ($addressing->lastUniverse() > Universes::last($of->protocol)) {
                throw InvalidValue::because(
                    'universe',
                    "{$this->show->venue->surfaces[$surface]->name} would end in universe {$addressing->lastUniverse()}, of ".
                        Universes::last($of->protocol).
                        '.',
                );
            }
            $fields = ['node' => $node, 'universe' => $universe, 'channel' => $channel];
            if ($id === null) {
                $changes[] = Changes::create('patch', ($this->newId)(), ['surface' => $surface] + $fields);
            } else {
                array_push($changes, ...Changes::update('patch', $id, $this->row('patch', $id), $fields));
            }
            [$universe, $channel] = match ($rule) {
                'pack' => $addressing->address($addressing->end),
                'new universe' => [$addressing->lastUniverse() + 1, 1],
                default => [$universe + $every, $channel],
            };
        }

        return $changes;
    }

    /**
     * Layers driven by a lighting console, addressed one after another so that none straddles universes; those that
     * are driven already are addressed anew.
     *
     * @param  list<string>  $layers  ids, in order
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public function console(string $personality, array $layers, string $protocol, int $universe, int $channel): array
    {
        $row = $this->row('personality', $personality);
        if ($row === []) {
            throw InvalidValue::because('personality', 'This personality is not in the show.');
        }
        $of = Personality::of((string) $row['name'], (string) $row['parts']);
        $driven = [];
        foreach ($this->show->delivery->controls as $id => $control) {
            $driven[$control->layer] ??= (string) $id;
        }
        $changes = [];
        foreach ($layers as $n => $layer) {
            if ($this->show->programme->layer($layer) === null) {
                throw InvalidValue::because('layers', 'Only layers of the show are driven.');
            }
            if ($n > 0) {
                [$universe, $channel] = LayerControl::following($universe, $channel, $of->slots(), $of->slots());
            }
            $fields = [
                'personality' => $personality,
                'protocol' => $protocol,
                'universe' => $universe,
                'channel' => $channel,
            ];
            LayerControl::fromRow(['layer' => $layer] + $fields, $of);
            $id = $driven[$layer] ?? null;
            $id === null
                ? ($changes[] = Changes::create('control', ($this->newId)(), ['layer' => $layer] + $fields))
                : array_push($changes, ...Changes::update('control', $id, $this->row('control', $id), $fields));
        }

        return $changes;
    }

    /**
     * Points of a surface by which a projector is aligned: its corners and its middle, as far as they are there.
     *
     * @return list<Change>
     */
    public function points(string $projector, string $surface): array
    {
        $of =
            $this->show->venue->surfaces[$surface] ??
            throw InvalidValue::because('surface', 'This surface is not in the show.');
        if (! isset($this->show->venue->projectors[$projector])) {
            throw InvalidValue::because('projector', 'This projector is not in the show.');
        }
        $chart = SurfaceChart::of($of, $this->show->venue->world($surface));
        $changes = [];
        foreach (
            [
                'top left' => [0, 0],
                'top' => [0.5, 0],
                'top right' => [1, 0],
                'right' => [1, 0.5],
                'bottom right' => [1, 1],
                'bottom' => [0.5, 1],
                'bottom left' => [0, 1],
                'left' => [0, 0.5],
                'middle' => [0.5, 0.5],
            ] as $name => [$u, $v]
        ) {
            $place = $chart->place((float) $u, (float) $v);
            $place !== null &&
                ($changes[] = Changes::create('point', ($this->newId)(), [
                    'projector' => $projector,
                    'name' => "$of->name, $name",
                    'place' => array_map(static fn (float $x): float => round($x, 4), $place),
                ]));
        }
        if ($changes === []) {
            throw InvalidValue::because(
                'surface',
                "$of->name has no corners of its raster to be found; add points by their places.",
            );
        }

        return $changes;
    }

    /**
     * Where an alignment point was found on the output that its projector is fed.
     *
     * @param  array{float, float}|null  $at  pixels; null where it is to be found again
     * @return list<Change>
     */
    public function found(string $point, ?array $at): array
    {
        $of =
            $this->show->delivery->points[$point] ??
            throw InvalidValue::because('region', 'This point is not in the show.');
        $part = $this->show->delivery->partOf($of->projector);
        if ($at === null || $part === null) {
            return Changes::update('point', $point, $this->row('point', $point), ['pixel' => []]);
        }
        $fed = new FedProjector(
            $part,
            new Beam(
                $of->projector,
                $this->show->venue->projectors[$of->projector],
                $this->show->venue->world($of->projector),
            ),
        );

        return Changes::update('point', $point, $this->row('point', $point), ['pixel' => $fed->onPicture(...$at)]);
    }

    private function grid(string $region): BezierGrid
    {
        // A region that is bent by nothing has its lines all the same.
        $row = $this->row('region', $region);
        $this->region($region);

        return ($row['points'] ?? []) === []
            ? BezierGrid::plain()
            : BezierGrid::of(['us' => $row['columns'], 'vs' => $row['rows'], 'points' => $row['points']]);
    }

    /** @return list<Change> */
    private function bent(string $region, BezierGrid $grid): array
    {
        ['us' => $us, 'vs' => $vs, 'points' => $points] = $grid->toArray();

        return Changes::update('region', $region, $this->row('region', $region), [
            'columns' => $us,
            'rows' => $vs,
            'points' => $points,
        ]);
    }

    private function output(string $id): Output
    {
        return $this->show->delivery->outputs[$id] ??
            throw InvalidValue::because('output', 'This output is not in the show.');
    }

    /** @return array{Region, string} and its output */
    private function region(string $id): array
    {
        return $this->show->delivery->region($id) ??
            throw InvalidValue::because('region', 'This region is not in the show.');
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return $this->document->rows[$kind][$id] ??
            throw InvalidValue::because($kind, "This $kind is not in the show.");
    }

    private static function divisor(int $a, int $b): int
    {
        return $b === 0 ? $a : self::divisor($b, $a % $b);
    }
}

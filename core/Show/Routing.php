<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Routing\BestPane;
use Core\Routing\CanvasLayout;
use Core\Routing\Fitting;
use Core\Routing\Reach;
use Core\Routing\Route;
use Core\Routing\Share;
use Core\Units\InvalidValue;
use Core\Units\Pixels;
use Core\Venue\Surface;

/**
 * What is done to routes by hand, as the changes of an Edit: named routes made and taken, their reach changed, shares
 * laid out, lenses set up. What another reach needs and there is not yet, is made; what it does not use, stays.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class Routing
{
    /** How shares are laid out. */
    public const LAYOUTS = ['front', 'row', 'packed'];

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
    }

    /**
     * A route with a name, which layers may take. With a layer whose route is its own, that one gets the name, and
     * keeps its surfaces.
     *
     * @param  list<string>  $surfaces  ids
     * @return array{list<Change>, string} and the id of the route
     */
    public function name(string $name, Reach $reach, array $surfaces, ?string $layer): array
    {
        $on =
            $layer === null
                ? null
                : $this->show->programme->layer($layer) ??
                    throw InvalidValue::because('layer', 'This layer is not in the show.');
        $own = $on === null ? null : $this->show->programme->route($on);
        $aimed =
            $surfaces !== [] || $own === null ? array_map($this->surface(...), $surfaces) : $this->surfacesOf($own);
        $id = $own !== null && $own->layer === $layer ? $own->id : ($this->newId)();
        [$fields, $parts] = $this->reaching($id, $reach, $aimed, null);
        $fields =
            [
                'name' => $name,
                'reach' => $reach->value,
                'surfaces' => array_map(static fn (Surface $s): string => $s->id, $aimed),
                'layer' => null,
            ] + $fields;
        $changes =
            $own?->id === $id
                ? Changes::update('route', $id, $this->row('route', $id), $fields)
                : [Changes::create('route', $id, $fields)];
        $taken =
            $on === null || $on->route === $id
                ? []
                : Changes::update('layer', $on->id, $this->row('layer', $on->id), ['route' => $id, 'part' => null]);

        return [[...$changes, ...$parts, ...$taken], $id];
    }

    /**
     * Lets layers take a route.
     *
     * @param  list<string>  $layers
     * @return list<Change>
     */
    public function take(string $route, array $layers): array
    {
        $this->route($route);

        return array_merge(
            [],
            ...array_map(
                fn (string $layer): array => Changes::update('layer', $layer, $this->row('layer', $layer), [
                    'route' => $route,
                    'part' => null,
                ]),
                $layers,
            ),
        );
    }

    /**
     * Another reach for a route: its surfaces stay, and what the reach needs is made where there is none.
     *
     * @return list<Change>
     */
    public function reach(string $route, Reach $reach): array
    {
        $old = $this->route($route);
        $surfaces = $this->surfacesOf($old);
        [$fields, $parts] = $this->reaching($route, $reach, $surfaces, $old);
        $fields +=
            $reach === Reach::Canvas
                ? []
                : ['surfaces' => array_map(static fn (Surface $s): string => $s->id, $surfaces)];

        return [
            ...Changes::update('route', $route, $this->row('route', $route), ['reach' => $reach->value] + $fields),
            ...$parts,
        ];
    }

    /**
     * The surfaces that a route reaches. Those that are new on a canvas get a share at the end of its row; the pane
     * grows with it.
     *
     * @param  list<string>  $surfaces  ids
     * @return list<Change>
     */
    public function surfaces(string $route, array $surfaces): array
    {
        $old = $this->route($route);
        $wanted = array_column(array_map(fn (string $id): array => [$id, $this->surface($id)], $surfaces), 1, 0);
        if ($old->reach !== Reach::Canvas) {
            return Changes::update('route', $route, $this->row('route', $route), [
                'surfaces' => array_map(strval(...), array_keys($wanted)),
            ]);
        }
        $changes = [];
        $x = 0;
        foreach ($old->shares as $share) {
            if (isset($wanted[$share->surface])) {
                $x = max($x, Pixels::ceil($share->rectangle()[0] + $share->rectangle()[2]));
                unset($wanted[$share->surface]);
            } else {
                $changes[] = Changes::delete('share', $share->id);
            }
        }
        $height = $old->height;
        foreach ($wanted as $id => $surface) {
            $changes[] = $this->newShare($route, $surface, [$x, 0, $surface->width(), $surface->height()]);
            [$x, $height] = [$x + $surface->width(), max($height, $surface->height())];
        }

        return [
            ...$changes,
            ...Changes::update('route', $route, $this->row('route', $route), [
                'width' => min(Route::MAX_PANE, max($old->width, $x)),
                'height' => min(Route::MAX_PANE, $height),
            ]),
        ];
    }

    /**
     * Lays the shares of a canvas out anew, and makes the pane as large as they need.
     *
     * @param  string  $how  front, row or packed
     * @return list<Change>
     */
    public function lay(string $route, string $how): array
    {
        $old = $this->route($route);
        $places = $this->laid($this->surfacesOf($old), $how);
        [$width, $height] = CanvasLayout::pane($places);
        $changes = Changes::update('route', $route, $this->row('route', $route), [
            'width' => $width,
            'height' => $height,
        ]);
        foreach ($old->shares as $share) {
            [$x, $y, $w, $h] = $places[$share->surface];
            $row = $this->row('share', $share->id);
            array_push(
                $changes,
                ...self::values('share', $share->id, (array) ($row['values'] ?? []), [
                    'x' => (float) $x,
                    'y' => (float) $y,
                    'width' => (float) $w,
                    'height' => (float) $h,
                    'turn' => 0.0,
                ]),
            );
        }

        return $changes;
    }

    /**
     * The size of a route's pane: 0 for the raster of each surface.
     *
     * @return list<Change>
     */
    public function pane(string $route, int $width, int $height): array
    {
        $row = $this->row('route', $route);
        Route::fromRow(['width' => $width, 'height' => $height] + $row);

        return Changes::update('route', $route, $row, ['width' => $width, 'height' => $height]);
    }

    /**
     * How pictures are fitted on one surface of a layer's route: "" as the layer and its clips have it. A route that
     * others take too is changed for all of them.
     *
     * @return list<Change>
     */
    public function fit(string $route, string $surface, string $fitting): array
    {
        $this->surface($surface);
        $old = $this->route($route);
        $fittings = array_map(static fn (Fitting $one): string => $one->value, $old->fittings);
        unset($fittings[$surface]);
        if ($fitting !== '') {
            $fittings[$surface] = (
                Fitting::tryFrom($fitting) ??
                throw InvalidValue::notOneOf('fitting', $fitting, array_column(Fitting::cases(), 'value'))
            )->value;
        }

        return Changes::update('route', $route, $this->row('route', $route), ['fittings' => $fittings]);
    }

    /**
     * A lens more, beside the last one.
     *
     * @return array{list<Change>, string} and its id
     */
    public function addLens(string $route): array
    {
        $old = $this->route($route);
        if (count($old->lenses) >= Route::MAX_LENSES) {
            throw InvalidValue::because('route', 'A route has at most '.Route::MAX_LENSES.' lenses.');
        }
        $last = $old->lenses === [] ? null : $old->lenses[count($old->lenses) - 1];
        $row = $last === null ? [] : $this->row('lens', $last->id);
        $values = (array) ($row['values'] ?? []);
        if ($last !== null) {
            $yaw =
                (float) ($last->stored['yaw'][0] ?? 0) -
                0.8 * (float) ($last->stored['angle'][0] ?? $last::properties()->named('angle')->default);
            $values['yaw'] = $yaw;
        }
        $id = ($this->newId)();

        return [
            [
                Changes::create('lens', $id, [
                    'route' => $route,
                    'name' => 'Lens '.(count($old->lenses) + 1),
                    'rig' => $last?->rig,
                    'part' => $row['part'] ?? [],
                    'values' => $values,
                ]),
            ],
            $id,
        ];
    }

    /**
     * Where a camera stands and what it takes in, for a lens: on the rig that carries the camera, so that it moves
     * with it.
     *
     * @return list<Change>
     */
    public function copyCamera(string $lens, string $camera): array
    {
        $row = $this->row('lens', $lens);
        $of =
            $this->show->venue->cameras[$camera] ??
            throw InvalidValue::because('camera', 'This camera is not in the show.');
        $pose = $this->show->venue->transforms->pose($camera);
        $round = static fn (float $v): float => round($v, 6) + 0.0;
        $values = [
            'x' => $round($pose->position->x),
            'y' => $round($pose->position->y),
            'z' => $round($pose->position->z),
            'yaw' => $round($pose->yaw),
            'pitch' => $round($pose->pitch),
            'roll' => $round($pose->roll),
            'angle' => $round($of->angleAcross()),
            'shiftX' => 0.0,
            'shiftY' => 0.0,
        ];

        return [
            ...Changes::update('lens', $lens, $row, ['rig' => $this->show->venue->transforms->parent($camera)]),
            ...self::values('lens', $lens, (array) ($row['values'] ?? []), $values),
        ];
    }

    /**
     * What a reach needs of a route: its pane, and rows.
     *
     * @param  list<Surface>  $surfaces
     * @return array{array<string, mixed>, list<Change>} fields of the route, and rows that are made
     */
    private function reaching(string $route, Reach $reach, array $surfaces, ?Route $old): array
    {
        $rasters = array_map(static fn (Surface $s): array => [$s->width(), $s->height()], $surfaces);
        $pane = $old !== null && $old->hasPane() ? [$old->width, $old->height] : null;
        $parts = [];
        if ($reach === Reach::Canvas && ($old->shares ?? []) === []) {
            $places = $this->laid($surfaces, 'front');
            foreach ($surfaces as $surface) {
                $parts[] = $this->newShare($route, $surface, $places[$surface->id]);
            }
            $pane = $places === [] ? $pane : CanvasLayout::pane($places);
        }
        if ($reach === Reach::Lens && ($old->lenses ?? []) === []) {
            $parts[] = Changes::create('lens', ($this->newId)(), [
                'route' => $route,
                'name' => 'Lens 1',
                'values' => $this->before($surfaces),
            ]);
        }
        if ($reach === Reach::Canvas && $pane === null && $old !== null && $old->shares !== []) {
            $far = static fn (int $at): int => Pixels::ceil(
                max(
                    array_map(
                        static fn (Share $s): float => $s->rectangle()[$at] + $s->rectangle()[$at + 2],
                        $old->shares,
                    ),
                ),
            );
            $pane = [max(1, min(Route::MAX_PANE, $far(0))), max(1, min(Route::MAX_PANE, $far(1)))];
        }
        // Over the raster of each surface, unless a size is asked for.
        $usual = $reach->strategy()->usualPane();
        $pane = $reach->strategy()->mayBeWithoutPane() ? $usual : $pane ?? $usual;
        $pane ??= BestPane::largest($rasters) ?? [1920, 1080];

        return [['width' => $pane[0], 'height' => $pane[1]], $parts];
    }

    /**
     * A place before surfaces from which a lens takes them in: as far away as they are wide.
     *
     * @param  list<Surface>  $surfaces
     * @return array<string, float>
     */
    private function before(array $surfaces): array
    {
        if ($surfaces === []) {
            return [];
        }
        [$left, $top, $right, $bottom, $front] = [INF, -INF, -INF, INF, -INF];
        foreach ($surfaces as $surface) {
            [$min, $max] = $this->bounds($surface);
            [$left, $top, $right, $bottom, $front] = [
                min($left, $min[0]),
                max($top, $max[1]),
                max($right, $max[0]),
                min($bottom, $min[1]),
                max($front, $max[2]),
            ];
        }

        return [
            'x' => round(($left + $right) / 2, 3),
            'y' => round(($top + $bottom) / 2, 3),
            'z' => round($front + max($right - $left, $top - $bottom), 3),
        ];
    }

    /**
     * @param  list<Surface>  $surfaces
     * @return array<string, array{int, int, int, int}>
     */
    private function laid(array $surfaces, string $how): array
    {
        // A row goes from left to right, as they stand.
        $left = array_map(static fn (array $one): float => $one[0], $how === 'row' ? $this->seen($surfaces) : []);
        $how === 'row' &&
            usort(
                $surfaces,
                static fn (Surface $a, Surface $b): int => [$left[$a->id], $a->id] <=> [$left[$b->id], $b->id],
            );
        $rasters = array_column(
            array_map(static fn (Surface $s): array => [$s->id, [$s->width(), $s->height()]], $surfaces),
            1,
            0,
        );

        return match ($how) {
            'front' => CanvasLayout::front($this->seen($surfaces)),
            'row' => CanvasLayout::row($rasters),
            'packed' => CanvasLayout::packed($rasters),
            default => throw InvalidValue::notOneOf('how', $how, self::LAYOUTS),
        };
    }

    /**
     * @param  list<Surface>  $surfaces
     * @return array<string, array{float, float, float, float, int, int}> left, top, right, bottom in metres, raster
     *     width and height
     */
    private function seen(array $surfaces): array
    {
        $seen = [];
        foreach ($surfaces as $surface) {
            [$min, $max] = $this->bounds($surface);
            $seen[$surface->id] = [$min[0], $max[1], $max[0], $min[1], $surface->width(), $surface->height()];
        }

        return $seen;
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}} the least and the greatest of each axis,
     *     in the venue
     */
    private function bounds(Surface $surface): array
    {
        return $surface->carrier
            ->mesh()
            ->moved($this->show->venue->world($surface->id))
            ->bounds();
    }

    /**
     * @param  array{int, int, int, int}  $place
     * @return Change
     */
    private function newShare(string $route, Surface $surface, array $place): array
    {
        return Changes::create('share', ($this->newId)(), [
            'route' => $route,
            'surface' => $surface->id,
            'values' => array_combine(array_slice(Share::VALUES, 0, 4), array_map(floatval(...), $place)),
        ]);
    }

    /**
     * @param  array<string, mixed>  $stored
     * @param  array<string, float>  $values
     * @return list<Change>
     */
    private static function values(string $kind, string $id, array $stored, array $values): array
    {
        [$before, $after] = [[], []];
        foreach ($values as $name => $value) {
            [$before["values.$name"], $after["values.$name"]] = [$stored[$name] ?? null, $value];
        }

        return Changes::update($kind, $id, $before, $after);
    }

    /** @return list<Surface> those that there are */
    private function surfacesOf(Route $route): array
    {
        return array_values(
            array_filter(
                array_map(fn (string $id): ?Surface => $this->show->venue->surfaces[$id] ?? null, $route->surfaces()),
            ),
        );
    }

    private function surface(string $id): Surface
    {
        return $this->show->venue->surfaces[$id] ??
            throw InvalidValue::because('surfaces', 'One of these surfaces is not in the show.');
    }

    private function route(string $id): Route
    {
        return $this->show->programme->routes[$id] ??
            throw InvalidValue::because('route', 'This route is not in the show.');
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return $this->document->rows[$kind][$id] ??
            throw InvalidValue::because($kind, "This $kind is not in the show.");
    }
}

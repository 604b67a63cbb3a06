<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\Refused;

/** Aims layers straight at surfaces: a layer whose route is its own has that one changed, any other gets one of its own, silently. */
final class Aiming
{
    /**
     * @param  list<string>  $layers  ids
     * @param  list<string>  $surfaces  ids, in order; none: at nothing
     * @param  \Closure(): string  $newId
     * @return list<array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}> the changes of an Edit
     *
     * @throws Refused when a layer or surface is not in the show
     */
    public static function changes(Show $show, array $layers, array $surfaces, \Closure $newId): array
    {
        foreach ($surfaces as $surface) {
            isset($show->venue->surfaces[$surface]) || throw Refused::because('surfaces', 'One of these surfaces is not in the show.');
        }
        $surfaces = array_values(array_unique($surfaces));
        $changes = [];
        foreach ($layers as $id) {
            $layer = $show->programme->layer($id) ?? throw Refused::because('layers', 'One of these layers is not in the show.');
            $route = $show->programme->route($layer);
            if ($route !== null && $route->layer === $id) {
                if ($route->surfaces !== $surfaces) {
                    $changes[] = ['kind' => 'route', 'id' => $route->id, 'op' => 'update', 'fields' => ['surfaces' => ['before' => $route->surfaces, 'after' => $surfaces]]];
                }

                continue;
            }
            $own = null;
            foreach ($show->programme->routes as $other) {
                $own = $other->layer === $id ? $other : $own;
            }
            if ($own === null) {
                $new = $newId();
                $changes[] = ['kind' => 'route', 'id' => $new, 'op' => 'create', 'fields' => ['surfaces' => ['before' => null, 'after' => $surfaces], 'layer' => ['before' => null, 'after' => $id]]];
            } elseif ($own->surfaces !== $surfaces) {
                $changes[] = ['kind' => 'route', 'id' => $own->id, 'op' => 'update', 'fields' => ['surfaces' => ['before' => $own->surfaces, 'after' => $surfaces]]];
            }
            $changes[] = ['kind' => 'layer', 'id' => $id, 'op' => 'update', 'fields' => ['route' => ['before' => $layer->route, 'after' => $new ?? $own->id ?? null]]];
        }

        return $changes;
    }
}

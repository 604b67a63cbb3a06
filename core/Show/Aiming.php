<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\InvalidValue;

/**
 * Aims layers straight at surfaces: a layer whose route is its own has that one changed, any other gets one of its
 * own, silently.
 */
final class Aiming
{
    /**
     * @param  list<string>  $layers  ids
     * @param  list<string>  $surfaces  ids, in order; none: at nothing
     * @param  \Closure(): string  $newId
     * @return list<array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}> the
     *     changes of an Edit
     *
     * @throws InvalidValue when a layer or surface is not in the show
     */
    public static function changes(Show $show, array $layers, array $surfaces, \Closure $newId): array
    {
        foreach ($surfaces as $surface) {
            isset($show->venue->surfaces[$surface]) ||
                throw InvalidValue::because('surfaces', 'One of these surfaces is not in the show.');
        }
        $surfaces = array_values(array_unique($surfaces));
        $changes = [];
        foreach ($layers as $id) {
            $layer =
                $show->programme->layer($id) ??
                throw InvalidValue::because('layers', 'One of these layers is not in the show.');
            $route = $show->programme->route($layer);
            if ($route !== null && $route->layer === $id) {
                array_push(
                    $changes,
                    ...Changes::update('route', $route->id, ['surfaces' => $route->aimed], ['surfaces' => $surfaces]),
                );

                continue;
            }
            $own = null;
            foreach ($show->programme->routes as $other) {
                $own = $other->layer === $id ? $other : $own;
            }
            if ($own === null) {
                $new = $newId();
                $changes[] = Changes::create('route', $new, ['surfaces' => $surfaces, 'layer' => $id]);
            } else {
                array_push(
                    $changes,
                    ...Changes::update('route', $own->id, ['surfaces' => $own->aimed], ['surfaces' => $surfaces]),
                );
            }
            array_push(
                $changes,
                ...Changes::update('layer', $id, ['route' => $layer->route], ['route' => $new ?? ($own->id ?? null)]),
            );
        }

        return $changes;
    }
}

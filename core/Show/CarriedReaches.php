<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Values\PropertySet;

/**
 * Lenses and globes that ride on a rig, when that goes and they stay where they are: their places are said anew, in
 * what carried the rig. Keyframes are carried over one by one where the rig is not turned; else at each time that any
 * of them has, with straight lines.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class CarriedReaches
{
    private const POSE = ['x', 'y', 'z', 'yaw', 'pitch', 'roll'];

    /**
     * @param  list<Change>  $changes
     * @param  list<string>  $notes  what is no longer exactly as it was
     */
    private function __construct(public array $changes, public array $notes)
    {
    }

    /** @return list<array{kind: string, id: string, name: string}> what rides on a rig by a route */
    public static function on(Show $show, string $rig): array
    {
        $found = [];
        foreach ($show->programme->routes as $id => $route) {
            foreach ($route->parts() as $part) {
                $part->rig === $rig && ($found[] = ['kind' => $part->kind, 'id' => $part->id, 'name' => $part->name]);
            }
        }

        return $found;
    }

    /**
     * @param  array<string, list<array<string, mixed>>>  $rows  by kind
     * @param  string|null  $parent  the rig that carries them from now on; null for the venue
     * @param  \Closure(): string  $newId
     */
    public static function rebased(Show $show, array $rows, string $rig, ?string $parent, \Closure $newId): self
    {
        $relative = ($parent === null ? Mat4::identity() : $show->venue->world($parent)->rigidInverse())->times(
            $show->venue->world($rig),
        );
        [$changes, $notes] = [[], []];
        foreach (self::on($show, $rig) as ['kind' => $kind, 'id' => $id, 'name' => $name]) {
            $row =
                array_values(array_filter($rows[$kind] ?? [], static fn (array $one): bool => $one['id'] === $id))[0] ??
                [];
            $set = Schema::properties($kind);
            $stored = self::pose($show, $kind, $id, $set);
            $curves = array_intersect_key($show->programme->curves[$id] ?? [], array_flip(self::POSE));
            $at = self::carried($relative, $stored);
            $fields = ['rig' => $parent];
            $before = ['rig' => $row['rig'] ?? null];
            foreach (self::POSE as $one) {
                $fields["values.$one"] = $at[$one];
                $before["values.$one"] = $row['values'][$one] ?? null;
            }
            array_push($changes, ...Changes::update($kind, $id, $before, $fields));
            if ($curves === []) {
                continue;
            }
            $moved = self::isTurned($relative)
                ? self::sampled($relative, $stored, $curves)
                : self::shifted($relative, $curves);
            self::isTurned($relative) &&
                ($notes[] = "$name keeps its place at each of its keyframes; between them it goes in straight lines.");
            foreach ($moved as $property => $keyframes) {
                $curve =
                    array_values(
                        array_filter(
                            $rows['curve'] ?? [],
                            static fn (array $one): bool => $one['owner'] === $id && $one['property'] === $property,
                        ),
                    )[0] ?? null;
                array_push(
                    $changes,
                    ...$curve === null
                        ? [
                            Changes::create('curve', $newId(), [
                                'ownerKind' => $kind,
                                'owner' => $id,
                                'property' => $property,
                                'slot' => 0,
                                'keyframes' => $keyframes,
                            ]),
                        ]
                        : Changes::update(
                            'curve',
                            (string) $curve['id'],
                            ['keyframes' => StoredCurve::rows($curve['keyframes'] ?? null)],
                            ['keyframes' => $keyframes],
                        ),
                );
            }
        }

        return new self($changes, $notes);
    }

    /** @return array<string, float> */
    private static function pose(Show $show, string $kind, string $id, PropertySet $set): array
    {
        $values = [];
        foreach ($show->programme->routes as $route) {
            if ($kind === 'route' && $route->id === $id) {
                $values = $route->stored;
            }
            foreach ($kind === 'lens' ? $route->lenses : [] as $lens) {
                $lens->id === $id && ($values = $lens->stored);
            }
        }

        return array_combine(
            self::POSE,
            array_map(static fn (string $one): float => $values[$one][0] ?? $set->named($one)->default, self::POSE),
        );
    }

    /**
     * @param  array<string, float>  $pose
     * @return array<string, float>
     */
    private static function carried(Mat4 $relative, array $pose): array
    {
        $turn = static fn (string $name): float => fmod($pose[$name], 360);
        $new = Pose::fromMatrix(
            $relative->times(
                Pose::of(
                    Vec3::of($pose['x'], $pose['y'], $pose['z']),
                    $turn('yaw'),
                    $turn('pitch'),
                    $turn('roll'),
                )->matrix(),
            ),
        );
        [$x, $y, $z] = $new->position->toArray();
        // Where nothing turns, whole turns stay as they were typed.
        [$yaw, $pitch, $roll] = self::isTurned($relative)
            ? [$new->yaw, $new->pitch, $new->roll]
            : [$pose['yaw'], $pose['pitch'], $pose['roll']];

        return ['x' => $x, 'y' => $y, 'z' => $z, 'yaw' => $yaw, 'pitch' => $pitch, 'roll' => $roll];
    }

    private static function isTurned(Mat4 $relative): bool
    {
        $m = $relative->m;

        return abs($m[0] - 1) +
            abs($m[5] - 1) +
            abs($m[10] - 1) +
            abs($m[1]) +
            abs($m[2]) +
            abs($m[4]) +
            abs($m[6]) +
            abs($m[8]) +
            abs($m[9]) >
            1e-9;
    }

    /**
     * @param  array<string, StoredCurve>  $curves
     * @return array<string, list<array<string, mixed>>>
     */
    private static function shifted(Mat4 $relative, array $curves): array
    {
        $by = ['x' => $relative->m[12], 'y' => $relative->m[13], 'z' => $relative->m[14]];

        return array_map(
            static fn (StoredCurve $curve): array => array_map(
                static fn (array $key): array => ['v' => (float) $key['v'] + ($by[$curve->property->name] ?? 0.0)] +
                    $key,
                $curve->curve()->toRows($curve->property),
            ),
            $curves,
        );
    }

    /**
     * @param  array<string, float>  $stored
     * @param  array<string, StoredCurve>  $curves
     * @return array<string, list<array<string, mixed>>>
     */
    private static function sampled(Mat4 $relative, array $stored, array $curves): array
    {
        $moving = array_map(static fn (StoredCurve $curve) => $curve->curve(), $curves);
        $times = [];
        foreach ($curves as $curve) {
            foreach ($curve->curve()->toRows($curve->property) as $key) {
                $times[(int) $key['t']] = true;
            }
        }
        ksort($times);
        $keyframes = [];
        foreach (array_keys($times) as $time) {
            $pose = $stored;
            foreach ($moving as $name => $curve) {
                $pose[$name] = $curve->at($time);
            }
            foreach (self::carried($relative, $pose) as $name => $value) {
                $last = count($keyframes[$name] ?? []) - 1;
                // The shorter way round, so that an angle does not run through a whole turn between two keyframes.
                $near =
                    in_array($name, ['yaw', 'pitch', 'roll'], true) && $last >= 0
                        ? $value + 360 * round(($keyframes[$name][$last]['v'] - $value) / 360)
                        : $value;
                $keyframes[$name][] = ['t' => $time, 'v' => $near];
            }
        }

        return array_filter(
            $keyframes,
            static fn (array $keys): bool => count(
                array_unique(array_map(static fn (array $key): string => sprintf('%.9F', $key['v']), $keys)),
            ) > 1,
        ) + array_intersect_key($keyframes, $curves);
    }
}

<?php

declare(strict_types=1);

namespace App\Show;

use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Body;
use Core\Light\LensFit;
use Core\Show\CarriedReaches;
use Core\Show\Changes;
use Core\Show\Mirror;
use Core\Show\Show as CoreShow;
use Core\Show\Venue;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Arrange;
use Core\Venue\Lens;

/**
 * Moves, turns, copies and lines up what stands in the venue: reads the rows, lets the core compute where things go,
 * and gives the changes of one Edit.
 *
 * @phpstan-import-type Change from Editor
 */
final class Arranger
{
    /** The farthest from the middle of the venue that anything is moved to, in metres. */
    private const FARTHEST = 10_000;

    /** @var list<Change> */
    private array $changes = [];

    /** @var list<string> */
    private array $notes = [];

    /** @var array<string, array{kind: string, row: array<string, mixed>}> */
    private array $standing = [];

    /** @var array<string, true> names that are taken */
    private array $names = [];

    /** @param  array<string, list<array<string, mixed>>>  $rows */
    private function __construct(private readonly CoreShow $show, private readonly array $rows)
    {
        foreach (Venue::PLACED as $kind) {
            foreach ($rows[$kind] as $row) {
                // What the core could not build stands nowhere.
                if (! $show->venue->transforms->has($row['id'])) {
                    continue;
                }
                $this->standing[$row['id']] = ['kind' => $kind, 'row' => $row];
                $this->names[$row['name']] = true;
            }
        }
    }

    /**
     * @param  array<string, list<array<string, mixed>>>  $rows
     * @param  Input  $order  do, ids, and what that needs
     * @return array{name: string, changes: list<Change>, notes: list<string>}
     */
    public static function changes(CoreShow $show, array $rows, Input $order): array
    {
        $arranger = new self($show, $rows);
        $name = $arranger->carryOut($order);

        return ['name' => $name, 'changes' => $arranger->changes, 'notes' => $arranger->notes];
    }

    private function carryOut(Input $order): string
    {
        $ids = $this->ids($order);
        $do = $order->text('action', '');
        $called = count($ids) === 1 ? (string) $this->standing[$ids[0]]['row']['name'] : count($ids).' things';
        // What rides on a rig that is moved comes along by itself.
        $tops = array_values(array_filter($ids, fn (string $id): bool => ! $this->ridesOnOneOf($id, $ids)));
        $worlds = array_combine($tops, array_map($this->show->venue->world(...), $tops));
        $axis = static fn (): string => $order->text('axis');
        $degrees = static fn (): float => Check::number(
            'degrees',
            $order->number('degrees'),
            -36_000,
            36_000,
            'degrees',
        );
        switch ($do) {
            case 'move':
                $this->put(Arrange::move($worlds, self::vector($order, 'by')));

                return "Move $called";
            case 'turn':
                $this->put(
                    Arrange::turn(
                        $worlds,
                        $axis(),
                        $degrees(),
                        $order->has('about') ? self::vector($order, 'about') : self::middle($worlds),
                    ),
                );

                return "Turn $called";
            case 'align':
                $this->put(Arrange::align($worlds, $this->bounds($tops), $axis(), $order->text('to', '')));

                return "Align $called";
            case 'lay':
                $how = $order->text('how');
                foreach ($tops as $id) {
                    $this->put([$id => Arrange::lay($worlds[$id], $this->meshOf($id), $how)]);
                }

                return ['stand' => 'Stand up', 'floor' => 'Lay on the floor', 'ceiling' => 'Hang as a ceiling'][$how].
                    ": $called";
            case 'distribute':
                $this->put(Arrange::distribute($worlds, $this->bounds($tops), $axis()));

                return "Distribute $called";
            case 'line':
                foreach ($tops as $id) {
                    foreach (
                        Arrange::line(
                            $worlds[$id],
                            $order->whole('count', 1, Arrange::MAX_COPIES),
                            self::vector($order, 'step'),
                        ) as $world
                    ) {
                        $this->copy($id, $world);
                    }
                }

                return "Copy $called along a line";
            case 'arc':
                foreach ($tops as $id) {
                    foreach (
                        Arrange::arc(
                            $worlds[$id],
                            $order->whole('count', 1, Arrange::MAX_COPIES),
                            $degrees(),
                            self::vector($order, 'about'),
                        ) as $world
                    ) {
                        $this->copy($id, $world);
                    }
                }

                return "Copy $called round an arc";
            case 'duplicate':
                foreach ($tops as $id) {
                    $this->copy($id, $worlds[$id]);
                }

                return "Duplicate $called";
            case 'mirror':
                $axisName = $axis();
                foreach ($tops as $id) {
                    $world = Arrange::mirror(
                        $worlds[$id],
                        $axisName,
                        Check::number('at', $order->number('at', 0), -self::FARTHEST, self::FARTHEST, 'm'),
                    );
                    if ($order->flag('copy')) {
                        $this->copy($id, $world, $axisName);
                    } else {
                        $this->put([$id => $world]);
                        $this->turnRound($id, $axisName);
                    }
                }

                return "Mirror $called";
            case 'ride':
                return $this->ride($tops, $order->has('rig') ? $order->text('rig') : null, $called);
            case 'dissolve':
                foreach ($ids as $id) {
                    $this->dissolve($id);
                }

                return "Take apart $called";
            case 'aim':
                $point = $order->has('surface')
                    ? $this->middleOf($order->text('surface'))
                    : self::vector($order, 'point');
                foreach ($ids as $id) {
                    $world = $this->show->venue->world($id);
                    $this->put([$id => Pose::of($world->origin())->lookingAt($point)->matrix()]);
                    $order->has('surface') &&
                        $this->standing[$id]['kind'] === 'projector' &&
                        $this->change($id, ['aims' => [$order->text('surface')]]);
                }

                return "Aim $called";
            case 'fill':
                return $this->fill($ids, $order, $called);
            case 'pair':
                return $this->pair($ids, $order->number('degrees', 30));
            case 'keep':
                return $this->keep($order->text('name', ''));
            case 'apply':
                return $this->apply($order->text('variant'));
            default:
                throw Problem::refused(
                    'action',
                    'There is no way of arranging called "'.
                        $do.
                        '"; there are move, turn, align, lay, distribute, line, arc, duplicate, mirror, ride, dissolve, aim, fill, pair, keep and apply.',
                );
        }
    }

    /** @return list<string> */
    private function ids(Input $order): array
    {
        if (in_array($order->text('action', ''), ['apply', 'keep'], true)) {
            return [];
        }
        $ids = $order->texts('ids', 1000);
        if ($ids === []) {
            throw Problem::refused('ids', 'Name between 1 and 1,000 things.');
        }
        foreach ($ids as $id) {
            isset($this->standing[$id]) ||
                throw Problem::refused(
                    'ids',
                    'One of these things does not stand in the venue: it was removed, or it can\'t be read.',
                );
            if (
                $this->standing[$id]['row']['locked'] &&
                ! in_array($order->text('action', ''), ['duplicate', 'line', 'arc', 'pair'], true)
            ) {
                throw Problem::refused('ids', "{$this->standing[$id]['row']['name']} is locked. Unlock it to move it.");
            }
        }

        return array_values(array_unique($ids));
    }

    /** @param  list<string>  $ids */
    private function ridesOnOneOf(string $id, array $ids): bool
    {
        for (
            $at = $this->show->venue->transforms->parent($id);
            $at !== null;
            $at = $this->show->venue->transforms->parent($at)
        ) {
            if (in_array($at, $ids, true)) {
                return true;
            }
        }

        return false;
    }

    /** @param  array<string, Mat4>  $worlds */
    private function put(array $worlds): void
    {
        foreach ($worlds as $id => $world) {
            $this->change(
                $id,
                self::poseFields(
                    $this->show->venue->transforms->local($world, $this->show->venue->transforms->parent($id)),
                ),
            );
        }
    }

    /**
     * @return array{position: list<float>, rotation: list<float>} rounded to a thousandth of a millimetre and a
     *     millionth of a degree
     */
    private static function poseFields(Pose $pose): array
    {
        $round = static fn (float $v): float => round($v, 6) + 0.0;

        return [
            'position' => array_map($round, $pose->position->toArray()),
            'rotation' => array_map($round, [$pose->yaw, $pose->pitch, $pose->roll]),
        ];
    }

    /** @param  array<string, mixed>  $fields */
    private function change(string $id, array $fields): void
    {
        array_push(
            $this->changes,
            ...Changes::update($this->standing[$id]['kind'], $id, $this->standing[$id]['row'], $fields),
        );
    }

    /** A copy, and of a rig all that rides on it. */
    private function copy(string $id, Mat4 $world, ?string $mirror = null): void
    {
        $this->copyTo(
            $id,
            self::poseFields(
                $this->show->venue->transforms->local($world, $this->show->venue->transforms->parent($id)),
            ),
            $this->show->venue->transforms->parent($id),
            $mirror,
        );
    }

    /** @param  array<string, mixed>  $pose */
    private function copyTo(string $id, array $pose, ?string $rig, ?string $mirror): void
    {
        ['kind' => $kind, 'row' => $row] = $this->standing[$id];
        $new = Id::make();
        $fields =
            $pose +
            ($mirror === 'x' ? Mirror::fields($kind, $row) : []) + [
                'rig' => $rig,
                'name' => $this->freeName((string) $row['name']),
                'locked' => false,
            ] +
            array_intersect_key($row, RowSchema::fields($kind));
        $this->changes[] = Changes::create($kind, $new, $fields);
        if (count($this->changes) > Editor::MAX_CHANGES) {
            throw Problem::refused('count', 'That is more than '.Editor::MAX_CHANGES.' new things at once.');
        }
        if ($kind !== 'rig') {
            return;
        }
        foreach ($this->standing as $child => ['row' => $childRow]) {
            if ($this->show->venue->transforms->parent($child) === $id) {
                $local = $this->show->venue->transforms->pose($child)->matrix();
                $this->copyTo(
                    $child,
                    self::poseFields(Pose::fromMatrix($mirror === null ? $local : Arrange::mirror($local, $mirror, 0))),
                    $new,
                    $mirror,
                );
            }
        }
    }

    /** What a thing that was mirrored in its place has the other way round, and all that rides on it. */
    private function turnRound(string $id, string $axis): void
    {
        ['kind' => $kind, 'row' => $row] = $this->standing[$id];
        $axis === 'x' && $this->change($id, Mirror::fields($kind, $row));
        foreach (array_keys($this->standing) as $child) {
            if ($this->show->venue->transforms->parent($child) === $id) {
                $this->change(
                    $child,
                    self::poseFields(
                        Pose::fromMatrix(
                            Arrange::mirror($this->show->venue->transforms->pose($child)->matrix(), $axis, 0),
                        ),
                    ),
                );
                $this->turnRound($child, $axis);
            }
        }
    }

    private function freeName(string $name): string
    {
        $stem = (string) preg_replace('/ \d+$/', '', $name);
        for ($n = 2; isset($this->names["$stem $n"]); $n++);
        $this->names["$stem $n"] = true;

        return "$stem $n";
    }

    /** @param  list<string>  $ids */
    private function ride(array $ids, ?string $rig, string $called): string
    {
        if ($rig !== null && ! isset($this->show->venue->rigs[$rig])) {
            throw Problem::refused('rig', 'The rig is not in the venue.');
        }
        foreach ($ids as $id) {
            $this->change($id, ['rig' => $rig] + self::poseFields($this->show->venue->transforms->moved($id, $rig)));
        }

        return $rig === null ? "Take $called off its rig" : "Put $called on {$this->show->venue->rigs[$rig]}";
    }

    /** A rig goes; what rode on it stays where it is, on the rig's own rig if it has one. */
    private function dissolve(string $id): void
    {
        if ($this->standing[$id]['kind'] !== 'rig') {
            throw Problem::refused('ids', "{$this->standing[$id]['row']['name']} is no rig.");
        }
        $parent = $this->show->venue->transforms->parent($id);
        foreach (array_keys($this->standing) as $child) {
            if ($this->show->venue->transforms->parent($child) === $id) {
                $this->change(
                    $child,
                    ['rig' => $parent] + self::poseFields($this->show->venue->transforms->moved($child, $parent)),
                );
            }
        }
        // What a route throws from the rig stays where it is, too.
        $carried = CarriedReaches::rebased($this->show, $this->rows, $id, $parent, Id::make(...));
        array_push($this->changes, ...$carried->changes);
        array_push($this->notes, ...$carried->notes);
        $this->changes[] = Changes::delete('rig', $id);
    }

    /**
     * @param  list<string>  $ids
     * @param  Input  $order  surface, how: square, aimed or lens
     */
    private function fill(array $ids, Input $order, string $called): string
    {
        $surface = $order->text('surface');
        $how = $order->text('how', 'square');
        $face = null;
        foreach ($this->show->venue->bodies() as $body) {
            $body->id === $surface && ($face = $body);
        }
        if ($face === null || $face->material === null) {
            throw Problem::refused('surface', 'Choose a face to fill; walls and props are not projected on.');
        }
        if (! in_array($how, ['square', 'aimed', 'lens'], true)) {
            throw InvalidValue::notOneOf('how', $how, ['square', 'aimed', 'lens']);
        }
        foreach ($ids as $id) {
            $projector =
                $this->show->venue->projectors[$id] ??
                throw Problem::refused('ids', "{$this->standing[$id]['row']['name']} is no projector.");
            $place = $this->show->venue->world($id)->origin();
            $filled =
                $how === 'lens'
                    ? LensFit::withLens($place, $projector->lens, $face)
                    : LensFit::from($place, $projector->lens, $face, $how === 'square');
            $this->put([$id => $filled->pose->matrix()]);
            $this->change($id, [
                'aims' => [$surface],
                'lens' => [
                    'throw' => round($filled->throw, 6),
                    'shiftX' => round($filled->shiftX, 6),
                    'shiftY' => round($filled->shiftY, 6),
                    'focus' => round($filled->distance, 3),
                ] + $this->standing[$id]['row']['lens'],
            ]);
            foreach ($filled->says as $message) {
                $this->notes[] = count($ids) > 1 ? "$projector->name: $message" : $message;
            }
        }

        return "Fill $face->name from $called";
    }

    /**
     * Two projectors left and right of each face, aimed at it: such as the last that was added for it, or for anything.
     *
     * @param  list<string>  $ids
     */
    private function pair(array $ids, float $degrees): string
    {
        $faces = array_column(
            array_map(static fn (Body $body): array => [$body->id, $body], $this->show->venue->bodies()),
            1,
            0,
        );
        foreach ($ids as $id) {
            $face = $faces[$id] ?? null;
            if ($face === null || $face->material === null) {
                throw Problem::refused('ids', "{$this->standing[$id]['row']['name']} is no face to project on.");
            }
            $projectors = $this->rows['projector'] ?? [];
            $own = array_filter($projectors, static fn (array $row): bool => in_array($id, (array) $row['aims'], true));
            $like = array_values($own !== [] ? $own : $projectors);
            $like = $like === [] ? [] : $like[count($like) - 1];
            $lens = (array) ($like['lens'] ?? []);
            foreach (
                LensFit::pair(Lens::fromRow(['shiftX' => 0, 'shiftY' => 0] + $lens), $face, $degrees) as $k => $fit
            ) {
                $side = $k === 0 ? 'left' : 'right';
                $name = mb_substr((string) $this->standing[$id]['row']['name'], 0, 100)." $side";
                $this->changes[] = Changes::create(
                    'projector',
                    Id::make(),
                    [
                        'name' => isset($this->names[$name]) ? $this->freeName($name) : $name,
                        'lumens' => $like['lumens'] ?? 10_000.0,
                        'aims' => [$id],
                        'lens' => [
                            'throw' => round($fit->throw, 6),
                            'shiftX' => round($fit->shiftX, 6),
                            'shiftY' => round($fit->shiftY, 6),
                            'focus' => round($fit->distance, 3),
                        ] + $lens,
                    ] + self::poseFields($fit->pose),
                );
                foreach ($fit->says as $message) {
                    $this->notes[] = "$name: $message";
                }
            }
        }

        return 'Pair of projectors for '.
            (count($ids) === 1 ? $this->standing[$ids[0]]['row']['name'] : count($ids).' faces');
    }

    /** Keeps the present projectors as a placement, as they stand in the venue, whatever they ride on. */
    private function keep(string $name): string
    {
        if ($this->show->venue->projectors === []) {
            throw Problem::refused('name', 'There is no projector to keep.');
        }
        $projectors = [];
        foreach ($this->show->venue->projectors as $id => $projector) {
            $projectors[] =
                [
                    'id' => $id,
                    'name' => $projector->name,
                    'lens' => self::lensFields($projector->lens),
                    'lumens' => $projector->lumens,
                    'mirrored' => $projector->mirrored,
                    'aims' => $projector->aims,
                ] + self::poseFields(Pose::fromMatrix($this->show->venue->world($id)));
        }
        $this->changes[] = Changes::create('variant', Id::make(), ['name' => $name, 'projectors' => $projectors]);

        return "Save the layout $name";
    }

    /** Puts the projectors of a placement in place of those that are there. */
    private function apply(string $id): string
    {
        $variant = $this->show->venue->variants[$id] ?? throw Problem::refused('variant', 'This layout was removed.');
        foreach ($this->show->venue->projectors as $present => $_) {
            isset($variant->projectors[$present]) || ($this->changes[] = Changes::delete('projector', $present));
        }
        foreach ($variant->projectors as $one => [$projector, $pose]) {
            $fields =
                [
                    'name' => $projector->name,
                    'rig' => null,
                    'lumens' => $projector->lumens,
                    'mirrored' => $projector->mirrored,
                    'aims' => $projector->aims,
                    'lens' => self::lensFields($projector->lens),
                ] + self::poseFields($pose);
            if (isset($this->show->venue->projectors[$one])) {
                $this->change($one, $fields);
            } else {
                $this->changes[] = Changes::create('projector', $one, $fields);
            }
        }

        return "Use layout $variant->name";
    }

    /** @return array<string, scalar> */
    public static function lensFields(Lens $lens): array
    {
        $fields = get_object_vars($lens);
        unset($fields['across'], $fields['down']);
        if ($lens->portrait) {
            [$fields['widthPx'], $fields['heightPx']] = [$lens->heightPx, $lens->widthPx];
        }

        return $fields;
    }

    /**
     * @param  list<string>  $ids
     * @return array<string, array{array{float, float, float}, array{float, float, float}}>
     */
    private function bounds(array $ids): array
    {
        $bounds = [];
        foreach ($ids as $id) {
            $bounds[$id] = Arrange::bounds($this->meshOf($id), $this->show->venue->world($id));
        }

        return $bounds;
    }

    /** What a thing is made of; null of what has no body. */
    private function meshOf(string $id): ?Mesh
    {
        return isset($this->show->venue->surfaces[$id])
            ? $this->show->venue->surfaces[$id]->carrier->mesh()
            : ($this->show->venue->props[$id] ?? null)?->mesh();
    }

    private function middleOf(string $surface): Vec3
    {
        isset($this->show->venue->surfaces[$surface]) ||
            throw Problem::refused('surface', 'The surface is not in the venue.');
        [[$x0, $y0, $z0], [$x1, $y1, $z1]] = $this->bounds([$surface])[$surface];

        return Vec3::of(($x0 + $x1) / 2, ($y0 + $y1) / 2, ($z0 + $z1) / 2);
    }

    /** @param  array<string, Mat4>  $worlds */
    private static function middle(array $worlds): Vec3
    {
        $sum = Vec3::zero();
        foreach ($worlds as $world) {
            $sum = $sum->plus($world->origin());
        }

        return $sum->times(1 / max(1, count($worlds)));
    }

    private static function vector(Input $order, string $name): Vec3
    {
        return Vec3::of(...$order->vector($name, self::FARTHEST));
    }
}

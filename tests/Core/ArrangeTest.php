<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Units\InvalidValue;
use Core\Venue\Arrange;
use Core\Venue\TransformTree;
use PHPUnit\Framework\TestCase;

final class ArrangeTest extends TestCase
{
    private static function pose(float $x, float $y, float $z, float $yaw = 0, float $pitch = 0, float $roll = 0): Pose
    {
        return Pose::of(Vec3::of($x, $y, $z), $yaw, $pitch, $roll);
    }

    /** @return list<float> */
    private static function place(Pose $p): array
    {
        return $p->position->toArray();
    }

    public function test_what_rides_on_a_rig_comes_along(): void
    {
        $transforms = TransformTree::of(
            [
                'tower' => self::pose(10, 0, 0, 90),
                'arm' => self::pose(0, 5, 0),
                'lamp' => self::pose(0, 0, -2),
                'tree' => self::pose(1, 0, 1),
            ],
            ['arm' => 'tower', 'lamp' => 'arm', 'tree' => null],
        );
        // Turned by 90°, what lies 2 m upstage of the tower lies 2 m to house left of it.
        self::assertEqualsWithDelta([8, 5, 0], $transforms->world('lamp')->origin()->toArray(), 1e-9);
        $moved = $transforms->with('tower', self::pose(0, 1, 0));
        self::assertEqualsWithDelta([0, 6, -2], $moved->world('lamp')->origin()->toArray(), 1e-9);
        self::assertEqualsWithDelta([1, 0, 1], $moved->world('tree')->origin()->toArray(), 1e-9);
    }

    public function test_moving_a_rig_and_back_is_the_identity(): void
    {
        mt_srand(7);
        $random = static fn (): Pose => self::pose(
            mt_rand(-500, 500) / 10,
            mt_rand(0, 100) / 10,
            mt_rand(-500, 500) / 10,
            mt_rand(-1800, 1800) / 10,
            mt_rand(-800, 800) / 10,
            mt_rand(-1800, 1800) / 10,
        );
        for ($i = 0; $i < 100; $i++) {
            $transforms = TransformTree::of(
                ['rig' => $random(), 'below' => $random(), 'wall' => $random()],
                ['below' => 'rig', 'wall' => 'below'],
            );
            $there = $transforms->with('rig', $random());
            self::assertEqualsWithDelta(
                $transforms->world('wall')->m,
                $there->with('rig', $transforms->pose('rig'))->world('wall')->m,
                1e-9,
            );
            // Taken off and put on again, without a jump either time.
            $free = $transforms->moved('wall', null);
            self::assertEqualsWithDelta($transforms->world('wall')->m, $free->matrix()->m, 1e-6);
            $other = TransformTree::of(
                ['rig' => $transforms->pose('rig'), 'below' => $transforms->pose('below'), 'wall' => $free],
                ['below' => 'rig'],
            );
            $on = $other->moved('wall', 'below');
            self::assertEqualsWithDelta($transforms->pose('wall')->matrix()->m, $on->matrix()->m, 1e-6);
        }
    }

    public function test_rigs_in_a_ring_are_refused(): void
    {
        $poses = array_fill_keys(['a', 'b', 'c'], self::pose(0, 0, 0));
        foreach ([['a' => 'a'], ['a' => 'b', 'b' => 'a'], ['c' => 'a', 'a' => 'b', 'b' => 'c']] as $parents) {
            try {
                TransformTree::of($poses, $parents);
                self::fail('It was taken.');
            } catch (InvalidValue $refused) {
                self::assertSame('parent', $refused->field);
            }
        }
        $this->expectException(InvalidValue::class);
        TransformTree::of($poses, ['b' => 'a'])->moved('a', 'b');
    }

    public function test_rigs_ride_on_one_another_only_so_deep(): void
    {
        $poses = $parents = [];
        for ($i = 0; $i <= TransformTree::DEEPEST + 1; $i++) {
            $poses["r$i"] = self::pose(1, 0, 0);
            $i > 0 && ($parents["r$i"] = 'r'.($i - 1));
        }
        self::assertEqualsWithDelta(
            TransformTree::DEEPEST + 1,
            TransformTree::of($poses, array_slice($parents, 0, TransformTree::DEEPEST))
                ->world('r'.TransformTree::DEEPEST)
                ->origin()->x,
            1e-9,
        );
        $this->expectException(InvalidValue::class);
        TransformTree::of($poses, $parents);
    }

    public function test_a_parent_that_is_gone_is_none(): void
    {
        $transforms = TransformTree::of(['wall' => self::pose(1, 2, 3)], ['wall' => 'gone']);
        self::assertNull($transforms->parent('wall'));
        self::assertEqualsWithDelta([1, 2, 3], $transforms->world('wall')->origin()->toArray(), 1e-12);
    }

    public function test_several_are_moved_and_turned_together(): void
    {
        $things = ['a' => self::pose(1, 0, 0)->matrix(), 'b' => self::pose(3, 0, 0, 10)->matrix()];
        $moved = Arrange::move($things, Vec3::of(0, 2, -1));
        self::assertEqualsWithDelta([3, 2, -1], self::place(Pose::fromMatrix($moved['b'])), 1e-9);
        $turned = Arrange::turn($things, 'y', 90, Vec3::of(2, 0, 0));
        // Seen from above, x turns toward -z.
        self::assertEqualsWithDelta([2, 0, 1], self::place(Pose::fromMatrix($turned['a'])), 1e-9);
        self::assertEqualsWithDelta([2, 0, -1], self::place(Pose::fromMatrix($turned['b'])), 1e-9);
        self::assertEqualsWithDelta(100, Pose::fromMatrix($turned['b'])->yaw, 1e-9);
    }

    public function test_align_and_distribute_go_by_the_outer_edges(): void
    {
        $things = $bounds = [];
        foreach (['a' => [0, 1], 'b' => [5, 3], 'c' => [9, 2]] as $id => [$x, $width]) {
            $things[$id] = self::pose($x + $width / 2, 0, 0)->matrix();
            $bounds[$id] = [[(float) $x, 0.0, 0.0], [(float) ($x + $width), 1.0, 0.0]];
        }
        $left = Arrange::align($things, $bounds, 'x', 'min');
        self::assertEqualsWithDelta(
            [0.5, 1.5, 1.0],
            array_map(static fn ($m): float => $m->m[12], array_values($left)),
            1e-9,
        );
        $middle = Arrange::align($things, $bounds, 'x', 'middle');
        self::assertEqualsWithDelta(
            [5.5, 5.5, 5.5],
            array_map(static fn ($m): float => $m->m[12], array_values($middle)),
            1e-9,
        );
        $right = Arrange::align($things, $bounds, 'x', 'max');
        self::assertEqualsWithDelta(10.0, $right['c']->m[12], 1e-9);
        // From 0 to 11 m, 6 m are taken: gaps of 2.5 m.
        $even = Arrange::distribute($things, $bounds, 'x');
        self::assertEqualsWithDelta([0.5, 5.0, 10.0], [$even['a']->m[12], $even['b']->m[12], $even['c']->m[12]], 1e-9);
        $this->expectException(InvalidValue::class);
        Arrange::distribute(array_slice($things, 0, 2), $bounds, 'x');
    }

    public function test_arrays_along_a_line_and_round_an_arc(): void
    {
        $thing = self::pose(2, 1, 0)->matrix();
        $line = Arrange::line($thing, 4, Vec3::of(1.5, 0, -1));
        self::assertCount(3, $line);
        self::assertEqualsWithDelta([6.5, 1, -3], $line[2]->origin()->toArray(), 1e-9);
        $arc = Arrange::arc($thing, 3, 180, Vec3::zero());
        self::assertEqualsWithDelta([0, 1, -2], $arc[0]->origin()->toArray(), 1e-9);
        self::assertEqualsWithDelta([-2, 1, 0], $arc[1]->origin()->toArray(), 1e-9);
        self::assertEqualsWithDelta(90, Pose::fromMatrix($arc[0])->yaw, 1e-9);
        $ring = Arrange::arc($thing, 4, 360, Vec3::zero());
        self::assertEqualsWithDelta([0, 1, 2], $ring[2]->origin()->toArray(), 1e-9);
        $this->expectException(InvalidValue::class);
        Arrange::line($thing, 1, Vec3::zero());
    }

    public function test_a_mirror_image_turns_the_other_way_and_twice_is_the_thing_itself(): void
    {
        $wing = self::pose(-3.3, 1.2, 1, 40, 5, 3)->matrix();
        $image = Arrange::mirror($wing, 'x', 0.5);
        $pose = Pose::fromMatrix($image);
        self::assertEqualsWithDelta([4.3, 1.2, 1], self::place($pose), 1e-9);
        self::assertEqualsWithDelta([-40, 5, -3], [$pose->yaw, $pose->pitch, $pose->roll], 1e-9);
        self::assertEqualsWithDelta($wing->m, Arrange::mirror($image, 'x', 0.5)->m, 1e-12);
        $this->expectException(InvalidValue::class);
        Arrange::mirror($wing, 'y', 0);
    }

    public function test_things_are_stood_up_laid_on_the_floor_and_hung_as_a_ceiling(): void
    {
        // A wall of 4 × 2 m, its foot in the middle below, 0.1 m deep behind its front.
        $wall = [-2.0, 0.0, 0.0, 2.0, 0.0, 0.0, 2.0, 2.0, 0.0, -2.0, 2.0, -0.1];
        $body = Mesh::of($wall, array_fill(0, 8, 0.0), []);
        $front = static fn (Mat4 $m): array => $m->direction(Vec3::of(0, 0, 1))->toArray();
        $corners = static fn (Mat4 $m): array => array_map(
            static fn (array $p): array => array_map(
                static fn (float $v): float => round($v, 9) + 0.0,
                $m->point(Vec3::of(...$p))->toArray(),
            ),
            array_chunk($wall, 3),
        );
        $hung = self::pose(5, 3, -1)->matrix();
        $floor = Arrange::lay($hung, $body, 'floor');
        // It faces up; its middle was over (5, -1.05), and its back is on the floor.
        self::assertEqualsWithDelta([0, 1, 0], $front($floor), 1e-12);
        self::assertEqualsWithDelta(
            [[3, 0.1, -0.05], [7, 0.1, -0.05], [7, 0.1, -2.05], [3, 0, -2.05]],
            $corners($floor),
            1e-9,
        );
        // As a ceiling it faces down, as high as its top was.
        $ceiling = Arrange::lay($hung, $body, 'ceiling');
        self::assertEqualsWithDelta([0, -1, 0], $front($ceiling), 1e-12);
        self::assertEqualsWithDelta([5, 5, 5, 5.1], array_column($corners($ceiling), 1), 1e-9);
        // And up again: as it stood, but on the floor.
        $up = Arrange::lay($floor, $body, 'stand');
        self::assertEqualsWithDelta([0, 0, 1], $front($up), 1e-12);
        self::assertEqualsWithDelta([5, 0, -1], $up->origin()->toArray(), 1e-9);
        // Whatever its heading, tilt and roll: level, the same heading, the same middle.
        foreach ([[30, 0, 0], [-100, 20, 0], [75, -40, 15], [180, 0, 0]] as [$yaw, $pitch, $roll]) {
            $some = self::pose(1, 2, 3, $yaw, $pitch, $roll)->matrix();
            $before = array_map(
                static fn (array $p): array => $some->point(Vec3::of(...$p))->toArray(),
                array_chunk($wall, 3),
            );
            foreach (Arrange::LAID as $how) {
                $laid = Arrange::lay($some, $body, $how);
                $right = $laid->direction(Vec3::of(1, 0, 0));
                $was = $some->direction(Vec3::of(1, 0, 0));
                self::assertEqualsWithDelta(0.0, $right->y, 1e-12);
                self::assertEqualsWithDelta(0.0, $right->x * $was->z - $right->z * $was->x, 1e-12, 'its heading');
                self::assertEqualsWithDelta(
                    $how === 'stand' ? 0 : ($how === 'floor' ? 1 : -1),
                    $front($laid)[1],
                    1e-12,
                );
                foreach ([0, 2] as $axis) {
                    $of = static fn (array $all): float => min(array_column($all, $axis)) +
                        max(array_column($all, $axis));
                    self::assertEqualsWithDelta($of($before), $of($corners($laid)), 1e-6);
                }
                $how === 'ceiling' || self::assertEqualsWithDelta(0.0, min(array_column($corners($laid), 1)), 1e-9);
            }
        }
        // What has no body goes to the floor by its own place; one on its side has no heading.
        self::assertEqualsWithDelta(
            [1, 0, 3],
            Arrange::lay(self::pose(1, 2, 3)->matrix(), null, 'floor')
                ->origin()
                ->toArray(),
            1e-12,
        );
        self::assertEqualsWithDelta(
            [0, 0, 1],
            $front(Arrange::lay(self::pose(0, 0, 0, 0, 0, 90)->matrix(), $body, 'stand')),
            1e-9,
        );
        $this->expectException(InvalidValue::class);
        Arrange::lay($hung, $body, 'wall');
    }
}

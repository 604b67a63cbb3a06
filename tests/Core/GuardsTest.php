<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\MeshMaker;
use Core\Routing\Route;
use Core\Show\Programme;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Venue\Settings;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What values are checked with, and how the parts of a show find one another. */
final class GuardsTest extends TestCase
{
    public function test_what_is_within_its_limits_comes_back_and_the_limits_belong_to_it(): void
    {
        self::assertSame(
            [0.0, 1.0, -2.5],
            [Check::number('x', 0, 0, 1), Check::number('x', 1, 0, 1), Check::number('x', -2.5, -3, 3)],
        );
        self::assertSame(
            [1, 16_384, 7],
            [Check::pixels('w', 1), Check::pixels('w', 16_384), Check::whole('n', 7, 7, 7)],
        );
        self::assertSame(
            [' Quay ', str_repeat('ø', 200)],
            [Check::name('name', ' Quay '), Check::name('name', str_repeat('ø', 200))],
        );
    }

    /** @return array<string, array{\Closure(): mixed, string, string}> */
    public static function refusals(): array
    {
        $s = new Settings([
            'width' => 'wide',
            'kind' => 'spire',
            'name' => 7,
            'n' => 2.6,
            'endless' => INF,
            'list' => [1],
        ]);

        return [
            'a number just below' => [
                static fn () => Check::number('lens', 0.999, 1, 2),
                'lens',
                'lens must be between 1 and 2; it was 0.999.',
            ],
            'a number just above, with its unit' => [
                static fn () => Check::number('width', 2.001, 1, 2, 'm'),
                'width',
                'width must be between 1 and 2 m; it was 2.001.',
            ],
            'no number' => [static fn () => Check::number('x', NAN, 0, 1), 'x', 'x must be a finite number.'],
            'no end' => [static fn () => Check::number('x', -INF, -INF, INF), 'x', 'x must be a finite number.'],
            'a raster of nothing' => [
                static fn () => Check::pixels('height', 0),
                'height',
                'height must be between 1 and 16384 px; it was 0.',
            ],
            'a raster too high' => [
                static fn () => Check::pixels('height', 16_385),
                'height',
                'height must be between 1 and 16384 px; it was 16385.',
            ],
            'a whole number too small' => [
                static fn () => Check::whole('order', -2, -1, 1),
                'order',
                'order must be between -1 and 1; it was -2.',
            ],
            'a name of blanks' => [static fn () => Check::name('name', " \n "), 'name', 'name must not be empty.'],
            'a name too long' => [
                static fn () => Check::name('name', str_repeat('ø', 201)),
                'name',
                'name must not be longer than 200 characters.',
            ],
            'a setting that is text' => [
                static fn () => $s->number('width', 1, 0, 9),
                'width',
                'width must be a finite number.',
            ],
            'a setting without end' => [
                static fn () => $s->number('endless', 1, 0, 9),
                'endless',
                'endless must be a finite number.',
            ],
            'a setting out of range' => [
                static fn () => $s->number('n', 1, 3, 9, 'm'),
                'n',
                'n must be between 3 and 9 m; it was 2.6.',
            ],
            'a setting that is a list' => [static fn () => $s->text('list'), 'list', 'list has to be text.'],
            'a text that is a number' => [static fn () => $s->text('name'), 'name', 'name has to be text.'],
            'a choice that there is not' => [
                static fn () => $s->choice('kind', ['flat', 'drum']),
                'kind',
                'kind must be one of flat, drum; it was "spire".',
            ],
            'a kind that there is not' => [static fn () => Schema::named('teapot'), 'kind', 'it was "teapot".'],
        ];
    }

    /** @param  \Closure(): mixed  $ask */
    #[DataProvider('refusals')]
    public function test_what_is_not_is_refused_with_its_field_its_limit_and_what_it_was(
        \Closure $ask,
        string $field,
        string $says,
    ): void {
        try {
            $ask();
            self::fail('It was taken.');
        } catch (InvalidValue $refused) {
            self::assertSame($field, $refused->field);
            self::assertStringEndsWith($says, $refused->getMessage());
            self::assertSame("row.$field", $refused->within('row')->field);
        }
    }

    public function test_a_setting_that_is_missing_has_its_usual_value(): void
    {
        $s = new Settings(['n' => 2.5, 'on' => 1, 'nil' => null]);
        self::assertSame(
            [4.0, 3, 2.5, 'flat', '', 'door', true, false, true, 1.5],
            [
                $s->number('lost', 4, 0, 9),
                $s->whole('n', 1, 0, 9),
                $s->number('n', 1, 0, 9),
                $s->choice('kind', ['flat', 'drum']),
                $s->text('lost'),
                $s->text('lost', 'door'),
                $s->flag('on'),
                $s->flag('lost'),
                $s->flag('lost', true),
                $s->number('nil', 1.5, 0, 9),
            ],
        );
    }

    public function test_a_polygon_of_a_mesh_is_a_fan_from_its_first_corner(): void
    {
        $maker = new MeshMaker();
        $maker->add([0, 0, 0, 0, 1], [1, 0, 0, 1, 1], [1, 1, 0, 1, 0], [0, 1, 0, 0, 0]);
        $maker->add([5, 0, 0, 0, 0], [6, 0, 0, 1, 0], [5, 1, 0, 0, 1]);
        $mesh = $maker->mesh();
        self::assertSame([0, 1, 2, 0, 2, 3, 4, 5, 6], $mesh->indices);
        self::assertSame([7 * 3, 7 * 2, 3], [count($mesh->positions), count($mesh->uvs), $mesh->triangleCount()]);
        self::assertEqualsWithDelta(1.5, self::area($mesh->positions, $mesh->indices), 1e-12);
    }

    /**
     * @param  list<float>  $p
     * @param  list<int>  $indices
     */
    private static function area(array $p, array $indices): float
    {
        $area = 0.0;
        foreach (array_chunk($indices, 3) as [$a, $b, $c]) {
            $area +=
                abs(
                    ($p[3 * $b] - $p[3 * $a]) * ($p[3 * $c + 1] - $p[3 * $a + 1]) -
                        ($p[3 * $c] - $p[3 * $a]) * ($p[3 * $b + 1] - $p[3 * $a + 1]),
                ) / 2;
        }

        return $area;
    }

    public function test_timelines_lie_by_their_order_and_each_has_its_own_layers_markers_and_cues(): void
    {
        $s = Flicks::PER_SECOND;
        $programme = Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [
                    ['id' => 'b', 'name' => 'Above', 'duration' => $s, 'order' => 2],
                    ['id' => 'a', 'name' => 'Below', 'duration' => $s, 'order' => -1],
                    ['id' => 'c', 'name' => 'Also above', 'duration' => $s, 'order' => 2],
                ],
                'layer' => [
                    ['id' => 'l2', 'timeline' => 'b', 'name' => 'Two', 'order' => 5],
                    ['id' => 'l1', 'timeline' => 'b', 'name' => 'One', 'order' => 5],
                    ['id' => 'l0', 'timeline' => 'a', 'name' => 'Nought', 'order' => 9],
                    ['id' => 'lost', 'timeline' => 'gone', 'name' => 'Lost', 'order' => 0],
                ],
                'marker' => [
                    ['id' => 'm2', 'timeline' => 'b', 'time' => 20, 'name' => 'Later'],
                    ['id' => 'm1', 'timeline' => 'b', 'time' => 10, 'name' => 'Sooner'],
                    ['id' => 'm3', 'timeline' => 'a', 'time' => 5, 'name' => 'Elsewhere'],
                ],
                'curve' => [
                    [
                        'id' => 'k1',
                        'owner' => 'l1',
                        'property' => 'gain',
                        'slot' => 1,
                        'keyframes' => [['t' => 0, 'v' => 2]],
                    ],
                    [
                        'id' => 'k2',
                        'owner' => 'l1',
                        'property' => 'gain',
                        'slot' => 0,
                        'keyframes' => [['t' => 0, 'v' => 3]],
                    ],
                    [
                        'id' => 'k3',
                        'ownerKind' => 'timeline',
                        'owner' => 'a',
                        'property' => 'level',
                        'keyframes' => [['t' => 0, 'v' => 0.5]],
                    ],
                ],
            ],
        )->programme;
        self::assertSame(['a', 'b', 'c'], array_keys($programme->timelines));
        self::assertSame(
            ['l0', 'l1', 'l2'],
            array_map(static fn ($layer): string => $layer->id, iterator_to_array($programme->layers(), false)),
        );
        self::assertSame(
            [['m1', 'm2'], ['m3'], []],
            array_map(static fn (string $id): array => array_keys($programme->timelines[$id]->markers), ['b', 'a', 'c']),
        );
        self::assertSame(['gain#1', 'gain'], array_keys($programme->layer('l1')->curves ?? []));
        self::assertSame(
            [2.0, 3.0],
            array_map(
                static fn (string $name): float => ($programme->layer('l1')->curves[$name] ?? null)?->curve()->at(7) ??
                    -1.0,
                ['gain#1', 'gain'],
            ),
        );
        self::assertSame(['level'], array_keys($programme->timelines['a']->curves));
        self::assertSame([null, 'Lost'], [$programme->layer('nobody'), $programme->layer('lost')?->name]);
    }

    public function test_layers_of_no_route_or_of_routes_that_are_empty_reach_nothing(): void
    {
        $show = Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 1000]],
                'layer' => [
                    ['id' => 'free', 'timeline' => 't', 'name' => 'Free', 'order' => 0],
                    ['id' => 'void', 'timeline' => 't', 'name' => 'Void', 'order' => 1, 'route' => 'r'],
                    ['id' => 'lost', 'timeline' => 't', 'name' => 'Lost', 'order' => 2, 'route' => 'x'],
                ],
                'route' => [['id' => 'r', 'name' => 'Nowhere', 'surfaces' => []]],
            ],
        );
        foreach (['free', 'void', 'lost'] as $id) {
            $layer = $show->programme->layer($id);
            self::assertNotNull($layer);
            self::assertSame(
                [],
                array_merge(
                    [],
                    ...array_map(
                        static fn (Route $route): array => [
                            ...Programme::reached($route, $show->venue),
                            ...Programme::uses($layer, $route, $show->library, $show->venue),
                        ],
                        array_values($show->programme->ways($layer)),
                    ),
                ),
                $id,
            );
        }
        self::assertSame(['Lost takes a route that was removed.'], array_column($show->broken, 'message'));
    }
}

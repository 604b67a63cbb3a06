<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Preflight\Figures;
use Core\Preflight\Preflight;
use Core\Routing\BestPane;
use Core\Routing\CanvasLayout;
use Core\Routing\Reach;
use Core\Routing\Share;
use Core\Show\Changes;
use Core\Show\Document;
use Core\Show\Routing;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class CanvasTest extends TestCase
{
    public function test_surfaces_may_have_one_share_in_common_and_keep_their_own(): void
    {
        $share = static fn (string $id, float $x, ?string $follows = null): Share => new Share(
            $id,
            'r',
            "surface $id",
            ['x' => [$x]],
            $follows,
        );
        $placed = static fn (Share ...$shares): array => array_map(
            static fn (Share $one): array => [$one->id, $one->surface, $one->stored['x'][0], $one->valuesOf()],
            Share::placed(array_values($shares)),
        );
        self::assertSame(
            [['a', 'surface a', 10.0, 'a'], ['b', 'surface b', 10.0, 'a'], ['c', 'surface c', 10.0, 'a']],
            $placed($share('a', 10), $share('b', 20, 'a'), $share('c', 30, 'b')),
        );
        // What follows nothing that is there, or a ring, has its own.
        self::assertSame(
            [['a', 'surface a', 10.0, 'a'], ['b', 'surface b', 20.0, 'b']],
            $placed($share('a', 10, 'gone'), $share('b', 20, 'b')),
        );
        self::assertSame(
            [[10.0, 'a'], [20.0, 'b']],
            array_map(
                static fn (array $one): array => [$one[2], $one[3]],
                $placed($share('a', 10, 'b'), $share('b', 20, 'a')),
            ),
        );
        self::assertSame([], $placed());
    }

    public function test_surfaces_are_laid_out_as_they_stand_at_the_density_of_the_densest(): void
    {
        // 2 m × 1 m at 100 px/m, beside it 1 m × 1 m at 200 px/m, half a metre higher and half a metre away.
        $places = CanvasLayout::front(['a' => [-2.0, 1.0, 0.0, 0.0, 200, 100], 'b' => [0.5, 1.5, 1.5, 0.5, 200, 200]]);
        self::assertSame(['a' => [0, 100, 400, 200], 'b' => [500, 0, 200, 200]], $places);
        self::assertSame([700, 300], CanvasLayout::pane($places));
    }

    public function test_what_stands_edge_on_does_not_decide_and_what_is_too_large_is_made_smaller(): void
    {
        // A side wall of 0.01 m seen edge-on has 500 px there, but only 100 on each metre of its height.
        $places = CanvasLayout::front([
            'side' => [0.0, 2.0, 0.01, 0.0, 500, 200],
            'front' => [1.0, 2.0, 3.0, 0.0, 200, 200],
        ]);
        self::assertSame([0, 0, 1, 200], $places['side']);
        self::assertSame([100, 0, 200, 200], $places['front']);
        // A front of 1,000 m at 100 px/m would be 100,000 px wide: no pane is.
        $wide = CanvasLayout::front(['a' => [0.0, 1.0, 1000.0, 0.0, 100_000, 100]]);
        self::assertSame(32_768, $wide['a'][2]);
        self::assertSame([], CanvasLayout::front([]));
        self::assertSame([1, 1], CanvasLayout::pane([]));
        // Nothing of it has a size: it has a pixel all the same.
        self::assertSame([0, 0, 1, 1], CanvasLayout::front(['dot' => [0.0, 0.0, 0.0, 0.0, 10, 10]])['dot']);
    }

    public function test_rows_go_on_below_where_a_pane_ends_and_packing_starts_with_the_highest(): void
    {
        self::assertSame(
            ['a' => [0, 0, 100, 50], 'b' => [100, 0, 30, 80]],
            CanvasLayout::row(['a' => [100, 50], 'b' => [30, 80]]),
        );
        self::assertSame(
            ['a' => [0, 0, 30_000, 50], 'b' => [0, 50, 3_000, 80]],
            CanvasLayout::row(['a' => [30_000, 50], 'b' => [3_000, 80]]),
        );
        // 100 × 50 + 30 × 80 + 60 × 20 = 8,600 px²: shelves of √(8,600 · 16/9) = 124 px.
        self::assertSame(
            ['b' => [0, 0, 30, 80], 'c' => [0, 80, 100, 50], 'a' => [0, 130, 60, 20]],
            CanvasLayout::packed(['a' => [60, 20], 'b' => [30, 80], 'c' => [100, 50]]),
        );
        self::assertSame(['a' => [0, 0, 500, 1]], CanvasLayout::packed(['a' => [500, 1]]));
        self::assertSame([], CanvasLayout::packed([]));
    }

    public function test_the_best_panes_for_several_rasters(): void
    {
        self::assertNull(BestPane::largest([]));
        self::assertNull(BestPane::shapeOfMost([]));
        $rasters = [[1920, 960], [576, 960], [576, 960], [1920, 1080], [1280, 720], [3840, 2160]];
        self::assertSame([3840, 2160], BestPane::largest($rasters));
        self::assertSame([1000, 900], BestPane::largest([[1000, 10], [10, 900]]));
        // Three are 16:9, two 3:5, one 2:1.
        self::assertSame([3840, 2160], BestPane::shapeOfMost($rasters));
        // As common as another one: the larger.
        self::assertSame([100, 100], BestPane::shapeOfMost([[30, 10], [100, 100]]));
        // 1 % apart is the same shape, more is not.
        self::assertSame([1009, 1000], BestPane::shapeOfMost([[1000, 1000], [1009, 1000], [3000, 1000]]));
    }

    private static function document(): Document
    {
        $wall = static fn (string $id, float $x, int $columns, float $yaw = 0): array => [
            'id' => $id,
            'name' => "Wall $id",
            'position' => [$x, 0, 0],
            'rotation' => [$yaw, 0, 0],
            'cells' => [array_fill(0, $columns, 'panel')],
            'seams' => array_fill(0, $columns - 1, 0),
        ];

        return Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 20,
                        'heightPx' => 20,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [$wall('a', 0, 2), $wall('b', 2, 2), $wall('c', 4, 1)],
                'rig' => [['id' => 'boat', 'name' => 'Boat', 'position' => [5, 0, 0], 'rotation' => [90, 0, 0]]],
                'camera' => [
                    [
                        'id' => 'cam',
                        'name' => 'Camera',
                        'position' => [0, 1.5, 4],
                        'rotation' => [10, -5, 0],
                        'rig' => 'boat',
                        'sensorWidth' => 36,
                        'sensorHeight' => 20.25,
                        'focal' => 18,
                    ],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 705_600_000]],
                'layer' => [
                    ['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'own'],
                    ['id' => 'm', 'timeline' => 'line', 'name' => 'M', 'order' => 1],
                ],
                'route' => [['id' => 'own', 'layer' => 'l', 'surfaces' => ['a', 'b']]],
            ],
        );
    }

    private static function routing(Document $document): Routing
    {
        $n = 0;

        return new Routing($document->show, $document, static function () use (&$n): string {
            return 'new'.++$n;
        });
    }

    /** @param  list<array<string, mixed>>  $changes */
    private static function after(Document $document, array $changes): Document
    {
        /**
         * @var list<array{kind: string, id: string, op: string, fields: array<string, array{before?: mixed, after?: mixed}>}> $merged
         */
        $merged = Changes::merged($changes);

        return $document->with($document->changedRows($merged));
    }

    public function test_a_layers_own_route_gets_a_name_and_others_take_it(): void
    {
        $document = self::document();
        [$changes, $id] = self::routing($document)->name('Harbour', Reach::Canvas, [], 'l');
        self::assertSame('own', $id);
        $document = self::after($document, $changes);
        $route = $document->show->programme->routes['own'];
        self::assertSame(
            ['Harbour', null, Reach::Canvas, ['a', 'b'], 120, 20],
            [$route->name, $route->layer, $route->reach, $route->surfaces(), $route->width, $route->height],
        );
        // a reaches from −0.5 to 0.5 m, b from 1.5 to 2.5: at 40 px/m, with 40 px between them.
        self::assertSame(
            [[0.0, 0.0, 40.0, 20.0], [80.0, 0.0, 40.0, 20.0]],
            array_map(static fn ($s): array => $s->rectangle(), $route->shares),
        );
        $document = self::after($document, self::routing($document)->take('own', ['m']));
        self::assertSame('own', $document->show->programme->layer('m')?->route);
        // One without a layer is new.
        [$changes, $id] = self::routing($document)->name('Sweep', Reach::Lens, ['c'], null);
        self::assertSame('new1', $id);
        $sweep = self::after($document, $changes)->show->programme->routes['new1'];
        self::assertSame([['c'], 20, 20], [$sweep->surfaces(), $sweep->width, $sweep->height]);
        // c is half a metre square at 4 m: seen from half a metre before it.
        self::assertEquals(
            [4.0, 0.25, 0.5],
            [$sweep->lenses[0]->stored['x'][0], $sweep->lenses[0]->stored['y'][0], $sweep->lenses[0]->stored['z'][0]],
        );
    }

    public function test_another_reach_keeps_surfaces_and_what_it_does_not_use(): void
    {
        $document = self::document();
        $document = self::after($document, self::routing($document)->name('Way', Reach::Canvas, [], 'l')[0]);
        $document = self::after($document, self::routing($document)->reach('own', Reach::Globe));
        $route = $document->show->programme->routes['own'];
        self::assertSame([['a', 'b'], 120, 20], [$route->surfaces(), $route->width, $route->height]);
        $document = self::after($document, self::routing($document)->reach('own', Reach::Skin));
        self::assertFalse($document->show->programme->routes['own']->hasPane());
        $document = self::after($document, self::routing($document)->reach('own', Reach::Canvas));
        $route = $document->show->programme->routes['own'];
        self::assertSame([['a', 'b'], 120, 20], [$route->surfaces(), $route->width, $route->height]);
        self::assertCount(2, $route->shares);
        self::assertSame([], self::routing($document)->reach('own', Reach::Canvas));
    }

    public function test_a_surface_more_on_a_canvas_gets_a_share_at_its_end_and_one_less_loses_it(): void
    {
        $document = self::document();
        $document = self::after($document, self::routing($document)->name('Way', Reach::Canvas, [], 'l')[0]);
        $document = self::after($document, self::routing($document)->surfaces('own', ['b', 'c']));
        $route = $document->show->programme->routes['own'];
        self::assertEqualsCanonicalizing(['b', 'c'], $route->surfaces());
        self::assertSame([120.0, 0.0, 20.0, 20.0], $route->share('c')?->rectangle());
        self::assertSame([140, 20], [$route->width, $route->height]);
        $document = self::after($document, self::routing($document)->lay('own', 'row'));
        $route = $document->show->programme->routes['own'];
        self::assertSame(
            [[0.0, 0.0, 40.0, 20.0], [40.0, 0.0, 20.0, 20.0]],
            [$route->share('b')?->rectangle(), $route->share('c')?->rectangle()],
        );
        self::assertSame([60, 20], [$route->width, $route->height]);
        self::assertSame([], self::routing($document)->lay('own', 'row'));
    }

    public function test_a_lens_takes_over_where_a_camera_is_and_what_it_takes_in(): void
    {
        $document = self::document();
        $document = self::after($document, self::routing($document)->name('Plate', Reach::Lens, ['a'], null)[0]);
        $route = array_keys($document->show->programme->routes)[0];
        $lens = $document->show->programme->routes[$route]->lenses[0]->id;
        $document = self::after($document, self::routing($document)->copyCamera($lens, 'cam'));
        $copied = $document->show->programme->routes[$route]->lenses[0];
        self::assertSame('boat', $copied->rig);
        // 36 mm at 18 mm take in 90°.
        self::assertEqualsWithDelta(
            [0, 1.5, 4, 10, -5, 90],
            array_map(static fn (string $name): float => $copied->stored[$name][0], [
                'x',
                'y',
                'z',
                'yaw',
                'pitch',
                'angle',
            ]),
            1e-5,
        );
        for ($n = 2; $n <= 8; $n++) {
            $document = self::after(
                $document,
                (new Routing($document->show, $document, static fn (): string => "lens$n"))->addLens($route)[0],
            );
        }
        $eight = $document->show->programme->routes[$route]->lenses;
        self::assertCount(8, $eight);
        // Each is turned by 80 % of what it takes in to the right of the last.
        self::assertEqualsWithDelta(10 - 72, $eight[1]->stored['yaw'][0], 1e-5);
        $this->expectExceptionMessage('at most 8 lenses');
        self::routing($document)->addLens($route);
    }

    public function test_a_fitting_for_one_surface_is_chosen_and_given_up(): void
    {
        $document = self::document();
        $document = self::after($document, self::routing($document)->fit('own', 'a', 'contain'));
        self::assertSame('contain', $document->show->programme->routes['own']->fittings['a']->value);
        $document = self::after($document, self::routing($document)->fit('own', 'a', ''));
        self::assertSame([], $document->show->programme->routes['own']->fittings);
        foreach (
            [
                ['fit', 'own', 'nowhere', 'contain'],
                ['fit', 'own', 'a', 'squeeze'],
                ['lay', 'own', 'askew'],
                ['pane', 'own', 100, 0],
                ['take', 'nothing', ['l']],
                ['take', 'own', ['nobody']],
                ['copyCamera', 'none', 'cam'],
                ['surfaces', 'own', ['nowhere']],
                ['addLens', 'nothing'],
            ] as $order
        ) {
            try {
                self::routing($document)->{array_shift($order)}(...$order);
                self::fail('Something was done that can not be.');
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }

    public function test_what_a_thrown_route_reaches_and_how_densely(): void
    {
        $document = self::document();
        [$changes, $route] = self::routing($document)->name('Plate', Reach::Lens, ['a', 'c'], null);
        $lens = ['x' => 0.0, 'y' => 0.25, 'z' => 1.0, 'angle' => rad2deg(2 * atan(0.5))];
        foreach ($changes as $i => $change) {
            if ($change['kind'] === 'lens') {
                $changes[$i]['fields']['values']['after'] = $lens;
            }
        }
        $document = self::after($document, [
            ...$changes,
            ...self::routing(self::after($document, $changes))->pane($route, 80, 40),
        ]);
        $told = Figures::of($document->show)['routes'][$route];
        self::assertSame(['a', 'c'], $told['surfaces']);
        // From 1 m before it, taking in just its metre: 80 px on its 40, both ways alike.
        $a = $told['coverage']['a'];
        self::assertEqualsWithDelta([1, 2, 2], [$a['reached'], $a['densityMin'], $a['densityMax']], 1e-4);
        // Twenty columns and rows of 24 at most: the middles of the outermost squares, half a square from the edge.
        self::assertEqualsWithDelta([80 / 48, 1, 80 - 80 / 48, 39], $a['pane'], 1e-3);
        self::assertSame(0.0, $told['coverage']['c']['reached']);
        $said = array_map(
            static fn ($f): string => $f->message,
            array_filter(Preflight::of($document->show), static fn ($f): bool => $f->kind === 'route'),
        );
        self::assertSame(
            ['Plate throws nothing onto Wall c: it is out of the picture, or turned away.'],
            array_values($said),
        );
    }
}

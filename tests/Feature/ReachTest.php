<?php

declare(strict_types=1);

namespace Tests\Feature;

use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\TestCase;

/** Routes by request: named, taken, laid out, their shares, lenses and fittings; and what can't be. */
final class ReachTest extends TestCase
{
    private string $show = '';

    /** @var array<string, string> */
    private array $ids = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        foreach (['panel', 'line', 'wall', 'wing', 'layer', 'media', 'clip', 'camera'] as $name) {
            $this->ids[$name] = $this->id();
        }
        $i = $this->ids;
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Lay out',
            'changes' => [
                $this->created('panel', $i['panel'], [
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 100,
                    'heightPx' => 100,
                ]),
                $this->created('surface', $i['wall'], [
                    'name' => 'Wall',
                    'cells' => [[$i['panel'], $i['panel']]],
                    'seams' => [0],
                ]),
                $this->created('surface', $i['wing'], [
                    'name' => 'Wing',
                    'cells' => [[$i['panel']]],
                    'seams' => [],
                    'position' => [2, 0, 0],
                ]),
                $this->created('camera', $i['camera'], ['name' => 'Front', 'position' => [0, 1, 5]]),
                $this->created('media', $i['media'], [
                    'name' => 'Amber',
                    'kind' => 'testcard',
                    'width' => 200,
                    'height' => 100,
                ]),
                $this->created('timeline', $i['line'], ['name' => 'Main', 'duration' => 10 * 705_600_000]),
                ...$this->aimed(
                    $i['layer'],
                    [$i['wall'], $i['wing']],
                    ['timeline' => $i['line'], 'name' => 'Layer', 'order' => 0, 'fitting' => 'stretch'],
                ),
                $this->created('clip', $i['clip'], [
                    'layer' => $i['layer'],
                    'media' => $i['media'],
                    'start' => 0,
                    'length' => 705_600_000,
                ]),
            ],
        ])->assertCreated();
    }

    /** @param  array<string, mixed>  $order */
    private function order(array $order): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/routes", $order);
    }

    /** @return array<string, mixed> */
    private function document(): array
    {
        return (array) $this->ask('GET', "shows/$this->show")->json();
    }

    public function test_a_squashed_picture_is_mended_in_one_press_and_the_layer_is_not_doubled(): void
    {
        $document = $this->document();
        [$route, $layer, $wing, $media] = [
            $document['rows']['layer'][0]['route'],
            $this->ids['layer'],
            $this->ids['wing'],
            $this->ids['media'],
        ];
        $use = $document['computed']['placements']["$layer $wing $media"];
        self::assertTrue($use['squashed']);
        self::assertSame('The picture is stretched 100 % higher than it was made.', $use['remarks'][0]);
        self::assertEqualsWithDelta([2, 90], [$use['landing']['squash'], $use['landing']['angle']], 1e-9);
        $this->order(['action' => 'fit', 'route' => $route, 'surface' => $wing, 'fitting' => 'cover'])
            ->assertCreated()
            ->assertJsonPath('name', 'Fit Wing');
        $document = $this->document();
        self::assertFalse($document['computed']['placements']["$layer $wing $media"]['squashed']);
        self::assertSame([$wing => 'cover'], $document['rows']['route'][0]['fittings']);
        self::assertCount(1, $document['rows']['layer']);
        $this->order(['action' => 'fit', 'route' => $route, 'surface' => $wing, 'fitting' => 'cover'])
            ->assertOk()
            ->assertJsonPath('changes', []);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertTrue($this->document()['computed']['placements']["$layer $wing $media"]['squashed']);
    }

    public function test_a_canvas_is_named_laid_out_keyframed_and_goes_with_its_shares(): void
    {
        $made = $this->order([
            'action' => 'name',
            'name' => 'Harbour',
            'reach' => 'canvas',
            'layer' => $this->ids['layer'],
        ])
            ->assertCreated()
            ->json('createdId');
        $document = $this->document();
        self::assertSame(
            ['Harbour', 'canvas', null],
            [
                $document['rows']['route'][0]['name'],
                $document['rows']['route'][0]['reach'],
                $document['rows']['route'][0]['layer'],
            ],
        );
        self::assertCount(2, $document['rows']['share']);
        self::assertEqualsCanonicalizing(
            [$this->ids['wall'], $this->ids['wing']],
            $document['computed']['routes'][$made]['surfaces'],
        );
        $this->order(['action' => 'lay', 'route' => $made, 'how' => 'row'])->assertCreated();
        $document = $this->document();
        self::assertSame([300, 100], [$document['rows']['route'][0]['width'], $document['rows']['route'][0]['height']]);
        $share = array_column($document['rows']['share'], null, 'surface')[$this->ids['wing']];
        self::assertEquals(['x' => 200, 'y' => 0, 'width' => 100, 'height' => 100], $share['values']);
        // Its numbers are values like any other: keyframed, kept, undone.
        $this->ask('POST', "shows/$this->show/program", [
            'action' => 'key',
            'address' => "share:{$share['id']}/x",
            'time' => 0,
            'value' => 150,
        ])->assertCreated();
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Move',
            'changes' => [
                [
                    'kind' => 'share',
                    'id' => $share['id'],
                    'op' => 'update',
                    'fields' => ['values.x' => ['before' => 200, 'after' => 210.5]],
                ],
            ],
        ])->assertCreated();
        $document = $this->document();
        self::assertSame('share', $document['rows']['curve'][0]['ownerKind']);
        self::assertSame(210.5, array_column($document['rows']['share'], null, 'id')[$share['id']]['values']['x']);
        // A route that goes takes its shares and their curves along, and undo brings all of it back.
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Remove',
            'changes' => [['kind' => 'route', 'id' => $made, 'op' => 'delete', 'fields' => (object) []]],
        ])->assertCreated();
        $document = $this->document();
        self::assertSame(
            [[], [], []],
            [$document['rows']['route'], $document['rows']['share'], $document['rows']['curve']],
        );
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $document = $this->document();
        self::assertSame(
            [1, 2, 1],
            [count($document['rows']['route']), count($document['rows']['share']), count($document['rows']['curve'])],
        );
    }

    public function test_a_lens_is_set_up_and_copies_a_camera(): void
    {
        $made = $this->order([
            'action' => 'name',
            'name' => 'Plate',
            'reach' => 'lens',
            'surfaces' => [$this->ids['wall']],
        ])
            ->assertCreated()
            ->json('createdId');
        $second = $this->order(['action' => 'addLens', 'route' => $made])
            ->assertCreated()
            ->json('createdId');
        $this->order(['action' => 'copyCamera', 'lens' => $second, 'camera' => $this->ids['camera']])
            ->assertCreated()
            ->assertJsonPath('name', 'Copy Front');
        $lens = array_column($this->document()['rows']['lens'], null, 'id')[$second];
        self::assertEquals([0, 1, 5], [$lens['values']['x'], $lens['values']['y'], $lens['values']['z']]);
        $this->order(['action' => 'take', 'route' => $made, 'layers' => [$this->ids['layer']]])->assertCreated();
        self::assertSame($made, $this->document()['rows']['layer'][0]['route']);
        self::assertGreaterThan(
            0,
            $this->document()['computed']['routes'][$made]['coverage'][$this->ids['wall']]['reached'],
        );
    }

    /** @return array<string, array{array<string, mixed>, string}> */
    public static function refusals(): array
    {
        return [
            'no order' => [['action' => 'squeeze'], 'name, take, reach'],
            'nothing' => [[], 'action'],
            'no route' => [['action' => 'lay', 'route' => 'nothing', 'how' => 'row'], 'route is not in the show'],
            'no name' => [['action' => 'name', 'name' => '', 'reach' => 'skin'], 'name'],
            'a name too long' => [['action' => 'name', 'name' => str_repeat('n', 300)], 'name'],
            'no such reach' => [['action' => 'name', 'name' => 'N', 'reach' => 'air'], 'skin'],
            'no such surface' => [['action' => 'name', 'name' => 'N', 'surfaces' => ['x']], 'surfaces'],
            'no such layer' => [['action' => 'name', 'name' => 'N', 'layer' => 'x'], 'layer'],
            'lists of other things' => [['action' => 'take', 'route' => 'x', 'layers' => [[]]], 'layers'],
        ];
    }

    /** @param  array<string, mixed>  $order */
    #[DataProvider('refusals')]
    public function test_what_can_not_be_is_refused_in_words_and_nothing_changes(array $order, string $says): void
    {
        $before = $this->document();
        $answer = $this->order($order)->assertStatus(422)->assertHeader('Content-Type', 'application/problem+json');
        self::assertStringContainsString(
            $says,
            json_encode($answer->json(), JSON_UNESCAPED_UNICODE | JSON_THROW_ON_ERROR),
        );
        self::assertSame($before['rows'], $this->document()['rows']);
    }

    public function test_a_pixel_is_asked_about(): void
    {
        $ask = fn (array $query): TestResponse => $this->ask(
            'GET',
            "shows/$this->show/pixel?".http_build_query($query),
        );
        $told = $ask(['surface' => $this->ids['wing'], 'x' => 50, 'y' => 20, 'time' => 0])
            ->assertOk()
            ->json('layers');
        // 200 × 100 of content on 100 × 100.
        self::assertSame(
            [['Layer', 'Amber', 'skin', 101, 20.5]],
            array_map(
                static fn (array $l): array => [$l['name'], $l['mediaName'], $l['route'], $l['x'], $l['y']],
                $told,
            ),
        );
        $ask(['surface' => $this->ids['wing'], 'x' => 50, 'y' => 20, 'time' => 9 * 705_600_000])
            ->assertOk()
            ->assertJsonPath('layers', []);
        $ask(['surface' => $this->ids['wing'], 'x' => 100, 'y' => 0])
            ->assertStatus(422)
            ->assertJsonPath('field', 'x');
        $ask(['surface' => $this->ids['wing'], 'x' => '1.5', 'y' => 0])->assertStatus(422);
        $ask(['surface' => 'nothing', 'x' => 1, 'y' => 0])->assertNotFound();
        $ask([])->assertStatus(422);
    }

    public function test_rows_of_routes_are_checked_at_the_door(): void
    {
        $route = $this->document()['rows']['layer'][0]['route'];
        $edit = fn (string $kind, string $id, array $fields): TestResponse => $this->ask(
            'POST',
            "shows/$this->show/edits",
            [
                'name' => 'Change',
                'changes' => [
                    [
                        'kind' => $kind,
                        'id' => $id,
                        'op' => 'update',
                        'fields' => array_map(
                            static fn (array $pair): array => ['before' => $pair[0], 'after' => $pair[1]],
                            $fields,
                        ),
                    ],
                ],
            ],
        );
        $edit('route', $route, ['fittings' => [[], ['wall' => 'contain']]])->assertStatus(422);
        $edit('route', $route, ['fittings' => [[], [$this->ids['wall'] => 'squeeze']]])->assertStatus(422);
        $edit('route', $route, ['width' => [0, 40_000], 'height' => [0, 10]])->assertStatus(422);
        $edit('route', $route, ['reach' => ['skin', 'canvas']])->assertStatus(422);
        $edit('clip', $this->ids['clip'], ['fitting' => [null, 'squeeze']])->assertStatus(422);
        $edit('clip', $this->ids['clip'], ['anchorX' => [null, 1.5]])->assertStatus(422);
        $edit('clip', $this->ids['clip'], ['fitting' => [null, 'contain'], 'anchorX' => [null, 1.0]])->assertCreated();
        self::assertSame(
            ['contain', 1.0, null],
            [
                $this->document()['rows']['clip'][0]['fitting'],
                (float) $this->document()['rows']['clip'][0]['anchorX'],
                $this->document()['rows']['clip'][0]['anchorY'],
            ],
        );
        $share = $this->id();
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Add',
            'changes' => [$this->created('share', $share, ['route' => $this->id(), 'surface' => $this->ids['wall']])],
        ])->assertStatus(422);
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Add',
            'changes' => [$this->created('lens', $share, ['route' => $route, 'name' => 'L', 'part' => [0, 0, 1]])],
        ])->assertStatus(422);
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Add',
            'changes' => [
                $this->created('share', $share, [
                    'route' => $route,
                    'surface' => $this->ids['wall'],
                    'values' => ['width' => 0],
                ]),
            ],
        ])->assertStatus(422);
    }
}

<?php

declare(strict_types=1);

namespace Tests\Feature;

use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\TestCase;

/** Timelines by request: clips, keyframes, layers, where they are aimed, and values by their addresses. */
final class ProgramTest extends TestCase
{
    private const F = 705_600_000 / 25;

    private string $show = '';

    private string $wall = '';

    private string $wing = '';

    private string $media = '';

    /** @var list<string> */
    private array $layers = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        [$panel, $line] = [$this->id(), $this->id()];
        [$this->wall, $this->wing, $this->media] = [$this->id(), $this->id(), $this->id()];
        $this->layers = [$this->id(), $this->id(), $this->id()];
        $this->edit([
            $this->created('panel', $panel, [
                'name' => 'P',
                'widthMm' => 500,
                'heightMm' => 500,
                'widthPx' => 100,
                'heightPx' => 100,
            ]),
            $this->created('surface', $this->wall, ['name' => 'Wall', 'cells' => [[$panel, $panel]], 'seams' => [0]]),
            $this->created('surface', $this->wing, ['name' => 'Wing', 'cells' => [[$panel]], 'seams' => []]),
            $this->created('media', $this->media, ['name' => 'Amber', 'kind' => 'solid', 'colour' => '#ffaa00']),
            $this->created('timeline', $line, ['name' => 'Main', 'duration' => 10 * 705_600_000]),
            ...array_merge(
                ...array_map(
                    fn (string $id, int $n): array => $this->aimed(
                        $id,
                        [$this->wall],
                        ['timeline' => $line, 'name' => "L $n", 'order' => $n],
                    ),
                    $this->layers,
                    [0, 1, 2],
                ),
            ),
        ])->assertCreated();
    }

    /** @param  list<array<string, mixed>>  $changes */
    private function edit(array $changes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => 'Edit', 'changes' => $changes]);
    }

    /** @param  array<string, mixed>  $order */
    private function program(array $order): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/program", $order);
    }

    private function rows(string $kind): array
    {
        return $this->ask('GET', "shows/$this->show")
            ->assertOk()
            ->json("rows.$kind");
    }

    private function undo(): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/undo")->assertOk();
    }

    public function test_a_clip_is_put_down_trimmed_and_both_are_undone_one_by_one(): void
    {
        $placed = $this->program([
            'action' => 'place',
            'media' => $this->media,
            'layer' => $this->layers[0],
            'time' => 10.2 * self::F,
        ])->assertCreated();
        $id = $placed->json('createdId');
        self::assertSame(
            ['Put Amber on a layer', $id, 10 * self::F, 125 * self::F],
            [
                $placed->json('name'),
                $this->rows('clip')[0]['id'],
                $this->rows('clip')[0]['start'],
                $this->rows('clip')[0]['length'],
            ],
        );
        $this->program(['action' => 'trim', 'clip' => $id, 'edge' => 'start', 'to' => 4 * self::F])->assertCreated();
        $this->program(['action' => 'trim', 'clip' => $id, 'edge' => 'end', 'to' => 20 * self::F])->assertCreated();
        self::assertSame(
            [4 * self::F, 16 * self::F],
            [$this->rows('clip')[0]['start'], $this->rows('clip')[0]['length']],
        );
        $revision = $this->ask('GET', "shows/$this->show")->json('revision');
        self::assertSame(
            [[], $revision],
            [
                $this->program(['action' => 'trim', 'clip' => $id, 'edge' => 'end', 'to' => 20 * self::F])
                    ->assertOk()
                    ->json('changes'),
                $this->ask('GET', "shows/$this->show")->json('revision'),
            ],
            'an edge where it was is no Edit',
        );
        $this->undo();
        self::assertSame(
            [4 * self::F, 131 * self::F],
            [$this->rows('clip')[0]['start'], $this->rows('clip')[0]['length']],
        );
        $this->undo();
        $this->undo();
        self::assertSame([], $this->rows('clip'));
    }

    public function test_effects_are_made_keyed_copied_with_their_clips_and_go_with_what_has_them(): void
    {
        $clip = $this->program(['action' => 'place', 'media' => $this->media, 'layer' => $this->layers[0], 'time' => 0])
            ->assertCreated()
            ->json('createdId');
        [$hue, $blur] = [$this->id(), $this->id()];
        $this->edit([
            $this->created('effect', $hue, ['clip' => $clip, 'values' => ['effect' => 'hue', 'angle' => 90]]),
            $this->created('effect', $blur, [
                'layer' => $this->layers[0],
                'order' => 1,
                'values' => ['effect' => 'blur'],
            ]),
        ])->assertCreated();
        foreach (
            [
                ['layer' => $this->layers[0], 'clip' => $clip],
                [],
                ['layer' => $this->id()],
                ['layer' => $this->layers[0], 'values' => ['effect' => 'melt']],
                ['layer' => $this->layers[0], 'values' => ['radius' => 2]],
                ['layer' => $this->layers[0], 'values' => ['wobble' => 1]],
                ['layer' => $this->layers[0], 'order' => 1.5],
            ] as $bad
        ) {
            $this->edit([$this->created('effect', $this->id(), $bad)])
                ->assertStatus(422)
                ->assertHeader('Content-Type', 'application/problem+json');
        }
        self::assertCount(2, $this->rows('effect'));
        $curve = $this->program([
            'action' => 'key',
            'address' => "effect:$hue/angle",
            'time' => 2 * self::F,
            'value' => 45,
        ])
            ->assertCreated()
            ->json('createdId');
        $this->program([
            'action' => 'key',
            'address' => "effect:$hue/wobble",
            'time' => 6 * self::F,
            'value' => 1,
        ])->assertStatus(422);
        // A copy ten frames later has the effect, and its keyframe ten frames later.
        $copy = $this->program(['action' => 'paste', 'clips' => [$clip], 'time' => 10 * self::F])
            ->assertCreated()
            ->json('createdId');
        $made = array_values(
            array_filter($this->rows('effect'), static fn (array $e): bool => ! in_array($e['id'], [$hue, $blur], true)),
        );
        self::assertSame(
            [[$copy, 'hue', 90]],
            array_map(static fn (array $e): array => [$e['clip'], $e['values']['effect'], $e['values']['angle']], $made),
        );
        $keys = array_column($this->rows('curve'), 'keyframes', 'owner');
        self::assertSame(
            [[2 * self::F], [12 * self::F]],
            [array_column($keys[$hue], 't'), array_column($keys[$made[0]['id']], 't')],
        );
        // Keyframes of one go to another layer's effect of the same kind, and are refused where there is none.
        $this->program([
            'action' => 'pasteKeys',
            'keys' => [['curve' => $curve, 't' => 2 * self::F]],
            'time' => 0,
            'layer' => $this->layers[1],
        ])->assertStatus(422);
        $other = $this->id();
        $this->edit([
            $this->created('effect', $other, ['layer' => $this->layers[1], 'values' => ['effect' => 'hue']]),
        ])->assertCreated();
        $this->program([
            'action' => 'pasteKeys',
            'keys' => [['curve' => $curve, 't' => 2 * self::F]],
            'time' => 0,
            'layer' => $this->layers[1],
        ])->assertCreated();
        self::assertSame(
            [0],
            array_column(array_column($this->rows('curve'), 'keyframes', 'owner')[$other] ?? [], 't'),
        );
        // With the clip go its effect and that one's keyframes; one step brings all back.
        $this->edit([['kind' => 'clip', 'id' => $clip, 'op' => 'delete', 'fields' => []]])->assertCreated();
        self::assertSame(
            [false, false],
            [
                in_array($hue, array_column($this->rows('effect'), 'id'), true),
                in_array($hue, array_column($this->rows('curve'), 'owner'), true),
            ],
        );
        $this->undo();
        self::assertSame(
            [true, true],
            [
                in_array($hue, array_column($this->rows('effect'), 'id'), true),
                in_array($hue, array_column($this->rows('curve'), 'owner'), true),
            ],
        );
        $this->edit([['kind' => 'layer', 'id' => $this->layers[0], 'op' => 'delete', 'fields' => []]])->assertCreated();
        self::assertSame([$other], array_column($this->rows('effect'), 'id'));
    }

    public function test_keyframes_are_put_moved_and_removed(): void
    {
        $address = "layer:{$this->layers[1]}/opacity";
        $curve = $this->program(['action' => 'key', 'address' => $address, 'time' => 0, 'value' => 0.5])
            ->assertCreated()
            ->assertJsonPath('name', 'Add a keyframe of opacity')
            ->json('createdId');
        self::assertSame(
            $curve,
            $this->program(['action' => 'key', 'address' => $address, 'time' => 5 * self::F, 'value' => 1])
                ->assertCreated()
                ->json('createdId'),
        );
        $this->program([
            'action' => 'moveKey',
            'curve' => $curve,
            'from' => 5 * self::F,
            'time' => 8 * self::F,
            'value' => 0.75,
        ])->assertCreated();
        $keyframes = $this->rows('curve')[0]['keyframes'];
        self::assertSame(
            [[0, 0.5], [8 * self::F, 0.75]],
            array_map(static fn (array $k): array => [$k['t'], (float) $k['v']], $keyframes),
        );
        $this->program(['action' => 'dropKey', 'curve' => $curve, 'time' => 0])->assertCreated();
        self::assertCount(1, $this->rows('curve')[0]['keyframes']);
        $this->program(['action' => 'dropKey', 'curve' => $curve, 'time' => 8 * self::F])->assertCreated();
        self::assertSame([], $this->rows('curve'), 'a curve goes with its last keyframe');
        $this->undo();
        self::assertSame(8 * self::F, $this->ask('GET', "shows/$this->show")->json('rows.curve.0.keyframes.0.t'));
    }

    public function test_a_layer_is_brought_up_and_down(): void
    {
        $order = fn (): array => array_column(
            (function (array $rows): array {
                usort($rows, static fn (array $a, array $b): int => $a['order'] <=> $b['order']);

                return $rows;
            })($this->rows('layer')),
            'name',
        );
        $this->program(['action' => 'raise', 'layer' => $this->layers[0], 'up' => true])->assertCreated();
        self::assertSame(['L 1', 'L 0', 'L 2'], $order());
        $this->program(['action' => 'raise', 'layer' => $this->layers[2], 'up' => false])->assertCreated();
        self::assertSame(['L 1', 'L 2', 'L 0'], $order());
        self::assertSame(
            [],
            $this->program(['action' => 'raise', 'layer' => $this->layers[0], 'up' => true])
                ->assertOk()
                ->json('changes'),
        );
    }

    /** @return array<string, array{array<string, mixed>, string}> */
    public static function bad(): array
    {
        return [
            'nothing' => [[], 'action'],
            'an unknown order' => [['action' => 'melt'], 'action'],
            'an order that is no text' => [['action' => ['trim']], 'action'],
            'a trim of nothing' => [['action' => 'trim', 'edge' => 'end', 'to' => 5], 'clip'],
            'a clip that is not there' => [
                ['action' => 'trim', 'clip' => '01hzzzzzzzzzzzzzzzzzzzzzzz', 'edge' => 'end', 'to' => 5],
                'clip',
            ],
            'a time that is text' => [
                ['action' => 'place', 'media' => 'MEDIA', 'layer' => 'LAYER', 'time' => 'soon'],
                'time',
            ],
            'a time past all times' => [
                ['action' => 'place', 'media' => 'MEDIA', 'layer' => 'LAYER', 'time' => 1e30],
                'time',
            ],
            'a media that is not there' => [
                ['action' => 'place', 'media' => 'gone', 'layer' => 'LAYER', 'time' => 0],
                'media',
            ],
            'an address that is none' => [
                ['action' => 'key', 'address' => 'opacity', 'time' => 0, 'value' => 1],
                'address',
            ],
            'a property that is none' => [
                ['action' => 'key', 'address' => 'layer:LAYER/glow', 'time' => 0, 'value' => 1],
                'property',
            ],
            'a value that is text' => [
                ['action' => 'key', 'address' => 'layer:LAYER/x', 'time' => 0, 'value' => 'much'],
                'value',
            ],
            'a curve that is not there' => [['action' => 'dropKey', 'curve' => 'gone', 'time' => 0], 'curve'],
            'a layer that is not there' => [['action' => 'raise', 'layer' => 'gone', 'up' => true], 'layer'],
        ];
    }

    /** @param  array<string, mixed>  $order */
    #[DataProvider('bad')]
    public function test_a_bad_order_is_refused_by_its_field_and_leaves_nothing(array $order, string $field): void
    {
        $order = array_map(
            fn (mixed $v): mixed => is_string($v)
                ? strtr($v, ['MEDIA' => $this->media, 'LAYER' => $this->layers[0]])
                : $v,
            $order,
        );
        $before = $this->ask('GET', "shows/$this->show")->json();
        $answer = $this->program($order)->assertStatus(422);
        self::assertSame(
            ['application/problem+json', $field],
            [$answer->headers->get('Content-Type'), $answer->json('field')],
        );
        self::assertSame($before, $this->ask('GET', "shows/$this->show")->json());
    }

    public function test_aiming_changes_the_route_that_is_a_layers_own(): void
    {
        $routes = count($this->rows('route'));
        $this->ask('POST', "shows/$this->show/aim", [
            'layers' => [$this->layers[0]],
            'surfaces' => [$this->wing, $this->wall, $this->wing],
        ])
            ->assertCreated()
            ->assertJsonPath('name', 'Aim L 0');
        $own = array_column($this->rows('route'), 'surfaces', 'layer');
        self::assertSame(
            [[$this->wing, $this->wall], [$this->wall], $routes],
            [$own[$this->layers[0]], $own[$this->layers[1]], count($this->rows('route'))],
        );
        $again = $this->ask('POST', "shows/$this->show/aim", [
            'layers' => [$this->layers[0]],
            'surfaces' => [$this->wing, $this->wall],
        ])->assertOk();
        self::assertSame([], $again->json('changes'));
        $this->undo();
        self::assertSame([$this->wall], array_column($this->rows('route'), 'surfaces', 'layer')[$this->layers[0]]);
    }

    public function test_a_layer_on_a_shared_route_gets_its_own_and_the_shared_one_stays(): void
    {
        $shared = $this->id();
        $this->edit([
            $this->created('route', $shared, ['name' => 'Both', 'surfaces' => [$this->wall, $this->wing]]),
            ...array_map(
                fn (array $l): array => $this->updated('layer', $l['id'], ['route' => [$l['route'], $shared]]),
                array_slice($this->rows('layer'), 0, 2),
            ),
        ])->assertCreated();
        $this->ask('POST', "shows/$this->show/aim", [
            'layers' => [$this->layers[0]],
            'surfaces' => [],
        ])->assertCreated();
        $taken = array_column($this->rows('layer'), 'route', 'id');
        self::assertSame($shared, $taken[$this->layers[1]]);
        self::assertNotSame($shared, $taken[$this->layers[0]]);
        $routes = array_column($this->rows('route'), 'surfaces', 'id');
        self::assertSame([[$this->wall, $this->wing], []], [$routes[$shared], $routes[$taken[$this->layers[0]]]]);
    }

    public function test_aiming_at_what_is_not_there_is_refused(): void
    {
        $aim = fn (mixed $layers, mixed $surfaces): TestResponse => $this->ask('POST', "shows/$this->show/aim", [
            'layers' => $layers,
            'surfaces' => $surfaces,
        ])->assertStatus(422);
        self::assertSame('surfaces', $aim([$this->layers[0]], ['gone'])->json('field'));
        self::assertSame('layers', $aim(['gone'], [$this->wall])->json('field'));
        self::assertSame('layers', $aim('all', [$this->wall])->json('field'));
        self::assertSame('surfaces', $aim([$this->layers[0]], [['nested']])->json('field'));
    }

    public function test_a_layer_takes_its_own_route_along_and_leaves_a_shared_one(): void
    {
        $shared = $this->id();
        $this->edit([
            $this->created('route', $shared, ['name' => 'Both', 'surfaces' => [$this->wall]]),
        ])->assertCreated();
        $before = $this->rows('route');
        $this->edit([['kind' => 'layer', 'id' => $this->layers[0], 'op' => 'delete', 'fields' => []]])->assertCreated();
        self::assertSame(
            [null, $this->layers[1], $this->layers[2]],
            (static function (array $l): array {
                sort($l);

                return $l;
            })(array_column($this->rows('route'), 'layer')),
        );
        $this->undo();
        self::assertEqualsCanonicalizing($before, $this->rows('route'));
    }

    public function test_a_property_has_one_curve(): void
    {
        $curve = fn (string $property): array => $this->created('curve', $this->id(), [
            'owner' => $this->layers[0],
            'property' => $property,
            'keyframes' => [['t' => 0, 'v' => 1]],
        ]);
        $this->edit([$curve('x')])->assertCreated();
        $answer = $this->edit([$curve('y'), $curve('x')])->assertStatus(422);
        self::assertSame('application/problem+json', $answer->headers->get('Content-Type'));
        self::assertSame(['x'], array_column($this->rows('curve'), 'property'), 'nor is the good half written');
        $this->edit([
            $this->created('curve', $this->id(), [
                'owner' => $this->layers[0],
                'property' => 'glow',
                'keyframes' => [['t' => 0, 'v' => 1]],
            ]),
        ])->assertStatus(422);
        $this->edit([
            $this->created('curve', $this->id(), [
                'owner' => $this->layers[0],
                'property' => 'y',
                'keyframes' => [['t' => 0]],
            ]),
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'keyframes');
    }

    public function test_values_are_stored_by_name_rest_at_null_and_clash_one_by_one(): void
    {
        $layer = $this->layers[0];
        $value = fn (): array => (array) array_column($this->rows('layer'), 'values', 'id')[$layer];
        $this->edit([
            $this->updated('layer', $layer, ['values.x' => [0, 40], 'values.turn' => [null, -30.5]]),
        ])->assertCreated();
        self::assertEquals(['x' => 40, 'turn' => -30.5], $value());
        $this->edit([$this->updated('layer', $layer, ['values.x' => [40, null]])])->assertCreated();
        self::assertEquals(['turn' => -30.5], $value());
        // Another value of the same row is nobody's business; the same one is a clash with the present value.
        $this->edit([$this->updated('layer', $layer, ['values.opacity' => [1, 0.5]])])->assertCreated();
        $clash = $this->edit([$this->updated('layer', $layer, ['values.turn' => [0, 10]])])->assertStatus(409);
        self::assertSame(
            ['values.turn', -30.5],
            [$clash->json('clashes.0.field'), (float) $clash->json('clashes.0.present')],
        );
        $this->edit([$this->updated('layer', $layer, ['values.glow' => [0, 1]])])->assertStatus(422);
        $this->undo();
        self::assertEquals(['turn' => -30.5], $value());
    }

    public function test_a_new_layer_is_made_with_values_in_either_form(): void
    {
        [$a, $b] = [$this->id(), $this->id()];
        $line = $this->rows('layer')[0]['timeline'];
        $this->edit([
            $this->created('layer', $a, ['timeline' => $line, 'name' => 'A', 'values.x' => 12, 'values.turn' => null]),
            $this->created('layer', $b, ['timeline' => $line, 'name' => 'B', 'values' => ['x' => 3], 'values.y' => 4]),
        ])->assertCreated();
        $values = array_column($this->rows('layer'), 'values', 'id');
        self::assertEquals([['x' => 12], ['x' => 3, 'y' => 4]], [$values[$a], $values[$b]]);
        $this->edit([
            $this->created('layer', $this->id(), ['timeline' => $line, 'name' => 'C', 'values.opacity' => 2]),
        ])->assertStatus(422);
        self::assertCount(5, $this->rows('layer'));
    }
}

<?php

declare(strict_types=1);

namespace Tests\Feature;

use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\TestCase;

final class EditTest extends TestCase
{
    private string $show = '';

    private string $panel = '';

    private string $wall = '';

    private string $line = '';

    private string $layer = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        [$this->panel, $this->wall, $this->line, $this->layer] = [$this->id(), $this->id(), $this->id(), $this->id()];
        $this->edit('Lay out', [
            $this->created('panel', $this->panel, [
                'name' => 'P',
                'widthMm' => 500,
                'heightMm' => 500,
                'widthPx' => 100,
                'heightPx' => 100,
            ]),
            $this->created('surface', $this->wall, [
                'name' => 'Wall',
                'cells' => [[$this->panel, $this->panel]],
                'seams' => [0],
            ]),
            $this->created('timeline', $this->line, ['name' => 'Main', 'duration' => 705_600_000]),
            ...$this->aimed($this->layer, [$this->wall], ['timeline' => $this->line, 'name' => 'Sky']),
        ])->assertCreated();
    }

    /** @param  list<array<string, mixed>>  $changes */
    private function edit(string $name, array $changes, string $person = '01hzzzzzzzzzzzzzzzzzzzzzzz')
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => $name, 'changes' => $changes], [], $person);
    }

    private function field(string $kind, string $id, string $field): mixed
    {
        return array_column($this->ask('GET', "shows/$this->show")->json("rows.$kind"), $field, 'id')[$id] ?? null;
    }

    public function test_an_edit_changes_its_fields_and_is_in_the_history(): void
    {
        $answer = $this->edit('Dim the sky', [
            $this->updated('layer', $this->layer, ['values.opacity' => [1, 0.25]]),
        ])->assertCreated();
        self::assertSame(
            [2, 'Dim the sky', 'Dim the sky', null],
            [
                $answer->json('revision'),
                $answer->json('name'),
                $answer->json('history.undo'),
                $answer->json('history.redo'),
            ],
        );
        self::assertSame(0.25, $this->field('layer', $this->layer, 'values')['opacity']);
        self::assertSame(
            ['Dim the sky', 'Lay out'],
            array_column($this->ask('GET', "shows/$this->show/edits")->json('edits'), 'name'),
        );
        self::assertSame(
            200,
            $this->ask('GET', "shows/$this->show")->json("computed.surfaces.$this->wall.rasterWidth"),
        );
    }

    public function test_two_people_on_different_fields_of_one_row_do_not_clash(): void
    {
        $this->edit('Mine', [$this->updated('layer', $this->layer, ['values.opacity' => [1, 0.5]])])->assertCreated();
        $this->edit(
            'Theirs',
            [$this->updated('layer', $this->layer, ['values.x' => [0, 40]])],
            '01hyyyyyyyyyyyyyyyyyyyyyyy',
        )->assertCreated();
        self::assertSame(
            [0.5, 40],
            [
                $this->field('layer', $this->layer, 'values')['opacity'],
                (int) ($this->field('layer', $this->layer, 'values')['x'] ?? 0),
            ],
        );
    }

    public function test_a_real_clash_is_told_with_the_present_value_and_nothing_is_written(): void
    {
        $this->edit('Mine', [$this->updated('layer', $this->layer, ['values.opacity' => [1, 0.5]])])->assertCreated();
        $answer = $this->edit(
            'Theirs',
            [$this->updated('layer', $this->layer, ['values.x' => [0, 9], 'values.opacity' => [1, 0.7]])],
            '01hyyyyyyyyyyyyyyyyyyyyyyy',
        )->assertStatus(409);
        self::assertSame(
            [['kind' => 'layer', 'id' => $this->layer, 'field' => 'values.opacity', 'present' => 0.5]],
            $answer->json('clashes'),
        );
        self::assertStringContainsString('Somebody else\'s later change "Mine" (revision 2)', $answer->json('detail'));
        self::assertSame(0, (int) ($this->field('layer', $this->layer, 'values')['x'] ?? 0));
        self::assertSame(2, $this->ask('GET', "shows/$this->show")->json('revision'));
    }

    public function test_undo_and_redo_are_everybodys_own_and_name_whose_change_stands_in_the_way(): void
    {
        $other = '01hyyyyyyyyyyyyyyyyyyyyyyy';
        $this->edit('A', [$this->updated('layer', $this->layer, ['values.x' => [0, 1]])])->assertCreated();
        $this->edit('B', [$this->updated('layer', $this->layer, ['values.y' => [0, 2]])], $other)->assertCreated();
        $this->edit('C', [$this->updated('layer', $this->layer, ['values.x' => [1, 3]])])->assertCreated();
        self::assertSame(
            'C',
            $this->ask('POST', "shows/$this->show/undo")
                ->assertOk()
                ->json('name'),
        );
        self::assertSame(
            'A',
            $this->ask('POST', "shows/$this->show/undo")
                ->assertOk()
                ->json('name'),
        );
        self::assertSame(
            [0, 2],
            [
                (int) ($this->field('layer', $this->layer, 'values')['x'] ?? 0),
                (int) ($this->field('layer', $this->layer, 'values')['y'] ?? 0),
            ],
        );
        self::assertSame(
            'A',
            $this->ask('POST', "shows/$this->show/redo")
                ->assertOk()
                ->json('name'),
        );
        self::assertSame(['A', 'C'], array_values($this->ask('GET', "shows/$this->show")->json('history')));
        $this->edit('D', [$this->updated('layer', $this->layer, ['values.x' => [1, 8]])], $other)->assertCreated();
        $answer = $this->ask('POST', "shows/$this->show/undo")->assertStatus(409);
        self::assertStringContainsString('Somebody else\'s later change "D"', $answer->json('detail'));
        $this->ask('POST', "shows/$this->show/undo", [], [], $other)->assertOk();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame(0, (int) ($this->field('layer', $this->layer, 'values')['x'] ?? 0));
    }

    public function test_a_new_edit_drops_what_could_have_been_redone(): void
    {
        $this->edit('A', [$this->updated('layer', $this->layer, ['values.x' => [0, 1]])]);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $this->edit('B', [$this->updated('layer', $this->layer, ['values.y' => [0, 1]])])->assertCreated();
        $this->ask('POST', "shows/$this->show/redo")
            ->assertStatus(422)
            ->assertJsonPath('detail', 'There is nothing to redo.');
    }

    public function test_removing_a_layer_takes_what_is_on_it_along_and_undo_brings_all_back(): void
    {
        $media = $this->id();
        $clip = $this->id();
        $curve = $this->id();
        $this->edit('Fill', [
            $this->created('media', $media, ['name' => 'Card', 'kind' => 'testcard']),
            $this->created('clip', $clip, ['layer' => $this->layer, 'media' => $media, 'start' => 0, 'length' => 1000]),
            $this->created('curve', $curve, [
                'owner' => $this->layer,
                'property' => 'opacity',
                'keyframes' => [['t' => 0, 'v' => 0], ['t' => 100, 'v' => 1, 'i' => 'smooth']],
            ]),
        ])->assertCreated();
        $before = $this->ask('GET', "shows/$this->show")->json('rows');
        $this->edit('Remove the layer', [
            ['kind' => 'layer', 'id' => $this->layer, 'op' => 'delete', 'fields' => []],
        ])->assertCreated();
        $rows = $this->ask('GET', "shows/$this->show")->json('rows');
        self::assertSame([[], [], []], [$rows['layer'], $rows['clip'], $rows['curve']]);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame($before, $this->ask('GET', "shows/$this->show")->json('rows'));
    }

    public function test_removing_a_surface_keeps_what_used_it_and_says_what_no_longer_fits(): void
    {
        $this->edit('Remove the wall', [
            ['kind' => 'surface', 'id' => $this->wall, 'op' => 'delete', 'fields' => []],
        ])->assertCreated();
        $show = $this->ask('GET', "shows/$this->show");
        self::assertSame([$this->wall], $show->json('rows.route.0.surfaces'));
        self::assertContains(
            'Sky is aimed at a surface that was removed.',
            array_column(array_merge(...array_values($show->json('computed.findings'))), 'message'),
        );
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame(
            [],
            array_filter(
                array_merge(...array_values($this->ask('GET', "shows/$this->show")->json('computed.findings'))),
                static fn (array $f): bool => $f['severity'] === 'fault',
            ),
        );
    }

    /** @return array<string, array{\Closure(self): array<mixed>, string, string}> */
    public static function bad(): array
    {
        return [
            'no changes' => [static fn () => [], 'changes', 'between 1 and 5000'],
            'an unknown kind' => [
                static fn (self $t) => [['kind' => 'teapot', 'id' => $t->id(), 'op' => 'create']],
                'changes.0.kind',
                'no kind of row',
            ],
            'an unknown op' => [
                static fn (self $t) => [['kind' => 'layer', 'id' => $t->layer, 'op' => 'melt']],
                'changes.0',
                'create, update or delete',
            ],
            'an unknown field' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['glow' => [0, 1]])],
                'glow',
                'has no field',
            ],
            'text for a number' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.opacity' => [1, 'half']])],
                'values.opacity',
                'finite number',
            ],
            'a value of no name' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.glow' => [0, 1]])],
                'values.glow',
                'no value of the name',
            ],
            'out of range' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.opacity' => [1, 1.5]])],
                'values.opacity',
                'between 0 and 1',
            ],
            'no before value' => [
                static fn (self $t) => [
                    [
                        'kind' => 'layer',
                        'id' => $t->layer,
                        'op' => 'update',
                        'fields' => ['values.x' => ['after' => 1]],
                    ],
                ],
                'changes.0.fields.values.x',
                'before and after',
            ],
            'an id that is none' => [
                static fn () => [['kind' => 'layer', 'id' => "x' OR 1", 'op' => 'delete']],
                'changes.0.id',
                'ULID',
            ],
            'a missing field' => [
                static fn (self $t) => [$t->created('output', $t->id(), ['name' => 'Out'])],
                'changes.0.fields.width',
                'needs its width',
            ],
            'too large an output' => [
                static fn (self $t) => [
                    $t->created('output', $t->id(), ['name' => 'Out', 'width' => 20_000, 'height' => 10]),
                ],
                'width',
                '16384',
            ],
            'a layer of a timeline elsewhere' => [
                static fn (self $t) => [$t->created('layer', $t->id(), ['name' => 'L', 'timeline' => $t->id()])],
                'timeline',
                'not in this show',
            ],
            'a wall without panels' => [
                static fn (self $t) => [
                    $t->updated('surface', $t->wall, ['cells' => [[[$t->panel, $t->panel]], [[null, null]]]]),
                ],
                'cells',
                'at least one panel',
            ],
            'a wall of lost panels' => [
                static fn (self $t) => [
                    $t->updated('surface', $t->wall, [
                        'cells' => [[[$t->panel, $t->panel]], [['01hzzzzzzzzzzzzzzzzzzzzzzz', $t->panel]]],
                    ]),
                ],
                'cells',
                'panel type of this wall was removed',
            ],
            'two keyframes at a time' => [
                static fn (self $t) => [
                    $t->created('curve', $t->id(), [
                        'owner' => $t->layer,
                        'property' => 'x',
                        'keyframes' => [['t' => 1, 'v' => 0], ['t' => 1, 'v' => 2]],
                    ]),
                ],
                'keyframes',
                'at the same time',
            ],
            'a colour of two numbers' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.gain' => [[1, 1, 1], [1, 2]]])],
                'values.gain',
                'list of 3 numbers',
            ],
            'a colour beyond its range' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.gain' => [[1, 1, 1], [1, 2, 5]]])],
                'values.gain',
                'between 0 and 4',
            ],
            'a switch that is text' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.mute' => [false, 'yes']])],
                'values.mute',
                'true or false',
            ],
            'a choice that there is not' => [
                static fn (self $t) => [$t->updated('layer', $t->layer, ['values.blend' => ['normal', 'glow']])],
                'values.blend',
                'normal, add, screen, multiply',
            ],
            'values of no type in a new row' => [
                static fn (self $t) => [
                    $t->created('layer', $t->id(), [
                        'timeline' => $t->line,
                        'name' => 'L',
                        'values' => ['gain' => [[1], 1, 1]],
                    ]),
                ],
                'values',
                'by their names',
            ],
            'a curve of a slot that there is not' => [
                static fn (self $t) => [
                    $t->created('curve', $t->id(), [
                        'owner' => $t->layer,
                        'property' => 'gain',
                        'slot' => 3,
                        'keyframes' => [['t' => 1, 'v' => 0]],
                    ]),
                ],
                'slot',
                '3 is none',
            ],
            'a choice that glides' => [
                static fn (self $t) => [
                    $t->created('curve', $t->id(), [
                        'owner' => $t->layer,
                        'property' => 'blend',
                        'keyframes' => [['t' => 1, 'v' => 'add', 'i' => 'linear']],
                    ]),
                ],
                'interpolation',
                'changes in steps',
            ],
            'a frame rate of no film' => [
                static fn (self $t) => [$t->updated('show', $t->show, ['frameRate' => ['25', '26']])],
                'frameRate',
                'one of',
            ],
        ];
    }

    /** @param  \Closure(self): array<mixed>  $changes */
    #[DataProvider('bad')]
    public function test_a_bad_edit_is_refused_with_its_field_and_leaves_nothing(
        \Closure $changes,
        string $field,
        string $message,
    ): void {
        $before = $this->ask('GET', "shows/$this->show")->json();
        $answer = $this->edit('Bad', [...$changes($this)])->assertStatus(422);
        self::assertSame('application/problem+json', $answer->headers->get('Content-Type'));
        self::assertSame($field, $answer->json('field'));
        self::assertStringContainsString($message, $answer->json('detail'));
        self::assertSame($before, $this->ask('GET', "shows/$this->show")->json());
    }

    public function test_colours_switches_and_choices_are_stored_as_what_they_are_and_undone(): void
    {
        $values = fn (): array => $this->field('layer', $this->layer, 'values');
        $this->edit('Colour', [
            $this->updated('layer', $this->layer, [
                'values.gain' => [[1, 1, 1], [2, 0.5, 1]],
                'values.mute' => [false, true],
                'values.blend' => ['normal', 'add'],
            ]),
        ])->assertCreated();
        self::assertEquals(['gain' => [2, 0.5, 1], 'mute' => true, 'blend' => 'add'], $values());
        // What is so already, though it was thought to be otherwise, is no clash; another value is.
        $this->edit('Again', [
            $this->updated('layer', $this->layer, ['values.blend' => ['add', 'screen']]),
        ])->assertCreated();
        $this->edit('Late', [
            $this->updated('layer', $this->layer, ['values.gain' => [[1, 1, 1], [4, 4, 4]]]),
        ])->assertStatus(409);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertEquals([], array_filter($values()), 'all rest again');
        $this->edit('At rest', [
            $this->updated('layer', $this->layer, ['values.gain' => [null, [1, 1, 1]], 'values.mute' => [null, false]]),
        ])
            ->assertCreated()
            ->assertJsonPath('revision', 5);
        foreach (
            [
                ['property' => 'gain', 'slot' => 2, 'keyframes' => [['t' => 0, 'v' => 4]]],
                ['property' => 'gain', 'slot' => 0, 'keyframes' => [['t' => 0, 'v' => 0.5]]],
                ['property' => 'mute', 'keyframes' => [['t' => 0, 'v' => true]]],
            ] as $fields
        ) {
            $this->edit('Curve', [
                $this->created('curve', $this->id(), ['owner' => $this->layer] + $fields),
            ])->assertCreated();
        }
        $this->edit('Twice', [
            $this->created('curve', $this->id(), [
                'owner' => $this->layer,
                'property' => 'gain',
                'slot' => 2,
                'keyframes' => [['t' => 0, 'v' => 1]],
            ]),
        ])->assertStatus(422);
        self::assertSame(
            [],
            array_filter(
                array_merge(...array_values($this->ask('GET', "shows/$this->show")->json('computed.findings'))),
                static fn (array $f): bool => $f['kind'] === 'curve',
            ),
        );
    }

    public function test_half_an_edit_is_never_written(): void
    {
        $output = $this->id();
        $this->edit('Two', [
            $this->created('output', $output, ['name' => 'Good', 'width' => 10, 'height' => 10]),
            $this->created('output', $this->id(), ['name' => 'Bad', 'width' => 0, 'height' => 10]),
        ])->assertStatus(422);
        self::assertSame([], $this->ask('GET', "shows/$this->show")->json('rows.output'));
    }

    public function test_many_rows_are_made_removed_and_brought_back_with_few_queries(): void
    {
        $media = $this->id();
        $this->edit('Media', [
            $this->created('media', $media, ['name' => 'Card', 'kind' => 'testcard']),
        ])->assertCreated();
        $clips = array_map(
            fn (int $i): array => $this->created('clip', $this->id(), [
                'layer' => $this->layer,
                'media' => $media,
                'start' => $i * 1000,
                'length' => 1000,
            ]),
            range(0, 599),
        );
        $queries = 0;
        DB::listen(static function () use (&$queries): void {
            $queries++;
        });
        $count = function (\Closure $do) use (&$queries): int {
            $queries = 0;
            $do();

            return $queries;
        };
        $asked = [
            'made' => $count(fn () => $this->edit('Fill', $clips)->assertCreated()),
            'taken back' => $count(fn () => $this->ask('POST', "shows/$this->show/undo")->assertOk()),
            'made again' => $count(fn () => $this->ask('POST', "shows/$this->show/redo")->assertOk()),
        ];
        $moved = array_map(
            fn (array $clip): array => $this->updated('clip', $clip['id'], [
                'start' => [$clip['fields']['start']['after'], $clip['fields']['start']['after'] + 500],
            ]),
            $clips,
        );
        $asked += [
            'moved' => $count(fn () => $this->edit('Move', $moved)->assertCreated()),
            'moved back' => $count(fn () => $this->ask('POST', "shows/$this->show/undo")->assertOk()),
            'one moved' => $count(fn () => $this->edit('Move', [$moved[0]])->assertCreated()),
            'one moved back' => $count(fn () => $this->ask('POST', "shows/$this->show/undo")->assertOk()),
        ];
        self::assertLessThanOrEqual(12, $asked['one moved'], (string) json_encode($asked));
        $effects = array_map(
            fn (array $clip): array => $this->created('effect', $this->id(), [
                'clip' => $clip['id'],
                'values' => ['effect' => 'blur'],
            ]),
            $clips,
        );
        $curves = array_map(
            fn (array $effect): array => $this->created('curve', $this->id(), [
                'ownerKind' => 'effect',
                'owner' => $effect['id'],
                'property' => 'mix',
                'keyframes' => [['t' => 0, 'v' => 1]],
            ]),
            $effects,
        );
        $asked['effects with curves'] = $count(
            fn () => $this->edit('Blur all', [...$effects, ...$curves])->assertCreated(),
        );
        $twice = $this->edit('Twice', [
            $this->created('curve', $this->id(), [
                'ownerKind' => 'effect',
                'owner' => $effects[9]['id'],
                'property' => 'mix',
                'keyframes' => [['t' => 0, 'v' => 1]],
            ]),
        ])->assertStatus(422);
        self::assertStringContainsString('has a curve already', $twice->json('detail'));
        // Two of one edit that want the same place, and one that takes the place that another of it gives up.
        $free = fn (string $property): array => $this->created('curve', $this->id(), [
            'ownerKind' => 'effect',
            'owner' => $effects[3]['id'],
            'property' => $property,
            'keyframes' => [['t' => 0, 'v' => 1]],
        ]);
        $this->edit('Twice', [$free('radius'), $free('radius')])->assertStatus(422);
        $this->edit('Swap', [
            $this->updated('curve', $curves[3]['id'], ['property' => ['mix', 'radius']]),
            $free('mix'),
        ])->assertCreated();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $asked['and without them'] = $count(fn () => $this->ask('POST', "shows/$this->show/undo")->assertOk());
        self::assertLessThan(60, max($asked), (string) json_encode($asked));
        $before = $this->ask('GET', "shows/$this->show")->json('rows');
        self::assertSame(array_column($clips, 'id'), array_column($before['clip'], 'id'));
        // One of those that go has an effect with a curve, which go along, and all comes back.
        $effect = $this->id();
        $this->edit('Blur', [
            $this->created('effect', $effect, ['clip' => $clips[7]['id'], 'values' => ['effect' => 'blur']]),
            $this->created('curve', $this->id(), [
                'ownerKind' => 'effect',
                'owner' => $effect,
                'property' => 'mix',
                'keyframes' => [['t' => 0, 'v' => 0], ['t' => 100, 'v' => 1]],
            ]),
        ])->assertCreated();
        $with = $this->ask('GET', "shows/$this->show")->json('rows');
        $gone = $this->edit(
            'Clear',
            array_map(
                static fn (array $clip): array => [
                    'kind' => 'clip',
                    'id' => $clip['id'],
                    'op' => 'delete',
                    'fields' => [],
                ],
                $clips,
            ),
        )
            ->assertCreated()
            ->json('changes');
        self::assertEqualsCanonicalizing(
            ['clip' => 600, 'effect' => 1, 'curve' => 1],
            array_count_values(array_column($gone, 'kind')),
        );
        $after = $this->ask('GET', "shows/$this->show")->json('rows');
        self::assertSame([[], [], []], [$after['clip'], $after['effect'], $after['curve']]);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertEqualsCanonicalizing($with['clip'], $this->ask('GET', "shows/$this->show")->json('rows.clip'));
        foreach (['effect', 'curve'] as $kind) {
            self::assertSame($with[$kind], $this->ask('GET', "shows/$this->show")->json("rows.$kind"));
        }
    }

    public function test_changes_of_one_edit_build_on_each_other_in_their_order(): void
    {
        [$layer, $clip, $media, $other] = [$this->id(), $this->id(), $this->id(), $this->id()];
        $delete = static fn (string $kind, string $id): array => [
            'kind' => $kind,
            'id' => $id,
            'op' => 'delete',
            'fields' => [],
        ];
        // Made, changed, and its child made after it; another is made and removed again.
        $this->edit('Build', [
            $this->created('media', $media, ['name' => 'Card', 'kind' => 'testcard']),
            $this->created('layer', $layer, ['timeline' => $this->line, 'name' => 'Low', 'order' => 3]),
            $this->updated('layer', $layer, ['name' => ['Low', 'High']]),
            $this->created('clip', $clip, ['layer' => $layer, 'media' => $media, 'start' => 0, 'length' => 10]),
            $this->created('output', $other, ['name' => 'Short', 'width' => 10, 'height' => 10]),
            $delete('output', $other),
        ])->assertCreated();
        self::assertSame(
            ['High', 10, null],
            [
                $this->field('layer', $layer, 'name'),
                $this->field('clip', $clip, 'length'),
                $this->field('output', $other, 'name'),
            ],
        );
        // A child before its parent, one that is made twice, and one that goes after what took it along, are none of
        // them taken.
        $again = $this->id();
        $this->edit('Wrong way', [
            $this->created('clip', $this->id(), ['layer' => $again, 'media' => $media, 'start' => 0, 'length' => 10]),
            $this->created('layer', $again, ['timeline' => $this->line, 'name' => 'Late', 'order' => 4]),
        ])->assertStatus(422);
        $this->edit('Twice', [
            $this->created('output', $again, ['name' => 'One', 'width' => 10, 'height' => 10]),
            $this->created('output', $again, ['name' => 'Two', 'width' => 10, 'height' => 10]),
        ])->assertStatus(409);
        $this->edit('Gone', [$delete('layer', $layer), $delete('clip', $clip)])->assertStatus(409);
        self::assertSame('High', $this->field('layer', $layer, 'name'));
        $this->edit('Both', [$delete('clip', $clip), $delete('layer', $layer)])->assertCreated();
        self::assertSame([null, null], [$this->field('layer', $layer, 'name'), $this->field('clip', $clip, 'length')]);
        // A clash among what is removed, whatever follows, leaves all as it is.
        $this->edit('Half', [
            $delete('media', $media),
            $delete('media', $this->id()),
            $delete('surface', $this->wall),
            $delete('media', $media),
        ])->assertStatus(409);
        self::assertSame(
            ['Card', 'Wall'],
            [$this->field('media', $media, 'name'), $this->field('surface', $this->wall, 'name')],
        );
        // Rigs on rigs go together, in any order.
        foreach ([[0, 1, 2], [2, 1, 0], [1, 0, 2]] as $order) {
            $rigs = [$this->id(), $this->id(), $this->id()];
            $this->edit(
                'Rigs',
                array_map(
                    fn (int $n): array => $this->created('rig', $rigs[$n], [
                        'name' => "Rig $n",
                        'rig' => $n === 0 ? null : $rigs[$n - 1],
                    ]),
                    [0, 1, 2],
                ),
            )->assertCreated();
            $before = $this->ask('GET', "shows/$this->show")->json('rows.rig');
            $this->edit(
                'Strike',
                array_map(static fn (int $n): array => $delete('rig', $rigs[$n]), $order),
            )->assertCreated();
            self::assertSame([], $this->ask('GET', "shows/$this->show")->json('rows.rig'));
            $this->ask('POST', "shows/$this->show/undo")->assertOk();
            self::assertEqualsCanonicalizing($before, $this->ask('GET', "shows/$this->show")->json('rows.rig'));
            $this->ask('POST', "shows/$this->show/undo")->assertOk();
        }
        // Removed and made again with the same id, in one edit.
        $this->edit('Anew', [
            $delete('media', $media),
            $this->created('media', $media, ['name' => 'Bars', 'kind' => 'testcard']),
        ])->assertCreated();
        self::assertSame('Bars', $this->field('media', $media, 'name'));
    }
}

<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Task;
use App\Show\ShowRepository;
use Core\Exchange\ObjReader;
use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\LightPack;
use Core\Routing\GlobeProjection;
use Core\Routing\PlacedValues;
use Core\Routing\VirtualLens;
use Core\Units\Flicks;
use Illuminate\Testing\TestResponse;
use Symfony\Component\Process\ExecutableFinder;
use Symfony\Component\Process\Process;
use Tests\TestCase;

/**
 * Rigs, projectors, cameras, props and seats over the API: how they are placed and arranged, what light they make,
 * what papers say of them.
 */
final class StandingTest extends TestCase
{
    private string $show = '';

    /** @var array<string, string> */
    private array $ids = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        foreach (['panel', 'wall', 'face', 'rig', 'arm', 'projector', 'camera', 'seat', 'prop'] as $name) {
            $this->ids[$name] = $this->id();
        }
        $this->edit(
            $this->created('panel', $this->ids['panel'], [
                'name' => 'Indoor 2.6',
                'widthMm' => 500,
                'heightMm' => 500,
                'widthPx' => 192,
                'heightPx' => 192,
                'kilograms' => 8.1,
                'wattsAverage' => 55,
                'wattsMaximum' => 165,
            ]),
            $this->created('rig', $this->ids['rig'], [
                'name' => 'Tower',
                'position' => [10, 0, 0],
                'rotation' => [90, 0, 0],
            ]),
            $this->created('rig', $this->ids['arm'], [
                'name' => 'Arm',
                'position' => [0, 5, 0],
                'rig' => $this->ids['rig'],
            ]),
            $this->created('surface', $this->ids['wall'], [
                'name' => 'Wall',
                'position' => [-8, 0, 0],
                'cells' => [[$this->ids['panel'], $this->ids['panel'], null]],
                'seams' => [5, 0],
            ]),
            $this->created('surface', $this->ids['face'], [
                'name' => 'Face',
                'kind' => 'flat',
                'position' => [0, -1.5625, 0],
                'shape' => ['width' => 5, 'height' => 3.125, 'pixelsPerMetre' => 100],
            ]),
            $this->created('projector', $this->ids['projector'], [
                'name' => 'Beam',
                'position' => [0, 0, 10],
                'lumens' => 10_000,
                'aims' => [$this->ids['face']],
                'lens' => ['throw' => 2, 'throwMin' => 1.2, 'throwMax' => 2.4, 'shiftYMax' => 0.6, 'shiftXMax' => 0.3],
            ]),
            $this->created('camera', $this->ids['camera'], [
                'name' => 'Camera',
                'position' => [0, 0, -2],
                'rig' => $this->ids['arm'],
            ]),
            $this->created('seat', $this->ids['seat'], ['name' => 'Row one', 'position' => [0, 0, 12]]),
            $this->created('prop', $this->ids['prop'], [
                'name' => 'Crate',
                'position' => [20, 0, 0],
                'shape' => ['width' => 2, 'height' => 1, 'depth' => 1],
            ]),
        )->assertCreated();
    }

    private function edit(array ...$changes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => 'Build', 'changes' => $changes]);
    }

    /** @param  array<string, mixed>  $order */
    private function arrange(array $order): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/arrange", $order);
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return self::one($this->ask('GET', "shows/$this->show")->json("rows.$kind"), 'id', $id);
    }

    /** @return array<string, mixed> the row whose field has this value */
    private static function one(mixed $rows, string $field, mixed $value): array
    {
        foreach ((array) $rows as $row) {
            if (is_array($row) && ($row[$field] ?? null) === $value) {
                return $row;
            }
        }

        return [];
    }

    private function world(string $id): Mat4
    {
        $venue = $this->ask('GET', "shows/$this->show/meshes")
            ->assertOk()
            ->json();
        $of =
            $venue['places'][$id] ??
            (self::one($venue['meshes'], 'surface', $id) + self::one($venue['props'], 'prop', $id))['matrix'];

        return Mat4::of(array_map(floatval(...), $of));
    }

    public function test_what_rides_on_a_rig_goes_along_and_comes_off_without_a_jump(): void
    {
        self::assertEqualsWithDelta([8, 5, 0], $this->world($this->ids['camera'])->origin()->toArray(), 1e-9);
        $this->arrange(['action' => 'move', 'ids' => [$this->ids['rig'], $this->ids['camera']], 'by' => [1, 0, 2]])
            ->assertCreated()
            ->assertJsonPath('name', 'Move 2 things');
        // The camera rides on what is moved: it goes along once, not twice.
        self::assertEqualsWithDelta([9, 5, 2], $this->world($this->ids['camera'])->origin()->toArray(), 1e-6);
        $before = $this->world($this->ids['camera']);
        $this->arrange(['action' => 'ride', 'ids' => [$this->ids['camera']], 'rig' => null])->assertCreated();
        self::assertEqualsWithDelta($before->m, $this->world($this->ids['camera'])->m, 1e-5);
        self::assertNull($this->row('camera', $this->ids['camera'])['rig']);
        $this->arrange([
            'action' => 'ride',
            'ids' => [$this->ids['camera']],
            'rig' => $this->ids['rig'],
        ])->assertCreated();
        self::assertEqualsWithDelta($before->m, $this->world($this->ids['camera'])->m, 1e-5);
        foreach ([1, 2, 3] as $_) {
            $this->ask('POST', "shows/$this->show/undo")->assertOk();
        }
        self::assertEqualsWithDelta([8, 5, 0], $this->world($this->ids['camera'])->origin()->toArray(), 1e-9);
    }

    public function test_moving_one_projector_casts_no_other_and_a_name_casts_nothing(): void
    {
        $other = $this->id();
        $this->edit(
            $this->created('projector', $other, [
                'name' => 'Other',
                'position' => [1, 0, 9],
                'lumens' => 5000,
                'aims' => [$this->ids['face']],
            ]),
        )->assertCreated();
        $faces = count(
            $this->ask('GET', "shows/$this->show/light")
                ->assertOk()
                ->json('faces'),
        );
        self::assertGreaterThan(0, $faces);
        $first = $this->ask('GET', "shows/$this->show/light")->json();
        // Both projectors on each face, and where the pixels of each go.
        self::assertSame(2 * ($faces + 1), $first['cast']);
        $this->edit($this->updated('projector', $other, ['position' => [[1, 0, 9], [0.5, 0, 9]]]))->assertCreated();
        $moved = $this->ask('GET', "shows/$this->show/light")->json();
        self::assertSame($faces + 1, $moved['cast']);
        self::assertNotEquals($first['projectors'][1]['outline'], $moved['projectors'][1]['outline']);
        self::assertEquals($first['projectors'][0]['outline'], $moved['projectors'][0]['outline']);
        $this->edit(
            $this->updated('projector', $other, ['name' => ['Other', 'Renamed']]),
            $this->updated('surface', $this->ids['face'], [
                'name' => [$this->row('surface', $this->ids['face'])['name'], 'Sea front'],
            ]),
        )->assertCreated();
        $renamed = $this->ask('GET', "shows/$this->show/light")->json();
        self::assertSame([0, 'Renamed'], [$renamed['cast'], $renamed['projectors'][1]['name']]);
        self::assertContains('Sea front', array_column($renamed['faces'], 'name'));
        self::assertEquals($moved['sum'], $renamed['sum']);
        // Packed, it says the same.
        $bytes = (string) $this->ask('GET', "shows/$this->show/light.bin")
            ->assertOk()
            ->getContent();
        self::assertEquals($renamed['faces'][0]['maps'], LightPack::whole($bytes)['faces'][0]['maps']);
        $this->expectException(\UnexpectedValueException::class);
        LightPack::header(substr($bytes, 0, 50));
    }

    /** Where a lens or a globe is in the venue at a show time. */
    private function thrownFrom(string $kind, string $id, int $time): Mat4
    {
        $show = app(ShowRepository::class)->core(Show::query()->findOrFail($this->show));
        $row = $this->row($kind, $id);
        $set = $kind === 'lens' ? VirtualLens::properties() : GlobeProjection::properties();
        $value = static fn (string $name): float => isset($show->programme->curves[$id][$name])
            ? $show->programme->curves[$id][$name]->curve()->at($time)
            : (float) ($row['values'][$name] ?? $set->named($name)->default);

        return PlacedValues::into(
            isset($row['rig']) ? $show->venue->world($row['rig'])->rigidInverse() : Mat4::identity(),
            $value,
        )->rigidInverse();
    }

    public function test_what_a_route_throws_from_a_rig_stays_when_that_is_taken_apart(): void
    {
        [$lenses, $globe, $lens, $moving, $plain, $arm] = array_map(fn (): string => $this->id(), range(1, 6));
        $s = Flicks::PER_SECOND;
        $this->edit(
            $this->created('rig', $plain, ['name' => 'Beam', 'position' => [2, 3, -1]]),
            $this->created('rig', $arm, [
                'name' => 'Swing',
                'position' => [0, 2, 1],
                'rotation' => [30, 10, 5],
                'rig' => $this->ids['rig'],
            ]),
            $this->created('route', $lenses, ['name' => 'Lenses', 'reach' => 'lens', 'width' => 100, 'height' => 100]),
            $this->created('route', $globe, [
                'name' => 'Sky',
                'reach' => 'globe',
                'width' => 100,
                'height' => 50,
                'rig' => $arm,
                'values' => ['x' => 0.5, 'y' => 0, 'yaw' => 20],
            ]),
            $this->created('lens', $lens, [
                'route' => $lenses,
                'name' => 'Turned',
                'rig' => $arm,
                'values' => ['x' => 1, 'z' => 2, 'pitch' => -15],
            ]),
            $this->created('lens', $moving, [
                'route' => $lenses,
                'name' => 'Moving',
                'rig' => $plain,
                'values' => ['z' => 2],
            ]),
            $this->created('curve', $this->id(), [
                'ownerKind' => 'lens',
                'owner' => $lens,
                'property' => 'yaw',
                'keyframes' => [['t' => 0, 'v' => 0], ['t' => 4 * $s, 'v' => 90]],
            ]),
            $this->created('curve', $this->id(), [
                'ownerKind' => 'lens',
                'owner' => $moving,
                'property' => 'x',
                'keyframes' => [['t' => 0, 'v' => 0, 'i' => 'smooth'], ['t' => 4 * $s, 'v' => 10]],
            ]),
        )->assertCreated();
        $places = fn (): array => array_map(fn (array $one): array => $this->thrownFrom(...$one)->m, [
            ['route', $globe, 0],
            ['lens', $lens, 0],
            ['lens', $lens, 4 * $s],
            ['lens', $moving, 0],
            ['lens', $moving, $s],
            ['lens', $moving, 4 * $s],
        ]);
        $before = $places();
        $told = $this->arrange(['action' => 'dissolve', 'ids' => [$arm]])
            ->assertCreated()
            ->json();
        $this->arrange(['action' => 'dissolve', 'ids' => [$plain]])->assertCreated();
        self::assertEqualsWithDelta($before, $places(), 1e-5);
        self::assertSame(
            [$this->ids['rig'], $this->ids['rig'], null],
            [$this->row('route', $globe)['rig'], $this->row('lens', $lens)['rig'], $this->row('lens', $moving)['rig']],
        );
        self::assertStringContainsString(
            'Turned keeps its place at each of its keyframes',
            implode(' ', $told['notes'] ?? []),
        );
        // One Edit each, undone as such.
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertEqualsWithDelta($before, $places(), 1e-9);
        self::assertSame($arm, $this->row('lens', $lens)['rig']);
    }

    public function test_a_rig_is_taken_apart_and_what_it_carried_stays(): void
    {
        $before = $this->world($this->ids['camera']);
        $this->arrange(['action' => 'dissolve', 'ids' => [$this->ids['arm']]])->assertCreated();
        self::assertSame($this->ids['rig'], $this->row('camera', $this->ids['camera'])['rig']);
        self::assertEqualsWithDelta($before->m, $this->world($this->ids['camera'])->m, 1e-5);
        // Removed by an edit of somebody who does not know better, what it carried is told of and stands in the venue.
        $this->edit(['kind' => 'rig', 'id' => $this->ids['rig'], 'op' => 'delete', 'fields' => []])->assertCreated();
        $findings = array_column(
            array_merge(...array_values($this->ask('GET', "shows/$this->show/computed")->json('findings'))),
            'message',
        );
        self::assertContains('Camera was carried by a rig that was removed; it stands in the venue now.', $findings);
    }

    public function test_rigs_in_a_ring_and_things_that_are_locked_or_gone_are_refused_and_nothing_is_written(): void
    {
        $this->edit($this->updated('rig', $this->ids['rig'], ['rig' => [null, $this->ids['arm']]]))
            ->assertStatus(422)
            ->assertJsonPath('field', 'parent');
        $this->arrange(['action' => 'ride', 'ids' => [$this->ids['rig']], 'rig' => $this->ids['arm']])->assertStatus(
            422,
        );
        self::assertNull($this->row('rig', $this->ids['rig'])['rig']);
        $this->edit($this->updated('prop', $this->ids['prop'], ['locked' => [false, true]]))->assertCreated();
        $this->arrange(['action' => 'move', 'ids' => [$this->ids['prop']], 'by' => [1, 0, 0]])
            ->assertStatus(422)
            ->assertJsonPath('detail', 'Crate is locked. Unlock it to move it.');
        foreach (
            [
                ['action' => 'move', 'ids' => []],
                ['action' => 'move', 'ids' => [$this->id()], 'by' => [1, 0, 0]],
                ['action' => 'move', 'ids' => [$this->ids['face']], 'by' => [1, 0]],
                ['action' => 'move', 'ids' => [$this->ids['face']], 'by' => [1e9, 0, 0]],
                ['action' => 'fly', 'ids' => [$this->ids['face']]],
                ['action' => 'turn', 'ids' => [$this->ids['face']], 'axis' => 'w', 'degrees' => 4],
                ['action' => 'turn', 'ids' => [$this->ids['face']], 'axis' => 'x', 'degrees' => 'much'],
                ['action' => 'line', 'ids' => [$this->ids['face']], 'count' => 1, 'step' => [1, 0, 0]],
                ['action' => 'line', 'ids' => [$this->ids['face']], 'count' => 9999, 'step' => [1, 0, 0]],
                ['action' => 'distribute', 'ids' => [$this->ids['face']], 'axis' => 'x'],
                ['action' => 'align', 'ids' => [$this->ids['face']], 'axis' => 'x', 'to' => 'elsewhere'],
                ['action' => 'lay', 'ids' => [$this->ids['face']], 'how' => 'askew'],
                ['action' => 'ride', 'ids' => [$this->ids['face']], 'rig' => $this->ids['face']],
                ['action' => 'dissolve', 'ids' => [$this->ids['face']]],
                ['action' => 'fill', 'ids' => [$this->ids['projector']], 'surface' => $this->ids['wall']],
                [
                    'action' => 'fill',
                    'ids' => [$this->ids['projector']],
                    'surface' => $this->ids['face'],
                    'how' => 'somehow',
                ],
                ['action' => 'fill', 'ids' => [$this->ids['prop']], 'surface' => $this->ids['face']],
                ['action' => 'pair', 'ids' => [$this->ids['wall']]],
                ['action' => 'pair', 'ids' => [$this->ids['face']], 'degrees' => 89],
                ['action' => 'mirror', 'ids' => [$this->ids['face']], 'axis' => 'y'],
                ['action' => 'apply', 'variant' => 'none'],
                ['action' => 'aim', 'ids' => [$this->ids['projector']], 'surface' => 'none'],
                ['action' => ['move']],
                ['ids' => 'all', 'action' => 'move'],
            ] as $order
        ) {
            $this->arrange($order)->assertStatus(422);
        }
        self::assertSame(2, $this->ask('GET', "shows/$this->show")->json('revision'));
    }

    public function test_things_are_lined_up_by_their_outer_edges(): void
    {
        $this->arrange([
            'action' => 'align',
            'ids' => [$this->ids['face'], $this->ids['prop']],
            'axis' => 'x',
            'to' => 'min',
        ])->assertCreated();
        // The face reaches from -2.5 m; the crate is 2 m wide.
        self::assertEqualsWithDelta(-1.5, $this->row('prop', $this->ids['prop'])['position'][0], 1e-6);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $this->arrange([
            'action' => 'distribute',
            'ids' => [$this->ids['face'], $this->ids['prop'], $this->ids['seat']],
            'axis' => 'x',
        ])->assertCreated();
        // From -2.5 to 21 m, 7 m are taken: 8.25 m of gap; the seat has no width.
        self::assertEqualsWithDelta(10.75, $this->row('seat', $this->ids['seat'])['position'][0], 1e-6);
    }

    public function test_copies_have_names_of_their_own_and_a_rig_brings_what_rides_on_it(): void
    {
        $made = $this->arrange(['action' => 'line', 'ids' => [$this->ids['rig']], 'count' => 3, 'step' => [0, 0, 4]])
            ->assertCreated()
            ->json('changes');
        self::assertSame(
            ['Tower 2', 'Arm 2', 'Camera 2', 'Tower 3', 'Arm 3', 'Camera 3'],
            array_map(static fn (array $c): string => $c['fields']['name']['after'], $made),
        );
        self::assertEqualsWithDelta([8, 5, 8], $this->world($made[5]['id'])->origin()->toArray(), 1e-5);
        $ring = $this->arrange([
            'action' => 'arc',
            'ids' => [$this->ids['prop']],
            'count' => 4,
            'degrees' => 360,
            'about' => [0, 0, 0],
        ])
            ->assertCreated()
            ->json('changes');
        self::assertCount(3, $ring);
        self::assertEqualsWithDelta([-20, 0, 0], $ring[1]['fields']['position']['after'], 1e-6);
        $image = $this->arrange(['action' => 'mirror', 'ids' => [$this->ids['wall']], 'axis' => 'x', 'copy' => true])
            ->assertCreated()
            ->json('changes.0.fields');
        self::assertEqualsWithDelta([8, 0, 0], $image['position']['after'], 1e-6);
        self::assertSame([[null, $this->ids['panel'], $this->ids['panel']]], $image['cells']['after']);
        self::assertSame([0, 5], $image['seams']['after']);
        $double = $this->arrange(['action' => 'duplicate', 'ids' => [$this->ids['face']]])->assertCreated();
        self::assertSame('Face 2', $double->json('changes.0.fields.name.after'));
        self::assertSame('Duplicate Face', $double->json('history.undo'));
    }

    public function test_a_rig_that_is_mirrored_has_all_that_rides_on_it_the_other_way_round(): void
    {
        $this->edit(
            $this->updated('surface', $this->ids['wall'], ['rig' => [null, $this->ids['rig']]]),
        )->assertCreated();
        $mirrored = static function (Mat4 $m): array {
            $at = $m->origin();
            $front = $m->direction(Vec3::of(0, 0, 1));

            return [-$at->x, $at->y, $at->z, -$front->x, $front->y, $front->z];
        };
        $plain = static function (Mat4 $m): array {
            $at = $m->origin();
            $front = $m->direction(Vec3::of(0, 0, 1));

            return [$at->x, $at->y, $at->z, $front->x, $front->y, $front->z];
        };
        $before = array_map(fn (string $name): array => $mirrored($this->world($this->ids[$name])), [
            'rig',
            'camera',
            'wall',
        ]);
        $this->arrange(['action' => 'mirror', 'ids' => [$this->ids['rig']], 'axis' => 'x', 'at' => 0])->assertCreated();
        self::assertEqualsWithDelta(
            $before,
            array_map(fn (string $name): array => $plain($this->world($this->ids[$name])), ['rig', 'camera', 'wall']),
            1e-5,
        );
        self::assertSame(
            [[null, $this->ids['panel'], $this->ids['panel']]],
            $this->row('surface', $this->ids['wall'])['cells'],
        );
        // A copy across the stage's depth keeps left and right.
        $copies = $this->arrange([
            'action' => 'mirror',
            'ids' => [$this->ids['rig']],
            'axis' => 'z',
            'at' => 2,
            'copy' => true,
        ])
            ->assertCreated()
            ->json('changes');
        $wall = self::one($copies, 'kind', 'surface');
        $here = $this->world($this->ids['wall'])->origin();
        self::assertEqualsWithDelta(
            [$here->x, $here->y, 4 - $here->z],
            $this->world($wall['id'])->origin()->toArray(),
            1e-5,
        );
        self::assertSame([[null, $this->ids['panel'], $this->ids['panel']]], $wall['fields']['cells']['after']);
    }

    public function test_a_fine_model_is_fetched_packed(): void
    {
        $obj = '';
        for ($y = 0; $y <= 130; $y++) {
            for ($x = 0; $x <= 130; $x++) {
                $obj .= 'v '.$x / 10 .' '.$y / 10 ." 0\n";
            }
        }
        for ($y = 0; $y < 130; $y++) {
            for ($x = 0; $x < 130; $x++) {
                $a = $y * 131 + $x + 1;
                $obj .= "f $a ".($a + 1).' '.($a + 132).' '.($a + 131)."\n";
            }
        }
        $hash = (string) $this->sendModel($obj, 'fine.obj')->assertOk()->json('hash');
        $this->work();
        $id = $this->id();
        $this->edit(
            $this->created('surface', $id, [
                'name' => 'Fine',
                'kind' => 'model',
                'model' => $hash,
                'shape' => ['uv' => 'front'],
            ]),
        )->assertCreated();
        $mesh = self::one($this->ask('GET', "shows/$this->show/meshes")->json('meshes'), 'surface', $id);
        self::assertArrayNotHasKey('positions', $mesh);
        $bytes = (string) $this->ask('GET', substr($mesh['packed'], strlen('/api/')))->assertOk()->getContent();
        self::assertSame([1 => 131 * 131, 2 => 2 * 130 * 130], unpack('V2', $bytes));
        self::assertSame(8 + 20 * 131 * 131 + 12 * 2 * 130 * 130, strlen($bytes));
        self::assertEqualsWithDelta(
            [13.0, 13.0, 0.0],
            array_values((array) unpack('g3', substr($bytes, 8 + 12 * (131 * 131 - 1), 12))),
            1e-6,
        );
    }

    public function test_light_is_told_for_the_venue_as_it_stands(): void
    {
        $light = $this->ask('GET', "shows/$this->show/light")
            ->assertOk()
            ->json();
        self::assertSame('Face', $light['faces'][0]['name']);
        self::assertEqualsWithDelta(1.0, $light['faces'][0]['figures']['one'], 1e-9);
        self::assertEqualsWithDelta(640, $light['faces'][0]['figures']['luxMean'], 1e-3);
        self::assertEqualsWithDelta(1.0, $light['projectors'][0]['balance'], 0.01);
        self::assertSame(
            $light['faces'][0]['columns'] * $light['faces'][0]['rows'],
            count($light['faces'][0]['maps']['lux']),
        );
        // Kept until something of it moves.
        self::assertSame($light['milliseconds'], $this->ask('GET', "shows/$this->show/light")->json('milliseconds'));
        $this->edit($this->updated('surface', $this->ids['face'], ['hidden' => [false, true]]))->assertCreated();
        self::assertSame($light['key'], $this->ask('GET', "shows/$this->show/light")->json('key'));
        $this->arrange(['action' => 'move', 'ids' => [$this->ids['prop']], 'by' => [-20, 0, 5]])->assertCreated();
        $shadowed = $this->ask('GET', "shows/$this->show/light")->json();
        self::assertNotSame($light['key'], $shadowed['key']);
        self::assertGreaterThan(0.2, $shadowed['faces'][0]['figures']['none']);
    }

    public function test_a_finer_look_is_the_worker_s_and_can_be_stopped(): void
    {
        foreach ([['cells' => 5], ['cells' => 1e9], ['cells' => 'many']] as $body) {
            $this->ask('POST', "shows/$this->show/light", $body)
                ->assertStatus(422)
                ->assertJsonPath('field', 'cells');
        }
        $first = $this->ask('POST', "shows/$this->show/light", ['cells' => 4000])
            ->assertStatus(202)
            ->assertJsonPath('state', 'waiting')
            ->json('id');
        $second = $this->ask('POST', "shows/$this->show/light", ['cells' => 3000])
            ->assertStatus(202)
            ->json('id');
        $this->ask('GET', "tasks/$first")
            ->assertOk()
            ->assertJsonPath('state', 'cancelled');
        $this->work();
        $this->ask('GET', "tasks/$second")
            ->assertOk()
            ->assertJsonPath('state', 'ready')
            ->assertJsonPath('progress', 1);
        $this->ask('GET', "shows/$this->show/light")
            ->assertOk()
            ->assertJsonPath('cells', 3000);
        $third = $this->ask('POST', "shows/$this->show/light")->json('id');
        $this->ask('POST', "tasks/$third/cancel")
            ->assertOk()
            ->assertJsonPath('state', 'cancelled');
        $this->work();
        self::assertSame('cancelled', Task::query()->findOrFail($third)->state);
        $this->ask('GET', 'tasks/'.$this->id())->assertNotFound();
    }

    public function test_a_pair_of_projectors_is_added_for_a_face_in_one_step(): void
    {
        $face = $this->row('surface', $this->ids['face']);
        $this->arrange(['action' => 'pair', 'ids' => [$this->ids['face']], 'degrees' => 20])
            ->assertCreated()
            ->assertJsonPath('name', "Pair of projectors for $face[name]");
        $rows = $this->ask('GET', "shows/$this->show")->json('rows.projector');
        $pair = array_values(array_filter($rows, static fn (array $row): bool => str_starts_with($row['name'], $face['name'])));
        self::assertSame(["$face[name] left", "$face[name] right"], array_column($pair, 'name'));
        // Such as the one that is there, and mirrored about the middle of the face.
        $like = $this->row('projector', $this->ids['projector']);
        self::assertSame([$like['lumens'], $like['lumens']], array_column($pair, 'lumens'));
        self::assertEqualsWithDelta($pair[0]['rotation'][0], -$pair[1]['rotation'][0], 1e-6);
        self::assertSame([[$this->ids['face']], [$this->ids['face']]], array_column($pair, 'aims'));
        $this->ask('POST', "shows/$this->show/undo")->assertSuccessful();
        self::assertCount(count($rows) - 2, $this->ask('GET', "shows/$this->show")->json('rows.projector'));
    }

    public function test_a_projector_fills_a_face_or_says_what_it_lacks(): void
    {
        $this->arrange(['action' => 'move', 'ids' => [$this->ids['projector']], 'by' => [0.5, 1, 1]])->assertCreated();
        $this->arrange([
            'action' => 'fill',
            'ids' => [$this->ids['projector']],
            'surface' => $this->ids['face'],
            'how' => 'square',
        ])
            ->assertCreated()
            ->assertJsonPath('notes', []);
        $lens = $this->row('projector', $this->ids['projector'])['lens'];
        self::assertEqualsWithDelta([2.2, -0.1, -0.32], [$lens['throw'], $lens['shiftX'], $lens['shiftY']], 1e-5);
        self::assertEqualsWithDelta(
            1.0,
            $this->ask('GET', "shows/$this->show/light")->json('faces.0.figures.one'),
            1e-9,
        );
        $this->arrange(['action' => 'move', 'ids' => [$this->ids['projector']], 'by' => [0, 0, 9]])->assertCreated();
        $says = $this->arrange([
            'action' => 'fill',
            'ids' => [$this->ids['projector']],
            'surface' => $this->ids['face'],
            'how' => 'aimed',
        ])
            ->assertCreated()
            ->json('notes');
        self::assertStringContainsString('the lens has 2.40 at most', $says[0]);
        $this->arrange([
            'action' => 'fill',
            'ids' => [$this->ids['projector']],
            'surface' => $this->ids['face'],
            'how' => 'lens',
        ])
            ->assertCreated()
            ->assertJsonPath('notes', []);
        self::assertEqualsWithDelta([0, 0, 12], $this->row('projector', $this->ids['projector'])['position'], 1e-4);
        $this->arrange(['action' => 'aim', 'ids' => [$this->ids['projector']], 'point' => [4, 4, 8]])->assertCreated();
        $looks = $this->world($this->ids['projector'])->direction(Vec3::of(0, 0, -1));
        self::assertEqualsWithDelta(
            Vec3::of(4, 4, -4)
                ->unit()
                ->toArray(),
            $looks->toArray(),
            1e-6,
        );
    }

    public function test_placements_are_kept_compared_and_taken_again(): void
    {
        $this->arrange(['action' => 'keep', 'name' => 'One, straight on'])->assertCreated();
        $second = $this->id();
        $this->edit(
            $this->created('projector', $second, [
                'name' => 'Other',
                'position' => [0, 0, 8],
                'lumens' => 5000,
                'aims' => [$this->ids['face']],
                'lens' => ['throw' => 2],
            ]),
        )->assertCreated();
        $variants = $this->ask('GET', "shows/$this->show/variants")
            ->assertOk()
            ->json('variants');
        self::assertSame(
            [['Current', 2], ['One, straight on', 1]],
            array_map(static fn (array $v): array => [$v['name'], $v['sum']['projectors']], $variants),
        );
        self::assertEqualsWithDelta([15_000, 10_000], array_column(array_column($variants, 'sum'), 'lumens'), 1e-9);
        self::assertGreaterThan($variants[1]['sum']['luxMean'], $variants[0]['sum']['luxMean']);
        $this->arrange(['action' => 'apply', 'variant' => $variants[1]['id']])->assertCreated();
        self::assertSame(
            ['Beam'],
            array_column($this->ask('GET', "shows/$this->show")->json('rows.projector'), 'name'),
        );
        self::assertEqualsWithDelta(
            640,
            $this->ask('GET', "shows/$this->show/light")->json('faces.0.figures.luxMean'),
            1e-3,
        );
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertCount(2, $this->ask('GET', "shows/$this->show")->json('rows.projector'));
        $this->edit($this->created('variant', $this->id(), ['name' => 'Broken', 'projectors' => [['name' => 'x']]]))
            ->assertStatus(422)
            ->assertJsonPath('field', 'projectors');
    }

    public function test_seats_are_told_what_they_see(): void
    {
        $sights = array_column(
            (array) $this->ask('GET', "shows/$this->show/sights")
                ->assertOk()
                ->json('sights.'.$this->ids['seat']),
            null,
            'name',
        );
        self::assertEqualsWithDelta(1.0, $sights['Face']['front'], 1e-9);
        self::assertEqualsWithDelta(12 * tan(deg2rad(1 / 60)) * 1000, $sights['Face']['detailMm'], 0.1);
        self::assertSame(0, $sights['Face']['back']);
    }

    public function test_meshes_that_a_window_has_are_not_sent_again(): void
    {
        $venue = $this->ask('GET', "shows/$this->show/meshes")->json();
        self::assertCount(2, $venue['meshes']);
        self::assertCount(5, $venue['frusta'][$this->ids['projector']]);
        $keys = implode(',', [...array_column($venue['meshes'], 'key'), ...array_column($venue['props'], 'key')]);
        $again = $this->ask('GET', "shows/$this->show/meshes?known=$keys")->json();
        foreach ([...$again['meshes'], ...$again['props']] as $mesh) {
            self::assertArrayNotHasKey('positions', $mesh);
            self::assertCount(16, $mesh['matrix']);
        }
        $this->edit($this->updated('panel', $this->ids['panel'], ['widthMm' => [500, 600]]))->assertCreated();
        $changed = $this->ask('GET', "shows/$this->show/meshes?known=$keys")->json('meshes');
        self::assertSame(
            [$this->ids['wall']],
            array_column(array_filter($changed, static fn (array $m): bool => isset($m['positions'])), 'surface'),
        );
    }

    /** @return list<array{string, string, array<string, mixed>}> */
    private static function impossible(): array
    {
        return [
            ['projector', 'throwMin', ['lens' => ['throwMin' => 3, 'throwMax' => 2]]],
            ['projector', 'lumens', ['lumens' => 0]],
            ['projector', 'shiftX', ['lens' => ['shiftX' => 9]]],
            ['projector', 'widthPx', ['lens' => ['widthPx' => 0]]],
            ['camera', 'focal', ['focal' => 0]],
            ['camera', 'name', ['name' => ' ']],
            ['rig', 'rotation', ['rotation' => [1, 2]]],
            ['seat', 'position', ['position' => []]],
            ['prop', 'kind', ['kind' => 'tree']],
            ['prop', 'width', ['shape' => ['width' => -1]]],
            ['surface', 'gain', ['kind' => 'flat', 'material' => ['gain' => 0]]],
            ['surface', 'transmission', ['kind' => 'flat', 'material' => ['translucent' => true, 'transmission' => 2]]],
            ['surface', 'reliefs', ['kind' => 'relief', 'reliefs' => [['depth' => 1, 'points' => [1, 2]]]]],
            ['surface', 'tiers', ['kind' => 'drums', 'shape' => ['tiers' => 'two']]],
            ['surface', 'uv', ['kind' => 'model', 'shape' => ['uv' => 'guess']]],
        ];
    }

    public function test_what_is_not_physical_is_refused_with_its_field(): void
    {
        foreach (self::impossible() as [$kind, $field, $values]) {
            $this->edit($this->created($kind, $this->id(), $values + ['name' => 'X']))
                ->assertStatus(422)
                ->assertJsonPath('field', $field);
        }
    }

    private function sendModel(string $obj, string $name = 'tower.obj'): TestResponse
    {
        $upload = (string) $this->ask('POST', "shows/$this->show/uploads", ['name' => $name, 'bytes' => strlen($obj)])
            ->assertCreated()
            ->json('id');

        return $this->call(
            'PUT',
            "http://127.0.0.1:4180/api/uploads/$upload?at=0",
            [],
            ['kite_person' => '01hzzzzzzzzzzzzzzzzzzzzzzz'],
            [],
            [
                'HTTP_ORIGIN' => 'http://127.0.0.1:4180',
                'HTTP_HOST' => '127.0.0.1:4180',
                'CONTENT_TYPE' => 'application/octet-stream',
            ],
            $obj,
        );
    }

    public function test_a_model_comes_in_is_lit_and_a_newer_one_takes_its_place_with_all_its_uses(): void
    {
        $square = "o Front\nv -2 0 0\nv 2 0 0\nv 2 3 0\nv -2 3 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n";
        $first = (string) $this->sendModel($square)->assertOk()->json('hash');
        [$id, $output, $region] = [$this->id(), $this->id(), $this->id()];
        $this->edit(
            $this->created('surface', $id, [
                'name' => 'Model',
                'kind' => 'model',
                'model' => $first,
                'position' => [0, 10, 0],
                'shape' => ['rasterWidth' => 1920, 'rasterHeight' => 1080],
            ]),
            $this->created('output', $output, ['name' => 'Out', 'width' => 1920, 'height' => 1080]),
            $this->created('region', $region, ['output' => $output, 'surface' => $id, 'source' => [0, 0, 1920, 1080]]),
        )->assertCreated();
        self::assertSame('waiting', $this->row('surface', $id)['modelFile']['state']);
        $this->work();
        self::assertSame(
            ['ready', 2],
            [
                $this->row('surface', $id)['modelFile']['state'],
                $this->row('surface', $id)['modelFile']['form']['triangles'],
            ],
        );
        $computed = $this->ask('GET', "shows/$this->show/computed")->json("surfaces.$id");
        self::assertEqualsWithDelta(12, $computed['areaSquareMetres'], 1e-6);
        self::assertSame([1920, 1080], [$computed['rasterWidth'], $computed['rasterHeight']]);
        $obj = (string) $this->ask('GET', "shows/$this->show/surfaces/$id/surface.obj")
            ->assertOk()
            ->getContent();
        self::assertStringContainsString('v 2.000000 3.000000 0.000000', $obj);
        $second = (string) $this->sendModel(str_replace('2 3 0', '2 6 0', $square), 'tower v2.obj')
            ->assertOk()
            ->json('hash');
        self::assertNotSame($first, $second);
        $this->edit($this->updated('surface', $id, ['model' => [$first, $second]]))->assertCreated();
        $this->work();
        self::assertEqualsWithDelta(
            24,
            $this->ask('GET', "shows/$this->show/computed")->json("surfaces.$id.areaSquareMetres"),
            1e-6,
        );
        self::assertSame($id, $this->row('region', $region)['surface']);
        // A model of these bytes is here already.
        self::assertTrue($this->sendModel($square)->json('known'));
    }

    public function test_a_broken_or_giant_model_is_said_and_the_show_goes_on(): void
    {
        $hash = (string) $this->sendModel("v 0 0 0\nf 1 2 3\n")->assertOk()->json('hash');
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame(['failed', 'Line 2 names vertex "2", which is not there.'], [$file->state, $file->message]);
        $id = $this->id();
        $this->edit(
            $this->created('surface', $id, ['name' => 'Model', 'kind' => 'model', 'model' => $hash]),
        )->assertCreated();
        $this->ask('GET', "shows/$this->show/light")->assertOk();
        $this->ask('POST', "shows/$this->show/uploads", ['name' => 'city.obj', 'bytes' => 201 * 1024 * 1024])
            ->assertStatus(413)
            ->assertJsonPath('field', 'bytes');
    }

    public function test_panels_go_out_as_a_table_and_come_in_again(): void
    {
        $csv = (string) $this->ask('GET', "shows/$this->show/panels.csv")
            ->assertOk()
            ->getContent();
        self::assertStringContainsString("Indoor 2.6,500,500,192,192,80,8.1,55,165,0,140,140,0,0,0\r\n", $csv);
        $done = $this->ask('POST', "shows/$this->show/panels", [
            'csv' => str_replace('8.1', '9.5', $csv).'"Quay ""wet"", 3.9";500',
        ])->assertStatus(422);
        self::assertSame('csv', $done->json('field'));
        $this->ask('POST', "shows/$this->show/panels", [
            'csv' => str_replace('8.1', '9.5', $csv).
                "\"Quay \"\"wet\"\", 3.9\",500,1000,128,256,90,14,120,340,5000,140,130,-5,5,7\r\n",
        ])
            ->assertCreated()
            ->assertJsonPath('name', 'Import panels');
        $panels = array_column((array) $this->ask('GET', "shows/$this->show")->json('rows.panel'), null, 'name');
        self::assertSame(
            [9.5, 256, -5],
            [
                $panels['Indoor 2.6']['kilograms'],
                $panels['Quay "wet", 3.9']['heightPx'],
                $panels['Quay "wet", 3.9']['jointMin'],
            ],
        );
        self::assertSame($this->ids['panel'], $panels['Indoor 2.6']['id']);
        foreach (
            [
                '',
                "name\nx",
                "name,width mm,height mm,width px,height px\nX,wide,500,1,1",
                "name,width mm,height mm,width px,height px\nX,500,500,0,1",
                "name,width mm,height mm,width px,height px\n",
                "\xff\xfe",
            ] as $bad
        ) {
            $this->ask('POST', "shows/$this->show/panels", ['csv' => mb_check_encoding($bad, 'UTF-8') ? $bad : 'x'])
                ->assertStatus(422)
                ->assertJsonPath('field', 'csv');
        }
        $this->ask('POST', "shows/$this->show/panels", ['csv' => ['a']])->assertStatus(422);
        self::assertCount(2, $this->ask('GET', "shows/$this->show")->json('rows.panel'));
    }

    public function test_the_papers_of_the_venue_tell_all_of_it(): void
    {
        $csv = (string) $this->ask('GET', "shows/$this->show/specification.csv?spares=50")
            ->assertOk()
            ->getContent();
        $rows = array_map(str_getcsv(...), explode("\r\n", $csv));
        self::assertContains(['Indoor 2.6', '2', '1', '3', '24.3', '500 × 500', '192 × 192'], $rows);
        self::assertContains(['Face', '', 'Flat face, 5 × 3.12 m', '500 × 313', '15.63', '0', '-1.563', '0'], $rows);
        $projector = array_values(array_filter($rows, static fn (array $r): bool => $r[0] === 'Beam'))[0];
        self::assertSame(
            ['Beam', 'Face', '1920 × 1200', '10000', '2', '1.2 – 2.4', '0', '0', '10', '10', '0', '0', '10'],
            array_slice($projector, 0, 13),
        );
        $sight = array_values(array_filter($rows, static fn (array $r): bool => count($r) === 9 && $r[1] === 'Face'))[0];
        // The seat is 12 m before the middle of a face of 5 × 3.125 m, the corners of which are 12.36 m away;
        // letters: distance · tan 16'.
        self::assertSame(['100', 1], [$sight[3], (float) $sight[2] > 12 && (float) $sight[2] < 12.36 ? 1 : 0]);
        self::assertEqualsWithDelta((float) $sight[2] * 4.65424, (float) $sight[6], 0.6);
        $pdf = (string) $this->ask('GET', "shows/$this->show/specification.pdf")
            ->assertOk()
            ->getContent();
        self::assertStringStartsWith('%PDF-1', $pdf);
        $this->ask('GET', "shows/$this->show/specification.docx")->assertNotFound();
        $this->ask('GET', "shows/$this->show/specification.csv?spares=lots")->assertStatus(422);
        $this->ask('GET', "shows/$this->show/specification.csv?spares=500")->assertStatus(422);
        $plot = simplexml_load_string(
            (string) $this->ask('GET', "shows/$this->show/plot.svg")
                ->assertOk()
                ->getContent(),
        );
        self::assertNotFalse($plot);
        $plot->registerXPathNamespace('s', 'http://www.w3.org/2000/svg');
        self::assertCount(2, $plot->xpath('//s:g[@id="plan"]/s:g[@class="surface"]') ?: []);
        self::assertCount(1, $plot->xpath('//s:g[@id="front"]/s:g[@class="projector"]') ?: []);
        self::assertContains('5.00 × 3.12 m', array_map(strval(...), $plot->xpath('//s:g[@id="front"]//s:text') ?: []));
    }

    public function test_papers_take_missing_glyphs_very_long_names_and_nothing_at_all(): void
    {
        $empty = $this->show();
        foreach (
            [
                'specification.csv',
                'specification.pdf',
                'plot.svg',
                'venue.obj',
                'panels.csv',
                'light',
                'variants',
                'sights',
            ] as $path
        ) {
            $this->ask('GET', "shows/$empty/$path")->assertOk();
        }
        $this->edit(
            $this->updated('surface', $this->ids['wall'], ['name' => ['Wall', str_repeat('長い壁 <b>"&', 18)]]),
        )->assertCreated();
        foreach (
            [
                'specification.csv',
                'specification.pdf',
                'plot.svg',
                "surfaces/{$this->ids['wall']}/template.png",
                "surfaces/{$this->ids['wall']}/template.svg",
                "surfaces/{$this->ids['wall']}/specification.pdf",
            ] as $path
        ) {
            $answer = $this->ask('GET', "shows/$this->show/$path")->assertOk();
            str_ends_with($path, '.svg') && self::assertNotFalse(simplexml_load_string((string) $answer->getContent()));
        }
    }

    public function test_templates_are_exactly_as_large_as_the_raster_content_is_made_for(): void
    {
        foreach (['wall' => [576, 192], 'face' => [500, 313]] as $name => [$width, $height]) {
            $png = (string) $this->ask('GET', "shows/$this->show/surfaces/{$this->ids[$name]}/template.png")
                ->assertOk()
                ->getContent();
            $size = getimagesizefromstring($png);
            self::assertSame([$width, $height], [$size[0] ?? 0, $size[1] ?? 0]);
        }
        $this->edit(
            $this->updated('surface', $this->ids['wall'], [
                'shape' => [[], ['workedWidth' => 960, 'workedHeight' => 320]],
            ]),
        )->assertCreated();
        $svg = simplexml_load_string(
            (string) $this->ask('GET', "shows/$this->show/surfaces/{$this->ids['wall']}/template.svg")->getContent(),
        );
        self::assertSame(['960', '320'], [(string) ($svg['width'] ?? ''), (string) ($svg['height'] ?? '')]);
        $figures = $this->ask('GET', "shows/$this->show/computed")->json('surfaces.'.$this->ids['wall']);
        self::assertSame(
            [960, 320, 576, 192],
            [$figures['rasterWidth'], $figures['rasterHeight'], $figures['physicalWidth'], $figures['physicalHeight']],
        );
    }

    public function test_another_program_reads_the_obj_of_faces_of_every_shape(): void
    {
        foreach (['box', 'drum', 'drums', 'dome', 'relief'] as $i => $kind) {
            $reliefs = $kind === 'relief' ? [['depth' => 0.3, 'points' => [-1, 1, 1, 1, 0, 2]]] : [];
            $this->edit(
                $this->created('surface', $this->id(), [
                    'name' => "A $kind",
                    'kind' => $kind,
                    'position' => [$i * 10, 0, 0],
                    'reliefs' => $reliefs,
                ]),
            )->assertCreated();
        }
        file_put_contents(
            "$this->data/venue.obj",
            (string) $this->ask('GET', "shows/$this->show/venue.obj")->getContent(),
        );
        $assimp = (new ExecutableFinder())->find('assimp');
        self::assertNotNull($assimp, 'assimp-utils is installed by bin/setup --tests.');
        $said = (new Process([$assimp, 'info', "$this->data/venue.obj"]))->mustRun()->getOutput();
        self::assertMatchesRegularExpression('/Meshes:\s+7\b/', $said);
        self::assertDoesNotMatchRegularExpression('/warn|error/i', $said);
        // Read back by that program and written again, the corners are where they were.
        (new Process([$assimp, 'export', "$this->data/venue.obj", "$this->data/again.obj"]))->mustRun();
        $read = static fn (string $path): array => ObjReader::read(explode("\n", (string) file_get_contents($path)))[
            'mesh'
        ]->bounds();
        self::assertEqualsWithDelta($read("$this->data/venue.obj"), $read("$this->data/again.obj"), 1e-4);
    }

    public function test_cameras_take_in_what_their_lens_has_it(): void
    {
        self::assertEqualsWithDelta(
            rad2deg(2 * atan(18 / 35)),
            $this->ask('GET', "shows/$this->show/computed")->json('cameras.'.$this->ids['camera'].'.across'),
            1e-9,
        );
        self::assertEqualsWithDelta(
            18.0,
            $this->ask('POST', 'cameras/focal', ['sensorWidth' => 36, 'angle' => 90])
                ->assertOk()
                ->json('focal'),
            1e-9,
        );
        $this->ask('POST', 'cameras/focal', ['sensorWidth' => 36, 'angle' => 'wide'])->assertStatus(422);
        self::assertSame(0.0, Pose::fromMatrix($this->world($this->ids['seat']))->yaw);
    }
}

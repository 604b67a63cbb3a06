<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Show\KeptCasts;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Report;
use Core\Light\Scene;
use Core\Light\SceneCasts;
use Core\Venue\Face;
use Core\Venue\Material;
use Core\Venue\Projector;
use Tests\TestCase;

/** Casts that are kept in files: what is taken from there, what is cast again, and what a broken file does. */
final class KeptCastsTest extends TestCase
{
    private string $folder = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->folder = sys_get_temp_dir().'/kite-casts-'.bin2hex(random_bytes(4));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        array_map(unlink(...), glob("$this->folder/*") ?: []);
        rmdir($this->folder);
        parent::tearDown();
    }

    private static function face(): Body
    {
        $face = Face::fromRow('flat', ['width' => 4, 'height' => 3, 'rasterWidth' => 400, 'rasterHeight' => 300]);

        return new Body(
            'front',
            'Front',
            $face->mesh(),
            Pose::of(Vec3::of(0, 1.5, 0))->matrix(),
            Material::fromRow([]),
            400,
            300,
        );
    }

    private static function beam(string $id, float $x, string $name = 'P', float $lumens = 10_000): Beam
    {
        return new Beam(
            $id,
            Projector::fromRow([
                'name' => $name,
                'lens' => ['throw' => 2.0, 'throwMin' => 0.5, 'throwMax' => 5],
                'lumens' => $lumens,
                'aims' => [],
                'mirrored' => false,
            ]),
            Pose::of(Vec3::of($x, 1.5, 8))->matrix(),
        );
    }

    /**
     * @param  list<Beam>  $beams
     * @return array{int, Report} how many casts were new
     */
    private function report(array $beams, string $scene = 'scene'): array
    {
        $face = self::face();
        $casts = new KeptCasts(
            $this->folder,
            $scene,
            new SceneCasts(static fn (): Scene => Scene::of([$face]), 200, 24, 14),
        );
        $report = Report::by([$face], $beams, $casts);
        $casts->keep();

        return [$casts->cast, $report];
    }

    public function test_what_was_cast_before_is_the_same_and_is_not_cast_again(): void
    {
        $beams = [self::beam('a', -1), self::beam('b', 1)];
        [$first, $cast] = $this->report($beams);
        [$again, $kept] = $this->report($beams);
        self::assertSame([4, 0], [$first, $again], 'an arrival and a walk of each');
        self::assertEquals($cast, $kept);
        $fresh = Report::by(
            [self::face()],
            $beams,
            new SceneCasts(static fn (): Scene => Scene::of([self::face()]), 200, 24, 14),
        );
        self::assertEquals($fresh, $kept);
    }

    public function test_moving_one_projector_casts_that_one_and_a_name_or_an_id_casts_none(): void
    {
        $this->report([self::beam('a', -1), self::beam('b', 1)]);
        self::assertSame(2, $this->report([self::beam('a', -1.25), self::beam('b', 1)])[0]);
        self::assertSame(0, $this->report([self::beam('other', -1, 'Another name'), self::beam('b', 1)])[0]);
        self::assertSame(2, $this->report([self::beam('a', -1, 'P', 12_000), self::beam('b', 1)])[0]);
        self::assertSame(4, $this->report([self::beam('a', -1), self::beam('b', 1)], 'another scene')[0]);
    }

    public function test_a_file_that_is_cut_or_no_such_thing_is_cast_anew(): void
    {
        $this->report([self::beam('a', 0)]);
        $files = glob("$this->folder/*.cast") ?: [];
        self::assertCount(2, $files, 'the faces, and one projector');
        foreach (['', 'a:1:{', serialize('words'), serialize(new \ArrayObject([1])), 'O:8:"stdClass":0:{}'] as $bytes) {
            foreach ($files as $file) {
                file_put_contents($file, $bytes);
            }
            [$cast, $report] = $this->report([self::beam('a', 0)]);
            self::assertSame(2, $cast);
            self::assertEqualsWithDelta(
                5000,
                $report->sum['lumens'] - $report->sum['spillLumens'],
                1,
                'the face begins at the middle of the picture: half of it lands there',
            );
            self::assertSame(0, $this->report([self::beam('a', 0)])[0], 'it is whole again');
        }
    }

    public function test_a_folder_that_is_gone_costs_nothing_but_the_casts(): void
    {
        array_map(unlink(...), glob("$this->folder/*") ?: []);
        rmdir($this->folder);
        self::assertSame([2, 2], [$this->report([self::beam('a', 0)])[0], $this->report([self::beam('a', 0)])[0]]);
        mkdir($this->folder);
    }
}

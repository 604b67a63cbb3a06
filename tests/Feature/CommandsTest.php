<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Demo\BigShow;
use App\Models\Edit;
use App\Models\Show;
use App\Models\StoredFile;
use App\Show\ShowRepository;
use Core\Light\Report;
use Core\Light\Scene;
use Core\Plan\PlanCompiler;
use Core\Preflight\Preflight;
use Core\Protocol\Osc;
use Core\Units\Flicks;
use Illuminate\Support\Facades\Artisan;
use Symfony\Component\Process\Process;
use Tests\TestCase;

final class CommandsTest extends TestCase
{
    public function test_the_demo_is_laid_out_once_made_ready_and_without_a_finding(): void
    {
        Artisan::call('kite:demo');
        Artisan::call('kite:demo');
        $show = Show::query()->sole();
        self::assertSame([true, 1, '25'], [$show->engaged, $show->revision, $show->frameRate]);
        // Three videos, a still with alpha, six plates and a half sphere.
        self::assertSame(12, StoredFile::query()->where('state', 'waiting')->count());
        $this->work();
        self::assertSame(12, StoredFile::query()->where('state', 'ready')->count());
        $core = (new ShowRepository())->core($show);
        self::assertSame(
            [
                'Bandstand wall',
                'Wing left',
                'Wing right',
                'Bandstand deck',
                'Custom house front',
                'Signal tower',
                'Sail',
                'Presenter wall',
                ...array_map(static fn (int $i): string => "Light mast $i", range(1, 4)),
                ...array_map(static fn (int $i): string => "Quay rail $i", range(1, 3)),
            ],
            array_column($core->venue->surfaces, 'name'),
        );
        // The rig, whose inputs two of its media are, does not run here.
        self::assertSame(
            ['Input device of Presenter slides not found.', 'Input device of Quay camera not found.'],
            array_map(static fn ($f): string => $f->message, Preflight::of($core)),
        );
        self::assertSame(
            [6, 4, 1, 4, 6],
            [
                count($core->venue->projectors),
                count(array_filter($core->venue->props, static fn ($p): bool => str_ends_with($p->name, 'tower'))),
                count($core->venue->cameras),
                count($core->venue->seats),
                count($core->venue->rigs),
            ],
        );
        $report = Report::of(Scene::of($core->venue->bodies()), $core->venue->beams(), 900, 32, 18);
        self::assertLessThan(0.02, $report->sum['none']);
        self::assertSame([], array_merge(...array_column($report->projectors, 'remarks')));
        $compiler = new PlanCompiler();
        $compiler->compile($core, 1);
        $plan = $compiler->plan();
        self::assertSame(
            [
                'Bandstand',
                'Bandstand, standby',
                'Custom house left',
                'Custom house middle',
                'Custom house right',
                'Tower left',
                'Tower right',
                'Sail, from behind',
            ],
            array_column($plan->of('output'), 'name'),
        );
        self::assertSame(
            ['Lantern Night', 'Harbour bell', 'Ferry window'],
            array_column($plan->of('timeline'), 'name'),
        );
        self::assertSame(
            ['Presenter slides'],
            array_values(
                array_column(
                    array_filter($plan->of('media'), static fn (array $m): bool => $m['kind'] === 'none'),
                    'name',
                ),
            ),
        );
    }

    public function test_the_big_show_is_as_big_as_asked_and_always_the_same(): void
    {
        self::assertSame(
            0,
            Artisan::call('kite:big', [
                'surfaces' => 6,
                'layers' => 9,
                'clips' => 40,
                'keyframes' => 5,
                '--engage' => true,
            ]),
        );
        $id = trim(Artisan::output());
        $rows = $this->ask('GET', "shows/$id")
            ->assertOk()
            ->assertJsonPath('engaged', true)
            ->json('rows');
        self::assertSame(
            [6, 9, 40, 27, 6, 6],
            array_map(static fn (string $k): int => count($rows[$k]), [
                'surface',
                'layer',
                'clip',
                'curve',
                'output',
                'region',
            ]),
        );
        self::assertEquals(BigShow::of(6, 9, 40, 5), BigShow::of(6, 9, 40, 5));
        self::assertSame([], BigShow::of(6, 9, 40, 5)->core()->broken);
        self::assertSame(1, Edit::query()->count());
    }

    public function test_the_stand_in_for_a_desk_sends_packets_that_can_be_read(): void
    {
        $socket = stream_socket_server('udp://127.0.0.1:0', $code, $error, STREAM_SERVER_BIND);
        self::assertIsResource($socket);
        stream_set_timeout($socket, 5);
        Artisan::call('rig:osc', [
            'address' => '/kite/jump',
            'arguments' => ['12.5', '7', 'Lanterns rise'],
            '--to' => (string) stream_socket_get_name($socket, false),
        ]);
        self::assertSame(
            [['address' => '/kite/jump', 'arguments' => [12.5, 7, 'Lanterns rise'], 'time' => null]],
            Osc::decode((string) stream_socket_recvfrom($socket, 2000)),
        );
    }

    public function test_the_stand_in_for_a_clock_says_its_time_as_often_as_it_is_asked_to(): void
    {
        $socket = stream_socket_server('udp://127.0.0.1:0', $code, $error, STREAM_SERVER_BIND);
        self::assertIsResource($socket);
        stream_set_timeout($socket, 5);
        $began = microtime(true);
        Artisan::call('rig:clock', [
            'name' => 'desk',
            '--from' => '100',
            '--rate' => '-2',
            '--for' => '0.2',
            '--each' => '50',
            '--to' => (string) stream_socket_get_name($socket, false),
        ]);
        self::assertGreaterThan(0.17, microtime(true) - $began);
        $said = array_map(
            static fn (): array => Osc::decode((string) stream_socket_recvfrom($socket, 2000))[0],
            range(1, 10),
        );
        self::assertSame(['/kite/clock'], array_values(array_unique(array_column($said, 'address'))));
        self::assertSame(
            ['desk'],
            array_values(array_unique(array_map(static fn (array $one): mixed => $one['arguments'][0], $said))),
        );
        self::assertEqualsWithDelta(100, $said[0]['arguments'][1], 0.1);
        // Nine fiftieths of a second later, twice that earlier.
        self::assertEqualsWithDelta(-0.36, $said[9]['arguments'][1] - $said[0]['arguments'][1], 0.1);
    }

    public function test_the_reference_says_what_pixels_and_frames_an_output_shows(): void
    {
        $show = $this->show();
        $ids = array_map(fn (): string => $this->id(), array_flip(['panel', 'wall', 'line', 'layer', 'media', 'out']));
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Lay out',
            'changes' => [
                $this->created('panel', $ids['panel'], [
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 20,
                    'heightPx' => 20,
                ]),
                $this->created('surface', $ids['wall'], ['name' => 'Wall', 'cells' => [[$ids['panel']]]]),
                $this->created('timeline', $ids['line'], ['name' => 'Main', 'duration' => 10 * Flicks::PER_SECOND]),
                ...$this->aimed(
                    $ids['layer'],
                    [$ids['wall']],
                    ['timeline' => $ids['line'], 'name' => 'L', 'values' => ['opacity' => 0.5]],
                ),
                $this->created('media', $ids['media'], [
                    'name' => 'Amber',
                    'kind' => 'solid',
                    'colour' => '#ff8040',
                    'width' => 4,
                    'height' => 4,
                ]),
                $this->created('clip', $this->id(), [
                    'layer' => $ids['layer'],
                    'media' => $ids['media'],
                    'start' => Flicks::PER_SECOND,
                    'length' => Flicks::PER_SECOND,
                ]),
                $this->created('output', $ids['out'], ['name' => 'O', 'width' => 64, 'height' => 64]),
                $this->created('region', $this->id(), [
                    'output' => $ids['out'],
                    'surface' => $ids['wall'],
                    'source' => [0, 0, 20, 20],
                    'x' => 10,
                    'y' => 10,
                ]),
            ],
        ])->assertCreated();
        $say = static function (float $seconds) use ($ids): array {
            Artisan::call('kite:reference', [
                'output' => $ids['out'],
                '--time' => (string) Flicks::fromSeconds($seconds),
                '--pixel' => ['12,12', '40,40'],
            ]);

            return json_decode(trim(Artisan::output()), true, 8, JSON_THROW_ON_ERROR);
        };
        self::assertSame([[128, 64, 32], [0, 0, 0]], $say(1.5)['pixels']);
        self::assertSame([[0, 0, 0], [0, 0, 0]], $say(2.0)['pixels']);
        self::assertSame([$ids['layer'] => 0], $say(1.5)['frames']);
    }

    public function test_the_compiler_says_when_there_is_nothing_to_hold(): void
    {
        self::assertSame(1, Artisan::call('kite:compiler'));
    }

    public function test_timecode_is_written_as_a_recording_and_read_out_of_one(): void
    {
        $file = sys_get_temp_dir().'/kite-ltc-'.getmypid().'.wav';
        $read = static function (string $file, array $options = []): array {
            self::assertSame(0, Artisan::call('kite:ltc', ['file' => $file] + $options));

            return array_map(
                static fn (string $line): array => (array) json_decode($line, true),
                array_values(array_filter(explode("\n", Artisan::output()))),
            );
        };
        try {
            $range = ['--from' => '00:00:59;28', '--rate' => '29.97', '--seconds' => '0.2', '--user-bits' => 'C0FFEE'];
            self::assertSame(0, Artisan::call('kite:ltc-write', ['file' => $file] + $range));
            $lines = $read($file);
            self::assertSame(
                ['00:00:59;28', '00:00:59;29', '00:01:00;02', '00:01:00;03', '00:01:00;04', '00:01:00;05'],
                array_column($lines, 'timecode'),
            );
            self::assertSame([0, 1602, 3203], array_slice(array_column($lines, 'sample'), 0, 3));
            self::assertSame(['00c0ffee'], array_values(array_unique(array_column($lines, 'userBits'))));
            // Backwards, and in the second channel beside a tone.
            (new Process([
                'ffmpeg',
                '-v',
                'error',
                '-y',
                '-f',
                'lavfi',
                '-i',
                'sine=440:sample_rate=48000',
                '-i',
                $file,
                '-filter_complex',
                '[1]areverse[r];[0][r]amerge=inputs=2',
                '-t',
                '0.2',
                "$file.wav",
            ]))->mustRun();
            $back = $read("$file.wav");
            self::assertSame([-1], array_values(array_unique(array_column($back, 'direction'))));
            self::assertSame('00:01:00;05', $back[0]['timecode']);
            self::assertSame([], $read("$file.wav", ['--channel' => '1']));
            foreach (
                [
                    ['kite:ltc', ['file' => '/nowhere.wav']],
                    ['kite:ltc', ['file' => $file, '--channel' => '2']],
                    ['kite:ltc-write', ['file' => $file, '--rate' => '26']],
                    ['kite:ltc-write', ['file' => $file, '--from' => '00:00:00:25']],
                    ['kite:ltc-write', ['file' => $file, '--from' => '00:00:00;05']],
                    ['kite:ltc-write', ['file' => $file, '--seconds' => '0']],
                ] as [$command, $options]
            ) {
                self::assertSame(1, Artisan::call($command, $options), (string) json_encode($options));
            }
        } finally {
            @unlink($file);
            @unlink("$file.wav");
        }
    }
}

<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Jobs\MakeAnswer;
use App\Jobs\Pace;
use App\Jobs\Stopped;
use App\Jobs\Sweep;
use App\Media\MediaStore;
use App\Models\Show;
use App\Models\Task;
use App\Paper\Import;
use App\Support\FileLock;
use Illuminate\Support\Facades\DB;
use Symfony\Component\Process\Process;
use Tests\TestCase;

/** What the worker does for somebody who waits: large imports and files that take long. */
final class TaskTest extends TestCase
{
    private string $show;

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
    }

    private function cues(int $count, int $from = 1): string
    {
        return "number,name,fade s\n".
            implode("\n", array_map(static fn (int $n): string => "$n,Cue $n,1.5", range($from, $from + $count - 1))).
            "\n";
    }

    /** @return array<string, mixed> */
    private function task(string $id): array
    {
        return $this->ask('GET', "tasks/$id")
            ->assertOk()
            ->json();
    }

    private function revision(): int
    {
        return (int) $this->ask('GET', "shows/$this->show")->json('revision');
    }

    public function test_a_small_table_is_taken_at_once_and_a_large_one_by_the_worker_as_one_edit(): void
    {
        $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(Import::LINES - 1)])->assertStatus(201);
        self::assertSame(Import::LINES - 1, DB::table('cues')->count());
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $before = $this->revision();
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(4000)])
            ->assertStatus(202)
            ->assertJsonPath('kind', 'import')
            ->assertJsonPath('state', 'waiting')
            ->json('id');
        self::assertSame(0, DB::table('cues')->count());
        $this->work();
        self::assertSame(
            ['ready', 1, '4,000 rows imported.', $before + 1],
            [($task = $this->task($id))['state'], $task['progress'], $task['message'], $task['revision']],
        );
        self::assertSame(4000, DB::table('cues')->count());
        // The same once more changes nothing; it is undone in one step by who began it.
        $again = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(4000)])->json('id');
        $this->work();
        self::assertSame(
            ['Everything in the file was so already.', $before + 1],
            [$this->task($again)['message'], $this->revision()],
        );
        $this->ask('POST', "shows/$this->show/undo", null, [], '01hyyyyyyyyyyyyyyyyyyyyyyy')->assertStatus(422);
        $this->ask('POST', "shows/$this->show/undo")
            ->assertOk()
            ->assertJsonPath('name', 'Import cues');
        self::assertSame(0, DB::table('cues')->count());
        $this->ask('POST', "shows/$this->show/redo")->assertOk();
        self::assertSame(4000, DB::table('cues')->count());
    }

    public function test_what_is_wrong_in_a_large_table_is_said_with_its_line_and_nothing_is_taken(): void
    {
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(600).'601,Late,soon'."\n"])
            ->assertStatus(202)
            ->json('id');
        $this->work();
        $task = $this->task($id);
        self::assertSame('failed', $task['state']);
        self::assertStringContainsString('602', $task['message']);
        self::assertSame(0, DB::table('cues')->count());
        $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => str_repeat('x', (1 << 20) + 1)])
            ->assertStatus(422)
            ->assertJsonPath('field', 'csv');
        // Whose file is gone, says so.
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(600)])->json('id');
        array_map(unlink(...), glob("$this->data/tasks/*") ?: []);
        $this->work();
        self::assertStringContainsString('Import it again', $this->task($id)['message']);
    }

    public function test_an_import_is_stopped_until_it_is_written(): void
    {
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(600)])->json('id');
        $this->ask('POST', "tasks/$id/cancel")
            ->assertOk()
            ->assertJsonPath('state', 'cancelled');
        $this->work();
        self::assertSame([0, 'cancelled'], [DB::table('cues')->count(), $this->task($id)['state']]);
        // Stopped while it is being read: at the first progress that is told.
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(600)])->json('id');
        Task::updated(static function (Task $task): void {
            $task->state === 'working' &&
                DB::table('tasks')
                    ->where('id', $task->id)
                    ->update(['state' => 'cancelled']);
        });
        $this->work();
        Task::flushEventListeners();
        self::assertSame([0, 'cancelled'], [DB::table('cues')->count(), $this->task($id)['state']]);
        // Too late: it is being written, so that it will be there.
        $task = Task::query()->create([
            'showId' => $this->show,
            'person' => 'p',
            'kind' => 'import',
            'input' => [],
            'state' => 'writing',
            'progress' => 0.9,
        ]);
        $this->ask('POST', "tasks/$task->id/cancel")
            ->assertOk()
            ->assertJsonPath('state', 'writing');
        $this->ask('GET', 'tasks/'.$this->id())->assertNotFound();
    }

    public function test_a_worker_that_is_killed_in_the_middle_leaves_it_to_the_next_and_rows_come_once(): void
    {
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(5000)])->json('id');
        $worker = new Process([
            PHP_BINARY,
            base_path('artisan'),
            'queue:work',
            '--stop-when-empty',
            '--sleep=0',
            '--memory=4096',
        ]);
        $worker->start();
        $until = hrtime(true) + 30_000_000_000;
        while (DB::table('tasks')->where('id', $id)->value('progress') < 0.31 && hrtime(true) < $until) {
            usleep(2000);
        }
        $worker->stop(0, SIGKILL);
        self::assertContains(DB::table('tasks')->where('id', $id)->value('state'), ['working', 'writing']);
        // As recover() does it for a job whose worker is gone.
        DB::table('jobs')->update(['reserved_at' => null]);
        $this->work();
        self::assertSame('ready', $this->task($id)['state']);
        self::assertSame(
            [5000, 1],
            [DB::table('cues')->count(), DB::table('edits')->where('showId', $this->show)->count()],
        );
    }

    public function test_tasks_without_a_job_get_one_of_their_own_kind(): void
    {
        $id = $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $this->cues(600)])->json('id');
        DB::table('jobs')->delete();
        DB::table('tasks')->update(['updated_at' => now()->subMinute()]);
        $this->work();
        self::assertSame('ready', $this->task($id)['state']);
        self::assertSame(600, DB::table('cues')->count());
        // Files of imports that are over go with the sweep, once they are old.
        [$file] = glob("$this->data/tasks/*") ?: [''];
        (new Sweep(MediaStore::ofConfig()))->sweep();
        self::assertFileExists($file);
        touch($file, time() - 7200);
        (new Sweep(MediaStore::ofConfig()))->sweep();
        self::assertFileDoesNotExist($file);
    }

    public function test_a_file_that_takes_long_is_made_by_the_worker_for_who_prefers_so(): void
    {
        $prefer = ['Prefer' => 'respond-async, wait=1'];
        $plain = $this->ask('GET', "shows/$this->show/plot.svg")
            ->assertOk()
            ->getContent();
        array_map(unlink(...), glob("$this->data/answers/*/*") ?: []);
        $first = $this->ask('GET', "shows/$this->show/plot.svg", null, $prefer)
            ->assertStatus(202)
            ->assertHeader('Preference-Applied', 'respond-async');
        $id = $first->json('id');
        $first->assertHeader('Location', "/api/tasks/$id");
        self::assertSame(
            $id,
            $this->ask('GET', "shows/$this->show/plot.svg", null, $prefer)
                ->assertStatus(202)
                ->json('id'),
        );
        self::assertNotSame($id, $this->ask('GET', "shows/$this->show/plot.svg?of=another", null, $prefer)->json('id'));
        $this->work();
        self::assertSame('ready', $this->task($id)['state']);
        $answer = $this->ask('GET', "shows/$this->show/plot.svg", null, $prefer)->assertOk();
        self::assertSame($plain, $answer->getContent());
        self::assertStringContainsString('svg', (string) $answer->headers->get('Content-Type'));
        // What is wrong with it is said by the task; without the preference, at once.
        $lost = "shows/$this->show/regions/".$this->id().'/alpha.png';
        $id = $this->ask('GET', $lost, null, $prefer)->assertStatus(202)->json('id');
        $this->work();
        self::assertSame(
            ['failed', 'This region is not in the show.'],
            [$this->task($id)['state'], $this->task($id)['message']],
        );
        $this->ask('GET', $lost)->assertNotFound();
        // What is looked at is answered as before.
        $this->ask('GET', "shows/$this->show/sights", null, $prefer)->assertOk();
    }

    public function test_the_process_that_makes_a_file_ends_when_nobody_wants_it_any_more(): void
    {
        $id = (string) $this->ask('GET', "shows/$this->show/venue.obj", null, ['Prefer' => 'respond-async'])->json(
            'id',
        );
        // As if another were at the same file, so that it takes as long as this wants.
        is_dir("$this->data/answers/$this->show") || mkdir("$this->data/answers/$this->show", 0700, true);
        $busy = FileLock::wait("$this->data/answers/$this->show/".Task::query()->findOrFail($id)->key.'.lock');
        $at = fn (): string => trim((string) shell_exec("pgrep -f 'kite:answe[r] $id'"));
        $seen = '';
        // Not wanted as soon as its process runs.
        $pace = new Pace(
            static function () use ($at, &$seen): bool {
                $seen = $at();

                return $seen === '';
            },
            static fn (): null => null,
            60,
        );
        try {
            app(MakeAnswer::class)->run(Task::query()->findOrFail($id), Show::query()->findOrFail($this->show), $pace);
            self::fail('It was made.');
        } catch (Stopped) {
            self::assertNotSame('', $seen);
            self::assertSame('', $at());
        }
        $busy?->release();
        self::assertSame([], glob("$this->data/answers/*/*[0-9a-f]"));
    }
}

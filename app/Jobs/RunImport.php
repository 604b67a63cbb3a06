<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Media\MediaStore;
use App\Models\Show;
use App\Models\Task;
use App\Paper\Import;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Problem;

/**
 * Reads a file from outside and writes what it says as one edit. It is stopped until the edit is written, and leaves
 * nothing then. Run twice, it changes nothing the second time.
 */
final readonly class RunImport implements TaskWork
{
    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    /** Has the worker import a file, which is kept until it is done. */
    public static function begin(Show $show, string $person, Import $import, string $bytes, string $target): Task
    {
        $folder = config('kite.data').'/tasks';
        is_dir($folder) || @mkdir($folder, 0700, true);
        $file = Id::make();
        if (@file_put_contents("$folder/$file", $bytes) !== strlen($bytes)) {
            @unlink("$folder/$file");
            throw Problem::noRoom();
        }

        return RunTask::begin('import', $show, $person, [
            'import' => $import->value,
            'file' => $file,
            'target' => $target,
        ]);
    }

    /** Has the worker import a file that was uploaded in parts, by its hash. */
    public static function stored(Show $show, string $person, Import $import, string $hash, string $target): Task
    {
        return RunTask::begin('import', $show, $person, [
            'import' => $import->value,
            'stored' => $hash,
            'target' => $target,
        ]);
    }

    public function run(Task $task, Show $show, Pace $pace): array
    {
        $path = isset($task->input['stored'])
            ? MediaStore::ofConfig()->original((string) $task->input['stored'])
            : config('kite.data').'/tasks/'.basename((string) $task->input['file']);
        if (! is_file($path)) {
            throw new TaskFailed('The file is not here any more. Import it again.');
        }
        $import = Import::from((string) $task->input['import']);
        $pace->at(0.0);
        $document = $this->rows->document($show);
        $target = (string) $task->input['target'];
        $changes =
            $import === Import::Calibration
                ? Import::calibration($document, $path, $target, static fn (float $share) => $pace->at(0.3 * $share))
                : $import->changes($document, (string) file_get_contents($path), $target, Id::make(...));
        $pace->at(0.3);
        [$answer] = $this->editor->order($show, $task->person, $import->title(), $changes, null, static function (
            float $share,
        ) use ($task, $pace): void {
            $pace->at(0.3 + 0.6 * $share);
            // The last moment at which it can be stopped.
            if (
                $share >= 1.0 &&
                Task::query()
                    ->whereKey($task->id)
                    ->where('state', 'working')
                    ->update(['state' => 'writing', 'progress' => 0.9]) === 0
            ) {
                throw new Stopped();
            }
        });
        $count = count($answer['changes']);

        return [
            'revision' => $answer['revision'],
            'message' => $count === 0
                    ? 'Everything in the file was so already.'
                    : ($count === 1 ? '1 row' : number_format($count).' rows').' imported.',
        ];
    }
}

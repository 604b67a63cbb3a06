<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Task;
use Illuminate\Console\Command;
use Illuminate\Contracts\Http\Kernel;
use Illuminate\Http\Request;

/** Asks for the address of a task as a window would, so that its answer is kept. Prints what is wrong with it. */
final class Answer extends Command
{
    protected $signature = 'kite:answer {task}';

    protected $description = 'Make the file that a task is for';

    public function handle(Kernel $kernel): int
    {
        $task = Task::query()->whereKey($this->argument('task'))->firstOrFail();
        $request = Request::create(
            (string) $task->input['path'],
            'GET',
            server: ['HTTP_HOST' => config('kite.hosts')[0], 'HTTP_ACCEPT' => 'application/json'],
        );
        $response = $kernel->handle($request);
        if ($response->getStatusCode() === 200) {
            return self::SUCCESS;
        }
        $this->line((string) (json_decode((string) $response->getContent(), true)['detail'] ?? ''));

        return self::FAILURE;
    }
}

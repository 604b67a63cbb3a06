<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Task;
use Illuminate\Http\JsonResponse;

/** How far what the worker does for somebody is, and stops it. */
final readonly class TaskController
{
    public function show(Task $task): JsonResponse
    {
        return new JsonResponse($task->payload());
    }

    public function cancel(Task $task): JsonResponse
    {
        $task->cancel();

        return new JsonResponse($task->payload());
    }
}

<?php

declare(strict_types=1);

namespace App\Jobs;

/** A task that could not be done, with a message for the one who asked. */
final class TaskFailed extends \RuntimeException
{
}

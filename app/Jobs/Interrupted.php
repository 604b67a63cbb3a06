<?php

declare(strict_types=1);

namespace App\Jobs;

/** The worker is told to end while it is at something: the job waits for the next worker. */
final class Interrupted extends \RuntimeException
{
}

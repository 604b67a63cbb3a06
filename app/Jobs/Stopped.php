<?php

declare(strict_types=1);

namespace App\Jobs;

/** Somebody cancelled what the worker was at. */
final class Stopped extends \RuntimeException
{
}

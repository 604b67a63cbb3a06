<?php

declare(strict_types=1);

namespace App\Jobs;

final class TookTooLong extends \RuntimeException
{
    public static function limit(int $seconds): self
    {
        return new self('It took longer than the '.intdiv($seconds, 60).' minutes that are given to it.');
    }
}

<?php

declare(strict_types=1);

namespace App\Console;

/** Commands that take texts. */
trait ReadsText
{
    /** What was given for an option or an argument, as text. */
    private static function text(mixed $given): string
    {
        return is_scalar($given) ? (string) $given : '';
    }
}

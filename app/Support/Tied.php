<?php

declare(strict_types=1);

namespace App\Support;

/** Programs that end with the process that started them, however that ends. */
final class Tied
{
    /** What stands before such a command in a shell. */
    public static function prefix(): string
    {
        return is_executable('/usr/bin/setpriv') ? 'exec setpriv --pdeathsig KILL ' : 'exec ';
    }
}

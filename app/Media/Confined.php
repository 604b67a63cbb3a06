<?php

declare(strict_types=1);

namespace App\Media;

use Symfony\Component\Process\Process;

/**
 * Runs a decoder on a file of strangers: it ends with us, gains no rights and loses those it has, and has limits of
 * memory, computing time and length of what it writes.
 */
final class Confined
{
    /**
     * @param  list<string>  $command
     * @param  int  $seconds  of computing
     * @param  float  $writes  bytes that one file of its may have
     */
    public static function process(array $command, int $seconds, float $writes = 0): Process
    {
        $before = [];
        if (is_executable('/usr/bin/setpriv')) {
            $before = [
                'setpriv',
                '--no-new-privs',
                '--pdeathsig',
                'KILL',
                ...posix_geteuid() === 0 ? ['--bounding-set=-all', '--inh-caps=-all'] : [],
            ];
        }
        if (is_executable('/usr/bin/prlimit')) {
            array_push(
                $before,
                'prlimit',
                '--core=0',
                '--nofile=256',
                "--cpu=$seconds",
                '--fsize='.(string) max(0, (int) $writes),
                '--as='.(string) config('kite.convert_memory'),
            );
        }

        return new Process(
            [...$before, ...$command],
            env: ['HOME' => sys_get_temp_dir(), 'APP_KEY' => false, 'KITE_DATA' => false, 'KITE_RUN' => false],
            timeout: null,
        );
    }
}

<?php

/*
 * Starts web server, PHP, engine and worker from configuration of our own, all within one data folder, watches them,
 * starts again what dies, and ends all of them with itself. Called by bin/demo; takes its settings from the environment.
 */

declare(strict_types=1);

use React\ChildProcess\Process;
use React\EventLoop\Loop;

require __DIR__.'/../vendor/autoload.php';

// What is made here is for us alone.
umask(0077);
$root = dirname(__DIR__);
$data = getenv('KITE_DATA') ?: "$root/storage/kite";
// Paths of sockets are short by law of the kernel, so they lie elsewhere when the folder's own is too long.
$run = strlen($data) < 80 ? "$data/run" : sys_get_temp_dir().'/kite-'.substr(md5($data), 0, 12);
$port = (int) (getenv('KITE_PORT') ?: 4180);
$livePort = (int) (getenv('KITE_LIVE_PORT') ?: $port + 1);
$oscPort = (int) (getenv('KITE_OSC_PORT') ?: $port + 2);
$inputsPort = (int) (getenv('KITE_INPUTS_PORT') ?: $port + 3);
$hosts = getenv('KITE_HOSTS') ?: '127.0.0.1,localhost';
// The address and port at which paired tablets come in; a browser may call us by that address, too.
$panels = (string) getenv('KITE_PANELS');
if ($panels !== '' && preg_match('/^((?:\d{1,3}\.){3}\d{1,3}):(\d{1,5})$/D', $panels, $at) !== 1) {
    fwrite(STDERR, "KITE_PANELS is an IPv4 address and a port, as in 192.0.2.8:4190.\n");
    exit(1);
}
if (isset($at[1]) && $at[1] !== '0.0.0.0' && ! in_array($at[1], explode(',', $hosts), true)) {
    $hosts .= ",$at[1]";
}

$say = static function (string $line): void {
    fwrite(STDOUT, date('H:i:s')." $line\n");
};
foreach (['tcp' => [$port, $livePort, $inputsPort], 'udp' => [$oscPort]] as $kind => $ports) {
    foreach ($ports as $one) {
        $probe = @stream_socket_server("$kind://127.0.0.1:$one", $code, $error, $kind === 'udp' ? STREAM_SERVER_BIND : STREAM_SERVER_BIND | STREAM_SERVER_LISTEN);
        if ($probe === false) {
            fwrite(STDERR, strtoupper($kind)." port $one is in use, so nothing was started. Choose another with --port.\n");
            exit(1);
        }
        fclose($probe);
    }
}
foreach ([$data, $run] as $folder) {
    is_dir($folder) || mkdir($folder, 0700, true);
}
foreach ([[$data, 0700], [$run, 0700], ["$data/kite.sqlite", 0600], ["$data/kite.sqlite-wal", 0600], ["$data/kite.sqlite-shm", 0600], ["$data/journal.jsonl", 0600]] as [$path, $mode]) {
    file_exists($path) && @chmod($path, $mode);
}
foreach (['KITE_DATA' => $data, 'KITE_RUN' => $run, 'KITE_PORT' => $port, 'KITE_LIVE_PORT' => $livePort, 'KITE_OSC_PORT' => $oscPort, 'KITE_INPUTS_PORT' => $inputsPort, 'KITE_HOSTS' => $hosts] as $name => $value) {
    putenv("$name=$value");
}
$user = posix_geteuid() === 0 ? 'root' : '';
$values = [
    '{run}' => $run, '{data}' => $data, '{public}' => "$root/public", '{port}' => (string) $port, '{live_port}' => (string) $livePort, '{inputs_port}' => (string) $inputsPort,
    '{expensive}' => trim((string) file_get_contents("$root/deploy/expensive.txt")), '{hosts}' => str_replace(',', ' ', $hosts), '{panels}' => $panels, '{user}' => $user === '' ? '' : 'Started as root, so it stays root.',
];
$values['{panels_server}'] = $panels === '' ? '' : strtr((string) file_get_contents("$root/deploy/nginx-panels.conf.template"), $values);
$write = static function (string $name, string $userLine) use ($root, $run, $values): string {
    $text = strtr((string) file_get_contents("$root/deploy/$name.template"), $values + ['{user_line}' => $userLine]);
    file_put_contents("$run/$name", $text);

    return "$run/$name";
};
$nginx = $write('nginx.conf', $user === '' ? '' : 'user root;');
$fpm = $write('fpm.conf', $user === '' ? '' : "user = root\ngroup = root");
$php = escapeshellarg(PHP_BINARY);
$artisan = escapeshellarg("$root/artisan");
$binary = static function (string ...$names): string {
    foreach ($names as $name) {
        foreach (['/usr/sbin', '/usr/bin', '/usr/local/sbin', '/usr/local/bin'] as $folder) {
            if (is_executable("$folder/$name")) {
                return "$folder/$name";
            }
        }
    }
    fwrite(STDERR, "$names[0] is not installed.\n");
    exit(1);
};
$commands = [
    'php' => $binary('php-fpm8.2', 'php-fpm').' -d opcache.jit=function -d opcache.jit_buffer_size=64M --nodaemonize'.($user === '' ? '' : ' --allow-to-run-as-root').' --fpm-config '.escapeshellarg($fpm),
    'web' => $binary('nginx').' -e '.escapeshellarg("$run/nginx.log").' -p '.escapeshellarg($run).' -c '.escapeshellarg($nginx)." -g 'daemon off;'",
    // Without the JIT, which takes 0.7 s of a start to compile all functions: it has little to compute, and has to be back at once.
    'engine' => "$php -d opcache.enable_cli=1 -d opcache.jit=off -d memory_limit=1G $artisan kite:conductor",
    'lights 1' => "$php -d opcache.enable_cli=1 -d opcache.jit=function -d opcache.jit_buffer_size=32M -d memory_limit=1G $artisan kite:lights",
    'inputs' => "$php -d opcache.enable_cli=1 -d opcache.jit=function -d opcache.jit_buffer_size=16M -d memory_limit=512M $artisan kite:inputs",
    'worker 1' => "nice -n 10 $php -d opcache.enable_cli=1 -d opcache.jit=function -d opcache.jit_buffer_size=64M -d memory_limit=4G $artisan queue:work --sleep=0.5 --timeout=0 --memory=1024",
];
// Two, so that one takes the place of the other at once.
$commands['lights 2'] = $commands['lights 1'];
// Two, so that one long conversion does not hold up all others.
$commands['worker 2'] = $commands['worker 1'];
// Each child leads a group of its own, so that what it forked ends with it; and it ends when we are killed.
$guard = is_executable('/usr/bin/setpriv') ? '/usr/bin/setpriv --pdeathsig TERM setsid ' : 'setsid ';
$children = [];
/** @var array<string, int> $quick ends soon after a start, one after another */
$quick = [];
$ending = false;
$start = static function (string $name) use (&$start, &$children, &$ending, &$quick, $commands, $guard, $say): void {
    $process = new Process("exec $guard{$commands[$name]}");
    $process->start(Loop::get());
    $began = microtime(true);
    $children[$name] = $process;
    foreach ([$process->stdout, $process->stderr] as $stream) {
        $stream?->on('data', static function (string $text) use ($name, $say): void {
            foreach (array_filter(explode("\n", trim($text))) as $line) {
                // The worker's own account of each job is left to the media view.
                str_starts_with($name, 'worker') && preg_match('/INFO|RUNNING|DONE/', $line) === 1 || $say("[$name] $line");
            }
        });
    }
    $process->on('exit', static function (?int $code, ?int $signal) use ($name, $began, &$start, &$ending, &$quick, $say): void {
        if ($ending) { // @phpstan-ignore if.alwaysFalse (set when we are told to end)
            return;
        }
        $say("$name ended (".($signal === null ? "code $code" : "signal $signal").') and is started again.');
        // At once; one that ends again and again soon after its start, ever later, up to once a second.
        $quick[$name] = microtime(true) - $began < 2 ? ($quick[$name] ?? 0) + 1 : 0;
        Loop::addTimer(min(1.0, 0.05 * 2 ** $quick[$name]), static fn () => $start($name));
    });
};
foreach (array_keys($commands) as $name) {
    $start($name);
}
// A child counts as ended only when its pipes are closed, and what it forked may hold those: so that goes with it.
$sweep = static function () use (&$children): void {
    foreach ($children as $child) {
        $pid = (int) $child->getPid();
        if ($pid > 1 && ! $child->isRunning()) {
            posix_kill(-$pid, SIGKILL);
        }
    }
};
Loop::addPeriodicTimer(0.1, $sweep);
$end = static function () use (&$ending, &$children): void {
    if ($ending) {
        return;
    }
    $ending = true;
    foreach ($children as $child) {
        $child->terminate(SIGTERM);
    }
    $all = array_filter(array_map(static fn (Process $c): int => (int) $c->getPid(), $children), static fn (int $pid): bool => $pid > 1);
    $until = microtime(true) + 5;
    Loop::addPeriodicTimer(0.05, static function () use (&$children, $until, $all): void {
        $children = array_filter($children, static fn (Process $c): bool => $c->isRunning());
        if ($children === [] || microtime(true) > $until) {
            foreach ($all as $pid) {
                posix_kill(-$pid, SIGKILL);
            }
            Loop::stop();
        }
    });
};
foreach ([SIGINT, SIGTERM, SIGHUP] as $signal) {
    Loop::addSignal($signal, $end);
}
$ready = Loop::addPeriodicTimer(0.05, static function () use (&$ready, $port, $livePort, $say): void {
    foreach (['/api/shows' => $port, '/live/clock' => $livePort] as $path => $one) {
        $answer = @file_get_contents("http://127.0.0.1:$one$path", false, stream_context_create(['http' => ['timeout' => 1, 'ignore_errors' => true]]));
        if ($answer === false || ! str_starts_with($http_response_header[0] ?? '', 'HTTP/1.1 200')) {
            return;
        }
    }
    Loop::cancelTimer($ready);
    $say("Kite Lamp is at http://127.0.0.1:$port/");
});
Loop::run();

<?php

/*
 * With a whole Kite Lamp of its own: how late 60 Hz ticks are while a baker compiles a show of 20,000 keyframes, against an
 * empty loop beside it in the same run; and the latency of the ten commonest calls.
 */

declare(strict_types=1);

require __DIR__.'/../vendor/autoload.php';

$port = 4450;
$data = sys_get_temp_dir().'/kite-bench-'.getmypid();
mkdir("$data/run", 0770, true);
touch("$data/kite.sqlite");
$root = dirname(__DIR__);
foreach (['KITE_DATA' => $data, 'KITE_PORT' => (string) $port] as $name => $value) {
    putenv("$name=$value");
}
exec('php '.escapeshellarg("$root/artisan").' migrate --force --quiet');
$show = trim((string) shell_exec('php '.escapeshellarg("$root/artisan").' kite:big 100 67 1000 100 --engage'));
$pipes = [];
$launcher = proc_open([PHP_BINARY, "$root/bin/launcher.php"], [['file', '/dev/null', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']], $pipes);
while (! str_contains((string) ($line = fgets($pipes[1])), 'is at')) {
    if ($line === false) {
        exit("The launcher ended.\n");
    }
}
/** @return array{int, float, string} status, ms, body */
$call = static function (string $method, string $path, mixed $body = null, string $ticket = '') use ($port): array {
    static $curl = null;
    $curl ??= curl_init();
    curl_setopt_array($curl, [
        CURLOPT_URL => "http://127.0.0.1:$port$path", CURLOPT_CUSTOMREQUEST => $method, CURLOPT_RETURNTRANSFER => true, CURLOPT_POSTFIELDS => $body === null ? '' : json_encode($body),
        CURLOPT_HTTPHEADER => ['Content-Type: application/json', "Origin: http://127.0.0.1:$port", 'Cookie: kite_person=01hzzzzzzzzzzzzzzzzzzzzzzz', "Authorization: Bearer $ticket", 'Expect:'],
    ]);
    if ($method === 'GET') {
        curl_setopt($curl, CURLOPT_HTTPGET, true);
    }
    $began = hrtime(true);
    $answer = (string) curl_exec($curl);

    return [(int) curl_getinfo($curl, CURLINFO_HTTP_CODE), (hrtime(true) - $began) / 1e6, $answer];
};
$ticket = json_decode($call('POST', '/api/live/tickets', [])[2], true)['ticket'];
$state = static fn (): array => json_decode($call('GET', '/live/state', null, $ticket)[2], true);
$revision = static fn (): int => (int) ($state()['baker']['revision'] ?? 0);
while ($revision() === 0) {
    usleep(50_000);
}
$call('POST', '/live/command', ['do' => 'play'], $ticket);
$rows = json_decode($call('GET', "/api/shows/$show")[2], true);
$layer = $rows['rows']['layer'][0];
$keyframes = array_sum(array_map(static fn (array $c): int => count($c['keyframes']), $rows['rows']['curve']));

// An empty loop beside the engine, for ten seconds, while edits make baker after baker compile the show.
$empty = proc_open([PHP_BINARY, '-d', 'opcache.enable_cli=1', '-r', '$n = hrtime(true); $late = []; require "'.$root.'/vendor/autoload.php"; @proc_nice(-10); $l = React\EventLoop\Loop::get(); $next = hrtime(true) / 1e6 + 1000 / 60; $l->addPeriodicTimer(1 / 60, function () use (&$late, &$next) { $at = hrtime(true) / 1e6; $late[] = max(0, $at - $next); $next = $at + 1000 / 60; }); $l->addTimer(10, fn () => $l->stop()); $l->run(); sort($late); $c = count($late); printf("%.2f %.2f %.2f", $late[$c >> 1], $late[(int) ($c * .99)], end($late));'], [['file', '/dev/null', 'r'], ['pipe', 'w']], $emptyPipes);
$value = $layer['opacity'];
$compiles = 0;
for ($end = microtime(true) + 10; microtime(true) < $end;) {
    $next = round(1 - $value, 3);
    $done = json_decode($call('POST', "/api/shows/$show/edits", ['name' => 'Dim', 'changes' => [['kind' => 'layer', 'id' => $layer['id'], 'op' => 'update', 'fields' => ['opacity' => ['before' => $value, 'after' => $next]]]]])[2], true);
    $value = $next;
    while ($revision() < $done['revision'] && microtime(true) < $end + 5) {
        usleep(20_000);
    }
    $compiles++;
}
$now = $state();
[$p50, $p99, $max] = sscanf((string) stream_get_contents($emptyPipes[1]), '%f %f %f');
printf("### Ticks at 60 Hz while bakers compile %s keyframes (%d times in 10 s)\n\n| loop | p50 | p99 | max |\n|---|---|---|---|\n| empty loop beside it (floor) | %.2f ms | %.2f ms | %.2f ms |\n| conductor, late by | %.2f ms | %.2f ms | %.2f ms |\n| conductor, busy itself | %.2f ms | %.2f ms | %.2f ms |\n",
    number_format($keyframes), $compiles, $p50, $p99, $max, $now['lateness']['p50'], $now['lateness']['p99'], $now['lateness']['max'], $now['busy']['p50'], $now['busy']['p99'], $now['busy']['max']);

$marker = 0;
$ulid = static function () use (&$marker): string {
    return '01hyyyyyyyyyyyyyyyyyyy'.str_pad((string) $marker++, 4, '0', STR_PAD_LEFT);
};
$timeline = $rows['rows']['timeline'][0]['id'];
$surface = $rows['rows']['surface'][0]['id'];
$calls = [
    'engine clock' => fn () => $call('GET', '/live/clock'),
    'engine state' => fn () => $call('GET', '/live/state', null, $ticket),
    'a fader' => fn () => $call('POST', '/live/command', ['do' => 'live', 'values' => ["{$layer['id']}/x" => 5]], $ticket),
    'jump' => fn () => $call('POST', '/live/command', ['do' => 'jump', 'time' => 705_600_000], $ticket),
    'arithmetic' => fn () => $call('POST', '/api/arithmetic', ['text' => '8m / 1.9mm']),
    'list of shows' => fn () => $call('GET', '/api/shows'),
    'whole show (2,400 rows)' => fn () => $call('GET', "/api/shows/$show"),
    'figures and findings' => fn () => $call('GET', "/api/shows/$show/computed"),
    'trace' => fn () => $call('GET', "/api/shows/$show/trace?surface=$surface"),
    'an edit' => fn () => $call('POST', "/api/shows/$show/edits", ['name' => 'Mark', 'changes' => [['kind' => 'marker', 'id' => $ulid(), 'op' => 'create', 'fields' => ['timeline' => ['before' => null, 'after' => $timeline], 'time' => ['before' => null, 'after' => 0], 'name' => ['before' => null, 'after' => 'M']]]]]),
];
echo "\n### The ten commonest calls, on the show of above\n\n| call | p50 | p99 |\n|---|---|---|\n";
foreach ($calls as $name => $run) {
    $took = [];
    for ($i = 0; $i < 25; $i++) {
        [$status, $ms, $body] = $run();
        if ($status >= 400) {
            exit("$name: $status $body\n");
        }
        $took[] = $ms;
    }
    sort($took);
    printf("| %s | %.1f ms | %.1f ms |\n", $name, $took[12], $took[24]);
}
proc_terminate($launcher);
proc_close($launcher);
exec('rm -rf '.escapeshellarg($data));

echo "\n### First load, scripts gzipped\n\n| page | kB |\n|---|---|\n";
foreach (['player', 'studio'] as $page) {
    $html = (string) file_get_contents("$root/public/build/$page.html");
    preg_match_all('~/build/(assets/[^"]+\.js)~', $html, $m);
    $files = array_unique([...$m[1], ...array_map(static fn (string $f): string => 'assets/'.basename($f), glob("$root/public/build/assets/worker-*.js") ?: [])]);
    printf("| %s | %.1f |\n", $page, array_sum(array_map(static fn (string $f): int => strlen((string) gzencode((string) file_get_contents("$root/public/build/$f"), 6)), $files)) / 1000);
}

<?php

/*
 * With a whole Kite Lamp of its own and a window on its stream: an edit until its bundle, figures and trace are at
 * the window, a jump
 * until it is told, what is sent and what the engine takes while nobody touches anything, and the commonest calls. At
 * 1×, 2× and 4×.
 */

declare(strict_types=1);

use App\Engine\Wire;

require __DIR__.'/../vendor/autoload.php';

$root = dirname(__DIR__);
$port = 4450;
$launcher = null;
$data = sys_get_temp_dir().'/kite-bench-'.getmypid();
$end = static function () use (&$launcher, $data): void {
    if (is_resource($launcher)) {
        proc_terminate($launcher);
        proc_close($launcher);
        $launcher = null;
    }
    exec('rm -rf '.escapeshellarg($data));
};
register_shutdown_function($end);

/** @return array{int, float, string} status, ms, body; one connection, kept */
$call = static function (string $method, string $path, mixed $body = null, string $ticket = '') use ($port): array {
    static $socket = null;
    $json = $body === null ? '' : (string) json_encode($body);
    $request =
        "$method $path HTTP/1.1\r\nHost: 127.0.0.1:$port\r\nOrigin: http://127.0.0.1:$port\r\nContent-Type: application/json\r\nCookie: kite_person=01hzzzzzzzzzzzzzzzzzzzzzzz\r\nAuthorization: Bearer $ticket\r\nContent-Length: ".
        strlen($json).
        "\r\n\r\n$json";
    $began = hrtime(true);
    if ($socket === null || @fwrite($socket, $request) === false || ($first = fgets($socket)) === false) {
        $socket = stream_socket_client("tcp://127.0.0.1:$port") ?: exit("Nobody listens.\n");
        stream_set_timeout($socket, 30);
        fwrite($socket, $request);
        $first = fgets($socket);
    }
    [$length, $chunked] = [0, false];
    while (($line = trim((string) fgets($socket))) !== '') {
        sscanf(strtolower($line), 'content-length: %d', $length);
        $chunked = $chunked || stripos($line, 'transfer-encoding: chunked') === 0;
    }
    $answer = '';
    if ($chunked) {
        while (($size = (int) hexdec(trim((string) fgets($socket)))) > 0) {
            $answer .= stream_get_contents($socket, $size);
            fgets($socket);
        }
        fgets($socket);
    } else {
        $answer = $length > 0 ? (string) stream_get_contents($socket, $length) : '';
    }

    return [(int) substr((string) $first, 9, 3), (hrtime(true) - $began) / 1e6, $answer];
};
$at = static function (array $list, float $share): float {
    sort($list);

    return $list[(int) floor($share * (count($list) - 1))];
};

/** A window's stream: frames with the ms at which they came. */
final class Window
{
    /** @var resource */
    private $socket;

    private Wire $frames;

    private string $raw = '';

    public int $bytes = 0;

    public function __construct(int $port, string $ticket)
    {
        $this->socket = stream_socket_client("tcp://127.0.0.1:$port") ?: exit("Nobody listens.\n");
        fwrite(
            $this->socket,
            "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1:$port\r\nAuthorization: Bearer $ticket\r\n\r\n",
        );
        while (trim((string) fgets($this->socket)) !== '');
        stream_set_blocking($this->socket, false);
        $this->frames = new Wire();
    }

    /** @return list<array{int, string, float}> what came within so many seconds, or as soon as something is wanted */
    public function read(float $seconds, ?Closure $wanted = null): array
    {
        $got = [];
        for ($end = hrtime(true) + (int) ($seconds * 1e9); hrtime(true) < $end;) {
            $read = [$this->socket];
            [$write, $except] = [null, null];
            if (stream_select($read, $write, $except, 0, 2000) < 1) {
                continue;
            }
            $bytes = (string) fread($this->socket, 1 << 20);
            $now = hrtime(true) / 1e6;
            $this->bytes += strlen($bytes);
            $this->raw .= $bytes;
            while (
                preg_match('/^([0-9a-f]+)\r\n/', $this->raw, $m) === 1 &&
                strlen($this->raw) >= strlen($m[0]) + hexdec($m[1]) + 2
            ) {
                foreach (
                    $this->frames->feed(substr($this->raw, strlen($m[0]), (int) hexdec($m[1]))) as [$type, $payload]
                ) {
                    $got[] = [$type, $payload, $now];
                    if ($wanted !== null && $wanted($type, $payload)) {
                        $this->raw = substr($this->raw, strlen($m[0]) + (int) hexdec($m[1]) + 2);

                        return $got;
                    }
                }
                $this->raw = substr($this->raw, strlen($m[0]) + (int) hexdec($m[1]) + 2);
            }
        }

        return $got;
    }
}

$lines = ['edits' => '', 'quiet' => '', 'jumps' => ''];
$calls = '';
foreach ([[1, 100], [2, 100], [4, 100], [1, 500]] as $round => [$times, $keyframes]) {
    mkdir("$data/run", 0770, true);
    touch("$data/kite.sqlite");
    foreach (['KITE_DATA' => $data, 'KITE_PORT' => (string) $port] as $name => $value) {
        putenv("$name=$value");
    }
    exec('php '.escapeshellarg("$root/artisan").' migrate --force --quiet');
    $show = trim(
        (string) shell_exec(
            'php -d memory_limit=2G '.
                escapeshellarg("$root/artisan").
                ' kite:big '.
                implode(' ', [100 * $times, 67 * $times, 1000 * $times, $keyframes]).
                ' --engage',
        ),
    );
    $pipes = [];
    $launcher = proc_open(
        [PHP_BINARY, "$root/bin/launcher.php"],
        [['file', '/dev/null', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']],
        $pipes,
    );
    while (! str_contains((string) ($line = fgets($pipes[1])), 'is at')) {
        if ($line === false) {
            exit("The launcher ended.\n");
        }
    }
    $ticket = json_decode($call('POST', '/api/live/tickets', [])[2], true)['ticket'];
    $state = static fn (): array => (array) json_decode($call('GET', '/live/state', null, $ticket)[2], true);
    while (($state()['compiler']['ready'] ?? false) !== true) {
        usleep(50_000);
    }
    $rows = json_decode($call('GET', "/api/shows/$show")[2], true)['rows'];
    $total = array_sum(array_map(static fn (array $c): int => count($c['keyframes']), $rows['curve']));
    $what = number_format(array_sum(array_map(count(...), $rows))).' rows, '.number_format($total).' keyframes';
    $window = new Window($port, $ticket);
    $hello = $window->read(3, static fn (int $type): bool => $type === Wire::HEALTH);
    $stream = json_decode($hello[0][1], true)['stream'];
    $surface = $rows['surface'][0]['id'];
    $call('POST', '/live/watch', ['stream' => $stream, 'show' => $show, 'surface' => $surface], $ticket);
    $call('POST', '/live/command', ['action' => 'jump', 'time' => 40 * 705_600_000], $ticket);
    $call('POST', '/live/command', ['action' => 'play'], $ticket);
    $window->read(1);
    // What is sent, and what the engine takes, while all of it moves and nobody touches anything.
    $cpu = static fn (int $pid): float => array_sum(
        array_slice(explode(' ', (string) file_get_contents("/proc/$pid/stat")), 13, 2),
    ) / 100;
    [$pid, $compiler] = [$state()['pid'], $state()['compiler']['pid']];
    [$before, $bytes] = [[$cpu($pid), $cpu($compiler)], $window->bytes];
    $window->read(10);
    $lines['quiet'] .= sprintf(
        "| %s | %.1f kB/s | %.1f %% | %.1f %% |\n",
        $what,
        ($window->bytes - $bytes) / 10_000,
        ($cpu($pid) - $before[0]) * 10,
        ($cpu($compiler) - $before[1]) * 10,
    );
    // A clip moved, thirty times: its own call, the bundle, the figures after the revision.
    [$own, $bundles, $figures, $size] = [[], [], [], 0];
    $output = $rows['output'][0];
    for ($i = 0; $i < 30; $i++) {
        $clip = $rows['clip'][$i];
        $began = hrtime(true) / 1e6;
        [$status, $ms, $body] = $call('POST', "/api/shows/$show/edits", [
            'name' => 'Move',
            'changes' => [
                [
                    'kind' => 'clip',
                    'id' => $clip['id'],
                    'op' => 'update',
                    'fields' => ['start' => ['before' => $clip['start'], 'after' => $clip['start'] + 352_800_000]],
                ],
                [
                    'kind' => 'output',
                    'id' => $output['id'],
                    'op' => 'update',
                    'fields' => ['width' => ['before' => 1920 - 20 * $i, 'after' => 1900 - 20 * $i]],
                ],
            ],
        ]);
        $status === 201 || exit("An edit: $body\n");
        $own[] = $ms;
        $seen = $window->read(5, static fn (int $type): bool => $type === Wire::FIGURES);
        $revision = null;
        foreach ($seen as [$type, $payload, $ms]) {
            $revision = $type === Wire::REVISION ? $ms : $revision;
            if ($type === Wire::DELTA) {
                $bundles[] = $ms - $began;
                $size = strlen($payload);
            }
            if ($type === Wire::FIGURES && $revision !== null) {
                $figures[] = $ms - $revision;
            }
        }
    }
    $lines['edits'] .= sprintf(
        "| %s | %.0f ms, %.0f ms | %.0f ms, %.0f ms | %.1f ms, %.1f ms | %s |\n",
        $what,
        $at($own, 0.5),
        $at($own, 0.95),
        $at($bundles, 0.5),
        $at($bundles, 0.95),
        $at($figures, 0.5),
        $at($figures, 0.95),
        number_format($size),
    );
    // A jump until the window is told, and how large the word is.
    [$told, $word] = [[], 0];
    for ($i = 0; $i < 40; $i++) {
        $began = hrtime(true) / 1e6;
        $call('POST', '/live/command', ['action' => 'jump', 'time' => (40 + $i * 7) * 705_600_000], $ticket);
        foreach ($window->read(2, static fn (int $type): bool => $type === Wire::DECK) as [$type, $payload, $ms]) {
            if ($type === Wire::DECK) {
                $told[] = $ms - $began;
                $word = max($word, strlen($payload));
            }
        }
        $window->read(0.04);
    }
    $lines['jumps'] .= sprintf("| %s | %.1f ms | %.1f ms | %d |\n", $what, $at($told, 0.5), $at($told, 0.95), $word);
    if ($round === 0) {
        $layer = $rows['layer'][0];
        $marker = 0;
        $named = [
            'engine clock (floor)' => fn () => $call('GET', '/live/clock'),
            'engine state' => fn () => $call('GET', '/live/state', null, $ticket),
            'a fader' => fn () => $call(
                'POST',
                '/live/command',
                ['action' => 'live', 'values' => ["layer:{$layer['id']}/x" => 5]],
                $ticket,
            ),
            'jump' => fn () => $call('POST', '/live/command', ['action' => 'jump', 'time' => 705_600_000], $ticket),
            'arithmetic' => fn () => $call('POST', '/api/arithmetic', ['text' => '8m / 1.9mm']),
            'list of shows' => fn () => $call('GET', '/api/shows'),
            'whole show' => fn () => $call('GET', "/api/shows/$show"),
            'figures and findings' => fn () => $call('GET', "/api/shows/$show/computed"),
            'trace' => fn () => $call('GET', "/api/shows/$show/trace?surface=$surface"),
            'an edit' => function () use ($call, $show, $rows, &$marker): array {
                return $call('POST', "/api/shows/$show/edits", [
                    'name' => 'Mark',
                    'changes' => [
                        [
                            'kind' => 'marker',
                            'id' => '01hyyyyyyyyyyyyyyyyyyy'.str_pad((string) $marker++, 4, '0', STR_PAD_LEFT),
                            'op' => 'create',
                            'fields' => array_map(static fn ($v): array => ['before' => null, 'after' => $v], [
                                'timeline' => $rows['timeline'][0]['id'],
                                'time' => 0,
                                'name' => 'M',
                            ]),
                        ],
                    ],
                ]);
            },
        ];
        foreach ($named as $name => $run) {
            $took = [];
            for ($i = 0; $i < 25; $i++) {
                [$status, $ms, $body] = $run();
                $status < 400 || exit("$name: $status $body\n");
                $took[] = $ms;
            }
            $calls .= sprintf("| %s | %.1f ms | %.1f ms |\n", $name, $at($took, 0.5), $at($took, 1));
        }
    }
    unset($window);
    $end();
}
echo "### While all of it moves and nobody touches anything\n\n| show | sent to a window | conductor, of a core | compiler, of a core |\n|---|---|---|---|\n{$lines['quiet']}";
echo "\n### An edit (a clip moved, an output narrower), p50 and p95\n\n| show | its own call | until its bundle is at a window | figures after the revision | bundle, bytes |\n|---|---|---|---|---|\n{$lines['edits']}";
echo "\n### A jump, until a window is told\n\n| show | p50 | p95 | largest message, bytes |\n|---|---|---|---|\n{$lines['jumps']}";
echo "\n### The commonest calls, on the first show of above\n\n| call | p50 | worst of 25 |\n|---|---|---|\n$calls";

echo "\n### First load, scripts gzipped\n\n| page | kB |\n|---|---|\n";
foreach (['player', 'studio'] as $page) {
    $html = (string) file_get_contents("$root/public/build/$page.html");
    preg_match_all('~/build/(assets/[^"]+\.js)~', $html, $m);
    $files = array_unique([
        ...$m[1],
        ...array_map(
            static fn (string $f): string => 'assets/'.basename($f),
            glob("$root/public/build/assets/worker-*.js") ?: [],
        ),
    ]);
    printf(
        "| %s | %.1f |\n",
        $page,
        array_sum(
            array_map(
                static fn (string $f): int => strlen(
                    (string) gzencode((string) file_get_contents("$root/public/build/$f"), 6),
                ),
                $files,
            ),
        ) / 1000,
    );
}

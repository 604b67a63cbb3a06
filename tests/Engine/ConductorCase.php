<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Wire;
use App\Support\TicketOffice;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Units\Flicks;
use Symfony\Component\Process\Process;
use Tests\TestCase;

/** A conductor and its compilers as real processes, and how one talks to them over real sockets. */
abstract class ConductorCase extends TestCase
{
    protected const PORT = TEST_PORTS + 31;

    protected ?Process $conductor = null;

    protected ?Process $launcher = null;

    protected string $ticket = '';

    protected function tearDown(): void
    {
        $this->launcher?->stop(8);
        $this->conductor?->stop(2);
        parent::tearDown();
    }

    /** @param  array<string, string>  $more  of its environment */
    protected function start(array $more = []): void
    {
        $this->conductor = new Process(
            [PHP_BINARY, base_path('artisan'), 'kite:conductor'],
            base_path(),
            $more + [
                'KITE_DATA' => $this->data,
                'KITE_RUN' => "$this->data/run",
                'KITE_PORT' => (string) (TEST_PORTS + 30),
                'KITE_LIVE_PORT' => (string) self::PORT,
                'KITE_OSC_PORT' => (string) (TEST_PORTS + 32),
                'KITE_RTP_PORT' => (string) (TEST_PORTS + 34),
                'KITE_PJLINK_PORT' => '0',
                'KITE_LINE_PORT' => '0',
                'APP_KEY' => config('app.key'),
            ],
        );
        $this->conductor->setTimeout(null);
        $this->conductor->start();
        $this->ticket = (new TicketOffice(config('app.key')))->issue('somebody', time());
        // A port that takes connections is not enough: what a killed conductor left may still hold it.
        $this->until('the conductor to answer', function (): bool {
            try {
                return isset($this->live('state')['live']);
            } catch (\ErrorException) {
                return false;
            }
        });
    }

    /**
     * Starts everything, as it is started.
     *
     * @param  array<string, string>  $more  of its environment
     */
    protected function launch(array $more = []): Process
    {
        $this->launcher = new Process(
            [PHP_BINARY, base_path('bin/launcher.php')],
            base_path(),
            $more + [
                'KITE_DATA' => $this->data,
                'KITE_RUN' => "$this->data/run",
                'KITE_PORT' => (string) (TEST_PORTS + 30),
                'KITE_LIVE_PORT' => (string) self::PORT,
                'KITE_OSC_PORT' => (string) (TEST_PORTS + 32),
                'KITE_RTP_PORT' => (string) (TEST_PORTS + 34),
                'KITE_PJLINK_PORT' => '0',
                'KITE_LINE_PORT' => '0',
                'KITE_INPUTS_PORT' => (string) (TEST_PORTS + 33),
                'KITE_ARTNET_PORT' => (string) (TEST_PORTS + 49),
                'KITE_SACN_PORT' => (string) (TEST_PORTS + 48),
                'KITE_RIG_PORTS' => implode(',', [TEST_PORTS + 45, TEST_PORTS + 46, TEST_PORTS + 47]),
                'APP_KEY' => config('app.key'),
            ],
        );
        $this->launcher->setTimeout(null);
        $this->launcher->start();

        return $this->launcher;
    }

    protected function until(string $what, \Closure $holds): mixed
    {
        for ($end = microtime(true) + 15; microtime(true) < $end; usleep(10_000)) {
            if (($answer = $holds()) !== false && $answer !== null) {
                return $answer;
            }
        }
        self::fail("Waited 15 s for $what. ".$this->conductor?->getErrorOutput().$this->conductor?->getOutput());
    }

    /** @return array{int, array<string, mixed>} status and body */
    protected function http(string $request): array
    {
        $socket = fsockopen('127.0.0.1', self::PORT) ?: self::fail('Nobody listens.');
        stream_set_timeout($socket, 5);
        fwrite($socket, $request);
        preg_match('~^HTTP/1.1 (\d+)~', (string) fgets($socket), $m);
        $length = 0;
        while (($line = trim((string) fgets($socket))) !== '') {
            sscanf($line, 'Content-Length: %d', $length);
        }
        $body = $length > 0 ? (string) stream_get_contents($socket, $length) : '';
        fclose($socket);

        return [(int) ($m[1] ?? 0), (array) json_decode($body, true)];
    }

    /**
     * @param  array<string, mixed>|null  $body
     * @return array<string, mixed>
     */
    protected function live(string $path, ?array $body = null): array
    {
        $json = $body === null ? '' : (string) json_encode($body);
        $host = '127.0.0.1:'.self::PORT;

        return $this->http(
            ($body === null ? 'GET' : 'POST').
                " /live/$path HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer $this->ticket\r\nContent-Length: ".
                strlen($json).
                "\r\n\r\n$json",
        )[1];
    }

    /** @param  array<string, mixed>  $body */
    protected function told(string $path, array $body): int
    {
        $json = (string) json_encode($body);
        $host = '127.0.0.1:'.self::PORT;

        return $this->http(
            "POST /live/$path HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer $this->ticket\r\nContent-Length: ".
                strlen($json).
                "\r\n\r\n$json",
        )[0];
    }

    /**
     * Changes that make a bar of RGB pixels in a row, and its type.
     *
     * @param  string  $light  id of the bar
     * @return list<array<string, mixed>>
     */
    protected function bar(string $light, int $columns): array
    {
        $fixture = $this->id();

        return [
            $this->created('fixture', $fixture, [
                'name' => 'Bar',
                'columns' => $columns,
                'rows' => 1,
                'widthMm' => 200,
                'heightMm' => 50,
                'channels' => 'RGB',
            ]),
            $this->created('surface', $light, ['name' => 'Bar', 'kind' => 'light', 'shape' => ['fixture' => $fixture]]),
        ];
    }

    /** A show with one layer whose opacity fades from 0 to 1 within ten seconds. */
    protected function fadingShow(): array
    {
        $show = $this->show();
        $ids = [
            'panel' => $this->id(),
            'wall' => $this->id(),
            'line' => $this->id(),
            'layer' => $this->id(),
            'media' => $this->id(),
            'out' => $this->id(),
            'route' => $this->id(),
            'clip' => $this->id(),
            'bell' => $this->id(),
        ];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Lay out',
            'changes' => [
                $this->created('panel', $ids['panel'], [
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 10,
                    'heightPx' => 10,
                ]),
                $this->created('surface', $ids['wall'], [
                    'name' => 'Wall',
                    'cells' => [[$ids['panel']]],
                    'seams' => [],
                ]),
                $this->created('timeline', $ids['line'], ['name' => 'Main', 'duration' => 60 * Flicks::PER_SECOND]),
                $this->created('layer', $ids['layer'], [
                    'timeline' => $ids['line'],
                    'name' => 'L',
                    'route' => $ids['route'],
                ]),
                $this->created('route', $ids['route'], ['surfaces' => [$ids['wall']], 'layer' => $ids['layer']]),
                $this->created('timeline', $ids['bell'], [
                    'name' => 'Bell',
                    'duration' => 2 * Flicks::PER_SECOND,
                    'order' => 1,
                ]),
                $this->created('media', $ids['media'], ['name' => 'Card', 'kind' => 'testcard']),
                $this->created('clip', $ids['clip'], [
                    'layer' => $ids['layer'],
                    'media' => $ids['media'],
                    'start' => 0,
                    'length' => 60 * Flicks::PER_SECOND,
                ]),
                $this->created('curve', $this->id(), [
                    'owner' => $ids['layer'],
                    'property' => 'opacity',
                    'keyframes' => [['t' => 0, 'v' => 0], ['t' => 10 * Flicks::PER_SECOND, 'v' => 1]],
                ]),
            ],
        ])->assertCreated();

        return [$show, $ids];
    }

    /**
     * A live stream that is read to the end of what is there.
     *
     * @return \Closure(string, \Closure(int, string): mixed): mixed waits for a frame of which something is not null
     */
    protected function stream(): \Closure
    {
        $socket = fsockopen('127.0.0.1', self::PORT) ?: self::fail('Nobody listens.');
        fwrite($socket, "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer $this->ticket\r\n\r\n");
        stream_set_timeout($socket, 5);
        while (trim((string) fgets($socket)) !== '');
        $frames = new Wire();
        $queue = [];

        return static function (string $what, \Closure $wanted) use ($socket, $frames, &$queue): mixed {
            for ($end = microtime(true) + 15; microtime(true) < $end;) {
                while ($queue !== []) {
                    [$type, $payload] = array_shift($queue);
                    if (($found = $wanted($type, $payload)) !== null) {
                        return $found;
                    }
                }
                $size = hexdec(trim((string) fgets($socket)));
                if ($size === 0) {
                    break;
                }
                $queue = $frames->feed((string) stream_get_contents($socket, (int) $size));
                fgets($socket);
            }
            self::fail("No frame came with $what.");
        };
    }

    /** @return \Closure(int, string): ?array<string, mixed> takes the first frame of a type of which something holds */
    protected static function frame(int $wanted, ?\Closure $holds = null): \Closure
    {
        return static function (int $type, string $payload) use ($wanted, $holds): ?array {
            $data = $type === $wanted ? json_decode($payload, true) : null;

            return is_array($data) && ($holds === null || $holds($data)) ? $data : null;
        };
    }

    protected function pack(string $key): Plan
    {
        return Plan::empty()->with(Bundle::fromBytes((string) file_get_contents("$this->data/packs/$key.pack")));
    }
}

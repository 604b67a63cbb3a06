<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\Interval;
use Core\Bindings\Command;
use Core\Bindings\DeviceLine;
use Core\Protocol\Malformed;
use Core\Protocol\PjLink;
use Core\Units\InvalidValue;
use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;
use React\Socket\Connector;

/** What the show switches and tells outside: projectors by PJLink, and lines to any device. Nothing waits for them. */
final class Devices
{
    private const REMEMBERED = 20;

    /** Lines that are on their way at once. */
    private const MAX_LINES = 64;

    /** Seconds for one try of a line, and tries. */
    private const TIMEOUT = 2.0;

    private const TRIES = 2;

    /** Seconds in which answers to a search count, and how many. */
    private const SEARCHES = 3;

    private const MAX_FOUND = 200;

    /** @var array<string, array{name: string, link: ProjectorLink}> by projector */
    private array $projectors = [];

    /** @var array<string, string> projectors that answered a search: hardware address by address */
    private array $found = [];

    private int $under = 0;

    /** @var list<array{at: int, text: string, fault: string|null}> lines, newest first */
    private array $last = [];

    private readonly Connector $connector;

    /**
     * @param  list<string>  $broadcasts  addresses to which a search goes
     * @param  (\Closure(string, string): bool)|null  $midi  sends messages to a MIDI device; whether that is there
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly Guard $guard,
        private readonly array $broadcasts = ['255.255.255.255', '127.255.255.255'],
        private readonly int $searchPort = PjLink::PORT,
        private readonly ?\Closure $midi = null,
    ) {
        $this->connector = new Connector(['timeout' => self::TIMEOUT], $loop);
        $loop->addPeriodicTimer(
            Interval::PollProjectors->seconds(),
            $guard->around('projector', function (): void {
                foreach ($this->projectors as ['link' => $link]) {
                    $link->poll();
                }
            }),
        );
    }

    /** @param  array<string, array{name: string, address: string, password: string}>  $projectors  those with an address, by id */
    public function setProjectors(array $projectors): void
    {
        foreach ($this->projectors as $id => ['link' => $link]) {
            $now = $projectors[$id] ?? null;
            if ($now === null || $now['address'] !== $link->address || $now['password'] !== $link->password) {
                $link->close();
                unset($this->projectors[$id]);
            }
        }
        foreach ($projectors as $id => $projector) {
            if (! isset($this->projectors[$id])) {
                $link = new ProjectorLink($this->loop, $projector['address'], $projector['password'], $this->guard);
                $this->projectors[$id] = ['name' => $projector['name'], 'link' => $link];
                $link->poll();
            }
            $this->projectors[$id]['name'] = $projector['name'];
        }
    }

    /**
     * Switches projectors, or sends a line.
     *
     * @param  array<string, mixed>  $command
     * @return string|null what is wrong with it
     */
    public function perform(Command $of, array $command): ?string
    {
        if ($of === Command::Send) {
            try {
                $this->send(DeviceLine::parse(is_string($command['line'] ?? null) ? $command['line'] : ''));
            } catch (InvalidValue $refused) {
                return $refused->getMessage();
            }

            return null;
        }
        if ($of === Command::Search) {
            $this->search();

            return null;
        }
        $links = $this->named($command['projector'] ?? null);
        if ($links === []) {
            return 'No projector of this name has an address for PJLink.';
        }
        $on = ($command['on'] ?? true) === true;
        try {
            foreach ($links as $link) {
                $link->send(
                    match ($of) {
                        Command::Power => PjLink::power($on),
                        Command::Freeze => PjLink::freeze($on),
                        Command::Input => PjLink::input(
                            strtoupper((string) ($command['input'] ?? '')),
                            max(1, $link->state()['class']),
                        ),
                        default => PjLink::shutter($on),
                    },
                );
            }
        } catch (Malformed) {
            return "There is no input $command[input]: write one as 31, its kind and its number.";
        }

        return null;
    }

    /** Asks all of the network which projectors there are; what answers within a few seconds is told. */
    private function search(): void
    {
        $this->found = [];
        $socket = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
        if ($socket === false) {
            return;
        }
        socket_set_option($socket, SOL_SOCKET, SO_BROADCAST, 1);
        socket_set_nonblock($socket);
        foreach ($this->broadcasts as $to) {
            @socket_sendto($socket, PjLink::SEARCH, strlen(PjLink::SEARCH), 0, $to, $this->searchPort);
        }
        $until = hrtime(true) + self::SEARCHES * 1_000_000_000;
        $timer = $this->loop->addPeriodicTimer(
            0.1,
            $this->guard->around('projector', function () use ($socket, $until, &$timer): void {
                while (@socket_recvfrom($socket, $packet, 512, 0, $from, $port) !== false) {
                    $hardware = PjLink::found((string) $packet);
                    if ($hardware !== null && count($this->found) < self::MAX_FOUND) {
                        $this->found[(string) $from] = $hardware;
                    }
                }
                if (hrtime(true) > $until && $timer !== null) {
                    $this->loop->cancelTimer($timer);
                    socket_close($socket);
                }
            }),
        );
    }

    /** @return list<ProjectorLink> by id or name, the beginning of names with a star; all where none is named */
    private function named(mixed $named): array
    {
        $found = [];
        foreach ($this->projectors as $id => ['name' => $name, 'link' => $link]) {
            if (
                $named === null ||
                $named === (string) $id ||
                $named === $name ||
                (is_string($named) && str_ends_with($named, '*') && str_starts_with($name, substr($named, 0, -1)))
            ) {
                $found[] = $link;
            }
        }

        return $found;
    }

    private function send(DeviceLine $line, int $try = 1): void
    {
        if ($line->protocol === 'midi') {
            $sent = $this->midi !== null && ($this->midi)($line->bytes, $line->to);
            $this->remember($line, $sent ? null : "There is no MIDI device $line->to at present.");

            return;
        }
        if ($line->protocol === 'osc' || $line->protocol === 'udp') {
            $socket = @stream_socket_client("udp://$line->to", $code, $error, 0);
            $sent = $socket !== false && @fwrite($socket, $line->bytes) === strlen($line->bytes);
            $this->remember($line, $sent ? null : 'It could not be sent.');

            return;
        }
        if ($this->under >= self::MAX_LINES) {
            $this->remember($line, self::MAX_LINES.' lines are on their way already.');

            return;
        }
        $this->under++;
        $url = $line->protocol === 'http' ? (array) parse_url($line->to) : [];
        $host = (string) ($url['host'] ?? '');
        $secure = ($url['scheme'] ?? '') === 'https';
        $port = (int) ($url['port'] ?? ($secure ? 443 : 80));
        $to = $url === [] ? "tcp://$line->to" : ($secure ? 'tls' : 'tcp')."://$host:$port";
        $this->connector->connect($to)->then(
            $this->guard->around('line', function (ConnectionInterface $connection) use ($line, $url, $host): void {
                $done = false;
                $end = function (?string $fault) use (&$done, $connection, $line): void {
                    if (! $done) {
                        $done = true;
                        $this->under--;
                        $this->remember($line, $fault);
                        $connection->end();
                    }
                };
                $connection->on('error', static fn () => null);
                if ($url === []) {
                    $connection->write($line->bytes);
                    $end(null);

                    return;
                }
                $path = ($url['path'] ?? '/').(isset($url['query']) ? "?$url[query]" : '');
                $connection->write(
                    ($line->bytes === '' ? 'GET' : 'POST').
                        " $path HTTP/1.1\r\nHost: $host\r\nConnection: close\r\nContent-Length: ".
                        strlen($line->bytes).
                        "\r\n\r\n$line->bytes",
                );
                $answer = '';
                $connection->on('data', static function (string $bytes) use (&$answer, $end): void {
                    $answer = substr($answer.$bytes, 0, 256);
                    if (str_contains($answer, "\r\n")) {
                        $status = preg_match('~^HTTP/\S+ (\d{3})~', $answer, $m) === 1 ? (int) $m[1] : 0;
                        $end($status >= 200 && $status < 300 ? null : "It answers with $status.");
                    }
                });
                $connection->on('close', static fn () => $end('It closed the connection without an answer.'));
                $this->loop->addTimer(self::TIMEOUT, static fn () => $end('It does not answer.'));
            }),
            $this->guard->around('line', function () use ($line, $try): void {
                $this->under--;
                if ($try < self::TRIES) {
                    $this->send($line, $try + 1);
                } else {
                    $this->remember($line, "It can't be reached.");
                }
            }),
        );
    }

    private function remember(DeviceLine $line, ?string $fault): void
    {
        array_unshift($this->last, [
            'at' => time(),
            'text' => mb_strimwidth($line->text, 0, 120, '…'),
            'fault' => $fault,
        ]);
        array_splice($this->last, self::REMEMBERED);
    }

    /** @return array<string, string> projectors that give no light, or not what they are sent, and why */
    public function dark(): array
    {
        return array_filter(array_map(static fn (array $one): ?string => $one['link']->dark(), $this->projectors));
    }

    /** @return array{projectors: object, lines: list<array{at: int, text: string, fault: string|null}>, found: object} */
    public function health(): array
    {
        return [
            'projectors' => (object) array_map(
                static fn (array $one): array => [
                    'errors' => (object) $one['link']->state()['errors'],
                    'inputs' => (object) array_map(
                        PjLink::inputName(...),
                        array_combine($one['link']->state()['inputs'], $one['link']->state()['inputs']),
                    ),
                ] + $one['link']->state(),
                $this->projectors,
            ),
            'lines' => $this->last,
            'found' => (object) $this->found,
        ];
    }
}

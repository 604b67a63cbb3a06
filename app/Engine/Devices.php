<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\Interval;
use Core\Bindings\Command;
use Core\Bindings\DeviceLine;
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

    /** @var array<string, array{name: string, link: ProjectorLink}> by projector */
    private array $projectors = [];

    private int $under = 0;

    /** @var list<array{at: int, text: string, fault: string|null}> lines, newest first */
    private array $last = [];

    private readonly Connector $connector;

    public function __construct(private readonly LoopInterface $loop, private readonly Guard $guard)
    {
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
        $links = $this->named($command['projector'] ?? null);
        if ($links === []) {
            return 'No projector of this name has an address for PJLink.';
        }
        $on = ($command['on'] ?? true) === true;
        foreach ($links as $link) {
            $link->send($of === Command::Power ? PjLink::power($on) : PjLink::shutter($on));
        }

        return null;
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

    /** @return array{projectors: object, lines: list<array{at: int, text: string, fault: string|null}>} */
    public function health(): array
    {
        return [
            'projectors' => (object) array_map(
                static fn (array $one): array => ['errors' => (object) $one['link']->state()['errors']] +
                    $one['link']->state(),
                $this->projectors,
            ),
            'lines' => $this->last,
        ];
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Protocol\Malformed;
use Core\Protocol\Osc;
use React\EventLoop\LoopInterface;

/** Listens for OSC over UDP, counts what comes, and remembers the last of it. */
final class OscListener
{
    private const REMEMBERED = 20;

    /** Packets read in one turn of the loop, so that a flood does not hold it. */
    private const A_TURN = 64;

    private int $packets = 0;

    private int $bad = 0;

    /** @var list<array{at: int, from: string, text: string, fault: string|null}> newest first */
    private array $last = [];

    /** @var resource */
    private $socket;

    /** @param  \Closure(string, list<int|float|string|bool|null>): ?string  $heard address and arguments; says what is wrong, or null */
    public function __construct(LoopInterface $loop, string $address, Guard $guard, private readonly \Closure $heard)
    {
        $this->socket = stream_socket_server("udp://$address", $code, $error, STREAM_SERVER_BIND) ?: throw new \RuntimeException("OSC can't listen on $address: $error.");
        stream_set_blocking($this->socket, false);
        $loop->addReadStream($this->socket, $guard->around('osc', $this->read(...)));
    }

    private function read(): void
    {
        for ($i = 0; $i < self::A_TURN; $i++) {
            $packet = stream_socket_recvfrom($this->socket, 65_536, 0, $from);
            if ($packet === false || $from === null || $from === '') {
                return;
            }
            $this->packets++;
            try {
                foreach (Osc::decode($packet) as $message) {
                    $said = array_map(static fn (mixed $a): string => is_string($a) ? '"'.mb_substr(mb_scrub($a), 0, 60).'"' : (is_float($a) ? sprintf('%.7g', $a) : (string) json_encode($a)), array_slice($message['arguments'], 0, 4));
                    $fault = ($this->heard)($message['address'], $message['arguments']);
                    $this->remember($from, trim(mb_substr($message['address'], 0, 100).' '.implode(' ', $said)), $fault);
                }
            } catch (Malformed $malformed) {
                $this->bad++;
                $this->remember($from, strlen($packet).' bytes', $malformed->getMessage());
            }
        }
    }

    private function remember(string $from, string $text, ?string $fault): void
    {
        array_unshift($this->last, ['at' => time(), 'from' => $from, 'text' => $text, 'fault' => $fault]);
        array_splice($this->last, self::REMEMBERED);
    }

    /** @return array{packets: int, bad: int, last: list<array{at: int, from: string, text: string, fault: string|null}>} */
    public function figures(): array
    {
        return ['packets' => $this->packets, 'bad' => $this->bad, 'last' => $this->last];
    }
}

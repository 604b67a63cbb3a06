<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Protocol\Malformed;
use Core\Protocol\Osc;
use React\EventLoop\LoopInterface;

/** Listens for OSC over UDP, counts what comes, and remembers the last of it. */
final class OscListener implements ControlSource
{
    /** Seconds that a message of a bundle is kept until its time. */
    private const LONGEST_WAIT = 600;

    private const MAX_WAITING = 1000;

    /** Packets read in one turn of the loop, so that a flood does not hold it. */
    private const A_TURN = 64;

    /** Addresses of which it is known who sends them, so that feedback goes there. */
    private const MAX_SENDERS = 500;

    private int $packets = 0;

    private int $bad = 0;

    private int $waiting = 0;

    private readonly RecentMessages $last;

    /** @var array<string, string> who sent to an OSC address last */
    private array $senders = [];

    /** @var resource|null */
    private $socket = null;

    /** @var (\Closure(ControlEvent): ?string)|null */
    private ?\Closure $onEvent = null;

    /** @param  string  $address  host and port */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly string $address,
        private readonly Guard $guard,
        private readonly Clock $clock,
    ) {
        $this->last = new RecentMessages();
    }

    public function name(): string
    {
        return 'osc';
    }

    public function start(\Closure $onEvent): void
    {
        $this->onEvent = $onEvent;
        $this->socket =
            stream_socket_server("udp://$this->address", $code, $error, STREAM_SERVER_BIND) ?:
            throw new \RuntimeException("OSC can't listen on $this->address: $error.");
        stream_set_blocking($this->socket, false);
        $this->loop->addReadStream($this->socket, $this->guard->around('osc', $this->read(...)));
    }

    public function stop(): void
    {
        if ($this->socket !== null) {
            $this->loop->removeReadStream($this->socket);
            fclose($this->socket);
        }
        [$this->socket, $this->onEvent] = [null, null];
    }

    public function feedback(string $control, array $state, string $device = ''): void
    {
        // Half a message would say of the other numbers that they are nothing.
        if ($this->socket !== null && isset($this->senders[$control]) && ! in_array(null, $state, true)) {
            @stream_socket_sendto($this->socket, Osc::encode($control, $state), 0, $this->senders[$control]);
        }
    }

    private function read(): void
    {
        for ($i = 0; $i < self::A_TURN; $i++) {
            $packet = $this->socket === null ? false : stream_socket_recvfrom($this->socket, 65_536, 0, $from);
            if ($packet === false || $from === null || $from === '') {
                return;
            }
            $this->packets++;
            try {
                foreach (Osc::decode($packet) as $message) {
                    $wait = $message['time'] === null ? 0.0 : $message['time'] - microtime(true);
                    $said = array_map(
                        static fn (mixed $a): string => is_string($a)
                            ? '"'.mb_substr(mb_scrub($a), 0, 60).'"'
                            : (is_float($a)
                                ? sprintf('%.7g', $a)
                                : (string) json_encode($a)),
                        array_slice($message['arguments'], 0, 4),
                    );
                    $text = trim(mb_substr($message['address'], 0, 100).' '.implode(' ', $said));
                    $do = fn () => $this->last->add(
                        $from,
                        $text,
                        $this->event($from, $message['address'], $message['arguments']),
                    );
                    if ($wait <= 0) {
                        $do();
                    } elseif ($wait > self::LONGEST_WAIT || $this->waiting >= self::MAX_WAITING) {
                        $this->last->add(
                            $from,
                            $text,
                            $wait > self::LONGEST_WAIT
                                ? sprintf('It is meant for %.0f s from now; are the clocks alike?', $wait)
                                : 'Too many messages wait for their time.',
                        );
                    } else {
                        $this->waiting++;
                        $this->loop->addTimer(
                            $wait,
                            $this->guard->around('osc', function () use ($do): void {
                                $this->waiting--;
                                $do();
                            }),
                        );
                    }
                }
            } catch (Malformed $malformed) {
                $this->bad++;
                $this->last->add($from, strlen($packet).' bytes', $malformed->getMessage());
            }
        }
    }

    /**
     * @param  list<int|float|string|bool|null>  $arguments
     * @return string|null what is wrong with it
     */
    private function event(string $from, string $address, array $arguments): ?string
    {
        if (isset($this->senders[$address]) || count($this->senders) < self::MAX_SENDERS) {
            $this->senders[$address] = $from;
        }

        return $this->onEvent === null
            ? null
            : ($this->onEvent)(
                new ControlEvent($this->name(), $address, $arguments, $this->clock->now(), self::host($from)),
            );
    }

    /** Where it comes from, without the port, which is another each time. */
    private static function host(string $from): string
    {
        return (string) preg_replace('/:\d+$/D', '', $from);
    }

    public function health(): array
    {
        return ['packets' => $this->packets, 'bad' => $this->bad, 'last' => $this->last->all()];
    }
}

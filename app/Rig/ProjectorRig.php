<?php

declare(strict_types=1);

namespace App\Rig;

use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;
use React\Socket\TcpServer;

/**
 * A projector of the virtual rig, by PJLink class 2: it warms up and cools down, counts the hours of its lamp, and
 * shuts its shutter only while it is on.
 */
final class ProjectorRig
{
    /** Seconds of warming up and of cooling down. */
    private const WARMS = 3.0;

    private string $power = '0';

    private bool $isShut = false;

    private bool $isFrozen = false;

    private string $input = '31';

    private float $since = 0.0;

    /** Commands that were taken. */
    public int $taken = 0;

    public readonly bool $isListening;

    /** Where those of the demo are, counted on from here. */
    public const FIRST = '127.0.0.11';

    /** @param  string  $address  host and port */
    public function __construct(
        LoopInterface $loop,
        string $address,
        private readonly string $name,
        private readonly string $password = '',
        private readonly int $hours = 0,
        bool $isOn = false,
    ) {
        $this->power = $isOn ? '1' : '0';
        try {
            $server = new TcpServer($address, $loop);
        } catch (\RuntimeException) {
            $this->isListening = false;

            return;
        }
        $this->isListening = true;
        $server->on('error', static fn () => null);
        $server->on('connection', $this->greet(...));
    }

    private function greet(ConnectionInterface $connection): void
    {
        $random = bin2hex(random_bytes(4));
        $connection->write($this->password === '' ? "PJLINK 0\r" : "PJLINK 1 $random\r");
        [$buffer, $isIn] = ['', $this->password === ''];
        $connection->on('error', static fn () => null);
        $connection->on('data', function (string $bytes) use (&$buffer, &$isIn, $connection, $random): void {
            $buffer .= $bytes;
            if (strlen($buffer) > 1024) {
                $connection->close();

                return;
            }
            while (($end = strpos($buffer, "\r")) !== false) {
                $line = substr($buffer, 0, $end);
                $buffer = substr($buffer, $end + 1);
                if (! $isIn) {
                    $digest = md5($random.$this->password);
                    if (! str_starts_with($line, $digest)) {
                        $connection->end("PJLINK ERRA\r");

                        return;
                    }
                    [$isIn, $line] = [true, substr($line, strlen($digest))];
                }
                $connection->write($this->answer($line)."\r");
            }
        });
    }

    private function answer(string $line): string
    {
        if (preg_match('/^%([12])([A-Z0-9]{4}) (.{1,128})$/iD', $line, $m) !== 1) {
            return '%1ERR1';
        }
        $this->taken++;
        [, $class, $command, $what] = $m;
        $command = strtoupper($command);
        $this->settle();
        $said = match ("$command ".($what === '?' ? '?' : '=')) {
            'POWR ?' => $this->power,
            'POWR =' => $this->switch($what),
            'AVMT ?' => $this->power !== '1' ? 'ERR3' : ($this->isShut ? '31' : '30'),
            'AVMT =' => $this->shut($what),
            'LAMP ?' => "$this->hours ".($this->power === '1' ? '1' : '0'),
            'ERST ?' => $this->hours > 2000 ? '010000' : '000000',
            'NAME ?' => $this->name,
            'CLSS ?' => '2',
            'INF1 ?' => 'Saltgate',
            'INF2 ?' => 'Harbour 12',
            'INPT ?' => $this->input,
            'INPT =' => $this->takeInput($what),
            'INST ?' => '11 31 32 51',
            'FREZ ?' => $class === '1' ? 'ERR1' : ($this->isFrozen ? '1' : '0'),
            'FREZ =' => $class === '1' ? 'ERR1' : $this->freeze($what),
            'FILT ?' => $class === '1' ? 'ERR1' : (string) intdiv($this->hours, 2),
            default => 'ERR1',
        };

        return "%$class$command=$said";
    }

    private function takeInput(string $what): string
    {
        if (! in_array($what, ['11', '31', '32', '51'], true)) {
            return 'ERR2';
        }
        if ($this->power !== '1') {
            return 'ERR3';
        }
        $this->input = $what;

        return 'OK';
    }

    private function freeze(string $what): string
    {
        if ($what !== '0' && $what !== '1') {
            return 'ERR2';
        }
        if ($this->power !== '1') {
            return 'ERR3';
        }
        $this->isFrozen = $what === '1';

        return 'OK';
    }

    /**
     * Answers searches over UDP, each projector from its own address.
     *
     * @param  list<string>  $addresses  host and port of each
     * @return bool whether it listens
     */
    public static function answerSearches(LoopInterface $loop, array $addresses, int $port): bool
    {
        $socket = @stream_socket_server("udp://127.255.255.255:$port", $code, $error, STREAM_SERVER_BIND);
        if ($socket === false) {
            return false;
        }
        $own = [];
        foreach ($addresses as $n => $address) {
            $one = @stream_socket_server("udp://$address", $code, $error, STREAM_SERVER_BIND);
            $one === false || ($own[sprintf('02:00:5A:17:00:%02X', $n + 1)] = $one);
        }
        stream_set_blocking($socket, false);
        $loop->addReadStream($socket, static function () use ($socket, $own): void {
            $packet = stream_socket_recvfrom($socket, 512, 0, $from);
            foreach ($packet === "%2SRCH\r" && is_string($from) ? $own : [] as $hardware => $one) {
                @stream_socket_sendto($one, "%2ACKN=$hardware\r", 0, $from);
            }
        });

        return true;
    }

    private function settle(): void
    {
        if (microtime(true) - $this->since >= self::WARMS) {
            $this->power = ['2' => '0', '3' => '1'][$this->power] ?? $this->power;
        }
    }

    private function switch(string $what): string
    {
        if ($what !== '0' && $what !== '1') {
            return 'ERR2';
        }
        // While it warms up or cools down, it takes neither.
        if ($this->power === '2' || $this->power === '3') {
            return 'ERR3';
        }
        if ($this->power !== $what) {
            [$this->power, $this->since] = [$what === '1' ? '3' : '2', microtime(true)];
        }

        return 'OK';
    }

    private function shut(string $what): string
    {
        if (preg_match('/^[123][01]$/D', $what) !== 1) {
            return 'ERR2';
        }
        if ($this->power !== '1') {
            return 'ERR3';
        }
        $this->isShut = $what[1] === '1';

        return 'OK';
    }

    /** @return array{power: string, shut: bool, frozen: bool, input: string, taken: int} */
    public function state(): array
    {
        $this->settle();

        return [
            'power' => $this->power,
            'shut' => $this->isShut,
            'frozen' => $this->isFrozen,
            'input' => $this->input,
            'taken' => $this->taken,
        ];
    }
}

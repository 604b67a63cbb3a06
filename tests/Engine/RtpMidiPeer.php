<?php

declare(strict_types=1);

namespace Tests\Engine;

/** The other end of a session of MIDI over the network, byte by byte as the standards have them. */
final class RtpMidiPeer
{
    /** @var array{resource, resource} */
    private array $sockets;

    private int $sequence;

    /** @var list<string> session packets that came, in hex */
    public array $told = [];

    public function __construct(int $port, private readonly int $ssrc = 0x1234ABCD, int $sequence = 65_534)
    {
        $this->sequence = $sequence;
        $open = static function (int $to) {
            $socket = stream_socket_client("udp://127.0.0.1:$to") ?: throw new \RuntimeException('No socket.');
            stream_set_blocking($socket, false);

            return $socket;
        };
        $this->sockets = [$open($port), $open($port + 1)];
    }

    public function write(int $socket, string $bytes): void
    {
        // What came back of one that nobody listened to is told at the next.
        @fwrite($this->sockets[$socket], $bytes) || @fwrite($this->sockets[$socket], $bytes);
    }

    /** Both invitations; the answers are read by whoever waits for them. */
    public function invite(string $name = 'Box'): void
    {
        foreach ([0, 1] as $socket) {
            $this->write($socket, "\xff\xffIN".pack('N3', 2, 0x0BADCAFE, $this->ssrc)."$name\0");
        }
    }

    /** @return string|null a packet that came, if any */
    public function read(int $socket): ?string
    {
        $packet = @fread($this->sockets[$socket], 65_536);

        return $packet === false || $packet === '' ? null : $packet;
    }

    /** @param  string  $list  a MIDI list without a time before its first command */
    public function midi(string $list, int $skip = 0): void
    {
        $this->sequence = ($this->sequence + 1 + $skip) & 0xFFFF;
        $length = strlen($list);
        $this->write(
            1,
            pack('CCnNN', 0x80, 0x61, $this->sequence, 1000, $this->ssrc).
                ($length < 16 ? chr($length) : pack('n', 0x8000 | $length)).
                $list,
        );
    }

    public function bye(): void
    {
        $this->write(0, "\xff\xffBY".pack('N3', 2, 0x0BADCAFE, $this->ssrc));
    }

    /** Begins an exchange of clocks. */
    public function clock(): void
    {
        $this->write(0, "\xff\xffCK".pack('NCx3J3', $this->ssrc, 0, 777, 0, 0));
    }
}

<?php

declare(strict_types=1);

namespace App\Rig;

use Core\Protocol\Malformed;
use Core\Protocol\MidiStream;
use Core\Protocol\RtpMidi;
use React\EventLoop\LoopInterface;

/**
 * A fader box of the virtual rig: faders with motors and lit buttons. It invites the engine to a session of MIDI over
 * the network, sends what is moved on its page, and shows what the engine sends back.
 */
final class FaderBox
{
    public const NAME = 'Fader box';

    /** Faders are controllers from 1, on channel 1. */
    public const FADERS = 4;

    /** Buttons are notes from 0, on channel 1. */
    public const BUTTONS = 12;

    /** Seconds between two invitations while no session is on. */
    private const INVITES = 1.0;

    private const CLOCKS = 10.0;

    /** @var array{resource, resource}|null */
    private ?array $sockets = null;

    private readonly int $ssrc;

    private int $sequence;

    /** Source identifier of the engine while the session is on. */
    private ?int $engine = null;

    /** Whether both invitations were taken. */
    private bool $isOn = false;

    private float $heard = 0.0;

    /** @var array<int, int> where faders stand, 0 to 127, by number from 1 */
    private array $faders;

    /** @var array<int, int> what lamps show, 0 to 127, by number from 0 */
    private array $lamps;

    private readonly MidiStream $stream;

    public function __construct(private readonly LoopInterface $loop, private readonly int $port)
    {
        $this->ssrc = random_int(1, 0xFFFFFFFF);
        $this->sequence = random_int(0, 0xFFFF);
        $this->faders = array_fill(1, self::FADERS, 0);
        $this->lamps = array_fill(0, self::BUTTONS, 0);
        $this->stream = new MidiStream();
        if ($port <= 0) {
            return;
        }
        $open = static function (int $to) {
            $socket = stream_socket_client("udp://127.0.0.1:$to");
            $socket === false || stream_set_blocking($socket, false);

            return $socket;
        };
        [$session, $data] = [$open($port), $open($port + 1)];
        if ($session === false || $data === false) {
            return;
        }
        $this->sockets = [$session, $data];
        foreach ($this->sockets as $n => $socket) {
            $loop->addReadStream($socket, function () use ($n): void {
                $this->read($n);
            });
        }
        $loop->addPeriodicTimer(self::INVITES, function (): void {
            $this->keepUp();
        });
        $loop->addPeriodicTimer(self::CLOCKS, function (): void {
            $this->engine === null || $this->send(0, RtpMidi::clockPacket($this->ssrc, 0, [$this->ticks(), 0, 0]));
        });
        $this->keepUp();
    }

    /** Invites the engine while it has not come, or is not heard any more. */
    private function keepUp(): void
    {
        if ($this->isOn && microtime(true) - $this->heard < 2.5 * self::CLOCKS) {
            return;
        }
        [$this->engine, $this->isOn] = [null, false];
        $this->send(0, RtpMidi::sessionPacket('IN', 1, $this->ssrc, self::NAME));
    }

    private function read(int $n): void
    {
        while (
            ($packet = $this->sockets === null ? false : @fread($this->sockets[$n], 65_536)) !== false &&
            $packet !== ''
        ) {
            try {
                $session = RtpMidi::session($packet);
                if ($session === null) {
                    $this->take(RtpMidi::decode($packet)['bytes']);
                } elseif ($session['command'] === 'OK') {
                    $this->heard = microtime(true);
                    $this->engine = $session['ssrc'];
                    if ($n === 0) {
                        $this->send(1, RtpMidi::sessionPacket('IN', 1, $this->ssrc, self::NAME));
                    } else {
                        $this->isOn = true;
                        $this->send(0, RtpMidi::clockPacket($this->ssrc, 0, [$this->ticks(), 0, 0]));
                    }
                } elseif ($session['command'] === 'CK') {
                    $this->heard = microtime(true);
                    $session['count'] === 1 &&
                        $this->send(
                            0,
                            RtpMidi::clockPacket($this->ssrc, 2, [
                                $session['times'][0],
                                $session['times'][1],
                                $this->ticks(),
                            ]),
                        );
                } elseif ($session['command'] === 'BY') {
                    [$this->engine, $this->isOn] = [null, false];
                }
            } catch (Malformed) {
                continue;
            }
        }
    }

    /** What the engine shows: lamps and motors. */
    private function take(string $bytes): void
    {
        foreach ($this->stream->read($bytes) as $message) {
            if ($message[0] === 0xB0 && isset($this->faders[$message[1]])) {
                $this->faders[$message[1]] = $message[2];
            } elseif ($message[0] === 0x90 && isset($this->lamps[$message[1]])) {
                $this->lamps[$message[1]] = $message[2];
            }
        }
    }

    /**
     * Somebody moves a fader or presses a button on its page.
     *
     * @param  string  $control  fader or button
     * @param  int  $number  of a fader from 1, of a button from 0
     * @param  int  $value  0 to 127
     * @return bool whether there is such a thing
     */
    public function move(string $control, int $number, int $value): bool
    {
        if ($value < 0 || $value > 127) {
            return false;
        }
        if ($control === 'fader' && isset($this->faders[$number])) {
            $this->faders[$number] = $value;
            $this->midi(pack('C3', 0xB0, $number, $value));

            return true;
        }
        if ($control === 'button' && isset($this->lamps[$number])) {
            $this->midi(pack('C3', 0x90, $number, $value));

            return true;
        }

        return false;
    }

    private function midi(string $command): void
    {
        $this->isOn && $this->send(1, RtpMidi::encode(++$this->sequence, $this->ticks(), $this->ssrc, [$command]));
    }

    /** @return array{on: bool, faders: list<int>, lamps: list<int>} */
    public function state(): array
    {
        return [
            'on' => $this->isOn,
            'faders' => array_values($this->faders),
            'lamps' => array_values($this->lamps),
        ];
    }

    private function ticks(): int
    {
        return (int) ((hrtime(true) / 1e9) * RtpMidi::RATE);
    }

    private function send(int $n, string $packet): void
    {
        $this->sockets === null || @fwrite($this->sockets[$n], $packet);
    }
}

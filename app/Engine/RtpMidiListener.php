<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\Interval;
use Core\Bindings\ControlEvent;
use Core\Bindings\MidiControls;
use Core\Protocol\Malformed;
use Core\Protocol\RtpMidi;
use Core\Units\Flicks;
use React\EventLoop\LoopInterface;
use React\EventLoop\TimerInterface;

/**
 * MIDI over the network: takes invitations to sessions on two UDP ports and invites others, keeps their clocks, and
 * hears what their devices send. Packets that were lost on the way are counted and told.
 */
final class RtpMidiListener implements ControlSource, SendsMidi
{
    private const MAX_SESSIONS = 16;

    /** Packets read in one turn of the loop. */
    private const A_TURN = 64;

    private const NAME = 'Kite Lamp';

    /** After which an invitation without an answer is sent again, in flicks: 3 s. */
    private const PATIENCE = 3 * Flicks::PER_SECOND;

    /** Between two exchanges of clocks with who was invited, in flicks: 10 s. */
    private const CLOCKS = 10 * Flicks::PER_SECOND;

    private int $packets = 0;

    private int $bad = 0;

    private int $lost = 0;

    private readonly RecentMessages $last;

    /** @var array{resource, resource}|null for sessions and for data */
    private ?array $sockets = null;

    /**
     * @var array<int, array{name: string, control: string, data: string, device: MidiDevice, sequence: int|null, heard: int, fed: int|null, invited: string, clocked: int|null}>
     *     by the other's source identifier; the address that was invited, where it was, and when its clock was asked last
     */
    private array $sessions = [];

    /** @var array<string, array{token: int, at: int|null, ssrc: int|null}> invitations that are not taken yet, by address */
    private array $invitations = [];

    private int $sequence = 0;

    private readonly int $ssrc;

    private ?TimerInterface $timer = null;

    /** @var (\Closure(ControlEvent): ?string)|null */
    private ?\Closure $onEvent = null;

    /**
     * @param  string  $host  on which it listens
     * @param  int  $port  for sessions; the next one is for data
     * @param  \Closure(string, string, ControlSource): void  $onFound  a device has come
     * @param  \Closure(string, string): void  $onLost  a device has gone
     * @param  string|null  $kept  file in which sessions outlive this process, so that its successor goes on with them
     *     before the other end notices
     * @param  string  $name  by which others know it
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly string $host,
        private readonly int $port,
        private readonly Guard $guard,
        private readonly Clock $clock,
        private readonly \Closure $onFound,
        private readonly \Closure $onLost,
        private readonly ?string $kept = null,
        private readonly string $name = self::NAME,
    ) {
        $this->last = new RecentMessages();
        $before = $kept === null || ! is_file($kept) ? [] : (array) json_decode((string) file_get_contents($kept), true);
        $this->ssrc = is_int($before['ssrc'] ?? null) ? $before['ssrc'] : random_int(1, 0xFFFFFFFF);
        foreach ((array) ($before['sessions'] ?? []) as $ssrc => $session) {
            if (is_array($session) && count($this->sessions) < self::MAX_SESSIONS) {
                $name = (string) ($session['name'] ?? '');
                // What it sends now is what somebody does: it has stood there all the time.
                $this->sessions[(int) $ssrc] = $this->begun(
                    new MidiDevice($name),
                    $name,
                    (string) ($session['control'] ?? ''),
                    (string) ($session['data'] ?? ''),
                    (string) ($session['invited'] ?? ''),
                );
            }
        }
    }

    /**
     * A session that nothing was heard in yet.
     *
     * @param  string  $data  address; empty until it is known
     * @param  string  $invited  the address that was invited, where it was
     * @return array{name: string, control: string, data: string, device: MidiDevice, sequence: null, heard: int, fed: null, invited: string, clocked: null}
     */
    private function begun(
        MidiDevice $device,
        string $name,
        string $control,
        string $data = '',
        string $invited = '',
    ): array {
        return [
            'name' => $name,
            'control' => $control,
            'data' => $data,
            'device' => $device,
            'sequence' => null,
            'heard' => $this->clock->now(),
            'fed' => null,
            'invited' => $invited,
            'clocked' => null,
        ];
    }

    /**
     * @param  int|null  $at  when it was sent last; null for never
     * @return array{token: int, at: int|null, ssrc: null}
     */
    private static function invitation(?int $at): array
    {
        return ['token' => random_int(1, 0xFFFFFFFF), 'at' => $at, 'ssrc' => null];
    }

    /**
     * Has sessions with these, and with no others that were invited before. Who does not answer is asked again.
     *
     * @param  list<string>  $addresses  IP address and port of the session's control
     */
    public function invite(array $addresses): void
    {
        foreach ($this->sessions as $ssrc => $session) {
            if ($session['invited'] !== '' && ! in_array($session['invited'], $addresses, true)) {
                $this->send(0, $session['control'], RtpMidi::sessionPacket('BY', 0, $this->ssrc));
                $this->end($ssrc);
            }
        }
        $this->invitations = array_intersect_key($this->invitations, array_flip($addresses));
        $there = array_column($this->sessions, 'invited');
        foreach ($addresses as $address) {
            if (! in_array($address, $there, true)) {
                $this->invitations[$address] ??= self::invitation(null);
            }
        }
        $this->askAgain();
    }

    /** Sends invitations that were not answered for a while. */
    private function askAgain(): void
    {
        $now = $this->clock->now();
        foreach ($this->sockets === null ? [] : $this->invitations as $address => $one) {
            if ($one['at'] === null || $now - $one['at'] >= self::PATIENCE) {
                $this->invitations[$address] = ['at' => $now, 'ssrc' => null] + $one;
                $this->send(
                    0,
                    (string) $address,
                    RtpMidi::sessionPacket('IN', $one['token'], $this->ssrc, $this->name),
                );
            }
        }
    }

    /**
     * An answer to an invitation of ours: first for the session, then for its data.
     *
     * @param  array{command: string, token: int, ssrc: int, name: string, count: int, times: array{int, int, int}, sequence: int}  $answer
     */
    private function answered(int $n, array $answer, string $from): void
    {
        foreach ($this->invitations as $address => $one) {
            $data = self::next((string) $address);
            if ($one['token'] !== $answer['token'] || $from !== ($n === 0 ? (string) $address : $data)) {
                continue;
            }
            if ($answer['command'] === 'NO') {
                $this->last->add($from, $answer['name'], 'It takes no session at present.');
            } elseif ($n === 0) {
                $this->invitations[$address]['ssrc'] = $answer['ssrc'];
                $this->send(1, $data, RtpMidi::sessionPacket('IN', $one['token'], $this->ssrc, $this->name));
            } elseif ($one['ssrc'] === $answer['ssrc']) {
                unset($this->invitations[$address]);
                $name = $answer['name'] !== '' ? mb_substr($answer['name'], 0, 60) : (string) $address;
                $this->sessions[$answer['ssrc']] = $this->begun(
                    new MidiDevice($name, $this->clock->now()),
                    $name,
                    (string) $address,
                    $data,
                    (string) $address,
                );
                $this->keep();
                $this->askClocks();
                ($this->onFound)('midi', $name, $this);
            }

            return;
        }
    }

    /** The port after one, where data go. */
    private static function next(string $address): string
    {
        $at = (int) strrpos($address, ':');

        return substr($address, 0, $at + 1).((int) substr($address, $at + 1) + 1);
    }

    /** Who invited begins each exchange of clocks. */
    private function askClocks(): void
    {
        $now = $this->clock->now();
        foreach ($this->sessions as $ssrc => $session) {
            if (
                $session['invited'] !== '' &&
                ($session['clocked'] === null || $now - $session['clocked'] >= self::CLOCKS)
            ) {
                $this->sessions[$ssrc]['clocked'] = $now;
                $this->send(1, $session['data'], RtpMidi::clockPacket($this->ssrc, 0, [$this->ticks(), 0, 0]));
            }
        }
    }

    /** Writes which sessions there are; without it they begin anew with the next process. */
    private function keep(): void
    {
        if ($this->kept === null) {
            return;
        }
        $sessions = array_map(
            static fn (array $session): array => array_intersect_key($session, [
                'name' => 0,
                'control' => 0,
                'data' => 0,
                'invited' => 0,
            ]),
            $this->sessions,
        );
        @file_put_contents(
            "$this->kept.new",
            Wire::encode(['ssrc' => $this->ssrc, 'sessions' => (object) $sessions]),
        ) && @rename("$this->kept.new", $this->kept);
    }

    public function name(): string
    {
        return 'rtp-midi';
    }

    public function start(\Closure $onEvent): void
    {
        $this->onEvent = $onEvent;
        $open = fn (int $port): mixed => stream_socket_server(
            "udp://$this->host:$port",
            $code,
            $error,
            STREAM_SERVER_BIND,
        ) ?:
        throw new \RuntimeException("RTP-MIDI can't listen on $this->host:$port: $error.");
        $this->sockets = [$open($this->port), $open($this->port + 1)];
        foreach ($this->sockets as $n => $socket) {
            stream_set_blocking($socket, false);
            $this->loop->addReadStream($socket, $this->guard->around('rtp-midi', fn () => $this->read($n)));
        }
        foreach ($this->sessions as $session) {
            ($this->onFound)('midi', $session['name'], $this);
        }
        $this->askAgain();
        $this->timer = $this->loop->addPeriodicTimer(
            1.0,
            $this->guard->around('rtp-midi', function (): void {
                $this->everySecond();
            }),
        );
    }

    public function stop(): void
    {
        foreach ($this->sessions as $ssrc => $session) {
            $this->send(0, $session['control'], RtpMidi::sessionPacket('BY', 0, $this->ssrc));
            $this->end($ssrc);
        }
        foreach ($this->sockets ?? [] as $socket) {
            $this->loop->removeReadStream($socket);
            fclose($socket);
        }
        $this->timer === null || $this->loop->cancelTimer($this->timer);
        [$this->sockets, $this->onEvent, $this->timer] = [null, null, null];
    }

    private function read(int $n): void
    {
        for ($i = 0; $i < self::A_TURN; $i++) {
            $packet = $this->sockets === null ? false : stream_socket_recvfrom($this->sockets[$n], 65_536, 0, $from);
            if ($packet === false || $from === null || $from === '') {
                return;
            }
            try {
                $session = RtpMidi::session($packet);
                $session === null ? $this->midi($packet, $from) : $this->session($n, $session, $from);
            } catch (Malformed $malformed) {
                $this->bad++;
                $this->last->add($from, strlen($packet).' bytes', $malformed->getMessage());
            }
        }
    }

    /** @param  array{command: string, token: int, ssrc: int, name: string, count: int, times: array{int, int, int}, sequence: int}  $session */
    private function session(int $n, array $session, string $from): void
    {
        $ssrc = $session['ssrc'];
        switch ($session['command']) {
            case 'IN':
                if ($n === 0 && ! isset($this->sessions[$ssrc]) && count($this->sessions) >= self::MAX_SESSIONS) {
                    $this->send($n, $from, RtpMidi::sessionPacket('NO', $session['token'], $this->ssrc));
                    $this->last->add($from, $session['name'], 'There are '.self::MAX_SESSIONS.' sessions already.');

                    return;
                }
                if ($n === 0) {
                    $name = $session['name'] !== '' ? mb_substr($session['name'], 0, 60) : $from;
                    $this->sessions[$ssrc] = $this->begun(new MidiDevice($name, $this->clock->now()), $name, $from);
                } elseif (isset($this->sessions[$ssrc])) {
                    $this->sessions[$ssrc]['data'] = $from;
                    $this->keep();
                    ($this->onFound)('midi', $this->sessions[$ssrc]['name'], $this);
                } else {
                    $this->send($n, $from, RtpMidi::sessionPacket('NO', $session['token'], $this->ssrc));

                    return;
                }
                $this->send($n, $from, RtpMidi::sessionPacket('OK', $session['token'], $this->ssrc, $this->name));
                break;
            case 'OK':
            case 'NO':
                $this->answered($n, $session, $from);
                break;
            case 'BY':
                $this->end($ssrc);
                break;
            case 'CK':
                if (isset($this->sessions[$ssrc])) {
                    $this->sessions[$ssrc]['heard'] = $this->clock->now();
                    if ($session['count'] === 0) {
                        $this->send(
                            $n,
                            $from,
                            RtpMidi::clockPacket($this->ssrc, 1, [$session['times'][0], $this->ticks(), 0]),
                        );
                    } elseif ($session['count'] === 1) {
                        [$first, $second] = $session['times'];
                        $this->send($n, $from, RtpMidi::clockPacket($this->ssrc, 2, [$first, $second, $this->ticks()]));
                    }
                }
                break;
        }
    }

    private function midi(string $packet, string $from): void
    {
        $midi = RtpMidi::decode($packet);
        $session = $this->sessions[$midi['ssrc']] ?? null;
        if ($session === null || $session['data'] !== $from) {
            throw new Malformed('MIDI of nobody who was invited.');
        }
        $this->packets++;
        $last = $session['sequence'];
        $ahead = $last === null ? 1 : ($midi['sequence'] - $last) & 0xFFFF;
        // What comes twice, or late, was done already.
        if ($ahead === 0 || $ahead >= 0x8000) {
            return;
        }
        if ($ahead > 1) {
            $this->lost += $ahead - 1;
            $this->last->add($from, $session['name'], $ahead - 1 .' packets were lost on the way.');
        }
        $this->sessions[$midi['ssrc']] = ['sequence' => $midi['sequence'], 'heard' => $this->clock->now()] + $session;
        foreach ($session['device']->read($midi['bytes'], $this->clock->now()) as $event) {
            $fault = null;
            try {
                $fault = $this->onEvent === null ? null : ($this->onEvent)($event);
            } finally {
                $this->last->add($session['name'], trim("$event->control ".json_encode($event->raw)), $fault);
            }
        }
    }

    /** Tells senders what came, and gives up sessions that are not heard any more. */
    private function everySecond(): void
    {
        $this->askAgain();
        $this->askClocks();
        $silent = $this->clock->now() - Flicks::fromSeconds(Interval::SilentSession->seconds());
        foreach ($this->sessions as $ssrc => $session) {
            if ($session['heard'] < $silent) {
                $this->send(0, $session['control'], RtpMidi::sessionPacket('BY', 0, $this->ssrc));
                $this->end($ssrc);
            } elseif ($session['sequence'] !== null && $session['sequence'] !== $session['fed']) {
                $this->sessions[$ssrc]['fed'] = $session['sequence'];
                $this->send(0, $session['control'], RtpMidi::receiverFeedback($this->ssrc, $session['sequence']));
            }
        }
    }

    private function end(int $ssrc): void
    {
        if (isset($this->sessions[$ssrc])) {
            ['name' => $name, 'invited' => $invited] = $this->sessions[$ssrc];
            if ($invited !== '') {
                // It is asked again, in a while.
                $this->invitations[$invited] = self::invitation($this->clock->now());
            }
            unset($this->sessions[$ssrc]);
            $this->keep();
            ($this->onLost)('midi', $name);
        }
    }

    public function feedback(string $control, array $state, string $device = ''): void
    {
        $bytes = MidiControls::feedbackOf($control, (float) ($state[0] ?? 0));
        // Each command of its own: all that MidiControls makes are of three bytes, but for two of two.
        $bytes === '' || $this->give(str_split($bytes, strlen($bytes) === 2 ? 2 : 3), $device);
    }

    public function sendMidi(string $message, string $device): void
    {
        $device === '' || $this->give([$message], $device);
    }

    /**
     * Sends commands to a device; to all where it has no name.
     *
     * @param  list<string>  $commands
     */
    private function give(array $commands, string $device): void
    {
        foreach ($this->sessions as $session) {
            if ($session['data'] !== '' && ($device === '' || $device === $session['name'])) {
                $this->send(
                    1,
                    $session['data'],
                    RtpMidi::encode(++$this->sequence, $this->ticks(), $this->ssrc, $commands),
                );
            }
        }
    }

    private function ticks(): int
    {
        return intdiv($this->clock->now(), intdiv(Flicks::PER_SECOND, RtpMidi::RATE));
    }

    private function send(int $n, string $to, string $packet): void
    {
        $this->sockets === null || @stream_socket_sendto($this->sockets[$n], $packet, 0, $to);
    }

    /** @return array{packets: int, bad: int, lost: int, sessions: list<string>, waiting: list<string>, last: list<array{at: int, from: string, text: string, fault: string|null}>} */
    public function health(): array
    {
        return [
            'packets' => $this->packets,
            'bad' => $this->bad,
            'lost' => $this->lost,
            'sessions' => array_values(array_column($this->sessions, 'name')),
            'waiting' => array_map(strval(...), array_keys($this->invitations)),
            'last' => $this->last->all(),
        ];
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Protocol\Malformed;
use Core\Protocol\PjLink;
use React\EventLoop\LoopInterface;
use React\EventLoop\TimerInterface;
use React\Socket\ConnectionInterface;
use React\Socket\Connector;

/**
 * One projector by PJLink: commands one after another, each answered before the next goes, on a connection that is made
 * when it is needed. What it says of itself is asked now and then.
 */
final class ProjectorLink
{
    /** Seconds for connecting, and for each answer. */
    private const TIMEOUT = 5.0;

    /** Seconds without anything to ask after which the connection is closed; the standard's is 30. */
    private const IDLE = 20.0;

    private const MAX_WAITING = 32;

    /** @var list<string> commands that wait, in their order */
    private array $queue = [];

    private ?ConnectionInterface $connection = null;

    private bool $isConnecting = false;

    /** The answer to the password, before the first command; null until the greeting came. */
    private ?string $prefix = null;

    /** The command that is not answered yet. */
    private ?string $asked = null;

    private string $buffer = '';

    private ?TimerInterface $timer = null;

    /** @var array{power: string|null, shut: bool|null, hours: list<int>, errors: array<string, string>, name: string, trouble: string, class: int, frozen: bool|null, input: string|null, inputs: list<string>, filter: int|null} */
    private array $state = [
        'power' => null,
        'shut' => null,
        'hours' => [],
        'errors' => [],
        'name' => '',
        'trouble' => '',
        'class' => 0,
        'frozen' => null,
        'input' => null,
        'inputs' => [],
        'filter' => null,
    ];

    private readonly Connector $connector;

    /** @param  string  $address  host, with a port where it is another than the standard's */
    public function __construct(
        private readonly LoopInterface $loop,
        public readonly string $address,
        public readonly string $password,
        private readonly Guard $guard,
    ) {
        $this->connector = new Connector(['timeout' => self::TIMEOUT], $loop);
    }

    /** @return array{power: string|null, shut: bool|null, hours: list<int>, errors: array<string, string>, name: string, trouble: string, class: int, frozen: bool|null, input: string|null, inputs: list<string>, filter: int|null} */
    public function state(): array
    {
        return $this->state;
    }

    /** Why it gives no light, or not what it is sent; null where it does, or that is not known yet. */
    public function dark(): ?string
    {
        ['power' => $power, 'shut' => $isShut, 'frozen' => $isFrozen, 'trouble' => $trouble] = $this->state;

        return match (true) {
            $power === 'off' => 'is off',
            $power === 'cooling' => 'cools down',
            $power === 'warming' => 'warms up',
            $power === 'on' && $isShut === true => 'has its shutter shut',
            $power === 'on' && $isFrozen === true => 'shows a frozen picture',
            $power === null && $trouble !== '' => 'does not answer: '.lcfirst(rtrim($trouble, '.')),
            default => null,
        };
    }

    /** Gives a command as soon as it may be given. One that switches takes the place of one before it that was not given yet. */
    public function send(string $command): void
    {
        $kind = substr($command, 0, 6);
        $this->queue = array_values(
            array_filter($this->queue, static fn (string $one): bool => substr($one, 0, 6) !== $kind),
        );
        if (! str_ends_with($command, "?\r")) {
            // What somebody wants goes before what is only asked.
            array_unshift($this->queue, $command);
        } elseif (count($this->queue) < self::MAX_WAITING) {
            $this->queue[] = $command;
        }
        $this->next();
    }

    /** Asks how it is. */
    public function poll(): void
    {
        foreach (
            [
                PjLink::power(null),
                PjLink::shutter(null),
                PjLink::input(null, max(1, $this->state['class'])),
                PjLink::ask('errors'),
                PjLink::ask('lamp'),
                ...$this->state['class'] === 2 ? [PjLink::freeze(null), PjLink::ask('filter')] : [],
            ] as $command
        ) {
            $this->send($command);
        }
        if ($this->state['class'] === 0) {
            foreach (['class', 'name', 'inputs'] as $once) {
                $this->send(PjLink::ask($once));
            }
        }
    }

    private function next(): void
    {
        if ($this->asked !== null || $this->queue === []) {
            return;
        }
        if ($this->connection === null) {
            $this->connect();
        } elseif ($this->prefix !== null) {
            $this->asked = array_shift($this->queue);
            $this->connection->write($this->prefix.$this->asked);
            $this->prefix = '';
            $this->wait(self::TIMEOUT, 'It does not answer.');
        }
    }

    private function connect(): void
    {
        if ($this->isConnecting) {
            return;
        }
        $this->isConnecting = true;
        $to = preg_match('/:\d+$/', $this->address) === 1 ? $this->address : "$this->address:".PjLink::PORT;
        $this->connector->connect("tcp://$to")->then(
            $this->guard->around('projector', function (ConnectionInterface $connection): void {
                $this->isConnecting = false;
                [$this->connection, $this->prefix, $this->buffer] = [$connection, null, ''];
                $connection->on('data', $this->guard->around('projector', $this->read(...)));
                $connection->on('error', static fn () => null);
                $connection->on(
                    'close',
                    $this->guard->around('projector', function () use ($connection): void {
                        $this->connection === $connection &&
                            $this->closed($this->asked === null ? '' : 'It closed the connection.');
                    }),
                );
                $this->wait(self::TIMEOUT, 'It does not greet.');
            }),
            $this->guard->around('projector', function (): void {
                $this->isConnecting = false;
                $this->closed("It can't be reached at $this->address.");
            }),
        );
    }

    private function read(string $bytes): void
    {
        $this->buffer .= $bytes;
        if (strlen($this->buffer) > PjLink::LONGEST) {
            $this->fail('It sends what is no answer.');

            return;
        }
        while (($end = strpos($this->buffer, "\r")) !== false) {
            $line = trim(substr($this->buffer, 0, $end));
            $this->buffer = substr($this->buffer, $end + 1);
            try {
                $this->prefix === null ? $this->greeted($line) : $this->answered($line);
            } catch (Malformed $malformed) {
                $this->fail(ucfirst($malformed->getMessage()).'.');

                return;
            }
        }
    }

    private function greeted(string $line): void
    {
        $this->prefix = PjLink::authentication($line, $this->password);
        $this->next();
    }

    private function answered(string $line): void
    {
        $answer = PjLink::answer($line);
        if ($answer['command'] === '') {
            $this->fail((string) $answer['fault']);

            return;
        }
        if ($this->asked === null || substr($this->asked, 2, 4) !== $answer['command']) {
            // It answers what nobody asked: passed over.
            return;
        }
        $isQuestion = str_ends_with($this->asked, "?\r");
        if (! $isQuestion && $answer['fault'] === null) {
            // What it was told it will be; the next question tells when.
            str_contains($this->asked, 'AVMT') && ($this->state['shut'] = str_contains($this->asked, '31'));
            str_contains($this->asked, 'FREZ') && ($this->state['frozen'] = str_contains($this->asked, 'FREZ 1'));
            $this->queue[] = substr($this->asked, 0, 6)." ?\r";
        }
        // While it warms up or cools down, it can't do some things: that is no trouble of the link.
        $this->state['trouble'] = $isQuestion || $answer['fault'] === null ? '' : $answer['fault'];
        $this->state = array_merge($this->state, array_intersect_key($answer, $this->state));
        $this->asked = null;
        $this->wait(self::IDLE, null);
        $this->next();
    }

    private function wait(float $seconds, ?string $fault): void
    {
        $this->timer === null || $this->loop->cancelTimer($this->timer);
        $this->timer = $this->loop->addTimer(
            $seconds,
            $this->guard->around('projector', function () use ($fault): void {
                $fault === null ? $this->close() : $this->fail($fault);
            }),
        );
    }

    private function fail(string $fault): void
    {
        $this->close();
        $this->closed($fault);
    }

    private function closed(string $fault): void
    {
        $this->timer === null || $this->loop->cancelTimer($this->timer);
        [$this->connection, $this->prefix, $this->asked, $this->timer, $this->buffer] = [null, null, null, null, ''];
        if ($fault !== '') {
            $this->state =
                ['power' => null, 'shut' => null, 'frozen' => null, 'input' => null, 'trouble' => $fault] +
                $this->state;
            // What is asked is asked again; what was wanted is not done late.
            $this->queue = [];
        }
        $this->next();
    }

    public function close(): void
    {
        [$connection, $this->connection] = [$this->connection, null];
        $connection?->close();
        $this->timer === null || $this->loop->cancelTimer($this->timer);
        [$this->prefix, $this->asked, $this->timer] = [null, null, null];
    }
}

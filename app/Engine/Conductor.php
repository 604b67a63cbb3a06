<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\DoorRules;
use App\Support\TicketOffice;
use Core\Playback\Chunk;
use Core\Playback\CueSheet;
use Core\Playback\Shelf;
use Core\Playback\Transport;
use Core\Units\Flicks;
use Core\Values\Property;
use Psr\Http\Message\RequestInterface;
use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;

/**
 * Owns the clock, the transport, the sockets, the live values and the journal, and tells everyone what is on. It never
 * loads a show: bakers do, one child process for each revision. Whatever comes in is answered or counted, never thrown.
 */
final class Conductor
{
    /** How far ahead of now a change takes effect, so that every player has it by then. */
    private const LEAD = 56_448_000;

    /** What is baked first after a jump: 150 ms. */
    private const FIRST = 105_840_000;

    /** How far ahead of the playhead is baked. */
    private const AHEAD = 2 * Flicks::PER_SECOND;

    private const LIVE_MOST = 10_000;

    private const REPORT_LASTS = 3 * Flicks::PER_SECOND;

    private EngineClock $clock;

    private Transport $transport;

    private CueSheet $sheet;

    private ?BakerProcess $current = null;

    private ?BakerProcess $coming = null;

    /** Whether something changed since the coming baker was started. */
    private bool $again = false;

    /** Whether the coming baker is baking already; until it has taken over, nobody else extends the bake. */
    private bool $crossing = false;

    private ?string $show = null;

    private int $base = 1;

    /** @var array<string, int> generations newer than the base, by lane name */
    private array $newer = [];

    private int $generation = 1;

    private int $bakedTo = 0;

    private bool $asking = false;

    /** @var array<string, float> */
    private array $live = [];

    /** @var list<string> surfaces that show the test card */
    private array $cards = [];

    /** @var array<string, true> lanes that changed since the last tick */
    private array $moved = [];

    /** @var array<int, list<string>> loose values to let go of when this revision is on */
    private array $release = [];

    /** @var array<string, array<string, mixed>> */
    private array $reports = [];

    private Lateness $lateness;

    private Lateness $busy;

    private float $worked = 0.0;

    private float $nextTick = 0.0;

    private bool $ran = false;

    private string $trouble = '';

    private int $crashes = 0;

    private readonly Shelf $shelf;

    private readonly Windows $windows;

    private readonly OscEar $osc;

    private readonly HttpDoor $door;

    private string $switch = '';

    private int $switchAt = 0;

    private int $serial = 0;

    /**
     * @param  array{live_port: int, osc_port: int, hosts: list<string>, run: string}  $config
     * @param  list<string>  $baker  the command that starts one
     */
    public function __construct(private readonly LoopInterface $loop, private readonly array $config, private readonly array $baker, private readonly TicketOffice $tickets, private readonly Journal $journal)
    {
        $this->shelf = new Shelf;
        $this->windows = new Windows;
        $this->lateness = new Lateness;
        $this->busy = new Lateness;
        $this->sheet = CueSheet::of(Flicks::PER_SECOND, Flicks::PER_SECOND);
        $this->takeUp();
        $this->door = new HttpDoor($loop, "127.0.0.1:{$config['live_port']}", new DoorRules($config['hosts']), $this->answer(...));
        $this->osc = new OscEar($loop, "127.0.0.1:{$config['osc_port']}", $this->heard(...));
        new ControlEar($loop, $config['run'].'/control.sock', $this->told(...));
        $this->startBaker();
        $this->nextTick = hrtime(true) / 1e6;
        $this->worked = self::worked();
        $loop->addPeriodicTimer(1 / 60, $this->tick(...));
        $loop->addPeriodicTimer(1.0, $this->everySecond(...));
    }

    /** Goes on where the conductor before this one ended. */
    private function takeUp(): void
    {
        $last = $this->journal->last();
        if ($last !== null && $last['boot'] === EngineClock::boot()) {
            $this->clock = new EngineClock((int) $last['origin']);
            $this->transport = Transport::fromArray($last['transport']);
        } else {
            $this->clock = EngineClock::starting();
            $this->transport = Transport::heldAt(0, (int) ($last['position'] ?? 0));
        }
        if ($last !== null) {
            $this->sheet = CueSheet::fromArray($last['sheet']);
            $this->live = array_map(floatval(...), $last['live']);
            $this->cards = array_values(array_filter((array) ($last['cards'] ?? []), is_string(...)));
            // Some generations may have been given after the last note.
            $this->generation = $this->base = (int) $last['generation'] + 1000;
            $this->show = $last['show'];
        }
        $this->note();
    }

    private function note(): void
    {
        $now = $this->clock->now();
        $this->journal->write([
            'boot' => EngineClock::boot(), 'origin' => $this->clock->origin, 'at' => $now, 'transport' => $this->transport->toArray(),
            'position' => $this->transport->positionAt($now, $this->sheet), 'sheet' => $this->sheet->toArray(), 'live' => $this->live, 'cards' => $this->cards,
            'generation' => $this->generation, 'show' => $this->show, 'revision' => $this->current->revision ?? 0,
        ]);
    }

    private function startBaker(): void
    {
        if ($this->coming !== null) {
            $this->again = true;

            return;
        }
        $this->again = false;
        $this->serial = ++$this->generation;
        $this->coming = new BakerProcess($this->loop, [...$this->baker, (string) $this->serial], $this->serial, $this->compiled(...), $this->baked(...), $this->bakerEnded(...));
    }

    /** A baker has compiled its revision: it bakes past the playhead, then takes over. */
    private function compiled(BakerProcess $baker): void
    {
        $this->trouble = '';
        $this->crashes = 0;
        $sheet = CueSheet::fromArray($baker->sheet);
        $now = $this->clock->now();
        if ($this->current === null || $baker->show !== $this->show) {
            if ($this->show !== null && $baker->show !== $this->show) {
                $this->transport = Transport::heldAt($now, 0);
                $this->live = [];
                $this->cards = [];
            }
            $this->show = $baker->show;
        }
        $this->crossing = true;
        $this->windows->tell(Frames::pack(Frames::PLAN, $baker->plan));
        $this->bakeAnew($baker, $sheet, $now + self::LEAD, function (int $from) use ($baker, $sheet): void {
            $this->takeOver($baker, $sheet, $from);
        });
    }

    /** @param  \Closure(int): void  $then with the engine time from which on it is baked */
    private function bakeAnew(BakerProcess $baker, CueSheet $sheet, int $from, \Closure $then): void
    {
        $this->base = ++$this->generation;
        $this->newer = [];
        $transport = $this->transport;
        $base = $this->base;
        $to = $this->onGrid($transport, $sheet, $from + self::FIRST);
        $baker->ask($this->request($transport, $from, $to, null), function () use ($baker, $sheet, $from, $then, $base): void {
            if ($base !== $this->base && $baker === $this->coming) {
                // The transport changed meanwhile.
                $this->bakeAnew($baker, $sheet, $this->clock->now() + self::LEAD, $then);

                return;
            }
            $then($from);
        });
        $this->bakedTo = $transport->playing && $to < $transport->restsAt($sheet) ? $to : Chunk::OPEN_END;
    }

    private function takeOver(BakerProcess $baker, CueSheet $sheet, int $from): void
    {
        $at = max($from, $this->clock->now() + intdiv(self::LEAD, 2));
        $this->current?->end();
        $this->current = $baker;
        $this->coming = null;
        $this->crossing = false;
        $this->sheet = $sheet;
        $this->switchAt = $at;
        $this->switch = Frames::json(Frames::SWITCH, ['plan' => $baker->serial, 'revision' => $baker->revision, 'at' => $at]);
        $this->windows->tell($this->switch);
        foreach ($this->release as $revision => $lanes) {
            if ($revision <= $baker->revision) {
                unset($this->release[$revision]);
                $this->letGo($lanes);
            }
        }
        $this->asking = false;
        $this->note();
        $this->tellTransport();
        if ($this->again) {
            $this->startBaker();
        }
    }

    private function baked(BakerProcess $baker, string $chunk): void
    {
        $this->shelf->put($chunk);
        $this->windows->tell(Frames::pack(Frames::CHUNK, $chunk));
    }

    private function bakerEnded(BakerProcess $baker, string $last): void
    {
        $this->crashes++;
        $this->trouble = $last !== '' ? $last : 'The baker ended without a word.';
        if ($baker === $this->coming) {
            $this->coming = null;
            $this->crossing = false;
        } elseif ($baker === $this->current) {
            $this->current = null;
            $this->asking = false;
        }
        $this->loop->addTimer(min(5.0, 0.1 * 2 ** min(6, $this->crashes)), $this->startBaker(...));
    }

    /**
     * @param  list<string>|null  $only
     * @return array<string, mixed>
     */
    private function request(Transport $transport, int $from, int $to, ?array $only): array
    {
        return ['transport' => $transport->toArray(), 'from' => $from, 'to' => $to, 'live' => (object) $this->live, 'base' => $this->base, 'lanes' => (object) $this->newer, 'only' => $only];
    }

    private function onGrid(Transport $transport, CueSheet $sheet, int $engine): int
    {
        $step = $sheet->flicksPerFrame;

        return $transport->engine + (int) ceil(max(0, $engine - $transport->engine) / $step) * $step;
    }

    private function tick(): void
    {
        $at = hrtime(true) / 1e6;
        $this->lateness->note(max(0.0, $at - $this->nextTick));
        $this->nextTick = $at + 1000 / 60;
        $worked = self::worked();
        $this->busy->note($worked - $this->worked);
        $this->worked = $worked;
        $now = $this->clock->now();
        if ($this->moved !== [] && $this->current !== null && ! $this->crossing) {
            $lanes = array_keys($this->moved);
            $this->moved = [];
            $this->generation++;
            foreach ($lanes as $lane) {
                $this->newer[$lane] = $this->generation;
            }
            $this->current->ask($this->request($this->transport, $now + intdiv(self::LEAD, 2), min($this->bakedTo, $now + 2 * self::AHEAD), $lanes), static fn () => null);
            $this->note();
        }
        if ($this->current !== null && ! $this->crossing && ! $this->asking && $this->bakedTo < $now + self::AHEAD) {
            $this->asking = true;
            $from = max($this->bakedTo, $now);
            $to = $this->onGrid($this->transport, $this->sheet, $now + self::AHEAD + intdiv(Flicks::PER_SECOND, 2));
            $this->bakedTo = $to < $this->transport->restsAt($this->sheet) ? $to : Chunk::OPEN_END;
            $this->current->ask($this->request($this->transport, $from, $to, null), function (): void {
                $this->asking = false;
            });
        }
        $runs = $this->transport->runsAt($now, $this->sheet);
        if ($runs !== $this->ran) {
            $this->ran = $runs;
            $this->tellTransport();
        }
    }

    /** Processor time that this process has taken, in ms: what the loop is held by, whatever else the machine does. */
    private static function worked(): float
    {
        $usage = getrusage() ?: [];

        return (($usage['ru_utime.tv_sec'] ?? 0) + ($usage['ru_stime.tv_sec'] ?? 0)) * 1000 + (($usage['ru_utime.tv_usec'] ?? 0) + ($usage['ru_stime.tv_usec'] ?? 0)) / 1000;
    }

    private function everySecond(): void
    {
        $now = $this->clock->now();
        $this->shelf->clear($now, $now > $this->switchAt ? $this->current?->serial : null);
        foreach ($this->reports as $player => $report) {
            if ($report['heard'] < $now - self::REPORT_LASTS) {
                unset($this->reports[$player]);
            }
        }
        if ($this->transport->runsAt($now, $this->sheet)) {
            $this->note();
        }
        $this->windows->tell(Frames::json(Frames::HEALTH, $this->health()));
    }

    /** @return array<string, mixed> */
    private function health(): array
    {
        return [
            'engine' => $this->clock->now(), 'lateness' => $this->lateness->figures(), 'busy' => $this->busy->figures(), 'windows' => $this->windows->count(), 'dropped' => $this->windows->dropped,
            'refused' => $this->door->bad, 'osc' => $this->osc->figures() + ['port' => $this->config['osc_port']], 'players' => array_values($this->reports),
            'baker' => ['pid' => $this->current?->pid(), 'revision' => $this->current?->revision, 'coming' => $this->coming !== null, 'trouble' => $this->trouble],
            'generation' => $this->base, 'pid' => getmypid(), 'memory' => memory_get_usage(true),
        ];
    }

    /** @return array<string, mixed> */
    private function transportNow(): array
    {
        $now = $this->clock->now();

        return [
            'transport' => $this->transport->toArray(), 'engine' => $now, 'running' => $this->transport->runsAt($now, $this->sheet),
            'position' => $this->transport->positionAt($now, $this->sheet), 'rest' => $this->transport->playing ? $this->sheet->restAfter($this->transport->position) : $this->transport->position,
            'waiting' => $this->transport->waitsAt($now, $this->sheet), 'next' => $this->transport->nextCue($now, $this->sheet), 'duration' => $this->sheet->duration,
        ];
    }

    private function tellTransport(): void
    {
        $this->windows->tell(Frames::json(Frames::TRANSPORT, $this->transportNow()));
    }

    private function tellLive(): void
    {
        $this->windows->tell(Frames::json(Frames::LIVE, ['values' => (object) $this->live, 'cards' => $this->cards]));
    }

    /** @param  array<string, mixed>  $command */
    private function command(array $command): ?string
    {
        $do = $command['do'] ?? null;
        if ($do === 'live') {
            return $this->setLive((array) ($command['values'] ?? []));
        }
        if ($do === 'identify') {
            $this->windows->tell(Frames::json(Frames::IDENTIFY, ['output' => (string) ($command['output'] ?? ''), 'until' => $this->clock->now() + 4 * Flicks::PER_SECOND]));

            return null;
        }
        if ($do === 'cards') {
            return $this->setCards($command['surfaces'] ?? null);
        }
        $at = $this->clock->now() + self::LEAD;
        if ($do === 'jump') {
            $to = $command['cue'] ?? null;
            $time = is_string($to) ? $this->sheet->named($to) : ($command['time'] ?? null);
            if (! is_int($time) && ! is_float($time)) {
                return is_string($to) ? "There is no cue \"$to\"." : 'A jump needs a time in flicks or the name of a cue.';
            }
            $next = $this->transport->jump($at, (int) max(0, min(Flicks::MOST, is_nan((float) $time) ? 0 : $time)), $this->sheet);
        } else {
            $next = match ($do) {
                'play' => $this->transport->play($at, $this->sheet),
                'hold' => $this->transport->hold($at, $this->sheet),
                'go' => $this->transport->go($at, $this->sheet),
                default => null,
            };
        }
        if ($next === null) {
            return 'There is no command of this name; there are play, hold, go, jump, live, cards and identify.';
        }
        if ($next === $this->transport) {
            return null;
        }
        $this->transport = $next;
        $this->note();
        if ($this->current !== null) {
            $this->asking = false;
            $this->bakeAnew($this->current, $this->sheet, $at, static fn () => null);
        }
        $this->tellTransport();

        return null;
    }

    /** Surfaces that show the test card over whatever plays, until told otherwise. */
    private function setCards(mixed $surfaces): ?string
    {
        if (! is_array($surfaces) || ! array_is_list($surfaces) || count($surfaces) > self::LIVE_MOST || array_filter($surfaces, static fn (mixed $s): bool => ! is_string($s) || preg_match('/^[0-9a-z]{26}$/', $s) !== 1) !== []) {
            return 'Test cards are shown on a list of surfaces, by their ids.';
        }
        $this->cards = array_values(array_unique($surfaces));
        $this->tellLive();

        return null;
    }

    /** @param  array<mixed>  $values by lane name; null lets go */
    private function setLive(array $values): ?string
    {
        foreach ($values as $lane => $value) {
            if (($value !== null && ! is_int($value) && ! (is_float($value) && is_finite($value))) || preg_match('#^(master|[0-9a-z]{26}/[a-z]+)$#i', (string) $lane) !== 1) {
                return 'A live value is a number for a lane, or null to let go.';
            }
        }
        if (count($this->live) + count($values) > self::LIVE_MOST) {
            return 'There are '.self::LIVE_MOST.' loose values already.';
        }
        foreach ($values as $lane => $value) {
            if ($value === null) {
                unset($this->live[$lane]);
            } else {
                $this->live[(string) $lane] = self::within((string) $lane, (float) $value);
            }
            $this->moved[(string) $lane] = true;
        }
        $this->tellLive();

        return null;
    }

    /** A value set by hand, brought into the range of what it sets. */
    private static function within(string $lane, float $value): float
    {
        if ($lane === 'master') {
            return max(0.0, min(1.0, $value));
        }
        $property = Property::ofLayer()[explode('/', $lane)[1] ?? ''] ?? null;

        return $property === null ? $value : $property->clamp($value);
    }

    /** @param  list<string>  $lanes */
    private function letGo(array $lanes): void
    {
        $this->setLive(array_fill_keys($lanes, null));
    }

    /**
     * An OSC message for us.
     *
     * @param  list<int|float|string|bool|null>  $arguments
     * @return string|null what is wrong with it
     */
    private function heard(string $address, array $arguments): ?string
    {
        $first = $arguments[0] ?? null;

        return match ($address) {
            '/kite/play', '/kite/hold', '/kite/go' => $this->command(['do' => substr($address, 6)]),
            '/kite/jump' => match (true) {
                is_string($first) => $this->command(['do' => 'jump', 'cue' => $first]),
                (is_int($first) || is_float($first)) && is_finite((float) $first) && $first >= 0 && $first < 1e9 => $this->command(['do' => 'jump', 'time' => Flicks::fromSeconds((float) min($first, 3e8))]),
                default => '/kite/jump needs seconds or the name of a cue.',
            },
            default => "Nothing listens to $address.",
        };
    }

    /**
     * Something from the web app or the worker.
     *
     * @param  array<string, mixed>  $message
     * @return array<string, mixed>|null an answer, if one is wanted
     */
    private function told(array $message): ?array
    {
        if (isset($message['ask'])) {
            return $this->transportNow() + ['live' => (object) $this->live, 'players' => array_values($this->reports), 'show' => $this->show, 'revision' => $this->current?->revision];
        }
        switch ($message['tell'] ?? null) {
            case 'revision':
                $this->windows->tell(Frames::json(Frames::REVISION, array_diff_key($message, ['tell' => 0, 'release' => 0])));
                if ($message['show'] === $this->show || $this->show === null) {
                    $this->startBaker();
                }
                break;
            case 'release':
                $revision = (int) $message['revision'];
                if (($this->current->revision ?? 0) >= $revision) {
                    $this->letGo($message['lanes']);
                } else {
                    $this->release[$revision] = [...($this->release[$revision] ?? []), ...$message['lanes']];
                }
                break;
            case 'engaged':
                $this->coming?->end();
                $this->coming = null;
                $this->crossing = false;
                $this->startBaker();
                break;
            case 'file':
                $this->windows->tell(Frames::json(Frames::FILE, $message['file']));
                if (($message['file']['state'] ?? '') === 'ready') {
                    $this->startBaker();
                }
                break;
        }

        return null;
    }

    /** @return array{int, array<string, mixed>}|null */
    private function answer(RequestInterface $request, string $body, ConnectionInterface $connection): ?array
    {
        $path = $request->getMethod().' '.$request->getUri()->getPath();
        if ($path === 'GET /live/clock') {
            return [200, ['t' => $this->clock->now()]];
        }
        $person = $this->tickets->person((string) preg_replace('/^Bearer /', '', $request->getHeaderLine('Authorization')), time());
        if ($person === null) {
            return [401, ['detail' => 'A ticket is needed here, and this is no good one.']];
        }
        switch ($path) {
            case 'GET /live/stream':
                $this->windows->add($connection, $this->greeting());

                return null;
            case 'GET /live/state':
                return [200, $this->transportNow() + $this->health() + ['live' => (object) $this->live, 'cards' => $this->cards]];
            case 'POST /live/command':
                $command = json_decode($body, true);
                $wrong = is_array($command) ? $this->command($command) : 'The body is no JSON object.';

                return $wrong === null ? [200, $this->transportNow()] : [422, ['detail' => $wrong]];
            case 'POST /live/report':
                $report = json_decode($body, true);
                if (! is_array($report) || ! is_string($report['player'] ?? null) || strlen($report['player']) > 64 || count($this->reports) > 500) {
                    return [422, ['detail' => 'A report names its player.']];
                }
                $this->reports[$report['player']] = ['heard' => $this->clock->now()] + $report;

                return [200, ['ok' => true]];
            default:
                return [404, ['detail' => 'There is nothing at this address.']];
        }
    }

    /** @return list<string> what a window that has just come has to know */
    private function greeting(): array
    {
        $this->shelf->clear($this->clock->now());
        $first = [Frames::json(Frames::HELLO, ['engine' => $this->clock->now(), 'clock' => EngineClock::boot().'/'.$this->clock->origin, 'show' => $this->show, 'revision' => $this->current?->revision])];
        foreach ([$this->current, $this->coming] as $baker) {
            if ($baker !== null && $baker->ready) {
                $first[] = Frames::pack(Frames::PLAN, $baker->plan);
            }
        }
        foreach ($this->shelf->chunks() as $chunk) {
            $first[] = Frames::pack(Frames::CHUNK, $chunk);
        }
        if ($this->switch !== '') {
            $first[] = $this->switch;
        }
        array_push($first, Frames::json(Frames::TRANSPORT, $this->transportNow()), Frames::json(Frames::LIVE, ['values' => (object) $this->live, 'cards' => $this->cards]), Frames::json(Frames::HEALTH, $this->health()));

        return $first;
    }
}

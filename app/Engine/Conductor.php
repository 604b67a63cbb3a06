<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\Interval;
use App\Support\RequestRules;
use App\Support\TicketOffice;
use Core\Bindings\Command;
use Core\Bindings\ControlEvent;
use Core\Bindings\Device;
use Core\Bindings\OscMessage;
use Core\Cues\Cue;
use Core\Protocol\PjLink;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Property;
use Psr\Http\Message\RequestInterface;
use React\EventLoop\LoopInterface;
use React\EventLoop\TimerInterface;
use React\Socket\ConnectionInterface;

/**
 * Owns the clock, what is on air and what is looked at, the sockets and the journal, and tells everyone what is on.
 * It never loads a show: compilers do, one child process for each open one. Whatever comes in is answered or counted,
 * never thrown, and while nobody touches anything, nothing but clock and health is sent.
 */
final class Conductor
{
    private const LEAD = Performance::LEAD;

    /** The name of the clock that timelines follow which are locked to the time of day, of this machine's zone. */
    private const TIME_OF_DAY = 'Time of day';

    /** Between two beats, in flicks: 100 ms. */
    private const BEAT = 70_560_000;

    /**
     * Changes of one kind are told at most this often, in seconds: those that a later one supersedes are never sent.
     */
    private const PACE = 1 / 60;

    /** So far back is looked for what was missed between two conductors: 5 s. */
    private const MISSED = 5 * Flicks::PER_SECOND;

    private const REPORT_LASTS = 3 * Flicks::PER_SECOND;

    /** Tablets that are remembered as cut off: their tickets end after half a day. */
    private const MAX_REVOKED = 1000;

    /** Shows that windows have open besides the one on air, each with a compiler. */
    private const MAX_OPEN = 7;

    private Clock $clock;

    private ?Performance $air = null;

    private ?OpenShow $onAir = null;

    /** @var array<string, OpenShow> open shows that are not on air */
    private array $open = [];

    /** @var array<string, Performance> looks at shows that are not on air, by stream and show */
    private array $looks = [];

    private readonly Watches $watches;

    /** @var array<int, list<string>> loose values to let go of when this revision is on */
    private array $release = [];

    private readonly PlayerReports $reports;

    /** @var array<string, mixed>|null what the process for lights told of itself last */
    private ?array $lights = null;

    /** When the process that would take its place was heard last. */
    private ?int $standbyAt = null;

    private readonly LatencyStats $lateness;

    private readonly LatencyStats $busy;

    private float $worked = 0.0;

    private float $nextBeat = 0.0;

    private float $told = 0.0;

    private ?TimerInterface $telling = null;

    private ?TimerInterface $resting = null;

    /** Up to which engine time what starts by itself has been started. */
    private int $restedAt = 0;

    private DayCues $days;

    private readonly Guard $guard;

    /** @var \Closure(string): bool */
    private readonly \Closure $exists;

    private readonly Subscribers $subscribers;

    /** @var array<string, ControlSource> by name */
    private array $controls = [];

    private readonly ControlRouter $router;

    private readonly WindowControls $windows;

    private readonly SoundInput $sound;

    private readonly DmxControls $dmx;

    private readonly TouchControls $touch;

    private readonly HttpControls $requests;

    /** @var list<string> tablets that may not show their panel any more */
    private array $revoked = [];

    /** @var list<string> universes that devices of DMX are, as the process that hears them was told */
    private array $universes = [];

    private readonly Devices $devices;

    private readonly TimecodeSender $timecodeOut;

    /** @var list<TimecodeOut> nodes of Art-Net that are sent timecode */
    private array $timecodeNodes = [];

    /** MIDI over the network; null where it is not heard. */
    private ?RtpMidiListener $rtp = null;

    /** @var array{source: string, text: string, rate: string, at: int}|null timecode that came last */
    private ?array $timecode = null;

    /** Why MIDI over the network is not heard. */
    private string $rtpTrouble = '';

    /** @var array<int, int> windows that watch controls: up to which event they were told */
    private array $monitors = [];

    private readonly HttpServer $http;

    /**
     * @param  array{live_port: int, osc_port: int, rtp_port?: int, controls_interface?: string, pjlink_port?: int, hosts: list<string>, run: string}  $config
     * @param  \Closure(string, \Closure(int, string): void, \Closure(string): void, Guard): Compiler  $compiler  starts
     *     one for a show, '' for the one that is engaged
     * @param  (\Closure(): \DateTimeImmutable)|null  $wall  the time of day
     * @param  (\Closure(string): bool)|null  $exists  whether there is a show of an id; null where all are taken for
     *     there
     * @param  list<ControlSource>  $controls  where controls come from, besides OSC
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly array $config,
        private readonly \Closure $compiler,
        private readonly TicketOffice $tickets,
        private readonly ChangeLog $journal,
        ?Clock $clock = null,
        private readonly ?\Closure $wall = null,
        ?\Closure $exists = null,
        array $controls = [],
    ) {
        [$this->guard, $this->reports] = [new Guard(), new PlayerReports()];
        $this->exists = $exists ?? static fn (): bool => true;
        $this->subscribers = new Subscribers($this->onDisconnect(...));
        $this->watches = new Watches($this->askTrace(...), $this->subscribers->give(...));
        [$this->lateness, $this->busy] = [new LatencyStats(), new LatencyStats()];
        $this->takeUp($clock);
        $kept = json_decode((string) @file_get_contents($config['run'].'/revoked.json'), true);
        $this->revoked = array_values(array_filter((array) $kept, is_string(...)));
        $this->http = new HttpServer(
            $loop,
            "127.0.0.1:{$config['live_port']}",
            new RequestRules($config['hosts']),
            $this->guard,
            $this->answer(...),
        );
        $interface = $config['controls_interface'] ?? '127.0.0.1';
        $osc = new OscListener($loop, "$interface:{$config['osc_port']}", $this->guard, $this->clock);
        $this->router = new ControlRouter(
            $this->clock,
            $this->command(...),
            fn (string $address): ?float => $this->air?->held->looseAt($address),
            $this->askValues(...),
            $this->stateForLamps(...),
            function (float $seconds, \Closure $then): void {
                $this->loop->addTimer($seconds, $this->guard->around('bindings', $then));
            },
        );
        $this->devices = new Devices(
            $loop,
            $this->guard,
            searchPort: $config['pjlink_port'] ?? PjLink::PORT,
            midi: fn (string $bytes, string $device): bool => $this->router->sendMidi($bytes, $device),
        );
        $this->timecodeOut = new TimecodeSender(
            $loop,
            $this->guard,
            fn (): array => [...$this->router->timecodeDevices(), ...$this->timecodeNodes],
            fn (): ?array => $this->air?->decks->timecode($this->clock->now()),
        );
        $bound = fn (string $source): \Closure => fn (string $port): array => $this->router->boundOf($source, $port);
        [$found, $lost] = [$this->router->found(...), $this->router->lost(...)];
        $this->sound = new SoundInput(
            $this->clock,
            $this->guard,
            $bound('sound'),
            $this->router->devices(...),
            $found,
            $lost,
        );
        $this->dmx = new DmxControls($this->clock, $this->guard, $bound('dmx'), $found, $lost);
        $this->requests = new HttpControls($this->clock, $this->guard, $this->router->devices(...));
        $this->touch = new TouchControls($this->clock, $this->guard, $this->subscribers->give(...), $found, $lost);
        $this->windows = new WindowControls(
            $this->clock,
            $this->guard,
            $this->subscribers->give(...),
            $found,
            $lost,
            $this->sound,
            $this->touch,
        );
        foreach (
            [$osc, $this->windows, $this->sound, $this->touch, $this->dmx, $this->requests, ...$controls] as $source
        ) {
            $this->listenTo($source);
        }
        if (($config['rtp_port'] ?? 0) > 0) {
            try {
                $this->rtp = new RtpMidiListener(
                    $loop,
                    $interface,
                    $config['rtp_port'],
                    $this->guard,
                    $this->clock,
                    $found,
                    $lost,
                    $config['run'].'/midi-sessions.json',
                );
                $this->listenTo($this->rtp);
            } catch (\RuntimeException $taken) {
                // A show runs without it.
                $this->rtp = null;
                $this->rtpTrouble = $taken->getMessage();
            }
        }
        new ControlListener($loop, $config['run'].'/control.sock', $this->guard, $this->onControl(...));
        $this->onAir = $this->openShow('');
        $this->nextBeat = hrtime(true) / 1e6;
        $this->worked = self::worked();
        $loop->addPeriodicTimer(0.1, $this->guard->around('beat', $this->beat(...)));
        $loop->addPeriodicTimer(1.0, $this->guard->around('second', $this->everySecond(...)));
        $this->untilRest();
    }

    private function listenTo(ControlSource $source): void
    {
        $source->start(fn (ControlEvent $event): ?string => $this->onEvent($event, $source));
        $this->controls[$source->name()] = $source;
    }

    /**
     * What values are at, by the compiler.
     *
     * @param  list<string>  $addresses
     * @param  \Closure(array<string, float>): void  $then
     */
    private function askValues(array $addresses, \Closure $then): void
    {
        if ($this->onAir === null || $this->air === null) {
            $then([]);

            return;
        }
        $this->onAir->ask(
            ['values' => $addresses, 'state' => $this->air->glance($this->clock->now() + self::LEAD)],
            static fn (?array $answer) => $then((array) ($answer['values'] ?? [])),
        );
    }

    /** @return array<string, mixed> what lamps of controls show */
    private function stateForLamps(): array
    {
        $air = $this->air;
        $at = $this->clock->now() + self::LEAD;

        return $air === null
            ? []
            : ['on' => (array) $air->cues->payload()['on'], 'panic' => $air->held->isPanicking()] + [
                'running' => $air->decks->drivenRuns($at),
            ] +
                    $air->next($at);
    }

    /** Restores the state from the journal. */
    private function takeUp(?Clock $clock): void
    {
        $last = $this->journal->state();
        $clocked = (array) ($last['clock'] ?? []);
        $goesOn =
            $clock === null && ($clocked['boot'] ?? null) === EngineClock::boot() && is_int($clocked['origin'] ?? null);
        $this->clock = $clock ?? ($goesOn ? new EngineClock((int) $clocked['origin']) : EngineClock::starting());
        if (is_string($last['show'] ?? null)) {
            $decks = Decks::restored(
                (array) ($last['decks'] ?? []),
                $goesOn || $clock !== null ? null : 0,
                $goesOn ? $this->clock->now() : null,
            );
            $cards = array_values(array_filter((array) ($last['cards'] ?? []), is_string(...)));
            // Of another clock, times mean nothing: what cues held begins anew with them.
            $held = HeldValues::restored(
                array_filter(
                    (array) ($last['held'] ?? []),
                    static fn (mixed $one): bool => $goesOn ||
                        $clock !== null ||
                        (is_array($one) && ! array_is_list($one)),
                ),
            );
            $this->air = new Performance(
                $last['show'],
                $decks,
                $held,
                $cards,
                CuePlayer::restored($held, $goesOn || $clock !== null ? (array) ($last['cues'] ?? []) : []),
            );
        }
        $this->days = new DayCues(! $goesOn && $clock === null, $goesOn, $this->wall);
        // What its timelines passed while no conductor ran is fired once the cues are known.
        $this->restedAt = $goesOn
            ? max($this->clock->now() - self::MISSED, $this->air->cues->passed ?? 0)
            : $this->clock->now();
        $this->journal->write([], $this->state(...));
    }

    /** @return array<string, mixed> the whole state, for the journal */
    private function state(): array
    {
        $now = $this->clock->now();
        $air = $this->air;
        $decks = [];
        foreach ($air?->decks->ids() ?? [] as $id) {
            $decks[$id] = $air?->decks->toArray($id, $now);
        }

        return [
            'clock' => $this->clock instanceof EngineClock
                    ? ['boot' => EngineClock::boot(), 'origin' => $this->clock->origin]
                    : [],
            'show' => $air?->show,
            'decks' => (object) $decks,
            'held' => (object) ($air?->held->saved() ?? []),
            'cards' => $air->cards ?? [],
            'cues' => (object) ($air?->cues->saved() ?? []),
        ];
    }

    private function openShow(string $id): OpenShow
    {
        return new OpenShow(
            fn (OpenShow $show, \Closure $onFrame, \Closure $onEnd): Compiler => ($this->compiler)(
                $show === $this->onAir || $id === '' ? '' : $id,
                $onFrame,
                $onEnd,
                $this->guard,
            ),
            $this->guard->around('compiler', $this->opened(...)),
            $this->guard->around('compiler', $this->compiled(...)),
            $this->guard->around('compiler', $this->figured(...)),
            function (float $seconds, \Closure $then): void {
                $this->loop->addTimer($seconds, $this->guard->around('compiler', $then));
            },
            $id,
        );
    }

    /** A compiler holds its show, at first or again. */
    private function opened(OpenShow $show): void
    {
        $now = $this->clock->now();
        if ($show === $this->onAir) {
            $this->takeDevices($show);
            if ($this->air === null || $this->air->show !== $show->id) {
                $this->air = Performance::of($show->id);
                ($this->open[$show->id] ?? null)?->close();
                unset($this->open[$show->id]);
                foreach (array_keys($this->looks) as $key) {
                    if (str_ends_with($key, " $show->id")) {
                        unset($this->looks[$key]);
                    }
                }
                $this->air->take($show, $now);
                $this->journal->write($this->state(), $this->state(...));
                $this->subscribers->send(Wire::json(Wire::AIR, ['show' => $show->id]));
            } else {
                $this->air->take($show, $now);
            }
            $this->subscribers->send($show->base($now + self::LEAD));
            $this->air->decks->takeChanged();
            foreach ($this->air->frames($now) as $frame) {
                $this->subscribers->send($frame);
            }
            $this->letGo($show);
            $this->catchUp();
            $this->tellSoon();
            $this->untilRest();
        } else {
            $this->subscribers->send($show->base($now + self::LEAD), $show->id);
            foreach ($this->looks as $key => $look) {
                if ($look->show === $show->id) {
                    $look->take($show, $now);
                    $this->tellLook($key);
                }
            }
        }
        $this->watches->refresh();
    }

    /** The devices of the show on air, what is bound, and who has to listen for it. */
    private function takeDevices(OpenShow $show): void
    {
        $this->router->setBindings($show->devices, $show->bindings);
        $this->devices->setProjectors($show->projectors);
        $this->timecodeNodes = array_map(
            static fn (array $to): TimecodeOut => new ArtNetTimecodeOut(...$to),
            array_values($show->timecode),
        );
        $this->timecodeOut->refresh();
        $this->rtp?->invite(
            array_values(
                array_unique(
                    array_filter(
                        array_map(
                            static fn (Device $one): string => $one->protocol === 'midi' ? $one->invite : '',
                            $show->devices,
                        ),
                    ),
                ),
            ),
        );
        $universes = array_values(
            array_unique(
                array_filter(array_map(static fn (Device $one): ?string => $one->universe()?->key(), $show->devices)),
            ),
        );
        sort($universes);
        if ($universes !== $this->universes) {
            $this->universes = $universes;
            $this->subscribers->send(Wire::json(Wire::UNIVERSES, ['universes' => $universes]));
        }
    }

    private function figured(OpenShow $show, string $figures): void
    {
        $this->subscribers->send(Wire::pack(Wire::FIGURES, $figures), $show === $this->onAir ? null : $show->id);
    }

    /** An edit is compiled: everybody draws by it from one moment on. */
    private function compiled(OpenShow $show, string $bundle): void
    {
        $at = $this->clock->now() + self::LEAD;
        $isOnAir = $show === $this->onAir;
        $to = $isOnAir ? null : $show->id;
        $frame = Wire::delta($at, $show->id, $bundle);
        $show->keep($frame);
        $this->subscribers->send($frame, $to);
        if ($isOnAir) {
            $this->air?->take($show, $at);
            $this->takeDevices($show);
            $this->letGo($show);
            $this->tellSoon();
        } else {
            foreach ($this->looks as $key => $look) {
                if ($look->show === $show->id) {
                    $look->take($show, $at);
                    $this->tellLook($key, true);
                }
            }
        }
        $this->watches->refresh();
    }

    /** Loose values whose revision is on now are let go of, at the moment from which it is drawn. */
    private function letGo(OpenShow $show): void
    {
        foreach ($this->release as $revision => $addresses) {
            if ($revision <= $show->revision) {
                unset($this->release[$revision]);
                $this->air?->held->set(array_fill_keys($addresses, null), $this->clock->now() + self::LEAD);
                $this->tellSoon();
            }
        }
    }

    /**
     * Tells what changed on air, at once or, where that was just done, a little later with all that came until then.
     */
    private function tellSoon(): void
    {
        if ($this->telling !== null) {
            return;
        }
        $wait = self::PACE - (hrtime(true) / 1e9 - $this->told);
        $this->telling = $this->loop->addTimer(
            max(0.0, $wait),
            $this->guard->around('telling', function (): void {
                $this->telling = null;
                $this->told = hrtime(true) / 1e9;
                $this->tellChanges();
            }),
        );
    }

    private function tellChanges(): void
    {
        $air = $this->air;
        if ($air === null) {
            return;
        }
        $now = $this->clock->now();
        $this->save();
        $changed = $air->decks->takeChanged();
        foreach ($changed as $id) {
            $this->subscribers->send($air->deckFrame($id, $now));
        }
        $held = $air->held->takeChanged($now);
        if ($held !== []) {
            $this->subscribers->send(Wire::json(Wire::HELD, ['show' => $air->show, 'set' => (object) $held]));
        }
        $cues = $air->takeCuesChanged($now + self::LEAD);
        if ($cues) {
            $this->subscribers->send($air->cuesFrame($now + self::LEAD));
        }
        if ($changed !== [] || $held !== [] || $cues) {
            $this->router->refresh();
            $this->timecodeOut->refresh();
            $this->untilRest();
            $this->watches->refresh();
        }
    }

    /** Has the journal know what is on air, before anybody is told that it is. */
    private function save(): void
    {
        if ($this->air !== null) {
            $change = array_filter([
                'decks' => $this->air->decks->takeUnsaved($this->clock->now()),
                'held' => $this->air->held->takeUnsaved(),
                'cues' => $this->air->cues->takeUnsaved(),
            ]);
            $change === [] || $this->journal->write($change, $this->state(...));
        }
    }

    /**
     * When a timeline comes to rest, passes a cue or ends, and when a cue follows another: a timer waits for that,
     * nothing looks for it. What starts by itself is told as long ahead as what somebody presses, so that it is there
     * at its very time.
     */
    private function untilRest(): void
    {
        if ($this->resting !== null) {
            $this->loop->cancelTimer($this->resting);
            $this->resting = null;
        }
        $now = $this->clock->now();
        // What is due up to then was started already.
        $event = $this->air?->nextEvent(max($now, $this->restedAt + 1));
        if ($event !== null) {
            $this->resting = $this->loop->addTimer(
                max(0.0, Flicks::toSeconds($event - $now - self::LEAD)),
                $this->guard->around('rest', function (): void {
                    $this->resting = null;
                    $this->catchUp();
                    $this->tellSoon();
                    $this->untilRest();
                }),
            );
        }
    }

    /**
     * Starts what has come due by itself since that was done last; while the cues are not known, it waits.
     *
     * @param  int|null  $until  engine time up to which; null for as far ahead as a command takes effect
     */
    private function catchUp(?int $until = null): void
    {
        $until ??= $this->clock->now() + self::LEAD;
        $air = $this->air;
        if ($air === null || $this->onAir?->ready !== true) {
            return;
        }
        $air->advance($this->restedAt + 1, $until);
        $this->doActions();
        $air->decks->rested($this->restedAt, $until);
        $this->restedAt = max($this->restedAt, $until);
    }

    /** Cues that a time of day starts. */
    private function byClock(): void
    {
        $air = $this->air;
        if ($air === null || $this->onAir?->ready !== true) {
            return;
        }
        $this->fireByClock($air, $this->days->check($air->cues, $this->clock->now()));
    }

    /** @param  list<string>  $due */
    private function fireByClock(Performance $air, array $due): void
    {
        foreach ($due as $cue) {
            $air->fire($cue, $this->clock->now() + self::LEAD, 'clock');
        }
        $this->doActions();
        if ($due !== []) {
            $this->save();
            $this->tellSoon();
        }
    }

    private function beat(): void
    {
        $at = hrtime(true) / 1e6;
        $this->lateness->note(max(0.0, $at - $this->nextBeat));
        $this->nextBeat = $at + 100;
        $worked = self::worked();
        $this->busy->note($worked - $this->worked);
        $this->worked = $worked;
        $this->looks === [] || $this->advanceLooks();
        if ($this->monitors !== [] && ($this->router->takeChanged() || $this->sound->meters() !== [])) {
            $this->tellMonitors();
        }
        $this->followDay();
        $decks = $this->air?->decks;
        if ($decks?->freewheel($this->clock->now(), $this->clock->now() + self::LEAD) === true) {
            $this->save();
            $this->tellSoon();
        }
    }

    /** Timelines that follow the time of day go where it is. */
    private function followDay(): void
    {
        $now = $this->clock->now();
        $decks = $this->air?->decks;
        if ($decks !== null && $decks->follows(self::TIME_OF_DAY)) {
            $wall = $this->wall === null ? new \DateTimeImmutable() : ($this->wall)();
            [$hours, $minutes, $seconds, $micro] = array_map(intval(...), explode(' ', $wall->format('G i s u')));
            $time = ($hours * 3600 + $minutes * 60 + $seconds) * Flicks::PER_SECOND + intdiv($micro * 7056, 10);
            $this->air?->hear(['source' => self::TIME_OF_DAY, 'time' => $time], $now, $now + self::LEAD);
            $this->save();
            $this->tellSoon();
        }
    }

    /**
     * Of shows that are only looked at, starts what comes due by itself until the next beat, so that it is told
     * before its time.
     */
    private function advanceLooks(): void
    {
        $until = $this->clock->now() + self::LEAD + self::BEAT;
        foreach ($this->looks as $key => $look) {
            if (($this->open[$look->show] ?? null)?->ready !== true) {
                continue;
            }
            $from = $look->advanced ?? $until;
            $look->advance($from + 1, $until);
            $look->decks->rested($from, $until);
            $look->advanced = $until;
            $this->tellLook((string) $key, true);
        }
    }

    /** Tells those who watch controls what came since they were told last. */
    private function tellMonitors(): void
    {
        foreach ($this->monitors as $stream => $since) {
            $payload = $this->router->payload($since);
            $this->monitors[$stream] = $payload['count'];
            $this->subscribers->give(
                $stream,
                Wire::json(Wire::CONTROLS, ['since' => $since, 'meters' => $this->sound->meters()] + $payload),
            );
        }
    }

    /** Processor time that this process has taken, in ms: what the loop is held by, whatever else the machine does. */
    private static function worked(): float
    {
        $usage = getrusage() ?: [];

        return (($usage['ru_utime.tv_sec'] ?? 0) + ($usage['ru_stime.tv_sec'] ?? 0)) * 1000 +
            (($usage['ru_utime.tv_usec'] ?? 0) + ($usage['ru_stime.tv_usec'] ?? 0)) / 1000;
    }

    private function everySecond(): void
    {
        $this->timecodeOut->refresh();
        $this->byClock();
        $now = $this->clock->now();
        $this->air?->cues->settle($now);
        $this->air?->held->hasChanged() === true && $this->tellSoon();
        foreach ($this->looks as $look) {
            $look->cues->settle($now);
        }
        $gone = $this->reports->prune($now - self::REPORT_LASTS);
        if ($gone || ($this->air?->decks->runs($now) ?? false)) {
            $this->watches->refresh();
            $this->router->refresh();
        }
        $this->subscribers->send(Wire::json(Wire::HEALTH, $this->health()));
    }

    /** @return array<string, mixed> */
    private function health(): array
    {
        return [
            'engine' => $this->clock->now(),
            'lateness' => $this->lateness->figures(),
            'busy' => $this->busy->figures(),
            'windows' => $this->subscribers->count(),
            'dropped' => $this->subscribers->dropped,
            'refused' => $this->http->bad,
            'guard' => $this->guard->figures(),
            'osc' => $this->controls['osc']->health() + ['port' => $this->config['osc_port']],
            'midi' => [
                'port' => $this->config['rtp_port'] ?? 0,
                'interface' => $this->config['controls_interface'] ?? '127.0.0.1',
                'trouble' => $this->rtpTrouble,
                'window' => $this->windows->health(),
            ] + (isset($this->controls['rtp-midi']) ? ['rtp' => $this->controls['rtp-midi']->health()] : []),
            'devices' => $this->devices->health(),
            'timecode' => $this->timecode,
            'chases' => (object) ($this->air?->decks->chases() ?? []),
            'players' => $this->reports->all(),
            'compiler' => $this->onAir?->figures(),
            'looked' => count($this->open),
            'journal' => ['lost' => $this->journal instanceof Journal ? $this->journal->lost : 0],
            'pid' => getmypid(),
            'memory' => memory_get_usage(true),
            'clockStep' => $this->days->figures($this->clock->now()),
            'lights' => $this->lights === null || $this->lights['heard'] < $this->clock->now() - self::REPORT_LASTS
                    ? null
                    : [
                        'standby' => $this->standbyAt !== null &&
                            $this->standbyAt >= $this->clock->now() - self::REPORT_LASTS,
                    ] + array_diff_key($this->lights, ['heard' => 0]),
        ];
    }

    /** @return array<string, mixed> */
    private function now(): array
    {
        $now = $this->clock->now();
        $decks = $this->air?->decks->now($now) ?? [];

        return [
            'show' => $this->air?->show,
            'revision' => $this->onAir?->revision,
            'decks' => (object) $decks,
            'live' => (object) ($this->air?->held->loose() ?? []),
            'cards' => $this->air->cards ?? [],
            'cues' => $this->air === null ? [] : $this->air->cues->payload() + $this->air->next($now),
            'players' => $this->reports->all(),
        ] +
            ($this->air?->glance($now) ?? ['engine' => $now]);
    }

    /**
     * @param  array<string, mixed>  $command
     * @return string|null what is wrong with it
     */
    private function command(array $command): ?string
    {
        try {
            $of = Command::of($command);
        } catch (InvalidValue $refused) {
            return $refused->getMessage();
        }
        $now = $this->clock->now();
        if ($of->isInside() && isset($command['person'])) {
            return 'What a console says is told by the process that hears it.';
        }
        if ($of === Command::ClockStep) {
            $answer = $command['fire'] ?? null;
            if (! in_array($answer, DayCues::ANSWERS, true)) {
                return 'After a step of the clock, `fire` is one of '.implode(', ', DayCues::ANSWERS).'.';
            }
            $due = $this->days->answer($answer);
            $this->air === null || $this->fireByClock($this->air, $due);
            $this->subscribers->send(Wire::json(Wire::HEALTH, $this->health()));

            return null;
        }
        if ($of->isOfDevices()) {
            return $this->devices->perform($of, $command);
        }
        if ($of->isOfEngine()) {
            try {
                $this->subscribers->send(EngineCommands::frame($of, $command, $now));
            } catch (InvalidValue $refused) {
                return $refused->getMessage();
            }

            return null;
        }
        $key =
            isset($command['show']) && is_string($command['show']) && $command['show'] !== $this->air?->show
                ? ($command['stream'] ?? 0)." $command[show]"
                : null;
        $on = $key === null ? $this->air : $this->looks[$key] ?? null;
        if ($on === null) {
            return $key === null ? 'No show is on the engine.' : 'This window does not have that show open.';
        }
        // What is due before it takes effect comes first; from then on is counted anew.
        if ($key === null) {
            $this->catchUp($now + self::LEAD - 1);
        } else {
            $on->advanced = min($on->advanced ?? $now + self::LEAD - 1, $now + self::LEAD - 1);
        }
        $wrong = PerformanceCommands::perform($on, $of, $command, $now, self::LEAD);
        if ($wrong !== null) {
            return $wrong;
        }
        if ($of === Command::Cards) {
            $frame = Wire::json(Wire::HELD, ['show' => $on->show, 'set' => (object) [], 'cards' => $on->cards]);
            if ($key === null) {
                $this->subscribers->send($frame);
                $this->journal->write(['cards' => $on->cards], $this->state(...));
            } else {
                $this->subscribers->give((int) $key, $frame);
            }
        }
        if ($key === null) {
            $of === Command::Panic && $this->shutAtPanic(($command['on'] ?? true) === true);
            $this->doActions();
            $this->save();
            $this->tellSoon();
        } else {
            $on->takeActions();
            $this->tellLook($key, true);
        }

        return null;
    }

    /** What cues that were fired do besides their values. */
    private function doActions(): void
    {
        foreach ($this->air?->takeActions() ?? [] as $action) {
            try {
                $of = Command::of($action);
            } catch (InvalidValue) {
                continue;
            }
            $now = $this->clock->now();
            match (true) {
                ! $of->isForCues() || $this->air === null => null,
                $of->isOfDevices() => $this->devices->perform($of, $action),
                $of->isOfEngine() => $this->subscribers->send(EngineCommands::frame($of, $action, $now)),
                default => PerformanceCommands::perform($this->air, $of, $action, $now, self::LEAD),
            };
        }
    }

    private function shutAtPanic(bool $dark): void
    {
        foreach ($this->onAir->projectors ?? [] as $id => $projector) {
            $projector['shutsAtPanic'] &&
                $this->devices->perform(Command::Shutter, ['projector' => (string) $id, 'on' => $dark]);
        }
    }

    /** Tells one window of its look at a show: all of it, or what changed. */
    private function tellLook(string $key, bool $changes = false): void
    {
        $look = $this->looks[$key] ?? null;
        if ($look === null) {
            return;
        }
        $now = $this->clock->now();
        $changed = $look->decks->takeChanged();
        $held = $look->held->takeChanged($now);
        $frames = $changes
            ? array_map(static fn (string $id): string => $look->deckFrame($id, $now), $changed)
            : $look->frames($now);
        if ($changes && $held !== []) {
            $frames[] = Wire::json(Wire::HELD, ['show' => $look->show, 'set' => (object) $held]);
        }
        if ($look->takeCuesChanged($now + self::LEAD) && $changes) {
            $frames[] = $look->cuesFrame($now + self::LEAD);
        }
        foreach ($frames as $frame) {
            $this->subscribers->give((int) $key, $frame);
        }
        $frames === [] || $this->watches->refresh((int) $key);
    }

    /**
     * A window has these shows open, besides the one on air.
     *
     * @param  list<string>  $shows
     * @return string|null why they can't be opened; then nothing changes
     */
    private function look(int $stream, array $shows): ?string
    {
        $fresh = array_values(
            array_filter(
                array_diff($shows, array_keys($this->open)),
                fn (string $id): bool => $id !== $this->air?->show,
            ),
        );
        foreach ($fresh as $id) {
            if (! ($this->exists)($id)) {
                return "There is no show $id.";
            }
        }
        // Those that nobody has open make room, the one that was opened longest ago first.
        $unused = array_diff(array_keys($this->open), $this->subscribers->shows(), $shows);
        while (count($this->open) + count($fresh) > self::MAX_OPEN) {
            $gone = array_shift($unused);
            if ($gone === null) {
                return 'So many shows are open in windows that no other can be opened; close one first. There are at most '.
                    self::MAX_OPEN.
                    ' besides the one on air.';
            }
            $this->open[$gone]->close();
            unset($this->open[$gone]);
        }
        $before = $this->subscribers->showsOf($stream);
        $this->subscribers->setShows($stream, $shows);
        foreach (array_diff($before, $shows) as $show) {
            unset($this->looks["$stream $show"]);
            $this->watches->forget($stream, $show);
        }
        $now = $this->clock->now();
        foreach ($shows as $id) {
            if ($id === $this->air?->show || isset($this->looks["$stream $id"])) {
                continue;
            }
            $open = $this->open[$id] ?? $this->openShow($id);
            unset($this->open[$id]);
            $this->open[$id] = $open;
            $look = $this->looks["$stream $id"] = Performance::of($id);
            if ($this->open[$id]->ready) {
                $look->take($this->open[$id], $now);
                foreach ($this->open[$id]->frames() as $frame) {
                    $this->subscribers->give($stream, $frame);
                }
                $this->tellLook("$stream $id");
            }
        }
        $this->closeUnused();

        return null;
    }

    private function onDisconnect(int $stream): void
    {
        unset($this->monitors[$stream]);
        $this->windows->left($stream);
        $this->watches->forget($stream);
        foreach (array_keys($this->looks) as $key) {
            if ((int) $key === $stream) {
                unset($this->looks[$key]);
            }
        }
        $this->closeUnused();
    }

    /** Closes shows that nobody has had open for a while. */
    private function closeUnused(): void
    {
        if (array_diff(array_keys($this->open), $this->subscribers->shows()) === []) {
            return;
        }
        $this->loop->addTimer(
            Interval::UnusedCompiler->seconds(),
            $this->guard->around('closing', function (): void {
                foreach (array_diff(array_keys($this->open), $this->subscribers->shows()) as $id) {
                    $this->open[$id]->close();
                    unset($this->open[$id]);
                }
            }),
        );
    }

    /**
     * Asks a compiler why a surface is dark.
     *
     * @param  \Closure(?array<string, mixed>): void  $then
     * @return bool whether the show is there
     */
    private function askTrace(int $stream, string $show, string $surface, \Closure $then): bool
    {
        $isOnAir = $show === $this->air?->show;
        $open = $isOnAir ? $this->onAir : $this->open[$show] ?? null;
        $playing = $isOnAir ? $this->air : $this->looks["$stream $show"] ?? null;
        if ($open === null || $playing === null) {
            return false;
        }
        $open->ask($this->traceRequest($playing, $surface, $isOnAir), $then);

        return true;
    }

    /** @return array<string, mixed> */
    private function traceRequest(Performance $playing, string $surface, bool $isOnAir): array
    {
        return [
            'trace' => $surface,
            'state' => $playing->glance($this->clock->now() + self::LEAD) +
                ($isOnAir
                    ? ['players' => $this->reports->all(), 'dark' => (object) $this->devices->dark()]
                    : ['looked' => true]),
        ];
    }

    /** Timelines that follow timecode go where it is; it counts from when it was on its line. */
    private function onTimecode(ControlEvent $event): ?string
    {
        $air = $this->air;
        if ($air === null) {
            return 'No show is on the engine.';
        }
        $now = $this->clock->now();
        $this->catchUp($now + self::LEAD - 1);
        $wrong = $air->hear(
            [
                'source' => ['ltc' => 'LTC', 'midi' => 'MTC'][$event->source] ?? $event->source,
                'time' => $event->raw[1] ?? null,
            ],
            min($now, $event->time),
            $now + self::LEAD,
        );
        $this->timecode = [
            'source' => $event->source,
            'text' => (string) ($event->raw[0] ?? ''),
            'rate' => (string) ($event->raw[2] ?? ''),
            'at' => $event->time,
        ];
        $this->save();
        $this->tellSoon();

        return $wrong;
    }

    /**
     * What a control did, done.
     *
     * @return string|null what is wrong with it
     */
    private function onEvent(ControlEvent $event, ControlSource $by): ?string
    {
        if ($event->control === MidiDevice::TIMECODE) {
            return $this->onTimecode($event);
        }
        $bound = $this->router->onEvent($event, $by);
        if ($by->name() !== 'osc' && ! str_starts_with($event->control, '/')) {
            return $bound;
        }
        try {
            $commands = OscMessage::commands(
                $event->control,
                $event->raw,
                static fn (Address $of): Property => Schema::properties($of->kind)->named($of->property),
            );
        } catch (InvalidValue $refused) {
            // What is bound need not be a command of ours.
            return $bound === ControlRouter::UNBOUND ? $refused->getMessage() : $bound;
        }
        $wrong = null;
        foreach ($commands as $command) {
            $wrong = $this->command(['person' => strtoupper($event->source)] + $command) ?? $wrong;
        }

        return $wrong;
    }

    /**
     * Something from the web app or the worker.
     *
     * @param  array<string, mixed>  $message
     * @param  \Closure(array<string, mixed>): void  $answer
     */
    private function onControl(array $message, \Closure $answer): void
    {
        if (isset($message['ask'])) {
            $show = $message['show'] ?? null;
            $open = $show === null || $show === $this->air?->show ? $this->onAir : $this->open[$show] ?? null;
            match ($message['ask']) {
                'figures' => $open === null
                    ? $answer([])
                    : $open->ask(['figures' => true], static fn (?array $figures) => $answer($figures ?? [])),
                'trace' => $open === null || $this->air === null || $show !== $this->air->show
                    ? $answer([])
                    : $open->ask(
                        $this->traceRequest($this->air, (string) ($message['surface'] ?? ''), true),
                        static fn (?array $trace) => $answer($trace ?? []),
                    ),
                'values' => $open === null || $this->air === null || $show !== $this->air->show
                    ? $answer([])
                    : $open->ask(
                        [
                            'values' => (array) ($message['addresses'] ?? []),
                            'state' => $this->air->glance($this->clock->now() + self::LEAD),
                        ],
                        static fn (?array $values) => $answer($values ?? []),
                    ),
                default => $answer($this->now()),
            };

            return;
        }
        switch ($message['tell'] ?? null) {
            case 'revision':
                $this->subscribers->send(Wire::json(Wire::REVISION, array_diff_key($message, ['tell' => 0])));
                // Also those that are only just starting: they may have read the rows before it.
                foreach ([$this->onAir, ...array_values($this->open)] as $open) {
                    $open?->send([
                        'edit' => [
                            'show' => $message['show'] ?? '',
                            'revision' => $message['revision'] ?? 0,
                            'changes' => $message['changes'] ?? [],
                        ],
                    ]);
                }
                break;
            case 'release':
                $revision = (int) ($message['revision'] ?? 0);
                $this->release[$revision] = [
                    ...$this->release[$revision] ?? [],
                    ...array_values(array_filter((array) ($message['addresses'] ?? []), is_string(...))),
                ];
                $this->onAir === null || $this->letGo($this->onAir);
                break;
            case 'revoked':
                $this->revoke((string) ($message['panel'] ?? ''));
                break;
            case 'engaged':
                $this->onAir?->close();
                $this->onAir = $this->openShow('');
                break;
            case 'file':
                $this->subscribers->send(Wire::json(Wire::FILE, (array) ($message['file'] ?? [])));
                // While one is worked on, only its progress is new.
                if (($message['file']['state'] ?? 'working') !== 'working') {
                    foreach ([$this->onAir, ...array_values($this->open)] as $open) {
                        $open?->send(['file' => (string) ($message['file']['hash'] ?? '')]);
                    }
                }
                break;
        }
    }

    /** A tablet that may no longer show its panel is cut off, and stays so: also with the next engine. */
    private function revoke(string $panel): void
    {
        $this->revoked = array_slice([...$this->revoked, $panel], -self::MAX_REVOKED);
        @file_put_contents($this->config['run'].'/revoked.json', (string) json_encode($this->revoked));
        $this->subscribers->closeOf(static fn (string $person): bool => PanelRights::idOf($person) === $panel);
    }

    /** @return array{int, array<string, mixed>}|null */
    private function answer(RequestInterface $request, string $body, ConnectionInterface $connection): ?array
    {
        $path = $request->getMethod().' '.$request->getUri()->getPath();
        if ($path === 'GET /live/clock') {
            return [200, ['t' => $this->clock->now()]];
        }
        $token = (string) preg_replace('/^Bearer /', '', $request->getHeaderLine('Authorization'));
        if ($path === 'POST '.HttpServer::PRESS) {
            $said = json_decode($body, true, 4);

            return $this->requests->take($token, is_array($said) ? $said : []);
        }
        $person = $this->tickets->person($token, time());
        if ($person === null || in_array(PanelRights::idOf($person), $this->revoked, true)) {
            return [401, ['detail' => 'A ticket is needed here, and this is no good one.']];
        }
        if ($path === 'GET /live/stream') {
            $this->onConnect($this->subscribers->add($connection, $person));

            return null;
        }
        $said = json_decode($body, true, 32);
        $refused = PanelRights::refusal($person, $path, is_array($said) ? $said : []);
        if ($refused !== null) {
            return [403, ['detail' => $refused]];
        }
        if ($path === 'GET /live/state') {
            return [200, $this->now() + $this->health()];
        }
        if (! is_array($said)) {
            return [422, ['detail' => 'The body is no JSON object.']];
        }
        $fault = CommandFields::fault($said);
        if ($fault !== null && $person !== 'lights') {
            return [422, ['detail' => $fault]];
        }
        $stream = is_int($said['stream'] ?? null) ? $said['stream'] : 0;
        if (! $this->subscribers->isOf($stream, $person)) {
            return [403, ['detail' => 'This stream is another person\'s.']];
        }
        switch ($path) {
            case 'POST /live/command':
                $wrong = $this->command(['person' => self::named($person, $said['as'] ?? null)] + $said);

                return $wrong === null ? [200, ['engine' => $this->clock->now()]] : [422, ['detail' => $wrong]];
            case 'POST /live/preview':
                $show = $said['show'] ?? null;
                [$open, $playing] =
                    $show === $this->air?->show
                        ? [$this->onAir, $this->air]
                        : [
                            is_string($show) ? $this->open[$show] ?? null : null,
                            is_string($show) ? $this->looks["$stream $show"] ?? null : null,
                        ];
                $cue = is_string($said['cue'] ?? null) ? $playing?->cues->named($said['cue']) ?? '' : null;
                $seen =
                    $open === null || $playing === null
                        ? null
                        : $playing->preview($cue, $open, $this->clock->now() + self::LEAD);

                return $seen === null
                    ? [
                        422,
                        [
                            'detail' => 'A preview names a cue of a show that this window has open; without one, the list has a next.',
                        ],
                    ]
                    : [200, ['held' => (object) $seen['held']] + $seen];
            case 'POST /live/look':
                $shows = array_values(
                    array_filter(
                        (array) ($said['shows'] ?? []),
                        static fn (mixed $id): bool => is_string($id) && preg_match('/^[0-9a-z]{26}$/D', $id) === 1,
                    ),
                );
                if (! $this->subscribers->has($stream) || count($shows) > Subscribers::MAX_SHOWS) {
                    return [
                        422,
                        [
                            'detail' => 'An open stream looks at up to '.Subscribers::MAX_SHOWS.' shows, by their ids.',
                        ],
                    ];
                }
                $wrong = $this->look($stream, $shows);

                return $wrong === null ? [200, ['shows' => $shows]] : [422, ['detail' => $wrong]];
            case 'POST /live/watch':
                [$show, $surface] = [$said['show'] ?? null, $said['surface'] ?? null];
                if (
                    ! $this->subscribers->has($stream) ||
                    ! is_string($show) ||
                    ! is_string($surface) ||
                    strlen($show) > 26 ||
                    strlen($surface) > 26
                ) {
                    return [422, ['detail' => 'An open stream watches a surface of a show, by their ids.']];
                }
                $isOpen = $show === $this->air?->show || in_array($show, $this->subscribers->showsOf($stream), true);
                if ($surface !== '' && ! $isOpen) {
                    return [422, ['detail' => 'This window does not have that show open.']];
                }
                $this->watches->watch($stream, $show, $surface);

                return [200, ['ok' => true]];
            case 'POST /live/controls':
                if (! $this->subscribers->has($stream)) {
                    return [422, ['detail' => 'Controls are delivered by a window with an open stream.']];
                }
                if (is_bool($said['watch'] ?? null)) {
                    unset($this->monitors[$stream]);
                    if ($said['watch']) {
                        $this->monitors[$stream] = 0;
                        $this->tellMonitors();
                    }
                }
                $wrong = $this->windows->take($stream, $said['events'] ?? []);

                return $wrong === null ? [200, ['ok' => true]] : [422, ['detail' => $wrong]];
            case 'POST /live/console':
                if ($person !== 'lights') {
                    return [403, ['detail' => 'What a console says is told by the process that hears it.']];
                }
                if (is_array($said['slots'] ?? null)) {
                    $this->dmx->take($said['slots']);

                    return [200, ['ok' => true]];
                }
                if (is_array($said['clock'] ?? null)) {
                    $wrong = $this->command(['action' => 'clock'] + $said['clock']);

                    return $wrong === null ? [200, ['ok' => true]] : [422, ['detail' => $wrong]];
                }
                $wrong = $this->command(
                    ['action' => 'bind'] +
                        array_intersect_key($said, ['source' => 0, 'values' => 0, 'runs' => 0, 'fades' => 0]),
                );

                return $wrong === null ? [200, ['ok' => true]] : [422, ['detail' => $wrong]];
            case 'POST /live/lights':
                // Only our own process tells of lights.
                if ($person !== 'lights') {
                    return [403, ['detail' => 'What is sent to lights is told by the process that sends it.']];
                }
                if (isset($said['standby'])) {
                    $this->standbyAt = $this->clock->now();
                } else {
                    $this->lights = ['heard' => $this->clock->now()] + $said;
                }

                return [200, ['ok' => true]];
            case 'POST /live/report':
                $lacksOther = $this->reports->take($said, $this->clock->now());
                $lacksOther === true && $this->watches->refresh();

                return $lacksOther === null ? [422, ['detail' => 'A report names its player.']] : [200, ['ok' => true]];
            default:
                return [404, ['detail' => 'There is nothing at this address.']];
        }
    }

    /** A person by their id, and what they are called, where they said that. */
    private static function named(string $person, mixed $name): string
    {
        $name = is_string($name)
            ? mb_substr(trim((string) preg_replace('/[\x00-\x1f\x7f]+/u', ' ', mb_scrub($name))), 0, 40)
            : '';

        return trim("$person $name");
    }

    /** Tells a window that has just come what it has to know. */
    private function onConnect(int $stream): void
    {
        $now = $this->clock->now();
        $frames = [
            Wire::json(Wire::HELLO, [
                'engine' => $now,
                'clock' => $this->clock->name(),
                'stream' => $stream,
                'show' => $this->air?->show,
                'revision' => $this->onAir?->revision,
            ]),
            Wire::json(Wire::UNIVERSES, ['universes' => $this->universes]),
            ...$this->onAir?->frames() ?? [],
            ...$this->air?->frames($now) ?? [],
            Wire::json(Wire::HEALTH, $this->health()),
        ];
        foreach ($frames as $frame) {
            $this->subscribers->give($stream, $frame);
        }
    }
}

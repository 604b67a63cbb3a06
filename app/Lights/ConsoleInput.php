<?php

declare(strict_types=1);

namespace App\Lights;

use Core\Bindings\LayerControl;
use Core\Bindings\Personality;
use Core\Bindings\SourceMerge;
use Core\Effects\Effect;
use Core\Plan\Plan;
use Core\Protocol\Malformed;
use Core\Protocol\Sacn;
use Core\Values\Address;
use Core\Values\MediaRun;
use Core\Values\Property;
use React\EventLoop\LoopInterface;

/** Hears lighting consoles, and tells what they mean for the layers that they drive: only what changed. */
final class ConsoleInput
{
    /** What is told of sources and values at most, so that the report of all of it stays small: the rest is counted. */
    public const MAX_TOLD = ['sources' => 64, 'values' => 500, 'parts' => 2000];

    private readonly UdpReceiver $receiver;

    /**
     * @var (\Closure(array<string, float|null>, array<string, MediaRun>, array<string, float>, \Closure(): void): void)|null
     */
    private ?\Closure $tell = null;

    private readonly SourceMerge $merge;

    /**
     * @var array<string, array{control: LayerControl, media: array<int|string, int>, effects: list<string>, last: string|null, drives: bool, lost: float|null}> by control; whether what it said still holds, and since when nobody speaks
     */
    private array $controls = [];

    /** @var array<string, float> what was told, by address */
    private array $told = [];

    /** @var array<string, MediaRun> how media that were called were told to run, by address */
    private array $runs = [];

    /** @var array<string, float> how long what is called takes to cover what was before, in seconds, by address */
    private array $fades = [];

    /** @var array<string, float|null> what waits until the engine has taken what was told before */
    private array $waiting = [];

    private bool $telling = false;

    /** @var array<string, string|null> universes whose slots are controls: what was told of each; null for nothing */
    private array $universes = [];

    private bool $delivering = false;

    /** @var (\Closure(array<string, string|null>, \Closure(): void): void)|null */
    private ?\Closure $deliver = null;

    /** Whether what the engine holds by consoles already was taken up. */
    public bool $adopted = false;

    public int $packets = 0;

    public int $bad = 0;

    /** Packets of universes that no control uses. */
    public int $foreign = 0;

    /**
     * @param  string  $interface  address of the interface on which consoles are received
     * @param  SerialPorts|null  $serial  interfaces of this machine
     * @param  string  $cid  16 bytes that name us as a source of sACN: what we send ourselves is no console's
     */
    public function __construct(
        LoopInterface $loop,
        string $interface,
        int $port,
        private readonly string $cid,
        private readonly ?SerialPorts $serial = null,
    ) {
        $this->merge = new SourceMerge();
        $this->receiver = new UdpReceiver($interface, $port);
        $loop->addPeriodicTimer(0.006, fn () => $this->listen(hrtime(true) / 1e9));
        $loop->addPeriodicTimer(0.02, fn () => $this->tick(hrtime(true) / 1e9));
    }

    /**
     * @param  \Closure(array<string, float|null>, array<string, MediaRun>, array<string, float>, \Closure(): void): void  $tell  told
     *     values by address, null for those that are let go of, how media run and how long they take to come
     *     (seconds); and what is called when they were taken
     */
    public function tells(\Closure $tell): void
    {
        $this->tell = $tell;
    }

    /**
     * @param  \Closure(array<string, string|null>, \Closure(): void): void  $deliver  delivers universes that changed, by
     *     protocol and number: their slots, null for one that nobody sends any more; and what is called when they
     *     were taken
     */
    public function delivers(\Closure $deliver): void
    {
        $this->deliver = $deliver;
    }

    /**
     * Takes up the universes whose slots are controls.
     *
     * @param  list<string>  $universes  as in "sacn 7"
     */
    public function listenTo(array $universes): void
    {
        if ($universes !== array_keys($this->universes)) {
            $this->universes = array_intersect_key($this->universes, array_flip($universes));
            $this->universes = array_merge(array_fill_keys($universes, null), $this->universes);
            $this->join();
        }
    }

    /** Has the universes heard that controls and devices use. */
    private function join(): void
    {
        $used = [
            ...array_map(
                static fn (array $one): string => "{$one['control']->protocol} {$one['control']->universe}",
                array_values($this->controls),
            ),
            ...array_map(strval(...), array_keys($this->universes)),
        ];
        $this->merge->use($used);
        $groups = array_map(
            static fn (string $universe): string => Sacn::multicast((int) substr($universe, 5)),
            array_filter(array_unique($used), static fn (string $one): bool => str_starts_with($one, 'sacn ')),
        );
        $this->receiver->keep(array_values($groups));
        // Without a network there is no group to join; what is sent to this machine alone is received all the same.
        array_map($this->receiver->join(...), $groups);
        $heard = [];
        foreach (array_filter($used, static fn (string $one): bool => str_starts_with($one, 'serial ')) as $universe) {
            $heard[substr($universe, 7)] = function (string $slots) use ($universe): void {
                $this->packets++;
                $this->merge->hear(
                    $universe,
                    $universe,
                    $slots,
                    100,
                    hrtime(true) / 1e9,
                    SourceMerge::LOST['serial'],
                    $universe,
                );
            };
        }
        $this->serial?->listen($heard);
    }

    /** Delivers universes that changed: one after another, so that what comes later is taken later. */
    private function deliverSlots(float $now): void
    {
        if ($this->delivering || $this->deliver === null) {
            return;
        }
        $changed = [];
        foreach ($this->universes as $universe => $told) {
            $slots = $this->merge->slots((string) $universe, 'highest', $now);
            if ($slots !== $told) {
                $changed[(string) $universe] = $this->universes[$universe] = $slots;
            }
        }
        if ($changed !== []) {
            $this->delivering = true;
            ($this->deliver)($changed, function (): void {
                $this->delivering = false;
            });
        }
    }

    /** Takes up the controls of a plan. */
    public function prepare(?Plan $plan): void
    {
        $before = $this->controls;
        $this->controls = [];
        foreach ($plan?->of('control') ?? [] as $id => $part) {
            $control = LayerControl::fromRow(
                $part,
                Personality::of((string) $part['personality']['name'], (string) $part['personality']['parts']),
            );
            $old = $before[$id] ?? null;
            $effects = array_values(array_map(strval(...), (array) ($part['effects'] ?? [])));
            $this->controls[(string) $id] = [
                'control' => $control,
                'media' => (array) $part['media'],
                'effects' => $effects,
                'last' => $old !== null &&
                    $old['control'] == $control &&
                    $old['media'] === (array) $part['media'] &&
                    $old['effects'] === $effects
                        ? $old['last']
                        : null,
                'drives' => $old['drives'] ?? false,
                'lost' => $old['lost'] ?? null,
            ];
        }
        $this->join();
        $this->release();
    }

    /** What nobody drives any more is let go of. */
    private function release(): void
    {
        $gone = array_diff_key(
            $this->told,
            array_flip(
                array_merge(
                    [],
                    ...array_map(
                        static fn (array $one): array => self::addresses($one['control'], $one['effects']),
                        array_values($this->controls),
                    ),
                ),
            ),
        );
        if ($gone !== []) {
            $this->told = array_diff_key($this->told, $gone);
            $this->send(array_fill_keys(array_keys($gone), null));
        }
    }

    /**
     * @param  list<string>  $effects  ids of those that it drives
     * @return list<string>
     */
    private static function addresses(LayerControl $control, array $effects): array
    {
        $names = array_diff(
            array_keys($control->personality->values($control->personality->rest())),
            Personality::CALLS,
        );

        return [
            ...array_map(
                static fn (string $name): string => "layer:$control->layer/$name",
                array_values([
                    ...$names,
                    ...$control->personality->callsMedia() ? ['source'] : [],
                    ...$control->personality->has('mask media') ? ['mask'] : [],
                ]),
            ),
            ...array_merge([], ...array_map(self::ofEffect(...), $effects)),
        ];
    }

    /** @return list<string> addresses of all values of an effect */
    private static function ofEffect(string $id): array
    {
        return array_merge(
            ...array_map(
                static fn (Property $of): array => array_map(
                    static fn (int $slot): string => (string) Address::of('effect', $id, $of->name, $slot),
                    array_keys($of->slots),
                ),
                array_values(Effect::properties()->properties),
            ),
        );
    }

    /**
     * What the engine holds by consoles already, as an earlier process of this kind told it: it counts as told. What
     * no control drives is let go of; what one drives waits for its console as if it had just been lost.
     *
     * @param  array<string, float>  $bound  by address
     */
    public function adopt(array $bound, float $now): void
    {
        $this->adopted = true;
        $this->told += $bound;
        foreach ($this->controls as $id => ['control' => $control, 'effects' => $effects, 'drives' => $drives]) {
            if (! $drives && array_intersect_key($bound, array_flip(self::addresses($control, $effects))) !== []) {
                $this->controls[$id] =
                    ['drives' => true, 'lost' => $now + SourceMerge::LOST[$control->protocol]] + $this->controls[$id];
            }
        }
        $this->release();
    }

    /** An engine that was started again knows nothing of what was told. */
    public function resend(): void
    {
        [$this->told, $this->runs, $this->adopted] = [[], [], false];
        $this->universes = array_fill_keys(array_keys($this->universes), null);
        foreach ($this->controls as $id => $_) {
            $this->controls[$id]['last'] = null;
        }
    }

    /** @param  array<string, mixed>  $said  data of Art-Net */
    public function artNet(array $said, string $from): void
    {
        $this->packets++;
        $this->foreign += $this->merge->uses('artnet '.($said['address'] + 1)) ? 0 : 1;
        $this->merge->hear(
            'artnet '.($said['address'] + 1),
            $from,
            (string) $said['slots'],
            100,
            hrtime(true) / 1e9,
            SourceMerge::LOST['artnet'],
            $from,
        );
    }

    private function listen(float $now): void
    {
        foreach ($this->receiver->packets() as [$packet]) {
            $this->packets++;
            $number = Sacn::universeOf($packet);
            if ($number !== null && ! $this->merge->uses("sacn $number")) {
                $this->foreign++;

                continue;
            }
            try {
                $said = Sacn::decode($packet);
            } catch (Malformed) {
                $this->bad++;

                continue;
            }
            if (
                $said['kind'] !== 'data' ||
                $said['cid'] === $this->cid ||
                ($said['start'] ?? 0) !== 0 ||
                ($said['preview'] ?? false)
            ) {
                continue;
            }
            $universe = 'sacn '.($said['universe'] ?? 0);
            $said['ends'] ?? false
                ? $this->merge->end($universe, $said['cid'])
                : $this->merge->hear(
                    $universe,
                    $said['cid'],
                    $said['slots'] ?? '',
                    $said['priority'] ?? 100,
                    $now,
                    SourceMerge::LOST['sacn'],
                    $said['source'] ?? '',
                    $said['sequence'] ?? null,
                );
        }
    }

    public function tick(float $now): void
    {
        $this->deliverSlots($now);
        [$changed, $runs] = [[], []];
        foreach (
            $this->controls as $id => [
                'control' => $control,
                'media' => $media,
                'effects' => $effects,
                'last' => $last,
                'drives' => $drives,
                'lost' => $lost,
            ]
        ) {
            $all = $this->merge->slots("$control->protocol $control->universe", $control->merge, $now);
            if ($all === null) {
                $this->controls[$id]['lost'] = $lost ??= $now;
                if ($drives && $control->lost === 'release' && $now >= $lost + $control->releaseAfter) {
                    [$this->controls[$id]['last'], $this->controls[$id]['drives']] = [null, false];
                    $changed = array_fill_keys(self::addresses($control, $effects), null) + $changed;
                }

                continue;
            }
            $this->controls[$id]['lost'] = null;
            $slots = str_pad(
                substr($all, $control->channel - 1, $control->personality->slots()),
                $control->personality->slots(),
                "\0",
            );
            if ($slots === $last) {
                continue;
            }
            [$this->controls[$id]['last'], $this->controls[$id]['drives']] = [$slots, true];
            $values = $control->personality->values($slots);
            if (isset($values['index'])) {
                // 0 and 0 is a console at rest: the clips are shown.
                $values['source'] = (float) ($media[(int) (256 * ($values['folder'] ?? 0) + $values['index'])] ?? 0);
            }
            if (isset($values['maskMedia'])) {
                $values['mask'] =
                    (float) ($media[(int) (256 * ($values['maskFolder'] ?? 0) + $values['maskMedia'])] ?? 0);
            }
            [$run, $this->fades["layer:$control->layer/source"]] = Personality::run($values);
            $run === null || ($runs["layer:$control->layer/source"] = $run);
            foreach (array_diff_key($values, array_flip(Personality::CALLS)) as $name => $value) {
                $changed["layer:$control->layer/$name"] = $value;
            }
            $driven = $effects === [] ? [] : $control->personality->effects($slots);
            foreach ($effects as $n => $effect) {
                foreach ($driven[$n] ?? [] as $name => $value) {
                    $changed["effect:$effect/$name"] = $value;
                }
                // What belonged to another one is let go of, and all of it where it is as it is stored.
                foreach (preg_grep("~^effect:$effect/~", array_keys($this->told)) ?: [] as $address) {
                    $changed[$address] ??= null;
                }
            }
        }
        // Of a media, also how it runs.
        $changed = array_filter(
            $changed,
            fn (?float $value, string $address): bool => $value === null
                ? isset($this->told[$address])
                : ($this->told[$address] ?? null) !== $value ||
                    (isset($runs[$address]) && $runs[$address] != ($this->runs[$address] ?? null)),
            ARRAY_FILTER_USE_BOTH,
        );
        if ($changed !== []) {
            $this->told = array_filter(array_merge($this->told, $changed), is_float(...));
            $this->runs = array_merge($this->runs, $runs);
            $this->send($changed);
        }
    }

    /**
     * One after another, so that what comes later is taken later; what changes meanwhile goes together.
     *
     * @param  array<string, float|null>  $values
     */
    private function send(array $values): void
    {
        $this->waiting = array_merge($this->waiting, $values);
        if ($this->telling || $this->waiting === [] || $this->tell === null) {
            return;
        }
        [$now, $this->waiting, $this->telling] = [$this->waiting, [], true];
        ($this->tell)(
            $now,
            array_intersect_key($this->runs, $now),
            array_intersect_key($this->fades, $now),
            function (): void {
                $this->telling = false;
                $this->send([]);
            },
        );
    }

    /** What keeps consoles from being received; empty where nothing does. */
    public function trouble(): string
    {
        return $this->receiver->trouble;
    }

    /** @return list<string> other programs at our port */
    public function sharers(): array
    {
        return $this->receiver->sharers();
    }

    /**
     * What was received and what it means, bounded: of controls that received something, the number and the meaning
     * of each part.
     *
     * @return array{packets: int, bad: int, foreign: int, sources: list<array{universe: string, name: string, priority: int}>, more: array{sources: int, values: int, controls: int}, values: array<string, float>, controls: array<string, array{parts: list<array{int, float}>, lost: bool}>} `more`
     *     counts what is left out
     */
    public function figures(): array
    {
        $now = hrtime(true) / 1e9;
        $this->merge->prune($now);
        $sources = $this->merge->sources($now);
        $controls = [];
        $parts = 0;
        $heard = array_filter($this->controls, static fn (array $one): bool => $one['last'] !== null);
        foreach ($heard as $id => $one) {
            $meanings = $one['control']->personality->meanings((string) $one['last']);
            $parts += count($meanings);
            if ($parts > self::MAX_TOLD['parts']) {
                break;
            }
            $controls[$id] = ['parts' => $meanings, 'lost' => $one['lost'] !== null];
        }

        return [
            'packets' => $this->packets,
            'bad' => $this->bad,
            'foreign' => $this->foreign,
            'sources' => array_slice($sources, 0, self::MAX_TOLD['sources']),
            'more' => [
                'sources' => max(0, count($sources) - self::MAX_TOLD['sources']),
                'values' => max(0, count($this->told) - self::MAX_TOLD['values']),
                'controls' => count($heard) - count($controls),
            ],
            'values' => array_slice($this->told, 0, self::MAX_TOLD['values']),
            'controls' => $controls,
        ];
    }
}

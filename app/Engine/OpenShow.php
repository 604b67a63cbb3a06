<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\Binding;
use Core\Bindings\Device;
use Core\Cues\Cue;
use Core\Playback\CueSheet;
use Core\Preflight\Figures;

/**
 * A show that is open: its compiler, and the plan that windows have of it, as a pack that they fetch and the bundles
 * that came after it. When the compiler ends, what windows have stays, and the next one goes on from the rows.
 */
final class OpenShow
{
    /** Bundles beyond which they are packed anew, so that a window that comes late has little to read. */
    private const MAX_DELTAS = 200;

    private const MAX_BYTES = 262_144;

    /** Seconds after which a compiler that ended is no failed start. */
    private const LIVED = 1.0;

    /** Seconds until the next try, at most. */
    private const LONGEST_WAIT = 5.0;

    private ?Compiler $compiler = null;

    /** Whether this compiler has held the show. */
    private bool $served = false;

    private float $began = 0.0;

    public bool $ready = false;

    public string $id = '';

    public int $revision = 0;

    public string $pack = '';

    public int $packRevision = 0;

    /** @var list<array{int, string}> revision and frame */
    private array $deltas = [];

    private int $bytes = 0;

    private bool $packing = false;

    /** @var array<string, array{name: string, sheet: CueSheet}> by timeline */
    public array $timelines = [];

    /** @var array<string, Cue> by id */
    public array $cues = [];

    /** @var array<string, Device> by id */
    public array $devices = [];

    /** @var array<string, array{string, string, int}> interface, address and port of nodes that are sent timecode, by id */
    public array $timecode = [];

    /** @var array<string, array{name: string, address: string, password: string, shutsAtPanic: bool}> projectors with an address, by id */
    public array $projectors = [];

    /** @var array<string, Binding> by id */
    public array $bindings = [];

    public string $trouble = '';

    public int $crashes = 0;

    private bool $closed = false;

    /** @var array<string, mixed> what came with the bundle that follows */
    private array $compiled = [];

    /**
     * @param  \Closure(self, \Closure(int, string): void, \Closure(string): void): Compiler  $start  starts a
     *     compiler for it
     * @param  \Closure(self): void  $onReady
     * @param  \Closure(self, string): void  $onCompiled  the bundle of an edit
     * @param  \Closure(self, string): void  $onFigures  what people read of it, as JSON
     * @param  \Closure(float, \Closure(): void): void  $later
     */
    public function __construct(
        private readonly \Closure $start,
        private readonly \Closure $onReady,
        private readonly \Closure $onCompiled,
        private readonly \Closure $onFigures,
        private readonly \Closure $later,
        string $id = '',
    ) {
        $this->id = $id;
        $this->begin();
    }

    private function begin(): void
    {
        if ($this->closed) {
            return;
        }
        [$this->served, $this->began] = [false, hrtime(true) / 1e9];
        $this->compiler = ($this->start)($this, $this->took(...), $this->ended(...));
    }

    private function ended(string $last): void
    {
        $this->compiler = null;
        $this->packing = false;
        // One that was of use, or lived for a while, starts again at once; one that fails again and again, ever later.
        $this->crashes = $this->served || hrtime(true) / 1e9 - $this->began > self::LIVED ? 0 : $this->crashes + 1;
        $this->trouble = $last !== '' ? $last : 'The compiler ended without a message.';
        ($this->later)(
            $this->crashes === 0 ? 0.0 : min(self::LONGEST_WAIT, 0.1 * 2 ** min(6, $this->crashes - 1)),
            $this->begin(...),
        );
    }

    private function took(int $type, string $payload): void
    {
        $data = $type === Wire::BUNDLE || $type === Wire::FIGURES ? [] : (array) json_decode($payload, true);
        switch ($type) {
            case Wire::READY:
                $this->trouble = '';
                $this->crashes = 0;
                $this->served = true;
                $this->id = (string) $data['show'];
                $this->revision = $this->packRevision = (int) $data['revision'];
                $this->pack = (string) $data['pack'];
                [$this->deltas, $this->bytes, $this->packing] = [[], 0, false];
                $this->setTimelines((array) $data['timelines']);
                $this->cues = [];
                $this->setCues((array) ($data['cues'] ?? []));
                $this->setBindings((array) ($data['bindings'] ?? []));
                $this->ready = true;
                ($this->onReady)($this);
                // What changed until there was a compiler, nobody was told.
                $this->ask(['figures' => true], function (?array $answer): void {
                    $answer === null ||
                        ($this->onFigures)(
                            $this,
                            Wire::encode([
                                'show' => $this->id,
                                'revision' => $answer['revision'],
                                'figures' => Figures::objects((array) $answer['figures']),
                            ]),
                        );
                });
                break;
            case Wire::COMPILED:
                $this->compiled = $data;
                break;
            case Wire::BUNDLE:
                $this->revision = (int) ($this->compiled['revision'] ?? $this->revision);
                $this->setTimelines((array) ($this->compiled['timelines'] ?? []));
                $this->setCues((array) ($this->compiled['cues'] ?? []));
                isset($this->compiled['bindings']) && $this->setBindings((array) $this->compiled['bindings']);
                ($this->onCompiled)($this, $payload);
                break;
            case Wire::FIGURES:
                ($this->onFigures)($this, $payload);
                break;
            case Wire::PACKED:
                $this->packing = false;
                $this->pack = (string) $data['pack'];
                $this->packRevision = (int) $data['revision'];
                $this->deltas = array_values(
                    array_filter($this->deltas, fn (array $delta): bool => $delta[0] > $this->packRevision),
                );
                $this->bytes = array_sum(array_map(static fn (array $delta): int => strlen($delta[1]), $this->deltas));
                break;
        }
    }

    /** @param  array<mixed>  $timelines */
    private function setTimelines(array $timelines): void
    {
        $this->timelines = [];
        foreach ($timelines as $id => $timeline) {
            if (is_array($timeline)) {
                $this->timelines[(string) $id] = [
                    'name' => (string) ($timeline['name'] ?? ''),
                    'sheet' => CueSheet::fromArray((array) ($timeline['sheet'] ?? [])),
                ];
            }
        }
    }

    /** @param  array<mixed>  $changed  by id; null for what is gone */
    private function setCues(array $changed): void
    {
        foreach ($changed as $id => $cue) {
            if (is_array($cue)) {
                $this->cues[(string) $id] = Cue::fromArray((string) $id, $cue);
            } else {
                unset($this->cues[$id]);
            }
        }
    }

    /** @param  array<mixed>  $rows  device, binding and projector, each by id; all that there are */
    private function setBindings(array $rows): void
    {
        [$this->devices, $this->bindings, $this->projectors, $this->timecode] = [[], [], [], []];
        foreach ((array) ($rows['timecode'] ?? []) as $id => $to) {
            if (is_array($to) && is_string($to[0] ?? null) && is_string($to[1] ?? null) && is_int($to[2] ?? null)) {
                $this->timecode[(string) $id] = [$to[0], $to[1], $to[2]];
            }
        }
        foreach ((array) ($rows['projector'] ?? []) as $id => $row) {
            is_array($row) &&
                ($this->projectors[(string) $id] = [
                    'name' => (string) ($row['name'] ?? ''),
                    'address' => (string) ($row['address'] ?? ''),
                    'password' => (string) ($row['password'] ?? ''),
                    'shutsAtPanic' => (bool) ($row['shutsAtPanic'] ?? false),
                ]);
        }
        foreach ((array) ($rows['device'] ?? []) as $id => $row) {
            is_array($row) && ($this->devices[(string) $id] = Device::fromRow($row));
        }
        foreach ((array) ($rows['binding'] ?? []) as $id => $row) {
            is_array($row) && ($this->bindings[(string) $id] = Binding::fromRow(['id' => (string) $id] + $row));
        }
    }

    /** Keeps a frame for windows that come late. */
    public function keep(string $frame): void
    {
        $this->deltas[] = [$this->revision, $frame];
        $this->bytes += strlen($frame);
        if (! $this->packing && (count($this->deltas) > self::MAX_DELTAS || $this->bytes > self::MAX_BYTES)) {
            $this->packing = true;
            $this->send(['pack' => true]);
        }
    }

    /** @return list<string> frames that bring a window to the present plan */
    public function frames(): array
    {
        return $this->ready ? [$this->base(), ...array_column($this->deltas, 1)] : [];
    }

    /** Which pack the show is drawn by; at an engine time, where a window has another plan already. */
    public function base(int $at = 0): string
    {
        return Wire::json(Wire::BASE, [
            'show' => $this->id,
            'pack' => $this->pack,
            'revision' => $this->packRevision,
            'at' => $at,
        ]);
    }

    /** @param  array<string, mixed>  $message */
    public function send(array $message): void
    {
        $this->compiler?->send($message);
    }

    /**
     * @param  array<string, mixed>  $message
     * @param  \Closure(array<string, mixed>|null): void  $then
     */
    public function ask(array $message, \Closure $then): void
    {
        $this->compiler === null || ! $this->ready ? $then(null) : $this->compiler->ask($message, $then);
    }

    public function close(): void
    {
        $this->closed = true;
        $this->compiler?->end();
        $this->compiler = null;
    }

    /** @return array<string, mixed> */
    public function figures(): array
    {
        return [
            'show' => $this->id,
            'pid' => $this->compiler?->pid(),
            'revision' => $this->revision,
            'ready' => $this->ready,
            'trouble' => $this->trouble,
        ];
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use React\ChildProcess\Process;
use React\EventLoop\LoopInterface;

/** A baker, as the conductor sees it: a child process for one revision. */
final class BakerProcess
{
    public bool $ready = false;

    public int $revision = 0;

    public ?string $show = null;

    /** @var array<string, mixed> */
    public array $sheet = [];

    public string $plan = '';

    /** @var array<int, \Closure(): void> what waits for a request to be done */
    private array $waiting = [];

    private int $requests = 0;

    private readonly Process $process;

    private string $errors = '';

    /** Closes what the child would inherit: held by a baker, a port could not be listened on again, and a window's stream would never end. */
    private const CLEAN = 'for fd in /proc/self/fd/*; do fd=${fd##*/}; if [ "$fd" -gt 2 ]; then eval "exec $fd>&-"; fi; done; exec "$@"';

    /**
     * @param  list<string>  $command
     * @param  int  $serial  which compilation it makes
     * @param  \Closure(self): void  $onReady
     * @param  \Closure(self, string): void  $onChunk
     * @param  \Closure(self, string): void  $onEnd  with the last that it said
     */
    public function __construct(LoopInterface $loop, array $command, public readonly int $serial, \Closure $onReady, \Closure $onChunk, \Closure $onEnd)
    {
        $this->process = new Process('exec '.implode(' ', array_map(escapeshellarg(...), ['bash', '-c', self::CLEAN, 'baker', ...$command])));
        $this->process->start($loop, 0.05);
        $frames = new Frames;
        $this->process->stdout?->on('data', function (string $bytes) use ($frames, $onReady, $onChunk): void {
            foreach ($frames->feed($bytes) as [$type, $payload]) {
                match ($type) {
                    Frames::READY => $this->tookUp($payload, $onReady),
                    Frames::PLAN => $this->plan = $payload,
                    Frames::CHUNK => $onChunk($this, $payload),
                    Frames::DONE => $this->finished((int) $payload),
                    default => null,
                };
            }
        });
        $this->process->stderr?->on('data', function (string $text): void {
            $this->errors = substr($this->errors.$text, -2000);
        });
        $this->process->on('exit', fn () => $onEnd($this, trim($this->errors)));
    }

    /** @param  \Closure(self): void  $onReady */
    private function tookUp(string $payload, \Closure $onReady): void
    {
        $data = json_decode($payload, true);
        $this->ready = true;
        $this->revision = (int) $data['revision'];
        $this->show = $data['show'];
        $this->sheet = $data['sheet'];
        $onReady($this);
    }

    private function finished(int $request): void
    {
        $then = $this->waiting[$request] ?? null;
        unset($this->waiting[$request]);
        $then?->__invoke();
    }

    /**
     * @param  array<string, mixed>  $request
     * @param  \Closure(): void  $then
     */
    public function ask(array $request, \Closure $then): void
    {
        $this->waiting[++$this->requests] = $then;
        $this->process->stdin?->write(json_encode(['id' => $this->requests] + $request, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION)."\n");
    }

    public function end(): void
    {
        $this->process->removeAllListeners('exit');
        $this->process->terminate(SIGKILL);
    }

    public function pid(): ?int
    {
        return $this->process->getPid();
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use React\ChildProcess\Process;
use React\EventLoop\LoopInterface;
use React\Stream\WritableStreamInterface;

/** A compiler, as the conductor sees it: a child process that holds one show. */
final class CompilerProcess implements Compiler
{
    /** @var array<int, \Closure(array<string, mixed>|null): void> what waits for an answer */
    private array $waiting = [];

    private int $requests = 0;

    private readonly Process $process;

    private string $errors = '';

    private bool $ended = false;

    /**
     * Closes what the child would inherit: held by a compiler, a port could not be listened on again, and a window's
     * stream would never end.
     */
    private const CLEAN = 'for fd in /proc/self/fd/*; do fd=${fd##*/}; if [ "$fd" -gt 2 ]; then eval "exec $fd>&-"; fi; done; exec "$@"';

    /**
     * @param  list<string>  $command
     * @param  \Closure(int, string): void  $onFrame  type and payload
     * @param  \Closure(string): void  $onEnd  with the last that it said
     */
    public function __construct(LoopInterface $loop, array $command, Guard $guard, \Closure $onFrame, \Closure $onEnd)
    {
        $this->process = new Process(
            'exec '.
                implode(' ', array_map(escapeshellarg(...), ['bash', '-c', self::CLEAN, 'compiler', ...$command])),
        );
        $this->process->start($loop, 0.05);
        $frames = new Wire();
        $this->process->stdout?->on(
            'data',
            $guard->around('compiler', function (string $bytes) use ($frames, $onFrame): void {
                foreach ($frames->feed($bytes) as [$type, $payload]) {
                    if ($type === Wire::ANSWER) {
                        $data = json_decode($payload, true);
                        $then = $this->waiting[$data['id'] ?? 0] ?? null;
                        unset($this->waiting[$data['id'] ?? 0]);
                        $then?->__invoke(is_array($data) ? $data : null);
                    } else {
                        $onFrame($type, $payload);
                    }
                }
            }),
        );
        $this->process->stderr?->on('data', function (string $text): void {
            $this->errors = substr($this->errors.$text, -2000);
        });
        $this->process->on(
            'exit',
            $guard->around('compiler', function () use ($onEnd): void {
                $this->ended = true;
                $this->answerNobody();
                $onEnd(trim($this->errors));
            }),
        );
    }

    private function answerNobody(): void
    {
        [$waiting, $this->waiting] = [$this->waiting, []];
        foreach ($waiting as $then) {
            $then(null);
        }
    }

    public function send(array $message): void
    {
        if (! $this->ended) {
            $stdin = $this->process->stdin;
            $stdin instanceof WritableStreamInterface && $stdin->write(Wire::encode($message)."\n");
        }
    }

    public function ask(array $message, \Closure $then): void
    {
        if ($this->ended || count($this->waiting) > 200) {
            $then(null);

            return;
        }
        $this->waiting[++$this->requests] = $then;
        $this->send(['id' => $this->requests] + $message);
    }

    public function end(): void
    {
        $this->ended = true;
        $this->answerNobody();
        $this->process->removeAllListeners('exit');
        $this->process->terminate(SIGKILL);
    }

    public function pid(): ?int
    {
        return $this->process->getPid();
    }
}

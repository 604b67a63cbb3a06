<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Protocol\MtcWriter;
use Core\Units\Flicks;
use React\EventLoop\LoopInterface;
use React\EventLoop\TimerInterface;

/**
 * Says where the driven timeline is: quarter by quarter of a frame while it runs forward at its own speed, else whole
 * whenever that is another. While nobody is to hear it, it does nothing.
 */
final class TimecodeSender
{
    private ?TimerInterface $timer = null;

    /** The whole frame that was said last; empty while quarters go. */
    private string $said = '';

    /** The quarter frame that was sent last. */
    private int $number = -2;

    /**
     * @param  \Closure(): list<TimecodeOut>  $devices  who hears it
     * @param  \Closure(): ?array{position: int, runs: bool, writer: MtcWriter}  $where  where it is; null where there is none
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly Guard $guard,
        private readonly \Closure $devices,
        private readonly \Closure $where,
    ) {
    }

    /** Something has changed: who hears it, where it is, or whether it runs. */
    public function refresh(): void
    {
        if ($this->timer === null && ($this->devices)() !== []) {
            // A change takes effect a little after it was asked for.
            $this->timer = $this->loop->addTimer(
                Flicks::toSeconds(Performance::LEAD) + 0.002,
                $this->guard->around('timecode', $this->next(...)),
            );
        }
    }

    private function next(): void
    {
        $this->timer = null;
        $devices = ($this->devices)();
        $where = $devices === [] ? null : ($this->where)();
        if ($where === null) {
            $this->said = '';

            return;
        }
        ['position' => $position, 'runs' => $runs, 'writer' => $writer] = $where;
        if (! $runs) {
            $this->say($devices, $writer, $position);

            return;
        }
        // The quarter that begins now; a timer that came a little early means the one that is just to begin.
        $quarter = $writer->quarter();
        $number = intdiv($position + intdiv($quarter, 4), $quarter);
        if ($number !== $this->number + 1) {
            // It leapt, or begins: where it is, whole, before the quarters that go on from there.
            $this->say($devices, $writer, $position);
        }
        [$this->said, $this->number] = ['', $number];
        foreach ($devices as $device) {
            $device->quarter($writer, $number);
        }
        $this->timer = $this->loop->addTimer(
            max(0.001, Flicks::toSeconds(($number + 1) * $quarter - $position)),
            $this->guard->around('timecode', $this->next(...)),
        );
    }

    /** @param  list<TimecodeOut>  $devices */
    private function say(array $devices, MtcWriter $writer, int $position): void
    {
        $whole = $writer->frameAt($position)->text();
        if ($whole !== $this->said) {
            $this->said = $whole;
            foreach ($devices as $device) {
                $device->whole($writer, $position);
            }
        }
    }
}

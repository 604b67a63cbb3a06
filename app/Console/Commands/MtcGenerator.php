<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\ReadsText;
use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\MidiTimecodeOut;
use App\Engine\RtpMidiListener;
use App\Engine\SendsMidi;
use App\Engine\TimecodeSender;
use Core\Protocol\MtcWriter;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Core\Units\Timecode;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

/** A machine that plays, as a stand-in: it sends MIDI time code by a network session until it is ended. */
final class MtcGenerator extends Command
{
    use ReadsText;

    protected $signature =
        'rig:mtc {--from=01:00:00:00 : where it begins} {--rate=25 : frames a second}'.
        ' {--to= : address and port of the session; the engine of this machine where it is missing}'.
        ' {--port=0 : its own port, the next one is for data; 0 for any}'.
        ' {--seconds=0 : how long it plays; 0 until it is ended}';

    protected $description = 'Virtual rig: be a machine that plays, and send MIDI time code by a network session';

    public function handle(): int
    {
        try {
            $rate = FrameRate::of(self::text($this->option('rate')));
            $from = Timecode::parse(self::text($this->option('from')), $rate);
        } catch (InvalidValue $refused) {
            $this->error($refused->getMessage());

            return self::INVALID;
        }
        $to = self::text($this->option('to')) ?: '127.0.0.1:'.config('kite.rtp_port');
        $loop = Loop::get();
        [$guard, $clock, $writer] = [new Guard(), EngineClock::starting(), new MtcWriter($rate)];
        $out = [];
        $began = null;
        $sender = new TimecodeSender(
            $loop,
            $guard,
            static function () use (&$out): array {
                return $out;
            },
            static function () use (&$began, $clock, $from, $writer): array {
                return ['position' => $from + $clock->now() - (int) $began, 'runs' => true, 'writer' => $writer];
            },
        );
        $session = new RtpMidiListener(
            $loop,
            '127.0.0.1',
            (int) $this->option('port') ?: random_int(20_000, 30_000) * 2,
            $guard,
            $clock,
            function (string $source, string $device, ControlSource $by) use (&$out, &$began, $sender, $clock): void {
                if ($by instanceof SendsMidi) {
                    $began ??= $clock->now();
                    $out = [new MidiTimecodeOut($by, $device)];
                    $sender->refresh();
                    $this->line("Plays to $device.");
                }
            },
            function (string $source, string $device) use (&$out): void {
                $out = [];
                $this->line("$device is gone.");
            },
            null,
            'Timecode machine',
        );
        $session->start(static fn (): ?string => null);
        $session->invite([$to]);
        $seconds = (float) $this->option('seconds');
        $seconds > 0 && $loop->addTimer($seconds, static fn () => $loop->stop());
        foreach ([SIGINT, SIGTERM] as $signal) {
            $loop->addSignal($signal, static fn () => $loop->stop());
        }
        $loop->run();
        $session->stop();

        return self::SUCCESS;
    }
}

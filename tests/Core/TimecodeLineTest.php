<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Protocol\LtcClock;
use Core\Protocol\LtcDecoder;
use Core\Protocol\LtcEncoder;
use Core\Protocol\LtcFrame;
use Core\Protocol\LtcLine;
use Core\Protocol\MtcReader;
use Core\Protocol\MtcWriter;
use Core\Protocol\TimecodeFrame;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Timecode of lines: longitudinal by an encoder and a decoder of others, and MIDI time code by the standard's examples. */
final class TimecodeLineTest extends TestCase
{
    private const RATE = 48_000;

    private static ?\FFI $foreign = null;

    /** The library of Debian. */
    private static function foreign(): \FFI
    {
        return self::$foreign ??= \FFI::cdef(
            <<<'C'
            typedef struct { char timezone[6]; unsigned char years, months, days, hours, mins, secs, frame; } SMPTETimecode;
            typedef struct { unsigned char bits[10]; } LTCFrame;
            typedef struct {
                LTCFrame ltc; long long off_start; long long off_end; int reverse; float biphase_tics[80];
                unsigned char sample_min; unsigned char sample_max; double volume;
            } LTCFrameExt;
            void* ltc_encoder_create(double sample_rate, double fps, int standard, int flags);
            void ltc_encoder_free(void *e);
            void ltc_encoder_set_timecode(void *e, SMPTETimecode *t);
            void ltc_encoder_set_user_bits(void *e, unsigned long data);
            int ltc_encoder_inc_timecode(void *e);
            int ltc_encoder_set_volume(void *e, double dBFS);
            void ltc_encoder_encode_frame(void *e);
            int ltc_encoder_get_bufferptr(void *e, unsigned char **buf, int flush);
            void* ltc_decoder_create(int apv, int queue_size);
            int ltc_decoder_free(void *d);
            void ltc_decoder_write(void *d, unsigned char *buf, size_t size, long long posinfo);
            int ltc_decoder_read(void *d, LTCFrameExt *frame);
            void ltc_frame_to_time(SMPTETimecode *t, LTCFrame *f, int flags);
            C
            ,
            'libltc.so.11',
        );
    }

    /**
     * What the foreign encoder makes.
     *
     * @param  array{int, int, int, int}  $from  hours, minutes, seconds, frames
     * @return list<float> samples
     */
    private static function line(array $from, float $fps, int $frames, int $user = 0, float $dbfs = -3.0): array
    {
        $ltc = self::foreign();
        $encoder = $ltc->ltc_encoder_create(self::RATE, $fps, $fps === 25.0 ? 1 : ($fps < 25 ? 3 : 0), 4);
        $ltc->ltc_encoder_set_volume($encoder, $dbfs);
        $time = $ltc->new('SMPTETimecode');
        [$time->hours, $time->mins, $time->secs, $time->frame] = $from;
        $time->timezone[0] = '+';
        $ltc->ltc_encoder_set_timecode($encoder, \FFI::addr($time));
        $ltc->ltc_encoder_set_user_bits($encoder, $user);
        $samples = [];
        $buffer = $ltc->new('unsigned char *');
        for ($i = 0; $i < $frames; $i++) {
            $ltc->ltc_encoder_encode_frame($encoder);
            $size = $ltc->ltc_encoder_get_bufferptr($encoder, \FFI::addr($buffer), 1);
            array_push(
                $samples,
                ...array_map(
                    static fn (int $byte): float => ($byte - 128) / 128,
                    array_values((array) unpack('C*', \FFI::string($buffer, $size))),
                ),
            );
            $ltc->ltc_encoder_inc_timecode($encoder);
        }
        $ltc->ltc_encoder_free($encoder);

        return $samples;
    }

    /** @return list<LtcFrame> */
    private static function decoded(array $samples, int $rate = self::RATE): array
    {
        $decoder = new LtcDecoder($rate);
        $frames = [];
        // In pieces, as it comes.
        foreach (array_chunk($samples, 1000) as $some) {
            array_push($frames, ...$decoder->read($some));
        }

        return [...$frames, ...array_filter([$decoder->finish()])];
    }

    /** @param  list<LtcFrame>  $frames */
    private static function texts(array $frames): array
    {
        return array_map(static fn (LtcFrame $frame): string => $frame->timecode->text(), $frames);
    }

    #[DataProvider('lines')]
    public function test_a_line_by_another_encoder_is_read_frame_by_frame(float $fps, array $from, array $texts): void
    {
        $samples = self::line($from, $fps, count($texts), 0x1A2B3C4D);
        $frames = self::decoded($samples);
        $read = self::texts($frames);
        self::assertSame($texts, $read, 'From the first one to the last.');
        foreach ($frames as $i => $frame) {
            self::assertSame(0x1A2B3C4D, $frame->userBits);
            self::assertFalse($frame->isReversed);
            self::assertEqualsWithDelta($i * (self::RATE / $fps), $frame->start, 3.0, "frame $i");
        }
    }

    public static function lines(): array
    {
        return [
            '25' => [
                25.0,
                [9, 59, 59, 22],
                ['09:59:59:22', '09:59:59:23', '09:59:59:24', '10:00:00:00', '10:00:00:01'],
            ],
            '24' => [
                24.0,
                [23, 59, 59, 21],
                ['23:59:59:21', '23:59:59:22', '23:59:59:23', '00:00:00:00', '00:00:00:01'],
            ],
            '23.976' => [24000 / 1001, [1, 2, 3, 4], ['01:02:03:04', '01:02:03:05', '01:02:03:06', '01:02:03:07']],
            '30' => [30.0, [0, 0, 0, 28], ['00:00:00:28', '00:00:00:29', '00:00:01:00', '00:00:01:01', '00:00:01:02']],
            '29.97, dropping numbers' => [
                30000 / 1001,
                [0, 0, 59, 27],
                ['00:00:59;27', '00:00:59;28', '00:00:59;29', '00:01:00;02', '00:01:00;03'],
            ],
        ];
    }

    public function test_backwards_upside_down_and_quiet_it_is_read_as_well(): void
    {
        $samples = self::line([1, 2, 3, 4], 25.0, 12, 0xFFFFFFFF);
        $upward = self::texts(self::decoded($samples));
        self::assertSame($upward, self::texts(self::decoded(array_map(static fn (float $x): float => -$x, $samples))));
        $frames = self::decoded(array_reverse($samples));
        self::assertGreaterThanOrEqual(10, count($frames));
        self::assertSame(array_reverse($upward), self::texts($frames));
        foreach ($frames as $i => $frame) {
            self::assertTrue($frame->isReversed);
            self::assertSame(0xFFFFFFFF, $frame->userBits);
            $number = $frame->timecode->frames;
            // Frame n from 4 lies at (n − 4) · 1920; backwards its end comes first, at count − (n − 3) · 1920.
            self::assertEqualsWithDelta(count($samples) - ($number - 3) * 1920, $frame->start, 3.0, "frame $i");
        }
        $quiet = self::line([1, 2, 3, 4], 25.0, 12, 0, -30.0);
        self::assertLessThan(0.04, max($quiet));
        self::assertGreaterThanOrEqual(10, count(self::decoded($quiet)));
        // With another middle, as a line without its coupling has.
        $off = array_map(static fn (float $x): float => $x * 0.3 + 0.4, $samples);
        self::assertGreaterThanOrEqual(10, count(self::decoded($off)));
    }

    #[DataProvider('speeds')]
    public function test_at_half_and_twice_its_speed_and_while_that_changes(float $from, float $to): void
    {
        $samples = self::line([1, 2, 3, 4], 25.0, 60);
        // Played at a speed that goes evenly from one to the other over the samples that come out.
        $played = [];
        $at = 0.0;
        while ($at < count($samples) - 1) {
            $i = (int) $at;
            $played[] = $samples[$i] + ($at - $i) * ($samples[$i + 1] - $samples[$i]);
            $at += $from + ($to - $from) * ($at / count($samples));
        }
        $read = self::texts(self::decoded($played));
        self::assertGreaterThanOrEqual(56, count($read));
        $first = (int) substr($read[0], -2);
        self::assertLessThanOrEqual(7, $first);
        foreach ($read as $i => $text) {
            $frame = 3 * 25 + $first + $i;
            self::assertSame(sprintf('01:02:%02d:%02d', intdiv($frame, 25), $frame % 25), $text);
        }
    }

    public static function speeds(): array
    {
        return ['half' => [0.5, 0.5], 'twice' => [2.0, 2.0], 'slower' => [1.6, 0.6], 'faster' => [0.6, 1.9]];
    }

    public function test_through_noise_of_a_tenth_it_is_read_without_a_gap(): void
    {
        mt_srand(3);
        $samples = self::line([1, 2, 3, 0], 25.0, 100);
        $power = sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, $samples)) / count($samples));
        $noise = static function () use ($power): float {
            // Gaussian, by Box and Muller, 20 dB below.
            return $power *
                0.1 *
                sqrt(-2 * log((mt_rand() + 1) / (mt_getrandmax() + 2))) *
                cos((2 * M_PI * mt_rand()) / mt_getrandmax());
        };
        $frames = self::decoded(array_map(static fn (float $x): float => $x + $noise(), $samples));
        self::assertGreaterThanOrEqual(97, count($frames));
        foreach ($frames as $i => $frame) {
            $n = (int) round($frame->start / 1920);
            self::assertSame(sprintf('01:02:%02d:%02d', 3 + intdiv($n, 25), $n % 25), $frame->timecode->text());
            self::assertEqualsWithDelta($n * 1920, $frame->start, 0.001 * self::RATE);
        }
        self::assertSame([], self::decoded(array_map(static fn (): float => $noise(), range(1, self::RATE))));
        self::assertSame([], self::decoded(array_fill(0, self::RATE, 0.0)));
    }

    public function test_it_locks_again_after_a_gap_and_at_another_rate(): void
    {
        $line = [
            ...self::line([1, 0, 0, 0], 25.0, 10),
            ...array_fill(0, 20_000, 0.0),
            ...self::line([2, 0, 0, 0], 30.0, 10),
            ...self::line([0, 0, 0, 0], 24.0, 10),
        ];
        $read = self::texts(self::decoded($line));
        foreach (['01', '02', '00'] as $hour) {
            self::assertGreaterThanOrEqual(
                7,
                count(array_filter($read, static fn (string $t): bool => str_starts_with($t, $hour))),
            );
        }
    }

    public function test_what_is_written_another_decoder_reads(): void
    {
        $ltc = self::foreign();
        foreach ([[25.0, false], [30000 / 1001, true], [24.0, false]] as [$fps, $drops]) {
            $nominal = (int) round($fps);
            $encoder = new LtcEncoder(self::RATE, $fps);
            $decoder = $ltc->ltc_decoder_create((int) (self::RATE / $fps), 64);
            $frame = new TimecodeFrame(23, 58, 59, $nominal - 3, $drops);
            $expected = [];
            for ($i = 0; $i < 20; $i++) {
                $samples = $encoder->write($frame, 0x12345678);
                $expected[] = $frame->text();
                $bytes = implode(
                    '',
                    array_map(static fn (float $x): string => chr((int) round(128 + 127 * $x)), $samples),
                );
                $buffer = $ltc->new('unsigned char['.strlen($bytes).']');
                \FFI::memcpy($buffer, $bytes, strlen($bytes));
                $ltc->ltc_decoder_write($decoder, $buffer, strlen($bytes), 0);
                $frame = $frame->next($nominal);
            }
            $read = [];
            $one = $ltc->new('LTCFrameExt');
            $time = $ltc->new('SMPTETimecode');
            while ($ltc->ltc_decoder_read($decoder, \FFI::addr($one)) === 1) {
                $ltc->ltc_frame_to_time(\FFI::addr($time), \FFI::addr($one->ltc), 0);
                $read[] = sprintf(
                    '%02d:%02d:%02d%s%02d',
                    $time->hours,
                    $time->mins,
                    $time->secs,
                    ($one->ltc->bits[1] & 4) !== 0 ? ';' : ':',
                    $time->frame,
                );
            }
            $ltc->ltc_decoder_free($decoder);
            self::assertGreaterThanOrEqual(17, count($read), "$fps");
            $from = (int) array_search($read[0], $expected, true);
            self::assertSame(array_slice($expected, $from, count($read)), $read);
        }
        // And ours reads its own, exactly where it lies.
        $encoder = new LtcEncoder(44_100, 25.0);
        $samples = [];
        for ($i = 0; $i < 10; $i++) {
            array_push($samples, ...$encoder->write(new TimecodeFrame(1, 2, 3, $i), 0xCAFE));
        }
        foreach (self::decoded($samples, 44_100) as $frame) {
            self::assertEqualsWithDelta($frame->timecode->frames * 1764, $frame->start, 0.6);
            self::assertSame(0xCAFE, $frame->userBits);
        }
    }

    public function test_a_frame_is_a_time_by_its_rate_and_its_flag(): void
    {
        $at = static fn (string $rate, bool $drops, int ...$n): int => (new TimecodeFrame(
            $n[0],
            $n[1],
            $n[2],
            $n[3],
            $drops,
        ))->at(FrameRate::of($rate));
        self::assertSame(
            3_661 * Flicks::PER_SECOND + 10 * intdiv(Flicks::PER_SECOND, 25),
            $at('25', false, 1, 1, 1, 10),
        );
        $frame = FrameRate::of('29.97')->flicksPerFrame;
        // An hour of dropped numbers is 107,892 frames; of all numbers 108,000.
        self::assertSame(
            [107_892 * $frame, 108_000 * $frame],
            [$at('29.97', true, 1, 0, 0, 0), $at('29.97', false, 1, 0, 0, 0)],
        );
        self::assertSame(1_800 * $frame, $at('29.97', true, 0, 1, 0, 2), 'The frame after 00:00:59;29.');
        self::assertSame('00:10:00;00', (new TimecodeFrame(0, 9, 59, 29, true))->next(30)->text());
        self::assertSame('00:00:00:00', (new TimecodeFrame(23, 59, 59, 23))->next(24)->text());
        self::assertFalse((new TimecodeFrame(0, 1, 0, 0, true))->isValid());
        self::assertFalse((new TimecodeFrame(24, 0, 0, 0))->isValid());
        $this->expectException(InvalidValue::class);
        $at('25', false, 0, 0, 0, 25);
    }

    /** @return list<array{string, int, int}|null> */
    private static function mtc(string $hex): array
    {
        $reader = new MtcReader();
        $found = [];
        foreach (explode(' ', $hex) as $message) {
            $told = $reader->read(array_values((array) unpack('C*', (string) hex2bin($message))));
            $found[] = $told === null ? null : [$told['timecode']->text(), $told['time'], $told['direction']];
        }

        return $found;
    }

    public function test_midi_time_code_comes_in_quarters_both_ways_and_whole(): void
    {
        $frame = intdiv(Flicks::PER_SECOND, 25);
        // 01:37:52:16 at 25, the standard's example at another rate: pieces 0 to 7.
        $forward = 'f100 f111 f124 f133 f145 f152 f161 f172';
        $time = ((97 * 60 + 52) * 25 + 16) * $frame;
        self::assertSame(
            [...array_fill(0, 7, null), ['01:37:52:16', $time + intdiv(7 * $frame, 4), 1]],
            self::mtc($forward),
        );
        // The next eight are two frames later: 18.
        self::assertSame(
            ['01:37:52:18', $time + 2 * $frame + intdiv(7 * $frame, 4), 1],
            self::mtc("$forward f102 f111 f124 f133 f145 f152 f161 f172")[15],
        );
        $backward = implode(' ', array_reverse(explode(' ', $forward)));
        self::assertSame(['01:37:52:16', $time - intdiv(7 * $frame, 4), -1], self::mtc($backward)[7]);
        // Joined in the middle, it waits for the next beginning; a turn begins anew.
        self::assertSame(
            [null, null, null, null, ...array_fill(0, 7, null), ['01:37:52:16', $time + intdiv(7 * $frame, 4), 1]],
            self::mtc("f145 f152 f161 f172 $forward"),
        );
        self::assertSame([null, null, null, null, null], self::mtc('f100 f111 f124 f111 f100'));
        // Whole, it stands there: at 24, 25, 29.97 and 30.
        self::assertSame(
            [['10:20:30;15', (new TimecodeFrame(10, 20, 30, 15, true))->at(FrameRate::of('29.97')), 0]],
            self::mtc('f07f7f01014a141e0ff7'),
        );
        self::assertSame([null, null], self::mtc('f07f7f0101013c0000f7 f07f7f01012000001ef7'));
        self::assertSame(
            ['f100', 'f111', 'f124', 'f133', 'f145', 'f152', 'f161', 'f172'],
            array_map(bin2hex(...), MtcReader::quarters(new TimecodeFrame(1, 37, 52, 16), '25')),
        );
    }

    public function test_a_line_tells_its_rate_by_its_numbers_and_its_length(): void
    {
        foreach (
            ['23.976' => 24000 / 1001, '24' => 24.0, '25' => 25.0, '29.97' => 30000 / 1001, '30' => 30.0] as $name => $fps
        ) {
            $nominal = (int) round($fps);
            foreach ($nominal === 30 && $name !== 30 ? [true, false] : [false] as $drops) {
                $encoder = new LtcEncoder(self::RATE, $fps);
                $samples = [];
                $frame = new TimecodeFrame(1, 0, 0, 0, $drops);
                for ($i = 0; $i < 40; $i++) {
                    array_push($samples, ...$encoder->write($frame));
                    $frame = $frame->next($nominal);
                }
                $clock = new LtcClock(self::RATE);
                $told = [];
                foreach (self::decoded($samples) as $one) {
                    $told = $clock->read($one);
                }
                self::assertSame((string) $name, ($told['rate'] ?? null)?->name, "$name ".json_encode($drops));
                // Forty frames after an hour of its numbers: at the end of the last one.
                $rate = FrameRate::of((string) $name);
                $hour = ($nominal * 3600 - ($drops ? 108 : 0)) * $rate->flicksPerFrame;
                self::assertSame($hour + 40 * $rate->flicksPerFrame, $told['time']);
                self::assertEqualsWithDelta((40 * self::RATE) / $fps, $told['end'], 3);
            }
        }
        // Backwards, at its end it is where the frame begins.
        $line = array_reverse(self::line([0, 0, 1, 0], 25.0, 30));
        $clock = new LtcClock(self::RATE);
        $told = [];
        foreach (self::decoded($line) as $one) {
            $told = $clock->read($one);
        }
        self::assertSame(Flicks::PER_SECOND, $told['time']);
    }

    public function test_a_clock_is_written_as_quarters_that_say_it_again(): void
    {
        foreach (
            ['24' => '24', '25' => '25', '29.97' => '29.97', '30' => '30', '50' => '25', '60' => '30'] as $clock => $as
        ) {
            $writer = new MtcWriter(FrameRate::of((string) $clock));
            self::assertSame($as, $writer->rate->name);
            $reader = new MtcReader();
            $said = 0;
            // From just before a minute, where numbers are dropped, in steps of a quarter.
            $from = 59 * Flicks::PER_SECOND;
            for (
                $number = intdiv($from, $writer->quarter());
                $number < intdiv($from, $writer->quarter()) + 400;
                $number++
            ) {
                $time = $number * $writer->quarter();
                $told = $reader->read(array_values((array) unpack('C*', $writer->quarterAt($time))));
                if ($told !== null) {
                    self::assertSame([$time, 1, $as], [$told['time'], $told['direction'], $told['rate']]);
                    $said++;
                }
            }
            self::assertGreaterThanOrEqual(49, $said);
            $whole = $reader->read(array_values((array) unpack('C*', $writer->wholeAt(3_661 * Flicks::PER_SECOND))));
            self::assertNotNull($whole);
            self::assertEqualsWithDelta(3_661, $whole['time'] / Flicks::PER_SECOND, 0.042);
        }
    }

    #[DataProvider('parts')]
    public function test_any_part_of_a_line_is_that_part_of_the_whole(string $rate, string $first, bool $drops): void
    {
        // An hour and a third of a second after midnight, in pieces of a second, as they are asked for.
        $line = new LtcLine(FrameRate::of($rate), 3_600 * Flicks::PER_SECOND);
        $whole = $line->samples(0, 3 * LtcLine::RATE);
        self::assertCount(3 * LtcLine::RATE, $whole);
        $pieces = [];
        foreach ([0, 1, 2] as $second) {
            array_push($pieces, ...$line->samples($second * LtcLine::RATE, LtcLine::RATE));
        }
        $apart = array_filter(array_keys($whole), static fn (int $i): bool => abs($whole[$i] - $pieces[$i]) > 0.35);
        self::assertSame([], $apart, 'but for an edge between two samples at a seam');
        // Read again: frame by frame, each where its clock says, none left out.
        $read = (new LtcDecoder(LtcLine::RATE))->read($pieces);
        self::assertSame($first, $read[0]->timecode->text());
        $nominal = FrameRate::of($rate)->nominal();
        $nominal = $nominal > 30 ? intdiv($nominal, 2) : $nominal;
        foreach ($read as $i => $frame) {
            self::assertSame($drops, $frame->timecode->drops);
            $i === 0 || self::assertSame($read[$i - 1]->timecode->next($nominal)->text(), $frame->timecode->text());
        }
        self::assertGreaterThan(2.8 * $nominal, count($read));
    }

    /** @return array<string, array{string, string, bool}> rate, the first whole frame, and whether it drops numbers */
    public static function parts(): array
    {
        return [
            'at 24' => ['24', '01:00:00:00', false],
            'at 25' => ['25', '01:00:00:00', false],
            'at 30' => ['30', '01:00:00:00', false],
            '50 in 25' => ['50', '01:00:00:00', false],
            // 3,600 s are 107,892.1 frames of 29.97: 01:00:00;00 is frame 107,892, and begins 3.6 ms before.
            'at 29.97' => ['29.97', '01:00:00;01', true],
            // Of 23.976 they are 86,313.6 frames.
            'at 23.976' => ['23.976', '00:59:56:10', false],
        ];
    }
}

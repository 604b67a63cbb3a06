<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Control;
use Core\Bindings\MidiControls;
use Core\Protocol\Malformed;
use Core\Protocol\MidiStream;
use Core\Protocol\MtcReader;
use Core\Protocol\RtpMidi;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

final class MidiTest extends TestCase
{
    /** @return list<string> messages as bytes in hex */
    private static function messages(MidiStream $stream, string $hex): array
    {
        return array_map(
            static fn (array $m): string => bin2hex(implode('', array_map(chr(...), $m))),
            $stream->read((string) hex2bin(str_replace(' ', '', $hex))),
        );
    }

    /** @return list<array{string, list<mixed>}> */
    private static function controls(string $hex): array
    {
        [$stream, $controls, $found] = [new MidiStream(), new MidiControls(), []];
        foreach ($stream->read((string) hex2bin(str_replace(' ', '', $hex))) as $message) {
            array_push($found, ...$controls->read($message));
        }

        return $found;
    }

    public function test_bytes_become_whole_messages(): void
    {
        $stream = new MidiStream();
        self::assertSame(['903c40', '903c00'], self::messages($stream, '90 3c 40 3c 00'), 'Running status.');
        self::assertSame([], self::messages($stream, 'b0 07'));
        self::assertSame(['f8', 'b00740'], self::messages($stream, 'f8 40'), 'A clock in the middle of another.');
        self::assertSame(['c005', 'c006'], self::messages($stream, 'c0 05 06'));
        self::assertSame(['f07f7f020101f7'], self::messages($stream, 'f0 7f 7f 02 01 01 f7'));
        self::assertSame([], self::messages($stream, '05 06'), 'After a system message, nothing runs on.');
        self::assertSame(2, $stream->strays);
        self::assertSame(['f123', '901020'], self::messages($stream, 'f1 23 90 10 20'));
        self::assertSame(
            ['e00040'],
            self::messages($stream, 'f0 01 02 e0 00 40'),
            'One that breaks off is passed over.',
        );
        self::assertSame(['f6', 'f20102'], self::messages($stream, 'f6 f2 01 02'));
        $flood = new MidiStream();
        self::assertSame([], $flood->read("\xf0".str_repeat("\x01", 1_000_000)."\xf7"));
        self::assertCount(1, $flood->read("\x90\x01\x02"));
    }

    public function test_messages_become_controls(): void
    {
        self::assertSame([['note:1:60', [64]], ['note:1:60', [0]]], self::controls('90 3c 40 80 3c 40'));
        self::assertSame([['bend:16', [8192]], ['bend:1', [16_383]]], self::controls('ef 00 40 e0 7f 7f'));
        self::assertSame([['program:2', [5]], ['pressure:2', [9]]], self::controls('c1 05 d1 09'));
        // 7 and 39 are one control of 14 bits: 1 * 128 + 5.
        self::assertSame([['cc:1:7', [1]], ['cc:1:39', [5]], ['cc14:1:7', [133]]], self::controls('b0 07 01 27 05'));
        self::assertSame([['cc:1:40', [5]]], self::controls('b0 28 05'), 'Alone, it is a control of its own.');
        // Parameter 2 * 128 + 44 = 300, at 64 * 128; then its low byte each time, so that it never falls back.
        self::assertSame(
            [['nrpn:1:300', [8192]], ['nrpn:1:300', [8197]], ['nrpn:1:300', [8198]], ['nrpn:1:300', [8070]]],
            self::controls('b0 63 02 62 2c 06 40 26 05 26 06 06 3f 26 06'),
        );
        self::assertSame(
            [['cc:1:6', [1]]],
            self::controls('b0 65 00 64 00 06 01'),
            'A registered one is none of ours.',
        );
    }

    public function test_show_control_and_machine_control_are_commands(): void
    {
        $command = static function (string $hex): ?array {
            [$name, $sent] = self::controls($hex)[0];

            return MidiControls::command($name, $sent);
        };
        $cue = bin2hex('12.5');
        self::assertSame(['action' => 'go'], $command('f0 7f 7f 02 01 01 f7'));
        self::assertSame(['action' => 'fire', 'cue' => '12.5'], $command("f0 7f 00 02 01 01 $cue f7"));
        self::assertSame(['action' => 'fire', 'cue' => '12.5'], $command("f0 7f 00 02 01 01 $cue 00 31 f7"));
        self::assertSame(['action' => 'hold'], $command('f0 7f 7f 02 01 02 f7'));
        self::assertSame(['action' => 'play'], $command('f0 7f 7f 02 01 03 f7'));
        self::assertSame(['action' => 'fire', 'cue' => '7'], $command('f0 7f 7f 02 01 07 07 f7'));
        self::assertSame(['action' => 'release'], $command('f0 7f 7f 02 01 08 f7'));
        // 2.5 s at 25 frames: 01 in bits 5 and 6 of the hours, 12 or 13 frames.
        self::assertSame(
            ['action' => 'fire', 'cue' => '12.5', 'fade' => (int) round(2.48 * Flicks::PER_SECOND)],
            $command("f0 7f 7f 02 01 04 20 00 02 0c 00 $cue f7"),
        );
        self::assertSame(['action' => 'play'], $command('f0 7f 7f 06 02 f7'));
        self::assertSame(['action' => 'hold'], $command('f0 7f 7f 06 09 f7'));
        self::assertSame(
            ['action' => 'jump', 'time' => (int) (3661.4 * Flicks::PER_SECOND)],
            $command('f0 7f 7f 06 44 06 01 21 01 01 0a 00 f7'),
        );
        foreach (['f0 7f f7', 'f0 7e 7f 06 01 f7', 'f0 7f 7f 02 01 f7', 'f0 7f 7f 06 44 06 01 f7'] as $other) {
            self::assertSame([], self::controls($other), $other);
        }
    }

    public function test_a_control_is_shown_what_it_would_send(): void
    {
        foreach (
            [
                ['note:1:60', 127, '903c7f'],
                ['cc:2:7', 64.4, 'b10740'],
                ['cc14:1:7', 133, 'b00701b02705'],
                ['bend:1', 8192, 'e00040'],
                ['nrpn:1:300', 8197, 'b06302b0622cb00640b02605'],
                ['cc:1:7', 1000, 'b0077f'],
                ['cc:1:7', -1, 'b00700'],
            ] as [$name, $raw, $bytes]
        ) {
            self::assertSame($bytes, bin2hex(MidiControls::feedback(Control::of($name), $raw)), $name);
        }
        self::assertSame('', MidiControls::feedback(Control::of('key:KeyG'), 1));
    }

    public function test_whatever_comes_over_the_network_is_read_or_malformed(): void
    {
        mt_srand(42);
        $valid = [
            RtpMidi::encode(1, 2, 3, ["\x90\x01\x02", "\xb0\x01\x02"]),
            RtpMidi::sessionPacket('IN', 1, 2, 'Box'),
            RtpMidi::clockPacket(1, 0, [1, 2, 3]),
            RtpMidi::receiverFeedback(1, 2),
            "\x80\x61\0\1\0\0\0\1\0\0\0\1\xa5\x00\xf0\x01\x02\xf7",
        ];
        [$stream, $controls, $timecode, $malformed, $events] = [
            new MidiStream(),
            new MidiControls(),
            new MtcReader(),
            0,
            0,
        ];
        $before = memory_get_usage();
        for ($i = 0; $i < 60_000; $i++) {
            $packet = $valid[$i % count($valid)];
            for ($n = mt_rand(0, 4); $n > 0; $n--) {
                $packet[mt_rand(0, strlen($packet) - 1)] = chr(mt_rand(0, 255));
            }
            $packet = mt_rand(0, 3) === 0 ? substr($packet, 0, mt_rand(0, strlen($packet))) : $packet;
            try {
                if (RtpMidi::session($packet) !== null) {
                    continue;
                }
                foreach ($stream->read(RtpMidi::decode($packet)['bytes']) as $message) {
                    $timecode->read($message);
                    foreach ($controls->read($message) as [$name, $sent]) {
                        MidiControls::command($name, $sent);
                        $events++;
                    }
                }
            } catch (Malformed) {
                $malformed++;
            }
        }
        self::assertGreaterThan(10_000, $malformed);
        self::assertGreaterThan(1_000, $events);
        self::assertLessThan(200_000, memory_get_usage() - $before);
    }

    public function test_a_packet_of_another_maker_is_read_with_its_times_and_its_journal(): void
    {
        // A journal follows, the first command has a time of two bytes, the second runs on, then a real-time message.
        $list = "\x81\x00\x90\x3c\x40\x00\x3e\x41\x05\xf8";
        $packet = pack('CCnNN', 0x80, 0x61, 9, 1000, 7).chr(0x60 | strlen($list)).$list."\x20\x00\x05";
        self::assertSame(
            ['sequence' => 9, 'timestamp' => 1000, 'ssrc' => 7, 'bytes' => "\x90\x3c\x40\x3e\x41\xf8"],
            RtpMidi::decode($packet),
        );
        // In two parts, a system exclusive message is one again.
        $parts = ["\xf0\x7f\x7f\x02\xf0", "\xf7\x01\x01\xf7"];
        $stream = new MidiStream();
        $messages = [];
        foreach ($parts as $part) {
            $of = pack('CCnNN', 0x80, 0x61, 1, 1, 7).chr(strlen($part)).$part;
            array_push($messages, ...$stream->read(RtpMidi::decode($of)['bytes']));
        }
        self::assertSame([[0xF0, 0x7F, 0x7F, 0x02, 0x01, 0x01, 0xF7]], $messages);
        // Longer lists have their length in two bytes.
        self::assertSame(
            str_repeat("\x90\x01\x02", 20),
            RtpMidi::decode(RtpMidi::encode(1, 1, 1, array_fill(0, 20, "\x90\x01\x02")))['bytes'],
        );
    }
}

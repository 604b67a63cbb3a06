<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Protocol\SerialDmx;
use PHPUnit\Framework\TestCase;

/** DMX by a serial interface, byte by byte. */
final class SerialDmxTest extends TestCase
{
    public function test_slots_are_sent_in_a_frame_with_a_start_code_and_at_least_twenty_four_of_them(): void
    {
        $short = SerialDmx::send("\xFF\x7E");
        // 1 start code and 24 slots: 25 bytes.
        self::assertSame('7e061900'.'00ff7e'.str_repeat('00', 22).'e7', bin2hex($short));
        $long = SerialDmx::send(str_repeat("\x01", 600));
        self::assertSame(['7e060102', 518, 'e7'], [bin2hex(substr($long, 0, 4)), strlen($long), bin2hex($long[-1])]);
    }

    public function test_packets_are_found_whole_wherever_the_bytes_are_cut(): void
    {
        // Slots that look like begins and ends are slots.
        $slots = "\x7E\xE7\x05\x00".str_repeat("\x09", 20);
        $frame = "\x7E\x05".pack('v', strlen($slots) + 2)."\0\0$slots\xE7";
        $bytes = "\x00\x11$frame\xAA$frame";
        for ($cut = 0; $cut <= strlen($bytes); $cut++) {
            $reader = new SerialDmx();
            $found = [...$reader->read(substr($bytes, 0, $cut)), ...$reader->read(substr($bytes, $cut))];
            self::assertSame([$slots, $slots], $found, "cut at $cut");
            self::assertSame(3, $reader->bad);
        }
    }

    public function test_other_messages_other_start_codes_and_bad_packets_are_passed_over(): void
    {
        $frame = static fn (int $label, string $data): string => "\x7E".
            pack('Cv', $label, strlen($data)).
            $data.
            "\xE7";
        $reader = new SerialDmx();
        self::assertSame(
            ["\x01"],
            $reader->read(
                $frame(3, 'settings').
                    $frame(5, "\x01\0\x05").
                    $frame(5, "\0\xCC\x05").
                    $frame(5, "\0\0").
                    $frame(5, "\0\0\x01"),
            ),
        );
        self::assertSame(0, $reader->bad);
    }

    public function test_noise_is_counted_and_what_follows_it_is_heard(): void
    {
        mt_srand(7);
        $reader = new SerialDmx();
        $before = memory_get_usage();
        for ($i = 0; $i < 2000; $i++) {
            $noise = '';
            for ($n = mt_rand(0, 300); $n > 0; $n--) {
                $noise .= chr(mt_rand(0, 255));
            }
            $reader->read($noise);
        }
        self::assertLessThan(1_000_000, memory_get_usage() - $before);
        // What looked like the beginning of a message may swallow as much as one is long.
        $frame = "\x7E\x05\x03\x00\0\0\x2A\xE7";
        self::assertContains("\x2A", $reader->read(str_repeat($frame, 200)));
        self::assertGreaterThan(100_000, $reader->bad);
    }
}

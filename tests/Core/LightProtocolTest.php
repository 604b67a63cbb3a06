<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Protocol\ArtNet;
use Core\Protocol\Ddp;
use Core\Protocol\Malformed;
use Core\Protocol\Sacn;
use Core\Protocol\TimecodeFrame;
use PHPUnit\Framework\TestCase;

/** Packets of the lighting network, byte for byte as the standards have them, and what is none. */
final class LightProtocolTest extends TestCase
{
    private static function hex(string $bytes): string
    {
        return implode(' ', str_split(bin2hex($bytes), 2));
    }

    public function test_art_net_data(): void
    {
        // Port-address 0x1234: net 18, sub-net 3, universe 4.
        self::assertSame(
            '41 72 74 2d 4e 65 74 00 00 50 00 0e 07 00 34 12 00 04 01 02 03 00',
            self::hex(ArtNet::dmx(0x1234, 7, "\x01\x02\x03")),
        );
        self::assertSame(
            ['op' => ArtNet::DMX, 'address' => 0x1234, 'sequence' => 7, 'slots' => "\x01\x02\x03\x00"],
            ArtNet::decode(ArtNet::dmx(0x1234, 7, "\x01\x02\x03")),
        );
        self::assertSame(18 + 512, strlen(ArtNet::dmx(0, 0, str_repeat("\xFF", 512))));
        self::assertSame('41 72 74 2d 4e 65 74 00 00 52 00 0e 00 00', self::hex(ArtNet::sync()));
        self::assertSame('41 72 74 2d 4e 65 74 00 00 20 00 0e 02 00', self::hex(ArtNet::poll()));
        self::assertSame(['op' => ArtNet::POLL], ArtNet::decode(ArtNet::poll()));
    }

    public function test_art_net_nodes_say_who_they_are(): void
    {
        $reply = ArtNet::reply('10.0.3.7', 'Mast', 'Mast node by the quay', [0x123, 0x124]);
        self::assertSame(239, strlen($reply));
        // Identity, code, address, port 0x1936 with its low byte first; net 1, sub-net 2; two ports that put out DMX,
        // universes 3 and 4.
        self::assertSame('41 72 74 2d 4e 65 74 00 00 21 0a 00 03 07 36 19', self::hex(substr($reply, 0, 16)));
        self::assertSame(
            ['01 02', '00 02', '80 80 00 00', '03 04 00 00'],
            [
                self::hex(substr($reply, 18, 2)),
                self::hex(substr($reply, 172, 2)),
                self::hex(substr($reply, 174, 4)),
                self::hex(substr($reply, 190, 4)),
            ],
        );
        $said = ArtNet::decode($reply);
        self::assertSame(
            ['10.0.3.7', 'Mast', 'Mast node by the quay', [0x123, 0x124], 1],
            [$said['ip'] ?? '', $said['name'] ?? '', $said['long'] ?? '', $said['ports'] ?? [], $said['bind'] ?? 0],
        );
        // An older node that sends less, and one whose name is not text.
        self::assertSame([0x123, 0x124], ArtNet::decode(substr($reply, 0, 200))['ports'] ?? []);
        self::assertTrue(
            mb_check_encoding(ArtNet::decode(substr_replace($reply, "\xFF\xFE", 26, 2))['name'] ?? '', 'UTF-8'),
        );
        self::assertSame([], ArtNet::decode(ArtNet::reply('10.0.0.1', 'In only', '', []))['ports'] ?? null);
    }

    public function test_sacn_data(): void
    {
        $cid = implode('', array_map(chr(...), range(0, 15)));
        $packet = Sacn::data($cid, 'Quay', 258, 5, "\x0A\x0B", 120, 7, true);
        self::assertSame(128, strlen($packet));
        self::assertSame(
            '00 10 00 00 41 53 43 2d 45 31 2e 31 37 00 00 00 70 70 00 00 00 04',
            self::hex(substr($packet, 0, 22)),
        );
        self::assertSame($cid, substr($packet, 22, 16));
        self::assertSame('70 5a 00 00 00 02 51 75 61 79 00', self::hex(substr($packet, 38, 11)));
        // Priority 120, synchronised by universe 7, sequence 5, ended, universe 258.
        self::assertSame('78 00 07 05 40 01 02', self::hex(substr($packet, 108, 7)));
        self::assertSame('70 0d 02 a1 00 00 00 01 00 03 00 0a 0b', self::hex(substr($packet, 115)));
        self::assertSame(
            [
                'kind' => 'data',
                'cid' => $cid,
                'source' => 'Quay',
                'universe' => 258,
                'sequence' => 5,
                'slots' => "\x0A\x0B",
                'priority' => 120,
                'sync' => 7,
                'ends' => true,
                'preview' => false,
                'start' => 0,
            ],
            Sacn::decode($packet),
        );
        // A whole universe is 638 bytes, its lengths 0x726E, 0x7258 and 0x720B.
        $full = Sacn::data($cid, 'Quay', 1, 0, str_repeat("\0", 512));
        self::assertSame(
            [638, '72 6e', '72 58', '72 0b'],
            [
                strlen($full),
                self::hex(substr($full, 16, 2)),
                self::hex(substr($full, 38, 2)),
                self::hex(substr($full, 115, 2)),
            ],
        );
        // A name of 100 letters with two bytes each is cut at a letter.
        self::assertSame(
            str_repeat('é', 31),
            Sacn::decode(Sacn::data($cid, str_repeat('é', 100), 1, 0, ''))['source'] ?? '',
        );
        self::assertSame(['239.255.0.1', '239.255.250.214'], [Sacn::multicast(1), Sacn::multicast(Sacn::DISCOVERY)]);
    }

    public function test_sacn_synchronisation_and_lists_of_universes(): void
    {
        $cid = str_repeat("\xAB", 16);
        $sync = Sacn::sync($cid, 7, 200);
        self::assertSame(
            [49, '70 21 00 00 00 08', '70 0b 00 00 00 01 c8 00 07 00 00'],
            [strlen($sync), self::hex(substr($sync, 16, 6)), self::hex(substr($sync, 38))],
        );
        self::assertSame(['kind' => 'sync', 'cid' => $cid, 'sequence' => 200, 'universe' => 7], Sacn::decode($sync));
        $pages = Sacn::discovery($cid, 'Quay', range(600, 1));
        self::assertCount(2, $pages);
        self::assertSame([120 + 1024, 120 + 176], array_map(strlen(...), $pages));
        $found = array_map(Sacn::decode(...), $pages);
        self::assertSame(
            [range(1, 600), [0, 1], [1, 1]],
            [
                array_merge(...array_map(static fn (array $p): array => $p['universes'] ?? [], $found)),
                array_column($found, 'page'),
                array_column($found, 'last'),
            ],
        );
        self::assertCount(1, Sacn::discovery($cid, 'Quay', []));
    }

    public function test_ddp_data(): void
    {
        [$one] = Ddp::data(0x01020304, "\xAA\xBB", 3);
        self::assertSame('41 03 00 01 01 02 03 04 00 02 aa bb', self::hex($one));
        $parts = Ddp::data(512, str_repeat("\x01", 3000), 15);
        self::assertSame(
            [[512, 1440, 15, false], [1952, 1440, 1, false], [3392, 120, 2, true]],
            array_map(static function (string $p): array {
                $d = Ddp::decode($p);

                return [$d['offset'], strlen($d['bytes']), $d['sequence'], $d['push']];
            }, $parts),
        );
        // With a time code between head and data.
        self::assertSame("\x07", Ddp::decode("\x51\x01\x00\x01\0\0\0\0\0\x01\x12\x34\x56\x78\x07")['bytes']);
    }

    public function test_what_is_none_is_refused_and_nothing_else_happens(): void
    {
        $good = [
            ArtNet::dmx(3, 1, str_repeat("\x05", 40)),
            ArtNet::reply('10.0.0.2', 'N', 'Node', [1, 2, 3, 4]),
            Sacn::data(str_repeat('c', 16), 'Quay', 9, 1, str_repeat("\x05", 40)),
            Sacn::sync(str_repeat('c', 16), 3, 1),
            Sacn::discovery(str_repeat('c', 16), 'Quay', [1, 2, 3])[0],
            Ddp::data(0, str_repeat("\x05", 40), 1)[0],
        ];
        mt_srand(12);
        [$taken, $refused] = [0, 0];
        for ($i = 0; $i < 60_000; $i++) {
            $packet = $good[$i % count($good)];
            // Bytes that changed, what is cut off or too long, and noise.
            for ($k = mt_rand(0, 3); $k > 0; $k--) {
                $packet[mt_rand(0, strlen($packet) - 1)] = chr(mt_rand(0, 255));
            }
            $packet = match ($i % 5) {
                0 => substr($packet, 0, mt_rand(0, strlen($packet))),
                1 => $packet.str_repeat("\xFF", mt_rand(1, 600)),
                2 => random_bytes(mt_rand(1, 700)),
                default => $packet,
            };
            foreach ([ArtNet::decode(...), Sacn::decode(...), Ddp::decode(...)] as $decode) {
                try {
                    $decode($packet);
                    $taken++;
                } catch (Malformed $malformed) {
                    $refused++;
                    self::assertStringContainsString('malformed', $malformed->getMessage());
                }
            }
        }
        self::assertGreaterThan(10_000, min($taken, $refused));
        foreach (
            [
                ArtNet::dmx(1, 1, 'ab')."\0",
                substr(ArtNet::dmx(1, 1, str_repeat('a', 20)), 0, 25),
                "Art-Net\0\x00\x50\x00\x0D\0\0\0\0\0\2ab",
            ] as $i => $packet
        ) {
            try {
                ArtNet::decode($packet);
                self::assertSame(0, $i, 'more bytes than it says are passed over');
            } catch (Malformed) {
                self::assertGreaterThan(0, $i);
            }
        }
    }

    public function test_art_net_carries_timecode(): void
    {
        // The standard's layout: filler, stream, frames, seconds, minutes, hours, type.
        $packet = "Art-Net\0".hex2bin('0097000e'.'0000'.'0c3b3a0902');
        $read = ArtNet::decode($packet);
        self::assertSame('09:58:59;12', ($read['timecode'] ?? null)?->text());
        self::assertSame([ArtNet::TIMECODE, '29.97'], [$read['op'], $read['rate'] ?? null]);
        self::assertSame($packet, ArtNet::timecode(new TimecodeFrame(9, 58, 59, 12, true), '29.97'));
        foreach (['0000'.'0c3b3a09', '0000'.'0c3b3a0904', '0000'.'193b3a0901', '0000'.'0c3c3a0901'] as $bad) {
            try {
                ArtNet::decode("Art-Net\0".hex2bin("0097000e$bad"));
                self::fail("$bad was taken.");
            } catch (Malformed) {
                continue;
            }
        }
    }
}

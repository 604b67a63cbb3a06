<?php

declare(strict_types=1);

namespace Tests\Engine;

use Core\Protocol\ArtNet;
use Core\Protocol\RtpMidi;
use Core\Protocol\Sacn;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** What we send on the lighting network, as the dissectors of a network analyser that others wrote read it. */
final class DissectorsTest extends TestCase
{
    /**
     * @param  list<array{string, int, string}>  $packets  address, port and payload of each
     * @param  list<string>  $fields
     * @param  list<string>  $options  of the analyser besides
     * @return list<list<string>> what is read of each, by field
     */
    private static function read(array $packets, array $fields, array $options = []): array
    {
        // A capture of bare IPv4 (link type 101): each packet with its time and lengths.
        $capture = pack('VvvVVVV', 0xA1B2C3D4, 2, 4, 0, 0, 65_535, 101);
        foreach ($packets as $n => [$address, $port, $payload]) {
            $udp = pack('nnnn', $port, $port, 8 + strlen($payload), 0).$payload;
            $ip = pack(
                'CCnnnCCnNN',
                0x45,
                0,
                20 + strlen($udp),
                $n,
                0,
                1,
                17,
                0,
                ip2long('10.0.0.1'),
                ip2long($address),
            );
            $sum = array_sum((array) unpack('n*', $ip));
            $ip = substr_replace($ip, pack('n', ~(($sum & 0xFFFF) + ($sum >> 16)) & 0xFFFF), 10, 2);
            $capture .= pack('VVVV', 1_000 + $n, 0, strlen($ip.$udp), strlen($ip.$udp)).$ip.$udp;
        }
        $path = (string) tempnam(sys_get_temp_dir(), 'kite');
        try {
            file_put_contents($path, $capture);
            $process = new Process([
                'tshark',
                '-r',
                $path,
                '--enable-heuristic',
                'acn',
                '-o',
                'acn.heuristic_acn:TRUE',
                '-o',
                'acn.dmx_enable:TRUE',
                ...$options,
                '-T',
                'fields',
                '-E',
                'separator=|',
                '-E',
                'occurrence=a',
                ...array_merge(
                    ...array_map(static fn (string $field): array => ['-e', $field], ['_ws.malformed', ...$fields]),
                ),
            ]);
            $process->mustRun();

            return array_map(
                static fn (string $line): array => explode('|', $line),
                explode("\n", rtrim($process->getOutput(), "\n")),
            );
        } finally {
            @unlink($path);
        }
    }

    public function test_art_net_is_read_as_it_is_meant(): void
    {
        $read = self::read(
            [
                ['10.0.3.7', 6454, ArtNet::dmx(0x1234, 7, "\x01\x02\x03\x04")],
                ['10.255.255.255', 6454, ArtNet::poll()],
                ['10.0.0.9', 6454, ArtNet::reply('10.0.3.7', 'Mast', 'Mast node by the quay', [0x123, 0x124])],
                ['10.255.255.255', 6454, ArtNet::sync()],
            ],
            [
                'artnet.header.opcode',
                'artnet.output.sequence',
                'artnet.output.universe',
                'artnet.output.length',
                'artnet.poll_reply.short_name',
                'artnet.poll_reply.long_name',
                'artnet.poll_reply.ip_address',
                'artnet.poll_reply.num_ports',
            ],
        );
        self::assertSame(['', '', '', ''], array_column($read, 0), 'None is malformed.');
        self::assertSame(
            [0x5000, 0x2000, 0x2100, 0x5200],
            array_map(static fn (string $code): int => (int) intval($code, 0), array_column($read, 1)),
        );
        self::assertSame([7, 0x1234, 4], [(int) $read[0][2], (int) $read[0][3], (int) $read[0][4]]);
        self::assertSame(
            ['Mast', 'Mast node by the quay', '10.0.3.7', 2],
            [$read[2][5], $read[2][6], $read[2][7], (int) $read[2][8]],
        );
    }

    public function test_midi_over_the_network_is_read_as_it_is_meant(): void
    {
        $read = self::read(
            [
                ['10.0.0.9', 5004, RtpMidi::sessionPacket('IN', 0x0BADCAFE, 0x1234ABCD, 'Kite Lamp')],
                ['10.0.0.9', 5004, RtpMidi::sessionPacket('OK', 0x0BADCAFE, 0x1234ABCD, 'Kite Lamp')],
                ['10.0.0.9', 5004, RtpMidi::clockPacket(0x1234ABCD, 1, [777, 1_010_000, 0])],
                ['10.0.0.9', 5004, RtpMidi::receiverFeedback(0x1234ABCD, 4711)],
                ['10.0.0.9', 5005, RtpMidi::encode(9, 1000, 0x1234ABCD, ["\x90\x3c\x40", "\xb0\x07\x7f"])],
            ],
            [
                'applemidi.command',
                'applemidi.initiator_token',
                'applemidi.name',
                'applemidi.timestamp2',
                'applemidi.rtp_sequence_number',
                'rtpmidi.note',
                'rtpmidi.velocity',
                'rtpmidi.controller_value',
            ],
            ['-d', 'udp.port==5005,rtp', '-d', 'rtp.pt==97,rtpmidi'],
        );
        self::assertSame(array_fill(0, count($read), ''), array_column($read, 0), 'None is malformed.');
        self::assertSame(
            ['494E', '4F4B', '434B', '5253'],
            array_map(
                static fn (string $code): string => strtoupper(dechex(intval($code, 0))),
                array_column(array_slice($read, 0, 4), 1),
            ),
        );
        self::assertSame(['Kite Lamp', 0x0BADCAFE], [$read[0][3], intval($read[0][2], 0)]);
        self::assertSame(1_010_000, intval($read[2][4], 0), $read[2][4]);
        self::assertSame(4711, intval($read[3][5], 0), $read[3][5]);
        self::assertSame('60|64|127', implode('|', array_slice($read[4], 6)));
    }

    public function test_sacn_is_read_as_it_is_meant(): void
    {
        // Whole universes: of a few slots the analyser reads further than there are.
        $cid = hex2bin('00112233445566778899aabbccddeeff') ?: '';
        $read = self::read(
            [
                [
                    Sacn::multicast(258),
                    5568,
                    Sacn::data($cid, 'Quay', 258, 5, "\x0A\x0B".str_repeat("\0", 510), 120, 7),
                ],
                [Sacn::multicast(1), 5568, Sacn::data($cid, 'Quay', 1, 0, str_repeat("\xFF", 512), 100, ends: true)],
            ],
            [
                'ip.dst',
                'acn.cid',
                'acn.dmx.source_name',
                'acn.dmx.priority',
                'acn.dmx.seq_number',
                'acn.dmx.universe',
                'acn.dmx.option_s',
                'acn.dmp_vector',
            ],
        );
        self::assertSame(['', ''], array_column($read, 0), 'None is malformed.');
        self::assertSame(
            ['239.255.1.2', '00112233-4455-6677-8899-aabbccddeeff', 'Quay', '120', '5', '258'],
            array_slice($read[0], 1, 6),
        );
        self::assertSame(
            ['239.255.0.1', '00112233-4455-6677-8899-aabbccddeeff', 'Quay', '100', '0', '1'],
            array_slice($read[1], 1, 6),
        );
        self::assertSame(
            [false, true],
            array_map(static fn (array $one): bool => in_array($one[7], ['1', 'True'], true), $read),
            'The second says that it ends.',
        );
        self::assertSame(
            [2, 2],
            array_map(static fn (array $one): int => intval($one[8], 0), $read),
            'Each sets properties.',
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Protocol;

use Core\Units\FrameRate;

/**
 * Art-Net 4 (UDP port 6454): data of one universe, the question who is there and its answer, and the sign by which
 * all nodes show what they have at once. Port-addresses are 15 bits: net (7), sub-net (4), universe (4).
 */
final class ArtNet
{
    public const PORT = 6454;

    public const DMX = 0x5000;

    public const SYNC = 0x5200;

    public const POLL = 0x2000;

    public const TIMECODE = 0x9700;

    /** Rates of timecode by the numbers that name them. */
    private const RATES = ['24', '25', '29.97', '30'];

    public const REPLY = 0x2100;

    private const ID = "Art-Net\0";

    private const VERSION = 14;

    private const REPLY_BYTES = 239;

    /**
     * @param  int  $address  port-address, 0 to 32,767
     * @param  int  $sequence  1 to 255, 0 where it is not counted
     * @param  string  $slots  1 to 512 bytes; an odd length is made even by a 0
     */
    public static function dmx(int $address, int $sequence, string $slots, int $physical = 0): string
    {
        $slots = strlen($slots) % 2 === 1 ? $slots."\0" : $slots;

        return self::ID.
            pack(
                'vnCCCCn',
                self::DMX,
                self::VERSION,
                $sequence & 255,
                $physical & 255,
                $address & 255,
                ($address >> 8) & 127,
                strlen($slots),
            ).
            $slots;
    }

    public static function sync(): string
    {
        return self::ID.pack('vnCC', self::SYNC, self::VERSION, 0, 0);
    }

    /** @param  string  $rate  24, 25, 29.97 or 30 */
    public static function timecode(TimecodeFrame $frame, string $rate): string
    {
        return self::ID.
            pack(
                'vnCCCCCCC',
                self::TIMECODE,
                self::VERSION,
                0,
                0,
                $frame->frames,
                $frame->seconds,
                $frame->minutes,
                $frame->hours,
                (int) array_search($rate, self::RATES, true),
            );
    }

    /** Asks who is there; nodes tell us again whenever they change. */
    public static function poll(): string
    {
        return self::ID.pack('vnCC', self::POLL, self::VERSION, 0b10, 0);
    }

    /**
     * The answer of a node: at most four ports, whose addresses share net and sub-net.
     *
     * @param  string  $ip  dotted
     * @param  list<int>  $addresses  port-addresses that leave it as DMX
     */
    public static function reply(string $ip, string $short, string $long, array $addresses, int $bind = 1): string
    {
        $octets = pack('C4', ...array_map(intval(...), array_pad(explode('.', $ip), 4, '0')));
        $addresses = array_slice($addresses, 0, 4);
        $first = $addresses[0] ?? 0;
        $text = static fn (string $text, int $bytes): string => str_pad(substr($text, 0, $bytes - 1), $bytes, "\0");
        $ports = static fn (callable $of): string => implode(
            '',
            array_map(static fn (int $i): string => chr($of($addresses[$i] ?? null)), range(0, 3)),
        );

        return self::ID.
            pack('v', self::REPLY).
            $octets.
            pack('v', self::PORT).
            pack('n', 1).
            pack('CC', ($first >> 8) & 127, ($first >> 4) & 15).
            pack('n', 0xFFFF).
            pack('CC', 0, 0b1101_0000).
            pack('v', 0x7FFF).
            $text($short, 18).
            $text($long, 64).
            $text('#0001 [0000] ready', 64).
            pack('n', count($addresses)).
            $ports(static fn (?int $a): int => $a === null ? 0 : 0b1000_0000).
            str_repeat("\0", 4).
            $ports(static fn (?int $a): int => $a === null ? 0 : 0b1000_0000).
            str_repeat("\0", 4).
            $ports(static fn (?int $a): int => ($a ?? 0) & 15).
            pack('C', 0).
            pack('CC', 0, 0).
            "\0\0\0".
            pack('C', 0).
            str_repeat("\0", 6).
            $octets.
            pack('C', $bind).
            pack('C', 0b0000_1110).
            str_repeat("\0", 4).
            pack('C', 0).
            str_repeat("\0", 6).
            pack('n', 0).
            pack('n', 44).
            pack('C', 0).
            str_repeat("\0", 10);
    }

    /**
     * @return array{op: int, timecode?: TimecodeFrame, rate?: string, address?: int, sequence?: int, slots?: string, ip?: string, name?: string, long?: string, report?: string, ports?: list<int>, bind?: int} what
     *     it says: data, an answer, or its code alone
     *
     * @throws Malformed
     */
    public static function decode(string $packet): array
    {
        if (! str_starts_with($packet, self::ID) || strlen($packet) < 12) {
            throw Malformed::because('it does not begin as Art-Net does');
        }
        $op = (int) ((array) unpack('v', $packet, 8))[1];
        if ($op !== self::REPLY && (int) ((array) unpack('n', $packet, 10))[1] < self::VERSION) {
            throw Malformed::because('its version is older than 14');
        }
        if ($op === self::DMX) {
            if (strlen($packet) < 18) {
                throw Malformed::because('it ends within its head');
            }
            ['sequence' => $sequence, 'low' => $low, 'net' => $net, 'length' => $length] = (array) unpack(
                'Csequence/Cphysical/Clow/Cnet/nlength',
                $packet,
                12,
            );
            if ($length < 1 || $length > 512 || strlen($packet) < 18 + $length) {
                throw Malformed::because("it says $length slots and has ".(strlen($packet) - 18));
            }

            return [
                'op' => $op,
                'address' => (($net & 127) << 8) | $low,
                'sequence' => $sequence,
                'slots' => substr($packet, 18, $length),
            ];
        }
        if ($op === self::TIMECODE) {
            if (strlen($packet) < 19) {
                throw Malformed::because('the timecode ends within its numbers');
            }
            [, $frames, $seconds, $minutes, $hours, $type] = array_values((array) unpack('C6', $packet, 13));
            $rate = self::RATES[$type] ?? throw Malformed::because("there is no rate $type of timecode");
            $timecode = new TimecodeFrame($hours, $minutes, $seconds, $frames, $rate === '29.97');
            if (! $timecode->isValid(FrameRate::of($rate)->nominal())) {
                throw Malformed::because("{$timecode->text()} is no timecode at $rate frames a second");
            }

            return ['op' => $op, 'timecode' => $timecode, 'rate' => $rate];
        }
        if ($op === self::REPLY) {
            // Older nodes answer with less; all up to the port's addresses has to be there.
            if (strlen($packet) < 194) {
                throw Malformed::because('the answer ends within its head');
            }
            $text = static fn (int $at, int $bytes): string => (string) mb_convert_encoding(
                strstr(substr($packet, $at, $bytes)."\0", "\0", true) ?: '',
                'UTF-8',
                'UTF-8',
            );
            [$net, $sub] = [ord($packet[18]) & 127, ord($packet[19]) & 15];
            $count = min(4, (int) ((array) unpack('n', $packet, 172))[1]);
            $ports = [];
            for ($i = 0; $i < $count; $i++) {
                if ((ord($packet[174 + $i]) & 0b1000_0000) !== 0) {
                    $ports[] = ($net << 8) | ($sub << 4) | (ord($packet[190 + $i]) & 15);
                }
            }

            return [
                'op' => $op,
                'ip' => implode('.', array_map(ord(...), str_split(substr($packet, 10, 4)))),
                'name' => $text(26, 18),
                'long' => $text(44, 64),
                'report' => $text(108, 64),
                'ports' => $ports,
                'bind' => strlen($packet) > 211 ? ord($packet[211]) : 0,
            ];
        }

        return ['op' => $op];
    }

    public static function replyLength(): int
    {
        return self::REPLY_BYTES;
    }
}

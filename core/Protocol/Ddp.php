<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * Distributed Display Protocol (UDP port 4048): bytes of a device's display from an offset on; the last packet of a
 * frame has it shown.
 */
final class Ddp
{
    public const PORT = 4048;

    /** Bytes of data that a packet has at most. */
    public const MAX = 1440;

    private const VERSION = 0x40;

    private const PUSH = 0x01;

    private const QUERY = 0x02;

    /** The display itself, among what a device has. */
    private const DISPLAY = 1;

    /**
     * A frame's bytes from an offset on, in as many packets as they take.
     *
     * @param  int  $sequence  1 to 15 of the first packet
     * @return list<string>
     */
    public static function data(int $offset, string $bytes, int $sequence, bool $push = true): array
    {
        $parts = str_split($bytes, self::MAX);
        $packets = [];
        foreach ($parts as $i => $part) {
            $last = $i === count($parts) - 1;
            $packets[] =
                pack(
                    'CCCCNn',
                    self::VERSION | ($push && $last ? self::PUSH : 0),
                    (($sequence - 1 + $i) % 15) + 1,
                    0,
                    self::DISPLAY,
                    $offset + $i * self::MAX,
                    strlen($part),
                ).$part;
        }

        return $packets;
    }

    /**
     * @return array{offset: int, bytes: string, sequence: int, push: bool, type: int}
     *
     * @throws Malformed
     */
    public static function decode(string $packet): array
    {
        if (strlen($packet) < 10) {
            throw Malformed::because('it ends within its head');
        }
        [
            'flags' => $flags,
            'sequence' => $sequence,
            'type' => $type,
            'id' => $id,
            'offset' => $offset,
            'length' => $length,
        ] = (array) unpack('Cflags/Csequence/Ctype/Cid/Noffset/nlength', $packet);
        if (($flags & 0xC0) !== self::VERSION || ($flags & self::QUERY) !== 0) {
            throw Malformed::because('it is no data of version 1');
        }
        // With a time code, four more bytes stand before the data.
        $from = ($flags & 0x10) !== 0 ? 14 : 10;
        if (strlen($packet) !== $from + $length) {
            throw Malformed::because("it says $length bytes and has ".(strlen($packet) - $from));
        }

        return [
            'offset' => $offset,
            'bytes' => substr($packet, $from),
            'sequence' => $sequence & 15,
            'push' => ($flags & self::PUSH) !== 0,
            'type' => $type,
        ];
    }
}

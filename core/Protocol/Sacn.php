<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * Streaming ACN (ANSI E1.31-2018, UDP port 5568): data of one universe with its source and priority, the sign by
 * which receivers show what they have at once, and the list of universes that a source sends.
 */
final class Sacn
{
    public const PORT = 5568;

    /** The universe to which lists of universes go. */
    public const DISCOVERY = 64_214;

    private const ID = "\x00\x10\x00\x00ASC-E1.17\x00\x00\x00";

    private const DATA = 4;

    private const EXTENDED = 8;

    /** Universes on a page of a list. */
    private const PAGE = 512;

    /**
     * @param  string  $cid  16 bytes that name the source
     * @param  string  $slots  0 to 512 bytes
     * @param  int  $sync  the universe whose sign the receiver waits for; 0 for none
     * @param  bool  $ends  whether the source sends no more of this universe
     */
    public static function data(
        string $cid,
        string $source,
        int $universe,
        int $sequence,
        string $slots,
        int $priority = 100,
        int $sync = 0,
        bool $ends = false,
        bool $preview = false,
        int $start = 0,
    ): string {
        $n = strlen($slots);
        $options = ($preview ? 0x80 : 0) | ($ends ? 0x40 : 0);

        return self::ID.
            pack('nN', 0x7000 | (110 + $n), self::DATA).
            $cid.
            pack('nN', 0x7000 | (88 + $n), 2).
            self::name($source).
            pack('CnCCn', $priority, $sync, $sequence & 255, $options, $universe).
            pack('nCCnnn', 0x7000 | (11 + $n), 2, 0xA1, 0, 1, $n + 1).
            chr($start).
            $slots;
    }

    public static function sync(string $cid, int $universe, int $sequence): string
    {
        return self::ID.
            pack('nN', 0x7000 | 33, self::EXTENDED).
            $cid.
            pack('nNCnn', 0x7000 | 11, 1, $sequence & 255, $universe, 0);
    }

    /**
     * The universes that a source sends, in packets of up to 512.
     *
     * @param  list<int>  $universes
     * @return list<string>
     */
    public static function discovery(string $cid, string $source, array $universes): array
    {
        sort($universes);
        $pages = $universes === [] ? [[]] : array_chunk($universes, self::PAGE);
        $packets = [];
        foreach ($pages as $page => $list) {
            $n = 2 * count($list);
            $packets[] =
                self::ID.
                pack('nN', 0x7000 | (104 + $n), self::EXTENDED).
                $cid.
                pack('nN', 0x7000 | (82 + $n), 2).
                self::name($source).
                pack('N', 0).
                pack('nNCC', 0x7000 | (8 + $n), 1, $page, count($pages) - 1).
                pack('n*', ...$list);
        }

        return $packets;
    }

    /** The address to which all receivers of a universe listen. */
    public static function multicast(int $universe): string
    {
        return sprintf('239.255.%d.%d', $universe >> 8, $universe & 255);
    }

    /**
     * @return array{kind: 'data'|'sync'|'discovery', cid: string, source?: string, universe?: int, sequence?: int, slots?: string, priority?: int, sync?: int, ends?: bool, preview?: bool, start?: int, universes?: list<int>, page?: int, last?: int}
     *
     * @throws Malformed
     */
    public static function decode(string $packet): array
    {
        if (! str_starts_with($packet, self::ID) || strlen($packet) < 44) {
            throw Malformed::because('it does not begin as sACN does');
        }
        ['length' => $length, 'vector' => $vector] = (array) unpack('nlength/Nvector', $packet, 16);
        $cid = substr($packet, 22, 16);
        if (($length & 0x0FFF) + 16 !== strlen($packet)) {
            throw Malformed::because(
                'its length says '.(($length & 0x0FFF) + 16).' bytes, there are '.strlen($packet),
            );
        }
        $inner = (int) ((array) unpack('N', $packet, 40))[1];
        if ($vector === self::EXTENDED && $inner === 1 && strlen($packet) >= 49) {
            ['sequence' => $sequence, 'universe' => $universe] = (array) unpack('Csequence/nuniverse', $packet, 44);

            return ['kind' => 'sync', 'cid' => $cid, 'sequence' => $sequence, 'universe' => $universe];
        }
        if ($vector === self::EXTENDED && $inner === 2 && strlen($packet) >= 120) {
            ['page' => $page, 'last' => $last] = (array) unpack('Cpage/Clast', $packet, 118);

            return [
                'kind' => 'discovery',
                'cid' => $cid,
                'source' => self::text($packet),
                'page' => $page,
                'last' => $last,
                'universes' => array_values((array) unpack('n*', substr($packet, 120))),
            ];
        }
        if ($vector !== self::DATA || $inner !== 2 || strlen($packet) < 126) {
            throw Malformed::because('it is no data, no synchronisation and no list of universes');
        }
        [
            'priority' => $priority,
            'sync' => $sync,
            'sequence' => $sequence,
            'options' => $options,
            'universe' => $universe,
        ] = (array) unpack('Cpriority/nsync/Csequence/Coptions/nuniverse', $packet, 108);
        ['dmp' => $dmp, 'type' => $type, 'first' => $first, 'step' => $step, 'count' => $count] = (array) unpack(
            'x2/Cdmp/Ctype/nfirst/nstep/ncount',
            $packet,
            115,
        );
        if (
            $dmp !== 2 ||
            $type !== 0xA1 ||
            $first !== 0 ||
            $step !== 1 ||
            $count < 1 ||
            $count > 513 ||
            strlen($packet) !== 125 + $count
        ) {
            throw Malformed::because('its slots are not where they have to be');
        }
        if ($universe < 1 || $universe > 63_999 || $priority > 200) {
            throw Malformed::because("universe $universe or priority $priority is out of range");
        }

        return [
            'kind' => 'data',
            'cid' => $cid,
            'source' => self::text($packet),
            'universe' => $universe,
            'sequence' => $sequence,
            'slots' => substr($packet, 126),
            'priority' => $priority,
            'sync' => $sync,
            'ends' => ($options & 0x40) !== 0,
            'preview' => ($options & 0x80) !== 0,
            'start' => ord($packet[125]),
        ];
    }

    /** The universe of a packet of data, read without the rest of it; null for what can't be one. */
    public static function universeOf(string $packet): ?int
    {
        if (strlen($packet) < 126 || ! str_starts_with($packet, self::ID) || substr($packet, 18, 4) !== "\0\0\0\x04") {
            return null;
        }

        return (int) ((array) unpack('n', $packet, 113))[1];
    }

    private static function name(string $source): string
    {
        return str_pad(mb_strcut($source, 0, 63, 'UTF-8'), 64, "\0");
    }

    private static function text(string $packet): string
    {
        return (string) mb_convert_encoding(strstr(substr($packet, 44, 64)."\0", "\0", true) ?: '', 'UTF-8', 'UTF-8');
    }
}

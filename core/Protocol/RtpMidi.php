<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * MIDI over RTP (RFC 6295) with the session protocol that goes with it: invitations, clock synchronisation and
 * receiver feedback as packets that begin with 0xFFFF, MIDI as RTP packets of payload type 97.
 */
final class RtpMidi
{
    private const VERSION = 2;

    private const PAYLOAD = 97;

    /** Ticks of session clocks and RTP timestamps a second. */
    public const RATE = 10_000;

    /**
     * A packet of the session protocol; null for one that is none.
     *
     * @return array{command: string, token: int, ssrc: int, name: string, count: int, times: array{int, int, int}, sequence: int}|null
     *     command IN (invitation), OK, NO, BY (end), CK (clock) or RS (receiver feedback)
     *
     * @throws Malformed
     */
    public static function session(string $packet): ?array
    {
        if (strncmp($packet, "\xff\xff", 2) !== 0) {
            return null;
        }
        $command = substr($packet, 2, 2);
        $found = [
            'command' => $command,
            'token' => 0,
            'ssrc' => 0,
            'name' => '',
            'count' => 0,
            'times' => [0, 0, 0],
            'sequence' => 0,
        ];
        $length = strlen($packet);
        switch ($command) {
            case 'IN':
            case 'OK':
            case 'NO':
            case 'BY':
                if ($length < 16) {
                    throw new Malformed("A session command of $length bytes; it has 16 at least.");
                }
                ['v' => $version, 't' => $token, 's' => $ssrc] = unpack('Nv/Nt/Ns', $packet, 4) ?: [
                    'v' => 0,
                    't' => 0,
                    's' => 0,
                ];
                if ($version !== self::VERSION) {
                    throw new Malformed("A session of version $version; this is version ".self::VERSION.'.');
                }
                $name = explode("\0", substr($packet, 16, 200))[0];

                return array_merge($found, ['token' => $token, 'ssrc' => $ssrc, 'name' => mb_scrub($name)]);
            case 'CK':
                if ($length < 36) {
                    throw new Malformed("A clock packet of $length bytes; it has 36.");
                }
                ['s' => $ssrc, 'c' => $count, 'a' => $a, 'b' => $b, 'd' => $d] = unpack(
                    'Ns/Cc/x3/Ja/Jb/Jd',
                    $packet,
                    4,
                ) ?: [
                    's' => 0,
                    'c' => 9,
                    'a' => 0,
                    'b' => 0,
                    'd' => 0,
                ];
                if ($count > 2) {
                    throw new Malformed("Step $count of a clock exchange; there are 0 to 2.");
                }

                return array_merge($found, ['ssrc' => $ssrc, 'count' => $count, 'times' => [$a, $b, $d]]);
            case 'RS':
                if ($length < 12) {
                    throw new Malformed("Receiver feedback of $length bytes; it has 12.");
                }
                ['s' => $ssrc, 'n' => $sequence] = unpack('Ns/nn', $packet, 4) ?: ['s' => 0, 'n' => 0];

                return array_merge($found, ['ssrc' => $ssrc, 'sequence' => $sequence]);
            default:
                throw new Malformed('A session command "'.bin2hex($command).'" that is not known.');
        }
    }

    /** An answer to an invitation, or an invitation itself: IN, OK, NO or BY. */
    public static function sessionPacket(string $command, int $token, int $ssrc, string $name = ''): string
    {
        return "\xff\xff$command".
            pack('N3', self::VERSION, $token, $ssrc).
            ($command === 'IN' || $command === 'OK' ? "$name\0" : '');
    }

    /** @param  array{int, int, int}  $times  in ticks; those that are not known yet are 0 */
    public static function clockPacket(int $ssrc, int $count, array $times): string
    {
        return "\xff\xffCK".pack('NCx3J3', $ssrc, $count, ...$times);
    }

    /** Tells a sender up to which packet all came. */
    public static function receiverFeedback(int $ssrc, int $sequence): string
    {
        return "\xff\xffRS".pack('Nnx2', $ssrc, $sequence & 0xFFFF);
    }

    /**
     * The MIDI of an RTP packet.
     *
     * @return array{sequence: int, timestamp: int, ssrc: int, bytes: string} bytes as a MIDI cable would carry them, running status as
     *     it came
     *
     * @throws Malformed
     */
    public static function decode(string $packet): array
    {
        $length = strlen($packet);
        if ($length < 13) {
            throw new Malformed("An RTP packet of $length bytes; it has 13 at least.");
        }
        ['f' => $flags, 'p' => $type, 'q' => $sequence, 't' => $timestamp, 's' => $ssrc] = unpack(
            'Cf/Cp/nq/Nt/Ns',
            $packet,
        ) ?: [
            'f' => 0,
            'p' => 0,
            'q' => 0,
            't' => 0,
            's' => 0,
        ];
        if ($flags >> 6 !== 2) {
            throw new Malformed('RTP of version '.($flags >> 6).'; this is version 2.');
        }
        if (($type & 0x7F) !== self::PAYLOAD) {
            throw new Malformed('An RTP payload of type '.($type & 0x7F).'; MIDI is '.self::PAYLOAD.'.');
        }
        $at = 12 + 4 * ($flags & 0x0F);
        if (($flags & 0x10) !== 0) {
            $words = $at + 4 <= $length ? (unpack('n', $packet, $at + 2) ?: [1 => 0])[1] : 0;
            $at += 4 + 4 * $words;
        }
        if ($at >= $length) {
            throw new Malformed('An RTP packet that ends before its MIDI.');
        }
        $head = ord($packet[$at++]);
        $size = $head & 0x0F;
        if (($head & 0x80) !== 0) {
            if ($at >= $length) {
                throw new Malformed('A MIDI list whose length is cut off.');
            }
            $size = ($size << 8) | ord($packet[$at++]);
        }
        if ($at + $size > $length) {
            throw new Malformed(sprintf('A MIDI list of %d bytes in %d.', $size, $length - $at));
        }

        return [
            'sequence' => $sequence,
            'timestamp' => $timestamp,
            'ssrc' => $ssrc,
            'bytes' => self::commands(substr($packet, $at, $size), ($head & 0x20) !== 0),
        ];
    }

    /**
     * The commands of a MIDI list, without the times between them.
     *
     * @param  bool  $timed  whether there is a time before the first as well
     *
     * @throws Malformed
     */
    private static function commands(string $list, bool $timed): string
    {
        [$bytes, $at, $length, $status] = ['', 0, strlen($list), 0];
        while ($at < $length) {
            if ($timed) {
                for ($n = 0; $at < $length; $n++) {
                    $more = ord($list[$at++]) & 0x80;
                    if ($more === 0) {
                        break;
                    }
                    if ($n === 3) {
                        throw new Malformed('A time of more than four bytes in a MIDI list.');
                    }
                }
                // A time may stand at the end, with nothing after it.
                if ($at >= $length) {
                    break;
                }
            }
            $timed = true;
            $byte = ord($list[$at]);
            if ($byte === 0xF0 || $byte === 0xF7) {
                // A part of a system exclusive message: F0 or F7 begins it, F7 ends it, F0 breaks it off, F4 ends it for nothing.
                $first = $byte;
                $end = ++$at;
                while ($end < $length && (ord($list[$end]) < 0x80 || ord($list[$end]) >= 0xF8)) {
                    $end++;
                }
                if ($end >= $length) {
                    throw new Malformed('A system exclusive message without its end.');
                }
                $last = ord($list[$end]);
                $bytes .=
                    ($first === 0xF0 ? "\xf0" : '').
                    substr($list, $at, $end - $at).
                    ($last === 0xF7 ? "\xf7" : ($last === 0xF4 ? "\xf6" : ''));
                $at = $end + 1;
                $status = 0;

                continue;
            }
            if ($byte >= 0x80) {
                $at++;
                $bytes .= chr($byte);
                if ($byte >= 0xF8) {
                    continue;
                }
                $status = $byte;
            } elseif ($status === 0) {
                throw new Malformed('Data of MIDI without a status before it.');
            }
            $data = self::dataOf($status);
            if ($at + $data > $length) {
                throw new Malformed('A MIDI command that is cut off.');
            }
            $bytes .= substr($list, $at, $data);
            $at += $data;
            $status = $status >= 0xF0 ? 0 : $status;
        }

        return $bytes;
    }

    private static function dataOf(int $status): int
    {
        return match (true) {
            $status >= 0xF0 => match ($status) {
                0xF1, 0xF3 => 1,
                0xF2 => 2,
                default => 0,
            },
            ($status & 0xE0) === 0xC0 => 1,
            default => 2,
        };
    }

    /**
     * An RTP packet of MIDI, without a journal.
     *
     * @param  list<string>  $commands  each whole; at most 4,095 bytes together
     */
    public static function encode(int $sequence, int $timestamp, int $ssrc, array $commands): string
    {
        // All are of one moment: a time of 0 before each but the first.
        $list = implode("\0", $commands);
        $size = strlen($list);
        if ($size > 0xFFF) {
            throw new \LengthException("A MIDI list of $size bytes; there is room for 4,095.");
        }

        return pack('CCnNN', 0x80, 0x80 | self::PAYLOAD, $sequence & 0xFFFF, $timestamp & 0xFFFFFFFF, $ssrc).
            ($size <= 0x0F ? chr($size) : pack('n', 0x8000 | $size)).
            $list;
    }
}

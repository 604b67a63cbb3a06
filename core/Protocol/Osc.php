<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * Open Sound Control 1.0, messages and bundles, both ways. Argument types: i, f, s, b, h, d, t, T, F, N, I.
 *
 * @phpstan-type Message array{address: string, arguments: list<int|float|string|bool|null>, time: float|null}
 */
final class Osc
{
    private const DEEPEST = 8;

    /** Seconds from 1900 to 1970. */
    private const SINCE_1900 = 2_208_988_800;

    /**
     * @return list<Message> a message, or the messages of a bundle in order; time is when they are meant to take
     *     effect, in seconds since 1970 by the sender's clock, null for at once
     *
     * @throws Malformed saying what is wrong with the packet
     */
    public static function decode(string $packet): array
    {
        return self::element($packet, 0, null);
    }

    /** @return list<Message> */
    private static function element(string $packet, int $depth, ?float $time): array
    {
        if ($packet === '' || strlen($packet) % 4 !== 0) {
            throw Malformed::because('the length of '.strlen($packet).' bytes is no multiple of four');
        }
        if ($packet[0] === '/') {
            return [self::message($packet) + ['time' => $time]];
        }
        if (! str_starts_with($packet, "#bundle\0") || strlen($packet) < 16) {
            throw Malformed::because('it starts neither with an address nor as a bundle');
        }
        if ($depth >= self::DEEPEST) {
            throw Malformed::because('its bundles are nested too deeply');
        }
        // NTP: seconds since 1900 in 32.32 bits; a 1 in the last place alone means at once.
        ['s' => $seconds, 'f' => $fraction] = (array) unpack('Ns/Nf', $packet, 8);
        $own = $seconds === 0 && $fraction === 1 ? null : $seconds - self::SINCE_1900 + $fraction / 2 ** 32;
        // What is inside takes effect no earlier than what it is in.
        $time = $time === null || ($own !== null && $own > $time) ? $own : $time;
        $messages = [];
        for ($at = 16; $at < strlen($packet); $at += 4 + $size) {
            $size = self::int($packet, $at);
            if ($size <= 0 || $size % 4 !== 0 || $at + 4 + $size > strlen($packet)) {
                throw Malformed::because('an element of its bundle has a wrong length');
            }
            array_push($messages, ...self::element(substr($packet, $at + 4, $size), $depth + 1, $time));
        }

        return $messages;
    }

    /** @return array{address: string, arguments: list<int|float|string|bool|null>} */
    private static function message(string $packet): array
    {
        $at = 0;
        $address = self::string($packet, $at);
        if ($at >= strlen($packet)) {
            return ['address' => $address, 'arguments' => []];
        }
        $types = self::string($packet, $at);
        if ($types === '' || $types[0] !== ',') {
            throw Malformed::because('its type tags do not start with a comma');
        }
        $arguments = [];
        foreach (str_split(substr($types, 1)) as $type) {
            if ($type === '') {
                continue;
            }
            $need = match ($type) {
                'i', 'f' => 4,
                'h', 'd', 't' => 8,
                default => 0,
            };
            if ($at + $need > strlen($packet)) {
                throw Malformed::because('it ends within an argument');
            }
            switch ($type) {
                case 'i':
                    $arguments[] = self::int($packet, $at);
                    break;
                case 'f':
                    $arguments[] = (float) ((array) unpack('G', $packet, $at))[1];
                    break;
                case 'd':
                    $arguments[] = (float) ((array) unpack('E', $packet, $at))[1];
                    break;
                case 'h':
                case 't':
                    $arguments[] = (int) ((array) unpack('J', $packet, $at))[1];
                    break;
                case 's':
                    $arguments[] = self::string($packet, $at);
                    break;
                case 'b':
                    $arguments[] = self::blob($packet, $at);
                    break;
                case 'T':
                case 'F':
                    $arguments[] = $type === 'T';
                    break;
                case 'N':
                case 'I':
                    $arguments[] = null;
                    break;
                default:
                    throw Malformed::because("argument type \"$type\" is not known");
            }
            $at += $need;
        }
        if ($at !== strlen($packet)) {
            throw Malformed::because('there are bytes after its last argument');
        }

        return ['address' => $address, 'arguments' => $arguments];
    }

    private static function string(string $packet, int &$at): string
    {
        $end = strpos($packet, "\0", $at);
        if ($end === false) {
            throw Malformed::because('a string of it never ends');
        }
        $text = substr($packet, $at, $end - $at);
        $at = ($end | 3) + 1;
        if ($at > strlen($packet) || ! mb_check_encoding($text, 'UTF-8')) {
            throw Malformed::because('a string of it is damaged');
        }

        return $text;
    }

    private static function blob(string $packet, int &$at): string
    {
        if ($at + 4 > strlen($packet)) {
            throw Malformed::because('it ends within an argument');
        }
        $size = self::int($packet, $at);
        $next = $at + 4 + (($size + 3) & ~3);
        if ($size < 0 || $next > strlen($packet)) {
            throw Malformed::because('a blob of it is longer than the packet');
        }
        $bytes = substr($packet, $at + 4, $size);
        $at = $next;

        return $bytes;
    }

    private static function int(string $packet, int $at): int
    {
        if ($at + 4 > strlen($packet)) {
            throw Malformed::because('it ends within a number');
        }
        $n = (int) ((array) unpack('N', $packet, $at))[1];

        return $n > 0x7FFFFFFF ? $n - 0x1_0000_0000 : $n;
    }

    /**
     * Whether an address is one that a pattern names (OSC 1.0): ? any sign, * any number of them, [a-z] and [!a-z]
     * one of a set, {this,that} one of some words; none of them goes beyond a slash.
     */
    public static function matches(string $pattern, string $address): bool
    {
        if (strpbrk($pattern, '?*[{') === false) {
            return $pattern === $address;
        }
        if (strlen($pattern) > 255) {
            return false;
        }
        $pattern = (string) preg_replace('/\*+/', '*', $pattern);
        $regex = '';
        for ($i = 0, $n = strlen($pattern); $i < $n; $i++) {
            $sign = $pattern[$i];
            $end = $sign === '[' ? strpos($pattern, ']', $i) : ($sign === '{' ? strpos($pattern, '}', $i) : false);
            if ($sign === '?') {
                $regex .= '[^/]';
            } elseif ($sign === '*') {
                $regex .= '[^/]*';
            } elseif ($end !== false) {
                $inside = substr($pattern, $i + 1, $end - $i - 1);
                if ($sign === '{') {
                    $regex .=
                        '(?:'.
                        implode(
                            '|',
                            array_map(static fn (string $w): string => preg_quote($w, '~'), explode(',', $inside)),
                        ).
                        ')';
                } else {
                    $not = str_starts_with($inside, '!');
                    $set = preg_replace('/[\\\\\\]^~]/', '\\\\$0', $not ? substr($inside, 1) : $inside);
                    $regex .= '(?!/)['.($not ? '^' : '').($set === '' ? '\\0' : $set).']';
                }
                $i = $end;
            } else {
                $regex .= preg_quote($sign, '~');
            }
        }

        return @preg_match('~^'.$regex.'$~D', $address) === 1;
    }

    /**
     * Whole numbers beyond 32 bits go as 64-bit ones (h).
     *
     * @param  list<int|float|string|bool|null>  $arguments
     */
    public static function encode(string $address, array $arguments = []): string
    {
        [$types, $bytes] = [',', ''];
        foreach ($arguments as $argument) {
            [$type, $part] = match (true) {
                is_int($argument) && ($argument < -0x8000_0000 || $argument > 0x7FFF_FFFF) => [
                    'h',
                    pack('J', $argument),
                ],
                is_int($argument) => ['i', pack('N', $argument & 0xFFFFFFFF)],
                is_float($argument) => ['f', pack('G', $argument)],
                is_bool($argument) => [$argument ? 'T' : 'F', ''],
                $argument === null => ['N', ''],
                default => ['s', self::padded($argument)],
            };
            $types .= $type;
            $bytes .= $part;
        }

        return self::padded($address).self::padded($types).$bytes;
    }

    private static function padded(string $text): string
    {
        return $text.str_repeat("\0", 4 - (strlen($text) % 4));
    }
}

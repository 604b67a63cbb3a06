<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/** The files in a tar archive (POSIX ustar): where each lies. Links, devices and folders are passed over. */
final class TarReader
{
    private const BLOCK = 512;

    public static function isTar(string $head): bool
    {
        return substr($head, 257, 5) === 'ustar';
    }

    /**
     * @param  \Closure(int, int): string  $read  bytes of the archive, from one on and so many
     * @return \Generator<array{name: string, at: int, bytes: int}> in the order of the archive; the name without its
     *     folders
     *
     * @throws InvalidValue where it is damaged
     */
    public static function files(\Closure $read, int $length): \Generator
    {
        $at = 0;
        while ($at + self::BLOCK <= $length) {
            $head = $read($at, self::BLOCK);
            if (trim($head, "\0") === '') {
                return;
            }
            // The sum of all bytes of the header, its own eight counted as spaces.
            $sum = array_sum(unpack('C*', substr_replace($head, '        ', 148, 8)) ?: []);
            if (! self::isTar($head) || $sum !== (int) octdec(trim(substr($head, 148, 8), "\0 "))) {
                throw InvalidValue::because('file', 'The archive is damaged.');
            }
            $bytes = self::size(substr($head, 124, 12));
            if ($at + self::BLOCK + $bytes > $length) {
                throw InvalidValue::because('file', 'The archive is incomplete.');
            }
            if (in_array($head[156], ['0', "\0"], true)) {
                yield [
                    'name' => basename(rtrim(substr($head, 0, 100), "\0")),
                    'at' => $at + self::BLOCK,
                    'bytes' => $bytes,
                ];
            }
            $at += self::BLOCK * (1 + intdiv($bytes + self::BLOCK - 1, self::BLOCK));
        }
    }

    /** Octal digits; from 8 GB on, the number itself with the highest bit set. */
    private static function size(string $field): int
    {
        return (ord($field[0]) & 0x80) !== 0
            ? (unpack('J', $field, 4) ?: [1 => 0])[1]
            : (int) octdec(trim($field, "\0 "));
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Protocol\Malformed;
use Core\Protocol\Osc;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class OscTest extends TestCase
{
    public function test_the_examples_of_the_specification_are_read(): void
    {
        // From OSC 1.0: /oscillator/4/frequency with 440.0, and /foo with 1000, -1, "hello", 1.234, 5.678.
        $first = "/oscillator/4/frequency\0,f\0\0\x43\xdc\x00\x00";
        self::assertSame(
            [['address' => '/oscillator/4/frequency', 'arguments' => [440.0], 'time' => null]],
            Osc::decode($first),
        );
        $second = "/foo\0\0\0\0,iisff\0\0\x00\x00\x03\xe8\xff\xff\xff\xffhello\0\0\0\x3f\x9d\xf3\xb6\x40\xb5\xb2\x2d";
        $arguments = Osc::decode($second)[0]['arguments'];
        self::assertSame([1000, -1, 'hello'], array_slice($arguments, 0, 3));
        self::assertEqualsWithDelta([1.234, 5.678], array_slice($arguments, 3), 1e-6);
        self::assertSame($first, Osc::encode('/oscillator/4/frequency', [440.0]));
    }

    public function test_bundles_are_opened_in_order(): void
    {
        $part = static fn (string $m): string => pack('N', strlen($m)).$m;
        $inner = "#bundle\0".pack('J', 1).$part(Osc::encode('/b', ['x']));
        $bundle =
            "#bundle\0".
            pack('J', 1).
            $part(Osc::encode('/a', [1])).
            $part($inner).
            $part(Osc::encode('/c', [true]));
        self::assertSame(['/a', '/b', '/c'], array_column(Osc::decode($bundle), 'address'));
    }

    /** @return list<array{string}> */
    public static function malformed(): array
    {
        return [
            [''],
            ['abc'],
            ['abcd'],
            ["/a\0\0,i\0\0"],
            ["/a\0\0,q\0\0"],
            ["/a\0\0i\0\0\0"],
            ['/abc'],
            ["/a\0\0,s\0\0abcd"],
            ["/a\0\0,b\0\0\x7f\xff\xff\xff"],
            ["/a\0\0,b\0\0\xff\xff\xff\xff"],
            ["#bundle\0\0\0\0\0\0\0\0\1\xff\xff\xff\xff"],
            ["/a\0\0,\0\0\0junk"],
            ["/\xff\xfe\0,\0\0\0"],
        ];
    }

    #[DataProvider('malformed')]
    public function test_malformed_packets_are_told_from_good_ones(string $packet): void
    {
        $this->expectException(Malformed::class);
        Osc::decode($packet);
    }

    public function test_no_garbage_gets_further_than_an_error_of_its_own(): void
    {
        mt_srand(11);
        $read = 0;
        for ($i = 0; $i < 4000; $i++) {
            $packet = Osc::encode('/kite/jump', [mt_rand(), 'name', 1.5]);
            for ($k = mt_rand(1, 4); $k > 0; $k--) {
                $packet[mt_rand(0, strlen($packet) - 1)] = chr(mt_rand(0, 255));
            }
            try {
                $read += count(Osc::decode($packet));
            } catch (Malformed) {
            }
        }
        self::assertGreaterThan(0, $read);
    }

    public function test_a_bundle_says_when_and_what_is_inside_it_no_earlier(): void
    {
        $part = static fn (string $m): string => pack('N', strlen($m)).$m;
        // Half past midnight on the first of January 1970 is 2,208,990,600 s after 1900; half a second is 2³¹ parts.
        $tag = pack('NN', 2_208_990_600, 1 << 31);
        $earlier = "#bundle\0".pack('NN', 2_208_990_000, 0).$part(Osc::encode('/b'));
        $later = "#bundle\0".pack('NN', 2_208_990_700, 0).$part(Osc::encode('/c'));
        $now = "#bundle\0".pack('J', 1).$part(Osc::encode('/d'));
        self::assertSame(
            [['/a', 1800.5], ['/b', 1800.5], ['/c', 1900.0], ['/d', 1800.5]],
            array_map(
                static fn (array $m): array => [$m['address'], $m['time']],
                Osc::decode("#bundle\0$tag".$part(Osc::encode('/a')).$part($earlier).$part($later).$part($now)),
            ),
        );
        self::assertNull(Osc::decode($now)[0]['time']);
    }

    public function test_whole_numbers_beyond_32_bits_are_kept(): void
    {
        foreach (
            [0, -1, 0x7FFF_FFFF, -0x8000_0000, 0x8000_0000, -0x8000_0001, PHP_INT_MAX, PHP_INT_MIN, 705_600_000 * 3600] as $n
        ) {
            self::assertSame([$n], Osc::decode(Osc::encode('/n', [$n]))[0]['arguments']);
        }
        self::assertSame('i', substr(Osc::encode('/n', [0x7FFF_FFFF]), 5, 1));
        self::assertSame('h', substr(Osc::encode('/n', [0x8000_0000]), 5, 1));
        self::assertSame(
            [null, true, 'x', 0.5],
            Osc::decode(Osc::encode('/n', [null, true, 'x', 0.5]))[0]['arguments'],
        );
    }

    /** @return list<array{string, string, bool}> pattern, address, whether it is named */
    public static function patterns(): array
    {
        return [
            ['/kite/go', '/kite/go', true],
            ['/kite/g?', '/kite/go', true],
            ['/kite/?', '/kite/go', false],
            ['/kite/*', '/kite/go', true],
            ['/*', '/kite/go', false],
            ['/*/*', '/kite/go', true],
            ['/k*e/*o', '/kite/go', true],
            ['/kite/{go,hold}', '/kite/hold', true],
            ['/kite/{go,hold}', '/kite/play', false],
            ['/kite/[gh]o', '/kite/go', true],
            ['/kite/[!g]o', '/kite/go', false],
            ['/kite/[a-h]*', '/kite/hold', true],
            ['/kite/[!a-c]*', '/kite/hold', true],
            ['/kite/[', '/kite/[', true],
            ['/kite/{go', '/kite/{go', true],
            ['/kite/[]]o', '/kite/go', false],
            ['/kite/g.', '/kite/go', false],
            ['/kite/[^]', '/kite/^', true],
            ['/kite/[~]', '/kite/~', true],
            ['/kite?go', '/kite/go', false],
            ['/kite[!a]go', '/kite/go', false],
            ['', '', true],
            ['*', '', true],
            ['/'.str_repeat('*a', 120), '/'.str_repeat('a', 60), false],
            [str_repeat('*', 300), 'x', false],
            ["/kite/go\n", '/kite/go', false],
        ];
    }

    #[DataProvider('patterns')]
    public function test_address_patterns_name_what_the_standard_says(
        string $pattern,
        string $address,
        bool $named,
    ): void {
        self::assertSame($named, Osc::matches($pattern, $address));
    }
}

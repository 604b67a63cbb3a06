<?php

declare(strict_types=1);

namespace App\Lights;

/** Network interfaces of this machine, by their IPv4 address. */
final class NetworkInterfaces
{
    /** The system's number of the interface that has an address; null where none has it. */
    public static function index(string $address): ?int
    {
        $name = self::find($address)[0] ?? null;
        $number = $name === null ? false : @file_get_contents('/sys/class/net/'.basename($name).'/ifindex');

        return $number === false ? null : (int) $number;
    }

    /** The network mask of the interface that has an address; null where none has it. */
    public static function mask(string $address): ?string
    {
        return self::find($address)[1] ?? null;
    }

    /** @return array{string, string|null}|null name and network mask */
    private static function find(string $address): ?array
    {
        foreach (net_get_interfaces() ?: [] as $name => $interface) {
            foreach ($interface['unicast'] ?? [] as $one) {
                if (($one['address'] ?? '') === $address) {
                    return [(string) $name, $one['netmask'] ?? null];
                }
            }
        }

        return null;
    }
}

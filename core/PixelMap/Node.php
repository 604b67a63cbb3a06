<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Protocol\ArtNet;
use Core\Protocol\Ddp;
use Core\Protocol\Sacn;
use Core\Protocol\SerialDmx;
use Core\Units\Check;
use Core\Units\InvalidValue;

/** A device of the lighting network to which universes are sent, and how. */
final readonly class Node
{
    /**
     * @param  string  $address  dotted; empty for multicast of sACN, and for the broadcast of Art-Net's own network
     * @param  string  $interface  dotted address of ours by which it is sent; empty for what the system takes
     * @param  int  $port  0 for the protocol's own
     * @param  float  $rate  frames a second at most
     * @param  int  $priority  of sACN, 0 to 200
     * @param  bool  $synchronised  whether nodes are told when to show what they have
     * @param  bool  $onlyChanges  whether what did not change is sent only as often as it has to be, else each frame
     * @param  int  $limit  universes that it takes; 0 where that is not known
     * @param  bool  $timecode  whether it is sent the timecode of the driven timeline, by Art-Net
     */
    private function __construct(
        public string $name,
        public string $protocol,
        public string $address,
        public string $interface,
        public int $port,
        public float $rate,
        public int $priority,
        public bool $synchronised,
        public bool $onlyChanges,
        public int $limit,
        public bool $timecode = false,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $protocol = Check::oneOf('protocol', (string) ($row['protocol'] ?? 'artnet'), Universes::PROTOCOLS);
        [$address, $interface] = [trim((string) ($row['address'] ?? '')), trim((string) ($row['interface'] ?? ''))];
        if ($protocol === 'ddp' && $address === '') {
            throw InvalidValue::because('address', 'DDP goes to one device: give its address, as in 10.0.0.20.');
        }

        if ($protocol === 'serial' && preg_match('~^'.SerialDmx::PATH.'$~D', $address) !== 1) {
            throw InvalidValue::because('address', 'A serial interface is a port of this machine, as in /dev/ttyUSB0.');
        }

        return new self(
            Check::name('name', (string) $row['name']),
            $protocol,
            $protocol === 'serial' ? $address : self::ip('address', $address),
            self::ip('interface', $interface),
            Check::whole('port', (int) ($row['port'] ?? 0), 0, 65_535),
            Check::number('rate', (float) ($row['rate'] ?? 40), 1, 120, 'Hz'),
            Check::whole('priority', (int) ($row['priority'] ?? 100), 0, 200),
            (bool) ($row['synchronised'] ?? false),
            (bool) ($row['onlyChanges'] ?? true),
            Check::whole('limit', (int) ($row['limit'] ?? 0), 0, Universes::LAST),
            (bool) ($row['timecode'] ?? false) && $protocol === 'artnet',
        );
    }

    private static function ip(string $field, string $text): string
    {
        return $text === '' || filter_var($text, FILTER_VALIDATE_IP, FILTER_FLAG_IPV4) !== false
            ? $text
            : throw InvalidValue::because($field, "\"$text\" is no address as in 10.0.0.20.");
    }

    public function port(): int
    {
        return $this->port !== 0
            ? $this->port
            : match ($this->protocol) {
                'sacn' => Sacn::PORT,
                'ddp' => Ddp::PORT,
                default => ArtNet::PORT,
            };
    }

    /** What is the same of nodes whose universes go to one place, and are put together. */
    public function route(): string
    {
        return implode(' ', [
            $this->protocol,
            $this->address,
            $this->port(),
            $this->address === '' ? $this->interface : '',
        ]);
    }

    /** The address to which a universe is sent. */
    public function destination(int $universe): string
    {
        return $this->address !== ''
            ? $this->address
            : ($this->protocol === 'sacn'
                ? Sacn::multicast($universe)
                : self::broadcast($this->interface));
    }

    /**
     * The broadcast of Art-Net's network of an address: 2.255.255.255 or 10.255.255.255, of others that of their last
     * part.
     */
    private static function broadcast(string $interface): string
    {
        $parts = explode('.', $interface);

        return match ($parts[0]) {
            '2', '10' => "$parts[0].255.255.255",
            '' => '2.255.255.255',
            default => "$parts[0].$parts[1].$parts[2].255",
        };
    }
}

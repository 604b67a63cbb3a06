<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Protocol\SerialDmx;
use Core\Units\InvalidValue;

/** A universe whose slots are controls, as its protocol counts it: sACN from 1, Art-Net from 0; a serial interface is one. */
final readonly class DmxUniverse
{
    private const LAST = ['sACN' => 63_999, 'Art-Net' => 32_767];

    /** @param  string  $path  of a serial interface; empty for others */
    private function __construct(public string $protocol, public int $number, public string $path = '')
    {
    }

    /**
     * @param  string  $text  as in "sACN 7", "Art-Net 0" or "Serial /dev/ttyUSB0"
     *
     * @throws InvalidValue
     */
    public static function of(string $text): self
    {
        if (preg_match('~^Serial ('.SerialDmx::PATH.')$~D', $text, $m) === 1) {
            return new self('Serial', 1, $m[1]);
        }
        if (
            preg_match('/^(sACN|Art-Net) (0|[1-9]\d{0,4})$/D', $text, $m) !== 1 ||
            (int) $m[2] < ($m[1] === 'sACN' ? 1 : 0) ||
            (int) $m[2] > self::LAST[$m[1]]
        ) {
            throw InvalidValue::because(
                'port',
                'A DMX device is a universe: write sACN 1 to sACN 63999, Art-Net 0 to Art-Net 32767, or Serial /dev/ttyUSB0.',
            );
        }

        return new self($m[1], (int) $m[2]);
    }

    /** By what `SourceMerge` calls a universe: there, both count from 1. */
    public static function ofKey(string $key): self
    {
        [$protocol, $number] = explode(' ', $key, 2) + [1 => '1'];
        if ($protocol === 'serial') {
            return new self('Serial', 1, $number);
        }

        return $protocol === 'sacn' ? new self('sACN', (int) $number) : new self('Art-Net', max(0, (int) $number - 1));
    }

    /** What `SourceMerge` calls it. */
    public function key(): string
    {
        return match ($this->protocol) {
            'Serial' => "serial $this->path",
            'sACN' => "sacn $this->number",
            default => 'artnet '.($this->number + 1),
        };
    }

    public function label(): string
    {
        return $this->protocol.' '.($this->path === '' ? $this->number : $this->path);
    }
}

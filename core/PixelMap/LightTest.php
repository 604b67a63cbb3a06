<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\InvalidValue;

/**
 * What a light is sent in place of the show, to find one's way on it: one pixel, row, column or channel, a colour,
 * its wiring pixel by pixel, a blinking, or nothing new.
 */
final readonly class LightTest
{
    public const KINDS = ['pixel', 'row', 'column', 'channel', 'colour', 'chase', 'identify', 'blind'];

    /** Pixels a second of a chase that says no number. */
    public const SPEED = 10;

    /** @param  array{float, float, float}  $colour  linear light */
    private function __construct(public string $kind, public int $number, public array $colour)
    {
    }

    /**
     * @param  array<string, mixed>  $said  kind; number (from 0, along the wiring of a pixel; of a chase, pixels a
     *     second); colour (three numbers, 0 to 1)
     *
     * @throws InvalidValue
     */
    public static function of(array $said): self
    {
        $kind = $said['kind'] ?? null;
        if (! is_string($kind) || ! in_array($kind, self::KINDS, true)) {
            throw InvalidValue::notOneOf('kind', is_string($kind) ? $kind : '', self::KINDS);
        }
        $number = $said['number'] ?? ($kind === 'chase' ? self::SPEED : 0);
        if (! is_int($number) || $number < 0 || $number > 65_535) {
            throw InvalidValue::because('number', 'A test has a whole number of 0 to 65,535.');
        }
        $colour = $said['colour'] ?? [1, 1, 1];
        if (! is_array($colour) || ! array_is_list($colour) || count($colour) !== 3) {
            throw InvalidValue::because('colour', 'A colour is three numbers of 0 to 1.');
        }
        foreach ($colour as $part) {
            if ((! is_int($part) && ! is_float($part)) || ! ($part >= 0 && $part <= 1)) {
                throw InvalidValue::because('colour', 'A colour is three numbers of 0 to 1.');
            }
        }

        return new self($kind, $number, [(float) $colour[0], (float) $colour[1], (float) $colour[2]]);
    }

    /** @return array{kind: string, number: int, colour: array{float, float, float}} */
    public function toArray(): array
    {
        return ['kind' => $this->kind, 'number' => $this->number, 'colour' => $this->colour];
    }

    /**
     * The light of a pixel.
     *
     * @param  int  $n  along the wiring
     * @param  int  $count  of pixels that are wired
     * @param  array{int, int}  $cell  its column and row
     * @param  float  $seconds  of the engine
     * @return array{float, float, float} linear
     */
    public function light(int $n, int $count, array $cell, float $seconds): array
    {
        $lit = match ($this->kind) {
            'pixel' => $n === $this->number,
            'row' => $cell[1] === $this->number,
            'column' => $cell[0] === $this->number,
            'chase' => $count > 0 && $n === (int) floor($seconds * max(1, $this->number)) % $count,
            // Twice a second.
            'identify' => fmod($seconds, 0.5) < 0.25,
            'colour' => true,
            default => false,
        };

        return $lit ? $this->colour : [0.0, 0.0, 0.0];
    }
}

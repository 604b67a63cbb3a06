<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * What a connector carries. HDMI 1.4 and 2.0 and DVI by their highest character clock, DisplayPort and HDMI 2.1 by
 * what four lanes carry after their line code (8b/10b; 16b/18b), SDI by its serial rate at 20 bits a pixel (4:2:2, 10
 * bit; SMPTE ST 292, 424, 2081, 2082).
 */
enum Connector: string
{
    case None = '';
    case DviSingle = 'dvi';
    case DviDual = 'dvi-dual';
    case Hdmi14 = 'hdmi-1.4';
    case Hdmi20 = 'hdmi-2.0';
    case Hdmi21 = 'hdmi-2.1';
    case DisplayPort12 = 'dp-1.2';
    case DisplayPort14 = 'dp-1.4';
    case DisplayPort20 = 'dp-2.0';
    case Sdi15 = 'sdi-1.5';
    case Sdi3 = 'sdi-3';
    case Sdi6 = 'sdi-6';
    case Sdi12 = 'sdi-12';

    /** @return list<string> */
    public static function names(): array
    {
        return array_column(self::cases(), 'value');
    }

    public function label(): string
    {
        return match ($this) {
            self::None => 'Not stated',
            self::DviSingle => 'DVI, single link',
            self::DviDual => 'DVI, dual link',
            self::Hdmi14 => 'HDMI 1.4',
            self::Hdmi20 => 'HDMI 2.0',
            self::Hdmi21 => 'HDMI 2.1',
            self::DisplayPort12 => 'DisplayPort 1.2',
            self::DisplayPort14 => 'DisplayPort 1.4',
            self::DisplayPort20 => 'DisplayPort 2.0',
            self::Sdi15 => 'HD-SDI',
            self::Sdi3 => '3G-SDI',
            self::Sdi6 => '6G-SDI',
            self::Sdi12 => '12G-SDI',
        };
    }

    /** Bits of picture a second that it carries; 0 where nothing is stated. */
    public function limit(): float
    {
        return match ($this) {
            self::None => 0.0,
            self::DviSingle => 165e6 * 24,
            self::DviDual => 330e6 * 24,
            self::Hdmi14 => 340e6 * 24,
            self::Hdmi20 => 600e6 * 24,
            self::Hdmi21 => (48e9 * 16) / 18,
            self::DisplayPort12 => 4 * 5.4e9 * 0.8,
            self::DisplayPort14 => 4 * 8.1e9 * 0.8,
            self::DisplayPort20 => (4 * 20e9 * 128) / 132,
            self::Sdi15 => 1.485e9,
            self::Sdi3 => 2.97e9,
            self::Sdi6 => 5.94e9,
            self::Sdi12 => 11.88e9,
        };
    }

    /** Bits of a pixel on it, at a depth of so many bits a channel. */
    public function bitsPerPixel(int $depth): int
    {
        return match ($this) {
            self::Sdi15, self::Sdi3, self::Sdi6, self::Sdi12 => 20,
            self::DviSingle, self::DviDual => 24,
            default => 3 * $depth,
        };
    }

    /** Deepest channel that it carries, in bits. */
    public function deepest(): int
    {
        return match ($this) {
            self::DviSingle, self::DviDual => 8,
            self::Sdi15, self::Sdi3, self::Sdi6, self::Sdi12 => 10,
            default => 16,
        };
    }

    /** Bits a second that a raster needs on it. */
    public function rate(VideoTiming $timing, int $depth): float
    {
        return (float) $timing->clock * $this->bitsPerPixel($depth);
    }
}

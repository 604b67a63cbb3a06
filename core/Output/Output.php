<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * One connector of a media server: its raster in pixels, its refresh rate in hertz, how it is sent, and what the
 * machine behind it can take. Light that leaves it is a power of the signal, its gamma.
 */
final readonly class Output
{
    public const BIT_DEPTHS = [8, 10, 12];

    /**
     * @param  string|null  $server  the machine that it leaves
     * @param  string  $timing  one of VideoTiming::RULES
     * @param  float  $delay  milliseconds by which its picture is shown later
     * @param  float  $peak  share of full light that it gives at most, 0 to 1
     * @param  list<float>  $gain  light of red, green and blue, 0 to 1
     * @param  float  $black  light, as a share of white, that is given everywhere so that overlaps do not show in the
     *     dark
     * @param  array{streams: int, decode: float, read: float, memory: float}  $limits  videos that may play at once;
     *     million pixels that may be decoded a second; megabytes that may be read a second; megabytes that decoded
     *     pictures may take; 0 for what is not known
     */
    private function __construct(
        public string $name,
        public int $width,
        public int $height,
        public float $refresh,
        public ?string $server,
        public Connector $connector,
        public int $bitDepth,
        public string $timing,
        public float $delay,
        public float $gamma,
        public float $peak,
        public array $gain,
        public float $black,
        public array $limits,
    ) {
    }

    public static function of(string $name, int $width, int $height, float $refresh): self
    {
        return self::fromRow(['name' => $name, 'width' => $width, 'height' => $height, 'refresh' => $refresh]);
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $number = static fn (
            string $name,
            float $default,
            float $min,
            float $max,
            string $unit = '',
        ): float => Check::number($name, (float) ($row[$name] ?? $default), $min, $max, $unit);
        $connector =
            Connector::tryFrom((string) ($row['connector'] ?? '')) ??
            throw InvalidValue::notOneOf('connector', (string) $row['connector'], Connector::names());
        $timing = (string) ($row['timing'] ?? 'auto');
        if (! in_array($timing, VideoTiming::RULES, true)) {
            throw InvalidValue::notOneOf('timing', $timing, VideoTiming::RULES);
        }
        $depth = (int) ($row['bitDepth'] ?? 8);
        if (! in_array($depth, self::BIT_DEPTHS, true)) {
            throw InvalidValue::because('bitDepth', "An output has 8, 10 or 12 bits a channel; it was $depth.");
        }
        $gain = array_map(
            static fn (mixed $v): float => Check::number('gain', (float) $v, 0, 1),
            array_values((array) ($row['gain'] ?? [])),
        );
        if ($gain !== [] && count($gain) !== 3) {
            throw InvalidValue::because('gain', 'The gain of an output is three numbers: red, green and blue.');
        }

        return new self(
            Check::name('name', (string) $row['name']),
            Check::pixels('width', (int) $row['width']),
            Check::pixels('height', (int) $row['height']),
            $number('refresh', 60, 1, 480, 'Hz'),
            isset($row['server']) ? (string) $row['server'] : null,
            $connector,
            $depth,
            $timing,
            $number('delay', 0, 0, 2000, 'ms'),
            $number('gamma', 2.2, 1, 4),
            $number('peak', 1, 0.01, 1),
            $gain === [] ? [1.0, 1.0, 1.0] : $gain,
            $number('black', 0, 0, 0.5),
            [
                'streams' => Check::whole('streamsLimit', (int) ($row['streamsLimit'] ?? 0), 0, 1000),
                'decode' => $number('decodeLimit', 0, 0, 1_000_000, 'Mpx/s'),
                'read' => $number('readLimit', 0, 0, 1_000_000, 'MB/s'),
                'memory' => $number('memoryLimit', 0, 0, 1_000_000, 'MB'),
            ],
        );
    }

    public function raster(): Rect
    {
        return Rect::of(0, 0, $this->width, $this->height);
    }

    /** How its raster is sent; null where the rule that it names does not have it. */
    public function sent(): ?VideoTiming
    {
        return VideoTiming::of($this->width, $this->height, $this->refresh, $this->timing);
    }
}

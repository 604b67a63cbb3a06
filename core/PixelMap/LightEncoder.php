<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\InvalidValue;
use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;

/**
 * The control bytes of one pixel light: what its pixels read of the raster, as linear light, through its emitters,
 * along its wiring.
 */
final class LightEncoder
{
    public readonly FixtureType $type;

    public readonly LightPatch $patch;

    public readonly Addressing $addressing;

    /** Slots that it sends (255) and those that are another's (0), from the first universe's first on. */
    public readonly string $mask;

    /**
     * @var list<list<array{int, float}>|int> which pixels of the raster each pixel reads, along the wiring: one, or several with weights
     */
    private readonly array $reads;

    /** Whether each pixel reads one of the raster. */
    private readonly bool $plain;

    /**
     * @var list<array{int, int, int}> pixels that follow one another without a gap: the first, the one after the last, and the slot of the first
     */
    private readonly array $runs;

    /** @var list<FixtureChannel> */
    private readonly array $channels;

    private readonly PixelCodec $codec;

    /** @var array{array{list<float>, list<float>, list<float>}, float, float}|null what its last bytes were made of */
    private ?array $last = null;

    private string $bytes = '';

    /**
     * @param  array<string, mixed>  $type  as FixtureType has it
     * @param  array<string, mixed>  $patch  as LightPatch has it
     * @param  array<string, PixelCodec>  $codecs  shared by lights that are alike
     *
     * @throws InvalidValue
     */
    public function __construct(array $type, array $patch, private readonly int $fineness = 1, array &$codecs = [])
    {
        $this->type = FixtureType::fromRow($type);
        $this->patch = LightPatch::fromRow($patch);
        $this->addressing = $this->patch->addressing($this->type);
        $this->channels = $this->patch->channelsOf($this->type);
        $this->codec = $codecs[PixelCodec::key($this->type, $this->patch)] ??= new PixelCodec(
            $this->type,
            $this->patch,
        );
        $this->reads = array_map($this->reading(...), $this->addressing->order);
        $this->plain = array_filter($this->reads, is_array(...)) === [];
        $this->runs = $this->runs();
        $each = $this->maskOf($this->channels);
        $mask = str_repeat("\0", $this->addressing->header[0]).$this->maskOf($this->type->header);
        foreach ($this->addressing->starts as $start) {
            $mask = str_pad($mask, $start, "\0").$each;
        }
        $this->mask = $mask;
    }

    /** @return list<array{int, int, int}> */
    private function runs(): array
    {
        $each = count($this->channels) * $this->type->slots();
        $starts = $this->addressing->starts;
        [$runs, $from] = [[], 0];
        foreach ($starts as $n => $start) {
            if (($starts[$n + 1] ?? -1) !== $start + $each) {
                $runs[] = [$from, $n + 1, $starts[$from]];
                $from = $n + 1;
            }
        }

        return $runs;
    }

    /** @param  list<FixtureChannel>  $channels */
    private function maskOf(array $channels): string
    {
        return implode(
            '',
            array_map(
                fn (FixtureChannel $c): string => str_repeat($c->isUnused() ? "\0" : "\xFF", $this->type->slots()),
                $channels,
            ),
        );
    }

    /**
     * The pixels of the raster that a light's pixel reads: its own cell, averaged, or around its middle by a Gaussian.
     *
     * @return list<array{int, float}>|int
     */
    private function reading(int $pixel): array|int
    {
        [$width, $height] = [$this->type->columns * $this->fineness, $this->type->rows * $this->fineness];
        [$u, $v] = $this->type->place($pixel);
        [$x, $y] = [$u * $width, $v * $height];
        if ($this->patch->radius > 0) {
            return self::gaussian($x, $y, $this->patch->radius, $width, $height);
        }
        if ($this->fineness === 1) {
            return min($height - 1, (int) $y) * $width + min($width - 1, (int) $x);
        }
        [$left, $top] = [(int) round($x - $this->fineness / 2), (int) round($y - $this->fineness / 2)];
        $found = [];
        for ($j = max(0, $top); $j < min($height, $top + $this->fineness); $j++) {
            for ($i = max(0, $left); $i < min($width, $left + $this->fineness); $i++) {
                $found[] = [$j * $width + $i, 1.0];
            }
        }

        return self::normalised($found);
    }

    /** @return list<array{int, float}> out to three times the radius */
    private static function gaussian(float $x, float $y, float $radius, int $width, int $height): array
    {
        $found = [];
        for ($j = max(0, (int) floor($y - 3 * $radius)); $j < min($height, (int) ceil($y + 3 * $radius)); $j++) {
            for ($i = max(0, (int) floor($x - 3 * $radius)); $i < min($width, (int) ceil($x + 3 * $radius)); $i++) {
                $found[] = [$j * $width + $i, exp(-(($i + 0.5 - $x) ** 2 + ($j + 0.5 - $y) ** 2) / (2 * $radius ** 2))];
            }
        }

        return self::normalised($found);
    }

    /**
     * @param  list<array{int, float}>  $found
     * @return list<array{int, float}> whose weights sum to 1
     */
    private static function normalised(array $found): array
    {
        $sum = array_sum(array_column($found, 1));

        return $sum > 0 ? array_map(static fn (array $one): array => [$one[0], $one[1] / $sum], $found) : [];
    }

    /**
     * Bytes of a test in place of the show's; of one channel, that channel of every pixel at full.
     *
     * @param  float  $seconds  of the engine
     */
    public function tested(LightTest $test, float $seconds): string
    {
        $slots = $this->type->slots();
        $mix = $this->patch->mix($this->channels, 1);
        $bytes = $this->header();
        foreach ($this->addressing->starts as $n => $start) {
            $bytes = str_pad($bytes, $start, "\0");
            if ($test->kind === 'channel') {
                foreach ($this->channels as $i => $channel) {
                    $bytes .= str_repeat($i === $test->number ? "\xFF" : "\0", $slots);
                }

                continue;
            }
            [$u, $v] = $this->type->place($this->addressing->order[$n]);
            $cell = [
                min($this->type->columns - 1, (int) ($u * $this->type->columns)),
                min($this->type->rows - 1, (int) ($v * $this->type->rows)),
            ];
            $bytes .= $this->codec->levels(
                $mix->levels(...$test->light($n, count($this->addressing->order), $cell, $seconds)),
                0,
                $n,
            );
        }

        return $bytes;
    }

    private function header(): string
    {
        $header = str_repeat("\0", $this->addressing->header[0]);
        foreach ($this->type->header as $channel) {
            $header .= $this->codec->slots->bytes(
                $channel->kind === 'dimmer' ? 1.0 : ($channel->kind === 'fixed' ? $channel->value / 255 : 0.0),
            );
        }

        return $header;
    }

    /**
     * Bytes from the first slot of its first universe on; what is not its own is 0.
     *
     * @param  array{list<float>, list<float>, list<float>}  $raster  display-encoded red, green and blue of its
     *     surface, row by row
     * @param  float  $level  of its light, 0 to 1
     * @param  float  $share  of the light that whites carry
     * @param  int  $frame  counted by the sender, for dithering
     */
    public function bytes(array $raster, float $level = 1, float $share = 1, int $frame = 0): string
    {
        $state = [$raster, $level, $share];
        if ($state === $this->last && ! $this->codec->slots->dithered) {
            return $this->bytes;
        }
        $this->last = $state;

        return $this->bytes = $this->encoded($raster, $level, $share, $frame);
    }

    /** @param  array{list<float>, list<float>, list<float>}  $raster */
    private function encoded(array $raster, float $level, float $share, int $frame): string
    {
        $this->codec->at($level, $share);
        $bytes = $this->header();
        if ($this->plain && ! $this->codec->slots->dithered) {
            foreach ($this->runs as [$from, $to, $first]) {
                $bytes = str_pad($bytes, $first, "\0").$this->codec->run($raster, $this->reads, $from, $to);
            }

            return $bytes;
        }
        [$red, $green, $blue] = $raster;
        foreach ($this->reads as $n => $read) {
            if (is_int($read)) {
                [$r, $g, $b] = [$red[$read] ?? 0.0, $green[$read] ?? 0.0, $blue[$read] ?? 0.0];
            } else {
                [$r, $g, $b] = [0.0, 0.0, 0.0];
                foreach ($read as [$index, $weight]) {
                    // Light is averaged, not signals.
                    $r += $weight * ($red[$index] ?? 0.0) ** PixelCodec::GAMMA;
                    $g += $weight * ($green[$index] ?? 0.0) ** PixelCodec::GAMMA;
                    $b += $weight * ($blue[$index] ?? 0.0) ** PixelCodec::GAMMA;
                }
                [$r, $g, $b] = [
                    $r ** (1 / PixelCodec::GAMMA),
                    $g ** (1 / PixelCodec::GAMMA),
                    $b ** (1 / PixelCodec::GAMMA),
                ];
            }
            $bytes = str_pad($bytes, $this->addressing->starts[$n], "\0").$this->codec->pixel($r, $g, $b, $frame, $n);
        }

        return $bytes;
    }
}

<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\InvalidValue;
use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;

/**
 * The control bytes of one pixel light: what its pixels read of the raster, as linear light, through its emitters, along its wiring.
 * Display-encoded signals become light by the power of 2.2. What one colour comes to is kept: pictures have few.
 */
final class LightEncoder
{
    private const GAMMA = 2.2;

    /** Steps into which a signal is parted, for what is kept: as many as 8 bits have, or where finer ones come out, four times as many. */
    private const STEPS = [255, 1023];

    private const KEPT = 65_536;

    public readonly FixtureType $type;

    public readonly LightPatch $patch;

    public readonly Addressing $addressing;

    /** Slots that it sends (255) and those that are another's (0), from the first universe's first on. */
    public readonly string $mask;

    /** @var list<list<array{int, float}>|int> which pixels of the raster each pixel reads, along the wiring: one, or several with weights */
    private readonly array $reads;

    /** @var list<FixtureChannel> */
    private readonly array $channels;

    private readonly SlotEncoder $slots;

    /** @var array<string, array<int, string>> bytes of a pixel by its colour, by level and share */
    private array $kept = [];

    /**
     * @param  array<string, mixed>  $type  as FixtureType has it
     * @param  array<string, mixed>  $patch  as LightPatch has it
     *
     * @throws InvalidValue
     */
    public function __construct(array $type, array $patch, private readonly int $fineness = 1)
    {
        $this->type = FixtureType::fromRow($type);
        $this->patch = LightPatch::fromRow($patch);
        $this->addressing = $this->patch->addressing($this->type);
        $this->channels = $this->patch->channelsOf($this->type);
        $this->slots = new SlotEncoder($this->type->bits, $this->type->gamma, $this->type->minimum, $this->patch->dithered && $this->type->bits === 8);
        $this->reads = array_map($this->reading(...), $this->addressing->order);
        $each = $this->maskOf($this->channels);
        $mask = str_repeat("\0", $this->addressing->header[0]).$this->maskOf($this->type->header);
        foreach ($this->addressing->starts as $start) {
            $mask = str_pad($mask, $start, "\0").$each;
        }
        $this->mask = $mask;
    }

    /** @param  list<FixtureChannel>  $channels */
    private function maskOf(array $channels): string
    {
        return implode('', array_map(fn (FixtureChannel $c): string => str_repeat($c->isUnused() ? "\0" : "\xFF", $this->type->slots()), $channels));
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
        $mix = EmitterMix::of($this->channels, $this->patch->whites, 1, $this->patch->kelvin, $this->patch->gains);
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
            $cell = [min($this->type->columns - 1, (int) ($u * $this->type->columns)), min($this->type->rows - 1, (int) ($v * $this->type->rows))];
            $bytes .= $this->pixel($mix->levels(...$test->light($n, count($this->addressing->order), $cell, $seconds)), 0, $n);
        }

        return $bytes;
    }

    private function header(): string
    {
        $header = str_repeat("\0", $this->addressing->header[0]);
        foreach ($this->type->header as $channel) {
            $header .= $this->slots->bytes($channel->kind === 'dimmer' ? 1.0 : ($channel->kind === 'fixed' ? $channel->value / 255 : 0.0));
        }

        return $header;
    }

    /** @param  list<float>  $levels  of its channels */
    private function pixel(array $levels, int $frame, int $n): string
    {
        $bytes = '';
        foreach ($levels as $i => $value) {
            $kind = $this->channels[$i]->kind;
            $bytes .= $this->slots->bytes($kind === 'fixed' || $kind === 'dimmer' ? $value : $this->slots->value($value), $frame, $n);
        }

        return $bytes;
    }

    /**
     * Bytes from the first slot of its first universe on; what is not its own is 0.
     *
     * @param  array{list<float>, list<float>, list<float>}  $raster  display-encoded red, green and blue of its surface, row by row
     * @param  float  $level  of its light, 0 to 1
     * @param  float  $share  of the light that whites carry
     * @param  int  $frame  counted by the sender, for dithering
     */
    public function bytes(array $raster, float $level = 1, float $share = 1, int $frame = 0): string
    {
        [$red, $green, $blue] = $raster;
        $steps = self::STEPS[$this->type->bits === 16 || $this->slots->dithered ? 1 : 0];
        $state = sprintf('%.4f %.4f', $level, $share);
        if (! isset($this->kept[$state])) {
            // While a fade runs each frame has a level of its own.
            $this->kept = [$state => []];
        }
        $mix = EmitterMix::of($this->channels, $this->patch->whites, $share, $this->patch->kelvin, $this->patch->gains);
        $bytes = $this->header();
        $at = strlen($bytes);
        $each = count($this->channels) * $this->type->slots();
        $starts = $this->addressing->starts;
        $kept = &$this->kept[$state];
        $dithered = $this->slots->dithered;
        foreach ($this->reads as $n => $read) {
            if (is_int($read)) {
                [$r, $g, $b] = [$red[$read] ?? 0.0, $green[$read] ?? 0.0, $blue[$read] ?? 0.0];
            } else {
                [$r, $g, $b] = [0.0, 0.0, 0.0];
                foreach ($read as [$index, $weight]) {
                    // Light is averaged, not signals.
                    $r += $weight * ($red[$index] ?? 0.0) ** self::GAMMA;
                    $g += $weight * ($green[$index] ?? 0.0) ** self::GAMMA;
                    $b += $weight * ($blue[$index] ?? 0.0) ** self::GAMMA;
                }
                [$r, $g, $b] = [$r ** (1 / self::GAMMA), $g ** (1 / self::GAMMA), $b ** (1 / self::GAMMA)];
            }
            if ($starts[$n] > $at) {
                $bytes .= str_repeat("\0", $starts[$n] - $at);
                $at = $starts[$n];
            }
            $key = ((int) ($r * $steps + 0.5) << 20) | ((int) ($g * $steps + 0.5) << 10) | (int) ($b * $steps + 0.5);
            if ($dithered) {
                $key = $key << 2 | ($frame + $n) & 3;
            }
            $one = $kept[$key] ?? null;
            if ($one === null) {
                count($kept) >= self::KEPT && $kept = [];
                // By the step that it was kept for, so that what comes out does not depend on what came before.
                $light = static fn (int $step): float => $level * ($step / $steps) ** self::GAMMA;
                $one = $this->pixel($mix->levels($light((int) ($r * $steps + 0.5)), $light((int) ($g * $steps + 0.5)), $light((int) ($b * $steps + 0.5))), $frame, $n);
                $kept[$key] = $one;
            }
            $bytes .= $one;
            $at += $each;
        }

        return $bytes;
    }
}

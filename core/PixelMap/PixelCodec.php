<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;

/**
 * The control bytes of a pixel by its display-encoded colour. Signals are parted into steps; light is a step to the
 * power of 2.2. Where each channel follows from one of red, green and blue alone, its bytes are looked up in a table
 * of that channel; else what a colour comes to is kept, since pictures have few. Lights that are alike share one.
 */
final class PixelCodec
{
    public const GAMMA = 2.2;

    /** As many steps as 8 bits have, or where finer ones come out, four times as many. */
    private const STEPS = [255, 1023];

    private const KEPT = 65_536;

    /** Levels and shares that are kept ready: lights that share this may each have their own. */
    private const STATES = 16;

    /** Red, green and blue by their names. */
    private const PRIMARIES = ['red' => 0, 'green' => 1, 'blue' => 2];

    public readonly SlotEncoder $slots;

    public readonly int $steps;

    /** Whether each channel follows from one primary, or from none. */
    public readonly bool $separable;

    /** @var list<FixtureChannel> */
    private readonly array $channels;

    /**
     * @var array<string, array{float, EmitterMix, array<int, string>, list<array{int, list<string>}>}> those that are not in use, by state
     */
    private array $states = [];

    /** What was kept is of this level and share of whites. */
    private string $state = '';

    private float $level = 1;

    private ?EmitterMix $mix = null;

    /** @var array<int, string> by colour, and frame where it is dithered */
    private array $kept = [];

    /**
     * @var list<array{int, list<string>}> of each channel: the primary that it follows, −1 for none, and its bytes by step
     */
    private array $tables = [];

    public function __construct(FixtureType $type, private readonly LightPatch $patch)
    {
        $this->channels = $patch->channelsOf($type);
        $this->slots = new SlotEncoder(
            $type->bits,
            $type->gamma,
            $type->minimum,
            $patch->dithered && $type->bits === 8,
        );
        $this->steps = self::STEPS[$type->bits === 16 || $this->slots->dithered ? 1 : 0];
        $this->separable =
            ! $this->slots->dithered &&
            array_filter(
                $this->channels,
                static fn (FixtureChannel $c): bool => ! isset(self::PRIMARIES[$c->kind]) &&
                    ! in_array($c->kind, ['fixed', 'unused', 'uv'], true),
            ) === [];
    }

    /** Lights for which this is the same may share one. */
    public static function key(FixtureType $type, LightPatch $patch): string
    {
        return serialize([
            array_map(strval(...), $patch->channelsOf($type)),
            $type->bits,
            $type->gamma,
            $type->minimum,
            $patch->whites,
            $patch->kelvin,
            $patch->gains,
            $patch->dithered,
        ]);
    }

    /** Makes it ready for a level of light, and a share of it that whites carry. */
    public function at(float $level, float $share): void
    {
        $state = sprintf('%.5f %.5f', $level, $share);
        if ($state === $this->state) {
            return;
        }
        if ($this->state !== '' && $this->mix !== null) {
            count($this->states) >= self::STATES && array_shift($this->states);
            $this->states[$this->state] = [$this->level, $this->mix, $this->kept, $this->tables];
        }
        $this->state = $state;
        if (isset($this->states[$state])) {
            [$this->level, $this->mix, $this->kept, $this->tables] = $this->states[$state];
            unset($this->states[$state]);

            return;
        }
        [$this->level, $this->kept, $this->tables] = [$level, [], []];
        $this->mix = $this->patch->mix($this->channels, $share);
        if ($this->separable) {
            foreach ($this->channels as $channel) {
                $primary = self::PRIMARIES[$channel->kind] ?? -1;
                $gain = $level * ($this->patch->gains[$primary] ?? 0.0);
                $this->tables[] = [
                    $primary,
                    $primary < 0
                        ? [$this->slots->bytes($channel->kind === 'fixed' ? $channel->value / 255 : 0.0)]
                        : array_map(
                            fn (int $step): string => $this->slots->bytes(
                                $this->slots->value($gain * ($step / $this->steps) ** self::GAMMA),
                            ),
                            range(0, $this->steps),
                        ),
                ];
            }
        }
    }

    /**
     * Pixels one after another, each of one pixel of the raster.
     *
     * @param  array{list<float>, list<float>, list<float>}  $raster
     * @param  array<int, int|list<array{int, float}>>  $reads  pixels of the raster, one each
     */
    public function run(array $raster, array $reads, int $from, int $to): string
    {
        $steps = $this->steps;
        $bytes = '';
        if (! $this->separable) {
            [$red, $green, $blue] = $raster;
            for ($n = $from; $n < $to; $n++) {
                $read = (int) $reads[$n];
                $key =
                    ((int) (($red[$read] ?? 0.0) * $steps + 0.5) << 20) |
                    ((int) (($green[$read] ?? 0.0) * $steps + 0.5) << 10) |
                    (int) (($blue[$read] ?? 0.0) * $steps + 0.5);
                $bytes .= $this->kept[$key] ?? $this->made($key, 0, 0);
            }

            return $bytes;
        }
        if (count($this->tables) === 3 && min(array_column($this->tables, 0)) >= 0) {
            [[$i, $a], [$j, $b], [$k, $c]] = $this->tables;
            [$first, $second, $third] = [$raster[$i], $raster[$j], $raster[$k]];
            for ($n = $from; $n < $to; $n++) {
                $read = (int) $reads[$n];
                $bytes .=
                    $a[(int) (($first[$read] ?? 0.0) * $steps + 0.5)].
                    $b[(int) (($second[$read] ?? 0.0) * $steps + 0.5)].
                    $c[(int) (($third[$read] ?? 0.0) * $steps + 0.5)];
            }

            return $bytes;
        }
        for ($n = $from; $n < $to; $n++) {
            $read = (int) $reads[$n];
            foreach ($this->tables as [$primary, $table]) {
                $bytes .= $primary < 0 ? $table[0] : $table[(int) (($raster[$primary][$read] ?? 0.0) * $steps + 0.5)];
            }
        }

        return $bytes;
    }

    /** One pixel by its signals, 0 to 1. */
    public function pixel(float $r, float $g, float $b, int $frame, int $n): string
    {
        $key =
            ((int) ($r * $this->steps + 0.5) << 20) |
            ((int) ($g * $this->steps + 0.5) << 10) |
            (int) ($b * $this->steps + 0.5);
        if ($this->slots->dithered) {
            $key |= (($frame + $n) & 3) << 30;
        }

        return $this->kept[$key] ?? $this->made($key, $frame, $n);
    }

    /** By the steps that it is kept for, so that what comes out does not depend on what came before. */
    private function made(int $key, int $frame, int $n): string
    {
        count($this->kept) >= self::KEPT && ($this->kept = []);
        $light = fn (int $step): float => $this->level * (($step & 1023) / $this->steps) ** self::GAMMA;

        return $this->kept[$key] = $this->levels(
            $this->mix?->levels($light($key >> 20), $light($key >> 10), $light($key)) ?? [],
            $frame,
            $n,
        );
    }

    /** @param  list<float>  $levels  light of each channel, and what is sent as it is of those that are no light */
    public function levels(array $levels, int $frame = 0, int $n = 0): string
    {
        $bytes = '';
        foreach ($levels as $i => $value) {
            $kind = $this->channels[$i]->kind;
            $bytes .= $this->slots->bytes(
                $kind === 'fixed' || $kind === 'dimmer' ? $value : $this->slots->value($value),
                $frame,
                $n,
            );
        }

        return $bytes;
    }
}

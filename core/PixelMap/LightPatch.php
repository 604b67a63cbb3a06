<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Values\Property;
use Core\Values\PropertySet;
use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;

/** Which control slots of which node a pixel light has, along which way, and how its light becomes channels. */
final readonly class LightPatch
{
    /**
     * @param  string  $surface  id of the light
     * @param  string|null  $node  null where it is sent nowhere yet
     * @param  int  $universe  from 1
     * @param  int  $channel  1 to 512
     * @param  list<FixtureChannel>|null  $channels  in place of those of its type; null for those
     * @param  string  $whites  how whites are found: minimum, or white point
     * @param  float  $kelvin  wanted of several whites; 0 for none
     * @param  string  $whiteOutput  of several whites: brightest, or constant
     * @param  array{float, float, float}  $gains
     * @param  float  $radius  how far around it a pixel reads, in pixels of the raster: the standard deviation of a
     *     Gaussian; 0 for its own area
     * @param  array<string, non-empty-list<float>>  $stored  values
     */
    private function __construct(
        public string $surface,
        public ?string $node,
        public int $universe,
        public int $channel,
        public Wiring $wiring,
        public ?array $channels,
        public string $whites,
        public float $kelvin,
        public string $whiteOutput,
        public array $gains,
        public bool $dithered,
        public float $radius,
        public array $stored,
    ) {
    }

    /** The values that a patch has over time: its level, and the share of the light that whites carry. */
    public static function properties(): PropertySet
    {
        return PropertySet::of(
            'patch',
            Property::share('level', 'Level'),
            Property::share('whiteShare', 'White share'),
        );
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, non-empty-list<float>>  $stored
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row, array $stored = []): self
    {
        $own = (string) ($row['channels'] ?? '');
        $gains = array_map(floatval(...), array_values((array) ($row['gains'] ?? [])));
        if ($gains !== [] && count($gains) !== 3) {
            throw InvalidValue::because('gains', 'The balance is three numbers: red, green and blue.');
        }
        $whites = Check::oneOf('whites', (string) ($row['whites'] ?? 'minimum'), EmitterMix::WHITES);
        $path = array_values(array_map(intval(...), (array) ($row['path'] ?? [])));
        $kelvin = Check::number('kelvin', (float) ($row['kelvin'] ?? 0), 0, 20_000, 'K');
        if ($kelvin > 0 && $kelvin < 1000) {
            throw InvalidValue::outside('kelvin', $kelvin, 1000, 20_000, 'K');
        }
        foreach ($gains as $gain) {
            Check::number('gains', $gain, 0, 1);
        }

        return new self(
            (string) $row['surface'],
            isset($row['node']) ? (string) $row['node'] : null,
            Check::whole('universe', (int) ($row['universe'] ?? 1), 1, Universes::LAST),
            Check::whole('channel', (int) ($row['channel'] ?? 1), 1, FixtureType::UNIVERSE),
            Wiring::of((array) ($row['wiring'] ?? []), $path),
            $own === '' ? null : FixtureChannel::list('channels', $own, FixtureType::MAX_CHANNELS),
            $whites,
            $kelvin,
            Check::oneOf('whiteOutput', (string) ($row['whiteOutput'] ?? 'brightest'), EmitterMix::OUTPUTS),
            $gains === [] ? [1.0, 1.0, 1.0] : [$gains[0], $gains[1], $gains[2]],
            (bool) ($row['dithered'] ?? false),
            Check::number('radius', (float) ($row['radius'] ?? 0), 0, 64, 'px'),
            $stored,
        );
    }

    /** @return array<string, mixed> as fromRow() takes it, but for its values */
    public function toArray(): array
    {
        return [
            'surface' => $this->surface,
            'node' => $this->node,
            'universe' => $this->universe,
            'channel' => $this->channel,
            'wiring' => $this->wiring->toArray(),
            'path' => $this->wiring->path,
            'channels' => implode(', ', $this->channels ?? []),
            'whites' => $this->whites,
            'kelvin' => $this->kelvin,
            'whiteOutput' => $this->whiteOutput,
            'gains' => $this->gains,
            'dithered' => $this->dithered,
            'radius' => $this->radius,
        ];
    }

    /** @return list<FixtureChannel> of a pixel */
    public function channelsOf(FixtureType $type): array
    {
        return $this->channels ?? $type->channels;
    }

    /**
     * How much each emitter of a pixel gives.
     *
     * @param  list<FixtureChannel>  $channels  of a pixel
     * @param  float  $share  of the light that whites carry, 0 to 1
     */
    public function mix(array $channels, float $share): EmitterMix
    {
        return EmitterMix::of($channels, $this->whites, $share, $this->kelvin, $this->gains, $this->whiteOutput);
    }

    public function addressing(FixtureType $type): Addressing
    {
        return Addressing::of(
            $type,
            $type->header,
            $this->channelsOf($type),
            $this->universe,
            $this->channel,
            $this->wiring->order($type),
        );
    }
}

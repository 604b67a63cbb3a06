<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\InvalidValue;

/**
 * How a wall is fed and looked at: its supply and data link, the way that each takes through the panels, and the
 * angle of view that is asked about.
 */
final readonly class Feeding
{
    /** Names of its settings. */
    public const SETTINGS = [
        'volts',
        'amperes',
        'phases',
        'powerFactor',
        'continuousShare',
        'bitsPerSecond',
        'usableShare',
        'bitsPerPixel',
        'refresh',
        'powerPath',
        'dataPath',
        'fromRight',
        'fromBottom',
        'byRectangle',
        'viewAngle',
        'between',
        'panelsPerCircuit',
        'panelsPerPort',
        'spareData',
        'hangingPoints',
        'riggingKilograms',
    ];

    /** Degrees at which a picture fills what one looks at without turning the head. */
    private const USUAL_VIEW = 40.0;

    /**
     * @param  float  $viewAngle  degrees across that somebody takes in
     * @param  int  $panelsPerCircuit  at most; 0 for as many as it bears
     * @param  int  $panelsPerPort  at most; 0 for as many as it carries
     * @param  bool  $spareData  whether each data run ends in a second port
     * @param  string  $hangingPoints  see Suspension; empty where the wall stands
     * @param  float  $rigging  kilograms that hang with it
     */
    private function __construct(
        public Supply $supply,
        public DataLink $link,
        public CablePath $powerPath,
        public CablePath $dataPath,
        public bool $fromRight,
        public bool $fromBottom,
        public bool $byRectangle,
        public float $viewAngle,
        public int $panelsPerCircuit,
        public int $panelsPerPort,
        public bool $spareData,
        public string $hangingPoints,
        public float $rigging,
    ) {
    }

    /**
     * Whatever is not stated is as usual.
     *
     * @param  array<string, mixed>  $row  volts, amperes, phases, powerFactor, continuousShare, bitsPerSecond,
     *     usableShare, bitsPerPixel, refresh, powerPath, dataPath, fromRight, fromBottom, byRectangle, viewAngle,
     *     between, panelsPerCircuit, panelsPerPort, spareData, hangingPoints, riggingKilograms
     */
    public static function fromRow(array $row): self
    {
        $settings = new Settings($row);
        $number = static fn (string $name, float $usual): float => $settings->number($name, $usual, -INF, INF);
        $path = static function (string $name) use ($row): CablePath {
            $value = $row[$name] ?? 'columns-snake';

            return (is_string($value) ? CablePath::tryFrom($value) : null) ??
                throw InvalidValue::notOneOf(
                    $name,
                    is_string($value) ? $value : gettype($value),
                    array_column(CablePath::cases(), 'value'),
                );
        };

        return new self(
            Supply::of(
                $number('volts', 230),
                $number('amperes', 16),
                (int) $number('phases', 3),
                $number('powerFactor', 0.95),
                $number('continuousShare', 0.8),
                $settings->text('between', 'neutral'),
            ),
            DataLink::of(
                $number('bitsPerSecond', 1e9),
                $number('usableShare', 0.95),
                (int) $number('bitsPerPixel', 24),
                $number('refresh', 60),
            ),
            $path('powerPath'),
            $path('dataPath'),
            (bool) ($row['fromRight'] ?? false),
            (bool) ($row['fromBottom'] ?? true),
            (bool) ($row['byRectangle'] ?? false),
            $settings->number('viewAngle', self::USUAL_VIEW, 1, 170, 'degrees'),
            $settings->whole('panelsPerCircuit', 0, 0, Wall::MAX_CELLS),
            $settings->whole('panelsPerPort', 0, 0, Wall::MAX_CELLS),
            $settings->flag('spareData'),
            trim($settings->text('hangingPoints')),
            $settings->number('riggingKilograms', 0, 0, 100_000, 'kg'),
        );
    }

    /** @return list<CableRun> */
    public function power(Wall $wall): array
    {
        return Cabling::power(
            $wall,
            $this->supply,
            $this->powerPath,
            $this->fromRight,
            $this->fromBottom,
            $this->panelsPerCircuit,
        );
    }

    /** @return list<CableRun> */
    public function data(Wall $wall): array
    {
        return Cabling::data(
            $wall,
            $this->link,
            $this->dataPath,
            $this->byRectangle,
            $this->fromRight,
            $this->fromBottom,
            $this->panelsPerPort,
        );
    }
}

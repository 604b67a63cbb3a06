<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A kind of pixel light: pixels in columns and rows, or at free points over such a grid, and the channels by which it
 * is controlled: some before all pixels, then as many for each pixel, each of 8 or 16 bits.
 */
final readonly class FixtureType
{
    public const MAX_PIXELS = 16_384;

    public const MAX_CHANNELS = 32;

    /** Control slots of a universe. */
    public const UNIVERSE = 512;

    /**
     * @param  list<array{float, float}>  $points  of free pixels, 0 to 1 across and down; none where each cell of the
     *     grid is a pixel
     * @param  list<FixtureChannel>  $header  before the pixels
     * @param  list<FixtureChannel>  $channels  of each pixel
     * @param  bool  $straddles  whether a pixel may begin in one universe and end in the next
     * @param  float  $gamma  exponent by which a value sent becomes light: 1 where the light is linear
     * @param  float  $minimum  value sent of the least light that is not dark, 0 to 1
     */
    private function __construct(
        public string $name,
        public int $columns,
        public int $rows,
        public float $widthMm,
        public float $heightMm,
        public array $points,
        public array $header,
        public array $channels,
        public int $bits,
        public bool $straddles,
        public float $gamma,
        public float $minimum,
        public float $watts,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  name, columns, rows, widthMm, heightMm, points (x and y in mm from the top
     *     left, one after another), header, channels, bits, straddles, gamma, minimum, watts
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $columns = Check::whole('columns', (int) $row['columns'], 1, 1024);
        $rows = Check::whole('rows', (int) $row['rows'], 1, 1024);
        $width = Check::number('widthMm', (float) $row['widthMm'], 1, 100_000, 'mm');
        $height = Check::number('heightMm', (float) $row['heightMm'], 1, 100_000, 'mm');
        if ($columns * $rows > self::MAX_PIXELS) {
            throw InvalidValue::because(
                'columns',
                sprintf(
                    'A light has at most %s pixels; %d × %d are more.',
                    number_format(self::MAX_PIXELS),
                    $columns,
                    $rows,
                ),
            );
        }
        $bits = (int) ($row['bits'] ?? 8);
        if ($bits !== 8 && $bits !== 16) {
            throw InvalidValue::notOneOf('bits', (string) $bits, ['8', '16']);
        }
        $channels = FixtureChannel::list('channels', (string) $row['channels'], self::MAX_CHANNELS);
        if ($channels === []) {
            throw InvalidValue::because('channels', 'A pixel has one channel at least, as in RGB.');
        }
        $header = FixtureChannel::list('header', (string) ($row['header'] ?? ''), self::MAX_CHANNELS);

        return new self(
            Check::name('name', (string) $row['name']),
            $columns,
            $rows,
            $width,
            $height,
            self::points((array) ($row['points'] ?? []), $width, $height),
            $header,
            $channels,
            $bits,
            (bool) ($row['straddles'] ?? false),
            Check::number('gamma', (float) ($row['gamma'] ?? 1), 0.2, 5),
            Check::number('minimum', (float) ($row['minimum'] ?? 0), 0, 0.9),
            Check::number('watts', (float) ($row['watts'] ?? 0), 0, 100_000, 'W'),
        );
    }

    /**
     * @param  array<array-key, mixed>  $numbers
     * @return list<array{float, float}>
     */
    private static function points(array $numbers, float $width, float $height): array
    {
        if (count($numbers) % 2 !== 0 || count($numbers) > 2 * self::MAX_PIXELS) {
            throw InvalidValue::because(
                'points',
                'Points are pairs of millimetres, at most '.number_format(self::MAX_PIXELS).' of them.',
            );
        }
        $points = [];
        foreach (array_chunk(array_map(floatval(...), array_values($numbers)), 2) as [$x, $y]) {
            $points[] = [
                Check::number('points', $x, 0, $width, 'mm') / $width,
                Check::number('points', $y, 0, $height, 'mm') / $height,
            ];
        }

        return $points;
    }

    /** @return array<string, mixed> as fromRow() takes it */
    public function toArray(): array
    {
        $points = [];
        foreach ($this->points as [$x, $y]) {
            array_push($points, $x * $this->widthMm, $y * $this->heightMm);
        }

        return [
            'points' => $points,
            'header' => implode(', ', $this->header),
            'channels' => implode(', ', $this->channels),
        ] + get_object_vars($this);
    }

    public function count(): int
    {
        return $this->points === [] ? $this->columns * $this->rows : count($this->points);
    }

    /** Control slots of one channel. */
    public function slots(): int
    {
        return intdiv($this->bits, 8);
    }

    /**
     * Where a pixel is, 0 to 1 across and down.
     *
     * @return array{float, float}
     */
    public function place(int $pixel): array
    {
        return $this->points[$pixel] ?? [
            (($pixel % $this->columns) + 0.5) / $this->columns,
            (intdiv($pixel, $this->columns) + 0.5) / $this->rows,
        ];
    }
}

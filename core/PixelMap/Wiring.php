<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\FixtureType;

/**
 * The way along which the control line runs through the pixels of a light: from a corner along rows or columns,
 * straight (each line from the same side) or serpentine (back and forth); through blocks of pixels one after another,
 * each wired the same; or drawn by hand.
 */
final readonly class Wiring
{
    public const CORNERS = ['top left', 'top right', 'bottom left', 'bottom right'];

    public const ALONG = ['rows', 'columns'];

    /**
     * @param  array{int, int}|null  $block  columns and rows of a block; null where the whole light is one
     * @param  list<int>  $path  numbers of pixels by hand, from 0, row by row from the top left
     */
    private function __construct(
        public string $corner,
        public string $along,
        public bool $serpentine,
        public ?array $block,
        public bool $serpentineBlocks,
        public array $path,
    ) {
    }

    /**
     * @param  array<string, mixed>  $stored  corner, along, serpentine, blockColumns, blockRows, serpentineBlocks
     * @param  list<int>  $path
     *
     * @throws InvalidValue
     */
    public static function of(array $stored = [], array $path = []): self
    {
        $corner = Check::oneOf('corner', (string) ($stored['corner'] ?? 'top left'), self::CORNERS);
        $along = Check::oneOf('along', (string) ($stored['along'] ?? 'rows'), self::ALONG);
        [$columns, $rows] = [(int) ($stored['blockColumns'] ?? 0), (int) ($stored['blockRows'] ?? 0)];
        if ($columns < 0 || $rows < 0 || $columns > 1024 || $rows > 1024) {
            throw InvalidValue::outside('blockColumns', $columns < 0 || $columns > 1024 ? $columns : $rows, 0, 1024);
        }
        if (count($path) > FixtureType::MAX_PIXELS || $path !== array_unique($path)) {
            throw InvalidValue::because(
                'path',
                'A path by hand takes each pixel once, and at most '.
                    number_format(FixtureType::MAX_PIXELS).
                    ' of them.',
            );
        }

        return new self(
            $corner,
            $along,
            (bool) ($stored['serpentine'] ?? false),
            $columns > 0 && $rows > 0 ? [$columns, $rows] : null,
            (bool) ($stored['serpentineBlocks'] ?? false),
            $path,
        );
    }

    /**
     * The wiring by rule that has an order, or that order as a path by hand.
     *
     * @param  list<int>  $order
     */
    public static function matching(FixtureType $type, array $order): self
    {
        foreach (self::ALONG as $along) {
            foreach ([false, true] as $serpentine) {
                foreach (self::CORNERS as $corner) {
                    $wiring = self::of(['corner' => $corner, 'along' => $along, 'serpentine' => $serpentine]);
                    if ($wiring->order($type) === $order) {
                        return $wiring;
                    }
                }
            }
        }

        return self::of([], $order);
    }

    /** @return array<string, string|int|bool> as of() takes it */
    public function toArray(): array
    {
        return [
            'corner' => $this->corner,
            'along' => $this->along,
            'serpentine' => $this->serpentine,
            'blockColumns' => $this->block[0] ?? 0,
            'blockRows' => $this->block[1] ?? 0,
            'serpentineBlocks' => $this->serpentineBlocks,
        ];
    }

    /**
     * Pixels in the order in which the line reaches them. What a path by hand leaves out is not wired; what it names
     * that the light does not have is passed over. Free points are wired by their numbers.
     *
     * @return list<int> numbers of pixels, row by row from the top left
     */
    public function order(FixtureType $type): array
    {
        if ($this->path !== []) {
            $count = $type->count();

            return array_values(
                array_filter($this->path, static fn (int $pixel): bool => $pixel >= 0 && $pixel < $count),
            );
        }
        if ($type->points !== []) {
            return range(0, $type->count() - 1);
        }
        [$columns, $rows] = [$type->columns, $type->rows];
        [$wide, $high] = $this->block ?? [$columns, $rows];
        $order = [];
        foreach (
            $this->walk((int) ceil($columns / $wide), (int) ceil($rows / $high), $this->serpentineBlocks) as [$bx, $by]
        ) {
            // A block at the edge has what is left.
            [$left, $top] = [$bx * $wide, $by * $high];
            foreach (
                $this->walk(min($wide, $columns - $left), min($high, $rows - $top), $this->serpentine) as [$x, $y]
            ) {
                $order[] = ($top + $y) * $columns + $left + $x;
            }
        }

        return $order;
    }

    /** @return list<array{int, int}> column and row */
    private function walk(int $columns, int $rows, bool $serpentine): array
    {
        [$fromRight, $fromBottom] = [str_ends_with($this->corner, 'right'), str_starts_with($this->corner, 'bottom')];
        [$lines, $length] = $this->along === 'rows' ? [$rows, $columns] : [$columns, $rows];
        [$turnLines, $turnWithin] = $this->along === 'rows' ? [$fromBottom, $fromRight] : [$fromRight, $fromBottom];
        $places = [];
        for ($line = 0; $line < $lines; $line++) {
            $at = $turnLines ? $lines - 1 - $line : $line;
            for ($k = 0; $k < $length; $k++) {
                $within = $turnWithin !== ($serpentine && $line % 2 === 1) ? $length - 1 - $k : $k;
                $places[] = $this->along === 'rows' ? [$within, $at] : [$at, $within];
            }
        }

        return $places;
    }
}

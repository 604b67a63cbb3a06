<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\InvalidValue;

/** A short text as cells of one sign each, its lines centred: six dots across and nine down a cell. */
final readonly class TextGrid
{
    /** Most cells: the longest line times the count of lines. */
    public const CELLS = 64;

    public const LINE = 9;

    /** @param  list<array{int, int}>  $signs  the dots of each cell, row by row, as Lettering::bits() has them */
    private function __construct(public int $columns, public int $rows, public array $signs)
    {
    }

    /** @throws InvalidValue for a text that takes more cells */
    public static function of(string $text): self
    {
        $lines = explode("\n", str_replace(["\r\n", "\r"], "\n", $text));
        $columns = max(array_map(mb_strlen(...), $lines));
        if ($columns * count($lines) > self::CELLS) {
            throw InvalidValue::because(
                'text',
                sprintf(
                    'A text has at most %d signs, its longest line times the count of its lines; this one has %d × %d.',
                    self::CELLS,
                    $columns,
                    count($lines),
                ),
            );
        }
        $signs = [];
        foreach ($lines as $line) {
            $before = intdiv($columns - mb_strlen($line), 2);
            foreach (
                mb_str_split(str_repeat(' ', $before).$line.str_repeat(' ', $columns - $before - mb_strlen($line))) as $sign
            ) {
                $signs[] = Lettering::bits($sign);
            }
        }

        return new self($columns, count($lines), $signs);
    }

    /**
     * What was flattened for the plan.
     *
     * @param  list<int>  $numbers  two a cell
     */
    public static function fromNumbers(int $columns, int $rows, array $numbers): self
    {
        /** @var list<array{int, int}> $signs */
        $signs = array_chunk($numbers, 2);

        return new self($columns, $rows, $signs);
    }

    /** @return list<int> two numbers a cell */
    public function numbers(): array
    {
        return array_merge(...$this->signs);
    }

    /** @return array{int, int} dots across and down */
    public function size(): array
    {
        return [Lettering::ADVANCE * $this->columns - 1, self::LINE * $this->rows - 2];
    }

    public function isLit(int $x, int $y): bool
    {
        if ($x < 0 || $y < 0 || $x >= Lettering::ADVANCE * $this->columns || $y >= self::LINE * $this->rows) {
            return false;
        }

        return Lettering::isLit(
            $this->signs[intdiv($y, self::LINE) * $this->columns + intdiv($x, Lettering::ADVANCE)],
            $x % Lettering::ADVANCE,
            $y % self::LINE,
        );
    }
}

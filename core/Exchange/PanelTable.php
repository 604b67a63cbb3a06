<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;
use Core\Venue\Panel;

/** Panels as a table: one row each, columns by their names in the first row, in any order. */
final class PanelTable
{
    public const MAX = 1000;

    /** column → field */
    private const COLUMNS = [
        'name' => 'name',
        'width mm' => 'widthMm',
        'height mm' => 'heightMm',
        'width px' => 'widthPx',
        'height px' => 'heightPx',
        'depth mm' => 'depthMm',
        'kg' => 'kilograms',
        'W average' => 'wattsAverage',
        'W maximum' => 'wattsMaximum',
        'cd/m2' => 'candela',
        'view across' => 'viewAcross',
        'view down' => 'viewDown',
        'joint min' => 'jointMin',
        'joint max' => 'jointMax',
        'inrush A' => 'inrushAmperes',
    ];

    /** Names that the columns had before. */
    private const FORMER = ['joint least' => 'jointMin', 'joint most' => 'jointMax'];

    private const NEEDED = ['name', 'width mm', 'height mm', 'width px', 'height px'];

    /** @param  list<Panel>  $panels */
    public static function write(array $panels): string
    {
        return Csv::write([
            array_keys(self::COLUMNS),
            ...array_map(
                static fn (Panel $p): array => array_map(
                    static fn (string $field): string|int|float => $p->{$field},
                    array_values(self::COLUMNS),
                ),
                $panels,
            ),
        ]);
    }

    /**
     * @return non-empty-list<Panel>
     *
     * @throws InvalidValue naming csv, with the row and what is wrong there
     */
    public static function read(string $csv): array
    {
        if (! mb_check_encoding($csv, 'UTF-8')) {
            throw InvalidValue::because('csv', 'The table is no UTF-8 text. Save it as "CSV UTF-8".');
        }
        $rows = Csv::read((string) preg_replace('/^\xEF\xBB\xBF/', '', $csv));
        $head = array_map(static fn (string $h): string => trim($h), $rows[0] ?? []);
        $missing = array_diff(self::NEEDED, $head);
        if ($missing !== []) {
            throw InvalidValue::because('csv', 'The first row lacks the columns '.implode(', ', $missing).'.');
        }
        $panels = [];
        foreach (array_slice($rows, 1, null, true) as $i => $row) {
            if (implode('', $row) === '') {
                continue;
            }
            $values = [];
            foreach ($head as $k => $column) {
                $field = self::COLUMNS[$column] ?? (self::FORMER[$column] ?? null);
                $cell = trim($row[$k] ?? '');
                if ($field === null || ($cell === '' && ! in_array($column, self::NEEDED, true))) {
                    continue;
                }
                if ($field !== 'name' && ! is_numeric($cell)) {
                    throw InvalidValue::because(
                        'csv',
                        'Row '.($i + 1)." has \"$cell\" for $column, which is no number.",
                    );
                }
                $values[$field] =
                    $field === 'name' ? Csv::plain($cell) : (str_ends_with($field, 'Px') ? (int) $cell : (float) $cell);
            }
            try {
                $n = static fn (string $field, float $usual): float => (float) ($values[$field] ?? $usual);
                $panels[] = Panel::of(
                    (string) ($values['name'] ?? ''),
                    $n('widthMm', 0),
                    $n('heightMm', 0),
                    (int) $n('widthPx', 0),
                    (int) $n('heightPx', 0),
                    $n('kilograms', 0),
                    $n('wattsAverage', 0),
                    $n('wattsMaximum', $n('wattsAverage', 0)),
                    $n('depthMm', 80),
                    $n('candela', 0),
                    $n('viewAcross', 140),
                    $n('viewDown', 140),
                    $n('jointMin', 0),
                    $n('jointMax', 0),
                    $n('inrushAmperes', 0),
                );
            } catch (InvalidValue $refused) {
                throw InvalidValue::because('csv', 'Row '.($i + 1).': '.$refused->getMessage());
            }
            if (count($panels) > self::MAX) {
                throw InvalidValue::because('csv', 'A table holds at most '.self::MAX.' panels.');
            }
        }

        return $panels === [] ? throw InvalidValue::because('csv', 'This table contains no panels.') : $panels;
    }
}

<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/** Comma-separated values (RFC 4180), with line ends as the standard has them. */
final class Csv
{
    /** @param  list<list<string|int|float>>  $rows */
    public static function write(array $rows): string
    {
        $out = '';
        foreach ($rows as $row) {
            $out .= implode(',', array_map(self::field(...), $row))."\r\n";
        }

        return $out;
    }

    /**
     * @return list<list<string>> rows of a table whose fields are parted by commas, semicolons or tabs, whichever its
     *     first row has most of
     */
    public static function read(string $text): array
    {
        $first = (string) strtok($text, "\r\n");
        $separator = ',';
        foreach ([';', "\t"] as $other) {
            substr_count($first, $other) > substr_count($first, $separator) && ($separator = $other);
        }
        [$rows, $row, $field, $quoted] = [[], [], '', false];
        for ($i = 0, $n = strlen($text); $i < $n; $i++) {
            $sign = $text[$i];
            if ($quoted) {
                if ($sign === '"' && ($text[$i + 1] ?? '') === '"') {
                    $field .= '"';
                    $i++;
                } elseif ($sign === '"') {
                    $quoted = false;
                } else {
                    $field .= $sign;
                }
            } elseif ($sign === '"' && $field === '') {
                $quoted = true;
            } elseif ($sign === $separator) {
                $row[] = $field;
                $field = '';
            } elseif ($sign === "\n" || $sign === "\r") {
                $sign === "\r" && ($text[$i + 1] ?? '') === "\n" && $i++;
                $rows[] = [...$row, $field];
                [$row, $field] = [[], ''];
            } else {
                $field .= $sign;
            }
        }
        if ($field !== '' || $row !== []) {
            $rows[] = [...$row, $field];
        }

        return $rows;
    }

    /**
     * A text that no spreadsheet takes for a formula, also where one parts the fields by another sign than the comma:
     * before what would begin one stands an apostrophe.
     */
    private static function harmless(string $text): string
    {
        return (string) preg_replace('/(^|[;,|\t\r\n]\s*)(\'*[=+\-@\t\r])/', "$1'$2", $text);
    }

    /** Reverses the escaping against formula injection. */
    public static function plain(string $text): string
    {
        return (string) preg_replace('/(^|[;,|\t\r\n]\s*)\'(\'*[=+\-@\t\r])/', '$1$2', $text);
    }

    private static function field(string|int|float $value): string
    {
        if (is_float($value)) {
            return rtrim(rtrim(sprintf('%.6f', $value), '0'), '.');
        }
        $text = is_string($value) ? self::harmless($value) : (string) $value;

        return preg_match('/[",;\t\r\n]/', $text) === 1 ? '"'.str_replace('"', '""', $text).'"' : $text;
    }

    /**
     * The rows of a table whose first row names its columns, in any order; what its cells were made harmless by is taken off.
     *
     * @param  int  $max  rows
     * @param  list<string>  $needed  columns
     * @return non-empty-array<int, array<string, string>> by the number of the row, by column in small letters
     *
     * @throws InvalidValue naming csv
     */
    public static function table(string $text, int $max, array $needed): array
    {
        if (! mb_check_encoding($text, 'UTF-8')) {
            throw InvalidValue::because('csv', 'The table is no UTF-8 text. Save it as "CSV UTF-8".');
        }
        $rows = self::read((string) preg_replace('/^\xEF\xBB\xBF/', '', $text));
        $head = array_map(static fn (string $h): string => strtolower(trim($h)), $rows[0] ?? []);
        $missing = array_diff($needed, $head);
        if ($missing !== []) {
            throw InvalidValue::because('csv', 'The first row lacks the columns '.implode(', ', $missing).'.');
        }
        $found = [];
        foreach (array_slice($rows, 1, null, true) as $i => $row) {
            if (trim(implode('', $row)) === '') {
                continue;
            }
            $cells = [];
            foreach ($head as $k => $column) {
                $cells[$column] = self::plain(trim($row[$k] ?? ''));
            }
            $found[$i + 1] = $cells;
        }

        return match (true) {
            $found === [] => throw InvalidValue::because('csv', 'This table contains no rows.'),
            count($found) > $max => throw InvalidValue::because(
                'csv',
                'A table holds at most '.number_format($max).' rows.',
            ),
            default => $found,
        };
    }
}

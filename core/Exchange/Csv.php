<?php

declare(strict_types=1);

namespace Core\Exchange;

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

    /** @return list<list<string>> rows of a table whose fields are parted by commas, semicolons or tabs, whichever its first row has most of */
    public static function read(string $text): array
    {
        $first = (string) strtok($text, "\r\n");
        $separator = ',';
        foreach ([';', "\t"] as $other) {
            substr_count($first, $other) > substr_count($first, $separator) && $separator = $other;
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

    private static function field(string|int|float $value): string
    {
        if (is_float($value)) {
            return rtrim(rtrim(sprintf('%.6f', $value), '0'), '.');
        }
        // A text that a spreadsheet would take for a formula is kept a text.
        $text = is_string($value) && preg_match('/^[=+\-@\t\r]/', $value) === 1 ? "'$value" : (string) $value;

        return preg_match('/[",\r\n]/', $text) === 1 ? '"'.str_replace('"', '""', $text).'"' : $text;
    }
}

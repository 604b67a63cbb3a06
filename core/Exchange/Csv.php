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

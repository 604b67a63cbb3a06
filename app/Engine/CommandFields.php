<?php

declare(strict_types=1);

namespace App\Engine;

/** What a command, and whatever else windows ask of the engine, may hold: each field by its name and type, whichever it is part of. */
final class CommandFields
{
    /**
     * Types by field: text, number, whole, switch, list, object; with ? where null says something. Those that are not here are checked
     * where they are used, with sentences of their own.
     */
    private const TYPES = [
        'do' => 'text', 'by' => 'number', 'as' => 'text', 'stream' => 'whole', 'timeline' => 'text?', 'time' => 'number', 'fade' => 'number?', 'rate' => 'number', 'from' => 'number?', 'to' => 'number?',
        'values' => 'object', 'runs' => 'object', 'fades' => 'object', 'output' => 'text', 'shapes' => 'list', 'patch' => 'text', 'test' => 'object?', 'on' => 'switch',
        'source' => 'text', 'fire' => 'text', 'shows' => 'list',
    ];

    /**
     * @param  array<mixed>  $said
     * @return string|null the first field that is of another type, in words; null where all are right
     */
    public static function fault(array $said): ?string
    {
        foreach (array_intersect_key($said, self::TYPES) as $field => $value) {
            $type = self::TYPES[$field];
            $fits = match (rtrim($type, '?')) {
                'text' => is_string($value),
                'number' => is_int($value) || is_float($value),
                'whole' => is_int($value),
                'switch' => is_bool($value),
                'list' => is_array($value) && array_is_list($value),
                // An empty object and an empty list are read alike.
                default => is_array($value) && ($value === [] || ! array_is_list($value)),
            };
            if (! $fits && ! ($value === null && str_ends_with($type, '?'))) {
                return "`$field` is a ".match (rtrim($type, '?')) {
                    'whole' => 'whole number',
                    'switch' => 'switch (true or false)',
                    default => rtrim($type, '?'),
                }.'.';
            }
        }

        return null;
    }
}

<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\Bindings\Personality;

/**
 * The channels of a personality, for whoever patches a lighting console: a line for each channel, the fine ones after
 * the coarse.
 */
final class PersonalitySheet
{
    public const COLUMNS = ['Channel', 'Name', 'Byte', 'Rest', 'At 0', 'At rest', 'At full', 'Attribute', 'Choices'];

    public static function of(Personality $personality): Table
    {
        $rows = [];
        foreach ($personality->channels() as $channel) {
            $rows[] = [
                $channel['channel'],
                $channel['name'],
                $channel['slots'] === 2 ? 'coarse' : '',
                $channel['rest'],
                $channel['from'],
                $channel['at'],
                $channel['to'],
                $channel['attribute'],
                $channel['means'] === [] ? self::choices($channel['choices']) : implode('; ', $channel['means']),
            ];
            if ($channel['slots'] === 2) {
                $rows[] = [
                    $channel['channel'] + 1,
                    $channel['name'],
                    'fine',
                    $channel['resting'] & 255,
                    '',
                    '',
                    '',
                    $channel['attribute'],
                    '',
                ];
            }
        }

        return new Table($personality->name, self::COLUMNS, $rows);
    }

    /** @param  array<string, int>  $choices  the first byte of each */
    private static function choices(array $choices): string
    {
        if ($choices === []) {
            return '';
        }
        $ends = [...array_slice(array_values($choices), 1), 256];

        return implode(
            ', ',
            array_map(
                static fn (string $name, int $from, int $next): string => $from.'–'.($next - 1)." $name",
                array_keys($choices),
                array_values($choices),
                $ends,
            ),
        );
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\Interval;
use Core\Bindings\Command;
use Core\PixelMap\LightTest;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/** Commands that every window and the lights are told of, whatever show is on: what is sent for each. */
final class EngineCommands
{
    /** How long the name of an output stays on its picture, in seconds. */
    private const IDENTIFIED = 4;

    /** Regions that are shown alone at once. */
    private const MAX_REGIONS = 1000;

    /** What regions show that are shown alone. */
    private const ALONE = ['picture', 'white', 'guide', 'patch'];

    /**
     * @param  array<string, mixed>  $command
     * @param  int  $now  engine time
     * @return string a frame of the live stream
     *
     * @throws InvalidValue
     */
    public static function frame(Command $of, array $command, int $now): string
    {
        return match ($of) {
            Command::Identify => Wire::json(Wire::IDENTIFY, [
                'output' => self::id($command['output'] ?? null, 'output', 'Identify names an output by its id.'),
                'until' => $now + self::IDENTIFIED * Flicks::PER_SECOND,
            ]),
            Command::Mark => self::marks($command, $now),
            Command::Isolate => self::isolated($command, $now),
            Command::Light => Wire::json(Wire::LIGHTS, [
                'patch' => self::id($command['patch'] ?? null, 'patch', 'A test names a light by the id of its patch.'),
                'until' => $now + Flicks::fromSeconds(Interval::LightTest->seconds()),
                'test' => isset($command['test']) ? LightTest::of((array) $command['test'])->toArray() : null,
            ]),
            default => throw InvalidValue::because('action', "$of->value is no command of the engine alone."),
        };
    }

    private static function id(mixed $given, string $field, string $message): string
    {
        return is_string($given) && $given !== '' && strlen($given) <= 26
            ? $given
            : throw InvalidValue::because($field, $message);
    }

    /** @param  array<string, mixed>  $command */
    private static function isolated(array $command, int $now): string
    {
        $regions = $command['regions'] ?? [];
        if (! is_array($regions) || count($regions) > self::MAX_REGIONS) {
            throw InvalidValue::because('regions', 'At most '.self::MAX_REGIONS.' regions are shown alone.');
        }
        $show = $command['show'] ?? 'picture';
        if (! in_array($show, self::ALONE, true)) {
            throw InvalidValue::notOneOf('show', (string) json_encode($show), self::ALONE);
        }

        return Wire::json(Wire::ISOLATE, [
            'regions' => array_map(
                static fn (mixed $region): string => self::id($region, 'regions', 'Regions are named by their ids.'),
                array_values($regions),
            ),
            'show' => $show,
            ...$show === 'patch' ? ['patches' => (object) self::patches($command['patches'] ?? [])] : [],
            'until' => $now + Marks::LAST * Flicks::PER_SECOND,
        ]);
    }

    /**
     * @return array<string, list<float>> left, top, width and height in px of the surface, by region
     *
     * @throws InvalidValue
     */
    private static function patches(mixed $patches): array
    {
        $found = [];
        foreach (is_array($patches) ? array_slice($patches, 0, self::MAX_REGIONS) : [] as $region => $rectangle) {
            $numbers = is_array($rectangle) ? array_values(array_filter($rectangle, is_numeric(...))) : [];
            $found[self::id($region, 'patches', 'Regions are named by their ids.')] =
                count($numbers) === 4 && count((array) $rectangle) === 4
                    ? array_map(static fn (mixed $v): float => max(-1e6, min(1e6, (float) $v)), $numbers)
                    : throw InvalidValue::because('patches', 'A patch is four numbers: left, top, width and height.');
        }

        return $found;
    }

    /** @param  array<string, mixed>  $command */
    private static function marks(array $command, int $now): string
    {
        $marks = Marks::of($command);

        return is_string($marks)
            ? throw InvalidValue::because('shapes', $marks)
            : Wire::json(Wire::MARKS, ['until' => $now + Marks::LAST * Flicks::PER_SECOND] + $marks);
    }
}

<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Http\Middleware\Expensive;
use App\Show\OpenApi;
use Core\Bindings\Argument;
use Core\Bindings\Command;
use Core\Bindings\Encoder;
use Core\Bindings\Gesture;
use Core\Bindings\Meaning;
use Core\Bindings\OscMessage;
use Core\Bindings\Personality;
use Core\Bindings\Shape;
use Core\Bindings\SoundControls;
use Core\Bindings\Takeover;
use Core\Bindings\TouchItemType;
use Core\Effects\Effect;
use Core\Media\Lettering;
use Core\Media\Pattern;
use Core\PixelMap\Universes;
use Core\Show\Schema;
use Core\Values\PropertyType;
use Illuminate\Console\Command as ConsoleCommand;

final class DescribeApi extends ConsoleCommand
{
    protected $signature = 'kite:openapi';

    protected $description = 'Write docs/openapi.json, the values of all kinds for the studio, and the expensive addresses for nginx';

    public function handle(): int
    {
        file_put_contents(
            base_path('docs/openapi.json'),
            json_encode(
                OpenApi::document(),
                JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE,
            )."\n",
        );
        file_put_contents(base_path('resources/js/api/kinds.ts'), self::kinds());
        file_put_contents(base_path('resources/js/api/commands.ts'), self::commands());
        file_put_contents(base_path('deploy/expensive.txt'), Expensive::pattern()."\n");

        return self::SUCCESS;
    }

    /** @param  array<string, mixed>  $fields  what is no text is written as JSON */
    private static function object(array $fields): string
    {
        $key = static fn (string $name): string => preg_match('/^[A-Za-z]+$/D', $name) === 1 ? $name : "'$name'";

        return '{ '.
            implode(
                ', ',
                array_map(
                    static fn (string $name, mixed $value): string => $key($name).
                        ': '.
                        (is_string($value) ? $value : json_encode($value, JSON_THROW_ON_ERROR)),
                    array_keys($fields),
                    $fields,
                ),
            ).
            ' }';
    }

    /** The commands that controls give, as TypeScript. */
    public static function commands(): string
    {
        $text =
            "/** Commands that controls give, generated from the core: their OSC address with its arguments, and whether they need none. */\nexport const commands = [\n";
        foreach (Command::controls() as $command) {
            $text .=
                '  '.
                self::object(
                    array_map(static fn (string $value): string => "'$value'", [
                        'name' => $command->value,
                        'label' => $command->label(),
                        'osc' => $command->written(),
                    ]) + [
                        'needs' => '['.
                            implode(
                                ', ',
                                array_map(
                                    static fn (Argument $argument): string => "'$argument->name'",
                                    array_filter(
                                        $command->arguments(),
                                        static fn (Argument $argument): bool => $argument->required,
                                    ),
                                ),
                            ).
                            ']',
                    ],
                ).
                ",\n";
        }
        $ways = implode(
            ', ',
            array_map(
                static fn (string $way, string $says): string => "$way: '$says'",
                array_keys(OscMessage::VALUES),
                OscMessage::VALUES,
            ),
        );

        return $text.
            "] as const;\n\n/** What a binding may be made of. */\nexport const bindingChoices = {\n".
            implode(
                '',
                array_map(
                    static fn (string $field, string $enum): string => "  $field: [".
                        implode(
                            ', ',
                            array_map(static fn (\BackedEnum $one): string => "'$one->value'", $enum::cases()),
                        ).
                        "],\n",
                    ['meaning', 'gesture', 'shape', 'takeover', 'encoder'],
                    [Meaning::class, Gesture::class, Shape::class, Takeover::class, Encoder::class],
                ),
            ).
            "} as const;\n\n/** Controls of sound, and the band in Hz of those that are measured; null for all that is heard. */\nexport const soundControls = [\n".
            implode(
                '',
                array_map(
                    static fn (string $name): string => '  '.
                        self::object([
                            'name' => "'$name'",
                            'label' => "'".SoundControls::label($name)."'",
                            'measured' => array_key_exists($name, SoundControls::BANDS) ? 'true' : 'false',
                            'band' => isset(SoundControls::BANDS[$name])
                                ? '['.implode(', ', SoundControls::BANDS[$name]).']'
                                : 'null',
                        ]).
                        ",\n",
                    SoundControls::names(),
                ),
            ).
            "] as const;\n\n/** What may stand on a touch panel: how many of its controls are bound, and whether those move. */\nexport const touchItems = [\n".
            implode(
                '',
                array_map(
                    static fn (TouchItemType $type): string => '  '.
                        self::object([
                            'type' => "'$type->value'",
                            'label' => "'".$type->label()."'",
                            'controls' => (string) $type->controls(),
                            'moves' => $type->moves() ? 'true' : 'false',
                        ]).
                        ",\n",
                    TouchItemType::cases(),
                ),
            ).
            "] as const;\n\n/** The ways in which OSC sets a value, by the word in the address. */\nexport const valueWays = { $ways } as const;\n";
    }

    /** The values of all kinds, and the view of each, as TypeScript. */
    public static function kinds(): string
    {
        $text =
            "/** The values that each kind has, generated from the core. What is shown is the value times its scale. */\nexport interface Property {\n  name: string;\n  label: string;\n  type: ".
            implode(
                ' | ',
                array_map(static fn (PropertyType $type): string => "'$type->value'", PropertyType::cases()),
            ).
            ";\n  min: number;\n  max: number;\n  default: number;\n  unit: string;\n  scale: number;\n  step: number;\n  digits: number;\n  /** Of a choice. */\n  options: readonly string[];\n  /** The label of each number that it is made of. */\n  slots: readonly string[];\n  /** Whether hands, cues and controls may hold it over its timeline. */\n  held: boolean;\n}\n\nexport const properties = {\n";
        foreach (Schema::propertySets() as $kind => $set) {
            $text .= "  $kind: [\n";
            foreach ($set->properties as $property) {
                $fields =
                    ['name' => $property->name, 'label' => $property->label, 'type' => $property->type->value] +
                    array_intersect_key(
                        get_object_vars($property),
                        array_flip([
                            'min',
                            'max',
                            'default',
                            'unit',
                            'scale',
                            'step',
                            'digits',
                            'options',
                            'slots',
                            'held',
                        ]),
                    );
                $written = static fn (mixed $value): string => match (true) {
                    is_array($value) => '['.
                        implode(', ', array_map(static fn (string $one): string => "'$one'", $value)).
                        ']',
                    is_string($value) => "'$value'",
                    default => (string) json_encode($value),
                };
                $text .=
                    '    { '.
                    implode(
                        ', ',
                        array_map(
                            static fn (string $name, mixed $value): string => "$name: {$written($value)}",
                            array_keys($fields),
                            $fields,
                        ),
                    ).
                    " },\n";
            }
            $text .= "  ],\n";
        }

        $views = implode(
            '',
            array_map(static fn (string $kind): string => "  $kind: '".Schema::view($kind)."',\n", Schema::names()),
        );

        $patterns = implode(
            '',
            array_map(
                static fn (Pattern $pattern): string => "  $pattern->value: [".
                    implode(', ', array_map(static fn (string $name): string => "'$name'", $pattern->values())).
                    "],\n",
                Pattern::cases(),
            ),
        );

        $effects = implode(
            '',
            array_map(
                static fn (Effect $effect): string => "  $effect->value: { values: [".
                    implode(', ', array_map(static fn (string $name): string => "'$name'", $effect->values())).
                    '], presets: '.
                    self::object(array_map(self::object(...), $effect->presets())).
                    " },\n",
                Effect::cases(),
            ),
        );

        $signs = implode(
            ', ',
            array_map(static fn (string $sign): string => '['.implode(', ', Lettering::bits($sign)).']', [
                ...array_map(strval(...), range(0, 9)),
                ':',
            ]),
        );

        $presets = implode(
            ', ',
            array_map(
                static fn (string $name, string $parts): string => "$name: '$parts'",
                array_keys(Personality::PRESETS),
                Personality::PRESETS,
            ),
        );

        $firsts = implode(
            ', ',
            array_map(
                static fn (string $protocol): string => "$protocol: ".Universes::first($protocol),
                Universes::PROTOCOLS,
            ),
        );
        $protocols = implode(
            ', ',
            array_map(
                static fn (string $protocol, string $name): string => "$protocol: '$name'",
                array_keys(Universes::NAMES),
                Universes::NAMES,
            ),
        );

        return $text.
            "} satisfies Record<string, Property[]>;\n\n/** The values that each pattern is made of. */\nexport const patternValues: Record<string, readonly string[]> = {\n$patterns};\n\n/** The effects in the order of their numbers, from 1: what each is made of, and settings to begin with. */\nexport const effects: Record<string, { values: readonly string[]; presets: Record<string, Record<string, number | number[]>> }> = {\n$effects};\n\n/** Effects of one layer or clip. */\nexport const MOST_EFFECTS = ".
            Effect::MAX.
            ";\n\n/** The dots of the signs 0 to 9 and the colon: the upper six rows of five, and the last. */\nexport const signs: readonly (readonly [number, number])[] = [$signs];\n\n/** The view in which rows of a kind are worked on. */\nexport const viewOf = {\n$views} as const;\n\n/** Protocols of the lighting network as people call them. */\nexport const protocols: Record<string, string> = { $protocols };\n\n/** What people call the first universe of a protocol. */\nexport const firstUniverses: Record<string, number> = { $firsts };\n\n/** Parts of personalities to begin with. */\nexport const presets: Record<string, string> = { $presets };\n";
    }
}

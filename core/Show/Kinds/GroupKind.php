<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Named;
use Core\Units\Check;
use Core\Units\InvalidValue;

/** A yield group: of its cues, the one that starts makes the others give way. */
final readonly class GroupKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'group';
    }

    public function view(): string
    {
        return 'cues';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'colour' => ['string', '']];
    }

    public function build(array $row, array $needed): object
    {
        self::checkColour((string) ($row['colour'] ?? ''));

        return new Named(Check::name('name', (string) $row['name']));
    }

    /** @throws InvalidValue for what is neither empty nor a colour */
    public static function checkColour(string $colour): void
    {
        if ($colour !== '' && preg_match('/^#[0-9a-f]{6}$/iD', $colour) !== 1) {
            throw InvalidValue::because('colour', 'A colour is written #rrggbb, or left empty.');
        }
    }
}

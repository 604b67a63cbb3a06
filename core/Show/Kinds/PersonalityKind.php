<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Bindings\Personality;
use Core\Show\Kind;

final readonly class PersonalityKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'personality';
    }

    public function view(): string
    {
        return 'bindings';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'parts' => ['string', Personality::PRESETS['Small']]];
    }

    public function build(array $row, array $needed): object
    {
        return Personality::of((string) $row['name'], (string) $row['parts']);
    }
}

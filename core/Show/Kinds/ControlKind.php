<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Bindings\LayerControl;
use Core\Bindings\Personality;
use Core\Show\Kind;
use Core\Units\InvalidValue;

final readonly class ControlKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'control';
    }

    public function view(): string
    {
        return 'bindings';
    }

    public function parent(): ?string
    {
        return 'layer';
    }

    public function fields(): array
    {
        return [
            'layer' => ['id'],
            'personality' => ['id'],
            'protocol' => ['string', 'sacn'],
            'universe' => ['integer', 1],
            'channel' => ['integer', 1],
            'merge' => ['string', 'highest'],
            'lost' => ['string', 'hold'],
            'releaseAfter' => ['number', 0],
        ];
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array<string, list<string>>
     */
    public function needs(array $row): array
    {
        return ['personality' => [(string) $row['personality']]];
    }

    public function build(array $row, array $needed): object
    {
        $personality = $needed[(string) $row['personality']] ?? null;

        return LayerControl::fromRow(
            $row,
            $personality instanceof Personality
                ? $personality
                : throw InvalidValue::because(
                    'personality',
                    'The personality of this control was removed, or none is chosen.',
                ),
        );
    }
}

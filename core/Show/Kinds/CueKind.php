<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Timeline\CuePoint;

final readonly class CueKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'cue';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function parent(): ?string
    {
        return 'timeline';
    }

    public function fields(): array
    {
        return ['timeline' => ['id'], 'time' => ['integer'], 'number' => ['string'], 'name' => ['string'], 'holds' => ['boolean', false]];
    }

    public function build(array $row, array $needed): object
    {
        return CuePoint::of((int) $row['time'], (string) $row['number'], (string) $row['name'], (bool) ($row['holds'] ?? false));
    }
}

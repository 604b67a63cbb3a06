<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Effects\Effect;
use Core\Show\BelongsToOneOf;
use Core\Show\EffectUse;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Values\PropertySet;

final readonly class EffectKind implements BelongsToOneOf
{
    use Simple;

    public function name(): string
    {
        return 'effect';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function parents(): array
    {
        return ['layer', 'clip'];
    }

    public function properties(): PropertySet
    {
        return Effect::properties();
    }

    public function fields(): array
    {
        return [
            'layer' => ['id?', null],
            'clip' => ['id?', null],
            'order' => ['integer', 0],
            'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        if (isset($row['layer']) === isset($row['clip'])) {
            throw InvalidValue::because('layer', 'An effect is on a layer or on a clip, on one of them.');
        }

        return new EffectUse(
            (string) ($row['id'] ?? ''),
            (string) ($row['layer'] ?? $row['clip']),
            Check::whole('order', (int) ($row['order'] ?? 0), -1_000_000, 1_000_000),
            $this->properties()->check((array) ($row['values'] ?? [])),
        );
    }
}

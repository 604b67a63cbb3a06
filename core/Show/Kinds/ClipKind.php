<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\ClipUse;
use Core\Show\Kind;
use Core\Timeline\Clip;
use Core\Timeline\PastEnd;
use Core\Units\InvalidValue;

final readonly class ClipKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'clip';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function parent(): ?string
    {
        return 'layer';
    }

    public function fields(): array
    {
        return [
            'layer' => ['id'], 'media' => ['id'], 'start' => ['integer'], 'length' => ['integer'], 'in' => ['integer', 0], 'out' => ['integer?', null], 'pastEnd' => ['string', 'hold'],
        ];
    }

    public function build(array $row, array $needed): object
    {
        $past = PastEnd::tryFrom((string) ($row['pastEnd'] ?? 'hold')) ?? throw InvalidValue::notOneOf('pastEnd', (string) $row['pastEnd'], array_column(PastEnd::cases(), 'value'));
        $clip = Clip::of((int) $row['start'], (int) $row['length'], (int) ($row['in'] ?? 0), isset($row['out']) ? (int) $row['out'] : null, $past);

        return new ClipUse((string) ($row['id'] ?? ''), (string) ($row['layer'] ?? ''), (string) ($row['media'] ?? ''), $clip);
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\CheckRecord;
use Core\Show\Kind;

/** A dated record of how far a projector's points had drifted. */
final readonly class CheckKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'check';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function parent(): ?string
    {
        return 'projector';
    }

    public function fields(): array
    {
        return [
            'projector' => ['id'],
            'taken' => ['string'],
            'points' => ['integer', 0],
            'moved' => ['integer', 0],
            'before' => ['number', 0.0],
            'after' => ['number', 0.0],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return CheckRecord::fromRow($row);
    }
}

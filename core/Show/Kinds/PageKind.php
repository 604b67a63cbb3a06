<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Named;
use Core\Units\Check;

/** A page of the cue board: a grid of tiles. A cue that stands outside it is hidden, not gone. */
final readonly class PageKind implements Kind
{
    use Simple;

    /** Tiles along a side. */
    public const MAX = 32;

    public function name(): string
    {
        return 'page';
    }

    public function view(): string
    {
        return 'cues';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'order' => ['integer', 0], 'columns' => ['integer', 6], 'rows' => ['integer', 4]];
    }

    public function build(array $row, array $needed): object
    {
        Check::whole('columns', (int) ($row['columns'] ?? 6), 1, self::MAX);
        Check::whole('rows', (int) ($row['rows'] ?? 4), 1, self::MAX);
        Check::whole('order', (int) ($row['order'] ?? 0), -1_000_000, 1_000_000);

        return new Named(Check::name('name', (string) $row['name']));
    }
}

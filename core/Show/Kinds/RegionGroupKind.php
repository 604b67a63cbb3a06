<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Named;
use Core\Units\Check;

/** A group of regions that are chosen, shown alone and changed together; it may lie in another one. */
final readonly class RegionGroupKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'regionGroup';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'order' => ['integer', 0], 'parent' => ['id?', null]];
    }

    public function build(array $row, array $needed): object
    {
        return new Named(Check::name('name', (string) $row['name']));
    }
}

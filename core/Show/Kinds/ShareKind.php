<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Routing\Share;
use Core\Show\Kind;
use Core\Values\PropertySet;

final readonly class ShareKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'share';
    }

    public function view(): string
    {
        return 'routes';
    }

    public function parent(): ?string
    {
        return 'route';
    }

    public function properties(): PropertySet
    {
        return Share::properties();
    }

    public function fields(): array
    {
        return ['route' => ['id'], 'surface' => ['id'], 'follows' => ['id?', null], 'values' => ['values', []]];
    }

    public function build(array $row, array $needed): object
    {
        return new Share(
            (string) ($row['id'] ?? ''),
            (string) ($row['route'] ?? ''),
            (string) ($row['surface'] ?? ''),
            $this->properties()->check((array) ($row['values'] ?? [])),
            isset($row['follows']) ? (string) $row['follows'] : null,
        );
    }
}

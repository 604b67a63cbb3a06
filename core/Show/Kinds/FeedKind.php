<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\Feed;
use Core\Show\Kind;

final readonly class FeedKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'feed';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function parent(): ?string
    {
        return 'output';
    }

    public function fields(): array
    {
        return [
            'output' => ['id'],
            'name' => ['string'],
            'role' => ['string', 'led'],
            'projector' => ['id?', null],
            'part' => ['numbers', []],
            'stack' => ['string', ''],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Feed::of(
            (string) $row['name'],
            (string) ($row['role'] ?? 'led'),
            isset($row['projector']) ? (string) $row['projector'] : null,
            ($row['part'] ?? []) === [] ? null : RegionKind::rect('part', $row['part']),
            (string) ($row['stack'] ?? ''),
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\PixelMap\Node;
use Core\Show\Kind;

final readonly class NodeKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'node';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'protocol' => ['string', 'artnet'],
            'address' => ['string', ''],
            'interface' => ['string', ''],
            'port' => ['integer', 0],
            'rate' => ['number', 40.0],
            'priority' => ['integer', 100],
            'synchronised' => ['boolean', false],
            'onlyChanges' => ['boolean', true],
            'limit' => ['integer', 0],
            'timecode' => ['boolean', false],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Node::fromRow($row);
    }
}

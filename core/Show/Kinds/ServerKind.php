<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Output\Server;
use Core\Show\Kind;

final readonly class ServerKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'server';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'role' => ['string', 'main']];
    }

    public function build(array $row, array $needed): object
    {
        return Server::of((string) $row['name'], (string) ($row['role'] ?? 'main'));
    }
}

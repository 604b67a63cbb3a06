<?php

declare(strict_types=1);

namespace App\Engine;

/** Stands round every callback of the engine: what one throws is counted and shown, and nothing else suffers. */
final class Guard
{
    private int $caught = 0;

    private string $last = '';

    /** @return \Closure what the callback returns, or null when it threw */
    public function around(string $where, \Closure $callback): \Closure
    {
        return function (mixed ...$arguments) use ($where, $callback): mixed {
            try {
                return $callback(...$arguments);
            } catch (\Throwable $e) {
                $this->caught($where, $e);

                return null;
            }
        };
    }

    public function caught(string $where, \Throwable $e): void
    {
        $this->caught++;
        $this->last = mb_strimwidth(
            mb_scrub("$where: {$e->getMessage()} (".basename($e->getFile()).":{$e->getLine()})"),
            0,
            300,
            '…',
        );
        @fwrite(STDERR, "engine: $this->last\n");
    }

    /** @return array{caught: int, last: string} */
    public function figures(): array
    {
        return ['caught' => $this->caught, 'last' => $this->last];
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

/** The last messages that a source heard, with what was wrong with them. */
final class RecentMessages
{
    private const REMEMBERED = 20;

    /** @var list<array{at: int, from: string, text: string, fault: string|null}> */
    private array $last = [];

    public function add(string $from, string $text, ?string $fault): void
    {
        array_unshift($this->last, ['at' => time(), 'from' => $from, 'text' => $text, 'fault' => $fault]);
        array_splice($this->last, self::REMEMBERED);
    }

    /** @return list<array{at: int, from: string, text: string, fault: string|null}> newest first */
    public function all(): array
    {
        return $this->last;
    }
}

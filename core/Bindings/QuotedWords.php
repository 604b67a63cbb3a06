<?php

declare(strict_types=1);

namespace Core\Bindings;

/** The words of a line that people write: what spaces part, and what stands in double quotes as one. */
final class QuotedWords
{
    /** @return list<array{string, bool}> each word, and whether it stood in quotes */
    public static function of(string $text): array
    {
        preg_match_all('/"([^"]*)"|(\S+)/u', mb_scrub($text), $found, PREG_SET_ORDER | PREG_UNMATCHED_AS_NULL);

        return array_map(static fn (array $m): array => [$m[1] ?? ($m[2] ?? ''), $m[1] !== null], $found);
    }
}

<?php

declare(strict_types=1);

namespace Core\Exchange;

/** Text in XML 1.0 documents. */
final class Xml
{
    /**
     * Text as it may stand in an element or an attribute; signs that XML does not have (2.2 of the standard) are
     * shown as U+FFFD.
     */
    public static function text(string $text): string
    {
        $clean = (string) preg_replace(
            '/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u',
            "\u{FFFD}",
            mb_scrub($text, 'UTF-8'),
        );

        return htmlspecialchars($clean, ENT_XML1 | ENT_QUOTES, 'UTF-8');
    }
}

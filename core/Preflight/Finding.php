<?php

declare(strict_types=1);

namespace Core\Preflight;

/** Something that will go wrong, or may: in which view it belongs, how bad it is, what it concerns, and the message. */
final readonly class Finding
{
    public const VIEWS = ['venue', 'media', 'routes', 'timeline', 'outputs', 'bindings', 'run'];

    private function __construct(
        public string $view,
        public string $severity,
        public string $kind,
        public string $id,
        public string $message,
    ) {
    }

    public static function attention(string $view, string $kind, string $id, string $message): self
    {
        return new self($view, 'attention', $kind, $id, $message);
    }

    public static function fault(string $view, string $kind, string $id, string $message): self
    {
        return new self($view, 'fault', $kind, $id, $message);
    }
}

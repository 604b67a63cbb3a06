<?php

declare(strict_types=1);

namespace App\Engine;

/**
 * The surfaces that windows watch, one for each window and show: why they are dark is asked again when it may have
 * changed, one question at a time, and sent where the answer is another.
 */
final class Watches
{
    /** @var array<int, array<string, array{surface: string, last: string, asking: bool, again: bool}>> by stream and show */
    private array $watches = [];

    /**
     * @param  \Closure(int, string, string, \Closure(?array<string, mixed>): void): bool  $ask  asks for the trace of a
     *     surface of a show that a stream has open; false where that is not there (yet)
     * @param  \Closure(int, string): void  $give  sends a frame to a stream
     */
    public function __construct(private readonly \Closure $ask, private readonly \Closure $give)
    {
    }

    /** A window watches this surface of a show from now on; an empty one for none. */
    public function watch(int $stream, string $show, string $surface): void
    {
        if ($surface === '') {
            $this->forget($stream, $show);

            return;
        }
        $this->watches[$stream][$show] = ['surface' => $surface, 'last' => '', 'asking' => false, 'again' => false];
        $this->askFor($stream, $show);
    }

    /** A window watches nothing of a show any more, or nothing at all. */
    public function forget(int $stream, ?string $show = null): void
    {
        if ($show === null) {
            unset($this->watches[$stream]);
        } else {
            unset($this->watches[$stream][$show]);
        }
    }

    /** Asks for all that is watched, or for what one window watches. */
    public function refresh(?int $only = null): void
    {
        foreach ($this->watches as $stream => $watches) {
            if ($only === null || $only === $stream) {
                foreach (array_keys($watches) as $show) {
                    $this->askFor($stream, $show);
                }
            }
        }
    }

    private function askFor(int $stream, string $show): void
    {
        $watch = &$this->watches[$stream][$show];
        if ($watch['asking']) {
            $watch['again'] = true;

            return;
        }
        $surface = $watch['surface'];
        [$watch['asking'], $watch['again']] = [true, false];
        $asked = ($this->ask)($stream, $show, $surface, function (?array $answer) use ($stream, $show, $surface): void {
            if (! isset($this->watches[$stream][$show])) {
                return;
            }
            $watch = &$this->watches[$stream][$show];
            $watch['asking'] = false;
            if ($answer !== null && $watch['surface'] === $surface) {
                $links = $answer['links'] ?? [];
                $frame = Wire::json(Wire::TRACE, ['show' => $show, 'surface' => $surface, 'links' => $links]);
                if ($frame !== $watch['last']) {
                    $watch['last'] = $frame;
                    ($this->give)($stream, $frame);
                }
            }
            if ($watch['again']) {
                $this->askFor($stream, $show);
            }
        });
        if (! $asked) {
            $watch['asking'] = false;
        }
    }
}

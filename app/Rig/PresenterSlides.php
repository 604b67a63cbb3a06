<?php

declare(strict_types=1);

namespace App\Rig;

/** A presenter's machine with some slides that are gone through. */
final class PresenterSlides implements Simulation
{
    private const PAGES = ['Lantern Night', 'The harbour lights', 'Ferry at nine', 'Thank you'];

    private int $page = 0;

    /** @var array<int, string> frames by page */
    private array $made = [];

    public function name(): string
    {
        return 'slides';
    }

    public function label(): string
    {
        return 'Presenter slides';
    }

    public function width(): int
    {
        return 960;
    }

    public function height(): int
    {
        return 540;
    }

    public function rate(): int
    {
        return 5;
    }

    public function frame(int $milliseconds): string
    {
        return $this->made[$this->page] ??= $this->page($this->page);
    }

    private function page(int $page): string
    {
        $canvas = Canvas::of(
            $this->width(),
            $this->height(),
            static fn (int $y): array => [246 - intdiv($y, 30), 240 - intdiv($y, 30), 228 - intdiv($y, 20)],
        );
        $canvas->rectangle(0, 0, $this->width(), 24, [40, 60, 110]);
        $canvas->rectangle(0, 520, intdiv($this->width() * ($page + 1), count(self::PAGES)), 8, [214, 120, 50]);
        $title = self::PAGES[$page];
        $dot = intdiv(800, 6 * mb_strlen($title));
        $canvas->text(80, 220, $title, $dot, [40, 40, 60]);
        $canvas->text(880, 480, (string) ($page + 1), 5, [214, 120, 50]);

        return $canvas->bytes();
    }

    public function command(string $what): bool
    {
        if ($what !== 'next' && $what !== 'back') {
            return false;
        }
        $this->page = ($this->page + ($what === 'next' ? 1 : count(self::PAGES) - 1)) % count(self::PAGES);

        return true;
    }
}

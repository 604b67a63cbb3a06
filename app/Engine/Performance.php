<?php

declare(strict_types=1);

namespace App\Engine;

/** One show as it is being played or looked at: its decks, what is held over them, and the surfaces that show the test card. */
final class Performance
{
    /** @param  list<string>  $cards */
    public function __construct(public readonly string $show, public readonly Decks $decks, public readonly HeldValues $held, public array $cards = [])
    {
    }

    public static function of(string $show): self
    {
        return new self($show, new Decks, new HeldValues);
    }

    /**
     * Surfaces that show the test card over whatever plays, until told otherwise.
     *
     * @return string|null what is wrong with it
     */
    public function setCards(mixed $surfaces): ?string
    {
        if (! is_array($surfaces) || ! array_is_list($surfaces) || count($surfaces) > HeldValues::MAX || array_filter($surfaces, static fn (mixed $s): bool => ! is_string($s) || preg_match('/^[0-9a-z]{26}$/D', $s) !== 1) !== []) {
            return 'Test cards are shown on a list of surfaces, by their ids.';
        }
        $this->cards = array_values(array_unique($surfaces));

        return null;
    }

    /** @return array<string, mixed> what the compiler has to know to tell what is seen */
    public function glance(int $engine): array
    {
        return [
            'show' => $this->show, 'engine' => $engine, 'heads' => array_map(static fn ($head): array => $head->toArray(), $this->decks->heads($engine)), 'held' => $this->held->all($engine),
        ];
    }

    /** @return list<string> frames that tell a window all of it */
    public function frames(int $engine): array
    {
        return [
            ...array_map(fn (string $id): string => $this->deckFrame($id, $engine), $this->decks->ids()),
            Wire::json(Wire::HELD, ['show' => $this->show, 'all' => (object) $this->held->all($engine), 'cards' => $this->cards]),
        ];
    }

    public function deckFrame(string $id, int $engine): string
    {
        return Wire::json(Wire::DECK, ['show' => $this->show] + $this->decks->tell($id, $engine));
    }
}

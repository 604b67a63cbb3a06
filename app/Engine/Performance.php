<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Units\Flicks;

/**
 * One show as it is being played or looked at: its decks, its cues, what is held over them, and the surfaces that
 * show the test card.
 */
final class Performance
{
    /** How far ahead of now a change takes effect, so that every player has it by then, in flicks: 25 ms. */
    public const LEAD = 17_640_000;

    /** How far on timelines are seen in a preview, in flicks: 2 s. */
    private const ON = 2 * Flicks::PER_SECOND;

    /** What starts by itself at once, at most. */
    private const MAX_STARTS = 10_000;

    /** Commands that take a timeline elsewhere. */
    private const SEEKS = ['jump', 'nudge', 'stop', 'go'];

    public readonly CuePlayer $cues;

    /** @var list<array<string, mixed>> what cues that were fired do besides, and nobody did yet */
    private array $does = [];

    /** @var array{next: string|null, waiting: bool, driven: string|null}|null as windows know it */
    private ?array $toldNext = null;

    /** @var list<string>|null the cues that Go steps through, as windows know them */
    private ?array $toldList = null;

    /** Up to which engine time what starts by itself has been started, where it is only looked at. */
    public ?int $advanced = null;

    /** @param  list<string>  $cards */
    public function __construct(
        public readonly string $show,
        public readonly Decks $decks,
        public readonly HeldValues $held,
        public array $cards = [],
        ?CuePlayer $cues = null,
    ) {
        $this->cues = $cues ?? new CuePlayer($held);
    }

    /** The timelines and the cues that there are now. */
    public function take(OpenShow $show, int $at): void
    {
        $this->decks->setTimelines($show->timelines, $at);
        $this->cues->setCues($show->cues, $this->decks->driven());
    }

    /**
     * Has what names no timeline act on this one, and its cues stand in the list.
     *
     * @return string|null what is wrong with it
     */
    public function drive(mixed $timeline): ?string
    {
        $wrong = $this->decks->drive($timeline);
        $this->cues->setCues($this->cues->cues(), $this->decks->driven());

        return $wrong;
    }

    /**
     * Go: plays on from a hold point, or fires what is next (`Core\Cues\CueList::go`); where nothing is, plays the
     * driven timeline if that stands.
     *
     * @return string|null what is wrong with it
     */
    public function go(int $at, string $by): ?string
    {
        ['cue' => $cue, 'resumes' => $resumes] = $this->cues->go($this->decks->waitingAt($at));
        if ($cue !== null && ! $resumes) {
            return $this->fire($cue, $at, $by);
        }
        if ($cue === null && ($this->decks->driven() === null || $this->decks->drivenRuns($at))) {
            return 'The list is at its end.';
        }

        return $this->decks->command(['action' => $resumes ? 'go' : 'play'], $at);
    }

    /** @return array{next: string|null, waiting: bool, driven: string|null} what Go would do at an engine time */
    public function next(int $engine): array
    {
        ['cue' => $cue, 'resumes' => $resumes] = $this->cues->go($this->decks->waitingAt($engine));

        return ['next' => $cue, 'waiting' => $resumes, 'driven' => $this->decks->driven()];
    }

    /**
     * What a person does with a timeline. Where that takes the driven one elsewhere, the list goes along.
     *
     * @param  array<string, mixed>  $command
     * @return string|null what is wrong with it
     */
    public function transport(array $command, int $at): ?string
    {
        $wrong = $this->decks->command($command, $at);
        $driven = $this->decks->driven();
        $isDriven = ! isset($command['timeline']) || $this->decks->named($command['timeline']) === $driven;
        if ($wrong === null && $driven !== null && $isDriven && in_array($command['action'], self::SEEKS, true)) {
            $this->cues->soughtTo($driven, $this->decks->position($driven, $at));
        }

        return $wrong;
    }

    /**
     * A reading of a clock from outside (`Decks::hear`). Where it takes the driven timeline elsewhere, the list goes along.
     *
     * @param  array<string, mixed>  $reading
     * @return string|null what is wrong with it
     */
    public function hear(array $reading, int $now, int $at): ?string
    {
        $wrong = $this->decks->hear($reading, $now, $at);
        $driven = $this->decks->driven();
        if (isset($this->decks->takeSought()[$driven ?? ''])) {
            $this->cues->soughtTo((string) $driven, $this->decks->position((string) $driven, $at));
        }

        return $wrong;
    }

    /**
     * Starts a cue, and what it starts with it: its place on its timeline, and another timeline.
     *
     * @param  bool  $passed  whether its timeline has come to its place by itself
     * @param  int|null  $fade  over which all of it comes; null for its own times
     * @param  float  $level  how strongly it takes hold of its values, 0 to 1
     * @return string|null what is wrong with it
     */
    public function fire(
        string $id,
        int $at,
        string $by,
        bool $passed = false,
        ?int $fade = null,
        float $level = 1.0,
    ): ?string {
        $cue = $this->cues->fire($id, $at, $by, $fade, $level);
        if ($cue === null) {
            return 'There is no cue of this id, number or name.';
        }
        array_push($this->does, ...$cue->does);
        if (! $passed && $cue->timeline !== null && $cue->time !== null) {
            $this->decks->command(['action' => 'jump', 'timeline' => $cue->timeline, 'time' => $cue->time], $at);
            $this->decks->command(['action' => 'play', 'timeline' => $cue->timeline], $at);
        }
        if ($cue->starts !== null && $this->decks->has($cue->starts)) {
            $this->decks->follow($cue->starts, $at);
        }

        return null;
    }

    /**
     * Starts what its timelines pass, what follows a cue and what follows a timeline, up to an engine time: one after
     * another, as they come.
     */
    public function advance(int $from, int $to): void
    {
        $done = [];
        // What is started may start more at once; no more than there are cues and timelines in a show.
        for ($i = 0; $i < self::MAX_STARTS; $i++) {
            $pending = $this->cues->pending();
            $events = $pending === null ? [] : [[$pending['at'], 'follow', $pending['cue']]];
            $passed = $this->decks->nextPassed($from);
            array_push($events, ...array_map(static fn (array $one): array => [$one[0], 'timeline', $one[1]], $passed));
            array_push(
                $events,
                ...array_map(
                    static fn (array $one): array => [$one[1], 'end', $one[0]],
                    $this->decks->following($from - 1, $to),
                ),
            );
            $events = array_values(
                array_filter(
                    $events,
                    static fn (array $event): bool => $event[0] <= $to && ! isset($done[implode(' ', $event)]),
                ),
            );
            if ($events === []) {
                // What is next may lie behind what was done at this time.
                $later = min([PHP_INT_MAX, ...array_column($passed, 0)]);
                if ($later > $to || $later < $from) {
                    return;
                }
                $from = $later + 1;

                continue;
            }
            usort($events, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
            [$at, $kind, $id] = $events[0];
            $done["$at $kind $id"] = true;
            $from = max($from, $at);
            match ($kind) {
                'follow' => $this->fire($id, $at, 'follow'),
                'end' => $this->decks->follow($id, $at),
                // One that was fired there and then took its timeline along.
                default => $this->cues->since($id) === $at || $this->fire($id, $at, 'timeline', true),
            };
        }
    }

    /** The next engine time at which something starts by itself, or a timeline comes to rest. */
    public function nextEvent(int $engine): ?int
    {
        $times = array_filter(
            [
                ...array_column($this->decks->nextPassed($engine), 0),
                $this->cues->pending()['at'] ?? null,
                $this->decks->nextRest($engine),
            ],
            is_int(...),
        );

        return $times === [] ? null : min($times);
    }

    /**
     * The cues as all windows have to know them, with what Go would do at an engine time; the list only where it is
     * another one.
     */
    public function cuesFrame(int $engine): string
    {
        $list = $this->cues->listed();
        $isNew = $list !== $this->toldList;
        [$this->toldNext, $this->toldList] = [$this->next($engine), $list];

        return $this->frameOfCues($this->toldNext + ($isNew ? ['list' => $list] : []));
    }

    /** @param  array<string, mixed>  $more */
    private function frameOfCues(array $more): string
    {
        return Wire::json(Wire::CUES, ['show' => $this->show] + $this->cues->payload() + $more);
    }

    /** @return list<array<string, mixed>> what cues do besides, once */
    public function takeActions(): array
    {
        [$does, $this->does] = [$this->does, []];

        return $does;
    }

    /** Whether windows know less of the cues than there is. */
    public function takeCuesChanged(int $engine): bool
    {
        return $this->cues->takeChanged() || $this->next($engine) !== $this->toldNext;
    }

    public static function of(string $show): self
    {
        return new self($show, new Decks(), new HeldValues());
    }

    /**
     * Surfaces that show the test card over whatever plays, until told otherwise.
     *
     * @return string|null what is wrong with it
     */
    public function setCards(mixed $surfaces): ?string
    {
        if (
            ! is_array($surfaces) ||
            ! array_is_list($surfaces) ||
            count($surfaces) > HeldValues::MAX ||
            array_filter(
                $surfaces,
                static fn (mixed $s): bool => ! is_string($s) || preg_match('/^[0-9a-z]{26}$/D', $s) !== 1,
            ) !== []
        ) {
            return 'Test cards are shown on a list of surfaces, by their ids.';
        }
        $this->cards = array_values(array_unique($surfaces));

        return null;
    }

    /**
     * What would be on once a cue had been fired and all of it had faded, of which nothing is done: the decks and
     * what is held.
     *
     * @param  string|null  $id  of the cue; null for the one that the list has next
     * @return array{cue: string, engine: int, decks: list<array<string, mixed>>, held: array<string, mixed>}|null null
     *     where there is no such cue
     */
    public function preview(?string $id, OpenShow $show, int $at): ?array
    {
        $id ??= $this->next($at)['next'];
        if ($id === null) {
            return null;
        }
        // Another one as this one would be after a new start.
        $decks = [];
        foreach ($this->decks->ids() as $timeline) {
            $decks[$timeline] = $this->decks->toArray($timeline, $at);
        }
        $held = HeldValues::restored($this->held->saved());
        $as = new self(
            $this->show,
            Decks::restored($decks),
            $held,
            $this->cards,
            CuePlayer::restored($held, $this->cues->saved()),
        );
        $as->take($show, $at);
        if ($as->fire($id, $at, '') !== null) {
            return null;
        }
        // What runs is shown a little on: at its beginning, what comes slowly is dark.
        $engine = max($at + self::ON, $as->cues->until($id) ?? $at);
        foreach ($as->decks->ids() as $timeline) {
            $as->decks->command(['action' => 'hold', 'timeline' => $timeline], $at + self::ON);
        }

        return [
            'cue' => $id,
            'engine' => $engine,
            'decks' => array_map(
                static fn (string $timeline): array => ['show' => $as->show] + $as->decks->payload($timeline, $engine),
                $as->decks->ids(),
            ),
            'held' => $as->held->all($engine),
        ];
    }

    /** @return array<string, mixed> what the compiler has to know to tell what is seen */
    public function glance(int $engine): array
    {
        return [
            'show' => $this->show,
            'engine' => $engine,
            'heads' => array_map(static fn ($head): array => $head->toArray(), $this->decks->heads($engine)),
            'held' => $this->held->all($engine),
        ];
    }

    /** @return list<string> frames that tell a window all of it */
    public function frames(int $engine): array
    {
        return [
            ...array_map(fn (string $id): string => $this->deckFrame($id, $engine), $this->decks->ids()),
            Wire::json(Wire::HELD, [
                'show' => $this->show,
                'all' => (object) $this->held->all($engine),
                'cards' => $this->cards,
            ]),
            $this->frameOfCues($this->next($engine + self::LEAD) + ['list' => $this->cues->listed()]),
        ];
    }

    public function deckFrame(string $id, int $engine): string
    {
        return Wire::json(Wire::DECK, ['show' => $this->show] + $this->decks->payload($id, $engine));
    }
}

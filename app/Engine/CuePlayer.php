<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Cues\Cue;
use Core\Cues\CueList;
use Core\Cues\DayClock;
use Core\Cues\OnStop;
use Core\Cues\Scope;

/**
 * Which cues of a show are on, since when and by whom, where the list stands, and what will start by itself. What
 * they hold is put into the held values; all of it at stated engine times.
 */
final class CuePlayer
{
    /** @var array<string, array{at: int, until: int, by: string, masked: int}> cues that are on, by id */
    private array $on = [];

    /**
     * @var array<string, array{at: int, until: int, by: string, masked: int}> cues that gave way to another one, which may not have covered them yet
     */
    private array $yielded = [];

    /** The cue at which the list stands: the one that was fired last, or the one before where somebody pointed. */
    private ?string $last = null;

    /** Whether somebody chose what is next. */
    private bool $pointed = false;

    /** The timeline whose cues are in the list by their places. */
    private ?string $driven = null;

    /** @var array{cue: string, at: int}|null the cue that starts by itself next */
    private ?array $pending = null;

    /** @var array<string, Cue> */
    private array $cues = [];

    private CueList $list;

    private DayClock $day;

    /** Engine time of the last cue that a timeline fired. */
    public int $passed = 0;

    private bool $changed = false;

    private bool $unsaved = false;

    public function __construct(private readonly HeldValues $held)
    {
        $this->list = CueList::of([]);
        $this->day = DayClock::unread();
    }

    /** @param  array<mixed>  $saved  as saved() gave it */
    public static function restored(HeldValues $held, array $saved): self
    {
        $player = new self($held);
        foreach (['on', 'yielded'] as $list) {
            foreach ((array) ($saved[$list] ?? []) as $id => $one) {
                $player->{$list}[(string) $id] = [
                    'at' => (int) ($one['at'] ?? 0),
                    'until' => (int) ($one['until'] ?? 0),
                    'by' => (string) ($one['by'] ?? ''),
                    'masked' => (int) ($one['masked'] ?? 0),
                ];
            }
        }
        $player->day = DayClock::restored((array) ($saved['day'] ?? []));
        $player->passed = (int) ($saved['passed'] ?? 0);
        $player->last = isset($saved['last']) ? (string) $saved['last'] : null;
        $player->pointed = ($saved['pointed'] ?? false) === true;
        $pending = $saved['pending'] ?? null;
        $player->pending = isset($pending['cue'], $pending['at'])
            ? ['cue' => (string) $pending['cue'], 'at' => (int) $pending['at']]
            : null;

        return $player;
    }

    /**
     * The cues that there are now; what one holds that is gone goes on until it is released.
     *
     * @param  array<string, Cue>  $cues  by id
     * @param  string|null  $driven  the timeline that the transport drives
     */
    public function setCues(array $cues, ?string $driven = null): void
    {
        if ($cues !== $this->cues || $driven !== $this->driven) {
            [$this->cues, $this->driven] = [$cues, $driven];
            $this->list = CueList::of($cues, $driven);
            $this->changed = true;
        }
    }

    /** @return array<string, Cue> by id */
    public function cues(): array
    {
        return $this->cues;
    }

    /** The id of a cue by its id, its number or its name. */
    public function named(string $named): ?string
    {
        if (isset($this->cues[$named])) {
            return $named;
        }
        foreach (['number', 'name'] as $field) {
            foreach ($this->cues as $id => $cue) {
                if ($named === $cue->$field) {
                    return (string) $id;
                }
            }
        }

        return null;
    }

    /**
     * Starts a cue: those of its group give way; one of everything takes the place of all others.
     *
     * @param  string  $by  who did it
     * @param  int|null  $fade  over which all of it comes; null for its own times
     * @param  float  $level  how strongly it takes hold of its values, 0 to 1
     * @return Cue|null null when there is no such cue
     */
    public function fire(string $id, int $at, string $by, ?int $fade = null, float $level = 1.0): ?Cue
    {
        $cue = $this->cues[$id] ?? null;
        if ($cue === null) {
            return null;
        }
        $cue = $fade === null ? $cue : $cue->withFade($fade);
        $cue = $level === 1.0 ? $cue : $cue->withLevel($level);
        $lasts = $cue->lasts();
        foreach (array_keys($this->on) as $other) {
            $other = (string) $other;
            if ($other === $id) {
                continue;
            }
            if ($cue->scope === Scope::Everything) {
                // What it covers goes once it is covered, what it does not name on the way.
                $this->off($other, $at, $cue->fade, false, $cue);
            } elseif ($cue->group !== null && ($this->cues[$other]->group ?? null) === $cue->group) {
                $this->off(
                    $other,
                    $at,
                    $cue->fade,
                    ($this->cues[$other]->onStop ?? OnStop::Returns) === OnStop::Stays,
                    $cue,
                );
            }
        }
        $this->held->fire($cue, $at);
        unset($this->yielded[$id]);
        $this->passed = $by === 'timeline' ? max($this->passed, $at) : $this->passed;
        $this->on[$id] = [
            'at' => $at,
            'until' => $at + $lasts,
            'by' => $by,
            'masked' => count($this->held->masked($cue)),
        ];
        // What the clock starts, or a timeline beside the driven one passes, does not move the list along.
        $beside = $by === 'timeline' && $this->driven !== null && $cue->timeline !== $this->driven;
        if ($by !== 'clock' && ! $beside && $this->list->has($id)) {
            [$this->last, $this->pointed] = [$id, false];
            $then = $this->list->following($id);
            $this->pending = $then === null ? null : ['cue' => $then[0]->id, 'at' => $at + $then[1]];
        }
        $this->changed = $this->unsaved = true;

        return $cue;
    }

    /** When all of a cue that is on has faded in; null when it is not. */
    public function until(string $id): ?int
    {
        return $this->on[$id]['until'] ?? null;
    }

    /** Since when a cue is on; null when it is not. */
    public function since(string $id): ?int
    {
        return $this->on[$id]['at'] ?? null;
    }

    /** Ends a cue as it says, or fades it back over a time. */
    public function release(string $id, int $at, ?int $fade = null): bool
    {
        if (! isset($this->on[$id])) {
            return false;
        }
        $cue = $this->cues[$id] ?? null;
        $this->off($id, $at, $fade ?? ($cue->fade ?? 0), $fade === null && $cue?->onStop === OnStop::Stays);

        return true;
    }

    /**
     * Ends all that are on, those that come on again by it too; where none is on, what cues have left when they were
     * stopped.
     */
    public function releaseAll(int $at, int $fade): void
    {
        if ($this->on === []) {
            $this->held->clear($at, $fade);
        }
        for ($i = count($this->on) + count($this->yielded); $this->on !== [] && $i >= 0; $i--) {
            $this->off((string) array_key_last($this->on), $at, $fade, false);
        }
        $this->pending = null;
    }

    /** Forgets what gave way and is covered by now. */
    public function settle(int $now): void
    {
        $this->held->settle($now);
        $this->yielded = array_intersect_key($this->yielded, $this->held->holding($now));
    }

    private function off(string $id, int $at, int $fade, bool $stays, ?Cue $for = null): void
    {
        $entry = $this->on[$id] ?? null;
        unset($this->on[$id]);
        foreach ($this->held->end($id, $at, $fade, $stays, $for) as $again) {
            // What it had not covered yet is on again, as it was.
            if (isset($this->yielded[$again])) {
                $this->on[$again] = $this->yielded[$again];
                unset($this->yielded[$again]);
            }
        }
        if ($for !== null && $entry !== null) {
            $this->yielded[$id] = $entry;
        }
        if ($this->pending !== null && $this->last === $id) {
            $this->pending = null;
        }
        $this->changed = $this->unsaved = true;
    }

    /**
     * What Go does now (`CueList::go`).
     *
     * @param  string|null  $waiting  the cue at whose hold point the driven timeline waits
     * @return array{cue: string|null, resumes: bool}
     */
    public function go(?string $waiting = null): array
    {
        return $this->list->go($this->last, $this->pointed, $waiting);
    }

    /** The driven timeline was taken to a time by hand or by its clock: the list goes along. */
    public function soughtTo(string $timeline, int $time): void
    {
        $to = $this->list->soughtTo($timeline, $time);
        if ($to !== null && ($to[0] !== $this->last || $this->pointed)) {
            [$this->last, $this->pointed, $this->pending] = [$to[0], false, null];
            $this->changed = $this->unsaved = true;
        }
    }

    /** @return list<string> the cues that Go steps through, in their order */
    public function listed(): array
    {
        return array_map(static fn (Cue $cue): string => $cue->id, $this->list->cues);
    }

    /** The cue that Back would start. */
    public function previous(): ?string
    {
        return $this->list->previous($this->last)?->id;
    }

    /** Has Go start this cue next. */
    public function point(?string $next): void
    {
        $before = null;
        foreach ($this->list->cues as $cue) {
            if ($cue->id === $next) {
                break;
            }
            $before = $cue->id;
        }
        [$this->last, $this->pointed, $this->pending] = [$before, true, null];
        $this->changed = $this->unsaved = true;
    }

    /** @return array{cue: string, at: int}|null the cue that starts by itself next */
    public function pending(): ?array
    {
        return $this->pending;
    }

    /**
     * The time of day has come to a local second: which cues it starts.
     *
     * @return list<string>
     */
    public function due(int $local): array
    {
        [$day, $due] = $this->day->advance($local, $this->cues);
        $this->setDay($day);

        return $due;
    }

    /**
     * What a step of the clock passes over and was not fired yet.
     *
     * @return list<array{cue: string, at: int}>
     */
    public function passedOver(int $after, int $upTo): array
    {
        return $this->day->waiting($this->cues, $after, $upTo);
    }

    public function setDay(DayClock $day): void
    {
        $this->unsaved = $this->unsaved || $day->fired !== $this->day->fired;
        $this->day = $day;
    }

    public function day(): DayClock
    {
        return $this->day;
    }

    /** @return array<string, mixed> what windows have to know */
    public function payload(): array
    {
        return [
            'on' => (object) $this->on,
            'last' => $this->last,
            'pending' => $this->pending,
            'panic' => $this->held->isPanicking(),
        ];
    }

    public function takeChanged(): bool
    {
        [$changed, $this->changed] = [$this->changed, false];

        return $changed;
    }

    public function touch(): void
    {
        $this->changed = true;
    }

    /** @return array<string, mixed>|null what the journal does not know yet */
    public function takeUnsaved(): ?array
    {
        [$unsaved, $this->unsaved] = [$this->unsaved, false];

        return $unsaved ? $this->saved() : null;
    }

    /** @return array<string, mixed> */
    public function saved(): array
    {
        return [
            'on' => $this->on,
            'yielded' => (object) $this->yielded,
            'last' => $this->last,
            'pointed' => $this->pointed,
            'pending' => $this->pending,
            'passed' => $this->passed,
            'day' => (object) $this->day->fired,
        ];
    }
}

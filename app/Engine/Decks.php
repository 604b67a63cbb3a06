<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Playback\CueSheet;
use Core\Playback\Head;
use Core\Playback\Transport;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\Track;

/** The transports of a show, one for each of its timelines: what is on, where it is, and what Go would start. */
final class Decks
{
    /** @var array<string, array{transport: Transport, map: TransportMap, on: bool, weight: Track}> by timeline */
    private array $decks = [];

    /** @var array<string, CueSheet> by timeline, from the bottom up */
    private array $sheets = [];

    /** @var array<string, string> */
    private array $names = [];

    /** @var array<string, true> timelines of which something has to be told */
    private array $changed = [];

    /** @var array<string, true> timelines whose deck the journal does not have as it is */
    private array $unsaved = [];

    /**
     * @param  array<string, mixed>  $saved  by timeline, as toArray() gave them
     * @param  int|null  $standing  engine time at which all stand where they were, for a clock that is another one
     */
    public static function restored(array $saved, ?int $standing = null): self
    {
        $decks = new self;
        foreach ($saved as $timeline => $deck) {
            if (! is_array($deck)) {
                continue;
            }
            $sheet = CueSheet::fromArray((array) ($deck['sheet'] ?? []));
            $transport = Transport::fromArray((array) ($deck['transport'] ?? []));
            $on = (bool) ($deck['on'] ?? true);
            if ($standing !== null) {
                $transport = Transport::heldAt($standing, (int) ($deck['position'] ?? $transport->position));
            }
            $decks->sheets[(string) $timeline] = $sheet;
            $decks->names[(string) $timeline] = (string) ($deck['name'] ?? '');
            $decks->decks[(string) $timeline] = ['transport' => $transport, 'map' => $transport->map($sheet), 'on' => $on, 'weight' => Track::constant($on ? 1.0 : 0.0)];
        }

        return $decks;
    }

    /**
     * The timelines that there are now. New ones stand at their beginning, and only the first of a show is on by itself; what is gone goes.
     *
     * @param  array<string, array{name: string, sheet: CueSheet}>  $timelines  from the bottom up
     */
    public function setTimelines(array $timelines, int $at): void
    {
        $fresh = $this->decks === [];
        $this->unsaved += array_map(static fn (): bool => true, array_diff_key($this->decks, $timelines));
        $this->decks = array_intersect_key($this->decks, $timelines);
        $this->sheets = [];
        foreach ($timelines as $id => ['name' => $name, 'sheet' => $sheet]) {
            $this->sheets[$id] = $sheet;
            $this->names[$id] = $name;
            if (! isset($this->decks[$id])) {
                $on = $fresh && array_key_first($timelines) === $id;
                $this->decks[$id] = ['transport' => Transport::heldAt($at, 0), 'map' => TransportMap::standing($at, 0), 'on' => $on, 'weight' => Track::constant($on ? 1.0 : 0.0)];
                $this->changed[$id] = $this->unsaved[$id] = true;

                continue;
            }
            // Where it will come to rest may be elsewhere now.
            $map = $this->decks[$id]['transport']->map($sheet);
            if ($map->pieces !== array_slice($this->decks[$id]['map']->pieces, -count($map->pieces))) {
                $this->decks[$id]['map'] = $this->decks[$id]['map']->then($map);
                $this->changed[$id] = $this->unsaved[$id] = true;
            }
        }
        $this->names = array_intersect_key($this->names, $timelines);
    }

    /**
     * Plays, holds, goes, jumps or takes off.
     *
     * @param  array<string, mixed>  $command  do; timeline (id or name, the first where it is missing); for a jump time or cue
     * @param  int  $at  engine time at which it takes effect
     * @return string|null what is wrong with it
     */
    public function command(array $command, int $at): ?string
    {
        $id = $this->timeline($command['timeline'] ?? null);
        if ($id === null) {
            return isset($command['timeline']) ? 'There is no timeline of this id or name.' : 'No show is on the engine.';
        }
        [$sheet, $deck] = [$this->sheets[$id], $this->decks[$id]];
        $before = $deck['transport'];
        $on = true;
        switch ($command['do'] ?? null) {
            case 'play':
                $next = $before->play($at, $sheet);
                break;
            case 'hold':
                $next = $before->hold($at, $sheet);
                $on = $deck['on'];
                break;
            case 'go':
                $next = $before->go($at, $sheet);
                break;
            case 'jump':
                $to = $command['cue'] ?? null;
                $time = is_string($to) ? $sheet->named($to) : ($command['time'] ?? null);
                if (! is_int($time) && ! is_float($time)) {
                    return is_string($to) ? "There is no cue \"$to\"." : 'A jump needs a time in flicks or the name of a cue.';
                }
                $next = $before->jump($at, (int) max(0, min(Flicks::MAX, is_nan((float) $time) ? 0 : $time)), $sheet);
                break;
            case 'off':
                $next = Transport::heldAt($at, 0);
                $on = false;
                break;
            default:
                return 'There is no command of this name; there are play, hold, go, jump, off, live, cards and identify.';
        }
        if ($next === $before && $on === $deck['on']) {
            return null;
        }
        $weight = $on === $deck['on'] ? Track::constant($on ? 1.0 : 0.0) : Track::step($deck['on'] ? 1.0 : 0.0, $at, $on ? 1.0 : 0.0);
        $this->decks[$id] = ['transport' => $next, 'map' => $deck['map']->then($next->map($sheet)), 'on' => $on, 'weight' => $weight];
        $this->changed[$id] = $this->unsaved[$id] = true;

        return null;
    }

    private function timeline(mixed $named): ?string
    {
        if ($named === null) {
            return array_key_first($this->decks);
        }
        if (! is_string($named)) {
            return null;
        }
        $byName = array_search($named, $this->names, true);

        return isset($this->decks[$named]) ? $named : (is_string($byName) ? $byName : null);
    }

    public function has(string $timeline): bool
    {
        return isset($this->decks[$timeline]);
    }

    /** @return list<Head> */
    public function heads(int $engine): array
    {
        $heads = [];
        foreach ($this->decks as $id => $deck) {
            if ($deck['on'] || $deck['weight']->at($engine) > 0) {
                $heads[] = new Head($id, $deck['map'], $deck['weight']);
            }
        }

        return $heads;
    }

    /**
     * What a window has to know of one timeline.
     *
     * @return array<string, mixed>
     */
    public function tell(string $id, int $engine): array
    {
        $deck = $this->decks[$id] ?? null;
        if ($deck === null) {
            return ['timeline' => $id, 'gone' => true];
        }
        [$transport, $sheet] = [$deck['transport'], $this->sheets[$id]];
        // What will be when it has taken effect, so that nobody sees the moment before.
        $engine = max($engine, $transport->engine);

        return ['timeline' => $id, 'on' => $deck['on'], 'map' => $deck['map']->toArray(), 'next' => $transport->nextCue($engine, $sheet)['id'] ?? null]
            + ($deck['weight']->isConstant() ? [] : ['weight' => $deck['weight']->toList()]) + ($transport->waitsAt($engine, $sheet) ? ['waiting' => true] : []);
    }

    /** @return list<string> timelines of which something changed since this was asked last */
    public function takeChanged(): array
    {
        [$changed, $this->changed] = [array_keys($this->changed), []];

        return $changed;
    }

    /** @return array<string, array<string, mixed>|null> decks as restored() takes them, of which the journal does not know yet */
    public function takeUnsaved(int $engine): array
    {
        $unsaved = [];
        foreach (array_keys($this->unsaved) as $id) {
            $unsaved[$id] = $this->toArray($id, $engine);
        }
        $this->unsaved = [];

        return $unsaved;
    }

    /** Engine time at which the next deck comes to rest by itself; null when none will. */
    public function nextRest(int $engine): ?int
    {
        $rests = [];
        foreach ($this->decks as $id => $deck) {
            if ($deck['transport']->runsAt($engine, $this->sheets[$id])) {
                $rests[] = $deck['transport']->restsAt($this->sheets[$id]);
            }
        }

        return $rests === [] ? null : min($rests);
    }

    /** Marks what came to rest up to an engine time as changed: what is next is another cue now. */
    public function rested(int $from, int $to): void
    {
        foreach ($this->decks as $id => $deck) {
            if ($deck['transport']->playing && ($rest = $deck['transport']->restsAt($this->sheets[$id])) > $from && $rest <= $to) {
                $this->changed[$id] = $this->unsaved[$id] = true;
            }
        }
    }

    public function runs(int $engine): bool
    {
        foreach ($this->decks as $id => $deck) {
            if ($deck['transport']->runsAt($engine, $this->sheets[$id])) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string> from the bottom up */
    public function ids(): array
    {
        return array_keys($this->sheets);
    }

    /** @return array<string, array<string, mixed>> each in full, for those who ask once */
    public function now(int $engine): array
    {
        $all = [];
        foreach ($this->decks as $id => $deck) {
            [$transport, $sheet] = [$deck['transport'], $this->sheets[$id]];
            $all[$id] = [
                'name' => $this->names[$id] ?? '', 'on' => $deck['on'], 'transport' => $transport->toArray(), 'running' => $transport->runsAt($engine, $sheet), 'position' => $transport->positionAt($engine, $sheet),
                'rest' => $transport->playing ? $sheet->restAfter($transport->position) : $transport->position, 'waiting' => $transport->waitsAt($engine, $sheet), 'next' => $transport->nextCue($engine, $sheet), 'duration' => $sheet->duration,
            ];
        }

        return $all;
    }

    /** @return array<string, mixed> one deck, as restored() takes it */
    public function toArray(string $id, int $engine): ?array
    {
        $deck = $this->decks[$id] ?? null;

        return $deck === null ? null : ['name' => $this->names[$id] ?? '', 'on' => $deck['on'], 'transport' => $deck['transport']->toArray(), 'position' => $deck['transport']->positionAt($engine, $this->sheets[$id]), 'sheet' => $this->sheets[$id]->toArray()];
    }
}

<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Cues\CueList;
use Core\Cues\CueNumber;
use Core\Exchange\Csv;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Units\Timecode;

/**
 * The cue list and markers as tables: one row each, columns by their names in the first row, in any order. What comes
 * in is found again by its number, a marker by its timeline and time; what cues hold is not in the table and stays.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class CueTable
{
    public const MAX = 5000;

    private const CUES = [
        'number',
        'name',
        'note',
        'timeline',
        'time',
        'hold',
        'trigger',
        'wait s',
        'clock',
        'fade s',
        'delay s',
        'curve',
        'scope',
        'on stop',
        'group',
        'values',
        'seconds',
    ];

    private const MARKERS = ['timeline', 'time', 'name', 'colour', 'seconds'];

    private function __construct(private Show $show, private Document $document)
    {
    }

    public static function of(Document $document): self
    {
        return new self($document->show, $document);
    }

    public function cues(): string
    {
        $rows = [];
        $ordered = $this->document->rows['cue'] ?? [];
        $places = array_flip(
            array_map(static fn ($cue): string => $cue->id, CueList::of($this->show->programme->cues)->cues),
        );
        uksort(
            $ordered,
            static fn (int|string $a, int|string $b): int => [$places[$a] ?? PHP_INT_MAX, $a] <=> [
                $places[$b] ?? PHP_INT_MAX,
                $b,
            ],
        );
        foreach ($ordered as $id => $row) {
            $cue = $this->show->programme->cues[$id] ?? null;
            if ($cue === null) {
                continue;
            }
            $rows[] = [
                $cue->number,
                $cue->name,
                $cue->note,
                $this->show->programme->timelines[$cue->timeline ?? '']->name ?? '',
                $cue->time === null ? '' : Timecode::format($cue->time, $this->show->rate),
                (bool) ($row['holds'] ?? false) ? 'yes' : '',
                $cue->trigger->value,
                self::seconds($cue->wait),
                $cue->clock->text ?? '',
                self::seconds($cue->fade),
                self::seconds($cue->delay),
                $cue->curve->value,
                $cue->scope->value,
                $cue->onStop->value,
                (string) ($this->document->rows['group'][$cue->group ?? '']['name'] ?? ''),
                count($cue->values),
                $cue->time === null ? '' : self::exact($cue->time),
            ];
        }

        return Csv::write([self::CUES, ...$rows]);
    }

    public function markers(): string
    {
        $rows = [];
        foreach ($this->show->programme->timelines as $timeline) {
            foreach ($timeline->markers as $id => $marker) {
                $rows[] = [
                    $timeline->name,
                    Timecode::format($marker->time, $this->show->rate),
                    $marker->name,
                    (string) ($this->document->rows['marker'][$id]['colour'] ?? ''),
                    self::exact($marker->time),
                ];
            }
        }

        return Csv::write([self::MARKERS, ...$rows]);
    }

    /**
     * @param  \Closure(): string  $newId
     * @return list<Change>
     *
     * @throws InvalidValue naming csv, with the row and what is wrong there
     */
    public function readCues(string $csv, \Closure $newId): array
    {
        $byNumber = [];
        foreach ($this->document->rows['cue'] ?? [] as $id => $row) {
            $byNumber[(string) $row['number']] = (string) $id;
        }
        $changes = [];
        $met = [];
        foreach (Csv::table($csv, self::MAX, ['number', 'name']) as $at => $row) {
            $number = $row['number'];
            if ($number === '' || isset($met[$number])) {
                throw InvalidValue::because(
                    'csv',
                    $number === '' ? "Row $at has no number." : "Row $at has the number $number again.",
                );
            }
            $met[$number] = true;
            $fields = ['name' => $row['name'] !== '' ? $row['name'] : "Cue $number"];
            foreach (
                [
                    'note' => 'note',
                    'clock' => 'clock',
                    'trigger' => 'trigger',
                    'curve' => 'curve',
                    'grasp' => 'scope',
                    'scope' => 'scope',
                    'on stop' => 'onStop',
                ] as $column => $field
            ) {
                if (
                    ($row[$column] ?? '') !== '' ||
                    (isset($row[$column]) && in_array($column, ['note', 'clock'], true))
                ) {
                    $fields[$field] = $row[$column];
                }
            }
            foreach (['wait s' => 'wait', 'fade s' => 'fade', 'delay s' => 'delay'] as $column => $field) {
                if (($row[$column] ?? '') !== '') {
                    $fields[$field] =
                        is_numeric($row[$column]) && $row[$column] >= 0 && $row[$column] <= 86_400
                            ? Flicks::fromSeconds((float) $row[$column])
                            : throw InvalidValue::because(
                                'csv',
                                "Row $at has \"{$row[$column]}\" for $column, which is no number of seconds.",
                            );
                }
            }
            if (isset($row['time'])) {
                [$fields['timeline'], $fields['time']] =
                    $row['time'] === ''
                        ? [null, null]
                        : [$this->timeline($row['timeline'] ?? '', $at), $this->moment($row, $at)];
            }
            isset($row['hold']) &&
                ($fields['holds'] = ! in_array(strtolower($row['hold']), ['', 'no', '0', 'false'], true));
            if (isset($row['group'])) {
                $fields['group'] = $row['group'] === '' ? null : $this->named('group', $row['group'], $at);
            }
            $id = $byNumber[$number] ?? null;
            try {
                Schema::named('cue')->build(
                    array_merge(
                        $id === null ? ['id' => ''] : $this->document->rows['cue'][$id],
                        ['number' => $number],
                        $fields,
                    ),
                    [],
                );
            } catch (InvalidValue $refused) {
                throw InvalidValue::because('csv', "Row $at: ".$refused->getMessage());
            }
            array_push(
                $changes,
                ...$id === null
                    ? [Changes::create('cue', $newId(), ['number' => $number] + $fields)]
                    : Changes::update(
                        'cue',
                        $id,
                        $this->document->rows['cue'][$id] + ['note' => '', 'clock' => ''],
                        $fields,
                    ),
            );
        }

        return $changes;
    }

    /**
     * @param  \Closure(): string  $newId
     * @return list<Change>
     *
     * @throws InvalidValue naming csv, with the row and what is wrong there
     */
    public function readMarkers(string $csv, \Closure $newId): array
    {
        $there = [];
        foreach ($this->document->rows['marker'] ?? [] as $id => $row) {
            $there["$row[timeline] $row[time]"] = (string) $id;
        }
        $changes = [];
        foreach (Csv::table($csv, self::MAX, ['time', 'name']) as $at => $row) {
            $timeline = $this->timeline($row['timeline'] ?? '', $at);
            $fields = ['name' => $row['name'] !== '' ? $row['name'] : "Marker $at", 'colour' => $row['colour'] ?? ''];
            $time = $this->moment($row, $at);
            try {
                Schema::named('marker')->build(['time' => $time] + $fields, []);
            } catch (InvalidValue $refused) {
                throw InvalidValue::because('csv', "Row $at: ".$refused->getMessage());
            }
            $id = $there["$timeline $time"] ?? null;
            array_push(
                $changes,
                ...$id === null
                    ? [Changes::create('marker', $newId(), ['timeline' => $timeline, 'time' => $time] + $fields)]
                    : Changes::update('marker', $id, $this->document->rows['marker'][$id] + ['colour' => ''], $fields),
            );
        }

        return $changes;
    }

    /** Seconds from which the exact flick comes back. */
    private static function exact(int $flicks): string
    {
        return rtrim(rtrim(sprintf('%.10F', Flicks::toSeconds($flicks)), '0'), '.');
    }

    /**
     * The time of a row: its timecode, and within that frame where its seconds say. A timecode that was changed
     * counts alone.
     *
     * @param  array<string, string>  $row
     */
    private function moment(array $row, int $at): int
    {
        $time = $this->timecode($row['time'], $at);
        $seconds = $row['seconds'] ?? '';
        if ($seconds === '') {
            return $time;
        }
        if (! is_numeric($seconds) || abs((float) $seconds) > 1e6) {
            throw InvalidValue::because('csv', "Row $at has \"$seconds\" for seconds, which is no number.");
        }
        $exact = Flicks::fromSeconds((float) $seconds);

        return $this->show->rate->frameAt($exact) === $this->show->rate->frameAt($time) ? $exact : $time;
    }

    private function timecode(string $text, int $row): int
    {
        try {
            return Timecode::parse($text, $this->show->rate);
        } catch (InvalidValue $refused) {
            throw InvalidValue::because('csv', "Row $row: ".$refused->getMessage());
        }
    }

    /** The timeline of this name, the first where none is named. */
    private function timeline(string $name, int $row): string
    {
        if ($name === '') {
            return (string) (array_key_first($this->show->programme->timelines) ??
                throw InvalidValue::because('csv', 'The show has no timeline for this table.'));
        }

        return $this->named('timeline', $name, $row);
    }

    private function named(string $kind, string $name, int $row): string
    {
        foreach ($this->document->rows[$kind] ?? [] as $id => $one) {
            if ($one['name'] === $name) {
                return (string) $id;
            }
        }

        throw InvalidValue::because('csv', "Row $row names the $kind \"$name\", which is not in this show.");
    }

    private static function seconds(int $flicks): string
    {
        return CueNumber::written(Flicks::toSeconds($flicks));
    }
}

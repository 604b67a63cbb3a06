<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Timeline;
use Core\Values\Property;
use Core\Values\PropertySet;

final readonly class TimelineKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'timeline';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function properties(): PropertySet
    {
        return PropertySet::of('timeline', Property::share('level', 'Level'));
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'duration' => ['integer'],
            'order' => ['integer', 0],
            'end' => ['string', 'hold'],
            'then' => ['id?', null],
            'bpm' => ['number', 0],
            'firstBeat' => ['integer', 0],
            'beats' => ['integer', 4],
            'clock' => ['string', ''],
            'clockStart' => ['integer', 0],
            'freewheel' => ['integer', Timeline::FREEWHEEL],
            'clockJump' => ['string', 'follow'],
            'clockBelieve' => ['integer', 0],
            'clockIgnore' => ['integer', 0],
            'clockWaits' => ['boolean', false],
            'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Timeline::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}

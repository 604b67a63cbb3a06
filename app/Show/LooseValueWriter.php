<?php

declare(strict_types=1);

namespace App\Show;

use App\Engine\Control;
use App\Models\Edit;
use App\Models\Show;
use App\Support\Id;
use App\Support\Problem;
use Core\Show\Changes;
use Core\Show\Programming;
use Core\Show\Schema;
use Core\Units\FrameRate;
use Core\Values\Address;

/**
 * Stores loose values at the playhead: as a keyframe where the value has a curve (or one is wanted), else as the
 * row's own.
 */
final readonly class LooseValueWriter
{
    public const MAX = 5_000;

    public function __construct(private Editor $editor, private Control $control, private ShowRepository $rows)
    {
    }

    /**
     * @param  list<string>  $addresses  of loose values
     * @param  bool  $keyframe  whether values without a curve get one
     */
    public function keep(Show $show, string $person, array $addresses, bool $keyframe): Edit
    {
        $state =
            $this->control->ask(['ask' => 'state']) ??
            throw new Problem(422, 'The engine is not running, so there are no loose values to keep.');
        if ($addresses === []) {
            throw Problem::refused('addresses', 'Say which loose values to keep.');
        }
        $document = $this->rows->document($show);
        $programming = new Programming($document->show, $document, Id::make(...));
        [$changes, $stored] = [[], []];
        foreach (array_unique($addresses) as $text) {
            $value = $state['live'][$text] ?? null;
            if ($value === null) {
                throw Problem::refused('addresses', 'One of these is no loose value.');
            }
            $address = Address::parse($text);
            $set = Schema::properties($address->kind);
            if ($set->properties === [] || $address->kind === 'master') {
                throw Problem::refused(
                    'addresses',
                    "The $address->property of a $address->kind is not kept in a show.",
                );
            }
            $row =
                $document->rows[$address->kind][$address->id] ??
                throw Problem::refused('addresses', "What $text belongs to is not in this show.");
            if (! $keyframe && $programming->curveOf($address) === null) {
                $property = $set->named($address->property);
                $is = $row['values'][$address->property] ?? null;
                $numbers =
                    $stored[$address->kind][$address->id][$address->property] ??
                    ($is === null ? $property->rest() : $property->parseAll($is));
                $numbers[$address->slot] = (float) $value;
                $stored[$address->kind][$address->id][$address->property] = array_values($numbers);

                continue;
            }
            $timeline = $document->show->programme->timelineOf($address);
            $at = FrameRate::of($show->frameRate)->snap((int) ($state['decks'][$timeline]['position'] ?? 0));
            array_push($changes, ...$programming->key($address, $at, (float) $value)[0]);
        }
        foreach ($stored as $kind => $things) {
            foreach ($things as $id => $values) {
                [$before, $after] = [[], []];
                foreach ($values as $name => $numbers) {
                    $before["values.$name"] = $document->rows[$kind][$id]['values'][$name] ?? null;
                    $after["values.$name"] = Schema::properties($kind)->named($name)->formatAll($numbers);
                }
                array_push($changes, ...Changes::update($kind, $id, $before, $after));
            }
        }
        $name = count($addresses) === 1 ? 'Keep a value' : 'Keep '.count($addresses).' values';
        // What is kept where it is stored already needs no edit, but is let go of.
        $edit = $changes === [] ? Editor::nothing($show, $name) : $this->editor->apply($show, $person, $name, $changes);
        $this->control->send(['tell' => 'release', 'revision' => $edit->revision, 'addresses' => $addresses]);

        return $edit;
    }
}

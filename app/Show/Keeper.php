<?php

declare(strict_types=1);

namespace App\Show;

use App\Engine\Control;
use App\Models\Curve;
use App\Models\Edit;
use App\Models\Show;
use App\Support\Problem;
use Core\Show\Kinds as CoreKinds;
use Core\Units\FrameRate;
use Core\Values\Address;
use Core\Values\Curve as CoreCurve;
use Core\Values\Keyframe;
use Illuminate\Support\Str;

/** Stores loose values at the playhead: as a keyframe where the value has a curve (or one is wanted), else as the row's own. */
final readonly class Keeper
{
    public function __construct(private Editor $editor, private Control $control)
    {
    }

    /**
     * @param  mixed  $addresses  a list of addresses of loose values
     * @param  bool  $keyframe  whether values without a curve get one
     */
    public function keep(Show $show, string $person, mixed $addresses, bool $keyframe): Edit
    {
        $state = $this->control->ask(['ask' => 'state']) ?? throw new Problem(422, 'The engine is not running, so there is nothing loose to keep.');
        if (! is_array($addresses) || $addresses === [] || count($addresses) > 10_000) {
            throw Problem::refused('addresses', 'Say which loose values to keep.');
        }
        $changes = [];
        foreach ($addresses as $text) {
            $value = is_string($text) ? ($state['live'][$text] ?? null) : null;
            if ($value === null || ! is_string($text)) {
                throw Problem::refused('addresses', 'One of these is no loose value.');
            }
            $address = Address::parse($text);
            if (CoreKinds::properties($address->kind)->properties === [] || $address->kind === 'master') {
                throw Problem::refused('addresses', "The $address->property of a $address->kind is not kept in a show.");
            }
            $row = Kinds::model($address->kind)::query()->where('showId', $show->id)->find($address->id)?->attributesToArray() ?? throw Problem::refused('addresses', "What $text belongs to is not in this show.");
            $curve = Curve::query()->where('owner', $address->id)->where('property', $address->property)->where('slot', $address->slot)->first();
            $property = CoreKinds::properties($address->kind)->named($address->property);
            if ($curve === null && ! $keyframe) {
                $changes[] = ['kind' => $address->kind, 'id' => $address->id, 'op' => 'update', 'fields' => ["values.$property->name" => ['before' => $row['values'][$property->name] ?? null, 'after' => $value]]];

                continue;
            }
            $timeline = $address->kind === 'timeline' ? $address->id : (string) ($row['timeline'] ?? '');
            $at = FrameRate::of($show->frameRate)->snap((int) ($state['decks'][$timeline]['position'] ?? 0));
            $after = $curve === null ? CoreCurve::of([Keyframe::of($at, (float) $value)]) : CoreCurve::fromRows($curve->keyframes, $property)->with($at, (float) $value);
            $changes[] = $curve === null
                ? ['kind' => 'curve', 'id' => strtolower((string) Str::ulid()), 'op' => 'create', 'fields' => array_map(static fn (mixed $v): array => ['before' => null, 'after' => $v], ['ownerKind' => $address->kind, 'owner' => $address->id, 'property' => $property->name, 'slot' => $address->slot, 'keyframes' => $after->toRows()])]
                : ['kind' => 'curve', 'id' => $curve->id, 'op' => 'update', 'fields' => ['keyframes' => ['before' => $curve->keyframes, 'after' => $after->toRows()]]];
        }
        $edit = $this->editor->apply($show, $person, count($addresses) === 1 ? 'Keep a value' : 'Keep '.count($addresses).' values', $changes);
        $this->control->tell(['tell' => 'release', 'revision' => $edit->revision, 'addresses' => array_values($addresses)]);

        return $edit;
    }
}

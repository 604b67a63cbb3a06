<?php

declare(strict_types=1);

namespace App\Show;

use App\Engine\Control;
use App\Http\Problem;
use App\Models\Curve;
use App\Models\Edit;
use App\Models\Layer;
use App\Models\Show;
use Core\Units\FrameRate;
use Illuminate\Support\Str;

/** Stores loose values at the playhead: as a keyframe where the value has a curve (or one is wanted), else as the layer's own. */
final readonly class Keeper
{
    public function __construct(private Editor $editor, private Control $control)
    {
    }

    /**
     * @param  mixed  $lanes  a list of lane names, "layer/property"
     * @param  bool  $keyframe  whether values without a curve get one
     */
    public function keep(Show $show, string $person, mixed $lanes, bool $keyframe): Edit
    {
        $state = $this->control->ask(['ask' => 'state']) ?? throw new Problem(422, 'The engine is not running, so there is nothing loose to keep.');
        if (! is_array($lanes) || $lanes === []) {
            throw Problem::refused('lanes', 'Say which loose values to keep.');
        }
        $at = FrameRate::of($show->frameRate)->snap((int) $state['position']);
        $changes = [];
        foreach ($lanes as $lane) {
            $value = is_string($lane) ? ($state['live'][$lane] ?? null) : null;
            if ($value === null || ! str_contains($lane, '/')) {
                throw Problem::refused('lanes', 'One of these is no loose value.');
            }
            [$layerId, $property] = explode('/', $lane, 2);
            $layer = Layer::query()->where('showId', $show->id)->findOrFail($layerId);
            $curve = Curve::query()->where('layer', $layerId)->where('property', $property)->first();
            if ($curve === null && ! $keyframe) {
                $changes[] = ['kind' => 'layer', 'id' => $layerId, 'op' => 'update', 'fields' => [$property => ['before' => $layer->$property, 'after' => $value]]];

                continue;
            }
            $before = $curve->keyframes ?? [];
            $after = array_values(array_filter($before, static fn (array $k): bool => $k['t'] !== $at));
            $after[] = ['t' => $at, 'v' => $value, 'i' => 'linear'];
            usort($after, static fn (array $a, array $b): int => $a['t'] <=> $b['t']);
            $changes[] = $curve === null
                ? ['kind' => 'curve', 'id' => strtolower((string) Str::ulid()), 'op' => 'create', 'fields' => ['layer' => ['before' => null, 'after' => $layerId], 'property' => ['before' => null, 'after' => $property], 'keyframes' => ['before' => null, 'after' => $after]]]
                : ['kind' => 'curve', 'id' => $curve->id, 'op' => 'update', 'fields' => ['keyframes' => ['before' => $before, 'after' => $after]]];
        }
        $edit = $this->editor->apply($show, $person, count($lanes) === 1 ? 'Keep a value' : 'Keep '.count($lanes).' values', $changes);
        $this->control->tell(['tell' => 'release', 'revision' => $edit->revision, 'lanes' => $lanes]);

        return $edit;
    }
}

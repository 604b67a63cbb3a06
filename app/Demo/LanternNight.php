<?php

declare(strict_types=1);

namespace App\Demo;

use App\Jobs\MakeReady;
use App\Media\MediaStore;
use App\Media\Prober;
use App\Models\Show;
use App\Models\StoredFile;
use App\Show\Editor;
use Core\Units\Flicks;
use Core\Venue\PanelLibrary;
use Illuminate\Support\Str;

/** Saltgate Harbour on its Lantern Night: the demo show. */
final class LanternNight
{
    private const PERSON = '00000000000000000000000000';

    /** @var list<array<string, mixed>> */
    private array $changes = [];

    public function __construct(private readonly Editor $editor, private readonly MediaStore $store, private readonly DemoMedia $media)
    {
    }

    public function make(): Show
    {
        $show = Show::query()->create(['name' => 'Saltgate Harbour · Lantern Night', 'frameRate' => '25', 'engaged' => Show::query()->where('engaged', true)->doesntExist()]);
        $s = Flicks::PER_SECOND;
        $media = [];
        foreach ($this->media->files() as $name => $path) {
            $media[$name] = $this->add('media', ['name' => $name, 'kind' => 'file', 'file' => $this->keep($path, $name)]);
        }
        $card = $this->add('media', ['name' => 'Test card', 'kind' => 'testcard']);
        $amber = $this->add('media', ['name' => 'Lantern amber', 'kind' => 'solid', 'colour' => '#ffab52', 'width' => 16, 'height' => 16]);

        $panels = [];
        foreach (PanelLibrary::panels() as $one) {
            if (in_array($one->name, ['Indoor 2.6 · 500 × 500', 'Outdoor 3.9 · 500 × 1000'], true)) {
                $panels[$one->name] = $this->add('panel', get_object_vars($one));
            }
        }
        $panel = $panels['Indoor 2.6 · 500 × 500'];
        $wall = fn (string $name, int $columns, int $rows, array $position, float $yaw, float $seam): string => $this->add('surface', [
            'name' => $name, 'kind' => 'wall', 'position' => $position, 'rotation' => [$yaw, 0, 0],
            'cells' => array_fill(0, $rows, array_fill(0, $columns, $panel)), 'seams' => array_fill(0, $columns - 1, $seam),
        ]);
        $band = $wall('Bandstand wall', 10, 5, [0, 1.2, 0], 0, 4);
        $left = $wall('Wing left', 3, 5, [-3.3, 1.2, 1.0], 40, 0);
        $right = $wall('Wing right', 3, 5, [3.3, 1.2, 1.0], -40, 0);

        $house = $this->add('surface', ['name' => 'Custom house front', 'kind' => 'flat', 'position' => [-13, 0, -5], 'rotation' => [16, 0, 0], 'shape' => ['width' => 14, 'height' => 8, 'pixelsPerMetre' => 80]]);
        $tower = $this->add('surface', ['name' => 'Signal tower', 'kind' => 'drum', 'position' => [10.5, 0, -3], 'rotation' => [-12, 0, 0], 'shape' => ['radius' => 2.1, 'arc' => 200, 'height' => 9, 'pixelsPerMetre' => 80]]);

        $timeline = $this->add('timeline', ['name' => 'Lantern Night', 'duration' => 60 * $s]);
        $layer = fn (string $name, int $order, array $aims, array $more = []): string => $this->add('layer', ['timeline' => $timeline, 'name' => $name, 'order' => $order, 'aims' => $aims] + $more);
        $clip = fn (string $layer, string $media, float $start, float $length, array $more = []): string => $this->add('clip', ['layer' => $layer, 'media' => $media, 'start' => (int) ($start * $s), 'length' => (int) ($length * $s)] + $more);
        $curve = function (string $layer, string $property, array $points) use ($s): void {
            $this->add('curve', ['layer' => $layer, 'property' => $property, 'keyframes' => array_map(static fn (array $p): array => ['t' => (int) ($p[0] * $s), 'v' => $p[1], 'i' => $p[2] ?? 'linear'], $points)]);
        };
        $ground = $layer('Ground', 0, [$band]);
        $wings = $layer('Wings', 1, [$left, $right]);
        $lanterns = $layer('Lanterns', 2, [$band, $left, $right]);
        $stone = $layer('Stone', 3, [$house, $tower]);
        $cards = $layer('Test card', 4, [$band, $left, $right, $house, $tower]);
        $clip($ground, $media['harbour dusk.mp4'], 4, 40, ['pastEnd' => 'loop']);
        $clip($wings, $media['tide lines.mp4'], 4, 40, ['pastEnd' => 'loop']);
        $clip($lanterns, $media['lantern drift.mp4'], 12, 36, ['pastEnd' => 'loop']);
        $clip($lanterns, $amber, 50, 8);
        $clip($stone, $media['harbour dusk.mp4'], 4, 52, ['pastEnd' => 'loop']);
        $clip($cards, $card, 0, 4);
        $curve($ground, 'opacity', [[4, 0.0, 'smooth'], [7, 1.0], [40, 1.0, 'smooth'], [44, 0.0]]);
        $curve($wings, 'opacity', [[5, 0.0], [9, 0.85], [40, 0.85], [44, 0.0]]);
        $curve($stone, 'opacity', [[4, 0.0, 'smooth'], [10, 0.8], [50, 0.8, 'smooth'], [56, 0.0]]);
        $curve($lanterns, 'opacity', [[12, 0.0, 'smooth'], [16, 0.7], [46, 0.7], [48, 0.0], [50, 0.0, 'smooth'], [54, 1.0], [58, 0.0]]);
        $curve($lanterns, 'y', [[12, 200.0, 'smooth'], [20, 0.0]]);
        foreach ([[4, 'Doors open'], [12, 'First lantern'], [30, 'Brass band'], [50, 'Amber']] as [$at, $name]) {
            $this->add('marker', ['timeline' => $timeline, 'time' => $at * $s, 'name' => $name]);
        }
        foreach ([['1', 'Dusk over the harbour', 4, false], ['2', 'Lanterns rise', 12, true], ['3', 'Amber close', 48, true]] as [$number, $name, $at, $holds]) {
            $this->add('cue', ['timeline' => $timeline, 'time' => $at * $s, 'number' => $number, 'name' => $name, 'holds' => $holds]);
        }
        $output = $this->add('output', ['name' => 'Output 1', 'width' => 3840, 'height' => 1080, 'refresh' => 50.0]);
        foreach ([[$left, 576, 0], [$band, 1920, 576], [$right, 576, 2496]] as [$surface, $width, $x]) {
            $this->add('region', ['output' => $output, 'surface' => $surface, 'source' => [0, 0, $width, 960], 'x' => $x, 'y' => 0]);
        }
        $projection = $this->add('output', ['name' => 'Output 2', 'width' => 1920, 'height' => 1080, 'refresh' => 50.0]);
        foreach ([[$house, 1120, 640, 0], [$tower, 586, 720, 1200]] as [$surface, $width, $height, $x]) {
            $this->add('region', ['output' => $projection, 'surface' => $surface, 'source' => [0, 0, $width, $height], 'x' => $x, 'y' => 0]);
        }
        $this->editor->apply($show, self::PERSON, 'Lay out Lantern Night', $this->changes);

        return $show;
    }

    /** @param  array<string, mixed>  $fields */
    private function add(string $kind, array $fields): string
    {
        $id = strtolower((string) Str::ulid());
        $this->changes[] = ['kind' => $kind, 'id' => $id, 'op' => 'create', 'fields' => array_map(static fn (mixed $v): array => ['before' => null, 'after' => $v], $fields)];

        return $id;
    }

    private function keep(string $path, string $name): string
    {
        $hash = (string) hash_file('sha256', $path);
        if (! is_file($this->store->original($hash))) {
            copy($path, $this->store->original($hash));
        }
        $file = StoredFile::query()->firstOrCreate(['hash' => $hash], ['name' => $name, 'bytes' => (int) filesize($path), 'state' => 'waiting', 'facts' => (new Prober)->facts($path, $name)->toArray()]);
        if ($file->state !== 'ready') {
            MakeReady::dispatch($hash);
        }

        return $hash;
    }
}

<?php

declare(strict_types=1);

namespace App\Demo;

use App\Jobs\MakeReady;
use App\Jobs\RunTask;
use App\Media\MediaStore;
use App\Media\Prober;
use App\Models\Show;
use App\Models\StoredFile;
use App\Rig\NodeRig;
use App\Rig\ProjectorRig;
use App\Show\Editor;
use App\Support\Id;
use Core\Effects\Effect;
use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Body;
use Core\Light\LensFit;
use Core\Output\Packing;
use Core\Protocol\ArtNet;
use Core\Protocol\Sacn;
use Core\Show\Changes;
use Core\Units\Flicks;
use Core\Venue\Face;
use Core\Venue\FixtureLibrary;
use Core\Venue\FixtureType;
use Core\Venue\Lens;
use Core\Venue\Material;
use Core\Venue\PanelLibrary;

/** Saltgate Harbour on its Lantern Night: the demo show. */
final class LanternNight
{
    /** How many projectors there are already. */
    private int $projectors = 0;

    private const PERSON = '00000000000000000000000000';

    /** @var list<array<string, mixed>> */
    private array $changes = [];

    /** The rig of the presenter's corner. */
    private string $corner = '';

    /** @var list<array{string, string, string}> id, name and face of each projector */
    private array $thrown = [];

    public function __construct(
        private readonly Editor $editor,
        private readonly MediaStore $store,
        private readonly DemoMedia $media,
    ) {
    }

    public function make(): Show
    {
        $show = Show::query()->create([
            'name' => 'Saltgate Harbour · Lantern Night',
            'frameRate' => '25',
            'engaged' => Show::query()->where('engaged', true)->doesntExist(),
        ]);
        $s = Flicks::PER_SECOND;
        $media = [];
        foreach ($this->media->files() as $name => $path) {
            $media[$name] = $this->add('media', [
                'name' => $name,
                'kind' => 'file',
                'file' => $this->keep($path, $name),
            ]);
        }
        $card = $this->add('media', ['name' => 'Test card', 'kind' => 'testcard']);
        $amber = $this->add('media', [
            'name' => 'Lantern amber',
            'kind' => 'solid',
            'colour' => '#ffab52',
            'width' => 16,
            'height' => 16,
        ]);

        $panels = [];
        foreach (PanelLibrary::panels() as $one) {
            if (
                in_array(
                    $one->name,
                    ['Indoor 2.6 · 500 × 500', 'Outdoor 3.9 · 500 × 1000', 'Floor 3.9 · 500 × 500'],
                    true,
                )
            ) {
                $panels[$one->name] = $this->add('panel', get_object_vars($one));
            }
        }
        $panel = $panels['Indoor 2.6 · 500 × 500'] ?? throw new \LogicException('The library has no such panel.');
        $wall = fn (
            string $name,
            int $columns,
            int $rows,
            array $position,
            float $yaw,
            float $seam,
        ): string => $this->add('surface', [
            'name' => $name,
            'kind' => 'wall',
            'position' => $position,
            'rotation' => [$yaw, 0, 0],
            'cells' => array_fill(0, $rows, array_fill(0, $columns, $panel)),
            'seams' => array_fill(0, $columns - 1, $seam),
        ]);
        $band = $wall('Bandstand wall', 10, 5, [0, 1.2, 0], 0, 4);
        $left = $wall('Wing left', 3, 5, [-3.3, 1.2, 1.0], 40, 0);
        $right = $wall('Wing right', 3, 5, [3.3, 1.2, 1.0], -40, 0);

        ['house' => $house, 'tower' => $tower, 'sail' => $sail, 'deck' => $deck, 'corner' => $corner] = $this->quay(
            $panels,
        );

        $timeline = $this->add('timeline', [
            'name' => 'Lantern Night',
            'duration' => 360 * $s,
            'bpm' => DemoMedia::BPM,
            'beats' => 4,
        ]);
        $layer = function (string $name, int $order, array $surfaces, ?string $on = null) use ($timeline): string {
            $route = Id::make();
            $id = $this->add('layer', [
                'timeline' => $on ?? $timeline,
                'name' => $name,
                'order' => $order,
                'route' => $route,
            ]);
            $this->add('route', ['surfaces' => $surfaces, 'layer' => $id], $route);

            return $id;
        };
        $clip = fn (string $layer, string $media, float $start, float $length, array $more = []): string => $this->add(
            'clip',
            ['layer' => $layer, 'media' => $media, 'start' => (int) ($start * $s), 'length' => (int) ($length * $s)] +
                $more,
        );
        $curve = function (string $layer, string $property, array $points) use ($s): void {
            $this->add('curve', [
                'owner' => $layer,
                'property' => $property,
                'keyframes' => array_map(
                    static fn (array $p): array => ['t' => (int) ($p[0] * $s), 'v' => $p[1], 'i' => $p[2] ?? 'linear'],
                    $points,
                ),
            ]);
        };
        $ground = $layer('Ground', 0, [$band, $deck]);
        $wings = $layer('Wings', 1, [$left, $right, $corner]);
        $lanterns = $layer('Lanterns', 2, [$band, $left, $right]);
        $stone = $layer('Stone', 3, [$house, $tower, $sail]);
        $lights = $this->lights();
        $glow = $layer('Lights', 5, $lights);
        $cards = $layer('Test card', 4, [...$lights, $band, $left, $right, $house, $tower, $sail, $deck, $corner]);
        $clip($ground, $media['harbour dusk.mp4'], 4, 40, ['pastEnd' => 'loop']);
        $clip($wings, $media['tide lines.mp4'], 4, 40, ['pastEnd' => 'loop']);
        $clip($lanterns, $media['lantern drift.mp4'], 12, 36, ['pastEnd' => 'loop']);
        $clip($lanterns, $amber, 50, 8);
        $clip($stone, $media['harbour dusk.mp4'], 4, 52, ['pastEnd' => 'loop']);
        $clip($cards, $card, 0, 4);
        $clip($glow, $media['lantern drift.mp4'], 4, 326, ['pastEnd' => 'loop']);
        $curve($ground, 'opacity', [[4, 0.0, 'smooth'], [7, 1.0], [40, 1.0, 'smooth'], [44, 0.0]]);
        $curve($wings, 'opacity', [[5, 0.0], [9, 0.85], [40, 0.85], [44, 0.0]]);
        $curve($stone, 'opacity', [[4, 0.0, 'smooth'], [10, 0.8], [50, 0.8, 'smooth'], [56, 0.0]]);
        $curve($lanterns, 'opacity', [
            [12, 0.0, 'smooth'],
            [16, 0.7],
            [46, 0.7],
            [48, 0.0],
            [50, 0.0, 'smooth'],
            [54, 1.0],
            [58, 0.0],
        ]);
        $curve($lanterns, 'y', [[12, 200.0, 'smooth'], [20, 0.0]]);
        $curve($glow, 'opacity', [[4, 0.0, 'smooth'], [9, 1.0], [322, 1.0, 'smooth'], [330, 0.0]]);
        $bell = $this->add('timeline', ['name' => 'Harbour bell', 'duration' => 8 * $s, 'order' => 1]);
        $flash = $layer('Bell glow', 0, [$tower, $sail], $bell);
        $clip($flash, $amber, 0, 8);
        $curve($flash, 'opacity', [
            [0, 0.0, 'smooth'],
            [0.6, 0.9, 'smooth'],
            [3, 0.2, 'smooth'],
            [3.6, 0.8, 'smooth'],
            [8, 0.0],
        ]);
        // One wide canvas over bandstand and wings, with the space between them; the presenter's wall repeats the
        // middle of it.
        $canvas = $this->add('route', [
            'name' => 'Harbour canvas',
            'reach' => 'canvas',
            'width' => 3472,
            'height' => 960,
        ]);
        foreach (
            [[$left, 0, 576], [$band, 776, 1920], [$right, 2896, 576], [$corner, 1160, 1152]] as [$surface, $x, $width]
        ) {
            $this->add('share', [
                'route' => $canvas,
                'surface' => $surface,
                'values' => ['x' => $x, 'y' => 0, 'width' => $width, 'height' => 960],
            ]);
        }
        $kite = $this->add('layer', [
            'timeline' => $timeline,
            'name' => 'Kite',
            'order' => 5,
            'route' => $canvas,
            'fitting' => 'one-to-one',
        ]);
        $clip($kite, $media['lantern kite.png'], 16, 14);
        $curve($kite, 'x', [[16, -1700.0, 'smooth'], [30, 1700.0]]);
        // The lighting desk may take the kite over; when it goes off the network, the keyframes fly it again.
        $desk = $this->add('personality', [
            'name' => 'Lighting desk',
            'parts' => 'intensity 16, x 16, y 16, scale 16, turn 16, red, green, blue, effect, effect mix, 3 effect value',
        ]);
        $this->add('effect', ['layer' => $kite, 'order' => 0, 'values' => ['effect' => Effect::NONE]]);
        $this->add('control', ['layer' => $kite, 'personality' => $desk, 'universe' => 20, 'lost' => 'release']);
        $curve($kite, 'opacity', [[16, 0.0, 'smooth'], [17, 1.0], [29, 1.0, 'smooth'], [30, 0.0]]);
        $curve($kite, 'turn', [[16, -12.0, 'smooth'], [23, 10.0, 'smooth'], [30, -6.0]]);
        // The presenter's slides come in live; without them, amber light.
        $slides = $this->add('media', [
            'name' => 'Presenter slides',
            'kind' => 'input',
            'file' => 'input:slides',
            'standIn' => $amber,
        ]);
        $this->add('media', ['name' => 'Quay camera', 'kind' => 'input', 'file' => 'input:camera', 'standIn' => $card]);
        $talk = $layer('Slides', 6, [$corner]);
        $clip($talk, $slides, 32, 10, ['fitting' => 'contain']);
        $this->ferry($media, $corner);
        $bells = $this->add('layer', ['timeline' => $timeline, 'name' => 'Music', 'order' => 7, 'colour' => '#5b7fb0']);
        $clip($bells, $media['lantern night.flac'], 0, 360, ['fadeOut' => 6 * $s]);
        $this->later(
            $clip,
            $curve,
            $media,
            ['ground' => $ground, 'wings' => $wings, 'lanterns' => $lanterns, 'stone' => $stone, 'kite' => $kite],
            $amber,
        );
        array_push(
            $this->changes,
            ...(new LanternCues(
                $timeline,
                $bell,
                [
                    'ground' => $ground,
                    'wings' => $wings,
                    'lanterns' => $lanterns,
                    'stone' => $stone,
                    'kite' => $kite,
                    'slides' => $talk,
                ],
                [$band, $house],
            ))->changes(),
        );
        $this->outputs(
            [
                'Wing left' => [$left, 576, 960],
                'Bandstand wall' => [$band, 1920, 960],
                'Wing right' => [$right, 576, 960],
                'Bandstand deck' => [$deck, 1280, 512],
                'Presenter wall' => [$corner, 1152, 960],
            ],
            ['house' => $house, 'tower' => $tower, 'sail' => $sail],
        );
        $this->editor->apply($show, self::PERSON, 'Lay out Lantern Night', $this->changes);
        foreach ([[$house, false, 75.0], [$tower, false, 75.0], [$sail, false, 75.0]] as [$surface, $level, $limit]) {
            RunTask::begin('projection', $show, self::PERSON, [
                'surface' => $surface,
                'level' => $level,
                'limit' => $limit,
            ]);
        }

        return $show;
    }

    /**
     * @param  'layer'|'clip'  $on
     * @param  array<string, float>  $values  over those of its first preset
     */
    private function effect(string $on, string $id, Effect $effect, array $values = []): string
    {
        $presets = $effect->presets();

        return $this->add('effect', [
            $on => $id,
            'order' => count(
                array_filter($this->changes, static fn (array $change): bool => $change['kind'] === 'effect'),
            ),
            'values' => ['effect' => $effect->value] + $values + $presets[array_key_first($presets)],
        ]);
    }

    /**
     * The four parts after the first minute: lanterns, the brass band, a storm at the quay, amber.
     *
     * @param  \Closure(string, string, float, float, array<string, mixed>=): string  $clip
     * @param  \Closure(string, string, list<list<mixed>>): void  $curve
     * @param  array<string, string>  $media  ids by name
     * @param  array<string, string>  $layers  ids by name
     */
    private function later(\Closure $clip, \Closure $curve, array $media, array $layers, string $amber): void
    {
        $s = Flicks::PER_SECOND;
        $look = fn (string $name, string $pattern, array $values): string => $this->add('media', [
            'name' => $name,
            'kind' => 'pattern',
            'pattern' => $pattern,
            'values' => $values,
        ]);
        $sparks = $look('Lantern sparks', 'particles', [
            'front' => [1.0, 0.7, 0.3],
            'back' => [0.02, 0.02, 0.06],
            'density' => 0.5,
            'size' => 26,
            'speed' => 0.6,
        ]);
        $waves = $look('Quay waves', 'waves', [
            'front' => [0.2, 0.6, 0.75],
            'back' => [0.02, 0.05, 0.12],
            'size' => 60,
            'speed' => 0.4,
        ]);
        $rain = $look('Rain', 'lines', [
            'front' => [0.55, 0.65, 0.8],
            'back' => [0.01, 0.01, 0.03],
            'angle' => 82,
            'size' => 14,
            'speed' => 2.5,
        ]);
        $sails = $look('Sails', 'shapes', [
            'front' => [0.9, 0.75, 0.55],
            'back' => [0.08, 0.05, 0.1],
            'size' => 120,
            'speed' => 0.3,
        ]);
        ['ground' => $ground, 'wings' => $wings, 'lanterns' => $lanterns, 'stone' => $stone, 'kite' => $kite] = $layers;
        // Lanterns: what comes up comes out of what was there.
        $clip($ground, $sparks, 60, 84, ['fadeIn' => 5 * $s]);
        $clip($wings, $media['tide lines.mp4'], 60, 84, ['pastEnd' => 'loop', 'speed' => 0.5, 'fadeIn' => 5 * $s]);
        $clip($stone, $media['lantern drift.mp4'], 60, 82, ['pastEnd' => 'bounce', 'fadeIn' => 5 * $s]);
        // The brass band: twice as fast, and backwards on the stone.
        $clip($ground, $media['harbour dusk.mp4'], 140, 84, ['pastEnd' => 'loop', 'speed' => 2.0]);
        $folded = $clip($wings, $sails, 140, 84);
        $this->effect('clip', $folded, Effect::Kaleidoscope, ['segments' => 8.0]);
        $clip($stone, $media['harbour dusk.mp4'], 138, 84, ['pastEnd' => 'loop', 'speed' => -1.0]);
        $clip($lanterns, $media['lantern drift.mp4'], 140, 80, [
            'pastEnd' => 'loop',
            'speed' => 1.5,
            'fadeIn' => 2 * $s,
            'fadeOut' => 4 * $s,
        ]);
        $clip($kite, $media['lantern kite.png'], 170, 40, ['fadeIn' => 2 * $s, 'fadeOut' => 2 * $s]);
        // A storm at the quay.
        $storm = $clip($ground, $waves, 220, 84);
        $clip($wings, $rain, 220, 84);
        $clip($stone, $rain, 218, 84);
        // The sea gets rough, and calm again.
        $rough = $this->effect('clip', $storm, Effect::Wave, ['angle' => 90.0, 'size' => 0.2, 'speed' => 0.6]);
        $this->add('curve', [
            'ownerKind' => 'effect',
            'owner' => $rough,
            'property' => 'amplitude',
            'keyframes' => [
                ['t' => 220 * $s, 'v' => 0.0, 'i' => 'smooth'],
                ['t' => 250 * $s, 'v' => 0.04, 'i' => 'smooth'],
                ['t' => 270 * $s, 'v' => 0.04, 'i' => 'smooth'],
                ['t' => 300 * $s, 'v' => 0.0],
            ],
        ]);
        $this->effect('clip', $storm, Effect::Vignette, ['extent' => 0.6, 'softness' => 0.5]);
        // Amber, and out.
        $clip($ground, $media['harbour dusk.mp4'], 300, 60, [
            'pastEnd' => 'hold',
            'speed' => 0.25,
            'fadeOut' => 12 * $s,
        ]);
        $clip($wings, $amber, 300, 50, ['fadeOut' => 10 * $s]);
        $clip($stone, $amber, 298, 62, ['fadeOut' => 20 * $s]);
        foreach (
            [
                [$ground, [[60, 0.0, 'smooth'], [64, 0.9], [340, 0.9, 'smooth'], [358, 0.0]]],
                [$wings, [[60, 0.0, 'smooth'], [66, 0.8], [350, 0.8]]],
                [$stone, [[60, 0.0, 'smooth'], [66, 0.75], [352, 0.75]]],
            ] as [$layer, $points]
        ) {
            foreach ($this->changes as &$change) {
                if (
                    $change['kind'] === 'curve' &&
                    ($change['fields']['owner']['after'] ?? '') === $layer &&
                    $change['fields']['property']['after'] === 'opacity'
                ) {
                    array_push(
                        $change['fields']['keyframes']['after'],
                        ...array_map(
                            static fn (array $p): array => ['t' => $p[0] * $s, 'v' => $p[1], 'i' => $p[2] ?? 'linear'],
                            $points,
                        ),
                    );
                }
            }
            unset($change);
        }
        foreach ($this->changes as &$change) {
            if (
                $change['kind'] === 'curve' &&
                ($change['fields']['owner']['after'] ?? '') === $lanterns &&
                $change['fields']['property']['after'] === 'opacity'
            ) {
                array_push($change['fields']['keyframes']['after'], ['t' => 140 * $s, 'v' => 0.7]);
            }
            if (
                $change['kind'] === 'curve' &&
                ($change['fields']['owner']['after'] ?? '') === $kite &&
                $change['fields']['property']['after'] === 'opacity'
            ) {
                array_push($change['fields']['keyframes']['after'], ['t' => 170 * $s, 'v' => 1.0]);
            }
        }
        unset($change);
        $curve($kite, 'scale', [
            [170, 1.0, 'smooth'],
            [180, 1.4, 'smooth'],
            [190, 1.0, 'smooth'],
            [200, 1.4, 'smooth'],
            [210, 1.0],
        ]);
    }

    /**
     * The window of the ferry: plates of six cameras thrown onto the presenter's wall from the same lenses, and the
     * whole of what they shot from a globe, muted, to compare.
     *
     * @param  array<string, string>  $media  ids by name
     */
    private function ferry(array $media, string $wall): void
    {
        $s = Flicks::PER_SECOND;
        $line = $this->add('timeline', [
            'name' => 'Ferry window',
            'duration' => 30 * $s,
            'order' => 2,
            // Follows the timecode machine of the virtual rig, which begins at one o'clock.
            'clock' => 'MTC',
            'clockStart' => 3600 * $s,
        ]);
        $array = $this->add('rig', ['name' => 'Ferry array', 'rig' => $this->corner, 'position' => [0, 1.4, 0.3]]);
        [$width, $height] = FerryArray::pane();
        $plates = $this->add('route', [
            'name' => 'Ferry plates',
            'reach' => 'lens',
            'width' => $width,
            'height' => $height,
            'surfaces' => [$wall],
        ]);
        $globe = $this->add('route', [
            'name' => 'Ferry globe',
            'reach' => 'globe',
            'width' => 384,
            'height' => 384,
            'surfaces' => [$wall],
            'rig' => $array,
            'values' => ['y' => 0.0, 'arc' => 180.0],
        ]);
        $layer = function (string $name, int $order, string $route, string $still, array $more) use (
            $line,
            $media,
            $s,
        ): void {
            $id = $this->add(
                'layer',
                ['timeline' => $line, 'name' => $name, 'order' => $order, 'route' => $route, 'fitting' => 'stretch'] +
                    $more,
            );
            $this->add('clip', ['layer' => $id, 'media' => $media[$still], 'start' => 0, 'length' => 30 * $s]);
            $this->add('curve', [
                'owner' => $id,
                'property' => 'opacity',
                'keyframes' => [
                    ['t' => 0, 'v' => 0.0],
                    ['t' => $s, 'v' => 1.0],
                    ['t' => 29 * $s, 'v' => 1.0],
                    ['t' => 30 * $s, 'v' => 0.0],
                ],
            ]);
        };
        $layer('Half sphere', 0, $globe, 'ferry half sphere.png', ['values' => ['mute' => true]]);
        foreach (FerryArray::lenses() as $i => $lens) {
            $n = $i + 1;
            $id = $this->add('lens', [
                'route' => $plates,
                'name' => "Camera $n",
                'rig' => $array,
                'part' => FerryArray::part($i),
                'values' => ['y' => 0.0, 'featherLeft' => 0.2, 'featherRight' => 0.2] + $lens,
            ]);
            $layer("Plate $n", $n, $plates, "ferry plate $n.png", ['part' => $id, 'values' => ['blend' => 'add']]);
        }
    }

    /**
     * All walls on one output, packed; a projector of house, tower and sail on each of six; a second machine that
     * stands by.
     *
     * @param  array<string, array{string, int, int}>  $walls  surface and its raster, by name
     * @param  array<string, string>  $faces  surfaces by name
     */
    private function outputs(array $walls, array $faces): void
    {
        $servers = [];
        foreach (['Quay server' => 'main', 'Quay server, standby' => 'backup', 'Desk' => 'desk'] as $name => $role) {
            $servers[$role] = $this->add('server', ['name' => $name, 'role' => $role]);
        }
        $places = Packing::of(array_map(static fn (array $wall): array => [$wall[1], $wall[2]], $walls), [[3840, 2160]])[
            'places'
        ];
        foreach (['main' => 'Bandstand', 'backup' => 'Bandstand, standby'] as $role => $name) {
            $output = $this->add('output', [
                'name' => $name,
                'width' => 3840,
                'height' => 2160,
                'refresh' => 50.0,
                'server' => $servers[$role],
                'connector' => 'hdmi-2.0',
            ]);
            $this->add('feed', ['output' => $output, 'name' => 'Processor rack', 'role' => 'led']);
            foreach ($walls as $wall => [$surface, $width, $height]) {
                $this->add('region', [
                    'output' => $output,
                    'surface' => $surface,
                    'source' => [0, 0, $width, $height],
                    'x' => $places[$wall]['x'],
                    'y' => $places[$wall]['y'],
                ]);
            }
        }
        foreach ($this->thrown as [$projector, $name, $surface]) {
            $output = $this->add('output', [
                'name' => $name,
                'width' => 1920,
                'height' => 1200,
                'refresh' => 50.0,
                'server' => $servers['main'],
                'connector' => 'dp-1.2',
            ]);
            $this->add('feed', [
                'output' => $output,
                'name' => $name,
                'role' => 'projector',
                'projector' => $projector,
            ]);
            [$width, $height] =
                $surface === $faces['house'] ? [1120, 640] : ($surface === $faces['tower'] ? [586, 720] : [440, 300]);
            // What the projector is there for fills it until its warp is computed.
            $this->add('region', [
                'output' => $output,
                'surface' => $surface,
                'source' => [0, 0, $width, $height],
                'width' => 1920,
                'height' => 1200,
            ]);
        }
        // The windows of the house stay dark, so that nobody inside is blinded.
        foreach (
            [[[-6, -4, 2.8, 4.8], 1.0, 2.2], [[-6, -4, -2, 0.8, 2.8, 4.8], 5.0, 1.9]] as [$lefts, $bottom, $height]
        ) {
            foreach ($lefts as $k => $x) {
                [$l, $r, $t, $b] = [($x + 7) * 80, ($x + 8.2) * 80, (8 - $bottom - $height) * 80, (8 - $bottom) * 80];
                $nodes = array_merge(
                    ...array_map(
                        static fn (array $p): array => [round($p[0]) + 0.0, round($p[1]) + 0.0, 0.0, 0.0, 0.0, 0.0],
                        [[$l, $t], [$r, $t], [$r, $b], [$l, $b]],
                    ),
                );
                $this->add('mask', [
                    'surface' => $faces['house'],
                    'name' => ($bottom < 2 ? 'Lower' : 'Upper').' window '.($k + 1),
                    'nodes' => $nodes,
                    'feather' => 6.0,
                    'inverted' => true,
                ]);
            }
        }
    }

    /**
     * Four masts of pixels round the bandstand, by Art-Net, and three rails along the quay, by sACN; both at nodes of
     * the virtual rig.
     *
     * @return list<string>
     */
    private function lights(): array
    {
        $ports = (array) config('kite.rig_ports');
        $types = array_column(
            array_map(static fn (FixtureType $type): array => [$type->name, $type->toArray()], FixtureLibrary::types()),
            1,
            0,
        );
        $mast = $this->add('fixture', $types['Mast 9 × 22, RGB and two whites']);
        $rail = $this->add('fixture', $types['Strip 60, RGBW']);
        $node = fn (string $name, string $protocol, int $usual): string => $this->add('node', [
            'name' => $name,
            'protocol' => $protocol,
            'address' => NodeRig::ADDRESSES[$protocol],
            'port' => $ports[$protocol] === $usual ? 0 : $ports[$protocol],
            'limit' => 16,
        ]);
        [$tower, $quay] = [$node('Mast node', 'artnet', ArtNet::PORT), $node('Quay node', 'sacn', Sacn::PORT)];
        $lights = [];
        foreach ([[-6.2, 2.4, 28], [-4.6, 4.6, 18], [4.6, 4.6, -18], [6.2, 2.4, -28]] as $i => [$x, $z, $yaw]) {
            $lights[] = $surface = $this->add('surface', [
                'name' => 'Light mast '.($i + 1),
                'kind' => 'light',
                'position' => [$x, 0.6, $z],
                'rotation' => [$yaw, 0, 0],
                'shape' => ['fixture' => $mast],
            ]);
            $this->add('patch', [
                'surface' => $surface,
                'node' => $tower,
                'universe' => 1 + 2 * $i,
                'channel' => 1,
                'wiring' => ['corner' => 'bottom left', 'along' => 'columns', 'serpentine' => true],
                'whites' => 'white point',
                'values' => ['whiteShare' => 0.6],
            ]);
        }
        foreach ([-1.3, 0, 1.3] as $i => $x) {
            $lights[] = $surface = $this->add('surface', [
                'name' => 'Quay rail '.($i + 1),
                'kind' => 'light',
                'position' => [$x, 0.95, 5.6],
                'rotation' => [0, 0, 0],
                'shape' => ['fixture' => $rail],
            ]);
            // 60 pixels of four channels: two rails in a universe.
            $this->add('patch', [
                'surface' => $surface,
                'node' => $quay,
                'universe' => 1 + intdiv($i, 2),
                'channel' => 1 + 240 * ($i % 2),
            ]);
        }

        return $lights;
    }

    /**
     * What stands round the bandstand: faces, masts, projectors, the presenter's corner, seats.
     *
     * @param  array<string, string>  $panels  ids by name
     * @return array{house: string, tower: string, sail: string, deck: string, corner: string}
     */
    private function quay(array $panels): array
    {
        $deck = $this->add('surface', [
            'name' => 'Bandstand deck',
            'kind' => 'wall',
            'position' => [0, 1.02, 3.2],
            'rotation' => [0, -90, 0],
            'cells' => array_fill(0, 4, array_fill(0, 10, $panels['Floor 3.9 · 500 × 500'])),
            'seams' => array_fill(0, 9, 0),
        ]);
        // Windows lie deeper than the stone, door and cornices stand before it.
        $relief = static fn (float $x, float $y, float $w, float $h, float $depth): array => [
            'depth' => $depth,
            'points' => array_map(static fn (float $v): float => round($v, 3), [
                $x,
                $y,
                $x + $w,
                $y,
                $x + $w,
                $y + $h,
                $x,
                $y + $h,
            ]),
        ];
        $reliefs = [
            $relief(-7, 4.1, 14, 0.3, 0.25),
            $relief(-7, 7.6, 14, 0.4, 0.45),
            $relief(-1.3, 0, 2.6, 3.4, 0.3),
            $relief(-0.9, 0, 1.8, 3, -0.4),
            ['depth' => 0.35, 'points' => [-1.7, 3.4, 1.7, 3.4, 0, 4]],
        ];
        foreach ([-6, -4, 2.8, 4.8] as $x) {
            $reliefs[] = $relief($x, 1, 1.2, 2.2, -0.3);
        }
        foreach ([-6, -4, -2, 0.8, 2.8, 4.8] as $x) {
            $reliefs[] = ['depth' => -0.3, 'points' => [$x, 5, $x + 1.2, 5, $x + 1.2, 6.4, $x + 0.6, 6.9, $x, 6.4]];
        }
        $shape = ['width' => 14, 'height' => 8, 'pixelsPerMetre' => 80];
        $house = $this->add('surface', [
            'name' => 'Custom house front',
            'kind' => 'relief',
            'position' => [-13, 0, -5],
            'rotation' => [16, 0, 0],
            'shape' => $shape,
            'reliefs' => $reliefs,
        ]);
        $drum = ['radius' => 2.1, 'arc' => 200, 'height' => 9, 'pixelsPerMetre' => 80];
        $tower = $this->add('surface', [
            'name' => 'Signal tower',
            'kind' => 'drum',
            'position' => [10.5, 0, -3],
            'rotation' => [-12, 0, 0],
            'shape' => $drum,
            'material' => ['gain' => 0.7],
        ]);
        $sail = $this->add('surface', [
            'name' => 'Sail',
            'kind' => 'flat',
            'position' => [6, 3, -4],
            'rotation' => [-6, 0, 0],
            'shape' => ['width' => 4.4, 'height' => 3, 'pixelsPerMetre' => 100],
            'material' => ['translucent' => true, 'rear' => true, 'gain' => 1.1, 'transmission' => 0.35],
        ]);

        $housePose = Pose::of(Vec3::of(-13, 0, -5), 16);
        $towerPose = Pose::of(Vec3::of(10.5, 0, -3), -12);
        $part = static fn (array $shape, string $kind, Mat4 $world): Body => new Body(
            'part',
            'part',
            Face::fromRow($kind, $shape)->mesh(),
            $world,
            Material::fromRow([]),
        );
        $lens = [
            'widthPx' => 1920,
            'heightPx' => 1200,
            'throwMin' => 1.4,
            'throwMax' => 3.2,
            'throw' => 2.2,
            'shiftXMax' => 0.3,
            'shiftYMax' => 0.6,
            'portrait' => true,
        ];
        $third = static fn (float $x): Body => $part(
            ['width' => 5.5, 'height' => 8],
            'flat',
            $housePose->matrix()->times(Mat4::translation(Vec3::of($x, 0, 0))),
        );
        $half = static fn (float $turn): Body => $part(
            ['radius' => 2.1, 'arc' => 84, 'height' => 9],
            'drum',
            $towerPose
                ->matrix()
                ->times(Mat4::translation(Vec3::of(2.1 * sin(deg2rad($turn)), 0, 2.1 * (cos(deg2rad($turn)) - 1))))
                ->times(Mat4::rotation('y', deg2rad($turn))),
        );
        $masts = [
            ['Mast west', [-13.5, 0, 15.4], [['Custom house left', $third(-4.4), true, $house]]],
            ['Mast quay', [-7.4, 0, 14.3], [['Custom house middle', $third(0), true, $house]]],
            [
                'Mast stage',
                [-4.2, 0, 13],
                [['Custom house right', $third(4.4), true, $house], ['Tower left', $half(-42), false, $tower]],
            ],
            ['Mast east', [16.5, 0, 8.5], [['Tower right', $half(42), false, $tower]]],
        ];
        foreach ($masts as [$name, $at, $lit]) {
            $rig = $this->add('rig', ['name' => $name, 'position' => $at]);
            $this->add('prop', [
                'name' => "$name, tower",
                'kind' => 'box',
                'rig' => $rig,
                'shape' => ['width' => 0.45, 'height' => 8.4, 'depth' => 0.45],
            ]);
            foreach ($lit as $i => [$projector, $body, $square, $for]) {
                $place = Vec3::of($at[0], 6.2 + $i * 1.2, $at[2] - 0.7);
                $this->project(
                    $projector,
                    $place,
                    LensFit::from($place, Lens::fromRow($lens), $body, $square),
                    $lens,
                    $projector === 'Tower right' ? 13_000 : 21_000,
                    $for,
                    $rig,
                    Vec3::of($at[0], $at[1], $at[2]),
                );
            }
        }
        $wide = ['portrait' => false, 'throwMin' => 0.8, 'throwMax' => 1.4, 'throw' => 1.2] + $lens;
        $place = Vec3::of(6.6, 4.4, -9.6);
        $this->project(
            'Sail, from behind',
            $place,
            LensFit::from(
                $place,
                Lens::fromRow($wide),
                $part(['width' => 4.4, 'height' => 3], 'flat', Pose::of(Vec3::of(6, 3, -4), 174)->matrix()),
                true,
            ),
            $wide,
            8_000,
            $sail,
            null,
            Vec3::zero(),
            true,
        );

        $this->corner = $corner = $this->add('rig', [
            'name' => 'Presenter\'s corner',
            'position' => [-6.2, 0.4, 5],
            'rotation' => [28, 0, 0],
        ]);
        $presenter = $this->add('surface', [
            'name' => 'Presenter wall',
            'kind' => 'wall',
            'position' => [0, 0.2, -1.4],
            'rig' => $corner,
            'cells' => array_fill(0, 5, array_fill(0, 6, $panels['Indoor 2.6 · 500 × 500'])),
            'seams' => array_fill(0, 5, 0),
        ]);
        $this->add('prop', [
            'name' => 'Presenter',
            'kind' => 'box',
            'rig' => $corner,
            'position' => [0.4, 0, 0.4],
            'shape' => ['width' => 0.45, 'height' => 1.75, 'depth' => 0.3],
        ]);
        $this->add('camera', [
            'name' => 'Presenter camera',
            'rig' => $corner,
            'position' => [0, 1.5, 4.6],
            'focal' => 42,
            'tracked' => true,
        ]);
        foreach (
            [
                ['Quay rail, front', [0, 1.65, 9]],
                ['Middle of the square', [-2, 1.65, 19]],
                ['Chandler\'s steps', [9, 3.2, 27]],
                ['House left, far', [-21, 1.65, 13]],
            ] as [$name, $at]
        ) {
            $seat = Pose::of(Vec3::of(...$at))->lookingAt(Vec3::of(-1, 3, -2));
            $this->add('seat', [
                'name' => $name,
                'position' => $at,
                'rotation' => [round($seat->yaw, 3), round($seat->pitch, 3), 0],
            ]);
        }

        return ['house' => $house, 'tower' => $tower, 'sail' => $sail, 'deck' => $deck, 'corner' => $presenter];
    }

    /** @param  array<string, mixed>  $lens */
    private function project(
        string $name,
        Vec3 $place,
        LensFit $filled,
        array $lens,
        float $lumens,
        string $for,
        ?string $rig,
        Vec3 $from,
        bool $mirrored = false,
    ): void {
        $round = static fn (float $v): float => round($v, 4) + 0.0;
        $id = $this->add('projector', [
            'name' => $name,
            'rig' => $rig,
            'lumens' => $lumens,
            'aims' => [$for],
            'mirrored' => $mirrored,
            'address' => long2ip(ip2long(ProjectorRig::FIRST) + $this->projectors++).':'.config('kite.pjlink_port'),
            'shutsAtPanic' => true,
            'position' => array_map($round, $place->minus($from)->toArray()),
            'rotation' => array_map($round, [$filled->pose->yaw, $filled->pose->pitch, 0.0]),
            'lens' => [
                'throw' => $round($filled->throw),
                'shiftX' => $round($filled->shiftX),
                'shiftY' => $round($filled->shiftY),
                'focus' => round($filled->distance, 2),
            ] + $lens,
        ]);
        $this->thrown[] = [$id, $name, $for];
    }

    /** @param  array<string, mixed>  $fields */
    private function add(string $kind, array $fields, ?string $id = null): string
    {
        $id ??= Id::make();
        $this->changes[] = Changes::create($kind, $id, $fields);

        return $id;
    }

    private function keep(string $path, string $name): string
    {
        $hash = (string) hash_file('sha256', $path);
        if (! is_file($this->store->original($hash))) {
            copy($path, $this->store->original($hash));
        }
        $file = StoredFile::query()->firstOrCreate(
            ['hash' => $hash],
            [
                'name' => $name,
                'bytes' => (int) filesize($path),
                'state' => 'waiting',
                'facts' => (new Prober())->facts($path, $name)->toArray(),
            ],
        );
        if ($file->state !== 'ready') {
            MakeReady::dispatch($hash);
        }

        return $hash;
    }
}

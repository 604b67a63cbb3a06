<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Output\Output;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Timeline\Clip;
use Core\Timeline\CuePoint;
use Core\Timeline\Marker;
use Core\Timeline\PastEnd;
use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\Refused;
use Core\Values\Curve;
use Core\Values\Keyframe;
use Core\Values\Property;
use Core\Venue\Camera;
use Core\Venue\Carrier;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\Material;
use Core\Venue\Model;
use Core\Venue\Panel;
use Core\Venue\Projector;
use Core\Venue\Prop;
use Core\Venue\Settings;
use Core\Venue\Stances;
use Core\Venue\Wall;

/**
 * The whole document, immutable. Rows that name things which are gone are kept out of what plays and told in $broken;
 * nothing else of the show suffers from them.
 */
final readonly class Show
{
    public const KINDS = ['panel', 'surface', 'media', 'timeline', 'layer', 'clip', 'curve', 'marker', 'cue', 'output', 'region', 'rig', 'projector', 'camera', 'prop', 'seat', 'variant'];

    /** Kinds that stand somewhere. */
    public const PLACED = ['surface', 'rig', 'projector', 'camera', 'prop', 'seat'];

    /**
     * @param  array<string, Panel>  $panels
     * @param  array<string, Surface>  $surfaces
     * @param  array<string, MediaItem>  $media
     * @param  array<string, Timeline>  $timelines
     * @param  array<string, Output>  $outputs
     * @param  array<string, array<string, Region>>  $regions  by output, then by id, in drawing order
     * @param  list<array{kind: string, id: string, sentence: string}>  $broken
     * @param  array<string, string>  $rigs  names
     * @param  array<string, Projector>  $projectors
     * @param  array<string, Camera>  $cameras
     * @param  array<string, Prop>  $props
     * @param  array<string, string>  $seats  names
     * @param  array<string, array{name: string, projectors: array<string, array{Projector, Pose}>}>  $variants  of projectors, kept to compare; poses in the venue
     * @param  Stances  $stances  of surfaces, rigs, projectors, cameras, props and seats
     */
    private function __construct(
        public string $id,
        public string $name,
        public FrameRate $rate,
        public array $panels,
        public array $surfaces,
        public array $media,
        public array $timelines,
        public array $outputs,
        public array $regions,
        public array $broken,
        public array $rigs,
        public array $projectors,
        public array $cameras,
        public array $props,
        public array $seats,
        public array $variants,
        public Stances $stances,
    ) {
    }

    /**
     * @param  array<string, mixed>  $show  id, name, frameRate
     * @param  array<string, list<array<string, mixed>>>  $rows  by kind
     */
    public static function fromRows(array $show, array $rows): self
    {
        $broken = [];
        $each = static function (string $kind, callable $make) use ($rows, &$broken): void {
            foreach ($rows[$kind] ?? [] as $row) {
                try {
                    $make($row);
                } catch (Refused $refused) {
                    $broken[] = ['kind' => $kind, 'id' => (string) $row['id'], 'sentence' => $refused->getMessage()];
                }
            }
        };
        [$panels, $surfaces, $media, $outputs, $regions] = [[], [], [], [], []];
        $each('panel', static function (array $row) use (&$panels): void {
            $panels[$row['id']] = self::panel($row);
        });
        $each('surface', static function (array $row) use (&$surfaces, $panels): void {
            $surfaces[$row['id']] = self::surface($row, $panels);
        });
        $each('media', static function (array $row) use (&$media): void {
            $media[$row['id']] = MediaItem::fromRow($row);
        });
        $each('output', static function (array $row) use (&$outputs, &$regions): void {
            $outputs[$row['id']] = self::output($row);
            $regions[$row['id']] = [];
        });
        $each('region', static function (array $row) use (&$regions, $surfaces, $outputs): void {
            if (! isset($outputs[$row['output']])) {
                throw Refused::because('output', 'The output of this region is gone.');
            }
            if (! isset($surfaces[$row['surface']])) {
                throw Refused::because('surface', 'The surface of this region is gone.');
            }
            $regions[$row['output']][$row['id']] = self::region($row);
        });
        [$rigs, $projectors, $cameras, $props, $seats, $variants, $poses, $riding] = [[], [], [], [], [], [], [], []];
        foreach (self::PLACED as $kind) {
            $each($kind, static function (array $row) use ($kind, $surfaces, &$rigs, &$projectors, &$cameras, &$props, &$seats, &$poses, &$riding): void {
                $id = (string) $row['id'];
                if ($kind === 'surface' && ! isset($surfaces[$id])) {
                    return;
                }
                $pose = self::pose($row);
                match ($kind) {
                    'surface' => null,
                    'rig' => $rigs[$id] = Check::name('name', (string) $row['name']),
                    'seat' => $seats[$id] = Check::name('name', (string) $row['name']),
                    'projector' => $projectors[$id] = Projector::fromRow($row),
                    'camera' => $cameras[$id] = Camera::fromRow($row),
                    'prop' => $props[$id] = Prop::fromRow($row),
                };
                $poses[$id] = $pose;
                $riding[$id] = isset($row['rig']) ? (string) $row['rig'] : null;
            });
        }
        foreach (self::PLACED as $kind) {
            foreach ($rows[$kind] ?? [] as $row) {
                if (isset($row['rig'], $poses[$row['id']]) && ! isset($rigs[$row['rig']])) {
                    $broken[] = ['kind' => $kind, 'id' => (string) $row['id'], 'sentence' => "$row[name] rode on a rig that is gone; it stands in the venue now."];
                    $riding[$row['id']] = null;
                }
            }
        }
        try {
            $stances = Stances::of($poses, $riding);
        } catch (Refused $refused) {
            $broken[] = ['kind' => 'rig', 'id' => (string) array_key_first($rigs), 'sentence' => $refused->getMessage()];
            $stances = Stances::of($poses, []);
        }
        $each('variant', static function (array $row) use (&$variants): void {
            $variants[(string) $row['id']] = self::variant($row);
        });
        [$clips, $curves, $markers, $cues, $layers] = [[], [], [], [], []];
        $each('clip', static function (array $row) use (&$clips, $media): void {
            if (! isset($media[$row['media']])) {
                throw Refused::because('media', 'The media of this clip is gone.');
            }
            $clips[$row['layer']][] = ['id' => (string) $row['id'], 'media' => (string) $row['media'], 'clip' => self::clip($row)];
        });
        $each('curve', static function (array $row) use (&$curves): void {
            $curves[$row['layer']][$row['property']] = self::curve($row);
        });
        $each('marker', static function (array $row) use (&$markers): void {
            $markers[$row['timeline']][$row['id']] = self::marker($row);
        });
        $each('cue', static function (array $row) use (&$cues): void {
            $cues[$row['timeline']][$row['id']] = self::cue($row);
        });
        $each('layer', static function (array $row) use (&$layers, &$broken, $clips, $curves, $surfaces): void {
            $layer = Layer::fromRow($row, $clips[$row['id']] ?? [], $curves[$row['id']] ?? []);
            $layers[$row['timeline']][] = $layer;
            foreach ($layer->aims as $aim) {
                if (! isset($surfaces[$aim])) {
                    $broken[] = ['kind' => 'layer', 'id' => $layer->id, 'sentence' => "$layer->name is aimed at a surface that is gone."];
                }
            }
        });
        $timelines = [];
        $each('timeline', static function (array $row) use (&$timelines, $layers, $markers, $cues): void {
            $own = $layers[$row['id']] ?? [];
            usort($own, static fn (Layer $a, Layer $b): int => [$a->order, $a->id] <=> [$b->order, $b->id]);
            $ownMarkers = $markers[$row['id']] ?? [];
            uasort($ownMarkers, static fn (Marker $a, Marker $b): int => $a->time <=> $b->time);
            $ownCues = $cues[$row['id']] ?? [];
            uasort($ownCues, static fn (CuePoint $a, CuePoint $b): int => $a->time <=> $b->time);
            $timelines[$row['id']] = new Timeline((string) $row['id'], Check::name('name', (string) $row['name']), self::duration($row), $own, $ownMarkers, $ownCues);
        });

        return new self((string) $show['id'], Check::name('name', (string) $show['name']), FrameRate::of((string) $show['frameRate']), $panels, $surfaces, $media, $timelines, $outputs, $regions, $broken, $rigs, $projectors, $cameras, $props, $seats, $variants, $stances);
    }

    /**
     * Refuses a row that the show could not hold, whatever else is in it.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, Panel>  $panels  those that the cells of a wall may name
     */
    public static function checkRow(string $kind, array $row, array $panels = []): void
    {
        match ($kind) {
            'show' => [Check::name('name', (string) $row['name']), FrameRate::of((string) $row['frameRate'])],
            'panel' => self::panel($row),
            'surface' => self::surface($row, $panels),
            'media' => MediaItem::fromRow($row),
            'timeline' => [Check::name('name', (string) $row['name']), self::duration($row)],
            'layer' => Layer::fromRow($row),
            'clip' => self::clip($row),
            'curve' => self::curve($row),
            'marker' => self::marker($row),
            'cue' => self::cue($row),
            'output' => self::output($row),
            'region' => self::region($row),
            'rig', 'seat' => [Check::name('name', (string) $row['name']), self::pose($row)],
            'projector' => [Projector::fromRow($row), self::pose($row)],
            'camera' => [Camera::fromRow($row), self::pose($row)],
            'prop' => [Prop::fromRow($row), self::pose($row)],
            'variant' => self::variant($row),
            default => throw Refused::notOneOf('kind', $kind, ['show', ...self::KINDS]),
        };
    }

    /** @param  array<string, mixed>  $row */
    public static function panel(array $row): Panel
    {
        return Panel::of(
            (string) $row['name'], (float) $row['widthMm'], (float) $row['heightMm'], (int) $row['widthPx'], (int) $row['heightPx'],
            (float) $row['kilograms'], (float) $row['wattsAverage'], (float) $row['wattsMaximum'],
            (float) ($row['depthMm'] ?? 80), (float) ($row['candela'] ?? 0), (float) ($row['viewAcross'] ?? 140), (float) ($row['viewDown'] ?? 140),
            (float) ($row['jointLeast'] ?? 0), (float) ($row['jointMost'] ?? 0), (float) ($row['inrushAmperes'] ?? 0),
        );
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, Panel>  $panels
     */
    public static function surface(array $row, array $panels): Surface
    {
        $kind = (string) ($row['kind'] ?? 'wall');
        $carrier = match ($kind) {
            'wall' => self::wall($row, $panels),
            'model' => Model::fromRow($row),
            default => Face::fromRow($kind, (array) ($row['shape'] ?? []), $row['boards'] ?? []),
        };

        return new Surface((string) $row['id'], Check::name('name', (string) $row['name']), self::pose($row), $carrier, Feeding::fromRow((array) ($row['feeding'] ?? [])), Material::fromRow((array) ($row['material'] ?? [])), self::worked($row, $carrier));
    }

    /**
     * The raster that content is made for where it differs from the panels' own pixels.
     *
     * @param  array<string, mixed>  $row
     * @return array{int, int}|null
     */
    private static function worked(array $row, Carrier $carrier): ?array
    {
        $s = new Settings((array) ($row['shape'] ?? []));
        $worked = $carrier instanceof Wall ? [$s->whole('workedWidth', 0, 0, Check::MOST_PIXELS * 4, 'px'), $s->whole('workedHeight', 0, 0, Check::MOST_PIXELS * 4, 'px')] : [0, 0];

        return min($worked) > 0 ? $worked : null;
    }

    /** @param  array<string, mixed>  $row */
    private static function pose(array $row): Pose
    {
        $p = array_map(floatval(...), array_values((array) $row['position']));
        $r = array_map(floatval(...), array_values((array) $row['rotation']));
        if (count($p) !== 3 || count($r) !== 3) {
            throw Refused::because(count($p) === 3 ? 'rotation' : 'position', 'A pose has three numbers of position and three of rotation.');
        }

        return Pose::of(Vec3::of($p[0], $p[1], $p[2]), $r[0], $r[1], $r[2]);
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array{name: string, projectors: array<string, array{Projector, Pose}>}
     */
    private static function variant(array $row): array
    {
        $projectors = [];
        foreach (array_values((array) $row['projectors']) as $i => $one) {
            if (! is_array($one) || ! isset($one['id'], $one['name'], $one['position'], $one['rotation'])) {
                throw Refused::because('projectors', 'Projector '.($i + 1).' of a variant needs an id, a name, a position and a rotation.');
            }
            $projectors[(string) $one['id']] = [Projector::fromRow($one), self::pose($one)];
        }

        return ['name' => Check::name('name', (string) $row['name']), 'projectors' => $projectors];
    }

    /** Where a thing stands, in the venue. */
    public function world(string $id): Mat4
    {
        return $this->stances->world($id);
    }

    /**
     * Everything that stands in the light.
     *
     * @return list<Body>
     */
    public function bodies(): array
    {
        $bodies = [];
        foreach ($this->surfaces as $id => $surface) {
            $bodies[] = new Body($id, $surface->name, $surface->carrier->mesh(), $this->world($id), $surface->wall() === null ? $surface->material : null, $surface->width(), $surface->height());
        }
        foreach ($this->props as $id => $prop) {
            $bodies[] = new Body($id, $prop->name, $prop->mesh, $this->world($id), null);
        }

        return $bodies;
    }

    /** @return list<Beam> */
    public function beams(): array
    {
        return array_map(fn (string $id): Beam => new Beam($id, $this->projectors[$id], $this->world($id)), array_keys($this->projectors));
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, Panel>  $panels
     */
    private static function wall(array $row, array $panels): Wall
    {
        $cells = [];
        foreach ((array) $row['cells'] as $cellRow) {
            $cells[] = array_map(static fn (?string $id): ?Panel => $id === null ? null : ($panels[$id] ?? throw Refused::because('cells', 'A panel type of this wall is gone.')), array_values((array) $cellRow));
        }

        return Wall::of($cells, array_map(floatval(...), array_values((array) $row['seams'])));
    }

    /** @param  array<string, mixed>  $row */
    private static function output(array $row): Output
    {
        return Output::of((string) $row['name'], (int) $row['width'], (int) $row['height'], (float) $row['refresh']);
    }

    /** @param  array<string, mixed>  $row */
    private static function region(array $row): Region
    {
        $source = array_map(intval(...), array_values((array) $row['source']));
        if (count($source) !== 4) {
            throw Refused::because('source', 'The source of a region is x, y, width and height.');
        }

        return Region::of((string) $row['surface'], Rect::of($source[0], $source[1], $source[2], $source[3]), (int) $row['x'], (int) $row['y']);
    }

    /** @param  array<string, mixed>  $row */
    private static function clip(array $row): Clip
    {
        $past = PastEnd::tryFrom((string) $row['pastEnd']) ?? throw Refused::notOneOf('pastEnd', (string) $row['pastEnd'], array_column(PastEnd::cases(), 'value'));

        return Clip::of((int) $row['start'], (int) $row['length'], (int) $row['in'], isset($row['out']) ? (int) $row['out'] : null, $past);
    }

    /** @param  array<string, mixed>  $row */
    private static function curve(array $row): Curve
    {
        $property = Property::ofLayer()[(string) $row['property']] ?? throw Refused::notOneOf('property', (string) $row['property'], array_keys(Property::ofLayer()));
        $keyframes = [];
        foreach (array_values((array) $row['keyframes']) as $i => $keyframe) {
            if (! is_array($keyframe) || ! is_int($keyframe['t'] ?? null) || ! is_numeric($keyframe['v'] ?? null)) {
                throw Refused::because('keyframes', 'Keyframe '.($i + 1).' needs a time t in flicks and a value v.');
            }
            $keyframes[] = Keyframe::fromRow(['t' => $keyframe['t'], 'v' => (float) $keyframe['v'], 'i' => (string) ($keyframe['i'] ?? 'linear')] + (is_array($keyframe['h'] ?? null) ? ['h' => array_values($keyframe['h'])] : []));
            $property->check((float) $keyframe['v']);
        }

        return Curve::of($keyframes);
    }

    /** @param  array<string, mixed>  $row */
    private static function marker(array $row): Marker
    {
        return Marker::of((int) $row['time'], (string) $row['name']);
    }

    /** @param  array<string, mixed>  $row */
    private static function cue(array $row): CuePoint
    {
        return CuePoint::of((int) $row['time'], (string) $row['number'], (string) $row['name'], (bool) $row['holds']);
    }

    /** @param  array<string, mixed>  $row */
    private static function duration(array $row): int
    {
        return Check::whole('duration', (int) $row['duration'], 1, Flicks::MOST, 'flicks');
    }

    /** The timeline that plays: the first. */
    public function mainTimeline(): ?Timeline
    {
        return array_values($this->timelines)[0] ?? null;
    }

    /**
     * What a layer shows where: each media of its clips on each surface that it is aimed at, once.
     *
     * @return list<array{MediaItem, Surface}>
     */
    public function uses(Layer $layer): array
    {
        $uses = [];
        foreach ($layer->clips as $use) {
            foreach ($layer->aims as $aim) {
                if (isset($this->surfaces[$aim])) {
                    $uses["$use[media] $aim"] ??= [$this->media[$use['media']], $this->surfaces[$aim]];
                }
            }
        }

        return array_values($uses);
    }
}

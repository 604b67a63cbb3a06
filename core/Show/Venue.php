<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Units\InvalidValue;
use Core\Venue\Camera;
use Core\Venue\Emission;
use Core\Venue\Panel;
use Core\Venue\Projector;
use Core\Venue\Prop;
use Core\Venue\Surface;
use Core\Venue\TransformTree;

/** Everything physical of a show, placed in metres. */
final readonly class Venue
{
    public const KINDS = ['panel', 'fixture', 'surface', 'rig', 'projector', 'camera', 'prop', 'seat', 'variant'];

    /** Kinds that stand somewhere. */
    public const PLACED = ['surface', 'rig', 'projector', 'camera', 'prop', 'seat'];

    /**
     * @param  array<string, Panel>  $panels
     * @param  array<string, Surface>  $surfaces
     * @param  array<string, string>  $rigs  names
     * @param  array<string, Projector>  $projectors
     * @param  array<string, Camera>  $cameras
     * @param  array<string, Prop>  $props
     * @param  array<string, string>  $seats  names
     * @param  array<string, Variant>  $variants  of projectors, kept to compare
     * @param  TransformTree  $transforms  of surfaces, rigs, projectors, cameras, props and seats
     * @param  list<InvalidRow>  $broken
     */
    private function __construct(
        public array $panels,
        public array $surfaces,
        public array $rigs,
        public array $projectors,
        public array $cameras,
        public array $props,
        public array $seats,
        public array $variants,
        public TransformTree $transforms,
        public array $broken,
    ) {
    }

    /** @param  array<string, array<string, object>>  $built  by kind and id */
    public static function of(array $built): self
    {
        $broken = [];
        $things = array_fill_keys(self::PLACED, []);
        [$poses, $riding] = [[], []];
        foreach (self::PLACED as $kind) {
            foreach ($built[$kind] ?? [] as $id => $placed) {
                if (! ($placed instanceof Placed)) {
                    continue;
                }
                $things[$kind][$id] = $placed->thing instanceof Named ? $placed->thing->name : $placed->thing;
                $poses[$id] = $placed->pose;
                $riding[$id] = $placed->rig;
            }
        }
        foreach ($riding as $id => $rig) {
            if ($rig !== null && ! isset($things['rig'][$rig])) {
                foreach (self::PLACED as $kind) {
                    $thing = $things[$kind][$id] ?? null;
                    if ($thing !== null) {
                        $name =
                            $thing instanceof Surface ||
                            $thing instanceof Projector ||
                            $thing instanceof Camera ||
                            $thing instanceof Prop
                                ? $thing->name
                                : (is_string($thing)
                                    ? $thing
                                    : '');
                        $broken[] = new InvalidRow(
                            $kind,
                            (string) $id,
                            "$name was carried by a rig that was removed; it stands in the venue now.",
                        );
                    }
                }
                $riding[$id] = null;
            }
        }
        try {
            $transforms = TransformTree::of($poses, $riding);
        } catch (InvalidValue $refused) {
            $broken[] = new InvalidRow('rig', (string) array_key_first($things['rig']), $refused->getMessage());
            $transforms = TransformTree::of($poses, []);
        }

        /** @var array<string, Panel> $panels */
        $panels = $built['panel'] ?? [];
        /**
         * @var array{surface: array<string, Surface>, rig: array<string, string>, projector: array<string, Projector>, camera: array<string, Camera>, prop: array<string, Prop>, seat: array<string, string>} $things
         */
        /** @var array<string, Variant> $variants */
        $variants = $built['variant'] ?? [];

        return new self(
            $panels,
            $things['surface'],
            $things['rig'],
            $things['projector'],
            $things['camera'],
            $things['prop'],
            $things['seat'],
            $variants,
            $transforms,
            $broken,
        );
    }

    /** Where a thing stands, in the venue. */
    public function world(string $id): Mat4
    {
        return $this->transforms->world($id);
    }

    /**
     * Corner rays of what looks somewhere, for one metre along its axis, in the venue.
     *
     * @return array<string, list<list<float>>> origin, then top left, top right, bottom right, bottom left
     */
    public function frusta(): array
    {
        $frusta = [];
        foreach ($this->projectors + $this->cameras as $id => $thing) {
            $corners = $thing instanceof Projector ? $thing->lens->corners() : $thing->corners();
            $world = $this->world($id);
            $frusta[$id] = [
                $world->origin()->toArray(),
                ...array_map(
                    static fn (array $c): array => $world->direction(Vec3::of($c[0], $c[1], -1))->toArray(),
                    $corners,
                ),
            ];
        }

        return $frusta;
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
            $bodies[] = new Body(
                $id,
                $surface->name,
                $surface->carrier->mesh(),
                $this->world($id),
                $surface->shines() ? null : $surface->material,
                $surface->width(),
                $surface->height(),
                $surface->wall() === null ? null : Emission::ofWall($surface->wall(), $surface->material),
            );
        }
        foreach ($this->props as $id => $prop) {
            $bodies[] = new Body($id, $prop->name, $prop->mesh(), $this->world($id), null);
        }

        return $bodies;
    }

    /** @return list<Mesh> all that may stand in the way of light, where it stands */
    public function solids(): array
    {
        return array_map(static fn (Body $body): Mesh => $body->inVenue(), $this->bodies());
    }

    /** @return list<Beam> */
    public function beams(): array
    {
        return array_map(
            fn (string $id): Beam => new Beam($id, $this->projectors[$id], $this->world($id)),
            array_keys($this->projectors),
        );
    }
}

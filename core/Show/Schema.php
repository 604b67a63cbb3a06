<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\InvalidValue;
use Core\Values\PropertySet;

/** All kinds of rows that a show is made of. */
final class Schema
{
    /** @var array<string, Kind>|null */
    private static ?array $all = null;

    /** @var array<string, PropertySet> by kind, each made once: every curve and value asks for its own */
    private static array $sets = [];

    /** @return array<string, Kind> by name; one that another needs comes before it */
    public static function all(): array
    {
        return self::$all ??= array_column(
            array_map(static fn (Kind $kind): array => [$kind->name(), $kind], [
                new Kinds\PanelKind(),
                new Kinds\FixtureKind(),
                new Kinds\SurfaceKind(),
                new Kinds\MediaKind(),
                new Kinds\TimelineKind(),
                new Kinds\LayerKind(),
                new Kinds\RouteKind(),
                new Kinds\ShareKind(),
                new Kinds\LensKind(),
                new Kinds\ClipKind(),
                new Kinds\EffectKind(),
                new Kinds\CurveKind(),
                new Kinds\MarkerKind(),
                new Kinds\GroupKind(),
                new Kinds\RegionGroupKind(),
                new Kinds\PageKind(),
                new Kinds\CueKind(),
                new Kinds\ServerKind(),
                new Kinds\OutputKind(),
                new Kinds\FeedKind(),
                new Kinds\RegionKind(),
                new Kinds\MaskKind(),
                new Kinds\RigKind(),
                new Kinds\ProjectorKind(),
                new Kinds\CameraKind(),
                new Kinds\PointKind(),
                new Kinds\CheckKind(),
                new Kinds\NodeKind(),
                new Kinds\PatchKind(),
                new Kinds\PersonalityKind(),
                new Kinds\ControlKind(),
                new Kinds\DeviceKind(),
                new Kinds\BindingKind(),
                new Kinds\TouchItemKind(),
                new Kinds\PropKind(),
                new Kinds\SeatKind(),
                new Kinds\VariantKind(),
            ]),
            1,
            0,
        );
    }

    /** @throws InvalidValue for a name that no kind has */
    public static function named(string $name): Kind
    {
        return self::all()[$name] ?? throw InvalidValue::notOneOf('kind', $name, self::names());
    }

    /** @return list<string> */
    public static function names(): array
    {
        return array_keys(self::all());
    }

    /** The values that things of a kind have; those of the whole output under "master". */
    public static function properties(string $kind): PropertySet
    {
        return self::$sets[$kind] ??= $kind === 'master' ? PropertySet::ofMaster() : self::named($kind)->properties();
    }

    /** @return array<string, PropertySet> those that have any */
    public static function propertySets(): array
    {
        $sets = [];
        foreach (['master', ...self::names()] as $name) {
            $sets[$name] = self::properties($name);
        }

        return array_filter($sets, static fn (PropertySet $set): bool => $set->properties !== []);
    }

    /** @return list<string> kinds, and with them fields, that rows of a kind belong to: they go when that row goes */
    public static function parents(string $name): array
    {
        $kind = self::named($name);

        return $kind instanceof BelongsToOneOf ? $kind->parents() : array_values(array_filter([$kind->parent()]));
    }

    /** @return list<string> kinds whose rows go when a row of this kind goes */
    public static function children(string $name): array
    {
        return array_keys(
            array_filter(
                self::all(),
                static fn (Kind $kind): bool => in_array($name, self::parents($kind->name()), true),
            ),
        );
    }

    /** The view in which rows of a kind are worked on. */
    public static function view(string $name): string
    {
        return (self::all()[$name] ?? null)?->view() ?? 'venue';
    }
}

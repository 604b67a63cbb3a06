<?php

declare(strict_types=1);

namespace App\Paper;

use App\Media\GreyPicture;
use App\Show\WarpStore;
use Core\Exchange\Mpcdi;
use Core\Exchange\Pfm;
use Core\Media\Picture;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\DeliveryMesh;
use Core\Output\MaskShape;
use Core\Output\Output;
use Core\Output\Region;
use Core\Output\SourceMap;
use Core\Show\Show;
use Core\Units\InvalidValue;

/** Warps and blends of a surface's regions as a package of the open interchange format (MPCDI), out and in. */
final class ProjectionPackage
{
    /** Cells across an output in which its warp and its blend are told. */
    private const ACROSS = 480;

    /**
     * The share of the signal that a region has over its output, with the masks of both.
     *
     * @return Picture grey
     */
    public static function alpha(Show $show, string $output, Region $region, int $across): Picture
    {
        $computed = WarpStore::computed($region->model);

        return self::shares(
            $show,
            $output,
            $region,
            self::map($region, $computed, $show->delivery->outputs[$output], $across),
            $computed?->blend,
        );
    }

    /** The warp of a region as its player has it, the other way round. */
    private static function map(Region $region, ?ComputedWarp $computed, Output $output, int $across): SourceMap
    {
        return SourceMap::of(DeliveryMesh::of($region, $computed?->warp), $output, ...self::cells($output, $across));
    }

    private static function shares(
        Show $show,
        string $output,
        Region $region,
        SourceMap $map,
        ?BlendMap $blend,
    ): Picture {
        [$of, $columns, $rows] = [$show->delivery->outputs[$output], $map->columns, $map->rows];
        $masks = static fn (string $on): array => $show->delivery->maskShapes($on, $show->venue, WarpStore::read(...));
        [$over, $within, $source] = [$masks($output), $masks($region->surface), $region->source];
        $bytes = '';
        foreach ($map->places as $k => $place) {
            [$x, $y] = [
                ((($k % $columns) + 0.5) * $of->width) / $columns,
                ((intdiv($k, $columns) + 0.5) * $of->height) / $rows,
            ];
            $share =
                $place === null
                    ? 0.0
                    : $blend?->at($x, $y) ??
                        $region->blend->share(
                            $place[0] - $source->x,
                            $place[1] - $source->y,
                            $source->width,
                            $source->height,
                        );
            $share *=
                $share > 0 && $place !== null
                    ? ($over === [] ? 1.0 : MaskShape::light($over, $x, $y)) *
                        ($within === [] ? 1.0 : MaskShape::light($within, $place[0], $place[1]))
                    : 0.0;
            $grey = chr((int) round(255 * $share ** (1 / $of->gamma)));
            $bytes .= $grey.$grey.$grey."\xFF";
        }

        return Picture::of($columns, $rows, $bytes);
    }

    /** @return array{int, int} */
    private static function cells(Output $output, int $across): array
    {
        $columns = min($output->width, $across);

        return [$columns, max(2, (int) round(($columns * $output->height) / $output->width))];
    }

    /**
     * The package of a surface.
     *
     * @throws InvalidValue where it has no region
     */
    public static function of(Show $show, string $surface, string $date): string
    {
        [$told, $files] = [[], []];
        foreach ($show->delivery->regionsOf($surface) as $id => [$region, $output]) {
            [$of, $face] = [$show->delivery->outputs[$output], $show->venue->surfaces[$surface]];
            $computed = WarpStore::computed($region->model);
            $map = self::map($region, $computed, $of, self::ACROSS);
            $numbers = [];
            foreach ($map->places as $place) {
                array_push(
                    $numbers,
                    ...$place === null
                        ? [NAN, NAN, NAN]
                        : [
                            ($place[0] - $region->source->x) / $region->source->width,
                            ($place[1] - $region->source->y) / $region->source->height,
                            0.0,
                        ],
                );
            }
            $files["$id.pfm"] = (new Pfm($map->columns, $map->rows, $numbers))->toBytes();
            $files["$id.png"] = Png::of(self::shares($show, $output, $region, $map, $computed?->blend));
            $part = [
                $region->source->x / $face->width(),
                $region->source->y / $face->height(),
                $region->source->width / $face->width(),
                $region->source->height / $face->height(),
            ];
            $told[] = new Mpcdi(
                $face->name,
                [$face->width(), $face->height()],
                $id,
                [$of->width, $of->height],
                $part,
                "$id.pfm",
                "$id.png",
                $of->gamma,
            );
        }
        if ($told === []) {
            throw InvalidValue::because('surface', 'This surface has no region on any output.');
        }

        return Archive::of([Mpcdi::DESCRIPTION => Mpcdi::xml($told, $date)] + $files);
    }

    /**
     * Warps that a package has, by the regions whose ids it names or, where those are others, by their order.
     *
     * @return array<string, string> key of what is kept, by region
     *
     * @throws InvalidValue
     */
    public static function read(Show $show, string $surface, string $package): array
    {
        $files = Archive::files($package, 'package');
        $regions = $show->delivery->regionsOf($surface);
        $told = Mpcdi::read(
            $files[Mpcdi::DESCRIPTION] ??
                throw InvalidValue::because('package', 'The package has no '.Mpcdi::DESCRIPTION.'.'),
        );
        $keys = [];
        foreach ($told as $n => $one) {
            $id = isset($regions[$one->id]) ? $one->id : (string) (array_keys($regions)[$n] ?? '');
            if (! isset($regions[$id])) {
                throw InvalidValue::because(
                    'package',
                    'The package has '.
                        count($told).
                        ' regions; the surface has '.
                        count($regions).
                        ' on its outputs.',
                );
            }
            [$region, $output] = [$regions[$id][0], $show->delivery->outputs[$regions[$id][1]]];
            $pfm = Pfm::fromBytes(
                $files[$one->warp] ?? throw InvalidValue::because('package', "The package has no file \"$one->warp\"."),
            );
            $source = $region->source;
            $places = array_map(
                static fn (array $p): ?array => is_nan($p[0]) || is_nan($p[1])
                    ? null
                    : [$source->x + $p[0] * $source->width, $source->y + $p[1] * $source->height],
                array_chunk($pfm->numbers, 3),
            );
            $lattice = (new SourceMap($pfm->width, $pfm->height, $places))->lattice($source, [
                $output->width,
                $output->height,
            ]);
            if (array_filter($lattice->points) === []) {
                throw InvalidValue::because('package', "The warp \"$one->warp\" shows nothing of the region's source.");
            }
            $alpha =
                $one->alpha === null
                    ? null
                    : $files[$one->alpha] ??
                        throw InvalidValue::because('package', "The package has no file \"$one->alpha\".");
            $keys[$id] = WarpStore::keep(
                (new ComputedWarp(
                    $lattice,
                    $alpha === null ? null : self::blend($alpha, $one->gamma, $output),
                ))->toBytes(),
            );
        }

        return $keys;
    }

    /** The shares of the light that a picture of any kind says, by the gamma that it is encoded with. */
    private static function blend(string $picture, float $gamma, Output $output): BlendMap
    {
        [$columns, $rows] = self::cells($output, self::ACROSS);
        $grey =
            GreyPicture::of($picture, $columns, $rows) ??
            throw InvalidValue::because('package', 'An alpha map of the package is no PNG that can be read.');

        // Its pixels are the middles of cells; the outermost stand for the edges as well.
        return new BlendMap(
            [0, 0, $output->width, $output->height],
            $columns,
            $rows,
            array_map(static fn (int $v): float => ($v / 255) ** max(0.1, $gamma), $grey),
        );
    }
}

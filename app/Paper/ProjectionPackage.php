<?php

declare(strict_types=1);

namespace App\Paper;

use App\Media\GreyPicture;
use App\Show\WarpStore;
use Core\Exchange\Mpcdi;
use Core\Exchange\Pfm;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\DeliveryMesh;
use Core\Output\MaskShape;
use Core\Output\Output;
use Core\Output\PlaceMap;
use Core\Output\Region;
use Core\Show\Show;
use Core\Units\InvalidValue;

/**
 * Warps and blends of a surface's regions as a package of the open interchange format (MPCDI), out and in, for every
 * pixel of their outputs. What went out comes back the same, as exactly as the format has it.
 */
final readonly class ProjectionPackage
{
    /** Pixels by which a place may lie beyond a region's source and still be at its edge. */
    private const EDGE = 0.01;

    /** Places of a map that are so far outside, as shares of the source, say that nothing is shown. */
    private const FAR = 0.5;

    private function __construct(
        private Show $show,
        private string $outputId,
        private Output $output,
        private Region $region,
    ) {
    }

    /** The share of the signal that a region has over its output, with the masks of both, as a PNG in grey. */
    public static function alpha(Show $show, string $output, Region $region): string
    {
        $of = $show->delivery->outputs[$output];
        [$alpha] = (new self($show, $output, $of, $region))->maps(static fn (string $piece) => null);

        return Png::grey($of->width, $of->height, $alpha);
    }

    /**
     * Where each pixel is on the surface's raster, its share of the light, and what is added to it in the dark.
     *
     * @param  \Closure(string): mixed  $write  is given the warp as a float map, piece by piece
     * @return array{string, string} a byte a pixel from the top, by the output's gamma: of the share, and of what is added
     */
    private function maps(\Closure $write): array
    {
        [$output, $source] = [$this->output, $this->region->source];
        $computed = WarpStore::computed($this->region->model);
        $places = PlaceMap::of(DeliveryMesh::of($this->region, $computed?->warp), $output->width, $output->height);
        $masked = $this->masked();
        $edges = $this->region->model === '' ? $this->region->blend : null;
        $unpinned = $this->region->pin === [] ? null : $this->region->unpinned();
        $byte = static fn (float $light): string => chr((int) round(255 * min(1.0, $light) ** (1 / $output->gamma)));
        [$alpha, $beta] = [[], []];
        $warp = new Pfm($output->width, $output->height, function (int $y) use (
            $places,
            $source,
            $computed,
            $masked,
            $edges,
            $unpinned,
            $byte,
            $output,
            &$alpha,
            &$beta,
        ): array {
            $row = $places->row($y);
            [$numbers, $shares, $adds] = [[], '', ''];
            for ($x = 0; $x < $output->width; $x++) {
                [$u, $v] = [$row[2 * $x] - $source->x, $row[2 * $x + 1] - $source->y];
                // What is not a number is no place.
                if (
                    ! (
                        $u >= -self::EDGE &&
                        $v >= -self::EDGE &&
                        $u <= $source->width + self::EDGE &&
                        $v <= $source->height + self::EDGE
                    )
                ) {
                    array_push($numbers, NAN, NAN, NAN);
                    $shares .= "\0";
                    $adds .= "\0";

                    continue;
                }
                array_push($numbers, $u / $source->width, $v / $source->height, 0.0);
                $mask = $masked($x + 0.5, $y + 0.5, $row[2 * $x], $row[2 * $x + 1]);
                [$px, $py] = $unpinned?->point($x + 0.5, $y + 0.5) ?? [$x + 0.5, $y + 0.5];
                $share =
                    ($edges?->share($u, $v, $source->width, $source->height) ?? 1.0) *
                    ($computed?->blend?->at($px, $py) ?? 1.0);
                $shares .= $byte($share * $mask);
                $adds .= $byte($output->black * ($computed?->lift?->at($px, $py) ?? 1.0) * $mask);
            }
            $alpha[$y] = $shares;
            $beta[$y] = $adds;

            return $numbers;
        });
        foreach ($warp->bytes() as $piece) {
            $write($piece);
        }

        return [implode('', array_reverse($alpha)), implode('', array_reverse($beta))];
    }

    /**
     * The package of a surface.
     *
     * @throws InvalidValue where it has no region
     */
    public static function of(Show $show, string $surface, string $date): string
    {
        $face = $show->venue->surfaces[$surface];

        return Archive::built(static function (\Closure $add) use ($show, $surface, $face, $date): void {
            $told = [];
            foreach ($show->delivery->regionsOf($surface) as $id => [$region, $output]) {
                $of = $show->delivery->outputs[$output];
                $warp = $add("$id.pfm");
                [$alpha, $beta] = (new self($show, $output, $of, $region))->maps(
                    static fn (string $piece) => fwrite($warp, $piece),
                );
                fwrite($add("$id.png"), Png::grey($of->width, $of->height, $alpha));
                $lifts = trim($beta, "\0") !== '';
                $lifts && fwrite($add("$id-beta.png"), Png::grey($of->width, $of->height, $beta));
                $told[] = new Mpcdi(
                    $face->name,
                    [$face->width(), $face->height()],
                    $id,
                    [$of->width, $of->height],
                    [
                        $region->source->x / $face->width(),
                        $region->source->y / $face->height(),
                        $region->source->width / $face->width(),
                        $region->source->height / $face->height(),
                    ],
                    "$id.pfm",
                    "$id.png",
                    $of->gamma,
                    $lifts ? "$id-beta.png" : null,
                    $of->gamma,
                );
            }
            if ($told === []) {
                throw InvalidValue::because('surface', 'This surface has no region on any output.');
            }
            fwrite($add(Mpcdi::DESCRIPTION), Mpcdi::xml($told, $date));
        });
    }

    /**
     * Warps that a package has, by the regions whose ids it names or, where those are others, by their order.
     *
     * @param  string  $path  of the file
     * @param  \Closure(float): mixed  $done  is told which share is done
     * @return array{regions: array<string, string>, black: array<string, float>} key of what is kept, by region; what
     *     is added in the dark, of white, by output
     *
     * @throws InvalidValue
     */
    public static function read(Show $show, string $surface, string $path, \Closure $done): array
    {
        return Archive::opened($path, 'package', static function (\Closure $file) use ($show, $surface, $done): array {
            $regions = $show->delivery->regionsOf($surface);
            $xml = $file(Mpcdi::DESCRIPTION);
            $told = Mpcdi::read((string) file_get_contents($xml, false, null, 0, Mpcdi::MAX_BYTES + 1));
            $found = ['regions' => [], 'black' => []];
            $read = [];
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
                $read[$id] = $one;
            }
            $ofs = [];
            foreach ($read as $id => $one) {
                [$region, $output] = $regions[$id];
                $of = $ofs[$id] = new self($show, $output, $show->delivery->outputs[$output], $region);
                $beta = $one->beta === null ? null : $of->light($file($one->beta), $one->betaGamma, 'A beta map');
                $most = $beta === null || $beta === [] ? 0.0 : max($beta);
                $found['black'][$output] = max($found['black'][$output] ?? 0.0, $most);
            }
            foreach ($found['black'] as $output => $most) {
                // Within a step of 255 it is what the output has.
                $has = $show->delivery->outputs[$output]->black;
                $gamma = $show->delivery->outputs[$output]->gamma;
                $isSame = abs($has ** (1 / $gamma) - $most ** (1 / $gamma)) <= 1 / 255;
                $found['black'][$output] = $isSame ? $has : min(0.5, $most);
            }
            foreach ($read as $id => $one) {
                $found['regions'][$id] = $ofs[$id]->kept($one, $file, $found['black'][$ofs[$id]->outputId]);
                $done(count($found['regions']) / count($read));
            }

            return $found;
        });
    }

    /**
     * Keeps what a package has of the region, and returns its key.
     *
     * @param  \Closure(string): string  $file  path of a file of the package
     */
    private function kept(Mpcdi $one, \Closure $file, float $black): string
    {
        [$output, $source] = [$this->output, $this->region->source];
        $handle = fopen($file($one->warp), 'rb') ?: throw new \RuntimeException('The warp can\'t be read.');
        $pfm = Pfm::from((int) filesize($file($one->warp)), static function (int $at, int $length) use (
            $handle,
        ): string {
            fseek($handle, $at);

            return (string) fread($handle, max(1, $length));
        });
        $map = (new PlaceMap($pfm->width, $pfm->height, static function (int $y) use ($pfm, $source): array {
            $places = [];
            $numbers = $pfm->row($y);
            for ($at = 0, $end = count($numbers); $at < $end; $at += 3) {
                [$u, $v] = [$numbers[$at], $numbers[$at + 1]];
                $isPlace = $u >= -self::FAR && $v >= -self::FAR && $u <= 1 + self::FAR && $v <= 1 + self::FAR;
                $places[] = $isPlace ? $source->x + $u * $source->width : NAN;
                $places[] = $isPlace ? $source->y + $v * $source->height : NAN;
            }

            return $places;
        }))->onto($output->width, $output->height, $source);
        $mesh = $map->mesh();
        if ($mesh->bytes === '') {
            throw InvalidValue::because('package', "The warp \"$one->warp\" shows nothing of the region's source.");
        }
        $blend = $one->alpha === null ? null : $this->light($file($one->alpha), $one->gamma, 'An alpha map');
        $lift =
            $one->beta === null || $black <= 0.0
                ? null
                : $this->light($file($one->beta), $one->betaGamma, 'A beta map');
        // Masks stay with the show, and what they take is in the maps as well.
        [$blend, $lift] = $this->unmasked($map, $blend, $lift, $black);

        return WarpStore::keep((new ComputedWarp($mesh, $this->told($blend), $this->told($lift)))->toBytes());
    }

    /**
     * What the masks of the output and of the surface let through.
     *
     * @return \Closure(float, float, float, float): float 0 to 1, at x and y of the output, which shows x and y of the
     *     surface's raster
     */
    private function masked(): \Closure
    {
        $of = fn (string $on): array => $this->show->delivery->maskShapes($on, $this->show->venue, WarpStore::read(...));
        [$over, $within] = [$of($this->outputId), $of($this->region->surface)];

        return static fn (float $px, float $py, float $u, float $v): float => MaskShape::light($over, $px, $py) *
            MaskShape::light($within, $u, $v);
    }

    /** @param  list<float|null>|null  $shares  at each pixel of the output */
    private function told(?array $shares): ?BlendMap
    {
        return $shares === null
            ? null
            : BlendMap::ofPixels($this->output->width, $this->output->height, $shares, $this->output->gamma);
    }

    /**
     * Shares of the light and of the output's black at each pixel, without what masks take; null where nothing is shown.
     *
     * @param  list<float>|null  $blend
     * @param  list<float>|null  $lift  of white
     * @return array{list<float|null>|null, list<float|null>|null}
     */
    private function unmasked(PlaceMap $map, ?array $blend, ?array $lift, float $black): array
    {
        $masked = $this->masked();
        [$shares, $lifts] = [[], []];
        for ($y = 0, $at = 0; $y < $map->height; $y++) {
            $row = $map->row($y);
            for ($x = 0; $x < $map->width; $x++, $at++) {
                $mask = is_nan($row[2 * $x]) ? 0.0 : $masked($x + 0.5, $y + 0.5, $row[2 * $x], $row[2 * $x + 1]);
                // Where a mask lets nothing through, nobody knows, and it is all one.
                $blend === null || ($shares[] = $mask <= 0.0 ? null : min(1.0, $blend[$at] / $mask));
                $lift === null || ($lifts[] = $mask <= 0.0 ? null : min(1.0, $lift[$at] / $mask / $black));
            }
        }

        return [$blend === null ? null : $shares, $lift === null ? null : $lifts];
    }

    /**
     * The light that a picture says, by the gamma that it is encoded with.
     *
     * @return list<float> at each pixel of the output, 0 to 1
     *
     * @throws InvalidValue
     */
    private function light(string $path, float $gamma, string $what): array
    {
        $grey =
            GreyPicture::at($path, $this->output->width, $this->output->height) ??
            throw InvalidValue::because('package', "$what of the package is no PNG that can be read.");
        $light = array_map(static fn (int $v): float => ($v / 255) ** max(0.1, $gamma), range(0, 255));

        return array_map(static fn (int $v): float => $light[$v], $grey);
    }
}

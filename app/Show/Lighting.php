<?php

declare(strict_types=1);

namespace App\Show;

use App\Http\Problem;
use Core\Geometry\Mat4;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Report;
use Core\Light\Scene;
use Core\Light\Sight;
use Core\Show\Show as CoreShow;
use Core\Venue\Prop;
use Core\Venue\Surface;

/** The light of a venue, computed when asked for and kept for as long as nothing of it moves. */
final readonly class Lighting
{
    /** Cells of each face in the quick look. */
    public const QUICK = 900;

    /** The most triangles that a request waits for; larger venues are left to the worker. */
    public const MOST_AT_ONCE = 150_000;

    private const KEPT = 60;

    private string $folder;

    public function __construct()
    {
        $this->folder = config('kite.data').'/light';
        is_dir($this->folder) || @mkdir($this->folder, 0770, true);
    }

    /**
     * What the light depends on, in a few signs: all that stands in it, and the projectors.
     *
     * @param  array<string, list<array<string, mixed>>>  $rows
     */
    public static function key(array $rows): string
    {
        $without = static fn (array $row): array => array_diff_key($row, array_flip(['hidden', 'locked', 'feeding', 'modelFile', 'name'])) + ['there' => $row['modelFile']['state'] ?? null, 'called' => $row['name']];

        return substr(hash('xxh128', (string) json_encode([array_map($without, [...$rows['surface'], ...$rows['prop'], ...$rows['projector']]), $rows['rig'], $rows['panel']])), 0, 24);
    }

    /** @return string|null the JSON that compute() gave */
    public function kept(string $key, int $cells): ?string
    {
        $json = @file_get_contents($this->path($key, $cells));

        return $json === false ? null : $json;
    }

    /**
     * @param  list<Beam>|null  $beams  others than the show's
     * @param  (\Closure(float): void)|null  $progress
     * @return string  as JSON: key, cells, triangles, milliseconds, faces, projectors, sum
     */
    public function compute(CoreShow $show, string $key, int $cells, ?array $beams = null, ?\Closure $progress = null): string
    {
        $side = (int) max(24, round(sqrt($cells / 0.5625)));
        $began = hrtime(true);
        $scene = Scene::of($show->venue->bodies());
        $report = Report::of($scene, $beams ?? $show->venue->beams(), $cells, $side, (int) round($side * 0.5625), $progress);
        $result = ['key' => $key, 'cells' => $cells, 'triangles' => $scene->triangles(), 'milliseconds' => (hrtime(true) - $began) / 1e6, 'faces' => $report->faces, 'projectors' => $report->projectors, 'sum' => $report->sum];
        $json = (string) json_encode($result, JSON_THROW_ON_ERROR);
        file_put_contents($this->path($key, $cells).'.part', $json);
        rename($this->path($key, $cells).'.part', $this->path($key, $cells));
        $this->forgetOld();

        return $json;
    }

    /** How many triangles a show has, without making their tree. */
    public static function triangles(CoreShow $show): int
    {
        return array_sum(array_map(static fn (Surface $s): int => $s->carrier->triangles(), $show->venue->surfaces)) + array_sum(array_map(static fn (Prop $p): int => $p->mesh()->triangleCount(), $show->venue->props));
    }

    /** Refuses to do at once what is the worker's. */
    public static function notTooLarge(CoreShow $show, string $what): void
    {
        $triangles = self::triangles($show);
        if ($triangles > self::MOST_AT_ONCE) {
            throw new Problem(422, sprintf('The venue has %s triangles, more than the %s for which %s at once.', number_format($triangles), number_format(self::MOST_AT_ONCE), $what));
        }
    }

    /** @return list<Beam> the projectors of a placement */
    public static function beams(CoreShow $show, string $variant): array
    {
        $beams = [];
        foreach ($show->venue->variants[$variant]->projectors as $id => [$projector, $pose]) {
            $beams[] = new Beam((string) $id, $projector, $pose->matrix());
        }

        return $beams;
    }

    /**
     * What each seat sees.
     *
     * @return array<string, list<Sight>>
     */
    public static function sights(CoreShow $show): array
    {
        $bodies = $show->venue->bodies();
        $scene = Scene::of($bodies);
        $sights = [];
        foreach (array_keys($show->venue->seats) as $seat) {
            $at = $show->venue->world($seat)->origin();
            $sights[$seat] = [];
            foreach ($bodies as $i => $body) {
                if ($body->rasterWidth > 0 && ($sight = Sight::of($scene, $i, $at->x, $at->y, $at->z)) !== null) {
                    $sights[$seat][] = $sight;
                }
            }
        }

        return $sights;
    }

    /**
     * Corner rays of what looks somewhere, for one metre along its axis, in the venue.
     *
     * @return array<string, list<list<float>>> origin, then top left, top right, bottom right, bottom left
     */
    public static function frusta(CoreShow $show): array
    {
        $frusta = [];
        $put = static function (string $id, Mat4 $world, array $corners) use (&$frusta): void {
            $frusta[$id] = [$world->origin()->toArray(), ...array_map(static fn (array $c): array => $world->direction(Vec3::of($c[0], $c[1], -1))->toArray(), $corners)];
        };
        foreach ($show->venue->projectors as $id => $projector) {
            $lens = $projector->lens;
            $put($id, $show->venue->world($id), array_map(static function (array $p) use ($lens): array {
                $ray = $lens->ray($p[0] * $lens->widthPx, $p[1] * $lens->heightPx);

                return [$ray->x, $ray->y];
            }, [[0, 0], [1, 0], [1, 1], [0, 1]]));
        }
        foreach ($show->venue->cameras as $id => $camera) {
            [$w, $h] = [$camera->sensorWidth / 2 / $camera->focal, $camera->sensorHeight / 2 / $camera->focal];
            $put($id, $show->venue->world($id), [[-$w, $h], [$w, $h], [$w, -$h], [-$w, -$h]]);
        }

        return $frusta;
    }

    private function path(string $key, int $cells): string
    {
        return "$this->folder/".preg_replace('/[^0-9a-z-]/', '', $key)."-$cells.json";
    }

    private function forgetOld(): void
    {
        $files = glob("$this->folder/*.json") ?: [];
        if (count($files) > self::KEPT) {
            usort($files, static fn (string $a, string $b): int => (int) @filemtime($a) <=> (int) @filemtime($b));
            array_map(unlink(...), array_slice($files, 0, count($files) - self::KEPT));
        }
    }
}

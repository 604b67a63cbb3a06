<?php

declare(strict_types=1);

namespace App\Show;

use App\Support\Problem;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\LightPack;
use Core\Light\Report;
use Core\Light\Scene;
use Core\Light\SceneCasts;
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
    public const MAX_AT_ONCE = 150_000;

    private const KEPT = 60;

    private const KEPT_CASTS = 400;

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
        $without = static fn (array $row): array => array_diff_key(
            $row,
            array_flip(['hidden', 'locked', 'feeding', 'modelFile', 'name']),
        ) + ['there' => $row['modelFile']['state'] ?? null, 'called' => $row['name']];

        return substr(
            hash(
                'xxh128',
                (string) json_encode([
                    array_map($without, [...$rows['surface'], ...$rows['prop'], ...$rows['projector']]),
                    $rows['rig'],
                    $rows['panel'],
                ]),
            ),
            0,
            24,
        );
    }

    /**
     * What stands in the light, in a few signs: its names and the projectors do not matter.
     *
     * @param  array<string, list<array<string, mixed>>>  $rows
     */
    private static function sceneKey(array $rows): string
    {
        $without = static fn (array $row): array => array_diff_key(
            $row,
            array_flip(['hidden', 'locked', 'feeding', 'modelFile', 'geometry', 'name']),
        ) + ['there' => $row['modelFile']['state'] ?? null];
        $panel = static fn (array $row): array => array_intersect_key(
            $row,
            array_flip(['id', 'widthMm', 'heightMm', 'widthPx', 'heightPx', 'depthMm']),
        );

        return substr(
            hash(
                'xxh128',
                (string) json_encode([
                    array_map($without, [...$rows['surface'], ...$rows['prop'], ...$rows['rig']]),
                    array_map($panel, $rows['panel']),
                ]),
            ),
            0,
            24,
        );
    }

    /** @return string|null what compute() gave */
    public function kept(string $key, int $cells): ?string
    {
        $bytes = @file_get_contents($this->path($key, $cells));

        return $bytes === false ? null : $bytes;
    }

    /**
     * @param  array<string, list<array<string, mixed>>>  $rows  that the show was made of
     * @param  list<Beam>|null  $beams  others than the show's
     * @param  (\Closure(float): void)|null  $progress
     * @return string packed (Core\Light\LightPack), with key, cells, triangles, milliseconds, and how many casts were
     *     new
     */
    public function compute(
        CoreShow $show,
        array $rows,
        string $key,
        int $cells,
        ?array $beams = null,
        ?\Closure $progress = null,
    ): string {
        $side = (int) max(24, round(sqrt($cells / 0.5625)));
        $began = hrtime(true);
        $bodies = $show->venue->bodies();
        $beams ??= $show->venue->beams();
        $live = new SceneCasts(
            static fn (): Scene => Scene::of($bodies),
            $cells,
            $side,
            (int) round($side * 0.5625),
            Report::casts($bodies, $beams),
            $progress,
        );
        // Finer looks are too large to keep projector by projector.
        $casts = $cells > self::QUICK ? $live : new KeptCasts($this->folder, self::sceneKey($rows)."-$cells", $live);
        $report = Report::by($bodies, $beams, $casts);
        $casts instanceof KeptCasts && $casts->keep();
        $bytes = LightPack::bytes($report, [
            'key' => $key,
            'cells' => $cells,
            'triangles' => array_sum(array_map(static fn (Body $b): int => $b->mesh->triangleCount(), $bodies)),
            'milliseconds' => (hrtime(true) - $began) / 1e6,
            'cast' => $casts instanceof KeptCasts ? $casts->cast : Report::casts($bodies, $beams),
        ]);
        file_put_contents($this->path($key, $cells).'.part', $bytes);
        rename($this->path($key, $cells).'.part', $this->path($key, $cells));
        $this->forgetOld();

        return $bytes;
    }

    /** How many triangles a show has, without making their tree. */
    public static function triangles(CoreShow $show): int
    {
        return array_sum(array_map(static fn (Surface $s): int => $s->carrier->triangles(), $show->venue->surfaces)) +
            array_sum(array_map(static fn (Prop $p): int => $p->mesh()->triangleCount(), $show->venue->props));
    }

    /** Whether a venue is left to the worker. */
    public static function tooLarge(CoreShow $show): bool
    {
        return self::triangles($show) > self::MAX_AT_ONCE;
    }

    /** Refuses to do at once what is the worker's. */
    public static function notTooLarge(CoreShow $show, string $what): void
    {
        if (self::tooLarge($show)) {
            throw new Problem(
                422,
                sprintf(
                    'The venue has %s triangles, more than the %s for which %s at once.',
                    number_format(self::triangles($show)),
                    number_format(self::MAX_AT_ONCE),
                    $what,
                ),
            );
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

    private function path(string $key, int $cells): string
    {
        return "$this->folder/".preg_replace('/[^0-9a-z-]/', '', $key)."-$cells.light";
    }

    private function forgetOld(): void
    {
        foreach (['light' => self::KEPT, 'cast' => self::KEPT_CASTS] as $kind => $max) {
            $ages = [];
            foreach (glob("$this->folder/*.$kind") ?: [] as $file) {
                $ages[$file] = (int) @filemtime($file);
            }
            arsort($ages);
            foreach (array_slice(array_keys($ages), $max) as $old) {
                @unlink($old);
            }
        }
    }
}

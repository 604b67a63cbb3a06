<?php

declare(strict_types=1);

namespace App\Show;

use Core\Light\Arrival;
use Core\Light\Beam;
use Core\Light\BeamLanding;
use Core\Light\Body;
use Core\Light\Casts;
use Core\Light\FaceCells;
use Core\Light\SceneCasts;

/**
 * Casts that are kept in files under a key of what each depends on: what stands in the light, and one projector.
 * Moving one casts no other, and names do not matter.
 */
final class KeptCasts implements Casts
{
    /** @var array<string, array<string, mixed>> by file */
    private array $files = [];

    /** @var array<string, true> files with something new in them */
    private array $fresh = [];

    public int $cast = 0;

    /** @param  string  $scene  key of all that stands in the light */
    public function __construct(
        private readonly string $folder,
        private readonly string $scene,
        private readonly SceneCasts $casts,
    ) {
    }

    public function cells(Body $face): FaceCells
    {
        [$columns, $rows, $areas] = $this->kept('faces', $face->id, function () use ($face): array {
            $cells = $this->casts->cells($face);

            return [$cells->columns, $cells->rows, $cells->areas];
        });

        return new FaceCells($columns, $rows, $areas);
    }

    public function arrival(Beam $beam, Body $face): Arrival
    {
        [$lit, $lumens] = $this->kept(self::of($beam), $face->id, function () use ($beam, $face): array {
            $arrival = $this->casts->arrival($beam, $face);

            return [$arrival->lit, $arrival->lumens];
        });

        return new Arrival($lit, $lumens);
    }

    public function walk(Beam $beam): BeamLanding
    {
        return new BeamLanding(
            ...$this->kept(self::of($beam), 'walk', function () use ($beam): array {
                return array_values(get_object_vars($this->casts->walk($beam)));
            }),
        );
    }

    /** What one projector's light depends on, but for what stands in it. */
    private static function of(Beam $beam): string
    {
        return substr(
            hash(
                'xxh128',
                serialize([
                    $beam->world->m,
                    $beam->projector->lens,
                    $beam->projector->lumens,
                    $beam->projector->mirrored,
                    $beam->projector->aims,
                ]),
            ),
            0,
            16,
        );
    }

    /**
     * @param  \Closure(): list<mixed>  $make
     * @return list<mixed>
     */
    private function kept(string $file, string $entry, \Closure $make): array
    {
        if (! isset($this->files[$file])) {
            $stored = @file_get_contents($this->path($file));
            $read = $stored === false ? false : @unserialize($stored, ['allowed_classes' => false]);
            $this->files[$file] = is_array($read) ? $read : [];
        }
        if (! isset($this->files[$file][$entry])) {
            $this->cast += $file === 'faces' ? 0 : 1;
            $this->files[$file][$entry] = $make();
            $this->fresh[$file] = true;
        }

        return $this->files[$file][$entry];
    }

    /** Writes down what is new. */
    public function keep(): void
    {
        foreach (array_keys($this->fresh) as $file) {
            $path = $this->path($file);
            if (@file_put_contents("$path.part", serialize($this->files[$file])) !== false) {
                @rename("$path.part", $path);
            }
        }
        $this->fresh = [];
    }

    private function path(string $file): string
    {
        return "$this->folder/$this->scene-$file.cast";
    }
}

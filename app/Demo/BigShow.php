<?php

declare(strict_types=1);

namespace App\Demo;

use Core\Show\Changes;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Units\Flicks;

/**
 * A generated show as large as one likes, always the same for the same numbers: for benches, and for trying every
 * list with hundreds.
 */
final readonly class BigShow
{
    /** @param  array<string, list<array<string, mixed>>>  $rows */
    private function __construct(public array $rows)
    {
    }

    /**
     * @param  int  $layers  layers, each with opacity, x and y animated; clips are dealt out to them
     * @param  int  $keyframes  of each curve
     * @param  string  $seed  another one gives all rows other ids
     */
    public static function of(int $surfaces, int $layers, int $clips, int $keyframes, string $seed = ''): self
    {
        $s = Flicks::PER_SECOND;
        $id = static fn (string $kind, int $n): string => str_pad(substr(md5($seed.$kind), 0, 6), 20, '0').
            str_pad((string) $n, 6, '0', STR_PAD_LEFT);
        $rows = array_fill_keys(Schema::names(), []);
        $rows['panel'][] = [
            'id' => $id('panel', 0),
            'name' => 'Indoor 2.6 · 500 × 500',
            'widthMm' => 500,
            'heightMm' => 500,
            'widthPx' => 192,
            'heightPx' => 192,
            'kilograms' => 8.1,
            'wattsAverage' => 55,
            'wattsMaximum' => 165,
        ];
        for ($i = 0; $i < $surfaces; $i++) {
            $rows['surface'][] = [
                'id' => $id('surface', $i),
                'name' => sprintf('Quay wall %03d', $i + 1),
                'kind' => 'wall',
                'position' => [($i % 10) * 6, intdiv($i, 10) * 4, 0],
                'rotation' => [0, 0, 0],
                'cells' => array_fill(0, 5, array_fill(0, 10, $id('panel', 0))),
                'seams' => array_fill(0, 9, 0),
            ];
            $rows['output'][] = [
                'id' => $id('output', $i),
                'name' => sprintf('Output %d', $i + 1),
                'width' => 1920,
                'height' => 1080,
                'refresh' => 50,
            ];
            $rows['region'][] = [
                'id' => $id('region', $i),
                'output' => $id('output', $i),
                'surface' => $id('surface', $i),
                'source' => [0, 0, 1920, 960],
                'x' => 0,
                'y' => 0,
            ];
        }
        for ($i = 0; $i < 20; $i++) {
            $rows['media'][] = [
                'id' => $id('media', $i),
                'name' => sprintf('Lantern colour %02d', $i + 1),
                'kind' => 'solid',
                'folder' => 1,
                'index' => $i + 1,
                'width' => 16,
                'height' => 16,
                'colour' => sprintf('#%02x%02x%02x', 255 - $i * 5, 120 + $i * 4, 60 + $i * 9),
            ];
        }
        $rows['timeline'][] = ['id' => $id('timeline', 0), 'name' => 'Main', 'duration' => 3600 * $s];
        $step = intdiv(3600 * $s, max(2, $keyframes));
        for ($i = 0; $i < $layers; $i++) {
            $rows['layer'][] = [
                'id' => $id('layer', $i),
                'timeline' => $id('timeline', 0),
                'name' => sprintf('Layer %03d', $i + 1),
                'order' => $i,
                'route' => $id('route', $i),
                'fitting' => 'cover',
                'anchorX' => 0.5,
                'anchorY' => 0.5,
            ];
            $rows['route'][] = [
                'id' => $id('route', $i),
                'surfaces' => $surfaces === 0
                        ? []
                        : array_values(
                            array_unique([$id('surface', $i % $surfaces), $id('surface', ($i * 7 + 3) % $surfaces)]),
                        ),
                'layer' => $id('layer', $i),
            ];
            foreach (['opacity', 'x', 'y'] as $p => $property) {
                $points = [];
                for ($k = 0; $k < $keyframes; $k++) {
                    $points[] = [
                        't' => $k * $step,
                        'v' => $property === 'opacity' ? (($k * 37 + $i) % 100) / 100 : (($k * 53 + $i) % 400) - 200,
                        'i' => ['linear', 'smooth', 'bezier'][($k + $p) % 3],
                    ];
                }
                $keyframes > 0 &&
                    ($rows['curve'][] = [
                        'id' => $id('curve', 3 * $i + $p),
                        'ownerKind' => 'layer',
                        'owner' => $id('layer', $i),
                        'property' => $property,
                        'slot' => 0,
                        'keyframes' => $points,
                    ]);
            }
        }
        for ($i = 0; $i < $clips; $i++) {
            $rows['clip'][] = [
                'id' => $id('clip', $i),
                'layer' => $id('layer', $i % max(1, $layers)),
                'media' => $id('media', $i % 20),
                'start' => intdiv($i, max(1, $layers)) * 7 * $s,
                'length' => 6 * $s,
                'in' => 0,
                'out' => null,
                'pastEnd' => 'hold',
            ];
        }

        return new self($rows);
    }

    public function core(): Show
    {
        return Show::fromRows(['id' => 'big', 'name' => 'The long quay', 'frameRate' => '50'], $this->rows);
    }

    /** @return list<array<string, mixed>> the changes of an Edit that lays it out */
    public function changes(): array
    {
        $changes = [];
        foreach (
            ['panel', 'surface', 'media', 'timeline', 'layer', 'route', 'clip', 'curve', 'output', 'region'] as $kind
        ) {
            foreach ($this->rows[$kind] as $row) {
                $changes[] = Changes::create($kind, $row['id'], array_diff_key($row, ['id' => 0]));
            }
        }

        return $changes;
    }
}

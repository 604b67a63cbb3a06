<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\Exchange\Csv;
use Core\Light\Scene;
use Core\Light\Sight;
use Core\Preflight\Shots;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Units\Check;
use Core\Venue\CableRun;
use Core\Venue\Surface;
use Core\Venue\Wall;
use Core\Venue\WallSheet;

/**
 * What the LED technician, the rigger, the electrician and the projectionist get of a venue, as tables: per wall and
 * in all.
 */
final class VenueSpecification
{
    /**
     * @param  float  $spares  share of panels to bring along, 0 to 1
     * @param  string|null  $only  one surface, by id; null: the whole venue
     * @param  int  $mostCables  walls up to which each one's cables are listed
     * @param  array<string, list<Sight>>|null  $sights  what each seat sees, by its id; null: too much to be worked
     *     out for this
     * @return list<Table>
     */
    public static function tables(
        Show $show,
        float $spares = 0.05,
        ?string $only = null,
        int $mostCables = PHP_INT_MAX,
        ?array $sights = [],
    ): array {
        Check::number('spares', $spares, 0, 1);
        $walls = array_filter(
            $show->venue->surfaces,
            static fn (Surface $s): bool => $s->wall() !== null && ($only === null || $s->id === $only),
        );
        $plans = array_map(
            static fn (Surface $s): WallSheet => WallSheet::of($s->wall() ?? throw new \LogicException(), $s->feeding),
            $walls,
        );
        $sheets = [self::walls($walls, $plans), self::panels($walls, $spares), self::feeding($walls, $plans)];
        $sheets[] = self::hanging($walls, $plans);
        if (count($walls) > $mostCables) {
            $sheets[] = new Table(
                'Cables',
                ['Walls', 'Where'],
                [
                    [
                        count($walls),
                        'Too many for this paper: they are in the table (CSV), and in the paper of each wall.',
                    ],
                ],
            );
        } else {
            foreach ($walls as $id => $surface) {
                $sheets[] = self::cables($surface, $plans[$id]);
            }
        }
        if ($only === null) {
            $sheets[] = self::faces($show);
            $sheets[] = self::projectors($show);
            $sheets[] = self::cameras($show);
            $sheets[] = self::sightlines($show, $sights);
        }

        return array_values(array_filter($sheets, static fn (?Table $s): bool => $s !== null));
    }

    /** @param  list<Table>  $sheets */
    public static function csv(array $sheets): string
    {
        $rows = [];
        foreach ($sheets as $sheet) {
            array_push($rows, [$sheet->title], $sheet->columns, ...$sheet->rows);
            foreach ($sheet->remarks as $remark) {
                $rows[] = [$remark];
            }
            $rows[] = [];
        }

        return Csv::write($rows);
    }

    /**
     * @param  array<string, Surface>  $walls
     * @param  array<string, WallSheet>  $plans
     */
    private static function walls(array $walls, array $plans): Table
    {
        $rows = [];
        $sum = [0, 0, 0.0, 0.0, 0.0, 0.0];
        foreach ($walls as $id => $surface) {
            $f = self::wall($surface)->figures();
            $s = $plans[$id]->figures;
            $rows[] = [
                $surface->name,
                $surface->colour,
                $f->columns,
                $f->rows,
                $f->panels,
                "$f->rasterWidth × $f->rasterHeight",
                [$surface->width(), $surface->height()] === [$f->rasterWidth, $f->rasterHeight]
                    ? ''
                    : $surface->width().' × '.$surface->height(),
                round($f->widthMetres, 3),
                round($f->heightMetres, 3),
                round($s['chord'], 3),
                round($s['depth'], 3),
                round($s['turn'], 2),
                round($f->areaSquareMetres, 2),
                round($f->kilograms, 1),
                round($f->wattsAverage),
                round($f->wattsMaximum),
            ];
            $sum = [
                $sum[0] + $f->panels,
                $sum[1] + $f->litPixels,
                $sum[2] + $f->areaSquareMetres,
                $sum[3] + $f->kilograms,
                $sum[4] + $f->wattsAverage,
                $sum[5] + $f->wattsMaximum,
            ];
        }
        $rows[] = [
            'Total',
            '',
            '',
            '',
            $sum[0],
            number_format($sum[1]).' px lit',
            '',
            '',
            '',
            '',
            '',
            '',
            round($sum[2], 2),
            round($sum[3], 1),
            round($sum[4]),
            round($sum[5]),
        ];

        return new Table(
            'LED walls',
            [
                'Wall',
                'Colour',
                'Columns',
                'Rows',
                'Panels',
                'Raster px',
                'Content raster px',
                'Width m',
                'Height m',
                'Chord m',
                'Depth m',
                'Total angle °',
                'Area m²',
                'Weight kg',
                'Average W',
                'Maximum W',
            ],
            $rows,
        );
    }

    /** @param  array<string, Surface>  $walls */
    private static function panels(array $walls, float $spares): Table
    {
        $count = [];
        foreach ($walls as $surface) {
            foreach (self::wall($surface)->cells as $row) {
                foreach ($row as $panel) {
                    if ($panel !== null) {
                        $count[$panel->name] ??= [0, $panel];
                        $count[$panel->name][0]++;
                    }
                }
            }
        }
        $rows = [];
        foreach ($count as $name => [$n, $panel]) {
            $extra = (int) ceil($n * $spares - 1e-9);
            $rows[] = [
                $name,
                $n,
                $extra,
                $n + $extra,
                round(($n + $extra) * $panel->kilograms, 1),
                "$panel->widthMm × $panel->heightMm",
                "$panel->widthPx × $panel->heightPx",
            ];
        }

        return new Table(
            sprintf('Panels, with %s %% spare', round($spares * 100, 1)),
            ['Panel', 'Built in', 'Spare', 'Total', 'Weight kg', 'Size mm', 'Pixels'],
            $rows,
        );
    }

    /**
     * @param  array<string, Surface>  $walls
     * @param  array<string, WallSheet>  $plans
     */
    private static function feeding(array $walls, array $plans): Table
    {
        $rows = $remarks = [];
        $sum = [0, 0.0, 0.0, 0, 0.0, 0.0];
        $list = static fn (array $numbers, int $digits): string => implode(
            ' · ',
            array_map(static fn (float $n): string => number_format($n, $digits), $numbers),
        );
        foreach ($walls as $id => $surface) {
            $s = $plans[$id]->figures;
            $supply = $surface->feeding->supply;
            $jumps = static fn (array $runs): int => array_sum(
                array_map(static fn (CableRun $r): int => count($r->cells) - 1, $runs),
            );
            $rows[] = [
                $surface->name,
                "$supply->volts V, $supply->amperes A, $supply->phases ph".
                ($supply->betweenLines ? ', line to line' : ''),
                $s['circuits'],
                $s['panelsPerCircuit'],
                $list($s['amperes'], 1),
                round($s['neutralAmperes'], 1),
                round($s['kilovoltAmperes'], 2),
                round($s['heatBtuPerHour']),
                round($s['inrushAmperes']),
                $list(array_map(static fn (float $w): float => $w / 1000, $s['phases']), 2),
                $s['ports'],
                $s['panelsPerPort'],
                $s['pixelsPerPort'],
                $jumps($plans[$id]->power),
                round($s['powerMetres'], 1),
                $jumps($plans[$id]->data),
                round($s['dataMetres'], 1),
            ];
            $sum = [
                $sum[0] + $s['circuits'],
                $sum[1] + $s['kilovoltAmperes'],
                $sum[2] + $s['heatBtuPerHour'],
                $sum[3] + $s['ports'],
                $sum[4] + $s['powerMetres'],
                $sum[5] + $s['dataMetres'],
            ];
            foreach ($plans[$id]->remarks as $remark) {
                $remarks[] = "$surface->name: $remark";
            }
        }
        $rows[] = [
            'Total',
            '',
            $sum[0],
            '',
            '',
            '',
            round($sum[1], 2),
            round($sum[2]),
            '',
            '',
            $sum[3],
            '',
            '',
            '',
            round($sum[4], 1),
            '',
            round($sum[5], 1),
        ];

        return new Table(
            'Power and data',
            [
                'Wall',
                'Supply',
                'Circuits',
                'Panels per circuit',
                'Line current A',
                'Neutral A',
                'kVA',
                'Heat BTU/h',
                'Inrush per circuit A',
                'Load per line kW',
                'Ports',
                'Panels per port',
                'Port capacity px',
                'Power links',
                'Power cable m',
                'Data links',
                'Data cable m',
            ],
            $rows,
            $remarks,
        );
    }

    private static function cables(Surface $surface, WallSheet $plan): Table
    {
        $rows = [];
        foreach (['Power' => [$plan->power, 'W'], 'Data' => [$plan->data, 'px']] as $kind => [$runs, $unit]) {
            foreach ($runs as $run) {
                $rows[] = [
                    $kind,
                    $run->number,
                    count($run->cells),
                    round($run->load),
                    round($run->limit),
                    $unit,
                    round($run->metres, 1),
                    implode(
                        ' ',
                        array_map(static fn (array $cell): string => $cell[0] + 1 .'.'.($cell[1] + 1), $run->cells),
                    ),
                ];
            }
        }

        return new Table(
            "Cables of $surface->name",
            [
                'Cable',
                'Number',
                'Panels',
                'Load',
                'Capacity',
                'Unit',
                'Length m',
                'Path (row.column from the top left, seen from the front)',
            ],
            $rows,
        );
    }

    private static function faces(Show $show): ?Table
    {
        $rows = [];
        foreach ($show->venue->surfaces as $surface) {
            if ($surface->wall() === null) {
                $at = $show->venue->world($surface->id)->origin();
                $rows[] = [
                    $surface->name,
                    $surface->colour,
                    $surface->carrier->inWords(),
                    $surface->width().' × '.$surface->height(),
                    round($surface->carrier->area(), 2),
                    round($at->x, 3),
                    round($at->y, 3),
                    round($at->z, 3),
                ];
            }
        }

        return $rows === []
            ? null
            : new Table(
                'Projection faces',
                ['Face', 'Colour', 'Shape', 'Raster px', 'Area m²', 'X m', 'Y m', 'Z m'],
                $rows,
            );
    }

    private static function projectors(Show $show): ?Table
    {
        $rows = $remarks = [];
        $lumens = 0.0;
        $scene = Scene::of($show->venue->projectors === [] ? [] : $show->venue->bodies());
        foreach ($show->venue->projectors as $id => $projector) {
            $world = $show->venue->world($id);
            $at = $world->origin();
            $pose = \Core\Geometry\Pose::fromMatrix($world);
            $lens = $projector->lens;
            $lumens += $projector->lumens;
            $aims = array_values(
                array_intersect_key(
                    array_map(static fn (Surface $s): string => $s->name, $show->venue->surfaces),
                    array_flip($projector->aims),
                ),
            );
            // The throw: along the axis to where the middle of the picture lands.
            $ray = $world->direction($lens->ray($lens->widthPx / 2, $lens->heightPx / 2));
            $hit = $scene->first($at->x, $at->y, $at->z, $ray->x, $ray->y, $ray->z);
            $rows[] = [
                $projector->name,
                implode(', ', $aims),
                "$lens->widthPx × $lens->heightPx".($lens->portrait ? ' portrait' : ''),
                round($projector->lumens),
                round($lens->throw, 3),
                "$lens->throwMin – $lens->throwMax",
                round($lens->shiftX * 100, 1),
                round($lens->shiftY * 100, 1),
                $hit === null ? '' : round($hit[1], 2),
                round($lens->focus, 2),
                round($at->x, 3),
                round($at->y, 3),
                round($at->z, 3),
                round($pose->yaw, 2),
                round($pose->pitch, 2),
                round($pose->roll, 2),
                $projector->mirrored ? 'rear' : 'front',
            ];
            foreach ($lens->remarks() as $remark) {
                $remarks[] = "$projector->name: $remark";
            }
        }
        if ($rows === []) {
            return null;
        }
        $rows[] = [
            'Total: '.count($rows),
            '',
            '',
            round($lumens),
            '',
            '',
            '',
            '',
            '',
            '',
            '',
            '',
            '',
            '',
            '',
            '',
            '',
        ];

        return new Table(
            'Projectors',
            [
                'Projector',
                'Target faces',
                'Pixels',
                'Lumens',
                'Throw ratio',
                'Zoom range',
                'Shift X %',
                'Shift Y %',
                'Throw distance m',
                'Focus m',
                'X m',
                'Y m',
                'Z m',
                'Yaw °',
                'Pitch °',
                'Roll °',
                'Projection',
            ],
            $rows,
            $remarks,
        );
    }

    /**
     * @param  array<string, Surface>  $walls
     * @param  array<string, WallSheet>  $plans
     */
    private static function hanging(array $walls, array $plans): ?Table
    {
        $rows = [];
        foreach ($walls as $id => $surface) {
            $s = $plans[$id]->figures;
            foreach ($s['hangingPoints'] as $i => $at) {
                $rows[] = [
                    $surface->name,
                    $i + 1,
                    round($at, 3),
                    round($s['hangingLoads'][$i], 1),
                    round($s['hangingOneLost'], 1),
                ];
            }
        }

        return $rows === []
            ? null
            : new Table(
                'Hanging points',
                ['Wall', 'Point', 'From house left m', 'Load kg', 'Worst, one lost kg'],
                $rows,
            );
    }

    private static function cameras(Show $show): ?Table
    {
        $rows = [];
        $cache = new ResultCache();
        foreach ($show->venue->cameras as $id => $camera) {
            $focus = $camera->depthOfField();
            $own = [
                $camera->name,
                round($camera->focal, 1),
                round($camera->angleAcross(), 1),
                round($focus->near, 2),
                is_finite($focus->far) ? round($focus->far, 2) : '∞',
            ];
            foreach (Shots::of($show, (string) $id, $cache) as $shot) {
                $rows[] = [
                    ...$own,
                    $shot->name,
                    round($shot->distance, 2),
                    round($shot->width, 2),
                    $shot->pitchPixels > 0 ? round($shot->pitchPixels, 2) : '',
                    $shot->moire && $shot->sharp ? 'moiré' : '',
                ];
                $own = ['', '', '', '', ''];
            }
            $own[0] === '' || ($rows[] = [...$own, '', '', '', '', '']);
        }

        return $rows === []
            ? null
            : new Table(
                'Cameras',
                [
                    'Camera',
                    'Focal length mm',
                    'Angle of view °',
                    'Sharp from m',
                    'to m',
                    'Surface',
                    'Distance m',
                    'Picture width m',
                    'Pitch on sensor px',
                    'Remark',
                ],
                $rows,
            );
    }

    /** @param  array<string, list<Sight>>|null  $sights */
    private static function sightlines(Show $show, ?array $sights): ?Table
    {
        if ($sights === null) {
            return new Table(
                'Sightlines',
                ['Seats', 'Where'],
                [[count($show->venue->seats), 'Too many for this document: they are in the details of each seat.']],
            );
        }
        $rows = [];
        foreach ($sights as $seat => $seen) {
            foreach ($seen as $i => $sight) {
                $rows[] = [
                    $i === 0 ? $show->venue->seats[$seat] : '',
                    $sight->name,
                    round($sight->mean, 2),
                    round($sight->front * 100),
                    round($sight->oblique, 1),
                    round($sight->detailMm, 1),
                    round($sight->letterMm),
                    $sight->nits > 0 ? round($sight->nits) : '',
                    $sight->contrast > 0 ? round($sight->contrast, 1) : '',
                ];
            }
            $seen === [] && ($rows[] = [$show->venue->seats[$seat], 'nothing in view', '', '', '', '', '', '', '']);
        }

        return $rows === []
            ? null
            : new Table(
                'Sightlines',
                [
                    'Seat',
                    'Surface',
                    'Distance m',
                    'Front in view %',
                    'Viewing angle °',
                    'Smallest detail mm',
                    'Letter height mm',
                    'Luminance cd/m²',
                    'Contrast',
                ],
                $rows,
            );
    }

    private static function wall(Surface $surface): Wall
    {
        return $surface->wall() ?? throw new \LogicException("$surface->name is no wall.");
    }
}

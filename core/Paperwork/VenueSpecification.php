<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\Exchange\Csv;
use Core\Show\Show;
use Core\Units\Check;
use Core\Venue\CableRun;
use Core\Venue\Surface;
use Core\Venue\Wall;
use Core\Venue\WallSheet;

/** What the LED technician, the rigger, the electrician and the projectionist get of a venue, as tables: per wall and in all. */
final class VenueSpecification
{
    /**
     * @param  float  $spares  share of panels to bring along, 0 to 1
     * @param  string|null  $only  one surface, by id; null: the whole venue
     * @param  int  $mostCables  walls up to which each one's cables are listed
     * @return list<Sheet>
     */
    public static function sheets(Show $show, float $spares = 0.05, ?string $only = null, int $mostCables = PHP_INT_MAX): array
    {
        Check::number('spares', $spares, 0, 1);
        $walls = array_filter($show->venue->surfaces, static fn (Surface $s): bool => $s->wall() !== null && ($only === null || $s->id === $only));
        $plans = array_map(static fn (Surface $s): WallSheet => WallSheet::of($s->wall() ?? throw new \LogicException, $s->feeding), $walls);
        $sheets = [self::walls($walls, $plans), self::panels($walls, $spares), self::feeding($walls, $plans)];
        if (count($walls) > $mostCables) {
            $sheets[] = new Sheet('Cables', ['Walls', 'Where'], [[count($walls), 'Too many for this paper: they are in the table (CSV), and in the paper of each wall.']]);
        } else {
            foreach ($walls as $id => $surface) {
                $sheets[] = self::cables($surface, $plans[$id]);
            }
        }
        if ($only === null) {
            $sheets[] = self::faces($show);
            $sheets[] = self::projectors($show);
        }

        return array_values(array_filter($sheets, static fn (?Sheet $s): bool => $s !== null));
    }

    /** @param  list<Sheet>  $sheets */
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
    private static function walls(array $walls, array $plans): Sheet
    {
        $rows = [];
        $sum = [0, 0, 0.0, 0.0, 0.0, 0.0];
        foreach ($walls as $id => $surface) {
            $f = self::wall($surface)->figures();
            $s = $plans[$id]->figures;
            $rows[] = [
                $surface->name, $f->columns, $f->rows, $f->panels, "$f->rasterWidth × $f->rasterHeight", [$surface->width(), $surface->height()] === [$f->rasterWidth, $f->rasterHeight] ? '' : $surface->width().' × '.$surface->height(),
                round($f->widthMetres, 3), round($f->heightMetres, 3), round($s['chord'], 3), round($s['depth'], 3), round($s['turn'], 2), round($f->areaSquareMetres, 2), round($f->kilograms, 1), round($f->wattsAverage), round($f->wattsMaximum),
            ];
            $sum = [$sum[0] + $f->panels, $sum[1] + $f->litPixels, $sum[2] + $f->areaSquareMetres, $sum[3] + $f->kilograms, $sum[4] + $f->wattsAverage, $sum[5] + $f->wattsMaximum];
        }
        $rows[] = ['In all', '', '', $sum[0], number_format($sum[1]).' px lit', '', '', '', '', '', '', round($sum[2], 2), round($sum[3], 1), round($sum[4]), round($sum[5])];

        return new Sheet('LED walls', ['Wall', 'Columns', 'Rows', 'Panels', 'Raster px', 'Made for px', 'Width m', 'Height m', 'Chord m', 'Depth m', 'Turn °', 'Area m²', 'Weight kg', 'Average W', 'Maximum W'], $rows);
    }

    /** @param  array<string, Surface>  $walls */
    private static function panels(array $walls, float $spares): Sheet
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
            $rows[] = [$name, $n, $extra, $n + $extra, round(($n + $extra) * $panel->kilograms, 1), "$panel->widthMm × $panel->heightMm", "$panel->widthPx × $panel->heightPx"];
        }

        return new Sheet(sprintf('Panels, with %s %% spare', round($spares * 100, 1)), ['Panel', 'Hung', 'Spare', 'To bring', 'Weight kg', 'Size mm', 'Pixels'], $rows);
    }

    /**
     * @param  array<string, Surface>  $walls
     * @param  array<string, WallSheet>  $plans
     */
    private static function feeding(array $walls, array $plans): Sheet
    {
        $rows = $remarks = [];
        $sum = [0, 0.0, 0.0, 0, 0];
        foreach ($walls as $id => $surface) {
            $s = $plans[$id]->figures;
            $supply = $surface->feeding->supply;
            $jumps = static fn (array $runs): int => array_sum(array_map(static fn (CableRun $r): int => count($r->cells) - 1, $runs));
            $rows[] = [
                $surface->name, "$supply->volts V, $supply->amperes A, $supply->phases ph", $s['circuits'], $s['panelsPerCircuit'], round($s['amperes'], 1), round($s['inrushAmperes']), implode(' · ', array_map(static fn (float $w): string => number_format($w / 1000, 2), $s['phases'])),
                $s['ports'], $s['panelsPerPort'], $s['pixelsPerPort'], $jumps($plans[$id]->power), $jumps($plans[$id]->data),
            ];
            $sum = [$sum[0] + $s['circuits'], $sum[1] + $s['amperes'], $sum[2] + $s['inrushAmperes'], $sum[3] + $s['ports'], 0];
            foreach ($plans[$id]->remarks as $remark) {
                $remarks[] = "$surface->name: $remark";
            }
        }
        $rows[] = ['In all', '', $sum[0], '', round($sum[1], 1), round($sum[2]), '', $sum[3], '', '', '', ''];

        return new Sheet('Power and data', ['Wall', 'Supply', 'Circuits', 'Panels a circuit', 'Current A', 'Inrush A', 'Phases kW', 'Ports', 'Panels a port', 'A port carries px', 'Power links', 'Data links'], $rows, $remarks);
    }

    private static function cables(Surface $surface, WallSheet $plan): Sheet
    {
        $rows = [];
        foreach (['Power' => [$plan->power, 'W'], 'Data' => [$plan->data, 'px']] as $kind => [$runs, $unit]) {
            foreach ($runs as $run) {
                $rows[] = [$kind, $run->number, count($run->cells), round($run->load), round($run->limit), $unit, implode(' ', array_map(static fn (array $cell): string => ($cell[0] + 1).'.'.($cell[1] + 1), $run->cells))];
            }
        }

        return new Sheet("Cables of $surface->name", ['Cable', 'Number', 'Panels', 'Load', 'Bears', 'Unit', 'Way (row.column from the top left, seen from the front)'], $rows);
    }

    private static function faces(Show $show): ?Sheet
    {
        $rows = [];
        foreach ($show->venue->surfaces as $surface) {
            if ($surface->wall() === null) {
                $at = $show->venue->world($surface->id)->origin();
                $rows[] = [$surface->name, $surface->carrier->inWords(), $surface->width().' × '.$surface->height(), round($surface->carrier->area(), 2), round($at->x, 3), round($at->y, 3), round($at->z, 3)];
            }
        }

        return $rows === [] ? null : new Sheet('Faces to project on', ['Face', 'Shape', 'Raster px', 'Area m²', 'X m', 'Y m', 'Z m'], $rows);
    }

    private static function projectors(Show $show): ?Sheet
    {
        $rows = $remarks = [];
        $lumens = 0.0;
        foreach ($show->venue->projectors as $id => $projector) {
            $world = $show->venue->world($id);
            $at = $world->origin();
            $pose = \Core\Geometry\Pose::fromMatrix($world);
            $lens = $projector->lens;
            $lumens += $projector->lumens;
            $aims = array_values(array_intersect_key(array_map(static fn (Surface $s): string => $s->name, $show->venue->surfaces), array_flip($projector->aims)));
            $far = array_map(static function (string $aim) use ($show, $at): float {
                [[$x0, $y0, $z0], [$x1, $y1, $z1]] = $show->venue->surfaces[$aim]->carrier->mesh()->bounds();

                return $show->venue->world($aim)->point(\Core\Geometry\Vec3::of(($x0 + $x1) / 2, ($y0 + $y1) / 2, ($z0 + $z1) / 2))->minus($at)->length();
            }, array_filter($projector->aims, static fn (string $a): bool => isset($show->venue->surfaces[$a])));
            $rows[] = [
                $projector->name, implode(', ', $aims), "$lens->widthPx × $lens->heightPx".($lens->portrait ? ' on its side' : ''), round($projector->lumens), round($lens->throw, 3), "$lens->throwLeast – $lens->throwMost",
                round($lens->shiftX * 100, 1), round($lens->shiftY * 100, 1), $far === [] ? '' : round(min($far), 2), round($lens->focus, 2), round($at->x, 3), round($at->y, 3), round($at->z, 3), round($pose->yaw, 2), round($pose->pitch, 2), round($pose->roll, 2), $projector->mirrored ? 'rear' : 'front',
            ];
            foreach ($lens->remarks() as $remark) {
                $remarks[] = "$projector->name: $remark";
            }
        }
        if ($rows === []) {
            return null;
        }
        $rows[] = ['In all: '.count($rows), '', '', round($lumens), '', '', '', '', '', '', '', '', '', '', '', '', ''];

        return new Sheet('Projectors', ['Projector', 'For', 'Pixels', 'Lumens', 'Throw', 'Lens', 'Shift X %', 'Shift Y %', 'Distance m', 'Focus m', 'X m', 'Y m', 'Z m', 'Yaw °', 'Pitch °', 'Roll °', 'From'], $rows, $remarks);
    }

    private static function wall(Surface $surface): Wall
    {
        return $surface->wall() ?? throw new \LogicException("$surface->name is no wall.");
    }
}

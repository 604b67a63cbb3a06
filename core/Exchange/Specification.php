<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Venue\CableRun;
use Core\Venue\Wall;
use Core\Venue\WallSheet;

/** What the LED technician, the rigger and the electrician get of a wall, as a table. */
final class Specification
{
    public static function csv(string $name, Wall $wall, WallSheet $sheet): string
    {
        $f = $wall->figures();
        $s = $sheet->figures;
        $rows = [
            ['Wall', $name, ''],
            ['Panels', $f->panels, ''], ['Columns', $f->columns, ''], ['Rows', $f->rows, ''],
            ['Raster width', $f->rasterWidth, 'px'], ['Raster height', $f->rasterHeight, 'px'], ['Lit pixels', $f->litPixels, 'px'],
            ['Width flat', $f->widthMetres, 'm'], ['Height', $f->heightMetres, 'm'], ['Chord', $s['chord'], 'm'], ['Depth of the curve', $s['depth'], 'm'], ['Turn', $s['turn'], 'deg'],
            ['Area', $f->areaSquareMetres, 'm²'], ['Weight', $f->kilograms, 'kg'], ['Power average', $f->wattsAverage, 'W'], ['Power maximum', $f->wattsMaximum, 'W'],
            ['Current', $s['amperes'], 'A'], ['Inrush', $s['inrushAmperes'], 'A'], ['Circuits', $s['circuits'], ''], ['Data ports', $s['ports'], ''],
            ['Spare panels (5 %)', (int) ceil($f->panels * 0.05), ''],
        ];
        $kinds = [];
        foreach ($wall->cells as $row) {
            foreach ($row as $panel) {
                if ($panel !== null) {
                    $kinds[$panel->name] = ($kinds[$panel->name] ?? 0) + 1;
                }
            }
        }
        foreach ($kinds as $panel => $count) {
            $rows[] = ["Panels of $panel", $count, ''];
        }
        $rows[] = [];
        $rows[] = ['Cable', 'Number', 'Panels', 'Load', 'Bears', 'Unit', 'Way (row.column from the top left, seen from the front)'];
        foreach (['Power' => [$sheet->power, 'W'], 'Data' => [$sheet->data, 'px']] as $kind => [$runs, $unit]) {
            foreach ($runs as $run) {
                $rows[] = [$kind, $run->number, count($run->cells), $run->load, $run->limit, $unit, self::way($run)];
            }
        }

        return Csv::write($rows);
    }

    private static function way(CableRun $run): string
    {
        return implode(' ', array_map(static fn (array $cell): string => ($cell[0] + 1).'.'.($cell[1] + 1), $run->cells));
    }
}

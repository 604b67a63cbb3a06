<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A surface built of panels: rows of cells, each a panel or a gap, and a seam between each two columns that may stand
 * at an angle (degrees, positive when the wall turns toward the audience). Panels stay flat; a curve is in the seams.
 * All panels of one column are equally wide and all of one row equally high, in millimetres and in pixels.
 */
final readonly class Wall implements Carrier
{
    use FlatCarrier;

    public const MAX_CELLS = 10_000;

    /**
     * @param  non-empty-list<non-empty-list<Panel|null>>  $cells  rows from the top, columns from house left as the
     *     audience sees them
     * @param  list<float>  $seams  one fewer than there are columns
     * @param  non-empty-list<Panel>  $columnPanels  a panel that tells each column's width
     * @param  non-empty-list<Panel>  $rowPanels  a panel that tells each row's height
     */
    private function __construct(
        public array $cells,
        public array $seams,
        private array $columnPanels,
        private array $rowPanels,
    ) {
    }

    /** A flat wall without gaps. */
    public static function grid(Panel $panel, int $columns, int $rows): self
    {
        Check::whole('columns', $columns, 1, 1000);
        Check::whole('rows', $rows, 1, 1000);
        if ($columns * $rows > self::MAX_CELLS) {
            throw InvalidValue::because('cells', 'A wall holds at most '.self::MAX_CELLS.' panels.');
        }

        return self::of(array_fill(0, $rows, array_fill(0, $columns, $panel)), array_fill(0, $columns - 1, 0.0));
    }

    /**
     * @param  list<list<Panel|null>>  $cells
     * @param  list<float>  $seams  degrees
     *
     * @throws InvalidValue naming cells or seams
     */
    public static function of(array $cells, array $seams): self
    {
        $columns = count($cells[0] ?? []);
        if ($cells === [] || $columns === 0) {
            throw InvalidValue::because('cells', 'A wall needs at least one column and one row.');
        }
        if (count($cells) * $columns > self::MAX_CELLS) {
            throw InvalidValue::because('cells', 'A wall holds at most '.self::MAX_CELLS.' panels.');
        }
        if (count($seams) !== $columns - 1) {
            throw InvalidValue::because(
                'seams',
                "A wall of $columns columns has ".($columns - 1).' seams; '.count($seams).' were given.',
            );
        }
        foreach ($seams as $angle) {
            Check::number('seams', $angle, -90, 90, 'degrees');
        }
        [$columnPanels, $rowPanels] = [[], []];
        foreach ($cells as $r => $row) {
            if (count($row) !== $columns) {
                throw InvalidValue::because('cells', 'All rows of a wall have the same number of columns.');
            }
            foreach ($row as $c => $panel) {
                if ($panel === null) {
                    continue;
                }
                $columnPanels[$c] ??= $panel;
                $rowPanels[$r] ??= $panel;
                if ($columnPanels[$c]->widthMm !== $panel->widthMm || $columnPanels[$c]->widthPx !== $panel->widthPx) {
                    throw InvalidValue::because('cells', 'Column '.($c + 1).' holds panels of different widths.');
                }
                if ($rowPanels[$r]->heightMm !== $panel->heightMm || $rowPanels[$r]->heightPx !== $panel->heightPx) {
                    throw InvalidValue::because('cells', 'Row '.($r + 1).' holds panels of different heights.');
                }
            }
        }
        $any = reset($columnPanels) ?: throw InvalidValue::because('cells', 'A wall needs at least one panel.');
        for ($c = 0; $c < $columns; $c++) {
            $columnPanels[$c] ??= $any;
        }
        foreach (array_keys($cells) as $r) {
            $rowPanels[$r] ??= $any;
        }
        ksort($columnPanels);
        ksort($rowPanels);
        Check::whole('cells', array_sum(array_column($columnPanels, 'widthPx')), 1, Check::MAX_PIXELS * 4, 'px wide');
        Check::whole('cells', array_sum(array_column($rowPanels, 'heightPx')), 1, Check::MAX_PIXELS * 4, 'px high');

        return new self($cells, $seams, array_values($columnPanels), array_values($rowPanels));
    }

    public function columns(): int
    {
        return count($this->columnPanels);
    }

    public function rows(): int
    {
        return count($this->rowPanels);
    }

    public function shines(): bool
    {
        return true;
    }

    public function rasterWidth(): int
    {
        return array_sum(array_column($this->columnPanels, 'widthPx'));
    }

    public function rasterHeight(): int
    {
        return array_sum(array_column($this->rowPanels, 'heightPx'));
    }

    public function area(): float
    {
        return $this->figures()->areaSquareMetres;
    }

    public function inWords(): string
    {
        return "{$this->columns()} × {$this->rows()} panels";
    }

    /** @return non-empty-list<int> */
    public function columnWidthsPx(): array
    {
        return array_map(static fn (Panel $p): int => $p->widthPx, $this->columnPanels);
    }

    /** @return non-empty-list<int> */
    public function rowHeightsPx(): array
    {
        return array_map(static fn (Panel $p): int => $p->heightPx, $this->rowPanels);
    }

    public function curvature(): Curvature
    {
        return Curvature::of($this->columnWidths(), $this->seams);
    }

    /** @return non-empty-list<float> metres */
    private function columnWidths(): array
    {
        return array_map(static fn (Panel $p): float => $p->widthMm / 1000, $this->columnPanels);
    }

    /**
     * @return non-empty-list<array{float, float}> x and z of the face at each seam and both ends, round the middle of
     *     its chord
     */
    public function outline(): array
    {
        $points = Curvature::outline($this->columnWidths(), $this->seams);
        [$x, $z] = $points[count($points) - 1];

        return array_map(static fn (array $p): array => [$p[0] - $x / 2, $p[1] - $z / 2], $points);
    }

    /** @return non-empty-list<array{float, float}> metres of width and kilograms of each column, from house left */
    public function columnWeights(): array
    {
        return array_map(
            fn (Panel $p, int $c): array => [
                $p->widthMm / 1000,
                array_sum(array_map(static fn (array $row): float => $row[$c]->kilograms ?? 0.0, $this->cells)),
            ],
            $this->columnPanels,
            array_keys($this->columnPanels),
        );
    }

    /** @return list<float> metres from house left to the middle of each column, on the wall laid flat */
    public function columnMiddles(): array
    {
        return self::middles(array_column($this->columnPanels, 'widthMm'));
    }

    /** @return list<float> metres from the top to the middle of each row, on the wall laid flat */
    public function rowMiddles(): array
    {
        return self::middles(array_column($this->rowPanels, 'heightMm'));
    }

    /**
     * @param  list<float>  $sizes  millimetres
     * @return list<float> metres
     */
    private static function middles(array $sizes): array
    {
        $middles = [];
        $before = 0.0;
        foreach ($sizes as $size) {
            $middles[] = ($before + $size / 2) / 1000;
            $before += $size;
        }

        return $middles;
    }

    public function triangles(): int
    {
        return 2 * $this->figures()->panels;
    }

    public function figures(): WallFigures
    {
        [$count, $weight, $average, $maximum, $area, $pixels] = [0, 0.0, 0.0, 0.0, 0.0, 0];
        foreach ($this->cells as $row) {
            foreach ($row as $panel) {
                if ($panel !== null) {
                    $count++;
                    $weight += $panel->kilograms;
                    $average += $panel->wattsAverage;
                    $maximum += $panel->wattsMaximum;
                    $area += ($panel->widthMm * $panel->heightMm) / 1e6;
                    $pixels += $panel->widthPx * $panel->heightPx;
                }
            }
        }

        return new WallFigures(
            columns: $this->columns(),
            rows: $this->rows(),
            rasterWidth: $this->rasterWidth(),
            rasterHeight: $this->rasterHeight(),
            widthMetres: array_sum(array_column($this->columnPanels, 'widthMm')) / 1000,
            heightMetres: array_sum(array_column($this->rowPanels, 'heightMm')) / 1000,
            panels: $count,
            litPixels: $pixels,
            areaSquareMetres: $area,
            kilograms: $weight,
            wattsAverage: $average,
            wattsMaximum: $maximum,
            pitchX: max(array_map(static fn (Panel $p): float => $p->pitchX(), $this->columnPanels)),
            pitchY: max(array_map(static fn (Panel $p): float => $p->pitchY(), $this->rowPanels)),
        );
    }

    /**
     * The face of the wall: each panel a quad of its own, its UV the pixels that it shows. The origin is the middle of
     * the bottom edge's chord; the middle of the wall faces +Z.
     */
    public function mesh(): Mesh
    {
        $outline = $this->outline();
        $top = array_sum(array_column($this->rowPanels, 'heightMm')) / 1000;
        [$positions, $uvs, $indices] = [[], [], []];
        [$rasterWidth, $rasterHeight] = [$this->rasterWidth(), $this->rasterHeight()];
        $pixelY = 0;
        foreach ($this->cells as $r => $row) {
            $bottom = $top - $this->rowPanels[$r]->heightMm / 1000;
            [$v0, $v1] = [$pixelY / $rasterHeight, ($pixelY + $this->rowPanels[$r]->heightPx) / $rasterHeight];
            $pixelX = 0;
            foreach ($row as $c => $panel) {
                $next = $pixelX + $this->columnPanels[$c]->widthPx;
                if ($panel !== null) {
                    $first = intdiv(count($positions), 3);
                    [$u0, $u1] = [$pixelX / $rasterWidth, $next / $rasterWidth];
                    foreach (
                        [
                            [$c, $top, $u0, $v0],
                            [$c, $bottom, $u0, $v1],
                            [$c + 1, $bottom, $u1, $v1],
                            [$c + 1, $top, $u1, $v0],
                        ] as [$i, $y, $u, $v]
                    ) {
                        array_push($positions, $outline[$i][0], $y, $outline[$i][1]);
                        array_push($uvs, $u, $v);
                    }
                    array_push($indices, $first, $first + 1, $first + 2, $first, $first + 2, $first + 3);
                }
                $pixelX = $next;
            }
            $pixelY += $this->rowPanels[$r]->heightPx;
            $top = $bottom;
        }

        return Mesh::of($positions, $uvs, $indices);
    }
}

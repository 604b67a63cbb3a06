<?php

declare(strict_types=1);

namespace Core\Venue;

/**
 * In which order a cable goes from panel to panel, seen from the front. Snakes turn round at each end; the others
 * start anew.
 */
enum CablePath: string
{
    case RowsSnake = 'rows-snake';
    case Rows = 'rows';
    case ColumnsSnake = 'columns-snake';
    case Columns = 'columns';

    /**
     * The cells of a wall in this order, gaps left out.
     *
     * @param  bool  $fromRight  whether it starts at house right
     * @param  bool  $fromBottom  whether it starts at the floor
     * @return list<array{int, int, Panel}> row, column, panel
     */
    public function order(Wall $wall, bool $fromRight = false, bool $fromBottom = false): array
    {
        $rows = range(0, $wall->rows() - 1);
        $columns = range(0, $wall->columns() - 1);
        if ($fromBottom) {
            $rows = array_reverse($rows);
        }
        if ($fromRight) {
            $columns = array_reverse($columns);
        }
        $byRows = $this === self::RowsSnake || $this === self::Rows;
        $snake = $this === self::RowsSnake || $this === self::ColumnsSnake;
        [$outer, $inner] = $byRows ? [$rows, $columns] : [$columns, $rows];
        $order = [];
        foreach ($outer as $turn => $a) {
            foreach ($snake && $turn % 2 === 1 ? array_reverse($inner) : $inner as $b) {
                [$r, $c] = $byRows ? [$a, $b] : [$b, $a];
                $panel = $wall->cells[$r][$c];
                if ($panel !== null) {
                    $order[] = [$r, $c, $panel];
                }
            }
        }

        return $order;
    }
}

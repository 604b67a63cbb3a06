<?php

declare(strict_types=1);

namespace Core\Show;

/**
 * What a thing has the other way round when it is mirrored across X: its columns, its reliefs, its sides, its shift.
 */
final class Mirror
{
    /**
     * Fields of a row that its mirror image has otherwise; its pose is another matter.
     *
     * @param  array<string, mixed>  $row
     * @return array<string, mixed>
     */
    public static function fields(string $kind, array $row): array
    {
        if ($kind === 'surface' && $row['kind'] === 'wall') {
            return ['cells' => array_map(array_reverse(...), $row['cells']), 'seams' => array_reverse($row['seams'])];
        }
        if ($kind === 'surface' && $row['kind'] === 'relief') {
            return [
                'reliefs' => array_map(
                    static fn (array $b): array => [
                        'points' => array_map(
                            static fn (float|int $v, int $i): float|int => $i % 2 === 0 ? -$v : $v,
                            array_values($b['points']),
                            range(0, count($b['points']) - 1),
                        ),
                    ] + $b,
                    $row['reliefs'],
                ),
            ];
        }
        if ($kind === 'surface' && $row['kind'] === 'box' && is_string($row['shape']['sides'] ?? null)) {
            return [
                'shape' => ['sides' => strtr($row['shape']['sides'], ['left' => 'right', 'right' => 'left'])] + $row['shape'],
            ];
        }
        if ($kind === 'projector' && isset($row['lens']['shiftX'])) {
            return ['lens' => ['shiftX' => -$row['lens']['shiftX']] + $row['lens']];
        }

        return [];
    }
}

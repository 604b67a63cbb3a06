<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\Exchange\Csv;
use Core\Output\Region;
use Core\Show\Show;
use Core\Units\InvalidValue;

/**
 * Where each region lies on its output, for whoever sets up the processors: as a table out, and read back from
 * theirs.
 */
final class RegionSheet
{
    public const COLUMNS = [
        'Region',
        'Surface',
        'Server',
        'Output',
        'Feeds',
        'X',
        'Y',
        'Width',
        'Height',
        'Turn',
        'Mirrored',
        'Source X',
        'Source Y',
        'Source width',
        'Source height',
    ];

    public static function of(Show $show): Table
    {
        $rows = [];
        foreach ($show->delivery->outputs as $outputId => $output) {
            foreach ($show->delivery->regions[$outputId] as $id => $region) {
                $rows[] = array_map(strval(...), [
                    $id,
                    $show->venue->surfaces[$region->surface]->name,
                    $output->server === null ? '' : $show->delivery->servers[$output->server]->name ?? '',
                    $output->name,
                    $show->delivery->feedOf((string) $outputId, $region)->name ?? '',
                    $region->place->x,
                    $region->place->y,
                    $region->place->width,
                    $region->place->height,
                    $region->turn,
                    $region->mirror ? 'yes' : 'no',
                    $region->source->x,
                    $region->source->y,
                    $region->source->width,
                    $region->source->height,
                ]);
            }
        }

        return new Table('Regions', self::COLUMNS, $rows);
    }

    /**
     * Places that a sheet gives to regions: by the region's id where it has that, else by the name of its surface,
     * where that has one region alone.
     *
     * @return array<string, array{output: string, x: int, y: int, turn: int}> by region
     *
     * @throws InvalidValue naming the line that can't be read
     */
    public static function read(Show $show, string $csv): array
    {
        $lines = Csv::read($csv);
        $head = array_map(static fn (string $name): string => mb_strtolower(trim($name)), array_shift($lines) ?? []);
        $at = array_flip($head);
        if (! isset($at['x'], $at['y']) || (! isset($at['region']) && ! isset($at['surface']))) {
            throw InvalidValue::because(
                'sheet',
                'The sheet needs the columns X and Y, and Region or Surface to say of what.',
            );
        }
        [$byId, $bySurface, $outputs] = [[], [], []];
        foreach ($show->delivery->outputs as $outputId => $output) {
            $outputs[mb_strtolower($output->name)][] = (string) $outputId;
            foreach ($show->delivery->regions[$outputId] as $id => $region) {
                $byId[$id] = [$region, (string) $outputId];
                $bySurface[mb_strtolower($show->venue->surfaces[$region->surface]->name)][] = (string) $id;
            }
        }
        $found = [];
        foreach ($lines as $n => $line) {
            $cell = static fn (string $name): string => isset($at[$name])
                ? Csv::plain(trim($line[$at[$name]] ?? ''))
                : '';
            $where = 'Line '.($n + 2);
            if (implode('', $line) === '') {
                continue;
            }
            $id = isset($byId[$cell('region')]) ? $cell('region') : null;
            if ($id === null) {
                $named = $bySurface[mb_strtolower($cell('surface'))] ?? [];
                if (count($named) !== 1) {
                    throw InvalidValue::because(
                        'sheet',
                        $named === []
                            ? "$where: there is no region \"{$cell('region')}\" and none of a surface \"{$cell(
                                'surface',
                            )}\"."
                            : "$where: {$cell('surface')} has ".
                                count($named).
                                ' regions; say which by its id in the column Region.',
                    );
                }
                $id = $named[0];
            }
            [$region, $output] = $byId[$id];
            if ($cell('output') !== '') {
                $wanted = $outputs[mb_strtolower($cell('output'))] ?? [];
                if (count($wanted) !== 1) {
                    throw InvalidValue::because(
                        'sheet',
                        $wanted === []
                            ? "$where: there is no output \"{$cell('output')}\"."
                            : "$where: several outputs are called \"{$cell('output')}\".",
                    );
                }
                $output = $wanted[0];
            }
            $number = static function (string $name, int $usual) use ($cell, $where): int {
                $text = $cell($name);
                if ($text === '') {
                    return $usual;
                }

                return preg_match('/^-?\d{1,5}$/D', $text) === 1
                    ? (int) $text
                    : throw InvalidValue::because(
                        'sheet',
                        "$where: $name has to be a whole number of pixels; it is \"$text\".",
                    );
            };
            $turn = $number('turn', $region->turn);
            if (! in_array($turn, Region::TURNS, true)) {
                throw InvalidValue::because('sheet', "$where: a region is turned by 0, 90, 180 or 270 degrees.");
            }
            $found[$id] = [
                'output' => $output,
                'x' => $number('x', $region->place->x),
                'y' => $number('y', $region->place->y),
                'turn' => $turn,
            ];
        }

        return $found;
    }
}

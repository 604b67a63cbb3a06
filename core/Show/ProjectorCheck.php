<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Light\Beam;
use Core\Output\Drift;
use Core\Output\FedProjector;
use Core\Output\Mask;
use Core\Output\Region;
use Core\Units\InvalidValue;

/**
 * A check of a projector by its points: those that had drifted are told where they are now, and all that the projector
 * shows goes along, what was computed and what was set by hand: its pieces by their corners, its blends with them, and the
 * masks of its output.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class ProjectorCheck
{
    /** Pixels by which a point has to be elsewhere to count as moved. */
    private const STILL = 0.005;

    /** @param  list<Change>  $changes */
    private function __construct(public Drift $drift, public int $moved, public array $changes)
    {
    }

    /**
     * @param  array<string, array{float, float}>  $now  by point, pixels of the output where it is found; the others are
     *     where they were
     * @param  string  $taken  as `CheckRecord` has it
     * @param  string  $id  of the record
     *
     * @throws InvalidValue
     */
    public static function of(
        Show $show,
        Document $document,
        string $projector,
        array $now,
        string $taken,
        string $id,
    ): self {
        $delivery = $show->delivery;
        $of =
            $show->venue->projectors[$projector] ??
            throw InvalidValue::because('projector', 'This projector is not in the show.');
        $part = $delivery->partOf($projector) ?? throw InvalidValue::because('projector', "No output feeds $of->name.");
        $fed = new FedProjector($part, new Beam($projector, $of, $show->venue->world($projector)));
        [$from, $to, $moved, $changes] = [[], [], 0, []];
        foreach ($delivery->points as $point => $one) {
            if ($one->projector !== $projector || $one->pixel === null) {
                continue;
            }
            $was = $fed->onOutput(...$one->pixel);
            $is = $now[$point] ?? $was;
            unset($now[$point]);
            [$from[], $to[]] = [$was, $is];
            if (hypot($is[0] - $was[0], $is[1] - $was[1]) <= self::STILL) {
                continue;
            }
            $moved++;
            array_push(
                $changes,
                ...Changes::update('point', (string) $point, $document->rows['point'][$point], [
                    'pixel' => $fed->onPicture(...$is),
                ]),
            );
        }
        if ($now !== []) {
            throw InvalidValue::because('points', 'A point of these is not one of the projector, or was never found.');
        }
        $drift = Drift::of($from, $to);
        $outputs = [];
        foreach ($moved === 0 ? [] : $delivery->regions as $output => $regions) {
            foreach ($regions as $regionId => $region) {
                if ($delivery->feedOf((string) $output, $region)?->projector === $projector) {
                    $outputs[$output] = true;
                    array_push(
                        $changes,
                        ...self::followed($region, $drift, (string) $regionId, $document->rows['region'][$regionId]),
                    );
                }
            }
        }
        foreach (array_keys($outputs) as $output) {
            foreach ($delivery->masks[$output] ?? [] as $maskId => $mask) {
                array_push(
                    $changes,
                    ...self::masked($mask, $drift, (string) $maskId, $document->rows['mask'][$maskId]),
                );
            }
        }
        $changes[] = Changes::create('check', $id, [
            'projector' => $projector,
            'taken' => $taken,
            'points' => count($from),
            'moved' => $moved,
            'before' => round($drift->before, 3),
            'after' => round($drift->after, 3),
        ]);

        return new self($drift, $moved, $changes);
    }

    /**
     * A piece whose corners go along.
     *
     * @param  array<string, mixed>  $row
     * @return list<Change>
     */
    private static function followed(Region $region, Drift $drift, string $id, array $row): array
    {
        $place = $region->place;
        $pin = [];
        foreach ($region->corners() as $k => [$x, $y]) {
            $corner = [
                $place->x + (in_array($k, [1, 2], true) ? $place->width : 0),
                $place->y + ($k > 1 ? $place->height : 0),
            ];
            $at = $drift->map->point($x, $y);
            array_push($pin, round($at[0] - $corner[0], 4), round($at[1] - $corner[1], 4));
        }

        return Changes::update('region', $id, $row, ['pin' => $pin]);
    }

    /**
     * A mask whose nodes go along, with their handles; what is painted stays where it is.
     *
     * @param  array<string, mixed>  $row
     * @return list<Change>
     */
    private static function masked(Mask $mask, Drift $drift, string $id, array $row): array
    {
        $nodes = [];
        foreach ($mask->nodes as [$x, $y, $inX, $inY, $outX, $outY]) {
            $at = $drift->map->point($x, $y);
            $before = $drift->map->point($x + $inX, $y + $inY);
            $after = $drift->map->point($x + $outX, $y + $outY);
            $numbers = [
                ...$at,
                ...[$before[0] - $at[0], $before[1] - $at[1]],
                ...[$after[0] - $at[0], $after[1] - $at[1]],
            ];
            array_push($nodes, ...array_map(static fn (float $v): float => round($v, 4), $numbers));
        }

        return $nodes === [] ? [] : Changes::update('mask', $id, $row, ['nodes' => $nodes]);
    }
}

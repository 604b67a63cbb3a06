<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\InvalidValue;

/** All that the people who build a wall plan by, beyond its figures. */
final readonly class WallSheet
{
    public const NUMBERS = [
        'arc',
        'chord',
        'depth',
        'turn',
        'radiusAtSeams',
        'radiusAtFaces',
        'openingMm',
        'kilogramsPerSquareMetre',
        'wattsPerSquareMetre',
        'circuits',
        'panelsPerCircuit',
        'wattsPerCircuit',
        'neutralAmperes',
        'kilovoltAmperes',
        'inrushAmperes',
        'unbalance',
        'heatWatts',
        'heatBtuPerHour',
        'powerMetres',
        'longestPowerMetres',
        'dataMetres',
        'longestDataMetres',
        'hangingOneLost',
        'ports',
        'panelsPerPort',
        'pixelsPerPort',
        'nearest',
        'vanishing',
        'widthAtNearest',
        'widthAtVanishing',
    ];

    public const LISTS = ['amperes', 'phases', 'hangingPoints', 'hangingLoads'];

    /** British thermal units an hour in a watt (ISO 31-4). */
    private const BTU_PER_HOUR = 3.412141633;

    /**
     * @param  list<CableRun>  $power
     * @param  list<CableRun>  $data
     * @param  array<string, mixed>  $figures  by the names of NUMBERS and LISTS, lengths in metres but for openingMm;
     *     null where there is none
     * @param  list<string>  $remarks  sentences for what goes past a limit
     */
    private function __construct(
        public array $power,
        public array $data,
        public array $figures,
        public array $remarks,
    ) {
    }

    public static function of(Wall $wall, Feeding $feeding): self
    {
        $remarks = [];
        $runs = static function (\Closure $make) use (&$remarks): array {
            try {
                return $make();
            } catch (InvalidValue $refused) {
                $remarks[] = $refused->getMessage();

                return [];
            }
        };
        /** @var list<CableRun> $power */
        $power = $runs(static fn (): array => $feeding->power($wall));
        /** @var list<CableRun> $data */
        $data = $runs(static fn (): array => $feeding->data($wall));
        $figures = $wall->figures();
        $curve = $wall->curvature();
        $lines = $feeding->supply->lines(array_map(static fn (CableRun $r): float => $r->load, $power));
        $inrush = static fn (array $cells): float => array_sum(
            array_map(static fn (array $cell): float => $wall->cells[$cell[0]][$cell[1]]->inrushAmperes ?? 0.0, $cells),
        );
        $opening = 0.0;
        foreach ($wall->cells as $r => $row) {
            foreach ($row as $c => $panel) {
                if ($panel === null) {
                    continue;
                }
                if (abs($panel->pitchX() - $panel->pitchY()) > 0.005) {
                    $remarks["pitch $panel->name"] = sprintf(
                        '"%s" has %.2f mm of pitch across and %.2f mm down.',
                        $panel->name,
                        $panel->pitchX(),
                        $panel->pitchY(),
                    );
                }
                // A joint is where two panels meet; beside a gap there is none.
                $next = $row[$c + 1] ?? null;
                if ($next === null) {
                    continue;
                }
                $seam = $wall->seams[$c];
                $opening = max($opening, Curvature::opening($panel->depthMm, $seam, $next->depthMm));
                foreach ($seam == 0.0 ? [] : [$panel, $next] as $one) {
                    if (! $one->allowsJoint($seam)) {
                        $remarks["joint $c"] ??= sprintf(
                            'Seam %d stands at %s°; "%s" allows %s° to %s°.',
                            $c + 1,
                            round($seam, 2),
                            $one->name,
                            $one->jointMin,
                            $one->jointMax,
                        );
                    }
                }
            }
        }
        if ($lines['unbalance'] > 0.2 && count($power) >= $feeding->supply->phases) {
            $remarks[] = sprintf('The most loaded phase bears %.0f %% more than the mean.', $lines['unbalance'] * 100);
        }
        $hung = null;
        if ($feeding->hangingPoints !== '') {
            try {
                $hung = Suspension::of($wall, $feeding->hangingPoints, $feeding->rigging);
                $hung->tips &&
                    ($remarks[] =
                        'With these hanging points one would be lifted, at the latest when another is lost: the wall tips.');
            } catch (InvalidValue $refused) {
                $remarks[] = $refused->getMessage();
            }
        }
        $pitch = max($figures->pitchX, $figures->pitchY);

        return new self(
            $power,
            $data,
            [
                'arc' => $curve->arc,
                'chord' => $curve->chord,
                'depth' => $curve->depth,
                'turn' => $curve->turn,
                'radiusAtSeams' => $curve->radiusAtSeams,
                'radiusAtFaces' => $curve->radiusAtFaces,
                'openingMm' => $opening,
                'kilogramsPerSquareMetre' => $figures->kilograms / $figures->areaSquareMetres,
                'wattsPerSquareMetre' => $figures->wattsMaximum / $figures->areaSquareMetres,
                'circuits' => count($power),
                'panelsPerCircuit' => $power === [] ? 0 : max(array_map(static fn (CableRun $r): int => count($r->cells), $power)),
                'wattsPerCircuit' => $feeding->supply->wattsPerCircuit(),
                'amperes' => $lines['amperes'],
                'neutralAmperes' => $lines['neutral'],
                'kilovoltAmperes' => $feeding->supply->apparent($figures->wattsMaximum),
                'inrushAmperes' => $power === [] ? 0.0 : max(array_map(static fn (CableRun $r): float => $inrush($r->cells), $power)),
                'phases' => $lines['watts'],
                'unbalance' => $lines['unbalance'],
                'heatWatts' => $figures->wattsMaximum,
                'heatBtuPerHour' => $figures->wattsMaximum * self::BTU_PER_HOUR,
                'powerMetres' => array_sum(array_column($power, 'metres')),
                'longestPowerMetres' => max([0.0, ...array_column($power, 'metres')]),
                'dataMetres' => array_sum(array_column($data, 'metres')),
                'longestDataMetres' => max([0.0, ...array_column($data, 'metres')]),
                'hangingPoints' => $hung->points ?? [],
                'hangingLoads' => $hung->loads ?? [],
                'hangingOneLost' => $hung->oneLost ?? 0.0,
                'ports' => count($data) * ($feeding->spareData ? 2 : 1),
                'panelsPerPort' => $data === [] ? 0 : max(array_map(static fn (CableRun $r): int => count($r->cells), $data)),
                'pixelsPerPort' => $feeding->link->pixels(),
                'nearest' => Viewing::nearest($pitch),
                'vanishing' => Viewing::vanishing($pitch),
                'widthAtNearest' => Viewing::widthTakenIn(Viewing::nearest($pitch), $feeding->viewAngle),
                'widthAtVanishing' => Viewing::widthTakenIn(Viewing::vanishing($pitch), $feeding->viewAngle),
            ],
            array_values($remarks),
        );
    }
}

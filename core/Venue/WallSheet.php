<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Refused;

/** All that the people who build a wall plan by, beyond its figures. */
final readonly class WallSheet
{
    /**
     * @param  list<CableRun>  $power
     * @param  list<CableRun>  $data
     * @param  array<string, mixed>  $figures
     * @param  list<string>  $remarks  sentences for what goes past a limit
     */
    private function __construct(public array $power, public array $data, public array $figures, public array $remarks)
    {
    }

    public static function of(Wall $wall, Feeding $feeding): self
    {
        $remarks = [];
        $runs = static function (\Closure $make) use (&$remarks): array {
            try {
                return $make();
            } catch (Refused $refused) {
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
        $phases = $feeding->supply->phases(array_map(static fn (CableRun $r): float => $r->load, $power));
        [$opening, $inrush] = [0.0, 0.0];
        foreach ($wall->cells as $row) {
            foreach ($row as $c => $panel) {
                if ($panel === null) {
                    continue;
                }
                $inrush += $panel->inrushAmperes;
                $seam = $wall->seams[$c] ?? 0.0;
                $opening = max($opening, Curvature::opening($panel->depthMm, $seam));
                if ($seam != 0.0 && ! $panel->allowsJoint($seam)) {
                    $remarks[sprintf('joint %d', $c)] = sprintf('Seam %d stands at %s°; "%s" allows %s° to %s°.', $c + 1, round($seam, 2), $panel->name, $panel->jointLeast, $panel->jointMost);
                }
                if (abs($panel->pitchX() - $panel->pitchY()) > 0.005) {
                    $remarks["pitch $panel->name"] = sprintf('"%s" has %.2f mm of pitch across and %.2f mm down.', $panel->name, $panel->pitchX(), $panel->pitchY());
                }
            }
        }
        if ($phases['unbalance'] > 0.2 && count($power) >= $feeding->supply->phases) {
            $remarks[] = sprintf('The most loaded phase bears %.0f %% more than the mean.', $phases['unbalance'] * 100);
        }
        $pitch = max($figures->pitchX, $figures->pitchY);

        return new self($power, $data, [
            'arc' => $curve->arc, 'chord' => $curve->chord, 'depth' => $curve->depth, 'turn' => $curve->turn,
            'radiusAtSeams' => $curve->radiusAtSeams, 'radiusAtFaces' => $curve->radiusAtFaces, 'openingMm' => $opening,
            'kilogramsPerSquareMetre' => $figures->kilograms / $figures->areaSquareMetres,
            'wattsPerSquareMetre' => $figures->wattsMaximum / $figures->areaSquareMetres,
            'circuits' => count($power), 'panelsPerCircuit' => $power === [] ? 0 : max(array_map(static fn (CableRun $r): int => count($r->cells), $power)),
            'wattsPerCircuit' => $feeding->supply->wattsPerCircuit(), 'amperes' => $feeding->supply->current($figures->wattsMaximum), 'inrushAmperes' => $inrush,
            'phases' => $phases['watts'], 'unbalance' => $phases['unbalance'],
            'ports' => count($data), 'panelsPerPort' => $data === [] ? 0 : max(array_map(static fn (CableRun $r): int => count($r->cells), $data)), 'pixelsPerPort' => $feeding->link->pixels(),
            'nearest' => Viewing::nearest($pitch), 'vanishing' => Viewing::vanishing($pitch),
            'widthAtNearest' => Viewing::widthTakenIn(Viewing::nearest($pitch), $feeding->viewAngle), 'widthAtVanishing' => Viewing::widthTakenIn(Viewing::vanishing($pitch), $feeding->viewAngle),
        ], array_values($remarks));
    }
}

<?php

declare(strict_types=1);

namespace Core\Geometry;

/** The edges by which the shape of a mesh is drawn: where it ends, and where it breaks. */
final class Edges
{
    /**
     * @param  float  $crease  degrees from which a break counts
     * @return list<array{int, int}> vertices
     */
    public static function of(Mesh $mesh, float $crease = 20): array
    {
        $p = $mesh->positions;
        $place = [];
        for ($i = 0, $n = $mesh->vertexCount(); $i < $n; $i++) {
            $place[] = round($p[3 * $i], 5).' '.round($p[3 * $i + 1], 5).' '.round($p[3 * $i + 2], 5);
        }
        $edges = [];
        for ($t = 0, $n = count($mesh->indices); $t < $n; $t += 3) {
            [$a, $b, $c] = [$mesh->indices[$t], $mesh->indices[$t + 1], $mesh->indices[$t + 2]];
            $normal = Vec3::of(...$mesh->normal(intdiv($t, 3)));
            foreach ([[$a, $b], [$b, $c], [$c, $a]] as [$from, $to]) {
                $key = $place[$from] < $place[$to] ? "$place[$from]|$place[$to]" : "$place[$to]|$place[$from]";
                $edges[$key][] = [$from, $to, $normal];
            }
        }
        $limit = cos(deg2rad($crease));
        [$kept, $single] = [[], []];
        foreach ($edges as $uses) {
            if (count($uses) === 1) {
                $single[] = $uses[0];
            } elseif (count($uses) !== 2 || $uses[0][2]->dot($uses[1][2]) < $limit) {
                $kept[] = [$uses[0][0], $uses[0][1]];
            }
        }

        // Two planes that end on one another there have the same edge: it is drawn once.
        $once = [];
        foreach ([...$kept, ...self::ends($mesh, $single)] as [$a, $b]) {
            $once[$place[$a] < $place[$b] ? "$place[$a]|$place[$b]" : "$place[$b]|$place[$a]"] ??= [$a, $b];
        }

        return array_values($once);
    }

    /**
     * Of edges that one triangle has, the parts where its plane ends: where two of one plane lie along one another with
     * other corners, the shape goes on.
     *
     * @param  list<array{int, int, Vec3}>  $edges  vertices, and the normal of the triangle
     * @return list<array{int, int}>
     */
    private static function ends(Mesh $mesh, array $edges): array
    {
        $lines = [];
        foreach ($edges as [$a, $b, $normal]) {
            [$from, $to] = [$mesh->position($a), $mesh->position($b)];
            $along = $to->minus($from)->unit();
            if (
                $along->x < -1e-6 ||
                (abs($along->x) <= 1e-6 && ($along->y < -1e-6 || (abs($along->y) <= 1e-6 && $along->z < 0)))
            ) {
                [$a, $b, $from, $to, $along] = [$b, $a, $to, $from, $along->times(-1)];
            }
            $foot = $from->minus($along->times($from->dot($along)));
            $key = implode(
                ' ',
                array_map(static fn (float $v): string => sprintf('%.4f', round($v, 4) + 0.0), [
                    ...$along->toArray(),
                    ...$foot->toArray(),
                    ...$normal->toArray(),
                ]),
            );
            $lines[$key][] = [$from->dot($along), $to->dot($along), $a, $b];
        }
        $kept = [];
        foreach ($lines as $line) {
            if (count($line) === 1) {
                $kept[] = [$line[0][2], $line[0][3]];

                continue;
            }
            $stops = [];
            foreach ($line as [$from, $to, $a, $b]) {
                $stops[sprintf('%.5f', $from)] = [$from, $a];
                $stops[sprintf('%.5f', $to)] = [$to, $b];
            }
            usort($stops, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
            for ($i = 0; $i + 1 < count($stops); $i++) {
                $middle = ($stops[$i][0] + $stops[$i + 1][0]) / 2;
                $over = count(array_filter($line, static fn (array $e): bool => $e[0] < $middle && $e[1] > $middle));
                if ($over === 1) {
                    $kept[] = [$stops[$i][1], $stops[$i + 1][1]];
                }
            }
        }

        return $kept;
    }
}

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
            $normal = $mesh->position($b)->minus($mesh->position($a))->cross($mesh->position($c)->minus($mesh->position($a)))->unit();
            foreach ([[$a, $b], [$b, $c], [$c, $a]] as [$from, $to]) {
                $key = $place[$from] < $place[$to] ? "$place[$from]|$place[$to]" : "$place[$to]|$place[$from]";
                $edges[$key][] = [$from, $to, $normal];
            }
        }
        $limit = cos(deg2rad($crease));
        $kept = [];
        foreach ($edges as $uses) {
            if (count($uses) !== 2 || $uses[0][2]->dot($uses[1][2]) < $limit) {
                $kept[] = [$uses[0][0], $uses[0][1]];
            }
        }

        return $kept;
    }
}

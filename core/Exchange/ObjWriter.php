<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;

/**
 * Meshes as Wavefront OBJ: metres, Y up, one named group each. Our UVs have their origin at the top left; the
 * format's is at the bottom left, so V is turned here and nowhere else.
 */
final class ObjWriter
{
    /** @param  list<array{name: string, mesh: Mesh, matrix: Mat4}>  $parts */
    public static function write(array $parts, string $title): string
    {
        $out = '# '.self::plain($title)."\n# metres, Y up\n";
        $first = 1;
        $used = [];
        foreach ($parts as $part) {
            $name = preg_replace('/\s+/u', '_', self::plain($part['name'])) ?: 'part';
            $used[$name] = ($used[$name] ?? 0) + 1;
            $out .= "o $name".($used[$name] > 1 ? "_$used[$name]" : '')."\n";
            $mesh = $part['mesh']->moved($part['matrix']);
            $uvs = '';
            for ($i = 0; $i < $mesh->vertexCount(); $i++) {
                $out .= sprintf(
                    "v %.6f %.6f %.6f\n",
                    $mesh->positions[3 * $i],
                    $mesh->positions[3 * $i + 1],
                    $mesh->positions[3 * $i + 2],
                );
                $uvs .= sprintf("vt %.8f %.8f\n", $mesh->uvs[2 * $i], 1 - $mesh->uvs[2 * $i + 1]);
            }
            $out .= $uvs;
            foreach (array_chunk($mesh->indices, 3) as $triangle) {
                $out .=
                    'f '.
                    implode(' ', array_map(static fn (int $i): string => $i + $first.'/'.($i + $first), $triangle)).
                    "\n";
            }
            $first += $mesh->vertexCount();
        }

        return $out;
    }

    private static function plain(string $text): string
    {
        return trim((string) preg_replace('/[\x00-\x1f#]+/u', ' ', $text));
    }
}

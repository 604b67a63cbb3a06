<?php

declare(strict_types=1);

namespace App\Media;

use Core\Exchange\ObjReader;
use Core\Geometry\Mesh;
use Core\Units\InvalidValue;

/**
 * Models as they were read: numbers of vertices and triangles, then places, UVs (32-bit floats) and indices (32-bit),
 * little-endian.
 */
final class ModelStore
{
    /**
     * Reads an OBJ and keeps its triangles.
     *
     * @param  \Closure(float): void  $progress  told the share that is read; may throw to stop
     * @return array<string, mixed> kind, vertices, triangles, least, most, area, hasUvs, groups, remarks
     *
     * @throws InvalidValue
     */
    public static function make(MediaStore $store, string $hash, \Closure $progress): array
    {
        $path = $store->original($hash);
        $bytes = max(1, (int) filesize($path));
        $handle = fopen($path, 'rb') ?: throw InvalidValue::because('file', 'The file can\'t be read.');
        try {
            $read = ObjReader::read(
                (static function () use ($handle) {
                    while (($line = fgets($handle, ObjReader::LONGEST_LINE + 2)) !== false) {
                        yield $line;
                    }
                })(),
                static fn () => $progress((0.9 * (int) ftell($handle)) / $bytes),
            );
        } finally {
            fclose($handle);
        }
        $mesh = $read['mesh'];
        file_put_contents($store->model($hash), self::pack($mesh));
        [$min, $max] = $mesh->bounds();

        return [
            'kind' => 'model',
            'vertices' => $mesh->vertexCount(),
            'triangles' => $mesh->triangleCount(),
            'min' => $min,
            'max' => $max,
            'area' => $mesh->area(),
            'hasUvs' => $read['hasUvs'],
            'groups' => array_slice($read['groups'], 0, 1000),
            'remarks' => $read['remarks'],
        ];
    }

    public static function pack(Mesh $mesh): string
    {
        $out = pack('V2', $mesh->vertexCount(), $mesh->triangleCount());
        foreach ([['g*', $mesh->positions], ['g*', $mesh->uvs], ['V*', $mesh->indices]] as [$how, $numbers]) {
            foreach (array_chunk($numbers, 65_536) as $some) {
                $out .= pack($how, ...$some);
            }
        }

        return $out;
    }

    /** @return array{positions: string, uvs: string, indices: string} */
    public static function read(string $hash): array
    {
        $bytes = (string) file_get_contents(MediaStore::ofConfig()->model($hash));
        ['v' => $vertices, 't' => $triangles] = unpack('Vv/Vt', $bytes) ?: ['v' => 0, 't' => 0];

        return [
            'positions' => substr($bytes, 8, 12 * $vertices),
            'uvs' => substr($bytes, 8 + 12 * $vertices, 8 * $vertices),
            'indices' => substr($bytes, 8 + 20 * $vertices, 12 * $triangles),
        ];
    }
}

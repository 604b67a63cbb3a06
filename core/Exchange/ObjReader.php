<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Geometry\Mesh;
use Core\Units\InvalidValue;

/**
 * Reads Wavefront OBJ: groups and objects, UVs, normals, polygons of any number of corners, indices counted from
 * either end. V is turned here, as the format's UVs have their origin at the bottom left.
 */
final class ObjReader
{
    public const MAX_BYTES = 200 * 1024 * 1024;

    public const MAX_TRIANGLES = 2_000_000;

    /** Corners of one face: cutting it into triangles takes as long as their number squared. */
    public const MAX_CORNERS = 4096;

    /** Bytes of one line, with those that it goes on on. */
    public const LONGEST_LINE = 262_144;

    /** @var list<float> */
    private array $v = [];

    /** @var list<float> */
    private array $vt = [];

    /** @var list<float> */
    private array $vn = [];

    /** @var list<float> */
    private array $positions = [];

    /** @var list<float> */
    private array $uvs = [];

    /** @var list<int> */
    private array $indices = [];

    /** @var array<int, int> vertex of the mesh by place and UV */
    private array $known = [];

    /** @var list<array{name: string, first: int}> */
    private array $groups = [];

    private string $group = '';

    private int $degenerate = 0;

    private int $polygons = 0;

    private int $against = 0;

    private int $along = 0;

    /** Coordinates that are read, in what the file counts in. */
    private const FARTHEST = 10_000_000;

    private bool $anyWithout = false;

    private function __construct()
    {
    }

    /**
     * @param  iterable<string>  $lines
     * @param  (\Closure(int): void)|null  $progress  told the number of the line, now and then; may throw to stop
     * @return array{mesh: Mesh, groups: list<array{name: string, first: int, triangles: int}>, hasUvs: bool, remarks: list<string>}
     *
     * @throws InvalidValue naming file, with the line
     */
    public static function read(iterable $lines, ?\Closure $progress = null): array
    {
        $reader = new self();
        $number = 0;
        $held = '';
        foreach ($lines as $line) {
            $number++;
            if ($progress !== null && (strlen($line) > 1000 || $number % 5_000 === 0)) {
                $progress($number);
            }
            $line = rtrim($line, "\r\n");
            if (strlen($held) + strlen($line) > self::LONGEST_LINE) {
                throw InvalidValue::because(
                    'file',
                    "Line $number is longer than ".number_format(self::LONGEST_LINE).' bytes.',
                );
            }
            if (str_ends_with($line, '\\')) {
                $held .= substr($line, 0, -1).' ';

                continue;
            }
            $reader->line($held.$line, $number);
            $held = '';
        }
        if ($held !== '') {
            $reader->line($held, $number);
        }

        return $reader->result();
    }

    private function line(string $line, int $number): void
    {
        if ($number === 1 && str_starts_with($line, "\xEF\xBB\xBF")) {
            $line = substr($line, 3);
        }
        // A remark goes to the end of its line; in names, # is a sign like any other.
        $parts =
            preg_split(
                '/\s+/',
                trim(preg_match('/^\s*[go]\s/', $line) === 1 ? $line : explode('#', $line, 2)[0]),
                -1,
                PREG_SPLIT_NO_EMPTY,
            ) ?:
            [];
        switch ($parts[0] ?? '#') {
            case 'v':
                $this->numbers($this->v, $parts, 3, $number);
                break;
            case 'vt':
                $this->numbers($this->vt, $parts, 2, $number);
                break;
            case 'vn':
                $this->numbers($this->vn, $parts, 3, $number);
                break;
            case 'g':
            case 'o':
                $this->group = mb_scrub(implode(' ', array_slice($parts, 1)));
                break;
            case 'f':
                $this->face(array_slice($parts, 1), $number);
                break;
        }
    }

    /**
     * @param  list<float>  $into
     * @param  list<string>  $parts
     */
    private function numbers(array &$into, array $parts, int $count, int $number): void
    {
        for ($i = 1; $i <= $count; $i++) {
            $text = $parts[$i] ?? ($count === 2 && $i === 2 ? '0' : '');
            if (! is_numeric($text) || ! is_finite((float) $text)) {
                throw InvalidValue::because('file', "Line $number: \"$parts[0]\" needs $count numbers.");
            }
            if (abs((float) $text) > self::FARTHEST) {
                throw InvalidValue::because(
                    'file',
                    "Line $number: $text lies beyond ±".
                        number_format(self::FARTHEST).
                        '. Export the model in metres, near its origin.',
                );
            }
            $into[] = (float) $text;
        }
    }

    /** @param  list<string>  $corners */
    private function face(array $corners, int $number): void
    {
        if (count($corners) > self::MAX_CORNERS) {
            throw InvalidValue::because(
                'file',
                "Line $number: a face of ".
                    number_format(count($corners)).
                    ' corners; at most '.
                    number_format(self::MAX_CORNERS).
                    ' are read. Export the model in triangles.',
            );
        }
        if (count($corners) < 3) {
            throw InvalidValue::because('file', "Line $number: a face has at least three corners.");
        }
        [$vertices, $normals] = [[], []];
        foreach ($corners as $corner) {
            $ids = explode('/', $corner);
            $v = $this->index($ids[0], intdiv(count($this->v), 3), 'vertex', $number);
            $vt = ($ids[1] ?? '') === '' ? -1 : $this->index($ids[1], intdiv(count($this->vt), 2), 'UV', $number);
            if (($ids[2] ?? '') !== '') {
                $normals[] = $this->index($ids[2], intdiv(count($this->vn), 3), 'normal', $number);
            }
            $this->anyWithout = $this->anyWithout || $vt < 0;
            $key = $v * 4_294_967_296 + $vt + 1;
            $vertex = $this->known[$key] ?? null;
            if ($vertex === null) {
                $vertex = $this->known[$key] = intdiv(count($this->positions), 3);
                array_push($this->positions, $this->v[3 * $v], $this->v[3 * $v + 1], $this->v[3 * $v + 2]);
                array_push($this->uvs, $vt < 0 ? 0.0 : $this->vt[2 * $vt], $vt < 0 ? 0.0 : 1 - $this->vt[2 * $vt + 1]);
            }
            $vertices[] = $vertex;
        }
        if (count($corners) > 3) {
            $this->polygons++;
        }
        $normal = $this->newell($vertices);
        if ($normal === null) {
            $this->degenerate++;

            return;
        }
        if ($normals !== []) {
            $n = 3 * $normals[0];
            $same = $normal[0] * $this->vn[$n] + $normal[1] * $this->vn[$n + 1] + $normal[2] * $this->vn[$n + 2];
            $same < 0 ? $this->against++ : $this->along++;
        }
        if ($this->groups === [] || $this->groups[count($this->groups) - 1]['name'] !== $this->group) {
            $this->groups[] = ['name' => $this->group, 'first' => intdiv(count($this->indices), 3)];
        }
        foreach ($this->ears($vertices, $normal) as $triangle) {
            array_push($this->indices, ...$triangle);
        }
        if (count($this->indices) > 3 * self::MAX_TRIANGLES) {
            throw InvalidValue::because(
                'file',
                'The model has more than '.number_format(self::MAX_TRIANGLES).' triangles; export it with fewer.',
            );
        }
    }

    private function index(string $text, int $count, string $what, int $number): int
    {
        $i = filter_var($text, FILTER_VALIDATE_INT);
        $at = is_int($i) ? ($i < 0 ? $count + $i : $i - 1) : -1;
        if ($at < 0 || $at >= $count) {
            throw InvalidValue::because('file', "Line $number names $what \"$text\", which is not there.");
        }

        return $at;
    }

    /**
     * The normal of a polygon by Newell's sum; null where it has no area.
     *
     * @param  list<int>  $vertices
     * @return array{float, float, float}|null
     */
    private function newell(array $vertices): ?array
    {
        [$x, $y, $z, $size] = [0.0, 0.0, 0.0, 0.0];
        $p = $this->positions;
        $before = 3 * $vertices[count($vertices) - 1];
        foreach ($vertices as $vertex) {
            $i = 3 * $vertex;
            $x += ($p[$before + 1] - $p[$i + 1]) * ($p[$before + 2] + $p[$i + 2]);
            $y += ($p[$before + 2] - $p[$i + 2]) * ($p[$before] + $p[$i]);
            $z += ($p[$before] - $p[$i]) * ($p[$before + 1] + $p[$i + 1]);
            $size = max(
                $size,
                abs($p[$before] - $p[$i]),
                abs($p[$before + 1] - $p[$i + 1]),
                abs($p[$before + 2] - $p[$i + 2]),
            );
            $before = $i;
        }

        return sqrt($x * $x + $y * $y + $z * $z) < 1e-9 * max($size * $size, 1e-12) ? null : [$x, $y, $z];
    }

    /**
     * A polygon cut into triangles, ear by ear (Meisters 1975), so that corners that go in are kept.
     *
     * @param  list<int>  $vertices
     * @param  array{float, float, float}  $normal
     * @return list<array{int, int, int}>
     */
    private function ears(array $vertices, array $normal): array
    {
        if (count($vertices) === 3) {
            return [[$vertices[0], $vertices[1], $vertices[2]]];
        }
        // Looked at along the axis that the polygon faces most, keeping its turn.
        [$ax, $ay, $az] = array_map(abs(...), $normal);
        [$i, $j, $sign] =
            $az >= $ax && $az >= $ay ? [0, 1, $normal[2]] : ($ax >= $ay ? [1, 2, $normal[0]] : [2, 0, $normal[1]]);
        $turn = $sign < 0 ? -1 : 1;
        $at = fn (int $v): array => [$this->positions[3 * $v + $i], $turn * $this->positions[3 * $v + $j]];
        $cross = static fn (array $a, array $b, array $c): float => ($b[0] - $a[0]) * ($c[1] - $a[1]) -
            ($b[1] - $a[1]) * ($c[0] - $a[0]);
        $out = [];
        $left = $vertices;
        while (count($left) > 3) {
            $n = count($left);
            $ear = null;
            for ($k = 0; $k < $n && $ear === null; $k++) {
                [$a, $b, $c] = [$left[($k + $n - 1) % $n], $left[$k], $left[($k + 1) % $n]];
                [$pa, $pb, $pc] = [$at($a), $at($b), $at($c)];
                if ($cross($pa, $pb, $pc) <= 0) {
                    continue;
                }
                $ear = $k;
                foreach ($left as $other) {
                    if ($other !== $a && $other !== $b && $other !== $c) {
                        $p = $at($other);
                        if (
                            $p !== $pa &&
                            $p !== $pb &&
                            $p !== $pc &&
                            $cross($pa, $pb, $p) >= 0 &&
                            $cross($pb, $pc, $p) >= 0 &&
                            $cross($pc, $pa, $p) >= 0
                        ) {
                            $ear = null;
                            break;
                        }
                    }
                }
            }
            // A polygon that crosses itself has no ear: it is cut as a fan.
            $k = $ear ?? 1;
            $out[] = [$left[($k + $n - 1) % $n], $left[$k], $left[($k + 1) % $n]];
            array_splice($left, $k, 1);
        }
        $out[] = [$left[0], $left[1], $left[2]];

        return $out;
    }

    /**
     * @return array{mesh: Mesh, groups: list<array{name: string, first: int, triangles: int}>, hasUvs: bool, remarks: list<string>}
     */
    private function result(): array
    {
        $triangles = intdiv(count($this->indices), 3);
        if ($triangles === 0) {
            throw InvalidValue::because('file', 'This model contains no faces.');
        }
        $remarks = [];
        if ($this->degenerate > 0) {
            $remarks[] = "$this->degenerate faces without area were left out.";
        }
        if ($this->polygons > 0) {
            $remarks[] = "$this->polygons polygons were cut into triangles.";
        }
        $hasUvs = $this->vt !== [] && ! $this->anyWithout;
        if (! $hasUvs) {
            $remarks[] =
                $this->vt === []
                    ? 'The model has no UVs; they are made here.'
                    : 'Some faces have no UVs; all are made here.';
        } elseif ($this->uvs !== [] && (min($this->uvs) < -1e-6 || max($this->uvs) > 1 + 1e-6)) {
            $remarks[] = sprintf(
                'Some UVs lie outside 0 to 1 (from %.2f to %.2f); what lies outside shows the edge of the raster.',
                min($this->uvs),
                max($this->uvs),
            );
            $this->uvs = array_map(static fn (float $c): float => max(0.0, min(1.0, $c)), $this->uvs);
        }
        if ($this->against > 0 && $this->against >= 9 * $this->along) {
            $this->indices = Mesh::wound($this->indices);
            $remarks[] = 'The faces wind against their normals, as after mirroring; they were turned round.';
        } elseif ($this->against > 0) {
            $remarks[] = "$this->against faces wind against their normals.";
        }
        $mesh = Mesh::of($this->positions, $this->uvs, $this->indices);
        [$min, $max] = $mesh->bounds();
        $size = max($max[0] - $min[0], $max[1] - $min[1], $max[2] - $min[2]);
        if ($size > 1000) {
            $remarks[] = sprintf(
                'It is %s m large as it stands: the file is probably in %s.',
                number_format($size),
                $size > 20_000 ? 'millimetres' : 'centimetres',
            );
        } elseif ($size < 0.05) {
            $remarks[] = sprintf(
                'It is only %.1f mm large as it stands: the file is probably in kilometres or another unit.',
                $size * 1000,
            );
        }
        $groups = [];
        foreach ($this->groups as $i => $group) {
            $groups[] = $group + ['triangles' => ($this->groups[$i + 1]['first'] ?? $triangles) - $group['first']];
        }

        return ['mesh' => $mesh, 'groups' => $groups, 'hasUvs' => $hasUvs, 'remarks' => $remarks];
    }
}

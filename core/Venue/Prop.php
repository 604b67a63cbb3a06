<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;
use Core\Geometry\MeshMaker;
use Core\Units\Check;
use Core\Units\InvalidValue;

/** A thing that carries no picture, but stands in the light. The origin is the middle of its bottom. */
final readonly class Prop
{
    /** Names of its settings. */
    public const SETTINGS = ['width', 'height', 'depth', 'radius', ...Model::SETTINGS];

    public const KINDS = ['box', 'cylinder', 'model'];

    private function __construct(public string $name, public string $kind, private Mesh|Model $form)
    {
    }

    /**
     * @param  array<string, mixed>  $row  name, kind, shape: width, height, depth (m), or radius and height; a model
     *     brings its mesh
     */
    public static function fromRow(array $row): self
    {
        $kind = (string) ($row['kind'] ?? 'box');
        $s = new Settings((array) ($row['shape'] ?? []));
        $form = match ($kind) {
            'box' => self::box(
                $s->number('width', 1, 0.01, 500, 'm') / 2,
                $s->number('height', 1, 0.01, 500, 'm'),
                $s->number('depth', 1, 0.01, 500, 'm') / 2,
            ),
            'cylinder' => self::cylinder(
                $s->number('radius', 0.5, 0.005, 250, 'm'),
                $s->number('height', 1, 0.01, 500, 'm'),
            ),
            'model' => Model::fromRow($row),
            default => throw InvalidValue::notOneOf('kind', $kind, self::KINDS),
        };

        return new self(Check::name('name', (string) $row['name']), $kind, $form);
    }

    /** Its triangles; those of a model are read when somebody asks. */
    public function mesh(): Mesh
    {
        return $this->form instanceof Model ? $this->form->mesh() : $this->form;
    }

    private static function box(float $w, float $h, float $d): Mesh
    {
        $m = new MeshMaker();
        $side = static fn (array ...$corners) => $m->add(
            ...array_map(static fn (array $c): array => [$c[0], $c[1], $c[2], 0.0, 0.0], $corners),
        );
        $side([-$w, 0.0, $d], [$w, 0.0, $d], [$w, $h, $d], [-$w, $h, $d]);
        $side([$w, 0.0, -$d], [-$w, 0.0, -$d], [-$w, $h, -$d], [$w, $h, -$d]);
        $side([-$w, 0.0, -$d], [-$w, 0.0, $d], [-$w, $h, $d], [-$w, $h, -$d]);
        $side([$w, 0.0, $d], [$w, 0.0, -$d], [$w, $h, -$d], [$w, $h, $d]);
        $side([-$w, $h, $d], [$w, $h, $d], [$w, $h, -$d], [-$w, $h, -$d]);
        $side([-$w, 0.0, -$d], [$w, 0.0, -$d], [$w, 0.0, $d], [-$w, 0.0, $d]);

        return $m->mesh();
    }

    private static function cylinder(float $radius, float $h): Mesh
    {
        $m = new MeshMaker();
        for ($i = 0; $i < 32; $i++) {
            [$a, $b] = [(2 * M_PI * $i) / 32, (2 * M_PI * ($i + 1)) / 32];
            [$x0, $z0, $x1, $z1] = [$radius * sin($a), $radius * cos($a), $radius * sin($b), $radius * cos($b)];
            $m->add(
                [$x0, 0.0, $z0, 0.0, 0.0],
                [$x1, 0.0, $z1, 0.0, 0.0],
                [$x1, $h, $z1, 0.0, 0.0],
                [$x0, $h, $z0, 0.0, 0.0],
            );
            $m->add([$x0, $h, $z0, 0.0, 0.0], [$x1, $h, $z1, 0.0, 0.0], [0.0, $h, 0.0, 0.0, 0.0]);
            $m->add([$x1, 0.0, $z1, 0.0, 0.0], [$x0, 0.0, $z0, 0.0, 0.0], [0.0, 0.0, 0.0, 0.0, 0.0]);
        }

        return $m->mesh();
    }
}

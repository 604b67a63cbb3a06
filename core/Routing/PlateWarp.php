<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Values\Property;

/**
 * A small warp of a plate by a grid of three by three points: what is seen at a place of the lens's picture is what
 * the plate has a little before it. The corners carry everything between them along in straight lines; the points
 * between them bend it and leave the corners where they are (the Lagrange basis of second degree). Beyond its edges
 * the plate is moved as at the nearest.
 */
final readonly class PlateWarp
{
    private const POINTS = [
        'TopLeft' => 'top left',
        'Top' => 'top',
        'TopRight' => 'top right',
        'Left' => 'left',
        'Middle' => 'middle',
        'Right' => 'right',
        'BottomLeft' => 'bottom left',
        'Bottom' => 'bottom',
        'BottomRight' => 'bottom right',
    ];

    /**
     * @param  list<float>  $by  how far each point is moved right and down, as shares of the picture, in reading order
     */
    private function __construct(private array $by)
    {
    }

    /** @param  \Closure(string): float  $value  of the lens, by name */
    public static function of(\Closure $value): self
    {
        return new self(array_map(static fn (Property $property): float => $value($property->name), self::properties()));
    }

    /** @return list<Property> in reading order, X before Y */
    public static function properties(): array
    {
        $properties = [];
        foreach (self::POINTS as $point => $label) {
            foreach (['X', 'Y'] as $axis) {
                $properties[] = Property::portion("warp$point$axis", "Warp $label $axis", -0.25, 0.25);
            }
        }

        return $properties;
    }

    /**
     * How far what is seen at a place was moved to get there.
     *
     * @return array{float, float} right and down, as shares of the picture
     */
    public function at(float $u, float $v): array
    {
        [$u, $v] = [max(0.0, min(1.0, $u)), max(0.0, min(1.0, $v))];
        [$us, $vs] = [self::basis($u), self::basis($v)];
        $weights = [
            (1 - $u) * (1 - $v),
            $us[1] * $vs[0],
            $u * (1 - $v),
            $us[0] * $vs[1],
            $us[1] * $vs[1],
            $us[2] * $vs[1],
            (1 - $u) * $v,
            $us[1] * $vs[2],
            $u * $v,
        ];
        [$x, $y] = [0.0, 0.0];
        foreach ($weights as $i => $weight) {
            [$x, $y] = [$x + $weight * $this->by[2 * $i], $y + $weight * $this->by[2 * $i + 1]];
        }

        return [$x, $y];
    }

    /** @return array{float, float, float} */
    private static function basis(float $t): array
    {
        return [(2 * $t - 1) * ($t - 1), 4 * $t * (1 - $t), $t * (2 * $t - 1)];
    }
}

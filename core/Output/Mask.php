<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Polygon;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A shape on the raster of a surface or an output that lets light through within it or, inverted, keeps it off there. It has
 * nodes with handles; between two nodes runs a cubic Bézier curve, straight where both handles are none. Over the feather, half
 * on either side of the line and a pixel at least, light rises as 3t² − 2t³. Of several masks on one raster, those that are not
 * inverted are joined (the strongest counts), and each inverted one takes away what lies within it.
 */
final readonly class Mask
{
    public const MAX_NODES = 100;

    /** Straight pieces of one curve. */
    private const PIECES = 12;

    /** Numbers of a node: its place, and its handles before and after, from it. */
    public const NUMBERS = 6;

    /**
     * @param  list<array{float, float, float, float, float, float}>  $nodes  px
     * @param  float  $feather  px
     */
    private function __construct(public string $name, public array $nodes, public float $feather, public bool $inverted)
    {
    }

    /**
     * @param  list<float>  $numbers  six a node
     *
     * @throws InvalidValue
     */
    public static function of(string $name, array $numbers, float $feather = 0, bool $inverted = false): self
    {
        if (count($numbers) % self::NUMBERS !== 0 || count($numbers) < 3 * self::NUMBERS || count($numbers) > self::MAX_NODES * self::NUMBERS) {
            throw InvalidValue::because('nodes', 'A mask has 3 to '.self::MAX_NODES.' nodes of six numbers: its place, and its handles before and after.');
        }
        foreach ($numbers as $v) {
            Check::number('nodes', $v, -65_536, 65_536, 'px');
        }

        return new self(Check::name('name', $name), array_map(static fn (array $n): array => [$n[0], $n[1], $n[2], $n[3], $n[4], $n[5]], array_chunk($numbers, self::NUMBERS)), Check::number('feather', $feather, 0, 4096, 'px'), $inverted);
    }

    /**
     * Its line as straight pieces.
     *
     * @return non-empty-list<array{float, float}>
     */
    public function line(): array
    {
        $line = [];
        foreach ($this->nodes as $i => [$x, $y, , , $ox, $oy]) {
            [$ex, $ey, $ix, $iy] = $this->nodes[($i + 1) % count($this->nodes)];
            $line[] = [$x, $y];
            if ($ox === 0.0 && $oy === 0.0 && $ix === 0.0 && $iy === 0.0) {
                continue;
            }
            for ($k = 1; $k < self::PIECES; $k++) {
                $t = $k / self::PIECES;
                [$a, $b, $c, $d] = [(1 - $t) ** 3, 3 * $t * (1 - $t) ** 2, 3 * $t * $t * (1 - $t), $t ** 3];
                $line[] = [$a * $x + $b * ($x + $ox) + $c * ($ex + $ix) + $d * $ex, $a * $y + $b * ($y + $oy) + $c * ($ey + $iy) + $d * $ey];
            }
        }

        return $line === [] ? [[0.0, 0.0]] : $line;
    }

    /**
     * How much of the light it lets through at a place of the raster, 0 to 1, its inversion not heeded.
     *
     * @param  non-empty-list<array{float, float}>  $line
     */
    public static function within(array $line, float $feather, float $x, float $y): float
    {
        $t = max(0.0, min(1.0, Polygon::depth($line, $x, $y) / max(1.0, $feather) + 0.5));

        return $t * $t * (3 - 2 * $t);
    }

    /**
     * What several masks let through together: the strongest of those that are not inverted, times what each inverted one leaves.
     *
     * @param  list<array{line: non-empty-list<array{float, float}>, feather: float, inverted: bool}>  $masks
     */
    public static function light(array $masks, float $x, float $y): float
    {
        [$through, $left] = [null, 1.0];
        foreach ($masks as ['line' => $line, 'feather' => $feather, 'inverted' => $inverted]) {
            $within = self::within($line, $feather, $x, $y);
            if ($inverted) {
                $left *= 1 - $within;
            } else {
                $through = max($through ?? 0.0, $within);
            }
        }

        return ($through ?? 1.0) * $left;
    }
}

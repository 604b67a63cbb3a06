<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A shape on the raster of a surface or an output that lets light through within it or, inverted, keeps it off there.
 * It has nodes with handles; between two nodes runs a cubic Bézier curve, straight where both handles are none. Or it
 * is painted: a picture over the whole raster, white where light goes through.
 */
final readonly class Mask
{
    public const MAX_NODES = 100;

    /** Straight pieces of one curve. */
    private const PIECES = 12;

    /** Numbers of a node: its place, and its handles before and after, from it. */
    public const NUMBERS = 6;

    /**
     * @param  list<array{float, float, float, float, float, float}>  $nodes  px; none of a painted one
     * @param  float  $feather  px
     * @param  string  $image  key of the shares that a picture says; "" of a shape
     */
    private function __construct(
        public string $name,
        public array $nodes,
        public float $feather,
        public bool $inverted,
        public string $image,
    ) {
    }

    /**
     * @param  list<float>  $numbers  six a node
     *
     * @throws InvalidValue
     */
    public static function of(
        string $name,
        array $numbers,
        float $feather = 0,
        bool $inverted = false,
        string $image = '',
    ): self {
        if ($image !== '') {
            if ($numbers !== [] || preg_match('/^[0-9a-f]{64}$/D', $image) !== 1) {
                throw InvalidValue::because('image', 'A painted mask has the key of its picture, and no nodes.');
            }

            return new self(
                Check::name('name', $name),
                [],
                Check::number('feather', $feather, 0, 4096, 'px'),
                $inverted,
                $image,
            );
        }
        if (
            count($numbers) % self::NUMBERS !== 0 ||
            count($numbers) < 3 * self::NUMBERS ||
            count($numbers) > self::MAX_NODES * self::NUMBERS
        ) {
            throw InvalidValue::because(
                'nodes',
                'A mask has 3 to '.
                    self::MAX_NODES.
                    ' nodes of six numbers: its place, and its handles before and after.',
            );
        }
        foreach ($numbers as $v) {
            Check::number('nodes', $v, -65_536, 65_536, 'px');
        }

        return new self(
            Check::name('name', $name),
            array_map(
                static fn (array $n): array => [$n[0], $n[1], $n[2], $n[3], $n[4], $n[5]],
                array_chunk($numbers, self::NUMBERS),
            ),
            Check::number('feather', $feather, 0, 4096, 'px'),
            $inverted,
            '',
        );
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
                $line[] = [
                    $a * $x + $b * ($x + $ox) + $c * ($ex + $ix) + $d * $ex,
                    $a * $y + $b * ($y + $oy) + $c * ($ey + $iy) + $d * $ey,
                ];
            }
        }

        return $line === [] ? [[0.0, 0.0]] : $line;
    }
}

<?php

declare(strict_types=1);

namespace Core\Media;

/** A still of 8-bit RGBA, display-encoded, straight alpha, rows from the top. */
final readonly class Picture
{
    private function __construct(public int $width, public int $height, public string $bytes)
    {
    }

    public static function of(int $width, int $height, string $rgba): self
    {
        if ($width < 1 || $height < 1 || strlen($rgba) !== 4 * $width * $height) {
            throw new \InvalidArgumentException(
                "A picture of $width × $height px is not ".strlen($rgba).' bytes long.',
            );
        }

        return new self($width, $height, $rgba);
    }

    /** @param  array{int, int, int}  $rgb 0 to 255 */
    public static function solid(int $width, int $height, array $rgb): self
    {
        return new self($width, $height, str_repeat(pack('C4', $rgb[0], $rgb[1], $rgb[2], 255), $width * $height));
    }

    /** @return array{int, int, int, int} red, green, blue, alpha, 0 to 255; beyond the edge, the nearest pixel */
    public function pixel(int $x, int $y): array
    {
        $at = 4 * (max(0, min($this->height - 1, $y)) * $this->width + max(0, min($this->width - 1, $x)));

        return [
            ord($this->bytes[$at]),
            ord($this->bytes[$at + 1]),
            ord($this->bytes[$at + 2]),
            ord($this->bytes[$at + 3]),
        ];
    }

    /**
     * Linear interpolation between the four nearest pixel centres, alpha premultiplied.
     *
     * @return array{float, float, float, float} 0 to 1
     */
    public function sample(float $u, float $v): array
    {
        $x = $u * $this->width - 0.5;
        $y = $v * $this->height - 0.5;
        [$x0, $y0] = [(int) floor($x), (int) floor($y)];
        [$fx, $fy] = [$x - $x0, $y - $y0];
        $sum = [0.0, 0.0, 0.0, 0.0];
        foreach (
            [[0, 0, (1 - $fx) * (1 - $fy)], [1, 0, $fx * (1 - $fy)], [0, 1, (1 - $fx) * $fy], [1, 1, $fx * $fy]] as [$dx, $dy, $weight]
        ) {
            [$r, $g, $b, $a] = $this->pixel($x0 + $dx, $y0 + $dy);
            $sum[0] += $weight * $r * $a;
            $sum[1] += $weight * $g * $a;
            $sum[2] += $weight * $b * $a;
            $sum[3] += $weight * $a;
        }

        return [$sum[0] / 65025, $sum[1] / 65025, $sum[2] / 65025, $sum[3] / 255];
    }
}

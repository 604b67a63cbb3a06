<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Media\PatternPicture;
use Core\Media\Picture;
use Core\Timeline\MaskKey;

/**
 * What a layer's picture is cut out by: another media that lies over it as large as it is, moved, scaled about its
 * middle and blurred, of which the lightness, the alpha or the nearness to a colour says how much of the picture is
 * there. Beyond its edge there is nothing; an edge that lies within the picture is as soft as what is within the
 * mask, by the share of the square over which it is averaged that lies within. An edge that lies on the picture's own
 * has nothing to be soft against, and between the two it goes over from one to the other.
 *
 * With k the lightness (ITU-R BT.709, display-encoded, premultiplied) or the alpha, and w the key width, what is
 * there is (k − ½) / w + ½ between 0 and 1; of a colour, with d the largest difference of red, green and blue, 2 − 2
 * d / w.
 */
final readonly class LayerMask
{
    /** The narrowest key: a step of eight bits. */
    private const NARROWEST = 1 / 255;

    /**
     * @param  string  $media  key of its part
     * @param  array{float, float, float}  $colour  red, green, blue, 0 to 1
     * @param  float  $x  how far it is moved, as a share of the picture's width; y of its height
     * @param  float  $feather  the side of the square over which it is averaged, as a share of its width
     */
    public function __construct(
        public string $media,
        public int $frame,
        public MaskKey $key,
        public bool $inverted,
        public float $width,
        public array $colour,
        public float $x,
        public float $y,
        public float $scale,
        public float $feather,
        public ?PatternPicture $pattern = null,
    ) {
    }

    /**
     * How much of the picture is there, 0 to 1.
     *
     * @param  float  $u  place in the picture's unit square
     * @param  float  $across  how much of its width one pixel of the raster covers, down of its height
     */
    public function at(Picture|PatternPicture|null $picture, float $u, float $v, float $across, float $down): float
    {
        if ($this->scale <= 0 || $picture === null) {
            return $this->inverted ? 1.0 : 0.0;
        }
        [$mu, $mv] = $this->place($u, $v);
        $share = $this->within($mu, $mv, $picture->width / $picture->height);
        $there =
            $share <= 0
                ? 0.0
                : $share *
                    $this->of(
                        ReferenceRaster::average(
                            $picture,
                            $mu,
                            $mv,
                            ...$this->covers($across, $down, $picture->width, $picture->height),
                        ),
                    );

        return $this->inverted ? 1 - $there : $there;
    }

    /** @return array{float, float} a place of the picture's unit square in that of the mask; its scale is not 0 */
    public function place(float $u, float $v): array
    {
        return [($u - 0.5 - $this->x) / $this->scale + 0.5, ($v - 0.5 - $this->y) / $this->scale + 0.5];
    }

    /**
     * How much of the square over which it is averaged lies within the mask, 0 to 1.
     *
     * @param  float  $mu  place in the mask's unit square
     * @param  float  $shape  width of the mask's picture by its height
     */
    public function within(float $mu, float $mv, float $shape): float
    {
        $across =
            $this->side($mu, $this->place(0, 0)[0], $this->feather) +
            $this->side(1 - $mu, 1 - $this->place(1, 0)[0], $this->feather, false) -
            1;
        $down =
            $this->side($mv, $this->place(0, 0)[1], $this->feather * $shape) +
            $this->side(1 - $mv, 1 - $this->place(0, 1)[1], $this->feather * $shape, false) -
            1;

        return max(0.0, $across) * max(0.0, $down);
    }

    /**
     * @param  float  $inside  how far a place lies inside of an edge
     * @param  float  $picture  how far the picture's own edge lies inside of it; below 0 it lies outside
     * @param  bool  $first  whether what lies on the edge is within
     */
    private function side(float $inside, float $picture, float $feather, bool $first = true): float
    {
        $hard = $inside > 0 || ($first && $inside === 0.0) ? 1.0 : 0.0;
        if ($feather <= 0 || $picture >= 0) {
            return $hard;
        }
        $soft = max(0.0, min(1.0, $inside / $feather + 0.5));
        $part = min(1.0, -$picture / ($feather / 2));

        return $part * $soft + (1 - $part) * $hard;
    }

    /**
     * Over how many pixels of the mask's picture it is averaged.
     *
     * @param  float  $across  how much of the picture's width one pixel of the raster covers, down of its height
     * @return array{float, float} across and down
     */
    public function covers(float $across, float $down, int $width, int $height): array
    {
        return [
            max($across / $this->scale, $this->feather) * $width,
            max(($down / $this->scale) * $height, $this->feather * $width),
        ];
    }

    /** The same for all that cut out the same; a pattern's own values are not in it. */
    public function key(): string
    {
        return " mask $this->media $this->frame {$this->key->value} ".
            ($this->inverted ? 'inverted' : '').
            pack('e*', $this->width, ...$this->colour, ...[$this->x, $this->y, $this->scale, $this->feather]);
    }

    /**
     * What a sample of the mask says.
     *
     * @param  array{float, float, float, float}  $sample  premultiplied
     */
    public function of(array $sample): float
    {
        [$r, $g, $b, $a] = $sample;
        $width = max(self::NARROWEST, $this->width);
        $there = match ($this->key) {
            MaskKey::Alpha => ($a - 0.5) / $width + 0.5,
            MaskKey::Colour => 2 -
                (2 * max(abs($r - $this->colour[0]), abs($g - $this->colour[1]), abs($b - $this->colour[2]))) / $width,
            MaskKey::Lightness => (0.2126 * $r + 0.7152 * $g + 0.0722 * $b - 0.5) / $width + 0.5,
        };

        return max(0.0, min(1.0, $there));
    }
}

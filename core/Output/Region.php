<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Homography;
use Core\Geometry\Mat3;
use Core\Geometry\Polygon;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * Where pixels of a surface land on an output. A part of the surface's raster (a rectangle, or a polygon within it)
 * is mirrored and turned by quarters onto a rectangle of the output, its place; a grid of Bézier patches bends that
 * in units of the place, and a corner pin carries the bent place onto the output in perspective.
 */
final readonly class Region
{
    public const TURNS = [0, 90, 180, 270];

    public const MAX_CORNERS = 200;

    /** Pixels by which a corner may be pinned elsewhere. */
    public const MAX_PIN = 32_768.0;

    /**
     * @param  int  $turn  degrees clockwise
     * @param  bool  $mirror  left and right of the source exchanged, before it is turned
     * @param  list<array{float, float}>  $polygon  corners on the surface's raster, in pixels; empty for the whole
     *     source
     * @param  list<array{float, float}>  $pin  by how much the corners of the place are moved: top left, top right,
     *     bottom right, bottom left; empty for none
     * @param  BezierGrid|null  $grid  null where nothing is bent
     * @param  BezierGrid|null  $lines  its lines and points, also where they bend nothing yet
     * @param  bool  $pinned  whether packing leaves it where it is
     * @param  string  $model  key of the warp that was computed from the venue; empty for none
     * @param  string  $modelOf  key of what that was computed of, whether it is levelled (1), and the limit in degrees
     */
    private function __construct(
        public string $surface,
        public Rect $source,
        public Rect $place,
        public int $turn,
        public bool $mirror,
        public array $polygon,
        public array $pin,
        public ?BezierGrid $grid,
        public ?BezierGrid $lines,
        public bool $pinned,
        public EdgeBlend $blend,
        public string $model,
        public string $modelOf,
    ) {
    }

    /**
     * @param  int  $width  on the output; 0 for that of the source
     * @param  list<array{float, float}>  $polygon
     * @param  list<array{float, float}>  $pin
     *
     * @throws InvalidValue
     */
    public static function of(
        string $surface,
        Rect $source,
        int $x,
        int $y,
        int $width = 0,
        int $height = 0,
        int $turn = 0,
        bool $mirror = false,
        array $polygon = [],
        array $pin = [],
        ?BezierGrid $grid = null,
        bool $pinned = false,
        ?EdgeBlend $blend = null,
        string $model = '',
        string $modelOf = '',
    ): self {
        if (! in_array($turn, self::TURNS, true)) {
            throw InvalidValue::because('turn', "A region is turned by 0, 90, 180 or 270 degrees; it was $turn.");
        }
        $across = $turn % 180 === 0;
        [$w, $h] = [
            $width === 0 ? ($across ? $source->width : $source->height) : $width,
            $height === 0 ? ($across ? $source->height : $source->width) : $height,
        ];
        $place = Rect::of($x, $y, $w, $h);
        if ($polygon !== []) {
            Check::whole('polygon', count($polygon), 3, self::MAX_CORNERS, 'corners');
            foreach ($polygon as [$px, $py]) {
                if (
                    $px < $source->x ||
                    $py < $source->y ||
                    $px > $source->x + $source->width ||
                    $py > $source->y + $source->height
                ) {
                    throw InvalidValue::because(
                        'polygon',
                        sprintf(
                            'The corner at %s, %s lies outside the source of the region.',
                            round($px, 2),
                            round($py, 2),
                        ),
                    );
                }
            }
            if (abs(Polygon::doubleArea($polygon)) < 2 || Polygon::crossesItself($polygon)) {
                throw InvalidValue::because(
                    'polygon',
                    'The polygon of a region must not cross itself, and has to have an area of a pixel at least.',
                );
            }
        }
        $pin = array_filter($pin, static fn (array $p): bool => $p[0] !== 0.0 || $p[1] !== 0.0) === [] ? [] : $pin;
        if ($pin !== []) {
            foreach ($pin as [$dx, $dy]) {
                Check::number('pin', $dx, -self::MAX_PIN, self::MAX_PIN, 'px');
                Check::number('pin', $dy, -self::MAX_PIN, self::MAX_PIN, 'px');
            }
            if (self::square($place, $pin) === null) {
                throw InvalidValue::because(
                    'pin',
                    'The four corners of a region have to stay a convex shape, in their order.',
                );
            }
        }
        if ($model !== '' && preg_match('/^[0-9a-f]{64}$/D', $model) !== 1) {
            throw InvalidValue::because('model', 'The computed warp of a region is named by a SHA-256 hash.');
        }

        return new self(
            $surface,
            $source,
            $place,
            $turn,
            $mirror,
            $polygon,
            $pin,
            $grid?->isPlain() === true ? null : $grid,
            $grid,
            $pinned,
            $blend ?? EdgeBlend::none(),
            $model,
            $modelOf,
        );
    }

    /** Whether each pixel of the source is one of the output, upright: nothing has to be sampled between pixels. */
    public function isPlain(): bool
    {
        return $this->turn === 0 &&
            ! $this->mirror &&
            $this->polygon === [] &&
            $this->pin === [] &&
            $this->grid === null &&
            $this->model === '' &&
            $this->isOneToOne();
    }

    /** Whether one pixel of the source takes one of the output, apart from what bends it. */
    public function isOneToOne(): bool
    {
        return $this->turn % 180 === 0
            ? $this->place->width === $this->source->width && $this->place->height === $this->source->height
            : $this->place->width === $this->source->height && $this->place->height === $this->source->width;
    }

    public function isWarped(): bool
    {
        return $this->pin !== [] || $this->grid !== null || $this->model !== '';
    }

    /** Pixels of the surface's raster onto the unit square of the place. */
    public function unit(): Mat3
    {
        $s = $this->source;
        $onto = Mat3::of([
            1 / $s->width,
            0.0,
            -$s->x / $s->width,
            0.0,
            1 / $s->height,
            -$s->y / $s->height,
            0.0,
            0.0,
            1.0,
        ]);
        $turned = match ($this->turn) {
            90 => Mat3::of([0.0, -1.0, 1.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0]),
            180 => Mat3::of([-1.0, 0.0, 1.0, 0.0, -1.0, 1.0, 0.0, 0.0, 1.0]),
            270 => Mat3::of([0.0, 1.0, 0.0, -1.0, 0.0, 1.0, 0.0, 0.0, 1.0]),
            default => Mat3::identity(),
        };
        $mirrored = $this->mirror ? Mat3::of([-1.0, 0.0, 1.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0]) : Mat3::identity();

        return $turned->times($mirrored)->times($onto);
    }

    /** The unit square of the place, as it is bent, onto pixels of the output. */
    public function pinned(): Mat3
    {
        return ($this->pin === [] ? null : self::square($this->place, $this->pin)) ??
            Mat3::rectangle($this->place->x, $this->place->y, $this->place->width, $this->place->height);
    }

    /**
     * The output as its corners are pinned, onto it as they are not: where what was computed of a place that is seen at a
     * pixel is looked up.
     */
    public function unpinned(): Mat3
    {
        $back = $this->pin === [] ? null : $this->pinned()->inverse();

        return $back === null
            ? Mat3::identity()
            : Mat3::rectangle($this->place->x, $this->place->y, $this->place->width, $this->place->height)->times(
                $back,
            );
    }

    /**
     * Where a pixel of the surface's raster lands on the output by what is set by hand.
     *
     * @return array{float, float}
     */
    public function lands(float $x, float $y): array
    {
        [$u, $v] = $this->unit()->point($x, $y);
        [$u, $v] = $this->grid?->at($u, $v) ?? [$u, $v];

        return $this->pinned()->point($u, $v);
    }

    /**
     * Corners of the place where they are pinned: top left, top right, bottom right, bottom left.
     *
     * @return list<array{float, float}>
     */
    public function corners(): array
    {
        return self::pinnedCorners($this->place, $this->pin);
    }

    /** @param  list<array{float, float}>  $pin */
    private static function square(Rect $place, array $pin): ?Mat3
    {
        [$a, $b, $c, $d] = self::pinnedCorners($place, $pin);

        return Homography::ofSquare([$a, $b, $c, $d]);
    }

    /**
     * @param  list<array{float, float}>  $pin
     * @return array{array{float, float}, array{float, float}, array{float, float}, array{float, float}}
     */
    private static function pinnedCorners(Rect $place, array $pin): array
    {
        [$x, $y, $w, $h] = [$place->x, $place->y, $place->width, $place->height];
        $at = static fn (int $i, float $px, float $py): array => [
            $px + ($pin[$i][0] ?? 0.0),
            $py + ($pin[$i][1] ?? 0.0),
        ];

        return [$at(0, $x, $y), $at(1, $x + $w, $y), $at(2, $x + $w, $y + $h), $at(3, $x, $y + $h)];
    }
}

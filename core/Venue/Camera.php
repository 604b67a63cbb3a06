<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;

/** What films the show, fixed or tracked. Looks along its own -Z. */
final readonly class Camera
{
    /**
     * @param  float  $sensorWidth  millimetres
     * @param  float  $focal  focal length in millimetres
     * @param  int  $pixels  of the sensor across
     * @param  float  $focus  metres that are focused
     * @param  bool  $tracked  whether its pose comes from a tracking system during the show
     */
    private function __construct(
        public string $name,
        public float $sensorWidth,
        public float $sensorHeight,
        public float $focal,
        public bool $tracked,
        public int $pixels,
        public float $fNumber,
        public float $focus,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  name, sensorWidth, sensorHeight (mm), focal (mm), tracked, pixels, fNumber,
     *     focus (m)
     */
    public static function fromRow(array $row): self
    {
        return new self(
            Check::name('name', (string) $row['name']),
            Check::number('sensorWidth', (float) ($row['sensorWidth'] ?? 36), 1, 200, 'mm'),
            Check::number('sensorHeight', (float) ($row['sensorHeight'] ?? 20.25), 1, 200, 'mm'),
            Check::number('focal', (float) ($row['focal'] ?? 35), 1, 3000, 'mm'),
            (bool) ($row['tracked'] ?? false),
            Check::whole('pixels', (int) ($row['pixels'] ?? 3840), 100, 65_536, 'px'),
            Check::number('fNumber', (float) ($row['fNumber'] ?? 2.8), 0.5, 64),
            Check::number('focus', (float) ($row['focus'] ?? 10), 0.05, 10_000, 'm'),
        );
    }

    /**
     * @return list<array{float, float}> rays through the corners of its picture, x and y for one metre along its
     *     axis: top left, top right, bottom right, bottom left
     */
    public function corners(): array
    {
        [$w, $h] = [$this->sensorWidth / 2 / $this->focal, $this->sensorHeight / 2 / $this->focal];

        return [[-$w, $h], [$w, $h], [$w, -$h], [-$w, -$h]];
    }

    /** Degrees taken in across: 2 · atan(w / 2f). */
    public function angleAcross(): float
    {
        return rad2deg(2 * atan($this->sensorWidth / 2 / $this->focal));
    }

    public function angleDown(): float
    {
        return rad2deg(2 * atan($this->sensorHeight / 2 / $this->focal));
    }

    /** Metres that its picture takes in across at a distance: d · w / f. */
    public function widthAt(float $distance): float
    {
        return ($distance * $this->sensorWidth) / $this->focal;
    }

    /** With the usual circle of confusion, the sensor's diagonal over 1500. */
    public function depthOfField(): Focus
    {
        return Focus::of(
            $this->focal,
            $this->fNumber,
            hypot($this->sensorWidth, $this->sensorHeight) / 1500,
            $this->focus,
        );
    }

    /** The angle across, in degrees, that a focal length takes in: 2 atan(w / 2f). */
    public static function angleFor(float $sensorWidth, float $focal): float
    {
        Check::number('sensorWidth', $sensorWidth, 1, 200, 'mm');
        Check::number('focal', $focal, 1, 3000, 'mm');

        return rad2deg(2 * atan($sensorWidth / 2 / $focal));
    }

    /** The focal length in millimetres that takes in an angle across. */
    public static function focalFor(float $sensorWidth, float $degrees): float
    {
        Check::number('sensorWidth', $sensorWidth, 1, 200, 'mm');
        Check::number('angle', $degrees, 0.5, 170, 'degrees');

        return $sensorWidth / 2 / tan(deg2rad($degrees) / 2);
    }
}

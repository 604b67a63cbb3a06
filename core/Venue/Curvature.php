<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * How a wall of flat panels curves in its seams, measured on the LED face. Angles in degrees, positive where the wall
 * turns toward the audience (concave); lengths in metres.
 *
 * For equal panels of width w at equal angles θ: the circle through the seams has R = w / (2 sin(θ/2)), the one that
 * touches the middles of the faces w / (2 tan(θ/2)).
 */
final readonly class Curvature
{
    /**
     * @param  float  $arc  along the faces
     * @param  float  $chord  from end to end
     * @param  float  $depth  how far the wall leaves its chord at most; of a closed wall, how far it goes from where
     *     it closes
     * @param  float  $turn  of all seams together
     * @param  float|null  $radiusAtSeams  where all panels are equally wide and all seams equal; null otherwise and
     *     for a flat wall
     * @param  float|null  $radiusAtFaces  likewise
     */
    private function __construct(
        public float $arc,
        public float $chord,
        public float $depth,
        public float $turn,
        public ?float $radiusAtSeams,
        public ?float $radiusAtFaces,
    ) {
    }

    /**
     * @param  non-empty-list<float>  $widths  of the columns
     * @param  list<float>  $seams  one fewer
     */
    public static function of(array $widths, array $seams): self
    {
        $outline = self::outline($widths, $seams);
        [$x, $z] = $outline[count($widths)];
        $chord = hypot($x, $z);
        $depth = 0.0;
        // Where the ends meet but for rounding, the chord has no direction.
        $closed = $chord <= 1e-6 * array_sum($widths);
        foreach ($outline as [$px, $pz]) {
            $depth = max($depth, $closed ? hypot($px, $pz) : abs($x * $pz - $z * $px) / $chord);
        }
        $even =
            $seams !== [] && $seams[0] != 0.0 && max($seams) - min($seams) < 1e-9 && max($widths) - min($widths) < 1e-9;
        $half = $even ? abs(deg2rad($seams[0])) / 2 : 0.0;

        return new self(
            array_sum($widths),
            $chord,
            $depth,
            array_sum($seams),
            $even ? $widths[0] / (2 * sin($half)) : null,
            $even ? $widths[0] / (2 * tan($half)) : null,
        );
    }

    /**
     * The face seen from above, from its left end at 0, 0, turned so that its two ends look to the middle alike.
     *
     * @param  non-empty-list<float>  $widths  of the columns
     * @param  list<float>  $seams  one fewer
     * @return non-empty-list<array{float, float}> x and z of each seam and of both ends
     */
    public static function outline(array $widths, array $seams): array
    {
        [$x, $z, $heading] = [0.0, 0.0, -deg2rad(array_sum($seams) / 2)];
        $points = [[$x, $z]];
        foreach ($widths as $i => $width) {
            $x += $width * cos($heading);
            $z += $width * sin($heading);
            $points[] = [$x, $z];
            $heading += deg2rad($seams[$i] ?? 0.0);
        }

        return $points;
    }

    /**
     * The angle of each seam with which equal panels meet a radius through their seams.
     *
     * @param  float  $radius  metres, negative for a convex wall
     */
    public static function seamForRadius(float $width, float $radius): float
    {
        Check::number('width', $width, 0.001, 100, 'm');
        Check::number('radius', abs($radius), $width / 2 + 1e-9, 10_000, 'm');

        return ($radius < 0 ? -1 : 1) * rad2deg(2 * asin($width / (2 * abs($radius))));
    }

    /**
     * Equal seams that turn a wall by an angle in all.
     *
     * @return list<float>
     */
    public static function seamsForTurn(int $columns, float $degrees): array
    {
        Check::number('turn', $degrees, -360, 360, 'degrees');
        if ($columns < 2) {
            throw InvalidValue::because('turn', 'A wall of one column has no seam to turn in.');
        }

        return array_fill(0, $columns - 1, $degrees / ($columns - 1));
    }

    /**
     * What a joint of two panels leaves open, in millimetres. A concave joint turns about the faces and opens at the
     * backs, by √(d₁² + d₂² − 2 d₁ d₂ cos θ); a convex one turns about where the backs meet, at the depth of the
     * shallower panel, and opens at the faces by 2 · d · sin(θ/2). For equal depths both are 2 · d · sin(θ/2).
     */
    public static function opening(float $depthMm, float $degrees, ?float $otherMm = null): float
    {
        $other = $otherMm ?? $depthMm;
        $angle = deg2rad($degrees);

        return $degrees < 0
            ? 2 * min($depthMm, $other) * sin(-$angle / 2)
            : sqrt(max(0.0, ($depthMm - $other) ** 2 + 4 * $depthMm * $other * sin($angle / 2) ** 2));
    }
}

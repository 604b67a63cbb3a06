<?php

declare(strict_types=1);

namespace Core\Routing;

/**
 * Two lenses at one place that look side by side, or one above the other: by how many degrees their pictures overlap,
 * and how many degrees their feathers take there. A feather that takes more than the overlap is dark where only one
 * of them throws.
 *
 * With a and b the tangents of an edge and of where its feather ends, on the picture plane at distance 1, the angles
 * are atan(a) and atan(b) from where the lens looks.
 */
final readonly class LensOverlap
{
    /** Metres within which two lenses are at one place. */
    private const NEAR = 0.05;

    /** Degrees by which they may be turned otherwise and still lie side by side. */
    private const LEVEL = 0.5;

    private function __construct(
        public VirtualLens $first,
        public VirtualLens $second,
        public float $degrees,
        public float $firstFeather,
        public float $secondFeather,
    ) {
    }

    /** Whether a feather takes more than there is. */
    public function isDark(): bool
    {
        return max($this->firstFeather, $this->secondFeather) > $this->degrees + 0.01;
    }

    /**
     * Overlaps of neighbours.
     *
     * @param  list<VirtualLens>  $lenses  of a route
     * @param  array{int, int}  $pane
     * @return list<self>
     */
    public static function of(array $lenses, array $pane): array
    {
        $found = [];
        foreach ($lenses as $a) {
            foreach (['yaw', 'pitch'] as $axis) {
                $next = null;
                foreach ($lenses as $b) {
                    $by = self::turned($a, $b, $axis);
                    if ($b !== $a && $by !== null && $by > self::LEVEL && ($next === null || $by < $next[1])) {
                        $next = [$b, $by];
                    }
                }
                $one = $next === null ? null : self::between($a, $next[0], $next[1], $axis, $pane);
                $one !== null && ($found[] = $one);
            }
        }

        return $found;
    }

    /**
     * By how many degrees the second looks further left, or up, than the first; null where they do not lie side by
     * side on this axis.
     */
    private static function turned(VirtualLens $a, VirtualLens $b, string $axis): ?float
    {
        $difference = static fn (string $name): float => fmod(
            self::value($b, $name) - self::value($a, $name) + 540,
            360,
        ) - 180;
        $away = hypot(self::value($b, 'x') - self::value($a, 'x'), self::value($b, 'y') - self::value($a, 'y'));
        $away = hypot($away, self::value($b, 'z') - self::value($a, 'z'));
        $other = $axis === 'yaw' ? 'pitch' : 'yaw';

        return $a->rig !== $b->rig ||
            $away > self::NEAR ||
            abs($difference($other)) > self::LEVEL ||
            abs($difference('roll')) > self::LEVEL ||
            abs(self::value($a, 'roll')) > self::LEVEL
            ? null
            : $difference($axis);
    }

    /**
     * @param  float  $by  degrees by which the second looks further left, or up
     * @param  array{int, int}  $pane
     */
    private static function between(VirtualLens $a, VirtualLens $b, float $by, string $axis, array $pane): ?self
    {
        // The first's edge toward the second, and the second's toward the first.
        [$aEdge, $aFeather] = self::edge($a, $axis, true, $pane);
        [$bEdge, $bFeather] = self::edge($b, $axis, false, $pane);
        $overlap = $aEdge + $bEdge - $by;

        return $overlap <= 0 ? null : new self($a, $b, $overlap, $aFeather, $bFeather);
    }

    /**
     * Degrees from where a lens looks to its edge toward the left or the top, or the other way, and how many of them
     * its feather takes.
     *
     * @param  array{int, int}  $pane
     * @return array{float, float}
     */
    private static function edge(VirtualLens $lens, string $axis, bool $toward, array $pane): array
    {
        [, , $width, $height] = $lens->rectangle($pane);
        $half = tan(deg2rad(self::value($lens, 'angle')) / 2) * ($axis === 'yaw' ? 1 : $height / max(1, $width));
        $shift =
            2 *
            self::value($lens, $axis === 'yaw' ? 'shiftX' : 'shiftY') *
            ($axis === 'yaw' ? ($toward ? -1 : 1) : ($toward ? 1 : -1));
        $side =
            $axis === 'yaw' ? ($toward ? 'featherLeft' : 'featherRight') : ($toward ? 'featherTop' : 'featherBottom');
        $edge = $half * (1 + $shift);
        $inner = $edge - 2 * $half * self::value($lens, $side);

        return [rad2deg(atan($edge)), rad2deg(atan($edge) - atan($inner))];
    }

    private static function value(VirtualLens $lens, string $name): float
    {
        return $lens->stored[$name][0] ?? VirtualLens::properties()->named($name)->default;
    }
}

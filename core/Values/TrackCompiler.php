<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Flicks;

/**
 * Makes tracks of curves. Steps, straight lines and smooth keyframes are exact with one piece; the shapes of Béziers
 * recur, so their pieces are kept.
 */
final class TrackCompiler
{
    private const KEPT = 4096;

    /** @var array<string, non-empty-list<array{float, float, float, float, float}>> */
    private array $shapes = [];

    public function compile(Curve $curve, Property $property): Track
    {
        ['times' => $times, 'values' => $values, 'ways' => $ways] = get_object_vars($curve);
        $starts = [];
        $c = [];
        $mixes = $property->type->mixes();
        $last = count($times) - 1;
        if ($last === 0) {
            return Track::constant($values[0]);
        }
        for ($i = 0; $i < $last; $i++) {
            $time = $times[$i];
            $value = $values[$i];
            $rise = $values[$i + 1] - $value;
            $span = $times[$i + 1] - $time;
            $seconds = $span / Flicks::PER_SECOND;
            $way = $mixes ? $ways[$i] : Interpolation::Step;
            if ($rise === 0.0 && ($way !== Interpolation::Bezier || ! isset($curve->handles[$i]))) {
                $way = Interpolation::Step;
            }
            if ($way === Interpolation::Bezier) {
                foreach (
                    $this->shape($curve->handles[$i] ?? Keyframe::EASY, $value, $rise, $property) as [$share, $p0, $p1, $p2, $p3]
                ) {
                    // It begins at the first flick that lies in it, from where it is counted anew.
                    $start = (int) ceil($share * $span);
                    if ($start >= $span) {
                        break;
                    }
                    if ($starts !== [] && $starts[count($starts) - 1] === $time + $start) {
                        // A piece without a flick of its own gives way to the next.
                        array_pop($starts);
                        array_splice($c, -4);
                    }
                    $d = $start / $span - $share;
                    $starts[] = $time + $start;
                    $c[] = $value + $rise * ((($p3 * $d + $p2) * $d + $p1) * $d + $p0);
                    $c[] = ($rise * ((3 * $p3 * $d + 2 * $p2) * $d + $p1)) / $seconds;
                    $c[] = ($rise * (3 * $p3 * $d + $p2)) / ($seconds * $seconds);
                    $c[] = ($rise * $p3) / ($seconds * $seconds * $seconds);
                }

                continue;
            }
            $starts[] = $time;
            $c[] = $value;
            if ($way === Interpolation::Linear) {
                $c[] = $rise / $seconds;
                $c[] = 0.0;
                $c[] = 0.0;
            } elseif ($way === Interpolation::Smooth) {
                $c[] = 0.0;
                $c[] = (3 * $rise) / ($seconds * $seconds);
                $c[] = (-2 * $rise) / ($seconds * $seconds * $seconds);
            } else {
                $c[] = 0.0;
                $c[] = 0.0;
                $c[] = 0.0;
            }
        }
        $starts[] = $times[$last];
        array_push($c, $values[$last], 0.0, 0.0, 0.0);

        return Track::of($starts, $c, $property->wide);
    }

    /**
     * The pieces of a Bézier for a rise, from those kept when they are exact enough: tolerances are brought down to a
     * power of two, so that few differ.
     *
     * @param  array{float, float, float, float}  $handles
     * @return non-empty-list<array{float, float, float, float, float}>
     */
    private function shape(array $handles, float $value, float $rise, Property $property): array
    {
        if ($rise === 0.0) {
            return [[0.0, 0.0, 0.0, 0.0, 0.0]];
        }
        $tolerance = $property->tolerance / abs($rise);
        $level = max(-40, min(4, (int) floor(log($tolerance, 2))));
        $key = $level.' '.implode(' ', $handles);
        // Only handles outside the box can carry it past its ends, and so out of its range.
        if ($handles[1] < 0 || $handles[1] > 1 || $handles[3] < 0 || $handles[3] > 1) {
            $limits = [($property->min - $value) / $rise, ($property->max - $value) / $rise];
            sort($limits);
            [$min, $max] = BezierPieces::reach($handles);
            if ($min < $limits[0] || $max > $limits[1]) {
                return BezierPieces::of($handles, 2.0 ** $level, $limits[0], $limits[1]);
            }
        }
        if (! isset($this->shapes[$key])) {
            if (count($this->shapes) >= self::KEPT) {
                $this->shapes = [];
            }
            $this->shapes[$key] = BezierPieces::of($handles, 2.0 ** $level);
        }

        return $this->shapes[$key];
    }
}

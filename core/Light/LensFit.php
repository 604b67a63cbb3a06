<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Lens;

/** How a projector has to stand, zoom and shift so that its picture just covers a face; and what of it can't be met. */
final readonly class LensFit
{
    /**
     * @param  Pose  $pose  in the venue
     * @param  float  $throw  that would be needed; what the lens has not, it is brought to
     * @param  float  $distance  metres along the axis to the middle of the face
     * @param  list<string>  $says  what can't be met, and what to do; empty: all is met
     */
    private function __construct(
        public Pose $pose,
        public float $throw,
        public float $shiftX,
        public float $shiftY,
        public float $distance,
        public array $says,
    ) {
    }

    /**
     * From where the projector stands.
     *
     * @param  bool  $square  whether its axis stands upright on the face, so that straight lines stay parallel and
     *     shift does the rest; else it looks at the middle of the face
     */
    public static function from(Vec3 $place, Lens $lens, Body $face, bool $square): self
    {
        [$points, $middle, $normal] = self::facing($face, $place, $lens->distortion < 0);
        $pose = $square ? Pose::of($place)->lookingAt($place->minus($normal)) : Pose::of($place)->lookingAt($middle);

        return self::solve($pose, $lens, $points, $middle, $square);
    }

    /**
     * Square to the face, at the distance at which the present zoom fills it.
     */
    public static function withLens(Vec3 $place, Lens $lens, Body $face): self
    {
        [$points, $middle, $normal] = self::facing($face, $place, $lens->distortion < 0);

        return self::filling($lens, $points, $middle, $normal, true);
    }

    /**
     * A projector to the left of a face and one to its right, as they are seen from before it: both look at its middle, at
     * the distance at which the present zoom fills it.
     *
     * @param  float  $degrees  by which each stands aside of the face's front
     * @return array{self, self}
     *
     * @throws InvalidValue
     */
    public static function pair(Lens $lens, Body $face, float $degrees): array
    {
        Check::number('degrees', $degrees, 1, 80, 'degrees');
        [$right, $front] = [$face->world->direction(Vec3::of(1, 0, 0)), $face->world->direction(Vec3::of(0, 0, 1))];
        [$min, $max] = $face->inVenue()->bounds();
        $middle = Vec3::of(...$min)->plus(Vec3::of(...$max))->times(0.5);
        $far = 10 * (1 + Vec3::of(...$max)->minus(Vec3::of(...$min))->length());
        $one = static function (int $side) use ($lens, $face, $degrees, $right, $front, $middle, $far): self {
            $toward = $front->times(cos(deg2rad($degrees)))->plus($right->times($side * sin(deg2rad($degrees))));
            [$points, $at] = self::facing($face, $middle->plus($toward->times($far)), $lens->distortion < 0);

            return self::filling($lens, $points, $at, $toward, false);
        };

        return [$one(-1), $one(1)];
    }

    /**
     * At the distance in a direction at which the present zoom fills what is there.
     *
     * @param  list<Vec3>  $points
     */
    private static function filling(Lens $lens, array $points, Vec3 $middle, Vec3 $toward, bool $square): self
    {
        $at = static fn (float $distance): Pose => Pose::of($middle->plus($toward->times($distance)))->lookingAt(
            $middle,
        );
        [$near, $far] = [0.05, 1000.0];
        for ($i = 0; $i < 60; $i++) {
            $half = ($near + $far) / 2;
            $needed = self::window($at($half), $lens, $points)[0] ?? 0.0;
            // The throw ratio that is needed grows with the distance.
            $needed < $lens->throw ? ($near = $half) : ($far = $half);
        }

        return self::solve($at($far), $lens, $points, $middle, $square);
    }

    /**
     * @param  list<Vec3>  $points
     */
    private static function solve(Pose $pose, Lens $lens, array $points, Vec3 $middle, bool $square): self
    {
        $distance = max(0.0, -$pose->matrix()->rigidInverse()->point($middle)->z);
        $window = self::window($pose, $lens, $points);
        if ($window === null) {
            return new self($pose, $lens->throw, $lens->shiftX, $lens->shiftY, $distance, [
                'Part of the face lies beside or behind the projector: stand farther away, or more before it.',
            ]);
        }
        [$needed, $middleX, $middleY] = $window;
        $says = [];
        $throw = max($lens->throwMin, min($lens->throwMax, $needed));
        if ($needed < $lens->throwMin - 1e-6) {
            $says[] = sprintf(
                'This needs a throw ratio of %.3f; the lens has %.2f at least: stand %.2f m farther away, or take a wider lens.',
                $needed,
                $lens->throwMin,
                $distance * ($lens->throwMin / $needed - 1),
            );
        } elseif ($needed > $lens->throwMax + 1e-6) {
            $says[] = sprintf(
                'This needs a throw ratio of %.3f; the lens has %.2f at most, and spills: come %.2f m nearer, or take a longer lens.',
                $needed,
                $lens->throwMax,
                $distance * (1 - $lens->throwMax / $needed),
            );
        }
        // The shift is told in pictures, and the picture is as large as the zoom makes it.
        $scale = $throw / $lens->throw;
        [$shiftX, $shiftY] = [($middleX / $lens->across) * $scale, ($middleY / $lens->down) * $scale];
        [$mostX, $mostY] = $lens->portrait
            ? [$lens->shiftYMax, $lens->shiftXMax]
            : [$lens->shiftXMax, $lens->shiftYMax];
        foreach (
            [
                ['sideways', 'sideways', $shiftX, $mostX, $lens->across],
                ['up or down', 'in height', $shiftY, $mostY, $lens->down],
            ] as [$way, $move, $shift, $max, $size]
        ) {
            if (abs($shift) > $max + 1e-6) {
                $says[] = sprintf(
                    'This needs the picture shifted by %.0f %% %s; the lens has %.0f %%: move the projector by %.2f m %s%s.',
                    abs($shift) * 100,
                    $way,
                    $max * 100,
                    (((abs($shift) - $max) * $size) / $scale) * $distance,
                    $move,
                    $square ? ', or tilt it' : '',
                );
            }
        }

        return new self(
            $pose,
            $throw,
            max(-$mostX, min($mostX, $shiftX)),
            max(-$mostY, min($mostY, $shiftY)),
            $distance,
            $says,
        );
    }

    /**
     * The throw ratio at which the points just fit, and the middle of what they take at one metre.
     *
     * @param  list<Vec3>  $points
     * @return array{float, float, float}|null
     */
    private static function window(Pose $pose, Lens $lens, array $points): ?array
    {
        $in = $pose->matrix()->rigidInverse();
        [$x0, $x1, $y0, $y1] = [INF, -INF, INF, -INF];
        foreach ($points as $point) {
            $p = $in->point($point);
            if ($p->z > -0.01) {
                return null;
            }
            [$x, $y] = [$p->x / -$p->z, $p->y / -$p->z];
            $bend = $lens->bend($x, $y);
            [$x, $y] = [$bend * $x, $bend * $y];
            [$x0, $x1, $y0, $y1] = [min($x0, $x), max($x1, $x), min($y0, $y), max($y1, $y)];
        }
        // The present picture is across × down at one metre with the present throw ratio; both change with it alike.
        $grow = max(($x1 - $x0) / $lens->across, ($y1 - $y0) / $lens->down);

        return [$lens->throw / $grow, ($x0 + $x1) / 2, ($y0 + $y1) / 2];
    }

    /**
     * What of a face looks at a place: the corners of its triangles, their middle, and their mean normal.
     *
     * @param  bool  $edges  whether places along edges are there as well: a lens may draw corners in past them
     * @return array{list<Vec3>, Vec3, Vec3}
     */
    private static function facing(Body $face, Vec3 $place, bool $edges): array
    {
        $mesh = $face->inVenue();
        [$points, $normal, $taken, $low, $high] = [[], Vec3::zero(), [], [INF, INF, INF], [-INF, -INF, -INF]];
        for ($t = 0, $n = $mesh->triangleCount(); $t < $n; $t++) {
            if (! $mesh->pictured($t)) {
                continue;
            }
            $vertices = array_slice($mesh->indices, 3 * $t, 3);
            $corners = array_map($mesh->position(...), $vertices);
            $own = Vec3::of(...$mesh->normal($t));
            $toward = $own->dot($place->minus($corners[0]));
            if ($toward <= 0 && ! ($face->material->translucent ?? false)) {
                continue;
            }
            $area = $corners[1]->minus($corners[0])->cross($corners[2]->minus($corners[0]))->length() / 2;
            $normal = $normal->plus($own->times($toward < 0 ? -$area : $area));
            for ($k = 0; $edges && $k < 24; $k++) {
                [$from, $to] = [$corners[intdiv($k, 8)], $corners[(intdiv($k, 8) + 1) % 3]];
                $points[] = $from->plus($to->minus($from)->times((($k % 8) + 0.5) / 8));
            }
            foreach ($vertices as $k => $i) {
                if (! isset($taken[$i])) {
                    $taken[$i] = true;
                    $points[] = $corners[$k];
                    foreach ($corners[$k]->toArray() as $axis => $v) {
                        [$low[$axis], $high[$axis]] = [min($low[$axis], $v), max($high[$axis], $v)];
                    }
                }
            }
        }
        if ($points === []) {
            throw InvalidValue::because('surface', "$face->name faces away from the projector.");
        }
        $middle = Vec3::of(($low[0] + $high[0]) / 2, ($low[1] + $high[1]) / 2, ($low[2] + $high[2]) / 2);

        return [$points, $middle, $normal->length() > 1e-9 ? $normal->unit() : $place->minus($middle)->unit()];
    }
}

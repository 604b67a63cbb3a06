<?php

declare(strict_types=1);

namespace Core\Light;

/**
 * Throws the light of projectors into a scene. Two ways that check one another: rays through the pixels tell where each
 * projector's light goes; and from each cell of a face, a ray to each projector tells what arrives there.
 *
 * A pixel's light goes through dA of the picture at one metre (sharePerArea lumens each), so that along a ray of
 * slope (x, y, -1) and length k = √(x² + y² + 1) for a metre along the axis, a place at the distance t that it meets
 * under the angle i is lit by E = lumens · sharePerArea · k³ · cos i / t², times how bright the lens is there against
 * its mean.
 */
final class Caster
{
    /** The most bodies that a ray goes through. */
    private const DEEPEST = 16;

    /**
     * What one projector brings to a face.
     *
     * @param  (\Closure(float): void)|null  $progress  told the share that is done; may throw to stop
     */
    public static function arrival(
        Scene $scene,
        int $body,
        SampleGrid $grid,
        Beam $beam,
        ?\Closure $progress = null,
    ): Arrival {
        $of = $scene->bodies[$body];
        $material = $of->material ?? throw new \InvalidArgumentException("$of->name is no face to project on.");
        $lens = $beam->projector->lens;
        [$in, $out, $light] = [$beam->world->rigidInverse()->m, $beam->world->m, $beam->projector->output()];
        [$lit, $lumens, $done] = [[], 0.0, 0];
        foreach ($grid->points as $at => [$px, $py, $pz, $nx, $ny, $nz, $ux, $uy, $uz, $vx, $vy, $vz, $share]) {
            if ($progress !== null && ++$done % 256 === 0) {
                $progress($done / count($grid->points));
            }
            $z = $in[2] * $px + $in[6] * $py + $in[10] * $pz + $in[14];
            if ($z > -0.01) {
                continue;
            }
            $x = ($in[0] * $px + $in[4] * $py + $in[8] * $pz + $in[12]) / -$z;
            $y = ($in[1] * $px + $in[5] * $py + $in[9] * $pz + $in[13]) / -$z;
            $bend = $lens->bend($x, $y);
            [$u, $v] = [($bend * $x) / $lens->across - $lens->shiftX, ($bend * $y) / $lens->down - $lens->shiftY];
            if (abs($u) > 0.5 || abs($v) > 0.5) {
                continue;
            }
            [$dx, $dy, $dz] = [$px - $out[12], $py - $out[13], $pz - $out[14]];
            $distance = sqrt($dx * $dx + $dy * $dy + $dz * $dz);
            $cos = -($nx * $dx + $ny * $dy + $nz * $dz) / $distance;
            $behind = $cos < 0;
            if (abs($cos) < 1e-6 || ($behind && ! $material->translucent)) {
                continue;
            }
            $through = $scene->reaches($out[12], $out[13], $out[14], $px, $py, $pz);
            if ($through <= 0) {
                continue;
            }
            $length = $distance / -$z;
            $e =
                ($light * $lens->sharePerArea($x, $y) * $lens->evenness($u, $v) * $through * $length ** 3 * abs($cos)) /
                $distance ** 2;
            $lumens += $e * $share * (1 - $material->transmission);
            // How the pixel moves when the place moves by a metre along the raster's axes.
            $move = static function (float $tx, float $ty, float $tz) use ($in, $x, $y, $z, $lens): float {
                $lx = $in[0] * $tx + $in[4] * $ty + $in[8] * $tz;
                $ly = $in[1] * $tx + $in[5] * $ty + $in[9] * $tz;
                $lz = $in[2] * $tx + $in[6] * $ty + $in[10] * $tz;

                return hypot(...$lens->moves($x, $y, ($lx + $x * $lz) / -$z, ($ly + $y * $lz) / -$z));
            };
            $lit[$at] = [
                $e,
                $material->luminance($e, $behind),
                rad2deg(acos(min(1.0, abs($cos)))),
                $move($ux, $uy, $uz),
                $move($vx, $vy, $vz),
                -$z / $lens->focus,
            ];
        }

        return new Arrival($lit, $lumens);
    }

    /**
     * What arrives on a face.
     *
     * @param  list<Beam>  $beams
     */
    public static function face(Scene $scene, int $body, array $beams, int $cells): FaceLight
    {
        $casts = new SceneCasts(static fn (): Scene => $scene, $cells, 1, 1);

        return FaceLight::of($scene->bodies[$body], $beams, $casts);
    }

    /**
     * Where one projector's light goes, by rays through the middles of columns × rows patches of its picture.
     *
     * @param  array<string, FaceLight>  $faces  what arrives on them, for the balance; empty: the balance is by rays
     *     alone
     */
    public static function throwing(
        Scene $scene,
        Beam $beam,
        int $columns = 64,
        int $rows = 36,
        array $faces = [],
    ): Footprint {
        return Footprint::of(
            $beam,
            self::walk($scene, $beam, $columns, $rows),
            array_column($scene->bodies, 'name', 'id'),
            $faces,
        );
    }

    public static function walk(Scene $scene, Beam $beam, int $columns, int $rows): BeamLanding
    {
        $lens = $beam->projector->lens;
        $wanted = array_flip($beam->projector->aims);
        $rays = $columns * $rows;
        $on = [];
        [$lost, $other, $near, $far, $spill, $spillLight] = [0.0, 0.0, INF, 0.0, 0.0, 0.0];
        $mirror = [];
        for ($r = 0; $r < $rows; $r++) {
            for ($c = 0; $c < $columns; $c++) {
                // Shares of the light, which the lens may spread unevenly.
                $ray = $lens->evenness(($c + 0.5) / $columns - 0.5, ($r + 0.5) / $rows - 0.5) / $rays;
                $left = 1.0;
                $wentWell = 0.0;
                foreach (
                    self::meets(
                        $scene,
                        $beam,
                        (($c + 0.5) / $columns) * $lens->widthPx,
                        (($r + 0.5) / $rows) * $lens->heightPx,
                    ) as [$body, $distance, $behind, $part, $pictured]
                ) {
                    $left -= $part;
                    $id = $scene->bodies[$body]->id;
                    $on[$id] = ($on[$id] ?? 0.0) + $part * $ray;
                    $material = $scene->bodies[$body]->material;
                    $taken = $pictured && $material !== null && (! $behind || $material->translucent);
                    if (! $taken) {
                        $other += $part * $ray;
                    } elseif ($behind !== $beam->projector->mirrored) {
                        $mirror[$id] = $behind;
                    }
                    if ($taken && ($wanted === [] || isset($wanted[$id]))) {
                        $wentWell += $part;
                        $near = min($near, $distance);
                        $far = max($far, $distance);
                    }
                }
                $lost += $left * $ray;
                // A pixel that lights its face at all is not spilt; what a gauze lets through is.
                $spill += $wentWell > 0 ? 0.0 : 1 / $rays;
                $spillLight += $wentWell > 0 ? 0.0 : $ray;
            }
        }

        return new BeamLanding(
            $rays,
            $on,
            $lost,
            $other,
            $near,
            $far,
            $spill,
            $spillLight,
            $mirror,
            self::outline($scene, $beam),
        );
    }

    /**
     * What the light of a pixel meets, in order, and the share of it that stays there.
     *
     * @return list<array{int, float, bool, float, bool}> body, metres along the axis, whether from behind, share,
     *     whether the place has a part of the raster
     */
    private static function meets(Scene $scene, Beam $beam, float $px, float $py): array
    {
        $d = $beam->world->direction($beam->projector->lens->ray($px, $py));
        $o = $beam->world->m;
        $met = [];
        [$left, $from] = [1.0, 1e-6];
        for ($i = 0; $i < self::DEEPEST && $left > 1e-4; $i++) {
            $hit = $scene->first($o[12], $o[13], $o[14], $d->x, $d->y, $d->z, $from);
            if ($hit === null) {
                break;
            }
            $n = $scene->mesh->normal($hit[0]);
            $body = $scene->owner[$hit[0]];
            $through = $scene->bodies[$body]->material->transmission ?? 0.0;
            $met[] = [
                $body,
                $hit[1],
                $n[0] * $d->x + $n[1] * $d->y + $n[2] * $d->z > 0,
                $left * (1 - $through),
                $scene->mesh->pictured($hit[0]),
            ];
            $left *= $through;
            $from = $hit[1] + 1e-7;
        }

        return $met;
    }

    /** @return list<array{float, float, float}|null> */
    private static function outline(Scene $scene, Beam $beam): array
    {
        [$w, $h] = [$beam->projector->lens->widthPx, $beam->projector->lens->heightPx];
        $edge = [];
        for ($i = 0; $i < 24; $i++) {
            array_push($edge, [($i / 24) * $w, 0.0]);
        }
        for ($i = 0; $i < 14; $i++) {
            array_push($edge, [(float) $w, ($i / 14) * $h]);
        }
        for ($i = 24; $i > 0; $i--) {
            array_push($edge, [($i / 24) * $w, (float) $h]);
        }
        for ($i = 14; $i > 0; $i--) {
            array_push($edge, [0.0, ($i / 14) * $h]);
        }

        return array_map(static function (array $pixel) use ($scene, $beam): ?array {
            $d = $beam->world->direction($beam->projector->lens->ray($pixel[0], $pixel[1]));
            $o = $beam->world->m;
            $hit = $scene->first($o[12], $o[13], $o[14], $d->x, $d->y, $d->z);

            return $hit === null
                ? null
                : [$o[12] + $d->x * $hit[1], $o[13] + $d->y * $hit[1], $o[14] + $d->z * $hit[1]];
        }, $edge);
    }
}

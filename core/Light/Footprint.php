<?php

declare(strict_types=1);

namespace Core\Light;

/** What becomes of one projector's picture. */
final readonly class Footprint
{
    /**
     * @param  array<string, float>  $onFaces  share of its light that lands on each body, by id
     * @param  float  $spillPixels  that miss all faces that it is there for
     * @param  float  $nearest  metres along its axis to the nearest and the farthest lit place of these faces; 0 when
     *     it meets none
     * @param  float  $output  lumens that leave the lens as it is zoomed and shifted
     * @param  float  $sharpNear  metres along the axis from where on it is sharp; 0 where the lens does not say
     * @param  float  $sharpFar  to where; 0 where the lens does not say, or without an end
     * @param  list<array{float, float, float}|null>  $outline  where the edge of its picture lands, clockwise from
     *     the top left; null where it lands nowhere
     * @param  float  $balance  lumens found again by summing lux over the faces, with what lands elsewhere, against
     *     those sent out
     * @param  list<string>  $remarks
     */
    public function __construct(
        public string $id,
        public string $name,
        public int $rays,
        public array $onFaces,
        public float $lostShare,
        public float $spillPixels,
        public float $spillLumens,
        public float $nearest,
        public float $farthest,
        public float $focus,
        public float $output,
        public float $sharpNear,
        public float $sharpFar,
        public array $outline,
        public float $balance,
        public array $remarks,
    ) {
    }

    /**
     * @param  array<string, string>  $names  of bodies, by id
     * @param  array<string, FaceLight>  $faces  what arrives on them, for the balance; empty: the balance is by rays
     *     alone
     */
    public static function of(Beam $beam, BeamLanding $walk, array $names, array $faces): self
    {
        $lens = $beam->projector->lens;
        $sum = 0.0;
        foreach ($faces as $face) {
            $sum += $face->lumens[$beam->id] ?? 0.0;
        }
        $remarks = $lens->remarks();
        foreach ($beam->projector->aims as $id) {
            ($walk->on[$id] ?? 0.0) > 0 ||
                ($remarks[] = 'None of its light lands on '.($names[$id] ?? 'A face that is gone').'.');
        }
        $sharp = $lens->depthOfField();
        if (
            $sharp !== null &&
            is_finite($walk->near) &&
            ($walk->near < $sharp->near - 1e-9 || $walk->far > $sharp->far + 1e-9)
        ) {
            $remarks[] = sprintf(
                'Its faces lie from %.2f to %.2f m along the axis; it is sharp from %.2f to %s.',
                $walk->near,
                $walk->far,
                $sharp->near,
                is_finite($sharp->far) ? sprintf('%.2f m', $sharp->far) : 'infinity',
            );
        }
        foreach ($walk->backwards as $id => $behind) {
            $remarks[] = $behind
                ? "It lights $names[$id] from behind without mirroring: the picture reads backwards."
                : "It lights $names[$id] from the front, mirrored: the picture reads backwards.";
        }

        return new self(
            $beam->id,
            $beam->projector->name,
            $walk->rays,
            $walk->on,
            $walk->lost,
            $walk->spilt * $lens->widthPx * $lens->heightPx,
            $walk->spiltLight * $beam->projector->output(),
            is_finite($walk->near) ? $walk->near : 0.0,
            $walk->far,
            $lens->focus,
            $beam->projector->output(),
            $sharp->near ?? 0.0,
            $sharp !== null && is_finite($sharp->far) ? $sharp->far : 0.0,
            $walk->outline,
            $faces === []
                ? array_sum($walk->on) + $walk->lost
                : $sum / $beam->projector->output() + $walk->other + $walk->lost,
            $remarks,
        );
    }
}

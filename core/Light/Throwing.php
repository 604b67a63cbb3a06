<?php

declare(strict_types=1);

namespace Core\Light;

/** What becomes of one projector's picture. */
final readonly class Throwing
{
    /**
     * @param  array<string, float>  $onFaces  share of its pixels that land on each body, by id
     * @param  float  $spillPixels  that miss all faces that it is there for
     * @param  float  $nearest  metres along its axis to the nearest and the farthest lit place of these faces; 0 when it meets none
     * @param  list<array{float, float, float}|null>  $outline  where the edge of its picture lands, clockwise from the top left; null where it lands nowhere
     * @param  float  $balance  lumens found again by summing lux over the faces, with what lands elsewhere, against those sent out
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
        public array $outline,
        public float $balance,
        public array $remarks,
    ) {
    }

    /**
     * @param  array<string, string>  $names  of bodies, by id
     * @param  array<string, FaceLight>  $faces  what arrives on them, for the balance; empty: the balance is by rays alone
     */
    public static function of(Beam $beam, Walk $walk, array $names, array $faces): self
    {
        $lens = $beam->projector->lens;
        $sum = 0.0;
        foreach ($faces as $face) {
            $sum += $face->lumens[$beam->id] ?? 0.0;
        }
        $remarks = $lens->remarks();
        foreach ($beam->projector->aims as $id) {
            ($walk->on[$id] ?? 0.0) > 0 || $remarks[] = 'None of its light lands on '.($names[$id] ?? 'A face that is gone').'.';
        }
        foreach ($walk->backwards as $id => $behind) {
            $remarks[] = $behind ? "It lights $names[$id] from behind without mirroring: the picture reads backwards." : "It lights $names[$id] from the front, mirrored: the picture reads backwards.";
        }

        return new self(
            $beam->id, $beam->projector->name, $walk->rays, $walk->on, $walk->lost, $walk->spilt * $lens->widthPx * $lens->heightPx, $walk->spilt * $beam->projector->lumens,
            is_finite($walk->near) ? $walk->near : 0.0, $walk->far, $lens->focus, $walk->outline,
            $faces === [] ? array_sum($walk->on) + $walk->lost : $sum / $beam->projector->lumens + $walk->other + $walk->lost, $remarks,
        );
    }
}

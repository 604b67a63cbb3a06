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
}

<?php

declare(strict_types=1);

namespace Core\Light;

/** Where one projector's pixels go, by rays through the middles of patches of its picture; bodies by their ids. */
final readonly class BeamLanding
{
    /**
     * @param  array<string, float>  $on  share of its light that stays on each body
     * @param  float  $lost  share that meets nothing
     * @param  float  $other  share that stays where no picture is
     * @param  float  $near  metres along the axis to the nearest and farthest place of the faces that it is there
     *     for; INF and 0 for none
     * @param  float  $spilt  share of its pixels that misses these faces
     * @param  float  $spiltLight  share of its light that does
     * @param  array<string, bool>  $backwards  faces on which its picture reads backwards, and whether they are lit
     *     from behind
     * @param  list<array{float, float, float}|null>  $outline  where the edge of its picture lands, clockwise from
     *     the top left
     */
    public function __construct(
        public int $rays,
        public array $on,
        public float $lost,
        public float $other,
        public float $near,
        public float $far,
        public float $spilt,
        public float $spiltLight,
        public array $backwards,
        public array $outline,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Core\Venue;

/** What the stuff of a face does with light. */
final readonly class Material
{
    /**
     * @param  bool  $translucent  whether light goes through
     * @param  bool  $rear  whether the picture is meant to be lit from behind; it is always looked at from the front
     * @param  float  $gain  luminance on the side of the audience against that of a perfect white diffuser, when lit from the side it is meant for
     * @param  float  $transmission  share of the light that goes through, 0 to 1; 0 for an opaque face
     */
    private function __construct(public bool $translucent, public bool $rear, public float $gain, public float $transmission)
    {
    }

    /** @param  array<string, mixed>  $row */
    public static function fromRow(array $row): self
    {
        $settings = new Settings($row);
        $translucent = $settings->flag('translucent');

        return new self($translucent, $translucent && $settings->flag('rear'), $settings->number('gain', 0.8, 0.01, 20), $translucent ? $settings->number('transmission', 0.4, 0, 1) : 0.0);
    }

    /**
     * Luminance seen by the audience, L = E · gain / π. From the side that the face is not meant for, what it lets through
     * (rear light on a front face) or throws back (front light on a rear face) takes the place of the gain; an opaque face
     * lit from behind stays dark.
     *
     * @param  float  $lux  on the face
     * @return float cd/m²
     */
    public function luminance(float $lux, bool $fromBehind): float
    {
        $share = $fromBehind === $this->rear ? $this->gain : ($fromBehind ? $this->transmission : 1 - $this->transmission);

        return $lux * $share / M_PI;
    }
}

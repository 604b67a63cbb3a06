<?php

declare(strict_types=1);

namespace Core\Venue;

/** What a surface does with light, how bright it is meant to be, and the light around it. */
final readonly class Material
{
    /** Names of its settings. */
    public const SETTINGS = ['translucent', 'rear', 'gain', 'transmission', 'target', 'ambient', 'reflectance'];

    /**
     * @param  bool  $translucent  whether light goes through
     * @param  bool  $rear  whether the picture is meant to be lit from behind; it is always looked at from the front
     * @param  float  $gain  luminance on the side of the audience against that of a perfect white diffuser, when lit
     *     from the side it is meant for
     * @param  float  $transmission  share of the light that goes through, 0 to 1; 0 for an opaque face
     * @param  float  $target  cd/m² that its white is meant to have; 0 for none stated
     * @param  float  $ambient  lux of other light that falls on it
     * @param  float  $reflectance  share of that light which an LED wall throws back, 0 to 1
     */
    private function __construct(
        public bool $translucent,
        public bool $rear,
        public float $gain,
        public float $transmission,
        public float $target,
        public float $ambient,
        public float $reflectance,
    ) {
    }

    /** @param  array<string, mixed>  $row */
    public static function fromRow(array $row): self
    {
        $settings = new Settings($row);
        $translucent = $settings->flag('translucent');

        return new self(
            $translucent,
            $translucent && $settings->flag('rear'),
            $settings->number('gain', 0.8, 0.01, 20),
            $translucent ? $settings->number('transmission', 0.4, 0, 1) : 0.0,
            $settings->number('target', 0, 0, 100_000, 'cd/m²'),
            $settings->number('ambient', 0, 0, 200_000, 'lx'),
            $settings->number('reflectance', 0.04, 0, 1),
        );
    }

    /**
     * cd/m² that the surface throws back of the light around it, as a diffuser: E · ρ / π; of a face, its gain takes
     * the place of ρ.
     */
    public function ambientLuminance(bool $wall): float
    {
        return ($this->ambient * ($wall ? $this->reflectance : $this->gain)) / M_PI;
    }

    /**
     * @return list<string> what a diffuser that is lit from the front can't do; the gain of a rear screen is of what
     *     goes through
     */
    public function remarks(): array
    {
        return $this->translucent && ! $this->rear && $this->gain + $this->transmission > 1 + 1e-9
            ? [
                sprintf(
                    'A gain of %.2f and a transmission of %.0f %% are more light than falls on it, unless it concentrates what it gives back.',
                    $this->gain,
                    $this->transmission * 100,
                ),
            ]
            : [];
    }

    /**
     * Luminance seen by the audience, L = E · gain / π. From the side that the face is not meant for, what it lets
     * through (rear light on a front face) or throws back (front light on a rear face) takes the place of the gain;
     * an opaque face lit from behind stays dark.
     *
     * @param  float  $lux  on the face
     * @return float cd/m²
     */
    public function luminance(float $lux, bool $fromBehind): float
    {
        $share =
            $fromBehind === $this->rear ? $this->gain : ($fromBehind ? $this->transmission : 1 - $this->transmission);

        return ($lux * $share) / M_PI;
    }
}

<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Routing\Fit;
use Core\Routing\Fitting;
use Core\Timeline\Clip;

/** A clip of a layer, and the media that it shows. */
final readonly class ClipUse
{
    /** @param  Fitting|null  $fitting  its own; null, and an anchor of null, as its layer has it */
    public function __construct(
        public string $id,
        public string $layer,
        public string $media,
        public Clip $clip,
        public ?Fitting $fitting = null,
        public ?float $anchorX = null,
        public ?float $anchorY = null,
    ) {
    }

    public function fit(Layer $layer): Fit
    {
        return $layer->fit->with($this->fitting, $this->anchorX, $this->anchorY);
    }
}

<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Light\Beam;

/** A region of an output that a projector of the venue shows. */
final readonly class ProjectedRegion extends FedProjector
{
    /**
     * @param  string  $id  of the region
     * @param  string  $stack  those of one name are converged
     */
    public function __construct(
        public string $id,
        public Region $region,
        Rect $part,
        Beam $beam,
        public string $stack = '',
    ) {
        parent::__construct($part, $beam);
    }
}

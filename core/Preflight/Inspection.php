<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Show\ResultCache;
use Core\Show\Show;

/** Looks for one thing that may go wrong with a show. */
interface Inspection
{
    /** @return iterable<Finding> */
    public function inspect(Show $show, ResultCache $cache): iterable;
}

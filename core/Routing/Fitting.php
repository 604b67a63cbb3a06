<?php

declare(strict_types=1);

namespace Core\Routing;

/** How content of one shape meets a pane of another. */
enum Fitting: string
{
    case Cover = 'cover';
    case Contain = 'contain';
    case Stretch = 'stretch';
    case OneToOne = 'one-to-one';
}

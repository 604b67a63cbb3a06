<?php

declare(strict_types=1);

namespace Core\Values;

/** How a value goes from one keyframe to the next. */
enum Interpolation: string
{
    case Step = 'step';
    case Linear = 'linear';
    case Smooth = 'smooth';
    case Bezier = 'bezier';
}

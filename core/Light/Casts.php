<?php

declare(strict_types=1);

namespace Core\Light;

/** What each projector's light does by itself, from which a report is put together: cast now, or kept from before. */
interface Casts
{
    /** The cells of a face, and the area that each stands for. */
    public function cells(Body $face): FaceCells;

    /** What one projector brings to a face. */
    public function arrival(Beam $beam, Body $face): Arrival;

    /** Where one projector's pixels go. */
    public function walk(Beam $beam): BeamLanding;
}

<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Protocol\MtcWriter;

/** Something that is told where the driven timeline is. */
interface TimecodeOut
{
    /** Says where it stands, or has leapt to, in flicks of its clock. */
    public function whole(MtcWriter $writer, int $position): void;

    /** A quarter of a frame begins while it runs: the number of quarters since the clock's midnight. */
    public function quarter(MtcWriter $writer, int $number): void;
}

<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Ranged;
use App\Models\Show;
use App\Models\Timeline;
use Core\Protocol\LtcLine;
use Core\Units\FrameRate;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** The timecode of a timeline as sound (LTC), by parts of as much as is heard next. */
final readonly class TimecodeController
{
    /** Seconds of it that there are: a day. */
    private const SECONDS = 86_400;

    /** Seconds that are given at once. */
    private const MOST = 4;

    public function line(Request $request, Show $show, string $timeline): Response
    {
        $row = Timeline::query()->where('showId', $show->id)->findOrFail($timeline);
        $line = new LtcLine(FrameRate::of($show->frameRate), (int) $row->clockStart);

        return Ranged::part(
            $request,
            self::SECONDS * LtcLine::RATE * 4,
            static function (int $from, int $count) use ($line): string {
                $first = intdiv($from, 4);
                $samples = $line->samples($first, intdiv($from + $count + 3, 4) - $first);

                return substr(pack('g*', ...$samples), $from - 4 * $first, $count);
            },
            ['Cache-Control' => 'private, max-age=3600'],
            self::MOST * LtcLine::RATE * 4,
        );
    }
}

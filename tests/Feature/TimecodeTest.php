<?php

declare(strict_types=1);

namespace Tests\Feature;

use Core\Protocol\LtcDecoder;
use Core\Protocol\LtcLine;
use Core\Units\Flicks;
use Illuminate\Testing\TestResponse;
use Tests\TestCase;

/** The timecode of a timeline as sound, by parts. */
final class TimecodeTest extends TestCase
{
    public function test_a_part_of_a_timelines_timecode_is_what_its_clock_says_there(): void
    {
        $show = $this->show();
        $line = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Line',
            'changes' => [
                $this->created('timeline', $line, [
                    'name' => 'Main',
                    'duration' => 60 * Flicks::PER_SECOND,
                    'clockStart' => 36_000 * Flicks::PER_SECOND,
                ]),
            ],
        ])->assertCreated();
        $part = fn (int $from, int $count, string $of = ''): TestResponse => $this->ask(
            'GET',
            "shows/$show/timelines/".($of === '' ? $line : $of).'/timecode.f32',
            null,
            ['Range' => 'bytes='.$from.'-'.($from + $count - 1)],
        );
        $second = 4 * LtcLine::RATE;
        $answer = $part(5 * $second, $second)->assertStatus(206);
        self::assertSame(
            'bytes '. 5 * $second.'-'.(6 * $second - 1).'/'. 86_400 * $second,
            $answer->headers->get('Content-Range'),
        );
        $bytes = (string) $answer->getContent();
        self::assertSame($second, strlen($bytes));
        $frames = (new LtcDecoder(LtcLine::RATE))->read(array_values((array) unpack('g*', $bytes)));
        self::assertSame('10:00:05:00', $frames[0]->timecode->text());
        // From within a number on.
        self::assertSame(substr($bytes, 3, 10), $part(5 * $second + 3, 10)->getContent());
        $part(0, 5 * $second)->assertStatus(416);
        $part(86_400 * $second, 4)->assertStatus(416);
        $part(0, 4, $this->id())->assertStatus(404);
        $this->ask('GET', "shows/$show/timelines/$line/timecode.f32")->assertStatus(416);
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Playback\CueSheet;
use Core\Playback\Transport;
use Core\Timeline\Clip;
use Core\Timeline\PastEnd;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class TimelineTest extends TestCase
{
    private const FRAME = Flicks::PER_SECOND / 25;

    public function test_a_clip_shows_the_frames_from_its_in_point_on(): void
    {
        $clip = Clip::of(10 * self::FRAME, 100 * self::FRAME, 5 * self::FRAME, 9 * self::FRAME, PastEnd::Loop);
        $frames = array_map(static fn (int $n): int => $clip->mediaFrameAt($n * self::FRAME, self::FRAME, 50), [
            10,
            11,
            13,
            14,
            15,
            18,
        ]);
        self::assertSame([5, 6, 8, 5, 6, 5], $frames);
        self::assertFalse($clip->isUpAt(10 * self::FRAME - 1));
        self::assertTrue($clip->isUpAt(110 * self::FRAME - 1));
        self::assertFalse($clip->isUpAt(110 * self::FRAME));
    }

    public function test_past_its_end_a_clip_holds_its_last_frame(): void
    {
        $clip = Clip::of(0, 100 * self::FRAME);
        self::assertSame(
            [0, 49, 49],
            array_map(static fn (int $n): int => $clip->mediaFrameAt($n * self::FRAME, self::FRAME, 50), [0, 49, 80]),
        );
    }

    public function test_media_of_another_rate_keeps_its_own_frames(): void
    {
        $fifty = intdiv(Flicks::PER_SECOND, 50);
        self::assertSame(
            [0, 2, 4, 6],
            array_map(
                static fn (int $n): int => Clip::of(0, 1000 * self::FRAME)->mediaFrameAt($n * self::FRAME, $fifty, 500),
                [0, 1, 2, 3],
            ),
        );
        self::assertSame(
            [0, 0, 1, 1],
            array_map(
                static fn (int $n): int => Clip::of(0, 1000 * self::FRAME)->mediaFrameAt($n * $fifty, self::FRAME, 500),
                [0, 1, 2, 3],
            ),
        );
    }

    public function test_an_out_point_before_the_in_point_is_refused(): void
    {
        $this->expectException(InvalidValue::class);
        Clip::of(0, 10, 5, 5);
    }

    private static function sheet(): CueSheet
    {
        $cue = static fn (string $id, int $second, bool $holds): array => [
            'id' => $id,
            'time' => $second * Flicks::PER_SECOND,
            'number' => $id,
            'name' => "Cue $id",
            'holds' => $holds,
        ];

        return CueSheet::of(self::FRAME, 60 * Flicks::PER_SECOND, [
            $cue('3', 30, false),
            $cue('1', 5, false),
            $cue('2', 10, true),
        ]);
    }

    public function test_playback_runs_to_the_hold_point_and_waits_there(): void
    {
        $s = Flicks::PER_SECOND;
        $t = Transport::heldAt(0, 0)->play(2 * $s, self::sheet());
        self::assertSame(3 * $s, $t->positionAt(5 * $s, self::sheet()));
        self::assertTrue($t->runsAt(12 * $s - 1, self::sheet()));
        self::assertFalse($t->runsAt(12 * $s, self::sheet()));
        self::assertSame(10 * $s, $t->positionAt(500 * $s, self::sheet()));
        self::assertTrue($t->waitsAt(500 * $s, self::sheet()));
        $on = $t->go(500 * $s, self::sheet());
        self::assertSame(11 * $s, $on->positionAt(501 * $s, self::sheet()));
    }

    public function test_go_goes_to_the_next_cue(): void
    {
        $s = Flicks::PER_SECOND;
        $t = Transport::heldAt(0, 0);
        self::assertSame('1', $t->nextCue(0, self::sheet())['id'] ?? null);
        $t = $t->go(0, self::sheet());
        self::assertSame(5 * $s, $t->positionAt(0, self::sheet()));
        self::assertSame('2', $t->nextCue(0, self::sheet())['id'] ?? null);
        $t = $t->go($s, self::sheet())->go(2 * $s, self::sheet());
        self::assertSame(30 * $s, $t->positionAt(2 * $s, self::sheet()));
        self::assertNull($t->nextCue(3 * $s, self::sheet()));
        self::assertSame(60 * $s, $t->positionAt(99 * $s, self::sheet()));
    }

    public function test_hold_and_jump_land_on_whole_frames_and_jump_keeps_running(): void
    {
        $s = Flicks::PER_SECOND;
        $held = Transport::heldAt(0, 0)
            ->play(0, self::sheet())
            ->hold($s + 12345, self::sheet());
        self::assertSame($s, $held->positionAt(9 * $s, self::sheet()));
        self::assertSame(
            [false, 7 * self::FRAME],
            [
                $held->jump($s, 7 * self::FRAME + 99, self::sheet())->playing,
                $held->jump($s, 7 * self::FRAME + 99, self::sheet())->position,
            ],
        );
        self::assertTrue(
            Transport::heldAt(0, 0)
                ->play(0, self::sheet())
                ->jump($s, 20 * $s, self::sheet())
                ->runsAt($s, self::sheet()),
        );
        self::assertSame(60 * $s, $held->jump(0, PHP_INT_MAX, self::sheet())->position);
    }

    public function test_from_the_end_play_starts_over(): void
    {
        $s = Flicks::PER_SECOND;
        self::assertSame(
            $s,
            Transport::heldAt(0, 60 * $s)
                ->play(0, self::sheet())
                ->positionAt($s, self::sheet()),
        );
    }

    public function test_a_hold_point_between_frames_can_be_left_again(): void
    {
        $sheet = CueSheet::of(self::FRAME, 100 * self::FRAME, [
            ['id' => 'a', 'time' => 10 * self::FRAME + 77, 'number' => '1', 'name' => 'A', 'holds' => true],
        ]);
        $at = Transport::heldAt(0, 0)->play(0, $sheet);
        self::assertSame(10 * self::FRAME, $at->positionAt(50 * self::FRAME, $sheet));
        self::assertSame(20 * self::FRAME, $at->go(50 * self::FRAME, $sheet)->positionAt(60 * self::FRAME, $sheet));
    }
}

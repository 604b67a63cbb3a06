<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Jobs\Interrupted;
use App\Jobs\Pace;
use App\Jobs\Stopped;
use App\Jobs\TookTooLong;
use Illuminate\Queue\Worker;
use Tests\TestCase;

/** How a long job tells how far it is, and finds out that it has to end. */
final class PaceTest extends TestCase
{
    public function test_it_tells_at_once_and_then_no_more_than_four_times_a_second(): void
    {
        $told = [];
        $pace = new Pace(
            static fn (): bool => true,
            static function (float $share) use (&$told): void {
                $told[] = $share;
            },
            60,
        );
        $began = hrtime(true);
        for ($i = 0; hrtime(true) - $began < 600_000_000; $i++) {
            $pace->at($i / 1e9);
        }
        self::assertGreaterThan(1000, $i);
        self::assertContains(count($told), [2, 3]);
        self::assertSame(0.0, $told[0]);
    }

    public function test_what_nobody_wants_any_more_stops_and_tells_nothing(): void
    {
        $told = 0;
        $this->expectException(Stopped::class);
        try {
            (new Pace(
                static fn (): bool => false,
                static function () use (&$told): void {
                    $told++;
                },
                60,
            ))->at(0.5);
        } finally {
            self::assertSame(0, $told);
        }
    }

    public function test_what_takes_longer_than_it_may_ends_in_words(): void
    {
        $this->expectException(TookTooLong::class);
        $this->expectExceptionMessage('longer than the 0 minutes');
        $pace = new Pace(static fn (): bool => true, static fn () => null, 0);
        usleep(10);
        $pace->at(0.5);
    }

    public function test_a_worker_that_has_to_end_is_found_out(): void
    {
        $pace = new Pace(static fn (): bool => true, static fn () => null, 60);
        $worker = app('queue.worker');
        self::assertInstanceOf(Worker::class, $worker);
        $worker->shouldQuit = true;
        $this->expectException(Interrupted::class);
        $pace->at(0.5);
    }
}

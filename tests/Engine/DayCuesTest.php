<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\CuePlayer;
use App\Engine\DayCues;
use App\Engine\HeldValues;
use Core\Cues\ClockTime;
use Core\Cues\Cue;
use Core\Cues\DayClock;
use Core\Cues\Trigger;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

/** The time of day that is set while a conductor runs. */
final class DayCuesTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private \DateTimeImmutable $wall;

    private int $engine = 0;

    private CuePlayer $cues;

    protected function setUp(): void
    {
        $this->wall = new \DateTimeImmutable('2026-03-28 21:29:50', new \DateTimeZone('Europe/Berlin'));
        $this->cues = new CuePlayer(new HeldValues());
        $cues = [];
        foreach (['ten' => '22:10', 'half' => '21:30', 'twenty' => '22:20', 'night' => '2:30'] as $id => $time) {
            $cues[$id] = new Cue($id, '1', $id, trigger: Trigger::Clock, clock: ClockTime::parse($time));
        }
        $this->cues->setCues($cues);
    }

    private function days(bool $poweredUp = false, bool $goesOn = false): DayCues
    {
        return new DayCues($poweredUp, $goesOn, fn (): \DateTimeImmutable => $this->wall);
    }

    /** @return list<string> what is fired while so many seconds go by */
    private function pass(DayCues $days, int $seconds): array
    {
        $fired = [];
        for ($i = 0; $i < $seconds; $i++) {
            array_push($fired, ...$days->check($this->cues, $this->engine));
            $this->wall = $this->wall->setTimestamp($this->wall->getTimestamp() + 1);
            $this->engine += self::S;
        }

        return $fired;
    }

    private function set(int $seconds): void
    {
        $this->wall = $this->wall->setTimestamp($this->wall->getTimestamp() + $seconds);
    }

    public function test_set_back_it_is_told_and_nothing_is_fired_twice(): void
    {
        $days = $this->days();
        self::assertSame(['half'], $this->pass($days, 20));
        self::assertNull($days->figures($this->engine));
        // Two seconds are a correction, a minute is a step.
        $this->set(-2);
        self::assertSame([], $this->pass($days, 5));
        self::assertNull($days->figures($this->engine));
        $this->set(-60);
        self::assertSame([], $this->pass($days, 120));
        $told = $days->figures($this->engine) ?? self::fail('It is told.');
        self::assertSame([-60, []], [$told['seconds'], $told['cues']]);
        // Nothing waits for an answer, and after a while it is told no more.
        self::assertSame([], $this->pass($days, 300));
        self::assertNull($days->figures($this->engine));
    }

    public function test_set_forward_somebody_is_asked(): void
    {
        foreach ([['none', []], ['last', ['twenty']], ['all', ['ten', 'twenty']]] as [$answer, $fired]) {
            $this->setUp();
            $days = $this->days();
            self::assertSame(['half'], $this->pass($days, 20));
            $this->set(3600);
            self::assertSame([], $this->pass($days, 5));
            $told = $days->figures($this->engine) ?? self::fail('It is asked.');
            self::assertSame([3600, ['ten', 'twenty']], [$told['seconds'], $told['cues']]);
            self::assertEqualsWithDelta(55, $told['left'], 1.01);
            self::assertSame($fired, $days->answer($answer));
            self::assertNull($days->figures($this->engine));
            self::assertSame([], $this->pass($days, 120), 'what was asked about is over');
            // Set back again, what was passed over does not come by itself.
            $this->set(-3600);
            self::assertSame([], $this->pass($days, 3600));
        }
    }

    public function test_where_nobody_answers_the_last_is_fired(): void
    {
        $days = $this->days();
        $this->pass($days, 20);
        $this->set(3600);
        self::assertSame(['twenty'], $this->pass($days, 70));
        self::assertNull($days->figures($this->engine));
        // A step over nothing asks nothing.
        $this->set(60);
        self::assertSame([], $this->pass($days, 5));
        self::assertSame([], $days->figures($this->engine)['cues'] ?? null);
    }

    public function test_what_was_due_before_the_step_is_fired(): void
    {
        $days = $this->days();
        $this->wall = $this->wall->setTime(21, 29, 58);
        $this->pass($days, 1);
        // Three seconds in which nothing was read, and then the clock is set.
        $this->engine += 3 * self::S;
        $this->set(3 + 1800);
        self::assertSame(['half'], $days->check($this->cues, $this->engine));
    }

    public function test_the_change_of_the_hour_is_no_step(): void
    {
        foreach (['2026-03-29 01:58:00', '2026-10-25 01:58:00'] as $night) {
            $this->wall = new \DateTimeImmutable($night, new \DateTimeZone('Europe/Berlin'));
            $days = $this->days();
            $this->cues->setDay(DayClock::unread());
            self::assertSame(['night'], $this->pass($days, 3 * 3600), $night);
            self::assertNull($days->figures($this->engine));
        }
    }

    public function test_after_a_start_of_the_machine_the_last_of_a_day_and_after_one_of_the_engine_what_was_missed(): void
    {
        $this->wall = $this->wall->setTime(23, 0);
        self::assertSame(['twenty'], $this->pass($this->days(poweredUp: true), 2));
        $this->setUp();
        $this->wall = $this->wall->setTime(21, 30, 3);
        self::assertSame(['half'], $this->pass($this->days(goesOn: true), 1));
        self::assertSame([], $this->pass($this->days(goesOn: true), 1), 'it was fired already');
        $this->setUp();
        $this->wall = $this->wall->setTime(21, 30, 3);
        self::assertSame([], $this->pass($this->days(), 1));
    }
}

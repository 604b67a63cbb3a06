<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use Core\Bindings\ControlEvent;
use PHPUnit\Framework\TestCase;
use React\EventLoop\LoopInterface;
use React\EventLoop\StreamSelectLoop;

/** What every source of controls has to hold, driven as its device drives it. */
abstract class ControlSourceContract extends TestCase
{
    protected LoopInterface $loop;

    protected function setUp(): void
    {
        $this->loop = new StreamSelectLoop();
    }

    /** A source that is not started. */
    abstract protected function source(): ControlSource;

    /**
     * Has its device send something.
     *
     * @param  list<int|float|string|bool|null>  $raw
     */
    abstract protected function send(string $control, array $raw): void;

    /** Has its device send what can't be read; false where there is no such thing. */
    abstract protected function sendNonsense(): bool;

    /** @return list<array{string, list<mixed>}> what its device was shown since it was asked last */
    abstract protected function shown(): array;

    /** @return list<array{string, list<int|float|string|bool|null>}> three events, the last of which says which it is */
    protected function examples(): array
    {
        return [['/kite/play', []], ['/odd', [0.5, 'x']], ['/kite/hold', [1]]];
    }

    /** @return array{string, list<int|float>, list<int|float>}|null a control with a lamp, what it sends, and a state of it; null where its devices show nothing */
    protected function lamp(): ?array
    {
        return ['/lamp', [0], [0.5]];
    }

    /** How its events name where they come from. */
    protected function origin(ControlSource $source): string
    {
        return $source->name();
    }

    private function until(string $what, \Closure $holds): void
    {
        $until = hrtime(true) + 5_000_000_000;
        while (! $holds()) {
            self::assertLessThan($until, hrtime(true), "Waited for $what.");
            $this->loop->addTimer(0.005, $this->loop->stop(...));
            $this->loop->run();
        }
    }

    public function test_events_come_in_their_order_as_they_were_sent(): void
    {
        $source = $this->source();
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = $event;

            return count($events) === 2 ? 'This one means nothing.' : null;
        });
        foreach ($this->examples() as [$control, $raw]) {
            $this->send($control, $raw);
        }
        $this->until('three events', static function () use (&$events): bool {
            return count($events) === 3;
        });
        self::assertSame(
            array_map(fn (array $one): array => [$this->origin($source), ...$one], $this->examples()),
            array_map(static fn (ControlEvent $e): array => [$e->source, $e->control, $e->raw], $events),
        );
        self::assertSame([true, true], [$events[0]->time <= $events[1]->time, $events[1]->time <= $events[2]->time]);
        $health = $source->health();
        self::assertSame([3, 0], [$health['packets'], $health['bad']]);
        self::assertSame([null, 'This one means nothing.', null], array_column($health['last'], 'fault'));
        self::assertStringContainsString($this->examples()[2][0], $health['last'][0]['text'], 'the newest first');
        $source->stop();
    }

    public function test_what_can_not_be_read_is_counted_and_what_the_handler_throws_is_survived(): void
    {
        $source = $this->source();
        $count = 0;
        $source->start(static function () use (&$count): never {
            $count++;
            throw new \LogicException('It choked.');
        });
        $this->send(...$this->examples()[0]);
        $this->until('one event', static function () use (&$count): bool {
            return $count === 1;
        });
        $bad = $this->sendNonsense() ? 1 : 0;
        $this->until('the nonsense', static fn (): bool => $source->health()['bad'] === $bad);
        $this->send(...$this->examples()[2]);
        $this->until('the next event', static function () use (&$count): bool {
            return $count === 2;
        });
        self::assertSame($bad, $source->health()['bad']);
        $source->stop();
    }

    public function test_feedback_goes_to_who_has_the_control_and_nowhere_else(): void
    {
        $source = $this->source();
        $seen = 0;
        $source->start(static function () use (&$seen): ?string {
            $seen++;

            return null;
        });
        $has = $this->lamp();
        [$lamp, $sends, $state] = $has ?? [$this->examples()[0][0], $this->examples()[0][1], [1]];
        $source->feedback($lamp, $state);
        $this->send($lamp, $sends);
        $this->until('the control to be known', static function () use (&$seen): bool {
            return $seen === 1;
        });
        $source->feedback($lamp, $state);
        if ($has === null) {
            self::assertSame([[], 0], [$this->shown(), $source->health()['bad']]);
            $source->stop();

            return;
        }
        $shown = [];
        $this->until('the lamp', function () use (&$shown): bool {
            array_push($shown, ...$this->shown());

            return $shown !== [];
        });
        self::assertSame([[$lamp, $state]], $shown);
        $source->stop();
    }

    public function test_nothing_comes_from_one_that_was_stopped_and_it_can_start_again(): void
    {
        $source = $this->source();
        $heard = 0;
        $source->start(static function () use (&$heard): ?string {
            $heard++;

            return null;
        });
        $source->stop();
        $this->send(...$this->examples()[0]);
        $source->feedback(...array_slice($this->lamp() ?? $this->examples()[0], 0, 2));
        $this->loop->addTimer(0.05, $this->loop->stop(...));
        $this->loop->run();
        self::assertSame(0, $heard);
        $source->start(static function () use (&$heard): ?string {
            $heard += 10;

            return null;
        });
        $this->send(...$this->examples()[0]);
        $this->until('an event', static function () use (&$heard): bool {
            return $heard === 10;
        });
        $source->stop();
    }
}

<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Watches;
use PHPUnit\Framework\TestCase;

final class WatchesTest extends TestCase
{
    /** @var list<array{int, string, string, \Closure}> what was asked and is not answered */
    private array $asked = [];

    /** @var list<array{int, string}> */
    private array $given = [];

    private bool $isThere = true;

    private Watches $watches;

    protected function setUp(): void
    {
        $this->watches = new Watches(
            function (int $stream, string $show, string $surface, \Closure $then): bool {
                $this->isThere && ($this->asked[] = [$stream, $show, $surface, $then]);

                return $this->isThere;
            },
            function (int $stream, string $frame): void {
                $this->given[] = [$stream, $frame];
            },
        );
    }

    /** @param  array<string, mixed>|null  $answer */
    private function answer(?array $answer): void
    {
        [, , , $then] = array_shift($this->asked);
        $then($answer);
    }

    public function test_one_question_at_a_time_and_the_latest_is_asked_after_it(): void
    {
        $this->watches->watch(1, 'a', 'wall');
        $this->watches->refresh();
        $this->watches->refresh();
        self::assertCount(1, $this->asked);
        $this->answer(['links' => ['dark']]);
        self::assertCount(1, $this->asked, 'what came meanwhile is asked once');
        $this->answer(['links' => ['dark']]);
        self::assertSame([[], 1], [$this->asked, count($this->given)], 'the same answer is sent once');
        $this->watches->refresh();
        $this->answer(['links' => ['lit']]);
        self::assertCount(2, $this->given);
        self::assertStringContainsString('lit', $this->given[1][1]);
    }

    public function test_who_watches_another_surface_or_none_hears_nothing_of_the_one_before(): void
    {
        $this->watches->watch(1, 'a', 'wall');
        $this->watches->watch(1, 'a', 'house');
        $this->answer(['links' => ['of the wall']]);
        $this->answer(['links' => ['of the house']]);
        self::assertCount(1, $this->given);
        self::assertStringContainsString('of the house', $this->given[0][1]);
        $this->watches->refresh();
        $this->watches->watch(1, 'a', '');
        $this->answer(['links' => ['late']]);
        $this->watches->watch(2, 'a', 'wall');
        $this->watches->watch(3, 'b', 'wall');
        $this->watches->forget(2);
        $this->answer(['links' => ['gone']]);
        self::assertCount(1, $this->given);
        $this->watches->refresh(1);
        self::assertCount(1, $this->asked, 'only what was asked before for another');
        $this->answer(null);
        self::assertCount(1, $this->given, 'a compiler that ended says nothing');
        $this->watches->refresh(3);
        self::assertSame([3, 'b', 'wall'], array_slice($this->asked[0], 0, 3));
    }

    public function test_a_show_that_is_not_there_yet_is_asked_when_it_is(): void
    {
        $this->isThere = false;
        $this->watches->watch(1, 'a', 'wall');
        $this->isThere = true;
        $this->watches->refresh();
        $this->answer(['links' => []]);
        self::assertCount(1, $this->given);
    }
}

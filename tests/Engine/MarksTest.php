<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\EngineCommands;
use App\Engine\Marks;
use App\Engine\Wire;
use Core\Bindings\Command;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is drawn over outputs is bounded, and told as it was asked. */
final class MarksTest extends TestCase
{
    public function test_marks_are_told_as_they_were_asked(): void
    {
        self::assertSame(
            ['output' => 'o', 'cross' => null, 'shapes' => []],
            Marks::of(['output' => 'o', 'action' => 'mark']),
        );
        $shape = ['points' => [[0, 0], [10.5, 0], [10, 10]], 'label' => 'Wing', 'fill' => '#ff00aa', 'grid' => 64];
        self::assertSame(
            ['output' => 'o', 'cross' => [5, 7.25], 'shapes' => [$shape]],
            Marks::of(['output' => 'o', 'cross' => [5, 7.25], 'shapes' => [$shape + ['other' => 'left out']]]),
        );
    }

    /** @return iterable<string, array{array<string, mixed>}> */
    public static function refused(): iterable
    {
        $line = [[0, 0], [1, 1]];
        yield 'no output' => [[]];
        yield 'a long name' => [['output' => str_repeat('x', 27)]];
        yield 'half a crosshair' => [['output' => 'o', 'cross' => [1]]];
        yield 'a crosshair of words' => [['output' => 'o', 'cross' => ['a', 'b']]];
        yield 'far away' => [['output' => 'o', 'cross' => [1e9, 0]]];
        yield 'not a number' => [['output' => 'o', 'cross' => [NAN, 0]]];
        yield 'shapes that are none' => [['output' => 'o', 'shapes' => 'all']];
        yield 'too many shapes' => [['output' => 'o', 'shapes' => array_fill(0, 301, ['points' => $line])]];
        yield 'one corner' => [['output' => 'o', 'shapes' => [['points' => [[0, 0]]]]]];
        yield 'too many corners' => [['output' => 'o', 'shapes' => [['points' => array_fill(0, 65, [0, 0])]]]];
        yield 'a fill of a name' => [['output' => 'o', 'shapes' => [['points' => $line, 'fill' => 'red']]]];
        yield 'a long label' => [['output' => 'o', 'shapes' => [['points' => $line, 'label' => str_repeat('x', 81)]]]];
        yield 'a grid of nothing' => [['output' => 'o', 'shapes' => [['points' => $line, 'grid' => 0]]]];
    }

    /** @param  array<string, mixed>  $command */
    #[DataProvider('refused')]
    public function test_what_is_beyond_bounds_is_refused_in_words(array $command): void
    {
        self::assertIsString(Marks::of($command));
    }

    public function test_regions_are_shown_alone_as_they_were_asked_and_nothing_else_is_taken(): void
    {
        $told = static function (array $command): array {
            [[$type, $payload]] = (new Wire())->feed(EngineCommands::frame(Command::Isolate, $command, 1000));
            self::assertSame(Wire::ISOLATE, $type);

            return (array) json_decode($payload, true);
        };
        $until = 1000 + Marks::LAST * Flicks::PER_SECOND;
        self::assertSame(
            ['regions' => ['a', 'b'], 'show' => 'white', 'until' => $until],
            $told(['regions' => ['a', 'b'], 'show' => 'white']),
        );
        self::assertSame(['regions' => [], 'show' => 'picture', 'until' => $until], $told([]));
        foreach (
            [
                ['regions' => [7]],
                ['regions' => [str_repeat('x', 27)]],
                ['regions' => array_fill(0, 1001, 'a')],
                ['regions' => 'a'],
                ['show' => 'black'],
                ['show' => 1],
            ] as $bad
        ) {
            try {
                $told($bad);
                self::fail('was taken: '.json_encode($bad));
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($bad), $refused->field);
            }
        }
    }
}

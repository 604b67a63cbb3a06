<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\EngineCommands;
use App\Engine\PlayerReports;
use App\Engine\Wire;
use Core\Bindings\Command;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class PlayerReportsTest extends TestCase
{
    public function test_a_report_is_made_harmless_and_says_whether_what_is_lacked_is_another(): void
    {
        $reports = new PlayerReports();
        self::assertTrue(
            $reports->take(
                [
                    'player' => 'p',
                    'drawn' => INF,
                    'late' => 'x',
                    'lacks' => ['tide', 7],
                    'error' => str_repeat('é', 400),
                ],
                10,
            ),
        );
        self::assertFalse($reports->take(['player' => 'p', 'lacks' => ['tide', ''], 'drawn' => 3], 11));
        self::assertTrue($reports->take(['player' => 'p', 'lacks' => []], 12));
        self::assertTrue(
            $reports->take(['player' => 'q', 'layers' => [['layer' => 'a', 'frame' => 5], 'nothing']], 20),
        );
        [$p, $q] = $reports->all();
        self::assertSame([12, [], 0], [$p['heard'], $p['lacks'], $p['drawn']]);
        self::assertSame([['layer' => 'a', 'frame' => 5, 'shown' => 0]], $q['layers']);
        foreach ([[], ['player' => ''], ['player' => 7], ['player' => str_repeat('x', 65)]] as $bad) {
            self::assertNull($reports->take($bad, 30));
        }
        self::assertFalse($reports->prune(12));
        self::assertTrue($reports->prune(13));
        self::assertSame(['q'], array_column($reports->all(), 'player'));
    }

    public function test_there_are_only_so_many_players(): void
    {
        $reports = new PlayerReports();
        for ($i = 0; $i < PlayerReports::MAX; $i++) {
            self::assertTrue($reports->take(['player' => "p$i"], 0));
        }
        self::assertNull($reports->take(['player' => 'one more'], 0));
        self::assertFalse($reports->take(['player' => 'p3'], 1), 'those that are known still report');
        self::assertCount(PlayerReports::MAX, $reports->all());
    }

    public function test_commands_of_the_engine_become_frames_or_are_refused(): void
    {
        $frame = EngineCommands::frame(Command::Identify, ['output' => 'o'], 1000);
        self::assertSame(Wire::json(Wire::IDENTIFY, ['output' => 'o', 'until' => 1000 + 4 * 705_600_000]), $frame);
        foreach (
            [
                [Command::Identify, []],
                [Command::Identify, ['output' => str_repeat('x', 27)]],
                [Command::Light, ['patch' => '']],
                [Command::Light, ['patch' => 'p', 'test' => ['kind' => 'hat']]],
                [Command::Mark, ['output' => 'o', 'shapes' => [['points' => []]]]],
                [Command::Play, []],
            ] as [$of, $command]
        ) {
            try {
                EngineCommands::frame($of, $command, 0);
                self::fail("$of->value was taken.");
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\PanelRights;
use App\Engine\TouchControls;
use App\Engine\Wire;
use Core\Bindings\ControlEvent;

/** A touch panel, as the windows that show it deliver it. */
final class TouchSourceTest extends ControlSourceContract
{
    private ?TouchControls $source = null;

    /** @var list<array{int, string, array<string, array<int, float>>}> stream, panel, and what it was shown */
    private array $frames = [];

    /** @var list<string> */
    private array $seen = [];

    protected function source(): ControlSource
    {
        return $this->source = new TouchControls(
            EngineClock::starting(),
            new Guard(),
            function (int $stream, string $frame): void {
                [[$type, $payload]] = (new Wire())->feed($frame);
                self::assertSame(Wire::TOUCH, $type);
                $told = json_decode($payload, true);
                $this->frames[] = [$stream, $told['panel'], $told['shown']];
            },
            function (string $source, string $panel): void {
                $this->seen[] = "$source $panel";
            },
            function (string $source, string $panel): void {
                $this->seen[] = "no $source $panel";
            },
        );
    }

    protected function examples(): array
    {
        return [['/fader1', [0.5]], ['/pad1', [0.25, 1]], ['/button1', [1]]];
    }

    protected function send(string $control, array $raw): void
    {
        $this->touch(1, substr($control, 1), $raw);
    }

    /** @param  list<int|float|string|bool|null>  $value */
    private function touch(
        int $stream,
        string $control,
        array $value,
        bool $held = false,
        string $panel = 'Left',
    ): ?string {
        return $this->source?->take($stream, [
            'source' => 'touch',
            'panel' => $panel,
            'control' => $control,
            'value' => $value,
            'held' => $held,
        ]);
    }

    protected function sendNonsense(): bool
    {
        return $this->touch(1, 'fader1', [2]) !== null;
    }

    protected function lamp(): ?array
    {
        return ['/button1', [0], [1]];
    }

    protected function shown(): array
    {
        $shown = [];
        foreach ($this->frames as [, , $controls]) {
            foreach ($controls as $control => $slots) {
                $shown[] = ["/$control", array_values($slots)];
            }
        }
        $this->frames = [];

        return $shown;
    }

    public function test_windows_of_one_panel_show_the_same_and_what_a_gone_one_held_is_let_go_of(): void
    {
        $source = $this->source();
        self::assertInstanceOf(TouchControls::class, $source);
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = [$event->device, $event->control, $event->raw];

            return null;
        });
        foreach ([1, 2] as $stream) {
            self::assertNull($source->take($stream, ['panel' => 'Left']));
        }
        self::assertNull($this->touch(1, 'fader1', [0.75]));
        // The other one goes along; who moves it knows.
        self::assertSame([[2, 'Left', ['fader1' => ['0' => 0.75]]]], array_slice($this->frames, 1));
        $this->frames = [];
        // The second of three numbers, and one that has just come.
        $source->feedback('/pad1', [null, 0.5], 'Left');
        $source->feedback('/pad1', [1], 'Right');
        self::assertNull($source->take(3, ['panel' => 'Left']));
        self::assertSame(
            [
                [1, 'Left', ['pad1' => ['1' => 0.5]]],
                [2, 'Left', ['pad1' => ['1' => 0.5]]],
                [3, 'Left', ['fader1' => [0.75], 'pad1' => ['1' => 0.5]]],
            ],
            $this->frames,
        );
        $this->touch(1, 'button1', [1], true);
        $this->touch(1, 'button2', [1], true);
        $this->touch(1, 'button2', [0]);
        $this->touch(2, 'button3', [1], true);
        $events = [];
        $source->left(1);
        self::assertSame([['Left', '/button1', [0]]], $events);
        $source->left(3);
        $source->left(2);
        self::assertSame(['touch Left', 'no touch Left'], $this->seen);
        self::assertSame(['Left', '/button3', [0]], end($events));
    }

    public function test_what_is_no_touch_is_refused_in_words(): void
    {
        $this->source();
        foreach (
            [['a b', [1]], ['a', []], ['a', [1, 1, 1, 1]], ['a', [-0.1]], ['a', ['x']], ['a', ['k' => 1]]] as [$name, $value]
        ) {
            self::assertStringContainsString('one to three numbers', (string) $this->touch(1, $name, $value));
        }
        self::assertSame('A touch names its panel.', $this->source?->take(1, ['control' => 'a', 'value' => [1]]));
    }

    public function test_a_paired_tablet_touches_its_panel_and_cues_and_nothing_else(): void
    {
        $tablet = PanelRights::person('01abc', 'Stage left / wing');
        self::assertSame('01abc', PanelRights::idOf($tablet));
        self::assertSame('', PanelRights::idOf('somebody'));
        $may = static fn (string $path, array $said): bool => PanelRights::refusal($tablet, $path, $said) === null;
        $touch = ['source' => 'touch', 'panel' => 'Stage left / wing', 'control' => 'a', 'value' => [1]];
        self::assertTrue($may('POST /live/controls', ['stream' => 1, 'events' => [$touch, $touch]]));
        self::assertTrue($may('POST /live/command', ['action' => 'fire', 'cue' => 'x']));
        self::assertTrue($may('POST /live/command', ['action' => 'back']));
        foreach (
            [
                ['POST /live/controls', ['events' => [['panel' => 'Other'] + $touch]]],
                ['POST /live/controls', ['events' => [['source' => 'midi'] + $touch]]],
                ['POST /live/controls', ['events' => ['x']]],
                ['POST /live/controls', ['watch' => true]],
                ['POST /live/command', ['action' => 'panic', 'on' => true]],
                ['POST /live/command', ['action' => 'live', 'values' => []]],
                ['POST /live/command', ['action' => ['fire']]],
                ['POST /live/command', []],
                ['POST /live/look', ['shows' => ['x']]],
                ['POST /live/report', []],
                ['POST /live/lights', []],
                ['POST /live/console', []],
                ['GET /live/state', []],
            ] as [$path, $said]
        ) {
            self::assertFalse($may($path, $said), "$path ".json_encode($said));
        }
        self::assertNull(PanelRights::refusal('somebody', 'POST /live/report', []));
    }

    public function test_a_flood_of_nonsense_leaves_no_trace_and_takes_no_memory(): void
    {
        $source = $this->source();
        self::assertInstanceOf(TouchControls::class, $source);
        $source->start(static fn (ControlEvent $event): ?string => null);
        mt_srand(20_261);
        $odd = [
            null,
            true,
            -1,
            2,
            0.5,
            '',
            ' ',
            "\0",
            'fader1',
            [],
            [1],
            [[]],
            ['a' => 1],
            [0.1, 0.2, 0.3, 0.4],
            NAN,
            1e308,
        ];
        $any = static fn (): mixed => $odd[mt_rand(0, count($odd) - 1)];
        [$refused, $before] = [0, 0];
        for ($i = 0; $i < 50_000; $i++) {
            $control = mt_rand(0, 2) > 0 ? str_repeat('c', 30).$i : $any();
            $event = ['source' => 'touch', 'panel' => mt_rand(0, 9) > 0 ? 'Left' : $any(), 'control' => $control];
            $event += ['value' => mt_rand(0, 2) > 0 ? [1] : $any(), 'held' => $any()];
            $source->take(1 + ($i % 3), $event) === null || $refused++;
            $this->frames = [];
            if ($i === 5000) {
                $before = memory_get_usage();
            }
        }
        self::assertGreaterThan(10_000, $refused);
        self::assertLessThan(200_000, memory_get_usage() - $before);
        self::assertNull($this->touch(1, 'fader1', [0.5]));
    }
}

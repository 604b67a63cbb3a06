<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\SoundInput;
use Core\Bindings\ControlEvent;
use Core\Bindings\Device;

/** An audio input of a window. */
final class SoundSourceTest extends ControlSourceContract
{
    private const LEVELS = ['sound:level' => 0, 'sound:low' => 1, 'sound:band8' => 11];

    private ?SoundInput $source = null;

    /** @var array<int, float> */
    private array $levels = [];

    /** @var list<string> */
    private array $seen = [];

    protected function source(): ControlSource
    {
        $this->levels = array_fill(0, 12, -60.0);

        return $this->source = new SoundInput(
            EngineClock::starting(),
            new Guard(),
            static fn (): array => [...array_keys(self::LEVELS), 'sound:onset'],
            static fn (): array => [
                'ears' => Device::fromRow([
                    'name' => 'Ears',
                    'protocol' => 'sound',
                    'release' => 0,
                    'floor' => -60,
                    'ceiling' => 0,
                ]),
            ],
            function (string $source, string $input): void {
                $this->seen[] = "$source $input";
            },
            function (string $source, string $input): void {
                $this->seen[] = "no $source $input";
            },
        );
    }

    protected function examples(): array
    {
        return [['sound:level', [0.5]], ['sound:low', [1.0]], ['sound:band8', [0.25]]];
    }

    protected function origin(ControlSource $source): string
    {
        return 'sound';
    }

    protected function send(string $control, array $raw): void
    {
        $n = self::LEVELS[$control] ?? 0;
        $level = -60 + 60 * (float) $raw[0];
        // What stays as loud is no event.
        $this->levels[$n] = $this->levels[$n] === $level ? -60.0 : $level;
        $this->take();
    }

    private function take(int $stream = 1): ?string
    {
        return $this->source?->take($stream, [
            'input' => 'Line',
            'levels' => array_values($this->levels),
        ]);
    }

    protected function sendNonsense(): bool
    {
        return $this->source?->take(1, ['input' => 'Line', 'levels' => [1]]) !== null;
    }

    protected function shown(): array
    {
        return [];
    }

    protected function lamp(): ?array
    {
        return null;
    }

    public function test_of_two_windows_one_delivers_and_its_input_goes_with_it(): void
    {
        $source = $this->source();
        self::assertInstanceOf(SoundInput::class, $source);
        $count = 0;
        $source->start(static function (ControlEvent $event) use (&$count): ?string {
            $count++;

            return null;
        });
        $this->levels[0] = -30.0;
        self::assertNull($this->take(1));
        $this->levels[0] = 0.0;
        self::assertNull($this->take(2));
        self::assertSame(1, $count, 'The other window hears the same.');
        self::assertSame(0.5, $source->meters()[0]['levels']['sound:level']);
        $source->left(2);
        $source->left(1);
        self::assertSame([], $source->meters());
        $this->take(2);
        self::assertSame(2, $count);
        self::assertSame(['sound Line', 'no sound Line', 'sound Line'], $this->seen);
        foreach ([['levels' => []], ['input' => ' ', 'levels' => array_fill(0, 12, 0)]] as $wrong) {
            self::assertStringContainsString('12 bands', (string) $source->take(1, $wrong));
        }
    }
}

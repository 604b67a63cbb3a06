<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\HttpControls;
use Core\Bindings\Device;

/** A device that sends requests, each with its token. */
final class HttpSourceTest extends ControlSourceContract
{
    private ?HttpControls $source = null;

    protected function source(): ControlSource
    {
        return $this->source = new HttpControls(
            EngineClock::starting(),
            new Guard(),
            static fn (): array => [
                'a' => Device::fromRow(['name' => 'No token', 'protocol' => 'http']),
                'b' => Device::fromRow(['name' => 'Door', 'protocol' => 'http', 'token' => hash('sha256', 'secret')]),
                'c' => Device::fromRow(['name' => 'Box', 'protocol' => 'midi', 'token' => hash('sha256', 'midi')]),
            ],
        );
    }

    protected function examples(): array
    {
        return [['/kite/play', [1]], ['/odd', [0.5, true]], ['/kite/hold', [1]]];
    }

    protected function send(string $control, array $raw): void
    {
        $this->source?->take('secret', ['control' => $control, 'value' => $raw]);
    }

    protected function sendNonsense(): bool
    {
        return $this->source?->take('secret', ['control' => 'door'])[0] === 422;
    }

    protected function lamp(): ?array
    {
        return null;
    }

    protected function shown(): array
    {
        return [];
    }

    public function test_only_a_device_with_a_token_is_taken_and_not_too_often(): void
    {
        $source = $this->source();
        self::assertInstanceOf(HttpControls::class, $source);
        $events = [];
        $source->start(static function ($event) use (&$events): ?string {
            $events[] = [$event->source, $event->device, $event->control, $event->raw];

            return $event->control === '/no' ? 'Nothing is bound to it.' : null;
        });
        foreach (['', 'wrong', 'midi', hash('sha256', 'secret')] as $token) {
            self::assertSame(401, $source->take($token, ['control' => '/a'])[0]);
        }
        self::assertSame(200, $source->take('secret', ['control' => '/a'])[0]);
        self::assertSame([422, ['detail' => 'Nothing is bound to it.']], $source->take('secret', ['control' => '/no']));
        foreach (
            [
                [],
                ['control' => 7],
                ['control' => '/a b'],
                ['control' => '/a#1'],
                ['control' => '/a', 'value' => 'x'],
                ['control' => '/a', 'value' => []],
                ['control' => '/a', 'value' => [null]],
                ['control' => '/a', 'value' => ['x' => 1]],
                ['control' => '/a', 'value' => array_fill(0, 17, 1)],
            ] as $body
        ) {
            self::assertSame(422, $source->take('secret', $body)[0], (string) json_encode($body));
        }
        self::assertSame([['http', 'Door', '/a', [1]], ['http', 'Door', '/no', [1]]], $events);
        $statuses = [];
        for ($i = 0; $i < 250; $i++) {
            $statuses[] = $source->take('secret', ['control' => '/a'])[0];
        }
        // However the seconds fall: some were refused, and not more than two seconds' worth taken.
        self::assertContains(429, $statuses);
        self::assertLessThanOrEqual(2 * HttpControls::A_SECOND, count(array_keys($statuses, 200, true)));
    }
}

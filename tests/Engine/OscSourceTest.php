<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\OscListener;
use Core\Protocol\Osc;

final class OscSourceTest extends ControlSourceContract
{
    private const AT = '127.0.0.1:'.(TEST_PORTS + 63);

    /** @var resource */
    private $device;

    protected function setUp(): void
    {
        parent::setUp();
        $device = stream_socket_client('udp://'.self::AT);
        self::assertIsResource($device);
        stream_set_blocking($device, false);
        $this->device = $device;
    }

    protected function source(): ControlSource
    {
        return new OscListener($this->loop, self::AT, new Guard(), EngineClock::starting());
    }

    protected function send(string $control, array $raw): void
    {
        // What came back of one that nobody listened to is told at the next.
        @fwrite($this->device, Osc::encode($control, $raw)) || fwrite($this->device, Osc::encode($control, $raw));
    }

    protected function sendNonsense(): bool
    {
        return fwrite($this->device, "bad\0") !== false;
    }

    protected function shown(): array
    {
        $packet = @fread($this->device, 2000);

        return $packet === false || $packet === ''
            ? []
            : array_map(static fn (array $message): array => [$message['address'], $message['arguments']], [
                ...Osc::decode($packet),
            ]);
    }
}

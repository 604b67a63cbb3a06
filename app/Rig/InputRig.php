<?php

declare(strict_types=1);

namespace App\Rig;

use App\Engine\Control;
use App\Engine\Guard;
use App\Engine\HttpServer;
use App\Models\StoredFile;
use App\Show\ShowRepository;
use App\Support\RequestRules;
use Psr\Http\Message\RequestInterface;
use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;

/**
 * The video devices of the virtual rig: a camera and a presenter's machine, each a motion JPEG stream over HTTP,
 * whole or small. What there is, and whether it has a signal, is kept where files are, under the name of the device
 * after a mark of its own.
 */
final class InputRig
{
    public const SERVER = 'Virtual rig';

    /** Width and frames a second of the small stream. */
    private const SMALL = [320, 10];

    /** @var array<string, Simulation> */
    private array $devices = [];

    /** @var array<string, array{whole: VideoFeed, small: VideoFeed}> */
    private array $feeds = [];

    /** @param  list<string>  $hosts */
    public function __construct(
        LoopInterface $loop,
        string $address,
        array $hosts,
        Guard $guard,
        private readonly Control $control,
        private readonly ?NodeRig $nodes = null,
        private readonly ?FaderBox $box = null,
    ) {
        $now = static fn (): int => (int) (microtime(true) * 1000);
        foreach ([new HarbourCamera(), new PresenterSlides()] as $device) {
            $name = $device->name();
            $this->devices[$name] = $device;
            $this->feeds[$name] = [
                'whole' => new VideoFeed($loop, $device, $device->width(), $device->rate(), $now),
                'small' => new VideoFeed($loop, $device, self::SMALL[0], min($device->rate(), self::SMALL[1]), $now),
            ];
            $this->announce($name);
        }
        new HttpServer($loop, $address, new RequestRules($hosts), $guard, $this->answer(...), 200);
    }

    private function announce(string $name): void
    {
        $device = $this->devices[$name];
        $signal = $this->feeds[$name]['whole']->signal;
        $file = StoredFile::query()->updateOrCreate(
            ['hash' => StoredFile::INPUT.$name],
            [
                'name' => $device->label(),
                'bytes' => 0,
                'state' => $signal ? 'ready' : 'lost',
                'progress' => 1,
                'message' => $signal ? null : "{$device->label()} has no signal.",
                'facts' => [
                    'kind' => 'input',
                    'width' => $device->width(),
                    'height' => $device->height(),
                    'pixelAspect' => 1,
                    'measuredRate' => $device->rate(),
                    'server' => self::SERVER,
                    'codec' => 'mjpeg',
                    'assumed' => [],
                ],
                'form' => [
                    'kind' => 'live',
                    'url' => "/inputs/$name",
                    'width' => $device->width(),
                    'height' => $device->height(),
                ],
            ],
        );
        $this->control->send(['tell' => 'file', 'file' => ['hash' => $file->hash] + ShowRepository::file($file)]);
    }

    /** @return array{int, array<string, mixed>}|null */
    private function answer(RequestInterface $request, string $body, ConnectionInterface $connection): ?array
    {
        if ($this->nodes !== null && $request->getUri()->getPath() === '/inputs/lights') {
            return [200, $this->nodes->state()];
        }
        if ($this->box !== null && $request->getUri()->getPath() === '/inputs/box') {
            return $request->getMethod() === 'GET' ? [200, $this->box->state()] : $this->move($this->box, $body);
        }
        if (
            preg_match('#^/inputs/([a-z]+)(?:/(signal|command))?$#D', $request->getUri()->getPath(), $m) !== 1 ||
            ! isset($this->devices[$m[1]])
        ) {
            return [404, ['detail' => 'There is no input of this name.']];
        }
        [, $name] = $m;
        $what = $m[2] ?? '';
        if ($request->getMethod() === 'GET' && $what === '') {
            parse_str($request->getUri()->getQuery(), $query);
            $connection->write(
                "HTTP/1.1 200 OK\r\nContent-Type: multipart/x-mixed-replace; boundary=".
                    VideoFeed::BOUNDARY.
                    "\r\nCache-Control: no-store\r\nConnection: close\r\n\r\n",
            );
            $this->feeds[$name][isset($query['small']) ? 'small' : 'whole']->take($connection);

            return null;
        }
        $said = json_decode($body, true, 8);
        if ($request->getMethod() !== 'POST' || ! is_array($said)) {
            return [422, ['detail' => 'A signal is put on and off, and a command given, by a POST of JSON.']];
        }
        if ($what === 'signal' && is_bool($said['on'] ?? null)) {
            foreach ($this->feeds[$name] as $feed) {
                $feed->signal = $said['on'];
            }
            $this->announce($name);

            return [200, ['signal' => $said['on']]];
        }

        return $what === 'command' &&
            is_string($said['action'] ?? null) &&
            $this->devices[$name]->command($said['action'])
            ? [200, ['done' => $said['action']]]
            : [422, ['detail' => 'This device does not know that.']];
    }

    /** @return array{int, array<string, mixed>} */
    private function move(FaderBox $box, string $body): array
    {
        $moves = json_decode($body, true, 8);
        foreach (is_array($moves) && array_is_list($moves) ? $moves : [null] as $move) {
            if (
                ! is_array($move) ||
                ! is_string($move['control'] ?? null) ||
                ! is_int($move['number'] ?? null) ||
                ! is_int($move['value'] ?? null) ||
                ! $box->move($move['control'], $move['number'], $move['value'])
            ) {
                return [422, ['detail' => 'A list of moves: control (fader or button), number, value from 0 to 127.']];
            }
        }

        return [200, $box->state()];
    }
}

<?php

declare(strict_types=1);

/*
 * What a frame of pixel lights costs at 64, 128 and 256 universes: a video on all of them, moving and not, composed
 * and encoded, and sent
 * over the loopback, against as many bare socket writes in the same run; and how late ticks at 40 Hz come.
 */

use App\Engine\Wire;
use App\Lights\LightSender;
use App\Lights\LightState;
use App\Lights\PacketSink;
use App\Lights\RawFrames;
use Core\Plan\PlanCompiler;
use Core\Protocol\ArtNet;
use Core\Show\Show;
use Core\Units\Flicks;

require dirname(__DIR__).'/vendor/autoload.php';

const S = Flicks::PER_SECOND;
const FRAMES = 200;

/** Panels of 17 × 10 RGB pixels: one universe each. */
function lights(int $universes, string $picture): Show
{
    $moving = $picture === 'a part of a canvas each, moving';
    $rows = [
        'fixture' => [
            [
                'id' => 'panel',
                'name' => 'Panel',
                'columns' => 17,
                'rows' => 10,
                'widthMm' => 500,
                'heightMm' => 300,
                'channels' => 'RGB',
            ],
        ],
        'node' => [
            [
                'id' => 'node',
                'name' => 'Node',
                'protocol' => 'artnet',
                'address' => '127.0.0.1',
                'port' => 4599,
                'onlyChanges' => false,
            ],
        ],
        'media' => [
            [
                'id' => 'film',
                'name' => 'Film',
                'kind' => 'file',
                'state' => 'ready',
                'facts' => ['width' => 1280, 'height' => 720, 'pixelAspect' => 1],
                'form' => [
                    'kind' => 'video',
                    'frameRate' => '25',
                    'frames' => 250,
                    'url' => '/film.mp4',
                    'raw' => ['url' => '/media/forms/film.raw', 'width' => 64, 'height' => 36, 'channels' => 3],
                ],
            ],
        ],
        'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 600 * S]],
        'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'w']],
        'clip' => [
            [
                'id' => 'c',
                'layer' => 'l',
                'media' => 'film',
                'start' => 0,
                'length' => 600 * S,
                'in' => 0,
                'pastEnd' => 'loop',
            ],
        ],
        'curve' => $moving
            ? [
                [
                    'id' => 'k',
                    'owner' => 'l',
                    'property' => 'x',
                    'keyframes' => [['t' => 0, 'v' => 0], ['t' => 600 * S, 'v' => 600]],
                ],
            ]
            : [],
        'effect' => str_contains($picture, 'hue')
            ? [
                ['id' => 'e', 'layer' => 'l', 'order' => 0, 'values' => ['effect' => 'wave', 'speed' => 1]],
                ['id' => 'f', 'layer' => 'l', 'order' => 1, 'values' => ['effect' => 'hue', 'angle' => 90]],
            ]
            : [],
    ];
    for ($i = 0; $i < $universes; $i++) {
        $rows['surface'][] = [
            'id' => "s$i",
            'name' => "Panel $i",
            'kind' => 'light',
            'position' => [$i, 0, 0],
            'rotation' => [0, 0, 0],
            'shape' => ['fixture' => 'panel'],
        ];
        $rows['patch'][] = ['id' => "p$i", 'surface' => "s$i", 'node' => 'node', 'universe' => $i + 1, 'channel' => 1];
    }
    $surfaces = array_column($rows['surface'], 'id');
    $canvas = $picture !== 'the same on all';
    $rows['route'] = [
        ['id' => 'w', 'name' => 'Lights', 'surfaces' => $surfaces] +
        ($canvas ? ['reach' => 'canvas', 'width' => 16 * 17, 'height' => 160] : []),
    ];
    foreach ($canvas ? $surfaces : [] as $i => $surface) {
        $rows['share'][] = [
            'id' => "h$i",
            'route' => 'w',
            'surface' => $surface,
            'values' => ['x' => 17 * ($i % 16), 'y' => 10 * intdiv($i, 16), 'width' => 17, 'height' => 10],
        ];
    }

    return Show::fromRows(['id' => '00000000000000000000000001', 'name' => 'Bench', 'frameRate' => '25'], $rows);
}

/** A sink that counts what it would send. */
final class Counted implements PacketSink
{
    public int $packets = 0;

    public function __construct(private readonly ?Socket $socket)
    {
    }

    public function send(string $packet, string $address, int $port, string $interface = ''): void
    {
        $this->packets++;
        $this->socket === null || socket_sendto($this->socket, $packet, strlen($packet), 0, $address, $port);
    }
}

$folder = sys_get_temp_dir().'/kite-lights-'.getmypid();
mkdir($folder);
mt_srand(3);
// As in the process that sends.
gc_disable();
$raw = fopen("$folder/film.raw", 'wb');
for ($f = 0; $f < 250; $f++) {
    $bytes = '';
    for ($i = 0; $i < 64 * 36; $i++) {
        [$x, $y] = [$i % 64, intdiv($i, 64)];
        $bytes .=
            chr((int) (127 + 127 * sin(($x + $f) / 9))).
            chr((int) (127 + 127 * sin(($y - $f) / 7))).
            chr((4 * $x + $f) & 255);
    }
    fwrite($raw, $bytes);
}
fclose($raw);
$socket = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
$sink = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
socket_bind($sink, '127.0.0.1', 4599);
echo "### Pixel lights, RGB, 170 pixels in each universe\n\n| universes | picture | a frame | of it composing and encoding | floor: bare writes | ratio | frames a second on one core | late at 40 Hz, p99 |\n|---|---|---|---|---|---|---|---|\n";
foreach (
    [
        'the same on all',
        'a part of a canvas each',
        'a part of a canvas each, moving',
        'a part of a canvas each, with a wave and a hue',
    ] as $picture
) {
    foreach ([64, 128, 256] as $universes) {
        $pack = (new PlanCompiler())->compile(lights($universes, $picture), 1)->toBytes();
        $made = static function (?Socket $to) use ($pack, $folder): array {
            $state = new LightState(static fn (): string => $pack);
            foreach (
                [
                    [Wire::HELLO, ['show' => '00000000000000000000000001', 'clock' => 'x/1']],
                    [Wire::BASE, ['show' => '00000000000000000000000001', 'pack' => 'x', 'at' => 0]],
                    [
                        Wire::DECK,
                        [
                            'show' => '00000000000000000000000001',
                            'timeline' => 'line',
                            'on' => true,
                            'map' => ['p' => [[0, 0, 1]]],
                        ],
                    ],
                ] as [$type, $data]
            ) {
                $state->take($type, Wire::encode($data));
            }

            return [
                new LightSender($state, new RawFrames($folder), ($counted = new Counted($to)), str_repeat('c', 16)),
                $counted,
            ];
        };
        $time = static function (?Socket $to) use ($made): float {
            [$sender] = $made($to);
            for ($f = 0; $f < 20; $f++) {
                $sender->tick((int) (($f * S) / 40), $f / 40);
            }
            $began = hrtime(true);
            for ($f = 20; $f < 20 + FRAMES; $f++) {
                $sender->tick((int) (($f * S) / 40), $f / 40);
            }

            return (hrtime(true) - $began) / FRAMES / 1e6;
        };
        $whole = $time($socket);
        $alone = $time(null);
        $packet = ArtNet::dmx(1, 1, str_repeat("\x55", 512));
        $began = hrtime(true);
        for ($f = 0; $f < FRAMES * $universes; $f++) {
            socket_sendto($socket, $packet, strlen($packet), 0, '127.0.0.1', 4599);
        }
        $floor = (hrtime(true) - $began) / FRAMES / 1e6;
        // Ticks at 40 Hz for five seconds, asleep between them.
        [$sender] = $made($socket);
        for ($f = -40; $f < 0; $f++) {
            $sender->tick((int) ((($f + 40) * S) / 40), ($f + 40) / 40);
        }
        $late = [];
        $start = hrtime(true);
        for ($f = 0; $f < 200; $f++) {
            $due = $start + $f * 25_000_000;
            $wait = $due - hrtime(true);
            $wait > 0 && usleep((int) ($wait / 1000));
            $late[] = (hrtime(true) - $due) / 1e6;
            $sender->tick((int) ((($f + 40) * S) / 40), ($f + 40) / 40);
        }
        sort($late);
        printf(
            "| %d | %s | %.1f ms | %.1f ms | %.2f ms | %.1f | %.0f | %.2f ms |\n",
            $universes,
            $picture,
            $whole,
            $alone,
            $floor,
            $whole / $floor,
            1000 / $whole,
            $late[198],
        );
    }
}
array_map(unlink(...), glob("$folder/*") ?: []);
rmdir($folder);

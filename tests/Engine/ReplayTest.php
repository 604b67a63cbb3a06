<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\CuePlayer;
use App\Engine\Decks;
use App\Engine\HeldValues;
use App\Engine\Performance;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\CueSheet;
use Core\Playback\Moment;
use Core\Show\Show;
use Core\Timeline\MediaTrack;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use PHPUnit\Framework\TestCase;

/**
 * Every value at every frame follows from the show and from what was done when: a run that is done again is the same,
 * bit for bit.
 */
final class ReplayTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const FRAME = self::S / 50;

    private const FRAMES = 1500;

    private const VALUES = ['opacity', 'x', 'scale', 'turn', 'gain', 'gain#1', 'blend', 'mute'];

    private static function show(): Show
    {
        $layer = static fn (string $id, string $line, array $more = []): array => $more + [
            'id' => $id,
            'timeline' => $line,
            'name' => $id,
            'order' => 0,
            'route' => 'r',
        ];
        $clip = static fn (string $id, string $layer, int $start, int $length, array $more = []): array => $more + [
            'id' => $id,
            'layer' => $layer,
            'media' => 'film',
            'start' => $start * self::S,
            'length' => $length * self::S,
            'pastEnd' => 'loop',
        ];
        $curve = static fn (string $id, string $owner, string $property, array $keys, string $kind = 'layer'): array => [
            'id' => $id,
            'ownerKind' => $kind,
            'owner' => $owner,
            'property' => $property,
            'slot' => 0,
            'keyframes' => array_map(
                static fn (array $k): array => ['t' => (int) ($k[0] * self::S), 'v' => $k[1], 'i' => $k[2] ?? 'linear'] +
                    (isset($k[3]) ? ['h' => $k[3]] : []),
                $keys,
            ),
        ];
        $cue = static fn (string $id, array $held, array $more = []): array => $more + [
            'id' => $id,
            'number' => substr($id, 1),
            'name' => $id,
            'held' => $held,
        ];

        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '50'],
            [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 20,
                        'heightPx' => 20,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [
                    [
                        'id' => 'wall',
                        'name' => 'Wall',
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['panel']],
                        'seams' => [],
                    ],
                ],
                'media' => [
                    [
                        'id' => 'film',
                        'name' => 'Film',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 40, 'height' => 20, 'duration' => 3 * self::S, 'frameRate' => '25'],
                        'form' => [
                            'kind' => 'video',
                            'url' => '/film.mp4',
                            'frames' => 75,
                            'flicksPerFrame' => self::S / 25,
                        ],
                    ],
                ],
                'timeline' => [
                    ['id' => 'line', 'name' => 'Main', 'duration' => 40 * self::S, 'order' => 0],
                    ['id' => 'bell', 'name' => 'Bell', 'duration' => 4 * self::S, 'order' => 1, 'end' => 'loop'],
                ],
                'layer' => [
                    $layer('a', 'line', ['values' => ['opacity' => 0.8]]),
                    $layer('b', 'line', ['order' => 1]),
                    $layer('c', 'bell'),
                ],
                'route' => [['id' => 'r', 'name' => 'Way', 'surfaces' => ['wall']]],
                'clip' => [
                    $clip('1', 'a', 0, 12, ['speed' => 0.7]),
                    $clip('2', 'a', 10, 20, ['speed' => -1.3, 'pastEnd' => 'bounce']),
                    $clip('3', 'b', 2, 30, ['ownClock' => true]),
                    $clip('4', 'c', 0, 4),
                ],
                'curve' => [
                    $curve('k', 'a', 'x', [
                        [0, -300],
                        [8, 500, 'bezier', [0.1, -0.4, 0.3, 1.6]],
                        [20, 0, 'smooth'],
                        [30, 77],
                    ]),
                    $curve('l', 'b', 'opacity', [[1, 0], [3, 1, 'smooth'], [25, 0.2]]),
                    $curve('m', 'bell', 'level', [[0, 1], [4, 0]], 'timeline'),
                ],
                'group' => [['id' => 'g', 'name' => 'Skies', 'colour' => '#8899aa']],
                'cue' => [
                    $cue(
                        'c1',
                        [['a' => 'layer:a/x', 'v' => 40], ['a' => 'layer:a/turn', 'v' => 90, 'fade' => 2 * self::S]],
                        ['fade' => self::S, 'curve' => 'smooth', 'group' => 'g'],
                    ),
                    $cue(
                        'c2',
                        [
                            [
                                'a' => 'layer:b/scale',
                                'v' => 1,
                                'keys' => [
                                    ['t' => 0, 'v' => 1],
                                    ['t' => self::S, 'v' => 3, 'i' => 'smooth'],
                                    ['t' => 3 * self::S, 'v' => 1],
                                ],
                            ],
                        ],
                        ['loop' => 3 * self::S, 'rate' => 1.37, 'fade' => self::S, 'group' => 'g', 'onStop' => 'stays'],
                    ),
                    $cue(
                        'c3',
                        [['a' => 'layer:b/opacity', 'v' => 0.3]],
                        ['scope' => 'everything', 'fade' => (int) (1.5 * self::S), 'delay' => self::S / 2],
                    ),
                    $cue(
                        'c4',
                        [['a' => 'layer:a/gain', 'v' => 2], ['a' => 'layer:a/blend', 'v' => 2]],
                        ['trigger' => 'follow', 'fade' => self::S],
                    ),
                    $cue(
                        'c5',
                        [['a' => 'layer:c/opacity', 'v' => 0.1]],
                        ['timeline' => 'line', 'time' => 14 * self::S, 'fade' => self::S, 'starts' => 'bell'],
                    ),
                    $cue('c6', [], ['timeline' => 'line', 'time' => 22 * self::S, 'holds' => true]),
                ],
            ],
        );
    }

    /** @return list<array{int, array<string, mixed>}> what is done at which frame */
    private static function history(int $seed): array
    {
        mt_srand($seed);
        $done = [[3, ['action' => 'play']]];
        for ($frame = 20; $frame < self::FRAMES; $frame += mt_rand(4, 60)) {
            $any = static fn (mixed ...$of): mixed => $of[mt_rand(0, count($of) - 1)];
            $done[] = [
                $frame,
                $any(
                    ['action' => 'fire', 'cue' => $any('c1', 'c2', 'c3', 'c4')],
                    ['action' => 'fire', 'cue' => $any('c1', 'c2', 'c5')],
                    ['action' => 'release', 'cue' => $any('c1', 'c2', 'c3')],
                    ['action' => 'advance'],
                    ['action' => 'play', 'timeline' => $any('line', 'bell')],
                    ['action' => 'hold'],
                    ['action' => 'go'],
                    ['action' => 'jump', 'time' => mt_rand(0, 39 * self::S)],
                    ['action' => 'jump', 'time' => mt_rand(0, 39 * self::S), 'fade' => mt_rand(1, 3 * self::S)],
                    ['action' => 'rate', 'rate' => $any(0.3, 1.0, 2.2, -1.0)],
                    ['action' => 'loop', 'from' => 5 * self::S, 'to' => 9 * self::S],
                    ['action' => 'loop'],
                    ['action' => 'off', 'timeline' => 'bell', 'fade' => self::S],
                    ['action' => 'live', 'values' => ['layer:a/opacity' => $any(0.1, 0.55, null)]],
                    ['action' => 'panic', 'on' => $any(true, false)],
                    ['action' => 'play'],
                ),
            ];
        }

        return $done;
    }

    /**
     * Does it all, and takes down what each frame has.
     *
     * @param  list<array{int, array<string, mixed>}>  $history
     * @param  list<int>  $kills  frames at which another one takes over by what was written
     * @return list<string> the values of each frame as the bytes that they are
     */
    private static function played(Show $show, Plan $plan, array $history, array $kills = []): array
    {
        $timelines = array_map(
            static fn ($line): array => ['name' => $line->name, 'sheet' => CueSheet::forTimeline($line, $show->rate)],
            $show->programme->timelines,
        );
        $on = Performance::of('show');
        $took = static function (Performance $on, int $at) use ($timelines, $show): void {
            $on->decks->setTimelines($timelines, $at);
            $on->cues->setCues($show->programme->cues, $on->decks->driven());
        };
        $took($on, 0);
        [$frames, $last] = [[], 0];
        for ($n = 0; $n < self::FRAMES; $n++) {
            $engine = 1_000_000 + $n * self::FRAME;
            if (in_array($n, $kills, true)) {
                $saved = (array) json_decode(
                    (string) json_encode(
                        [
                            array_combine(
                                $on->decks->ids(),
                                array_map(
                                    static fn (string $id): ?array => $on->decks->toArray($id, $engine),
                                    $on->decks->ids(),
                                ),
                            ),
                            $on->held->saved(),
                            $on->cues->saved(),
                        ],
                        JSON_PRESERVE_ZERO_FRACTION,
                    ),
                    true,
                );
                $held = HeldValues::restored($saved[1]);
                $on = new Performance(
                    'show',
                    Decks::restored($saved[0]),
                    $held,
                    [],
                    CuePlayer::restored($held, $saved[2]),
                );
                $took($on, $engine);
            }
            $on->advance($last + 1, $engine);
            $last = $engine;
            foreach ($history as [$frame, $command]) {
                if ($frame === $n) {
                    match ($command['action']) {
                        'fire' => $on->fire($command['cue'], $engine, 'me'),
                        'release' => $on->cues->release($command['cue'], $engine),
                        'advance' => $on->go($engine, 'me'),
                        'live' => $on->held->set($command['values'], $engine, self::S),
                        'panic' => $on->held->panic($command['on'], $engine, self::S),
                        default => $on->transport($command, $engine),
                    };
                }
            }
            $moment = new Moment(
                $plan,
                $on->decks->heads($engine),
                array_map(
                    static fn (array $all): array => array_map(HeldValue::fromArray(...), $all),
                    $on->held->all($engine),
                ),
                $engine,
            );
            $bytes = '';
            foreach ($moment->heads as $head) {
                $bytes .= pack('ed', $head->weight->at($engine), $head->map->at($engine));
                foreach ($show->programme->timelines[$head->timeline]->layers as $layer) {
                    foreach (self::VALUES as $value) {
                        $bytes .= pack('e', $moment->value("layer:$layer->id/$value", $head));
                    }
                    $bytes .=
                        pack('e', $moment->value("timeline:$head->timeline/level", $head)).
                        pack('l4', ...$moment->media($layer->id, $head), ...$moment->media($layer->id, $head, 1));
                }
            }
            $frames[] = $bytes.pack('e', $moment->master());
        }

        return $frames;
    }

    public function test_a_recorded_run_is_the_same_bit_for_bit_also_through_engines_that_take_over(): void
    {
        $show = self::show();
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);
        $plan = $compiler->plan();
        $media = $plan->tracks['layer:a/media'];
        self::assertSame(75, $media instanceof MediaTrack ? $media->segments[0][4] : 0, 'It has frames to show.');
        for ($seed = 1; $seed <= 8; $seed++) {
            $history = (array) json_decode(
                (string) json_encode(self::history($seed), JSON_PRESERVE_ZERO_FRACTION),
                true,
            );
            $first = self::played($show, $plan, $history);
            self::assertGreaterThan(self::FRAMES / 3, count(array_unique($first)), 'It moves.');
            self::assertSame($first, self::played($show, $plan, $history), "run $seed again");
            mt_srand(100 + $seed);
            $kills = array_map(static fn (): int => mt_rand(1, self::FRAMES - 1), range(1, 25));
            foreach (self::played($show, $plan, $history, $kills) as $n => $bytes) {
                $n > 0 &&
                    $first[$n] !== $bytes &&
                    self::fail(
                        "Run $seed through killed engines is another at frame $n, the last one killed at ".
                            max([0, ...array_filter($kills, static fn (int $k): bool => $k <= $n)]),
                    );
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace App\Demo;

use App\Rig\FaderBox;
use App\Rig\LineRig;
use App\Support\Id;
use Core\Show\Changes;
use Core\Units\Flicks;

/** Markers on the beats, the cue list and the cue board of Lantern Night. */
final class LanternCues
{
    private const S = Flicks::PER_SECOND;

    /** @var list<array<string, mixed>> */
    private array $changes = [];

    /**
     * @param  array<string, string>  $layers  ids by name
     * @param  array{string, string}  $surfaces  that the touch panel shows: the wall, and the house front
     */
    public function __construct(
        private readonly string $timeline,
        private readonly string $bell,
        private readonly array $layers,
        private readonly array $surfaces,
    ) {
    }

    /** @return list<array<string, mixed>> */
    public function changes(): array
    {
        $this->markers();
        $this->list();
        $this->board();

        return $this->changes;
    }

    /** @param  array<string, mixed>  $fields */
    private function add(string $kind, array $fields): string
    {
        $id = Id::make();
        $this->changes[] = Changes::create($kind, $id, $fields);

        return $id;
    }

    /** On beats of the music: sixteen of them are ten seconds. */
    private function markers(): void
    {
        foreach (
            [0 => 'I Dusk', 60 => 'II Lanterns', 140 => 'III Brass band', 220 => 'IV Storm', 300 => 'V Amber'] as $second => $name
        ) {
            $this->add('marker', [
                'timeline' => $this->timeline,
                'time' => $second * self::S,
                'name' => $name,
                'colour' => '#c9822b',
            ]);
        }
        foreach (
            [
                [5, 'Doors open'],
                [12.5, 'First lantern'],
                [30, 'Horn'],
                [50, 'Amber'],
                [80, 'Quay lit'],
                [100, 'Bells'],
                [120, 'All lanterns'],
                [150, 'Drum'],
                [170, 'Kite'],
                [190, 'Tutti'],
                [210, 'Last verse'],
                [240, 'Lightning'],
                [260, 'Lull'],
                [280, 'Second gust'],
                [320, 'Embers'],
                [345, 'Good night'],
            ] as [$second, $name]
        ) {
            $this->add('marker', ['timeline' => $this->timeline, 'time' => (int) ($second * self::S), 'name' => $name]);
        }
    }

    /**
     * @param  array<string, array<string, float|list<float>>>  $values  by layer and property; of a colour three
     *     numbers
     * @return list<array{a: string, v: float}>
     */
    private function held(array $values): array
    {
        $held = [];
        foreach ($values as $layer => $some) {
            foreach ($some as $property => $value) {
                foreach (array_values((array) $value) as $slot => $number) {
                    $held[] = [
                        'a' => "layer:{$this->layers[$layer]}/$property".($slot === 0 ? '' : "#$slot"),
                        'v' => (float) $number,
                    ];
                }
            }
        }

        return $held;
    }

    private function list(): void
    {
        $s = self::S;
        $cue = fn (string $number, string $name, array $more): string => $this->add(
            'cue',
            ['number' => $number, 'name' => $name] + $more,
        );
        $on = fn (float $second, bool $holds = false): array => [
            'timeline' => $this->timeline,
            'time' => (int) ($second * $s),
            'holds' => $holds,
        ];
        $cue('1', 'Dusk over the harbour', $on(4));
        $cue('2', 'Lanterns rise', $on(12, true));
        $cue('3', 'Amber close', $on(48, true));
        $cue('4', 'House to half', [
            'held' => $this->held(['stone' => ['opacity' => 0.4]]),
            'fade' => 4 * $s,
            'note' => 'when the mayor sits down',
        ]);
        $cue('5', 'Lanterns', ['note' => 'on the first bell'] + $on(60));
        $cue('6', 'Warm stone', [
            'held' => $this->held(['stone' => ['gain' => [1.3, 0.95, 0.6]]]),
            'fade' => 6 * $s,
            'curve' => 'smooth',
        ]);
        $cue('7', 'Wings follow', [
            'held' => $this->held(['wings' => ['gain' => [1.2, 0.9, 0.7]]]),
            'fade' => 3 * $s,
            'trigger' => 'follow',
        ]);
        $cue('8', 'Lanterns breathe', [
            'held' => [
                [
                    'a' => "layer:{$this->layers['lanterns']}/scale",
                    'v' => 1.0,
                    'keys' => [
                        ['t' => 0, 'v' => 1.0, 'i' => 'smooth'],
                        ['t' => 2 * $s, 'v' => 1.15, 'i' => 'smooth'],
                        ['t' => 4 * $s, 'v' => 1.0],
                    ],
                ],
            ],
            'loop' => 4 * $s,
            'bpm' => (float) DemoMedia::BPM,
            'fade' => 2 * $s,
            'trigger' => 'wait',
            'wait' => 8 * $s,
        ]);
        $cue('9', 'Stone back', [
            'held' => $this->held(['stone' => ['gain' => [1.0, 1.0, 1.0]], 'wings' => ['gain' => [1.0, 1.0, 1.0]]]),
            'fade' => 5 * $s,
        ]);
        $cue('10', 'Only the tower and house', [
            'scope' => 'everything',
            'held' => $this->held(['stone' => ['opacity' => 1.0]]),
            'fade' => 3 * $s,
            'note' => 'applause',
        ]);
        $cue('11', 'All back', [
            'held' => $this->held([
                'ground' => ['opacity' => 0.9],
                'wings' => ['opacity' => 0.8],
                'lanterns' => ['opacity' => 0.7],
            ]),
            'fade' => 4 * $s,
        ]);
        $cue('12', 'Brass band', ['note' => 'upbeat of the band'] + $on(140));
        $cue('13', 'Drum accents', [
            'held' => [
                [
                    'a' => "layer:{$this->layers['ground']}/scale",
                    'v' => 1.0,
                    'keys' => [
                        ['t' => 0, 'v' => 1.08, 'i' => 'linear'],
                        ['t' => (int) (0.8 * $s), 'v' => 1.0, 'i' => 'step'],
                    ],
                ],
            ],
            'loop' => $s,
            'bpm' => (float) DemoMedia::BPM,
        ]);
        $cue('14', 'Kite large', [
            'held' => $this->held(['kite' => ['scale' => 1.6]]),
            'fade' => 2 * $s,
            'curve' => 'ease-out',
            'onStop' => 'stays',
        ]);
        $cue('15', 'Kite in colour', [
            'held' => $this->held(['kite' => ['gain' => [0.7, 1.2, 1.4]]]),
            'fade' => $s,
            'trigger' => 'follow',
        ]);
        $cue('16', 'Ring the bell', [
            'starts' => $this->bell,
            'note' => 'runs beside the rest',
            'actions' => 'send tcp '.LineRig::ADDRESS.':'.config('kite.line_port').' bell\\n',
        ]);
        $cue('17', 'Storm', ['note' => 'stand by smoke'] + $on(220));
        $cue('18', 'Lightning', [
            'held' => [
                [
                    'a' => "layer:{$this->layers['stone']}/gain",
                    'v' => 1.0,
                    'keys' => [
                        ['t' => 0, 'v' => 4.0, 'i' => 'linear'],
                        ['t' => intdiv($s, 5), 'v' => 1.0, 'i' => 'step'],
                        ['t' => intdiv($s, 2), 'v' => 3.0, 'i' => 'linear'],
                        ['t' => $s, 'v' => 1.0],
                    ],
                ],
            ],
        ]);
        $cue('18.5', 'Second lightning', [
            'held' => $this->held(['wings' => ['gain' => [2.5, 2.5, 3.0]]]),
            'trigger' => 'wait',
            'wait' => 3 * $s,
        ]);
        $cue('19', 'Storm goes', [
            'held' => $this->held(['wings' => ['gain' => [0.6, 0.7, 0.9]], 'stone' => ['gain' => [0.8, 0.9, 1.1]]]),
            'fade' => 10 * $s,
            'curve' => 'smooth',
        ]);
        $cue('20', 'Amber', $on(300, true));
        $cue('21', 'Embers', [
            'held' => $this->held(['stone' => ['gain' => [1.2, 0.7, 0.35]], 'wings' => ['gain' => [1.2, 0.7, 0.35]]]),
            'fade' => 8 * $s,
            'curve' => 'smooth',
        ]);
        $cue('22', 'House out, tower last', [
            'held' => [
                ['a' => "layer:{$this->layers['wings']}/opacity", 'v' => 0.0, 'fade' => 4 * $s],
                ['a' => "layer:{$this->layers['ground']}/opacity", 'v' => 0.0, 'fade' => 6 * $s, 'delay' => 4 * $s],
                [
                    'a' => "layer:{$this->layers['stone']}/opacity",
                    'v' => 0.0,
                    'fade' => 10 * $s,
                    'delay' => 8 * $s,
                    'curve' => 'ease-in',
                ],
            ],
            'note' => 'each has its own fade',
        ]);
        $cue('23', 'Dark', ['scope' => 'everything', 'fade' => 2 * $s, 'actions' => 'shutter 1']);
        $cue('24', 'Evening start', [
            'trigger' => 'clock',
            'clock' => '21:30 fri sat',
            'held' => $this->held(['stone' => ['gain' => [1.0, 1.0, 1.0]]]),
            'note' => 'by itself, also after power-up',
        ]);
        $cue('25', 'Whole again', [
            'held' => $this->held([
                'stone' => ['gain' => [1.0, 1.0, 1.0], 'opacity' => 0.75],
                'wings' => ['gain' => [1.0, 1.0, 1.0], 'opacity' => 0.8],
                'ground' => ['opacity' => 0.9],
            ]),
            'fade' => 3 * $s,
            'actions' => 'shutter 0',
        ]);
    }

    /** Six columns, four rows: in each row one group of which one at a time is on, but for the last. */
    private function board(): void
    {
        $s = self::S;
        $page = $this->add('page', ['name' => 'Quay', 'columns' => 6, 'rows' => 4]);
        $tile = function (string $name, int $row, int $column, array $more) use ($page): string {
            return $this->add(
                'cue',
                [
                    'number' => 'b'.($row * 6 + $column + 1),
                    'name' => $name,
                    'listed' => false,
                    'page' => $page,
                    'row' => $row,
                    'column' => $column,
                ] + $more,
            );
        };
        $stone = $this->add('group', ['name' => 'Stone', 'colour' => '#c9822b']);
        $stones = [];
        foreach (
            [
                ['Amber', [1.4, 0.8, 0.3], '#e0963a'],
                ['Rose', [1.3, 0.5, 0.6], '#c76a7c'],
                ['Sea', [0.3, 0.9, 1.2], '#3f8f9a'],
                ['Violet', [0.8, 0.4, 1.3], '#8a6fc2'],
                ['Moon', [0.7, 0.8, 1.0], '#9fb2c8'],
                ['Plain', [1.0, 1.0, 1.0], ''],
            ] as $i => [$name, $gain, $colour]
        ) {
            $stones[] = $tile("Stone $name", 0, $i, [
                'held' => $this->held(['stone' => ['gain' => $gain]]),
                'fade' => 2 * $s,
                'curve' => 'smooth',
                'group' => $stone,
                'colour' => $colour,
            ]);
        }
        $this->box($stones);
        $this->panel($page);
        $this->others($stones[0]);
        $wings = $this->add('group', ['name' => 'Wings', 'colour' => '#3f8f86']);
        foreach (
            [
                ['Full', ['opacity' => 1.0]],
                ['Half', ['opacity' => 0.5]],
                ['Out', ['opacity' => 0.0]],
                ['Tilt left', ['turn' => -8.0]],
                ['Tilt right', ['turn' => 8.0]],
                ['Large', ['scale' => 1.5]],
            ] as $i => [$name, $values]
        ) {
            $tile("Wings $name", 1, $i, ['held' => $this->held(['wings' => $values]), 'fade' => $s, 'group' => $wings]);
        }
        $move = $this->add('group', ['name' => 'Moves', 'colour' => '#8a6fc2']);
        $keys = fn (string $layer, string $property, array $points): array => [
            [
                'a' => "layer:{$this->layers[$layer]}/$property",
                'v' => (float) $points[0][1],
                'keys' => array_map(
                    static fn (array $p): array => ['t' => (int) ($p[0] * $s), 'v' => (float) $p[1], 'i' => 'smooth'],
                    $points,
                ),
            ],
        ];
        foreach (
            [
                ['Sway', $keys('lanterns', 'x', [[0, 0], [2, 120], [4, 0], [6, -120], [8, 0]]), 8],
                ['Breathe', $keys('ground', 'scale', [[0, 1], [2, 1.12], [4, 1]]), 4],
                ['Swing', $keys('kite', 'turn', [[0, -10], [2, 10], [4, -10]]), 4],
                ['Pulse', $keys('stone', 'opacity', [[0, 0.9], [1, 0.4], [2, 0.9]]), 2],
                ['Drift', $keys('wings', 'x', [[0, 0], [8, 200], [16, 0]]), 16],
            ] as $i => [$name, $held, $beats]
        ) {
            $tile($name, 2, $i, [
                'held' => $held,
                'loop' => $beats * $s,
                'bpm' => (float) DemoMedia::BPM,
                'fade' => $s,
                'group' => $move,
            ]);
        }
        $tile('Freeze move', 2, 5, [
            'held' => $this->held(['lanterns' => ['x' => 0.0]]),
            'fade' => 4 * $s,
            'group' => $move,
            'onStop' => 'stays',
        ]);
        foreach (
            [
                ['Blackout', ['scope' => 'everything', 'colour' => '#303038']],
                [
                    'Only stone',
                    ['scope' => 'everything', 'held' => $this->held(['stone' => ['opacity' => 1.0]]), 'fade' => $s],
                ],
                [
                    'Only wings',
                    ['scope' => 'everything', 'held' => $this->held(['wings' => ['opacity' => 1.0]]), 'fade' => $s],
                ],
                ['Bell', ['starts' => $this->bell]],
                ['Slides up', ['held' => $this->held(['slides' => ['opacity' => 1.0]]), 'fade' => $s]],
                ['Slides out', ['held' => $this->held(['slides' => ['opacity' => 0.0]]), 'fade' => $s]],
            ] as $i => [$name, $more]
        ) {
            $tile($name, 3, $i, $more);
        }
    }

    /**
     * A touch panel for the quay: faders, the board, what is next, and the keys of the desk.
     *
     * @param  string  $page  of the board
     */
    private function panel(string $page): void
    {
        $device = $this->add('device', [
            'name' => 'Quay panel',
            'protocol' => 'touch',
            'columns' => 12,
            'rows' => 4,
        ]);
        $item = function (string $type, string $name, array $at, array $more = []) use ($device): void {
            $this->add(
                'touchItem',
                [
                    'device' => $device,
                    'type' => $type,
                    'name' => $name,
                    'column' => $at[0],
                    'row' => $at[1],
                    'columns' => $at[2],
                    'rows' => $at[3],
                ] + $more,
            );
        };
        $bind = fn (string $name, array $more): string => $this->add(
            'binding',
            ['device' => $device, 'control' => "/$name", 'to' => 1.0, 'lampOn' => 1.0, 'takeover' => 'jump'] + $more,
        );
        $faders = ['Master' => 'master:show/level'];
        foreach (['stone', 'lanterns', 'wings'] as $layer) {
            $faders[ucfirst($layer)] = "layer:{$this->layers[$layer]}/opacity";
        }
        foreach (array_keys($faders) as $i => $label) {
            $name = 'fader'.($i + 1);
            $item('fader', $name, [$i, 0, 1, 3], ['label' => $label]);
            $bind($name, [
                'label' => $label,
                'meaning' => 'value',
                'gesture' => 'move',
                'target' => $faders[$label],
                'motor' => true,
            ]);
        }
        $item('board', 'board1', [4, 0, 6, 3], ['shows' => $page]);
        $item('picture', 'picture1', [10, 0, 2, 1], ['label' => 'Bandstand wall', 'shows' => $this->surfaces[0]]);
        $item('picture', 'picture2', [10, 1, 2, 2], ['label' => 'House front', 'shows' => $this->surfaces[1]]);
        $item('timecode', 'timecode1', [0, 3, 3, 1]);
        $item('next', 'next1', [3, 3, 5, 1]);
        $column = 8;
        foreach (['Back' => 'back', 'Go' => 'go', 'Play' => 'toggle', 'Panic' => 'panic 1'] as $label => $command) {
            $name = strtolower($label);
            $item(
                $label === 'Panic' ? 'toggle' : 'button',
                $name,
                [$column++, 3, 1, 1],
                [
                    'label' => $label,
                    'colour' => $label === 'Panic' ? '#ff6b6b' : '',
                ],
            );
            $bind(
                $name,
                ['label' => $label, 'target' => $command] +
                    ($label === 'Panic' ? ['gesture' => 'toggle', 'other' => 'panic 0'] : []),
            );
        }
    }

    /**
     * The fader box of the virtual rig: a row of cues, back, Go, play or hold and panic, and four faders.
     *
     * @param  list<string>  $cues  for its first buttons
     */
    private function box(array $cues): void
    {
        $device = $this->add('device', ['name' => FaderBox::NAME, 'protocol' => 'midi', 'port' => FaderBox::NAME]);
        $bind = fn (string $control, string $label, array $more): string => $this->add(
            'binding',
            ['device' => $device, 'control' => $control, 'label' => $label] + $more,
        );
        foreach ($cues as $i => $cue) {
            $bind("note:1:$i", 'Button '.($i + 1), ['meaning' => 'cue', 'gesture' => 'toggle', 'target' => $cue]);
        }
        foreach ([8 => 'back', 9 => 'go', 10 => 'toggle', 11 => 'panic 1'] as $note => $command) {
            $bind(
                "note:1:$note",
                'Button '.($note + 1),
                ['target' => $command] + ($note === 11 ? ['gesture' => 'toggle', 'other' => 'panic 0'] : []),
            );
        }
        $values = ['master:show/level'];
        foreach (['stone', 'lanterns', 'wings'] as $layer) {
            $values[] = "layer:{$this->layers[$layer]}/opacity";
        }
        foreach ($values as $i => $address) {
            $bind('cc:1:'.($i + 1), 'Fader '.($i + 1), [
                'meaning' => 'value',
                'gesture' => 'move',
                'target' => $address,
                'motor' => true,
            ]);
        }
    }

    /**
     * What else may push the show: the band by a microphone, and a door by HTTP.
     *
     * @param  string  $cue  that the door fires
     */
    private function others(string $cue): void
    {
        $band = $this->add('device', ['name' => 'Band microphone', 'protocol' => 'sound']);
        $this->add('binding', [
            'device' => $band,
            'control' => 'sound:level',
            'label' => 'Kite grows with the band',
            'meaning' => 'value',
            'gesture' => 'move',
            'target' => "layer:{$this->layers['kite']}/scale",
            'to' => 1.0,
            'low' => 0.9,
            'high' => 1.3,
            'takeover' => 'jump',
        ]);
        $door = $this->add('device', ['name' => 'Quay door', 'protocol' => 'http']);
        $this->add('binding', [
            'device' => $door,
            'control' => '/door',
            'label' => 'Door opens',
            'meaning' => 'cue',
            'target' => $cue,
            'to' => 1.0,
        ]);
    }
}

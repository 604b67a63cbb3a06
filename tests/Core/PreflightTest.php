<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Preflight\Preflight;
use Core\Preflight\Trace;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use Core\Values\Stratum;
use PHPUnit\Framework\TestCase;

final class PreflightTest extends TestCase
{
    /**
     * @param  array<string, float>  $loose  by address
     * @param  array<string, list<array{lacks?: list<string>, late?: int}>>|null  $players
     * @return array<string, array{string, string}> state and message by link
     */
    private static function trace(
        Show $show,
        float $seconds,
        array $loose = [],
        ?array $players = ['out' => [['lacks' => []]]],
        ?string $on = 'line',
    ): array {
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);
        $heads = $on === null ? [] : [Head::of($on, TransportMap::standing(0, (int) ($seconds * Flicks::PER_SECOND)))];
        $held = array_map(
            static fn (float $value): array => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $value)],
            $loose,
        );
        $links = [];
        foreach (Trace::of($show, 'wall', new Moment($compiler->plan(), $heads, $held, 5), $players) as $link) {
            $links[$link['link']] = [$link['state'], $link['message']];
        }

        return $links;
    }

    public function test_light_that_gets_through_is_said_link_by_link(): void
    {
        $links = self::trace(PlaybackTest::show(), 2);
        self::assertSame(['Media', 'Layer', 'Route', 'Surface', 'Output', 'Device'], array_keys($links));
        self::assertSame(['ok', 'Top is up at 50 %.'], $links['Layer']);
        self::assertSame('2 × 1 panels, 40 × 20 px.', $links['Surface'][1]);
        self::assertSame(['ok', 'At 30, 10 on Output 1.'], $links['Output']);
    }

    public function test_the_device_that_is_fed_is_named_and_a_standby_output_does_not_count(): void
    {
        $region = ['surface' => 'wall', 'source' => [0, 0, 40, 20], 'x' => 0, 'y' => 0];
        $rows = [
            'server' => [
                ['id' => 'main', 'name' => 'Quay', 'role' => 'main'],
                ['id' => 'spare', 'name' => 'Spare', 'role' => 'backup'],
            ],
            'output' => array_map(
                static fn (string $id, string $server): array => [
                    'id' => $id,
                    'name' => "Output $id",
                    'width' => 100,
                    'height' => 50,
                    'refresh' => 60,
                    'server' => $server,
                ],
                ['a', 'b', 'c'],
                ['spare', 'main', 'main'],
            ),
            'feed' => [
                ['id' => 'fa', 'output' => 'a', 'name' => 'Spare processor'],
                ['id' => 'fb', 'output' => 'b', 'name' => 'Left half', 'part' => [0, 0, 50, 50]],
                ['id' => 'fb2', 'output' => 'b', 'name' => 'Right half', 'part' => [50, 0, 50, 50]],
            ],
            'region' => [
                ['id' => 'ra', 'output' => 'a'] + $region,
                ['id' => 'rb', 'output' => 'b', 'x' => 55] + $region,
                ['id' => 'rc', 'output' => 'c'] + $region,
            ],
        ];
        $device = static function (array $open, array $more = [], array $dark = []) use ($rows): array {
            $show = PlaybackTest::show([], $more + $rows);
            $compiler = new PlanCompiler();
            $compiler->compile($show, 1);
            $moment = new Moment(
                $compiler->plan(),
                [Head::of('line', TransportMap::standing(0, 2 * Flicks::PER_SECOND))],
                [],
                5,
            );
            $players = array_fill_keys($open, [['lacks' => []]]);

            return array_intersect_key(
                array_column(Trace::of($show, 'wall', $moment, $players, $dark), null, 'link')['Device'],
                array_flip(['state', 'kind', 'id', 'name', 'message']),
            );
        };
        // A projector that should give light and does not is what is wrong, past its player.
        $thrown = [
            'projector' => [
                [
                    'id' => 'beam',
                    'name' => 'House left',
                    'position' => [0, 0, 0],
                    'rotation' => [0, 0, 0],
                    'lens' => [],
                ],
            ],
            'feed' => [
                ['id' => 'fb', 'output' => 'b', 'name' => 'Beamer', 'role' => 'projector', 'projector' => 'beam'],
            ],
        ];
        self::assertSame(
            ['fault', 'projector', 'beam', 'House left', 'House left has its shutter shut.'],
            array_values($device(['b', 'c'], $thrown, ['beam' => 'has its shutter shut', 'other' => 'is off'])),
        );
        self::assertSame('ok', $device(['b', 'c'], $thrown, ['other' => 'is off'])['state']);
        self::assertSame(
            [
                'state' => 'ok',
                'kind' => 'feed',
                'id' => 'fb2',
                'name' => 'Right half',
                'message' => 'The player for Output b is drawing. It feeds Right half.',
            ],
            $device(['b', 'c']),
        );
        self::assertSame(
            ['fault', 'fb2', 'Right half, no player'],
            array_values(array_intersect_key($device(['a', 'c']), array_flip(['state', 'id', 'name']))),
        );
        // Another output of the same wall, which feeds nothing that is named.
        self::assertSame(
            ['fault', 'output', 'c', 'no player', 'The player for Output c is not open.'],
            array_values($device(['a', 'b'])),
        );
        // Only the standby has it.
        self::assertSame(
            ['ok', 'feed', 'fa', 'Spare processor'],
            array_slice(array_values($device(['a'], ['region' => [['id' => 'ra', 'output' => 'a'] + $region]])), 0, 4),
        );
    }

    public function test_the_broken_link_is_named(): void
    {
        self::assertSame(
            ['attention', 'This show is open, but not on air.'],
            self::trace(PlaybackTest::show(), 2, [], null)['Device'],
        );
        self::assertSame(
            ['fault', 'The player for Output 1 is not open.'],
            self::trace(PlaybackTest::show(), 2, [], [])['Device'],
        );
        self::assertSame(
            ['fault', 'The master is at 0 %.'],
            self::trace(PlaybackTest::show(), 2, ['master:show/level' => 0.0])['Output'],
        );
        self::assertSame(
            'The player for Output 1 lacks: no bytes.',
            self::trace(PlaybackTest::show(), 2, [], ['out' => [['lacks' => ['no bytes']]]])['Device'][1],
        );
        $loose = self::trace(PlaybackTest::show(), 2, ['layer:top/opacity' => 0.0, 'layer:ground/opacity' => 0.0]);
        self::assertSame(['fault', 'Ground is at 0 % opacity at 00:00:02:00 (loose).'], $loose['Layer']);
        self::assertSame(
            'Ground is at 0 % opacity at 00:00:01:00 (loose).',
            self::trace(PlaybackTest::show(), 1, ['layer:ground/opacity' => 0.0])['Layer'][1],
        );
        self::assertSame(
            'The level of Main is at 0 %.',
            self::trace(PlaybackTest::show(), 2, ['timeline:line/level' => 0.0])['Layer'][1],
        );
        self::assertSame(
            'Top is on Main, which is not on.',
            self::trace(PlaybackTest::show(), 2, [], [], null)['Layer'][1],
        );
    }

    /** @param  array<string, list<array<string, mixed>>>  $rows */
    private static function of(array $rows): Show
    {
        return Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            $rows + [
                'panel' => [
                    [
                        'id' => 'p',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 100,
                        'heightPx' => 100,
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
                        'cells' => [['p', 'p']],
                        'seams' => [0],
                    ],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => Flicks::PER_SECOND]],
            ],
        );
    }

    public function test_an_unconnected_wall_is_dark_for_the_reasons_that_hold(): void
    {
        $links = self::trace(self::of([]), 0);
        self::assertSame('No layer is aimed at Wall.', $links['Route'][1]);
        self::assertSame('Wall has no region on any output.', $links['Output'][1]);
        $layer = [['id' => 'l', 'timeline' => 'line', 'name' => 'Sky', 'order' => 0, 'route' => 'w']];
        $route = [['id' => 'w', 'surfaces' => ['wall'], 'layer' => 'l']];
        self::assertSame(
            'No clip of Sky is up at 00:00:12:05.',
            self::trace(self::of(['layer' => $layer, 'route' => $route]), 12.2)['Layer'][1],
        );
    }

    public function test_findings_name_what_no_longer_fits_and_the_rest_of_the_show_stays(): void
    {
        $show = self::of([
            'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'Sky', 'order' => 0, 'route' => 'w']],
            'route' => [['id' => 'w', 'surfaces' => ['wall', 'gone'], 'layer' => 'l']],
            'media' => [
                ['id' => 'm', 'name' => 'Tall', 'kind' => 'solid', 'width' => 10, 'height' => 90],
                ['id' => 'f', 'name' => 'clip.mov', 'kind' => 'file', 'state' => 'failed'],
            ],
            'clip' => [
                [
                    'id' => 'c',
                    'layer' => 'l',
                    'media' => 'lost',
                    'start' => 0,
                    'length' => 5,
                    'in' => 0,
                    'pastEnd' => 'hold',
                ],
                [
                    'id' => 'd',
                    'layer' => 'l',
                    'media' => 'm',
                    'start' => 0,
                    'length' => 5,
                    'in' => 0,
                    'pastEnd' => 'hold',
                ],
            ],
            'cue' => [
                [
                    'id' => 'q',
                    'timeline' => 'line',
                    'time' => 9 * Flicks::PER_SECOND,
                    'number' => '4',
                    'name' => 'Late',
                    'holds' => false,
                ],
            ],
            'output' => [['id' => 'o', 'name' => 'Out', 'width' => 150, 'height' => 100, 'refresh' => 60]],
            'region' => [
                ['id' => 'r', 'output' => 'o', 'surface' => 'wall', 'source' => [0, 0, 250, 100], 'x' => 0, 'y' => 0],
                ['id' => 'x', 'output' => 'o', 'surface' => 'away', 'source' => [0, 0, 1, 1], 'x' => 0, 'y' => 0],
            ],
        ]);
        $said = array_map(static fn ($f): string => "$f->view $f->severity: $f->message", Preflight::of($show));
        self::assertContains('timeline fault: The media of this clip was removed.', $said);
        self::assertContains('routes fault: Sky is aimed at a surface that was removed.', $said);
        self::assertContains('outputs fault: The surface of this region was removed.', $said);
        self::assertContains('media fault: clip.mov could not be made ready.', $said);
        self::assertContains('outputs fault: Wall extends beyond Out (150 × 100 px).', $said);
        self::assertContains(
            'outputs attention: A region of Out takes pixels that Wall (200 × 100 px) does not have.',
            $said,
        );
        self::assertContains(
            'timeline attention: Cue 4 "Late" at 00:00:09:00 lies past the end of the timeline.',
            $said,
        );
        self::assertCount(1, $show->programme->timelines['line']->layers[0]->clips);
    }

    public function test_media_that_pixel_lights_can_not_show_are_told_and_only_where_lights_are_reached(): void
    {
        $row = ['raw' => ['url' => '/raw', 'width' => 8, 'height' => 8]];
        $media = [
            [
                'id' => 'cam',
                'name' => 'Window',
                'kind' => 'input',
                'file' => 'browser:screen',
                'state' => 'ready',
                'facts' => ['width' => 64, 'height' => 64],
                'form' => ['kind' => 'input', 'url' => 'browser:screen'],
            ],
            [
                'id' => 'net',
                'name' => 'Camera',
                'kind' => 'input',
                'file' => 'input:camera',
                'state' => 'ready',
                'facts' => ['width' => 64, 'height' => 64],
                'form' => ['kind' => 'input', 'url' => '/inputs/camera.mjpg'],
            ],
            [
                'id' => 'old',
                'name' => 'tide.mp4',
                'kind' => 'file',
                'state' => 'ready',
                'facts' => ['width' => 64, 'height' => 64],
                'form' => ['kind' => 'video', 'url' => '/old.mp4'],
            ],
            [
                'id' => 'new',
                'name' => 'gale.mp4',
                'kind' => 'file',
                'state' => 'ready',
                'facts' => ['width' => 64, 'height' => 64],
                'form' => ['kind' => 'video', 'url' => '/new.mp4'] + $row,
            ],
        ];
        $show = static fn (array $surfaces): Show => self::of([
            'fixture' => [
                [
                    'id' => 'bar',
                    'name' => 'Bar',
                    'columns' => 4,
                    'rows' => 1,
                    'widthMm' => 400,
                    'heightMm' => 50,
                    'channels' => 'RGB',
                ],
            ],
            'surface' => [
                [
                    'id' => 'wall',
                    'name' => 'Wall',
                    'position' => [0, 0, 0],
                    'rotation' => [0, 0, 0],
                    'cells' => [['p', 'p']],
                    'seams' => [0],
                ],
                [
                    'id' => 'mast',
                    'name' => 'Mast',
                    'kind' => 'light',
                    'position' => [0, 0, 0],
                    'rotation' => [0, 0, 0],
                    'shape' => ['fixture' => 'bar'],
                ],
            ],
            'media' => $media,
            'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'Sky', 'order' => 0, 'route' => 'w']],
            'route' => [['id' => 'w', 'surfaces' => $surfaces, 'layer' => 'l']],
            'clip' => array_map(
                static fn (array $one, int $i): array => [
                    'id' => "c$i",
                    'layer' => 'l',
                    'media' => $one['id'],
                    'start' => $i * 10,
                    'length' => 10,
                ],
                $media,
                array_keys($media),
            ),
        ]);
        $dark = static fn (array $surfaces): array => array_values(
            array_filter(
                array_map(static fn ($f): string => "$f->id: $f->message", Preflight::of($show($surfaces))),
                static fn (string $said): bool => str_contains($said, 'dark on pixel lights'),
            ),
        );
        self::assertSame(
            [
                'cam: Window is dark on pixel lights such as Mast: it is an input of each browser alone. Use an input of a server.',
                'old: tide.mp4 is dark on pixel lights such as Mast: it has no small frames. Convert it again.',
            ],
            $dark(['wall', 'mast']),
        );
        self::assertSame([], $dark(['wall']));
    }

    public function test_feathers_that_are_wider_than_the_overlap_of_two_lenses_are_told_in_degrees(): void
    {
        // Two lenses of 60° that look 50° apart have 10° in common; a feather of the outer sixth of the picture
        // takes, from 30°, atan(tan 30° · 2/3) = 21.05°: 8.95°; one of a fifth takes 30° − atan(tan 30° · 3/5) =
        // 10.89°.
        $said = static function (float $feather): array {
            $lens = static fn (string $id, float $yaw): array => [
                'id' => $id,
                'route' => 'w',
                'name' => "Lens $id",
                'values' => ['yaw' => $yaw, 'angle' => 60, 'featherLeft' => $feather, 'featherRight' => $feather],
            ];
            $show = self::of([
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'Sky', 'order' => 0, 'route' => 'w']],
                'route' => [
                    [
                        'id' => 'w',
                        'name' => 'Round',
                        'surfaces' => ['wall'],
                        'reach' => 'lens',
                        'width' => 100,
                        'height' => 100,
                    ],
                ],
                'lens' => [$lens('a', 25), $lens('b', -25)],
            ]);

            return array_values(
                array_filter(
                    array_map(static fn ($f): string => "$f->view $f->severity: $f->message", Preflight::of($show)),
                    static fn (string $one): bool => str_contains($one, 'dark band'),
                ),
            );
        };
        self::assertSame([], $said(1 / 6));
        self::assertCount(1, $said(0.2));
        self::assertMatchesRegularExpression(
            '/^routes attention: Lens [ab] and Lens [ab] overlap by 10\.0°, and their feathers take 10\.9° and 10\.9°/u',
            $said(0.2)[0],
        );
    }
}

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
use Core\Venue\Feeding;
use Core\Venue\Panel;
use Core\Venue\Wall;
use Core\Venue\WallSheet;
use PHPUnit\Framework\TestCase;

final class WallSheetTest extends TestCase
{
    private static function panel(): Panel
    {
        return Panel::of(
            'Indoor 2.6',
            500,
            500,
            192,
            192,
            8.1,
            55,
            165,
            depthMm: 80,
            jointMin: -10,
            jointMax: 10,
            inrushAmperes: 4,
        );
    }

    public function test_the_sheet_of_the_bandstand_has_the_figures_worked_out_by_hand(): void
    {
        // Ten by five panels at 4° each: 36° in all, R = 0.5 / (2 sin 2°) = 7.1634 m, chord 2 R sin 20° = 4.9000 m.
        $wall = Wall::of(array_fill(0, 5, array_fill(0, 10, self::panel())), array_fill(0, 9, 4.0));
        $f = WallSheet::of($wall, Feeding::fromRow([]))->figures;
        self::assertEqualsWithDelta(
            [5.0, 4.90005, 36.0, 7.16343, 7.15906],
            [$f['arc'], $f['chord'], $f['turn'], $f['radiusAtSeams'], $f['radiusAtFaces']],
            1e-4,
        );
        // R (1 − cos 20°) for the ten panels, whose middle is a seam.
        self::assertEqualsWithDelta(7.16343 * (1 - cos(deg2rad(20))), $f['depth'], 1e-4);
        self::assertEqualsWithDelta(2 * 80 * sin(deg2rad(2)), $f['openingMm'], 1e-9);
        // 8,250 W: 2796.8 W bear sixteen panels, so 16 + 16 + 16 + 2.
        self::assertSame([4, 16, 3, 17], [$f['circuits'], $f['panelsPerCircuit'], $f['ports'], $f['panelsPerPort']]);
        self::assertEqualsWithDelta([2970.0, 2640.0, 2640.0], $f['phases'], 1e-9);
        // Sixteen panels of 4 A of inrush on a circuit; the lines carry what their phases do, the neutral their
        // difference of 330 W.
        self::assertEqualsWithDelta([2970 / 218.5, 2640 / 218.5, 2640 / 218.5], $f['amperes'], 1e-9);
        self::assertEqualsWithDelta(
            [330 / 218.5, 8.25 / 0.95, 64.0, 405 / 12.5, 660.0, 8250 * 3.412142],
            [
                $f['neutralAmperes'],
                $f['kilovoltAmperes'],
                $f['inrushAmperes'],
                $f['kilogramsPerSquareMetre'],
                $f['wattsPerSquareMetre'],
                $f['heatBtuPerHour'],
            ],
            0.01,
        );
        // By columns to and fro, three panels of the next column: cables of 15, 15, 15 and 1 steps of half a metre.
        self::assertEqualsWithDelta([23.0, 7.5], [$f['powerMetres'], $f['longestPowerMetres']], 1e-9);
        self::assertSame(
            array_fill_keys([...WallSheet::NUMBERS, ...WallSheet::LISTS], 0),
            array_replace(
                array_fill_keys([...WallSheet::NUMBERS, ...WallSheet::LISTS], 0),
                array_map(static fn (): int => 0, $f),
            ),
        );
        self::assertEqualsWithDelta([2.6041667, 8.9525], [$f['nearest'], $f['vanishing']], 1e-3);
    }

    public function test_more_than_a_panel_allows_and_uneven_phases_are_remarks_and_no_refusal(): void
    {
        $wall = Wall::of([array_fill(0, 7, self::panel())], [12.0, -12.0, 5.0, 0.0, 0.0, 0.0]);
        // 349.6 W a circuit bear two panels: 330, 330, 330 and 165 W, so 495, 330 and 330 W on the phases.
        $sheet = WallSheet::of($wall, Feeding::fromRow(['amperes' => 2]));
        self::assertSame(
            [
                'Seam 1 stands at 12°; "Indoor 2.6" allows -10° to 10°.',
                'Seam 2 stands at -12°; "Indoor 2.6" allows -10° to 10°.',
                'The most loaded phase bears 29 % more than the mean.',
            ],
            $sheet->remarks,
        );
        self::assertNull($sheet->figures['radiusAtSeams']);
    }

    public function test_a_joint_is_where_two_panels_meet_and_both_have_a_say(): void
    {
        [$bends, $stiff] = [
            Panel::of('Bends', 500, 500, 200, 200, 1, 1, 1, jointMin: -15, jointMax: 15),
            Panel::of('Stiff', 500, 500, 200, 200, 1, 1, 1),
        ];
        $sheet = static fn (array $cells, array $seams): WallSheet => WallSheet::of(
            Wall::of($cells, $seams),
            Feeding::fromRow([]),
        );
        self::assertSame(
            ['Seam 1 stands at 10°; "Stiff" allows 0° to 0°.'],
            $sheet([[$bends, $stiff]], [10.0])->remarks,
        );
        self::assertSame(
            ['Seam 1 stands at 10°; "Stiff" allows 0° to 0°.'],
            $sheet([[$stiff, $bends]], [10.0])->remarks,
        );
        $gap = $sheet([[$stiff, null, $stiff]], [10.0, 10.0]);
        self::assertSame([[], 0.0], [$gap->remarks, $gap->figures['openingMm']]);
    }

    public function test_the_coarsest_panel_tells_from_where_a_wall_looks_right_and_ports_are_doubled_where_wanted(): void
    {
        [$fine, $coarse] = [
            Panel::of('Fine', 500, 500, 200, 200, 1, 1, 1),
            Panel::of('Coarse', 500, 500, 100, 100, 1, 1, 1),
        ];
        $wall = Wall::of([[$fine, null], [null, $coarse]], [0.0]);
        $f = WallSheet::of($wall, Feeding::fromRow(['spareData' => true, 'hangingPoints' => '2']))->figures;
        self::assertEqualsWithDelta(
            [5.0, 5.0, 5.0],
            [$f['nearest'], $wall->figures()->pitchX, $wall->figures()->pitchY],
            1e-9,
        );
        self::assertSame([2, [1.0, 1.0]], [$f['ports'], $f['hangingLoads']]);
        self::assertSame(
            ['Hanging points are a number, or places from 0 to 1.000 m with semicolons between, such as "0.5; 2.5".'],
            WallSheet::of($wall, Feeding::fromRow(['hangingPoints' => 'roof']))->remarks,
        );
    }

    public function test_feeding_takes_what_is_stated_and_the_usual_for_the_rest(): void
    {
        $feeding = Feeding::fromRow([
            'volts' => 120,
            'amperes' => 20,
            'phases' => 1,
            'dataPath' => 'rows',
            'fromRight' => true,
            'bitsPerPixel' => 30,
        ]);
        self::assertEqualsWithDelta(120 * 20 * 0.8 * 0.95, $feeding->supply->wattsPerCircuit(), 1e-9);
        self::assertSame(527_777, $feeding->link->pixels());
        self::assertSame([[0, 2], [0, 1], [0, 0]], $feeding->data(Wall::grid(self::panel(), 3, 1))[0]->cells);
        self::assertEqualsWithDelta(
            495 / (120 * 20 * 0.8 * 0.95),
            $feeding->power(Wall::grid(self::panel(), 3, 1))[0]->share(),
            1e-9,
        );
    }

    /** @param  array<string, mixed>  $surface */
    private static function show(array $surface): Show
    {
        return Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
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
                    $surface + [
                        'id' => 'face',
                        'name' => 'Tower',
                        'position' => [1, 0, 2],
                        'rotation' => [0, 0, 0],
                        'cells' => [],
                        'seams' => [],
                    ],
                ],
                'media' => [['id' => 'm', 'name' => 'Card', 'kind' => 'testcard']],
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => Flicks::PER_SECOND]],
                'layer' => [['id' => 'l', 'timeline' => 't', 'name' => 'Stone', 'order' => 0, 'route' => 'w']],
                'route' => [['id' => 'w', 'surfaces' => ['face'], 'layer' => 'l']],
                'clip' => [
                    [
                        'id' => 'c',
                        'layer' => 'l',
                        'media' => 'm',
                        'start' => 0,
                        'length' => Flicks::PER_SECOND,
                        'in' => 0,
                        'pastEnd' => 'hold',
                    ],
                ],
                'output' => [['id' => 'o', 'name' => 'Out', 'width' => 1920, 'height' => 1080, 'refresh' => 50]],
                'region' => [
                    [
                        'id' => 'r',
                        'output' => 'o',
                        'surface' => 'face',
                        'source' => [0, 0, 700, 900],
                        'x' => 0,
                        'y' => 0,
                    ],
                ],
            ],
        );
    }

    public function test_a_face_is_planned_traced_and_judged_like_a_wall(): void
    {
        $show = self::show([
            'kind' => 'drum',
            'shape' => ['radius' => 2, 'arc' => 180, 'height' => 9, 'pixelsPerMetre' => 100],
        ]);
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);
        $plan = $compiler->plan();
        // Half the way round two metres is 6.283 m.
        self::assertSame([628, 900], [$plan->parts['surface:face']['width'], $plan->parts['surface:face']['height']]);
        self::assertStringContainsString('width=628&height=900&name=Tower', $plan->parts['media:m@face']['url']);
        $links = array_column(
            Trace::of($show, 'face', new Moment($plan, [Head::of('t', TransportMap::standing(0, 0))], [], 0), []),
            'message',
            'link',
        );
        self::assertSame('Drum, radius 2 m, 180°, 9 m high, 628 × 900 px.', $links['Surface']);
        self::assertSame(
            ['A region of Out takes pixels that Tower (628 × 900 px) does not have.'],
            array_map(static fn ($f): string => $f->message, Preflight::of($show)),
        );
        self::assertNull($show->venue->surfaces['face']->wall());
    }

    public function test_a_wall_with_a_joint_that_its_panels_do_not_allow_is_found_in_the_venue(): void
    {
        $show = self::show(['kind' => 'wall', 'cells' => [['p', 'p']], 'seams' => [15]]);
        $findings = array_values(array_filter(Preflight::of($show), static fn ($f): bool => $f->view === 'venue'));
        self::assertSame(
            ['Tower: Seam 1 stands at 15°; "P" allows 0° to 0°.'],
            array_map(static fn ($f): string => $f->message, $findings),
        );
        self::assertSame(
            ['attention', 'surface', 'face'],
            [$findings[0]->severity, $findings[0]->kind, $findings[0]->id],
        );
    }
}

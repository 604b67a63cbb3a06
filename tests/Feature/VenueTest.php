<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Paper\WideFont;
use Symfony\Component\Process\ExecutableFinder;
use Symfony\Component\Process\Process;
use Tests\TestCase;

final class VenueTest extends TestCase
{
    private string $show = '';

    private string $wall = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        $this->wall = $this->id();
        $panel = $this->id();
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Build',
            'changes' => [
                $this->created('panel', $panel, [
                    'name' => 'Indoor 2.6',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 192,
                    'heightPx' => 192,
                    'kilograms' => 8.1,
                    'wattsAverage' => 55,
                    'wattsMaximum' => 165,
                    'jointMin' => -10,
                    'jointMax' => 10,
                ]),
                $this->created('surface', $this->wall, [
                    'name' => 'Bandstand "north" wall',
                    'position' => [1, 2, 3],
                    'cells' => [[$panel, $panel, $panel], [$panel, null, $panel]],
                    'seams' => [5, 5],
                    'feeding' => ['amperes' => 4],
                ]),
            ],
        ])->assertCreated();
    }

    public function test_the_sheet_of_a_wall_tells_its_cables_and_figures(): void
    {
        $sheet = $this->ask('GET', "shows/$this->show/surfaces/$this->wall/sheet")->assertOk();
        self::assertSame(
            [2, 1, 10],
            [$sheet->json('figures.circuits'), $sheet->json('figures.ports'), (int) $sheet->json('figures.turn')],
        );
        self::assertSame([[1, 0], [0, 0], [0, 1], [1, 2]], $sheet->json('power.0.cells'));
        self::assertSame([], $sheet->json('remarks'));
        $this->ask('GET', "shows/$this->show/surfaces/$this->show/sheet")->assertNotFound();
    }

    public function test_what_the_house_gives_away_is_files_with_their_names(): void
    {
        $csv = $this->ask('GET', "shows/$this->show/surfaces/$this->wall/specification.csv")->assertOk();
        $rows = array_map(str_getcsv(...), explode("\r\n", substr((string) $csv->getContent(), 3)));
        self::assertSame(
            [
                'Bandstand "north" wall',
                '',
                '3',
                '2',
                '5',
                '576 × 384',
                '',
                '1.5',
                '1',
                '1.496',
                '0.044',
                '10',
                '1.25',
                '40.5',
                '275',
                '825',
            ],
            $rows[2],
        );
        self::assertContains(['Indoor 2.6', '5', '1', '6', '48.6', '500 × 500', '192 × 192'], $rows);
        // 230 · 4 · 0.8 · 0.95 = 699.2 W: four panels on the first circuit, one on the second.
        self::assertContains(['Power', '1', '4', '660', '699', 'W', '1.7', '2.1 1.1 1.2 2.3'], $rows);
        self::assertContains(['Power', '2', '1', '165', '699', 'W', '0', '1.3'], $rows);
        self::assertStringContainsString(
            'filename="Bandstand north wall.csv"',
            (string) $csv->headers->get('Content-Disposition'),
        );
        $svg = $this->ask('GET', "shows/$this->show/surfaces/$this->wall/template.svg")->assertOk();
        self::assertSame('576', (string) simplexml_load_string((string) $svg->getContent())['width']);
    }

    public function test_another_program_reads_the_obj_without_a_warning(): void
    {
        $obj = (string) $this->ask('GET', "shows/$this->show/venue.obj")
            ->assertOk()
            ->getContent();
        self::assertStringContainsString('o Bandstand_"north"_wall', $obj);
        $assimp = (new ExecutableFinder())->find('assimp');
        self::assertNotNull($assimp, 'assimp-utils is installed by bin/setup --tests.');
        file_put_contents("$this->data/venue.obj", $obj);
        $said = (new Process([$assimp, 'info', "$this->data/venue.obj"]))->mustRun()->getOutput();
        self::assertMatchesRegularExpression('/Faces:\s+10\b/', $said);
        // It joins the corners that neighbours share: the three by two panels have twelve.
        self::assertMatchesRegularExpression('/Vertices:\s+12\b/', $said);
        self::assertDoesNotMatchRegularExpression('/warn|error/i', $said);
    }

    public function test_seams_panels_and_sizes_are_worked_out_for_who_asks(): void
    {
        $this->ask('POST', 'walls/seams', ['columns' => 5, 'turn' => 20])
            ->assertOk()
            ->assertJsonPath('seams', [5, 5, 5, 5]);
        self::assertEqualsWithDelta(
            4.7769,
            $this->ask('POST', 'walls/seams', ['columns' => 2, 'widthMm' => 500, 'radius' => 6])->json('seams.0'),
            1e-3,
        );
        $this->ask('POST', 'walls/seams', ['columns' => 5, 'widthMm' => 500, 'radius' => 0.1])
            ->assertStatus(422)
            ->assertJsonPath('field', 'radius');
        $this->ask('POST', 'walls/seams', ['columns' => 5])->assertStatus(422);
        $this->ask('POST', 'walls/seams', ['columns' => 0, 'turn' => 1])
            ->assertStatus(422)
            ->assertJsonPath('field', 'columns');
        $this->ask('POST', 'walls/by-size', ['width' => 9, 'height' => 4.5, 'pitch' => 2.3])
            ->assertOk()
            ->assertJsonPath('widthPx', 3913);
        $this->ask('POST', 'walls/by-size', ['width' => 9, 'height' => '4', 'pitch' => 2.3])
            ->assertStatus(422)
            ->assertJsonPath('field', 'height');
        self::assertGreaterThanOrEqual(30, count($this->ask('GET', 'panels')->assertOk()->json('panels')));
    }

    public function test_feeding_that_no_house_has_is_refused(): void
    {
        foreach (
            [['phases' => 2], ['powerPath' => 'zigzag'], ['bitsPerPixel' => 25], ['volts' => 'many'], ['amperes' => 0]] as $feeding
        ) {
            $this->ask('POST', "shows/$this->show/edits", [
                'name' => 'Feed',
                'changes' => [$this->updated('surface', $this->wall, ['feeding' => [['amperes' => 4], $feeding]])],
            ])->assertStatus(422);
        }
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Feed',
            'changes' => [
                $this->updated('surface', $this->wall, ['feeding' => [['amperes' => 4], ['deep' => ['er' => 1]]]]),
            ],
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'feeding');
    }

    public function test_names_of_every_script_are_printed(): void
    {
        self::assertSame(
            [['Quay ', false], ['漢港', true], [' é', false], ['🚢', true]],
            WideFont::parts('Quay 漢港 é🚢'),
        );
        self::assertSame([], WideFont::parts(''));
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Rename',
            'changes' => [
                $this->updated('surface', $this->wall, ['name' => ['Bandstand "north" wall', 'Wall 漢港 <b> ሰላም 🚢']]),
            ],
        ])->assertCreated();
        $pdf = (string) $this->ask('GET', "shows/$this->show/surfaces/$this->wall/specification.pdf")
            ->assertOk()
            ->getContent();
        self::assertStringStartsWith('%PDF', $pdf);
        // Both fonts are in it, each with only what is used of it.
        self::assertMatchesRegularExpression('~/FontName /[A-Z]+\+?\w*DejaVu~', $pdf);
        self::assertMatchesRegularExpression('~/BaseFont /[A-Z]+\+Unifont~i', $pdf);
        self::assertLessThan(300_000, strlen($pdf));
        $font = (string) file_get_contents((string) WideFont::file("$this->data/pdf"));
        self::assertSame("\0\1\0\0", substr($font, 0, 4));
        $this->expectException(\UnexpectedValueException::class);
        WideFont::unpacked('no font');
    }
}

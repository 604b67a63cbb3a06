<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\Csv;
use Core\Exchange\ObjWriter;
use Core\Exchange\PixelMapTemplate;
use Core\Exchange\Xml;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Venue\Feeding;
use Core\Venue\Panel;
use Core\Venue\PanelLibrary;
use Core\Venue\Wall;
use Core\Venue\WallSheet;
use PHPUnit\Framework\TestCase;

final class ExchangeTest extends TestCase
{
    private static function wall(): Wall
    {
        $p = Panel::of('Indoor 2.6', 500, 500, 192, 192, 8.1, 55, 165, jointMin: -10, jointMax: 10, inrushAmperes: 4);

        return Wall::of([[$p, $p, $p], [$p, null, $p]], [5.0, 5.0]);
    }

    public function test_an_obj_keeps_vertices_within_a_tenth_of_a_millimetre_and_uvs_within_a_millionth(): void
    {
        $mesh = self::wall()->mesh();
        $matrix = Pose::of(Vec3::of(3, 1.2, -4), 35)->matrix();
        $obj = ObjWriter::write(
            [
                ['name' => 'Wing left', 'mesh' => $mesh, 'matrix' => $matrix],
                ['name' => 'Wing left', 'mesh' => $mesh, 'matrix' => $matrix],
            ],
            "Quay\n# one",
        );
        preg_match_all('/^v (\S+) (\S+) (\S+)$/m', $obj, $v, PREG_SET_ORDER);
        preg_match_all('/^vt (\S+) (\S+)$/m', $obj, $t, PREG_SET_ORDER);
        preg_match_all('~^f (\d+)/\1 (\d+)/\2 (\d+)/\3$~m', $obj, $f, PREG_SET_ORDER);
        self::assertCount(2 * $mesh->vertexCount(), $v);
        self::assertCount(2 * $mesh->triangleCount(), $f);
        for ($i = 0; $i < $mesh->vertexCount(); $i++) {
            $p = $matrix->point($mesh->position($i));
            self::assertEqualsWithDelta($p->toArray(), [(float) $v[$i][1], (float) $v[$i][2], (float) $v[$i][3]], 1e-4);
            self::assertEqualsWithDelta(
                [$mesh->uvs[2 * $i], 1 - $mesh->uvs[2 * $i + 1]],
                [(float) $t[$i][1], (float) $t[$i][2]],
                1e-6,
            );
        }
        self::assertSame(
            $mesh->vertexCount() + 1,
            min(
                array_map(
                    static fn (array $m): int => min((int) $m[1], (int) $m[2], (int) $m[3]),
                    array_slice($f, $mesh->triangleCount()),
                ),
            ),
        );
        self::assertStringContainsString("o Wing_left\n", $obj);
        self::assertStringContainsString("o Wing_left_2\n", $obj);
        self::assertSame("# m\n# metres, Y up\n", ObjWriter::write([], 'm'));
    }

    public function test_csv_quotes_what_needs_it_and_lets_no_text_become_a_formula(): void
    {
        self::assertSame(
            "a,\"b \"\"c\"\"\",\"d,e\",1.5,-3,'=SUM(A1)\r\n\"x\ny\",,0.333333\r\n",
            Csv::write([['a', 'b "c"', 'd,e', 1.5, -3, '=SUM(A1)'], ["x\ny", '', 1 / 3]]),
        );
    }

    public function test_no_separator_of_any_house_makes_a_formula_of_a_name_and_names_come_back_as_they_were(): void
    {
        $names = [
            'x;=1+1',
            "tab\t+2",
            'a, -b',
            "'quoted'",
            "O'Hara's wall",
            '=SUM(A1)',
            "'=already",
            'plain',
            '-5',
            '@here',
            "line\n=3",
            'a|=b',
        ];
        $csv = Csv::write([$names]);
        foreach ([',', ';', "\t", '|', "\n"] as $separator) {
            foreach (explode($separator, $csv) as $cell) {
                self::assertDoesNotMatchRegularExpression('/^"?\s*[=+@]/', $cell, $csv);
            }
        }
        self::assertSame($names, array_map(Csv::plain(...), Csv::read($csv)[0]));
    }

    public function test_text_of_any_sign_stands_in_xml(): void
    {
        foreach (
            ["\u{FFFF}", "\u{FFFE}", "\0", "\x1b", "\xC3\x28", 'ü < & > " \'', "\u{1F6A2}", "\u{10FFFF}"] as $text
        ) {
            self::assertNotFalse(
                simplexml_load_string('<a b="'.Xml::text($text).'">'.Xml::text($text).'</a>'),
                bin2hex($text),
            );
        }
        self::assertSame("a\u{FFFD}b &amp; &lt;c&gt;", Xml::text("a\u{FFFF}b & <c>"));
    }

    public function test_the_template_is_an_svg_of_exactly_the_raster(): void
    {
        $svg = simplexml_load_string(
            PixelMapTemplate::svg('<Quay> & "sea" '.str_repeat('long ', 60).'漢', self::wall()),
        );
        self::assertNotFalse($svg);
        self::assertSame(['576', '384'], [(string) $svg['width'], (string) $svg['height']]);
        $svg->registerXPathNamespace('s', 'http://www.w3.org/2000/svg');
        self::assertCount(6, $svg->xpath('//s:g[@id="panels"]/s:rect') ?: []);
        self::assertSame(
            ['1.1', '1.2', '1.3', '2.1', '2.3'],
            array_values(
                array_filter(
                    array_map(strval(...), $svg->xpath('//s:g[@id="panels"]/s:text') ?: []),
                    static fn (string $t): bool => ! str_contains($t, ','),
                ),
            ),
        );
    }

    public function test_the_library_holds_a_few_dozen_panels_of_every_use_with_names_of_their_own(): void
    {
        $panels = PanelLibrary::panels();
        $names = array_map(static fn (Panel $p): string => $p->name, $panels);
        self::assertGreaterThanOrEqual(30, count($panels));
        self::assertSame($names, array_values(array_unique($names)));
        self::assertContains('Indoor 2.6 · 500 × 500', $names);
        self::assertEqualsWithDelta(
            [1.25, 31.0],
            [
                min(array_map(static fn (Panel $p): float => $p->pitchX(), $panels)),
                max(array_map(static fn (Panel $p): float => $p->pitchX(), $panels)),
            ],
            0.01,
        );
    }

    public function test_a_sheet_says_what_goes_past_a_limit(): void
    {
        $p = Panel::of('Stiff', 500, 400, 100, 100, 1, 10, 20);
        $sheet = WallSheet::of(Wall::of([[$p, $p]], [3.0]), Feeding::fromRow([]));
        self::assertContains('Seam 1 stands at 3°; "Stiff" allows 0° to 0°.', $sheet->remarks);
        self::assertContains('"Stiff" has 5.00 mm of pitch across and 4.00 mm down.', $sheet->remarks);
        $giant = Panel::of('Giant', 500, 500, 10, 10, 1, 100, 5000);
        self::assertStringContainsString(
            'more than the 2797 W of a circuit',
            implode(' ', WallSheet::of(Wall::grid($giant, 1, 1), Feeding::fromRow([]))->remarks),
        );
        $this->expectExceptionMessage('powerPath must be one of');
        Feeding::fromRow(['powerPath' => 'zigzag']);
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\ObjReader;
use Core\Exchange\PanelTable;
use Core\Media\TestCard;
use Core\Routing\Route;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Curve;
use Core\Venue\Arrange;
use Core\Venue\Reliefs;
use Core\Venue\Suspension;
use Core\Venue\Wall;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What docs/limits.md says, tried on the core: every limit itself, and what lies just beyond. */
final class LimitsTest extends TestCase
{
    /** A row of each kind, of which one field is set; and rows that it needs. */
    private const ROWS = [
        'panel' => [
            'name' => 'P',
            'widthMm' => 500,
            'heightMm' => 500,
            'widthPx' => 100,
            'heightPx' => 100,
            'kilograms' => 1,
            'wattsAverage' => 0,
            'wattsMaximum' => 100_000,
        ],
        'surface' => [
            'id' => 's',
            'name' => 'S',
            'position' => [0, 0, 0],
            'rotation' => [0, 0, 0],
            'kind' => 'flat',
            'shape' => [],
        ],
        'flat' => [
            'id' => 's',
            'name' => 'S',
            'position' => [0, 0, 0],
            'rotation' => [0, 0, 0],
            'kind' => 'flat',
            'shape' => ['width' => 4, 'height' => 3, 'pixelsPerMetre' => 1],
        ],
        'drum' => [
            'id' => 's',
            'name' => 'S',
            'position' => [0, 0, 0],
            'rotation' => [0, 0, 0],
            'kind' => 'drum',
            'shape' => ['pixelsPerMetre' => 1],
        ],
        'dome' => [
            'id' => 's',
            'name' => 'S',
            'position' => [0, 0, 0],
            'rotation' => [0, 0, 0],
            'kind' => 'dome',
            'shape' => ['pixelsPerMetre' => 1],
        ],
        'projector' => ['id' => 'p', 'name' => 'P', 'position' => [0, 0, 0], 'rotation' => [0, 0, 0], 'lens' => []],
        'binding' => ['device' => 'd', 'control' => 'cc:1:1', 'meaning' => 'action', 'target' => 'go'],
        'camera' => ['id' => 'c', 'name' => 'C', 'position' => [0, 0, 0], 'rotation' => [0, 0, 0]],
        'output' => ['name' => 'O', 'width' => 100, 'height' => 100, 'refresh' => 60],
        'region' => ['surface' => 's', 'source' => [0, 0, 10, 10], 'x' => 0, 'y' => 0],
        'mask' => ['output' => 'o', 'name' => 'M', 'nodes' => [0, 0, 0, 0, 0, 0, 9, 0, 0, 0, 0, 0, 9, 9, 0, 0, 0, 0]],
        'fixture' => [
            'name' => 'F',
            'columns' => 2,
            'rows' => 2,
            'widthMm' => 100,
            'heightMm' => 100,
            'channels' => 'RGB',
        ],
        'device' => ['name' => 'D'],
        'touchItem' => ['device' => 'd', 'name' => 'a'],
        'node' => ['name' => 'N'],
        'patch' => ['surface' => 's'],
        'clip' => ['start' => 0, 'length' => 1],
        'marker' => ['time' => 0, 'name' => 'M'],
        'cue' => ['time' => 0, 'number' => '1', 'name' => 'C'],
        'page' => ['name' => 'P'],
        'timeline' => ['id' => 't', 'name' => 'T', 'duration' => 1],
        'lens' => ['id' => 'n', 'route' => 'r', 'name' => 'N'],
        'media' => ['id' => 'm', 'name' => 'M', 'kind' => 'solid', 'folder' => 1, 'index' => 1],
        'effect' => ['id' => 'e', 'layer' => 'l'],
        'layer' => ['id' => 'l', 'timeline' => 't', 'name' => 'L', 'order' => 0],
    ];

    private const FACES = ['flat', 'drum', 'dome'];

    /** @return iterable<string, array{string, string, float, float}> */
    public static function limits(): iterable
    {
        $text = (string) file_get_contents(__DIR__.'/../../docs/limits.md');
        preg_match_all('/^\| ([a-z]+) \| ([A-Za-z.]+) \| ([-\d.,]+) \| ([-\d.,]+) \|/m', $text, $rows, PREG_SET_ORDER);
        $number = static fn (string $written): int|float => str_contains($written, '.')
            ? (float) $written
            : (int) str_replace(',', '', $written);
        foreach ($rows as [, $kind, $field, $min, $max]) {
            yield "$kind.$field" => [$kind, $field, $number($min), $number($max)];
        }
    }

    #[DataProvider('limits')]
    public function test_a_stated_limit_holds_and_nothing_beyond_it(
        string $kind,
        string $field,
        int|float $min,
        int|float $max,
    ): void {
        [$outer, $inner] = explode('.', "$field.");
        $build = static function (int|float $value) use ($kind, $outer, $inner): object {
            $row = self::ROWS[$kind];
            if ($inner === '') {
                $row[$outer] = $value;
            } else {
                $row[$outer] = [$inner => $value] + ($row[$outer] ?? []);
            }

            return Schema::named(in_array($kind, self::FACES, true) ? 'surface' : $kind)->build($row, []);
        };
        foreach ([$min, $max] as $within) {
            $build($within);
            $this->addToAssertionCount(1);
        }
        // A whole number is beyond by one; others, and those too, by a hundredth of the range as well.
        $steps = is_int($min) && is_int($max) ? [1, max(1, intdiv($max - $min, 100))] : [($max - $min) / 100];
        foreach ($steps as $step) {
            foreach ([$min - $step, $max + $step] as $beyond) {
                try {
                    $build($beyond);
                    self::fail("$beyond was taken for $field.");
                } catch (InvalidValue $wrong) {
                    $name = $inner === '' ? $outer : $inner;
                    // Of two that may not pass each other, the first is the one that is pointed at; both are named.
                    self::assertContains($wrong->field, [$name, str_replace('Max', 'Min', $name)]);
                    self::assertStringContainsString($name, $wrong->getMessage());
                }
            }
        }
    }

    public function test_counts_are_stated_as_they_are(): void
    {
        $text = (string) file_get_contents(__DIR__.'/../../docs/limits.md');
        $stated = [
            'panels of a wall' => Wall::MAX_CELLS,
            'reliefs and openings of a face' => Reliefs::MAX,
            'copies made at once' => Arrange::MAX_COPIES,
            'surfaces of a route' => Route::MAX_SURFACES,
            'keyframes of a curve' => Curve::MAX_KEYFRAMES,
            'hanging points of a wall' => Suspension::MAX_POINTS,
            'pixels of a test card' => TestCard::MAX_PIXELS,
            'panels of a table (CSV) that is imported' => PanelTable::MAX,
        ];
        foreach ($stated as $what => $number) {
            self::assertStringContainsString("| $what | ".number_format($number), $text);
        }
        self::assertStringContainsString(
            sprintf(
                '| %d MB, %s triangles |',
                ObjReader::MAX_BYTES / 1024 ** 2,
                number_format(ObjReader::MAX_TRIANGLES),
            ),
            $text,
        );
    }

    public function test_a_name_has_1_to_200_characters_of_any_script(): void
    {
        $marker = static fn (string $name): object => Schema::named('marker')->build(['time' => 0, 'name' => $name], []);
        self::assertSame([1, 200], [mb_strlen($marker('x')->name), mb_strlen($marker(str_repeat('灯', 200))->name)]);
        foreach (['', '   ', str_repeat('x', 201)] as $wrong) {
            try {
                $marker($wrong);
                self::fail('It was taken: '.$wrong);
            } catch (InvalidValue $e) {
                self::assertSame('name', $e->field);
            }
        }
    }

    public function test_the_table_is_read_whole_and_ten_years_are_ten_years(): void
    {
        self::assertGreaterThan(55, iterator_count(self::limits()));
        self::assertSame(10 * 365 * 24 * 3600 * 705_600_000, Flicks::MAX);
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\Csv;
use Core\Media\MediaItem;
use Core\Media\MediaNumber;
use Core\Paperwork\MediaSheet;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** Folders and indices by which a console calls media. */
final class MediaNumberTest extends TestCase
{
    /** @param  list<array{int, int}>  $taken */
    private static function next(array $taken): string
    {
        return (string) MediaNumber::next(
            array_map(static fn (array $n): MediaNumber => MediaNumber::of(...$n), $taken),
        );
    }

    public function test_a_new_media_gets_the_number_after_the_highest(): void
    {
        self::assertSame(
            ['1.001', '1.002', '1.008', '3.018'],
            [self::next([]), self::next([[1, 1]]), self::next([[1, 7], [1, 2]]), self::next([[3, 17], [1, 200]])],
        );
        // Nothing is given 0, which a console sends at rest; who gave it to something may have it.
        self::assertSame(
            ['1.001', '1.001', '2.001', '3.001'],
            [self::next([[0, 0]]), self::next([[0, 255]]), self::next([[1, 255]]), self::next([[2, 255], [0, 3]])],
        );
        self::assertSame('4.001', self::next([[4, 0]]));
    }

    public function test_when_the_last_of_all_is_taken_the_lowest_free_one_is_given(): void
    {
        self::assertSame(
            ['1.001', '1.003', '2.001'],
            [
                self::next([[255, 255]]),
                self::next([[255, 255], [1, 1], [1, 2]]),
                self::next([[255, 255], ...array_map(static fn (int $i): array => [1, $i], range(1, 255))]),
            ],
        );
        $all = [];
        for ($folder = 1; $folder < 256; $folder++) {
            for ($index = 1; $index < 256; $index++) {
                $all[] = [$folder, $index];
            }
        }
        self::assertSame(
            '200.013',
            self::next(array_values(array_filter($all, static fn (array $n): bool => $n !== [200, 13]))),
        );
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage('All numbers of media are taken');
        self::next($all);
    }

    public function test_a_number_is_two_bytes(): void
    {
        self::assertSame(
            [0, 65_535, 769],
            [MediaNumber::of(0, 0)->place(), MediaNumber::of(255, 255)->place(), MediaNumber::of(3, 1)->place()],
        );
        foreach (
            [[256, 0, 'folder'], [-1, 0, 'folder'], [0, 256, 'index'], [0, -1, 'index']] as [$folder, $index, $field]
        ) {
            try {
                MediaNumber::of($folder, $index);
                self::fail("$folder and $index were taken.");
            } catch (InvalidValue $refused) {
                self::assertSame($field, $refused->field);
            }
        }
    }

    public function test_a_media_has_both_or_neither(): void
    {
        $row = ['id' => 'm', 'name' => 'M', 'kind' => 'testcard'];
        self::assertNull(MediaItem::fromRow($row)->number);
        self::assertSame('0.000', (string) MediaItem::fromRow($row + ['folder' => 0, 'index' => 0])->number);
        foreach (['folder' => 'index', 'index' => 'folder'] as $given => $lacking) {
            try {
                MediaItem::fromRow($row + [$given => 3]);
                self::fail("Only $given was enough.");
            } catch (InvalidValue $refused) {
                self::assertSame($lacking, $refused->field);
            }
        }
    }

    public function test_the_sheet_is_in_the_order_of_the_numbers_with_what_has_none_last(): void
    {
        $media = array_map(MediaItem::fromRow(...), [
            ['id' => 'a', 'name' => 'Old card', 'kind' => 'testcard'],
            [
                'id' => 'b',
                'name' => 'Tide; ebb',
                'kind' => 'file',
                'state' => 'ready',
                'file' => 'abc',
                'folder' => 2,
                'index' => 1,
                'facts' => ['width' => 640, 'height' => 360],
                'form' => ['kind' => 'video', 'frames' => 75, 'frameRate' => '25'],
            ],
            [
                'id' => 'c',
                'name' => '=1+1',
                'kind' => 'solid',
                'width' => 16,
                'height' => 9,
                'folder' => 1,
                'index' => 200,
            ],
            [
                'id' => 'd',
                'name' => 'On its way',
                'kind' => 'file',
                'state' => 'working',
                'file' => 'def',
                'folder' => 1,
                'index' => 3,
            ],
            [
                'id' => 'e',
                'name' => 'Quay',
                'kind' => 'file',
                'state' => 'ready',
                'file' => 'fff',
                'folder' => 2,
                'index' => 0,
                'facts' => ['width' => 100, 'height' => 50],
                'form' => ['kind' => 'still'],
            ],
        ]);
        $table = MediaSheet::of($media);
        self::assertSame(
            [
                [1, 3, 'On its way', 'file', '', '', '', '', 'working', 'def'],
                [1, 200, '=1+1', 'solid', 16, 9, '', '', 'ready', ''],
                [2, 0, 'Quay', 'still', 100, 50, 1, '', 'ready', 'fff'],
                [2, 1, 'Tide; ebb', 'video', 640, 360, 75, 3.0, 'ready', 'abc'],
                ['', '', 'Old card', 'testcard', '', '', '', '', 'ready', ''],
            ],
            $table->rows,
        );
        self::assertSame(3.0, Flicks::toSeconds(75 * intdiv(Flicks::PER_SECOND, 25)));
        $lines = explode("\r\n", Csv::write([$table->columns, ...$table->rows]));
        self::assertSame("1,200,'=1+1,solid,16,9,,,ready,", $lines[2]);
        self::assertSame('2,1,"Tide; ebb",video,640,360,75,3,ready,abc', $lines[4]);
        self::assertSame([], MediaSheet::of([])->rows);
    }
}

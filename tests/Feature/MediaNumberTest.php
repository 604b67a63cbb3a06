<?php

declare(strict_types=1);

namespace Tests\Feature;

use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\TestCase;

/** Folders and indices of media: given, kept, changed, refused, and in the older database. */
final class MediaNumberTest extends TestCase
{
    private string $show = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
    }

    /** @param  array<string, mixed>  $fields */
    private function card(string $name, array $fields = []): string
    {
        $id = $this->id();
        $this->edit("Add $name", [
            $this->created('media', $id, ['name' => $name, 'kind' => 'testcard'] + $fields),
        ])->assertCreated();

        return $id;
    }

    /** @param  list<array<string, mixed>>  $changes */
    private function edit(string $name, array $changes)
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => $name, 'changes' => $changes]);
    }

    /**
     * @return array<string, array{int|null, int|null}> by name
     *
     * @phpstan-impure
     */
    private function numbers(): array
    {
        return array_column(
            array_map(
                static fn (array $m): array => [$m['name'], [$m['folder'], $m['index']]],
                $this->ask('GET', "shows/$this->show")->json('rows.media'),
            ),
            1,
            0,
        );
    }

    public function test_each_new_media_has_a_number_and_keeps_it(): void
    {
        $a = $this->card('A');
        $this->card('B');
        $this->card('C', ['folder' => 7, 'index' => 3]);
        $this->card('D');
        self::assertSame(['A' => [1, 1], 'B' => [1, 2], 'C' => [7, 3], 'D' => [7, 4]], $this->numbers());
        $this->edit('Rename', [$this->updated('media', $a, ['name' => ['A', 'Aft']])])->assertCreated();
        self::assertSame([1, 1], $this->numbers()['Aft']);
        // Several at once, one of them with a number of its own that is the next of all.
        $this->edit('Three', [
            $this->created('media', $this->id(), ['name' => 'E', 'kind' => 'testcard', 'folder' => 7, 'index' => 5]),
            $this->created('media', $this->id(), ['name' => 'F', 'kind' => 'testcard']),
            $this->created('media', $this->id(), ['name' => 'G', 'kind' => 'testcard']),
        ])->assertCreated();
        self::assertSame(
            [[7, 5], [7, 6], [7, 7]],
            [$this->numbers()['E'], $this->numbers()['F'], $this->numbers()['G']],
        );
    }

    public function test_two_of_one_number_are_refused_and_two_may_change_places(): void
    {
        [$a, $b] = [$this->card('A'), $this->card('B')];
        $answer = $this->edit('Clash', [$this->updated('media', $b, ['index' => [2, 1]])])->assertStatus(422);
        self::assertSame(
            ['index', 'Folder 1, index 1 is A and B at once. The next free number is 1.002.'],
            [$answer->json('field'), $answer->json('detail')],
        );
        $this->edit('Clash', [
            $this->created('media', $this->id(), ['name' => 'C', 'kind' => 'testcard', 'folder' => 1, 'index' => 2]),
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'index');
        self::assertSame(['A' => [1, 1], 'B' => [1, 2]], $this->numbers());
        $this->edit('Swap', [
            $this->updated('media', $a, ['index' => [1, 2]]),
            $this->updated('media', $b, ['index' => [2, 1]]),
        ])->assertCreated();
        self::assertSame(['A' => [1, 2], 'B' => [1, 1]], $this->numbers());
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame(['A' => [1, 1], 'B' => [1, 2]], $this->numbers());
    }

    public function test_what_is_no_number_is_refused(): void
    {
        $a = $this->card('A');
        foreach (
            [
                ['folder' => [1, 256]],
                ['index' => [1, -1]],
                ['folder' => [1, null]],
                ['folder' => [1, null], 'index' => [1, null]],
                ['index' => [1, 'two']],
            ] as $fields
        ) {
            $this->edit('Bad', [$this->updated('media', $a, $fields)])
                ->assertStatus(422)
                ->assertJsonPath('field', array_key_first($fields));
        }
        $this->edit('Half', [
            $this->created('media', $this->id(), ['name' => 'B', 'kind' => 'testcard', 'folder' => 4]),
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'index');
        self::assertSame(['A' => [1, 1]], $this->numbers());
    }

    public function test_one_that_comes_back_has_its_number_or_another_where_that_was_given_away(): void
    {
        $this->card('A');
        $b = $this->card('B');
        $this->edit('Remove B', [['kind' => 'media', 'id' => $b, 'op' => 'delete', 'fields' => []]])->assertCreated();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame(['A' => [1, 1], 'B' => [1, 2]], $this->numbers());
        $this->edit('Remove B', [['kind' => 'media', 'id' => $b, 'op' => 'delete', 'fields' => []]])->assertCreated();
        $this->ask(
            'POST',
            "shows/$this->show/edits",
            [
                'name' => 'Add C',
                'changes' => [$this->created('media', $this->id(), ['name' => 'C', 'kind' => 'testcard'])],
            ],
            [],
            '01hyyyyyyyyyyyyyyyyyyyyyyy',
        )->assertCreated();
        self::assertSame(['A' => [1, 1], 'C' => [1, 2]], $this->numbers());
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame([1, 3], $this->numbers()['B']);
        $this->ask('POST', "shows/$this->show/redo")->assertOk();
        self::assertSame(['A' => [1, 1], 'C' => [1, 2]], $this->numbers());
    }

    public function test_the_sheet_is_a_table_of_the_shows_media(): void
    {
        $this->card('Käse, gratis');
        $this->card('B', ['folder' => 0, 'index' => 9]);
        $answer = $this->ask('GET', "shows/$this->show/media.csv")->assertOk();
        self::assertSame('text/csv; charset=utf-8', $answer->headers->get('Content-Type'));
        self::assertStringContainsString("filename*=UTF-8''", (string) $answer->headers->get('Content-Disposition'));
        self::assertSame(
            [
                "\xEF\xBB\xBFFolder,Index,Name,Kind,Width px,Height px,Frames,Duration s,State,SHA-256",
                '0,9,B,testcard,,,,,ready,',
                '1,1,"Käse, gratis",testcard,,,,,ready,',
                '',
            ],
            explode("\r\n", (string) $answer->getContent()),
        );
    }

    public function test_media_of_an_older_database_get_theirs_in_the_order_in_which_they_came(): void
    {
        foreach (['A', 'B', 'C'] as $name) {
            $this->card($name);
        }
        $other = $this->show();
        $this->ask('POST', "shows/$other/edits", [
            'name' => 'Add',
            'changes' => [$this->created('media', $this->id(), ['name' => 'Elsewhere', 'kind' => 'testcard'])],
        ])->assertCreated();
        // Back to before they had any, whatever came after that.
        $later = array_filter(
            glob(database_path('migrations/*.php')) ?: [],
            static fn (string $file): bool => basename($file) >= '2026_11_26_000000',
        );
        Artisan::call('migrate:rollback', ['--step' => count($later), '--force' => true]);
        self::assertNotContains('folder', DB::getSchemaBuilder()->getColumnListing('media'));
        Artisan::call('migrate', ['--force' => true]);
        self::assertSame(['A' => [1, 1], 'B' => [1, 2], 'C' => [1, 3]], $this->numbers());
        self::assertSame(
            [1, 1],
            array_map(
                intval(...),
                array_values(
                    (array) DB::table('media')
                        ->where('name', 'Elsewhere')
                        ->first(['folder', 'index']),
                ),
            ),
        );
    }
}

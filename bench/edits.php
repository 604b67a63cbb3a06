<?php

/* Four processes writing Edits at once: none may fail. Called again by itself, with a number, as one of the four. */

declare(strict_types=1);

use App\Models\Show;
use App\Show\Editor;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

require __DIR__.'/../vendor/autoload.php';

const WRITES = 150;
$data = $argv[2] ?? sys_get_temp_dir().'/kite-bench-'.getmypid();
is_dir("$data/run") || mkdir("$data/run", 0770, true);
file_exists("$data/kite.sqlite") || touch("$data/kite.sqlite");
putenv("KITE_DATA=$data");
$_ENV['KITE_DATA'] = $_SERVER['KITE_DATA'] = $data;
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();
$editor = $app->make(Editor::class);
$write = static function (int $count, string $person) use ($editor): array {
    $show = Show::query()->firstOrFail();
    [$waits, $failed] = [[], 0];
    for ($i = 0; $i < $count; $i++) {
        $began = hrtime(true);
        try {
            $editor->apply($show, $person, 'Add a marker', [
                [
                    'kind' => 'output',
                    'id' => strtolower((string) Str::ulid()),
                    'op' => 'create',
                    'fields' => array_map(static fn ($v) => ['before' => null, 'after' => $v], [
                        'name' => "$person $i",
                        'width' => 100,
                        'height' => 100,
                    ]),
                ],
            ]);
        } catch (Throwable $e) {
            $failed++;
            fwrite(STDERR, $e->getMessage()."\n");
        }
        $waits[] = (hrtime(true) - $began) / 1e6;
    }

    return ['waits' => $waits, 'failed' => $failed];
};
if (isset($argv[1])) {
    echo json_encode($write(WRITES, "person$argv[1]"));
    exit(0);
}
$app->make(Kernel::class)->call('migrate', ['--force' => true]);
Show::query()->create(['name' => 'Bench', 'frameRate' => '25', 'revision' => 0, 'engaged' => true]);
$alone = $write(WRITES, 'alone')['waits'];
sort($alone);
$children = [];
for ($i = 0; $i < 4; $i++) {
    $children[] = popen(implode(' ', array_map(escapeshellarg(...), [PHP_BINARY, __FILE__, (string) $i, $data])), 'r');
}
[$waits, $failed] = [[], 0];
foreach ($children as $child) {
    $answer = json_decode((string) stream_get_contents($child), true);
    pclose($child);
    $waits = [...$waits, ...$answer['waits']];
    $failed += $answer['failed'];
}
sort($waits);
$at = static fn (array $list, float $share): float => $list[(int) floor($share * (count($list) - 1))];
printf(
    "### Edits by four processes at once\n\n| writers | edits | failed | p50 | p99 | worst wait |\n|---|---|---|---|---|---|\n| 1 (floor) | %d | 0 | %.1f ms | %.1f ms | %.1f ms |\n| 4 | %d | %d | %.1f ms | %.1f ms | %.1f ms |\n",
    WRITES,
    $at($alone, 0.5),
    $at($alone, 0.99),
    $at($alone, 1),
    count($waits),
    $failed,
    $at($waits, 0.5),
    $at($waits, 0.99),
    $at($waits, 1),
);
$revision = Show::query()->firstOrFail()->revision;
printf(
    "\nRevision at the end: %d, as many as there were edits: %s.\n",
    $revision,
    $revision === 5 * WRITES ? 'yes' : 'NO',
);

// One Edit that adds many clips, is taken back and done again: against writing the same rows as one statement of SQL
// a hundred.
$id = static fn (): string => strtolower((string) Str::ulid());
$made = static fn (string $kind, string $id, array $fields): array => [
    'kind' => $kind,
    'id' => $id,
    'op' => 'create',
    'fields' => array_map(static fn ($v) => ['before' => null, 'after' => $v], $fields),
];
$queries = 0;
DB::listen(static function () use (&$queries): void {
    $queries++;
});
echo "\n### One Edit of many clips\n\n| clips | floor, their rows alone | done | queries | taken back | done again | ratio |\n|---|---|---|---|---|---|---|\n";
foreach ([1000, 2000, 4000] as $count) {
    $show = Show::query()->create(['name' => "Clips $count", 'frameRate' => '25', 'revision' => 0, 'engaged' => false]);
    [$line, $layer, $media] = [$id(), $id(), $id()];
    $editor->apply($show, 'one', 'Lay out', [
        $made('timeline', $line, ['name' => 'Main', 'duration' => 3600 * 705_600_000]),
        $made('layer', $layer, ['timeline' => $line, 'name' => 'Layer', 'order' => 0]),
        $made('media', $media, [
            'name' => 'White',
            'kind' => 'solid',
            'colour' => '#ffffff',
            'width' => 16,
            'height' => 16,
        ]),
    ]);
    $changes = array_map(
        static fn (int $i): array => $made('clip', $id(), [
            'layer' => $layer,
            'media' => $media,
            'start' => $i * 70_560_000,
            'length' => 70_560_000,
        ]),
        range(0, $count - 1),
    );
    $ms = static function (Closure $do) use (&$queries): float {
        $queries = 0;
        $began = hrtime(true);
        $do();

        return (hrtime(true) - $began) / 1e6;
    };
    $done = $ms(static fn () => $editor->apply($show, 'one', 'Add clips', $changes));
    $asked = $queries;
    $back = $ms(static fn () => $editor->undo($show, 'one'));
    $again = $ms(static fn () => $editor->redo($show, 'one'));
    $rows = DB::table('clips')
        ->where('showId', $show->id)
        ->get()
        ->map(static fn (object $row): array => ['id' => $id()] + (array) $row)
        ->all();
    $floor = $ms(
        static fn () => DB::transaction(static function () use ($rows): void {
            foreach (array_chunk($rows, 100) as $some) {
                DB::table('clips')->insert($some);
            }
        }),
    );
    printf(
        "| %d | %.0f ms | %.0f ms | %d | %.0f ms | %.0f ms | %.1f |\n",
        $count,
        $floor,
        $done,
        $asked,
        $back,
        $again,
        $done / $floor,
    );
}
$app->make('files')->deleteDirectory($data);

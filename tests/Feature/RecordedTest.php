<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Models\Show;
use App\Show\ShowRepository;
use Core\Media\Picture;
use Core\Media\TestCard;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Preflight\Preflight;
use Core\Timeline\TransportMap;
use Illuminate\Contracts\Console\Kernel;
use Tests\TestCase;

/**
 * A database as it was when values stood in columns and were sampled ahead, with what was shown then at some hundred
 * moments: brought up to date, its shows show the same.
 */
final class RecordedTest extends TestCase
{
    private static function fixture(string $name): string
    {
        return (string) gzdecode((string) file_get_contents(dirname(__DIR__)."/fixtures/$name.gz"));
    }

    private function upToDate(): void
    {
        $this->app['db']->disconnect();
        file_put_contents("$this->data/kite.sqlite", self::fixture('first-engine.sqlite'));
        $this->app[Kernel::class]->call('migrate', ['--force' => true]);
    }

    public function test_a_database_of_before_keeps_all_its_rows(): void
    {
        $this->upToDate();
        $show = Show::query()->where('name', 'like', 'Saltgate%')->firstOrFail();
        $answer = $this->ask('GET', "shows/$show->id")->assertOk();
        self::assertSame(
            [5, 5, 6, 5],
            [
                count($answer->json('rows.layer')),
                count($answer->json('rows.route')),
                count($answer->json('rows.clip')),
                count($answer->json('rows.curve')),
            ],
        );
        $lanterns = array_values(
            array_filter($answer->json('rows.layer'), static fn (array $l): bool => $l['name'] === 'Lanterns'),
        )[0];
        self::assertSame(
            3,
            count(
                array_values(
                    array_filter(
                        $answer->json('rows.route'),
                        static fn (array $r): bool => $r['id'] === $lanterns['route'],
                    ),
                )[0]['surfaces'],
            ),
        );
        // What was done before can be read, not taken back; what is done now can.
        $this->ask('POST', "shows/$show->id/undo")->assertStatus(422);
        $this->ask('POST', "shows/$show->id/edits", [
            'name' => 'Dim',
            'changes' => [$this->updated('layer', $lanterns['id'], ['values.opacity' => [1, 0.5]])],
        ])->assertCreated();
        $this->ask('POST', "shows/$show->id/undo")->assertOk();
    }

    public function test_values_frames_and_pixels_are_what_they_were(): void
    {
        $this->upToDate();
        $recorded = json_decode(self::fixture('first-engine.json'), true);
        [$asked, $same, $close] = [0, 0, 0];
        foreach (Show::query()->get() as $show) {
            $was = $recorded[$show->name];
            $core = $this->app->make(ShowRepository::class)->core($show);
            $compiler = new PlanCompiler();
            $compiler->compile($core, 1);
            // Clips that overlap were cut from one to the other then; they fade now.
            $cut = static fn (array $part): array => isset($part['clips'])
                ? [
                    'clips' => array_map(
                        static fn (array $clip): array => array_diff_key($clip, ['fade' => 0]),
                        $part['clips'],
                    ),
                ] + $part
                : $part;
            $plan = new Plan(array_map($cut, $compiler->plan()->parts), $compiler->plan()->tracks);
            foreach ($was['rects'] ?? [] as [$surface, $layer, $clip, $media, $rect]) {
                $now = array_column($plan->parts["contribution:$layer@$surface"]['clips'], null, 'id')[$clip];
                self::assertSame($media, $now['media']);
                self::assertEqualsWithDelta(
                    $rect,
                    [$now['fit'][2], $now['fit'][5], $now['fit'][0], $now['fit'][4]],
                    1e-9,
                );
            }
            $line = (string) array_key_first($core->programme->timelines);
            foreach ($was['moments'] as $moment) {
                $now = new Moment($plan, [Head::of($line, TransportMap::standing(0, $moment['time']))], [], 0);
                foreach ($moment['layers'] as $layer => [$clip, $frame, $opacity, $x, $y]) {
                    [$up, $n] = $now->media((string) $layer, $now->heads[0]);
                    self::assertSame(
                        [$clip, $frame],
                        [$up < 0 ? null : $core->programme->layer((string) $layer)?->clips[$up]->id, $n],
                        "$show->name at $moment[time]",
                    );
                    $value = static fn (string $property): float => $now->value(
                        "layer:$layer/$property",
                        $now->heads[0],
                    );
                    self::assertEqualsWithDelta($opacity, $value('opacity'), 1 / 2048);
                    self::assertEqualsWithDelta([$x, $y], [$value('x'), $value('y')], 1 / 64);
                }
                $raster = new ReferenceRaster($now, self::source($plan->parts));
                foreach ($moment['pixels'] ?? [] as [$output, $px, $py, $r, $g, $b]) {
                    $pixel = $raster->outputPixel($output, $px, $py);
                    $off = max(abs($pixel[0] - $r), abs($pixel[1] - $g), abs($pixel[2] - $b));
                    $asked++;
                    $same += $off <= 1 ? 1 : 0;
                    $close += $off <= 24 ? 1 : 0;
                }
            }
        }
        // Test cards that are shown smaller were picked from and are averaged now: there, pixels differ.
        self::assertSame(900, $asked);
        self::assertGreaterThan(0.93, $same / $asked);
        self::assertGreaterThan(0.96, $close / $asked);
    }

    public function test_findings_are_what_they_were(): void
    {
        $this->upToDate();
        $recorded = json_decode(self::fixture('first-engine.json'), true);
        foreach (Show::query()->get() as $show) {
            $said = array_map(
                static fn ($f): array => [$f->view, $f->severity, $f->kind, $f->id, $f->message],
                Preflight::of($this->app->make(ShowRepository::class)->core($show)),
            );
            self::assertEqualsCanonicalizing($recorded[$show->name]['findings'], $said);
        }
    }

    /**
     * Pictures as they were when it was recorded: a video's frames were colours by number.
     *
     * @param  array<string, array<string, mixed>>  $parts
     */
    private static function source(array $parts): \Closure
    {
        $made = [];

        return static function (string $key, int $frame) use ($parts, &$made): ?Picture {
            $media = $parts["media:$key"];

            return match (true) {
                $media['kind'] === 'none' => null,
                $media['kind'] === 'solid' => Picture::solid(1, 1, $media['colour']),
                isset($media['card']) => ($made[$key] ??= TestCard::picture(
                    $media['width'],
                    $media['height'],
                    $media['card'],
                )),
                default => Picture::solid(1, 1, [$frame % 256, intdiv($frame, 4) % 256, 200]),
            };
        };
    }
}

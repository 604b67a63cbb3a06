<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Console\Commands\DescribeApi;
use App\Http\Middleware\Expensive;
use App\Http\Middleware\Person;
use App\Show\OpenApi;
use App\Show\RowSchema;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\Route;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\TestCase;

final class ApiTest extends TestCase
{
    public function test_expensive_addresses_are_those_that_nginx_knows_and_their_answers_are_kept_until_the_show_changes(): void
    {
        self::assertSame(trim((string) file_get_contents(base_path('deploy/expensive.txt'))), Expensive::pattern());
        self::assertMatchesRegularExpression(
            '~'.Expensive::pattern().'~',
            '/api/shows/01hz/regions/01hz/alpha.png',
        );
        self::assertDoesNotMatchRegularExpression('~'.Expensive::pattern().'~', '/api/shows/01hz/edits');
        $show = $this->show();
        $seat = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [$this->created('seat', $seat, ['name' => 'Row A'])],
        ])->assertCreated();
        $first = $this->ask('GET', "shows/$show/venue.obj")->assertOk();
        $kept = glob("$this->data/answers/$show/*") ?: [];
        self::assertCount(1, $kept);
        $again = $this->ask('GET', "shows/$show/venue.obj")->assertOk();
        self::assertSame(
            [$first->getContent(), $first->headers->get('Content-Type'), $first->headers->get('Content-Disposition')],
            [$again->getContent(), $again->headers->get('Content-Type'), $again->headers->get('Content-Disposition')],
        );
        // What is kept is what is given: another content shows that nothing was worked out anew.
        file_put_contents(
            $kept[0],
            str_replace((string) $first->getContent(), 'kept', (string) file_get_contents($kept[0])),
        );
        self::assertSame('kept', $this->ask('GET', "shows/$show/venue.obj")->getContent());
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Rename',
            'changes' => [$this->updated('seat', $seat, ['name' => ['Row A', 'Row B']])],
        ])->assertCreated();
        self::assertNotSame('kept', $this->ask('GET', "shows/$show/venue.obj")->getContent());
        // What is refused is not kept.
        $this->ask('GET', "shows/$show/regions/$seat/alpha.png")->assertStatus(404);
        self::assertCount(2, glob("$this->data/answers/$show/*") ?: []);
    }

    public function test_the_description_of_the_api_is_the_one_in_the_docs_and_names_every_route(): void
    {
        $document = json_decode((string) json_encode(OpenApi::document()), true);
        self::assertEquals(
            $document,
            json_decode((string) file_get_contents(base_path('docs/openapi.json')), true),
            'Run php artisan kite:openapi and npm run api.',
        );
        $bare = static fn (string $code): string => (string) preg_replace('~\s+|,(?=\s*[\]}])~', '', $code);
        self::assertSame(
            $bare(DescribeApi::kinds()),
            $bare((string) file_get_contents(base_path('resources/js/api/kinds.ts'))),
            'Run php artisan kite:openapi and npm run api.',
        );
        self::assertSame(
            $bare(DescribeApi::commands()),
            $bare((string) file_get_contents(base_path('resources/js/api/commands.ts'))),
            'Run php artisan kite:openapi and npm run api.',
        );
        $described = [];
        // What has a server of its own is the engine's.
        foreach (
            array_filter($document['paths'], static fn (array $methods): bool => ! isset($methods['servers'])) as $path => $methods
        ) {
            foreach (array_diff(array_keys($methods), ['parameters']) as $method) {
                $described[] = strtoupper($method)." api$path";
            }
        }
        $routes = [];
        foreach (Route::getRoutes()->getRoutes() as $route) {
            foreach (array_diff($route->methods(), ['HEAD']) as $method) {
                $routes[] = "$method {$route->uri()}";
            }
        }
        sort($described);
        sort($routes);
        self::assertSame($routes, $described);
        $this->ask('GET', 'openapi.json')->assertOk()->assertJsonPath('openapi', '3.1.0');
    }

    /** @param  array<string, mixed>  $schema */
    private static function assertFits(array $schema, mixed $value): void
    {
        $schema = str_replace(
            '#/components/schemas/',
            '#/$defs/',
            (string) json_encode(
                [
                    '$schema' => 'https://json-schema.org/draft/2020-12/schema',
                    '$defs' => OpenApi::document()['components']['schemas'],
                ] + $schema,
                JSON_UNESCAPED_SLASHES,
            ),
        );
        $result = (new Validator())->validate(json_decode((string) json_encode($value)), json_decode($schema));
        self::assertTrue(
            $result->isValid(),
            (string) json_encode($result->error()?->keyword()).
                ' at '.
                json_encode($result->error()?->data()->fullPath()),
        );
    }

    public function test_a_show_is_made_read_engaged_and_removed_as_described(): void
    {
        $first = $this->ask('POST', 'shows', ['name' => 'One'])
            ->assertCreated()
            ->assertJsonPath('engaged', true);
        self::assertFits(['$ref' => '#/components/schemas/ShowHead'], $first->json());
        $second = $this->ask('POST', 'shows', ['name' => 'Two', 'frameRate' => '59.94'])
            ->assertCreated()
            ->assertJsonPath('engaged', false);
        self::assertCount(2, $this->ask('GET', 'shows')->json('shows'));
        $this->ask('DELETE', "shows/{$first->json('id')}")->assertStatus(422);
        $this->ask('POST', "shows/{$second->json('id')}/engage")
            ->assertOk()
            ->assertJsonPath('engaged', true);
        $this->ask('DELETE', "shows/{$first->json('id')}")->assertOk();
        $this->ask('GET', "shows/{$first->json('id')}")->assertNotFound();
        $this->ask('POST', 'shows', ['name' => '  '])
            ->assertStatus(422)
            ->assertJsonPath('field', 'name');
        $this->ask('POST', 'shows', ['name' => 'X', 'frameRate' => '7'])
            ->assertStatus(422)
            ->assertJsonPath('field', 'frameRate');
        $this->ask('POST', 'shows', ['name' => ['x']])->assertStatus(422);
    }

    public function test_a_copy_of_a_show_is_the_same_with_ids_of_its_own(): void
    {
        $this->app->make(Kernel::class)->call('kite:demo');
        $show = $this->ask('GET', 'shows')->json('shows.0.id');
        $copy = $this->ask('POST', "shows/$show/duplicate", ['name' => 'Lantern Night, copy'])->assertCreated();
        self::assertSame(['Lantern Night, copy', false, 0], [
            $copy->json('name'),
            $copy->json('engaged'),
            $copy->json('revision'),
        ]);
        $rows = fn (string $id): array => (array) $this->ask('GET', "shows/$id")->json('rows');
        [$one, $two] = [$rows($show), $rows($copy->json('id'))];
        // Each id by where it stands: the n-th of its kind.
        $plain = static function (array $rows): array {
            $names = [];
            foreach ($rows as $kind => $of) {
                foreach ($of as $i => $row) {
                    $names[$row['id']] = "$kind $i";
                }
            }

            return (array) json_decode(
                (string) preg_replace_callback(
                    '/[0-9a-hjkmnp-tv-z]{26}/',
                    static fn (array $m): string => $names[$m[0]] ?? $m[0],
                    (string) json_encode($rows),
                ),
                true,
            );
        };
        foreach ($plain($one) as $kind => $of) {
            self::assertSame($of, $plain($two)[$kind], $kind);
        }
        $ids = static fn (array $rows): array => array_merge(
            ...array_values(array_map(static fn (array $of): array => array_column($of, 'id'), $rows)),
        );
        self::assertSame([], array_intersect($ids($one), $ids($two)));
        self::assertGreaterThan(200, count($ids($two)));
        // What names nothing of the one is left: removing it changes nothing of the copy.
        self::assertStringNotContainsString($show, (string) json_encode($two));
        $this->ask('POST', "shows/$show/duplicate", ['name' => ' '])->assertStatus(422);
        $this->ask('POST', 'shows/'.$this->id().'/duplicate', ['name' => 'X'])->assertStatus(404);
    }

    public function test_a_whole_show_fits_its_description(): void
    {
        $show = $this->show();
        $ids = array_combine(RowSchema::names(), array_map(fn (): string => $this->id(), RowSchema::names()));
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'All kinds',
            'changes' => [
                $this->created('panel', $ids['panel'], [
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 100,
                    'heightPx' => 100,
                    'kilograms' => 8.1,
                    'wattsAverage' => 50,
                    'wattsMaximum' => 150,
                ]),
                $this->created('surface', $ids['surface'], [
                    'name' => 'W',
                    'cells' => [[$ids['panel']], [null]],
                    'seams' => [],
                ]),
                $this->created('media', $ids['media'], ['name' => 'Card', 'kind' => 'testcard']),
                $this->created('timeline', $ids['timeline'], ['name' => 'T', 'duration' => 1000]),
                $this->created('layer', $ids['layer'], [
                    'timeline' => $ids['timeline'],
                    'name' => 'L',
                    'route' => $ids['route'],
                    'values.opacity' => 0.5,
                ]),
                $this->created('route', $ids['route'], ['name' => 'Front', 'surfaces' => [$ids['surface']]]),
                $this->created('share', $ids['share'], [
                    'route' => $ids['route'],
                    'surface' => $ids['surface'],
                    'values' => ['x' => 10],
                ]),
                $this->created('lens', $ids['lens'], [
                    'route' => $ids['route'],
                    'name' => 'L',
                    'part' => [0, 0, 10, 10],
                ]),
                $this->created('route', $this->id(), [
                    'name' => 'Thrown',
                    'reach' => 'globe',
                    'width' => 100,
                    'height' => 50,
                    'surfaces' => [$ids['surface']],
                ]),
                $this->created('clip', $ids['clip'], [
                    'layer' => $ids['layer'],
                    'media' => $ids['media'],
                    'start' => 0,
                    'length' => 100,
                ]),
                $this->created('curve', $ids['curve'], [
                    'owner' => $ids['layer'],
                    'property' => 'opacity',
                    'keyframes' => [['t' => 0, 'v' => 0.5]],
                ]),
                $this->created('marker', $ids['marker'], ['timeline' => $ids['timeline'], 'time' => 4, 'name' => 'M']),
                $this->created('cue', $ids['cue'], [
                    'timeline' => $ids['timeline'],
                    'time' => 4,
                    'number' => '1',
                    'name' => 'Q',
                    'holds' => true,
                ]),
                $this->created('output', $ids['output'], ['name' => 'O', 'width' => 640, 'height' => 360]),
                $this->created('region', $ids['region'], [
                    'output' => $ids['output'],
                    'surface' => $ids['surface'],
                    'source' => [0, 0, 100, 200],
                ]),
                $this->created('rig', $ids['rig'], ['name' => 'R']),
                $this->created('projector', $ids['projector'], [
                    'name' => 'P',
                    'rig' => $ids['rig'],
                    'position' => [0, 0, 9],
                ]),
                $this->created('camera', $ids['camera'], ['name' => 'C']),
                $this->created('prop', $ids['prop'], ['name' => 'B', 'position' => [9, 0, 0]]),
                $this->created('seat', $ids['seat'], ['name' => 'S', 'position' => [0, 0, 5]]),
                $this->created('variant', $ids['variant'], ['name' => 'V', 'projectors' => []]),
                $this->created('surface', $this->id(), ['name' => 'F', 'kind' => 'flat']),
            ],
        ])->assertCreated();
        // As it goes out: groups that are empty are objects all the same.
        $sent = fn (string $path): mixed => json_decode((string) $this->ask('GET', $path)->assertOk()->getContent());
        self::assertFits(['$ref' => '#/components/schemas/ShowDocument'], $sent("shows/$show"));
        self::assertFits(['$ref' => '#/components/schemas/Computed'], $sent("shows/$show/computed"));
        self::assertFits(
            ['$ref' => '#/components/schemas/Light'],
            $this->ask('GET', "shows/$show/light")
                ->assertOk()
                ->json(),
        );
        self::assertFits(
            ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/Sight']],
            $this->ask('GET', "shows/$show/sights")
                ->assertOk()
                ->json("sights.{$ids['seat']}"),
        );
        $meshes = $this->ask('GET', "shows/$show/meshes")->assertOk();
        self::assertFits(
            ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/SurfaceMesh']],
            $meshes->json('meshes'),
        );
        self::assertCount(12, $meshes->json('meshes.0.positions'));
        $trace = $this->ask('GET', "shows/$show/trace?surface={$ids['surface']}&time=50")
            ->assertOk()
            ->assertJsonPath('engine', false);
        self::assertFits(
            ['type' => 'array', 'items' => ['$ref' => '#/components/schemas/TraceLink']],
            $trace->json('links'),
        );
        self::assertSame('The player for O is not open.', $trace->json('links.5.message'));
        $this->ask('GET', "shows/$show/trace?surface=$show")->assertNotFound();
        $this->ask('GET', "shows/$show/trace?surface={$ids['surface']}&time=soon")->assertStatus(422);
        $this->ask('POST', "shows/$show/keep", ['addresses' => ['x']])
            ->assertStatus(422)
            ->assertJsonPath('detail', 'The engine is not running, so there are no loose values to keep.');
    }

    public function test_typed_text_is_understood_or_pointed_at(): void
    {
        $this->ask('POST', 'arithmetic', ['text' => '8m / 2', 'unit' => 'm'])
            ->assertOk()
            ->assertJsonPath('value', 4);
        $this->ask('POST', 'arithmetic', ['text' => '+10%', 'unit' => 'px', 'present' => 200])
            ->assertOk()
            ->assertJsonPath('value', 220);
        // From each of several, as for fields of many things.
        $this->ask('POST', 'arithmetic', ['text' => '+ 3', 'unit' => 'px', 'presents' => [100, 8.5, -3]])
            ->assertOk()
            ->assertExactJson(['values' => [103, 11.5, 0]]);
        $this->ask('POST', 'arithmetic', ['text' => '20', 'presents' => []])
            ->assertOk()
            ->assertExactJson(['values' => []]);
        foreach ([5, ['a'], [1, null], array_fill(0, 2001, 1)] as $bad) {
            $this->ask('POST', 'arithmetic', ['text' => '1', 'presents' => $bad])->assertStatus(422);
        }
        $this->ask('POST', 'arithmetic', ['text' => '8 / zero'])
            ->assertStatus(422)
            ->assertJsonPath('at', 4);
        $this->ask('POST', 'arithmetic', ['text' => 5])->assertStatus(422);
        $this->ask('POST', 'arithmetic', ['text' => '1', 'unit' => 'parsec'])
            ->assertStatus(422)
            ->assertJsonPath('field', 'unit');
        $this->ask('POST', 'timecode', ['text' => '1:00', 'frameRate' => '25'])
            ->assertOk()
            ->assertJsonPath('text', '00:00:01:00');
        $this->ask('POST', 'timecode', ['text' => 'noon'])->assertStatus(422);
        $panel = ['widthMm' => 500, 'heightMm' => 500, 'widthPx' => 192, 'heightPx' => 192];
        $this->ask('POST', 'walls/figures', ['panel' => $panel, 'columns' => 12, 'rows' => 6])
            ->assertOk()
            ->assertJsonPath('rasterWidth', 2304);
        $this->ask('POST', 'walls/figures', ['panel' => $panel, 'columns' => 0, 'rows' => 6])
            ->assertStatus(422)
            ->assertJsonPath('field', 'columns');
        $this->ask('POST', 'walls/figures', ['panel' => [], 'columns' => 1, 'rows' => 6])
            ->assertStatus(422)
            ->assertJsonPath('field', 'panel.widthMm');
    }

    public function test_the_test_card_is_a_png_of_the_very_pixels(): void
    {
        $png = $this->ask('GET', 'patterns/testcard.png?width=64&height=32&name=A')->assertOk()->getContent();
        self::assertSame([64, 32], array_slice((array) getimagesizefromstring((string) $png), 0, 2));
        $this->ask('GET', 'patterns/testcard.png?width=0&height=32')->assertStatus(422);
        $beep = $this->ask('GET', 'patterns/flash.f32')->assertOk()->getContent();
        self::assertSame(192_000, strlen((string) $beep));
        $part = $this->ask('GET', 'patterns/flash.f32', null, ['Range' => 'bytes=400-799'])
            ->assertStatus(206)
            ->assertHeader('Content-Range', 'bytes 400-799/192000')
            ->getContent();
        self::assertSame(substr((string) $beep, 400, 400), $part);
        self::assertSame(
            100,
            strlen(
                (string) $this->ask('GET', 'patterns/flash.f32', null, ['Range' => 'bytes=191900-999999'])
                    ->assertStatus(206)
                    ->getContent(),
            ),
        );
        $this->ask('GET', 'patterns/flash.f32', null, ['Range' => 'bytes=192000-'])->assertStatus(416);
        $this->ask('GET', 'patterns/testcard.png?width=99999&height=32')->assertStatus(422);
    }

    /** @return list<array{array<string, string>, int}> */
    public static function doors(): array
    {
        return [
            [['Host' => 'saltgate.example'], 421],
            [['Host' => '127.0.0.1.saltgate.example:4180'], 421],
            [['Origin' => 'http://saltgate.example'], 403],
            [['Origin' => ''], 403],
            [['Origin' => 'http://127.0.0.1:9999'], 403],
            [['Origin' => 'null'], 403],
            [['Content-Type' => 'application/x-www-form-urlencoded'], 415],
            [['Content-Type' => 'multipart/form-data; boundary=x'], 415],
            [['Content-Type' => 'text/plain'], 415],
            [['Content-Type' => ''], 415],
        ];
    }

    /** @param  array<string, string>  $headers */
    #[DataProvider('doors')]
    public function test_foreign_hosts_pages_and_forms_stay_outside(array $headers, int $status): void
    {
        $answer = $this->ask('POST', 'shows', ['name' => 'Foreign'], $headers)->assertStatus($status);
        self::assertSame('application/problem+json', $answer->headers->get('Content-Type'));
        self::assertSame([], $this->ask('GET', 'shows')->json('shows'));
    }

    public function test_a_body_that_is_no_json_and_addresses_that_are_none_get_a_problem(): void
    {
        $this->call(
            'POST',
            'http://127.0.0.1:4180/api/shows',
            [],
            [],
            [],
            ['HTTP_ORIGIN' => 'http://127.0.0.1:4180', 'CONTENT_TYPE' => 'application/json'],
            '{"name":',
        )->assertStatus(400);
        $this->ask('GET', 'nothing')->assertNotFound()->assertJsonPath('status', 404);
        $this->ask('GET', 'shows/nothing')->assertNotFound();
        $this->ask('PUT', 'shows')->assertStatus(405);
        $this->ask('POST', 'files/unknown/retry')->assertNotFound();
    }

    public function test_a_person_gets_a_cookie_that_scripts_and_other_sites_do_not_get(): void
    {
        $cookie = collect($this->call('GET', 'http://127.0.0.1:4180/api/shows')->headers->getCookies())->first();
        self::assertSame(
            ['kite_person', true, 'strict'],
            [$cookie?->getName(), $cookie?->isHttpOnly(), $cookie?->getSameSite()],
        );
        $ticket = $this->ask('POST', 'live/tickets')->assertCreated();
        $named = (string) $ticket->json('person');
        self::assertMatchesRegularExpression('/^[0-9a-f]{26}$/', $named);
        self::assertSame($named, Person::named('01hzzzzzzzzzzzzzzzzzzzzzzz'));
        // Nothing that others read holds what the cookie holds.
        $show = $this->show();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [$this->created('seat', $this->id(), ['name' => 'Row 1'])],
        ])->assertCreated();
        $history = (string) $this->ask('GET', "shows/$show/edits")
            ->assertJsonPath('edits.0.person', $named)
            ->getContent();
        self::assertStringNotContainsStringIgnoringCase(
            '01hzzzzzzzzzzzzzzzzzzzzzzz',
            $history.$ticket->getContent().base64_decode(explode('.', (string) $ticket->json('ticket'))[0]),
        );
        $this->ask('POST', "shows/$show/undo", null, [], $named)->assertStatus(422);
        $this->ask('POST', "shows/$show/undo")->assertOk();
    }

    public function test_pages_of_other_addresses_are_given_nothing(): void
    {
        foreach (['cross-site' => 403, 'same-site' => 403, 'same-origin' => 200, 'none' => 200] as $site => $status) {
            $this->ask('GET', 'patterns/testcard.png?width=32&height=32', null, [
                'Sec-Fetch-Site' => $site,
            ])->assertStatus($status);
        }
        $this->ask('GET', 'shows', null, ['Sec-Fetch-Site' => 'cross-site'])
            ->assertStatus(403)
            ->assertHeader('Content-Type', 'application/problem+json');
    }
}

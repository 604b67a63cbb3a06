<?php

declare(strict_types=1);

namespace Tests;

use App\Http\JsonRequest;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Filesystem\Filesystem;
use Illuminate\Foundation\Testing\TestCase as LaravelTestCase;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;

/** Tests of the app with a data folder and a real SQLite file of their own. */
abstract class TestCase extends LaravelTestCase
{
    private static ?string $template = null;

    protected string $data = '';

    /** @return \Illuminate\Foundation\Application */
    public function createApplication()
    {
        $this->data = sys_get_temp_dir().'/kite-test-'.Str::random(10);
        mkdir("$this->data/run", 0770, true);
        foreach (['KITE_DATA' => $this->data, 'KITE_RUN' => "$this->data/run"] as $name => $value) {
            putenv("$name=$value");
            $_ENV[$name] = $_SERVER[$name] = $value;
        }
        if (self::$template !== null) {
            copy(self::$template, "$this->data/kite.sqlite");
        } else {
            touch("$this->data/kite.sqlite");
        }
        $app = require dirname(__DIR__).'/bootstrap/app.php';
        $app->make(Kernel::class)->bootstrap();
        if (self::$template === null) {
            $app->make(Kernel::class)->call('migrate', ['--force' => true]);
            self::$template = sys_get_temp_dir().'/kite-template-'.getmypid().'.sqlite';
            $pdo = $app['db']->connection()->getPdo();
            @unlink(self::$template);
            $pdo->exec('VACUUM INTO '.$pdo->quote(self::$template));
            register_shutdown_function(static fn () => @unlink((string) self::$template));
        }

        return $app;
    }

    /**
     * @param  \Symfony\Component\HttpFoundation\Request  $symfonyRequest
     * @return JsonRequest
     */
    protected function createTestRequest($symfonyRequest)
    {
        return JsonRequest::createFromBase($symfonyRequest);
    }

    protected function tearDown(): void
    {
        $data = $this->data;
        $this->app['db']->disconnect();
        parent::tearDown();
        (new Filesystem())->deleteDirectory($data);
    }

    /**
     * A request as a browser's page of our own sends it.
     *
     * @param  array<string, mixed>|null  $body
     * @param  array<string, string>  $headers
     * @param  array<string, string>  $cookies
     * @return TestResponse<\Illuminate\Http\JsonResponse>
     */
    protected function ask(
        string $method,
        string $path,
        ?array $body = null,
        array $headers = [],
        string $person = '01hzzzzzzzzzzzzzzzzzzzzzzz',
        array $cookies = [],
    ): TestResponse {
        $host = $headers['Host'] ?? '127.0.0.1:4180';
        $server = [
            'HTTP_HOST' => $host,
            'HTTP_ORIGIN' => 'http://127.0.0.1:4180',
            'CONTENT_TYPE' => 'application/json',
        ];
        foreach ($headers as $name => $value) {
            $server[($name === 'Content-Type' ? '' : 'HTTP_').strtoupper(str_replace('-', '_', $name))] = $value;
        }

        return $this->call(
            $method,
            "http://$host/api/$path",
            [],
            ['kite_person' => $person] + $cookies,
            [],
            array_filter($server, static fn (string $v): bool => $v !== ''),
            $body === null ? '{}' : (string) json_encode($body, JSON_PRESERVE_ZERO_FRACTION),
        );
    }

    /** Does what waits for the worker. */
    protected function work(): void
    {
        $this->app
            ->make(Kernel::class)
            ->call('queue:work', ['--stop-when-empty' => true, '--sleep' => 0, '--memory' => 4096]);
    }

    protected function id(): string
    {
        return strtolower((string) Str::ulid());
    }

    /** @param  array<string, mixed>  $fields */
    protected function created(string $kind, string $id, array $fields): array
    {
        return [
            'kind' => $kind,
            'id' => $id,
            'op' => 'create',
            'fields' => array_map(static fn (mixed $v): array => ['before' => null, 'after' => $v], $fields),
        ];
    }

    /** @param  array<string, array{mixed, mixed}>  $fields before and after */
    protected function updated(string $kind, string $id, array $fields): array
    {
        return [
            'kind' => $kind,
            'id' => $id,
            'op' => 'update',
            'fields' => array_map(static fn (array $v): array => ['before' => $v[0], 'after' => $v[1]], $fields),
        ];
    }

    /**
     * A layer aimed straight at surfaces, by a route of its own.
     *
     * @param  list<string>  $surfaces
     * @param  array<string, mixed>  $fields
     * @return list<array<string, mixed>>
     */
    protected function aimed(string $id, array $surfaces, array $fields): array
    {
        $route = $this->id();

        return [
            $this->created('layer', $id, ['route' => $route] + $fields),
            $this->created('route', $route, ['surfaces' => $surfaces, 'layer' => $id]),
        ];
    }

    protected function show(string $rate = '25'): string
    {
        return (string) $this->ask('POST', 'shows', ['name' => 'Rehearsal', 'frameRate' => $rate])
            ->assertCreated()
            ->json('id');
    }
}

<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Http\Middleware\Expensive;
use App\Show\OpenApi;
use App\Show\RowSchema;
use App\Show\ShowRepository;
use Core\Show\Show as CoreShow;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\TestCase;

/**
 * Some thousand requests that nobody would send, by the description of the API: none is answered by a fault of ours,
 * none leaves half of a row.
 */
final class FuzzTest extends TestCase
{
    private const SEED = 20_261;

    private string $show = '';

    private int $times = 1;

    /** @var list<string> ids of everything that there is */
    private array $ids = [];

    /** @var list<string> */
    private array $faults = [];

    /** @var array<string, int> answers by status */
    private array $answers = [];

    protected function setUp(): void
    {
        parent::setUp();
        mt_srand((int) (getenv('KITE_FUZZ_SEED') ?: self::SEED));
        $this->times = (int) (getenv('KITE_FUZZ_TIMES') ?: 1);
        Artisan::call('kite:demo');
        $this->show = (string) $this->ask('GET', 'shows')->json('shows.0.id');
        foreach ($this->ask('GET', "shows/$this->show")->json('rows') as $rows) {
            array_push($this->ids, ...array_column($rows, 'id'));
        }
    }

    /** JSON of a value of no sense. */
    private function nonsense(int $depth = 0): string
    {
        $plain = [
            'null',
            'true',
            'false',
            '0',
            '-1',
            '1',
            '0.5',
            '-0.0',
            '1e15',
            '-1e15',
            '1e308',
            '-1e308',
            '1e309',
            '-1e309',
            '9223372036854775807',
            '9223372036854775808',
            '1e-320',
            '2147483648',
            '16385',
            '""',
            '" "',
            '"x"',
            '"-"',
            '"NaN"',
            '"\u0000"',
            '"\uffff"',
            '"\ud83d\ude80"',
            '"é"',
            '"0"',
            '"1e309"',
            '"../../.env"',
            '"=1+1"',
            '"\'; drop table shows; --"',
            '"<b>"',
            '"'.str_repeat('a', 300).'"',
            '"'.str_repeat('9', 400).'"',
            '[]',
            '{}',
            '[[]]',
            '[null]',
            '[1e309]',
            '{"a":1}',
            '{"before":null,"after":1e309}',
            '[[[[[[[[]]]]]]]]',
            '"'.$this->ids[mt_rand(0, count($this->ids) - 1)].'"',
            '"'.$this->show.'"',
            '"01hzzzzzzzzzzzzzzzzzzzzzzz"',
        ];
        if ($depth < 3 && mt_rand(0, 5) === 0) {
            return '['.
                implode(',', array_map(fn (): string => $this->nonsense($depth + 1), range(1, mt_rand(1, 4)))).
                ']';
        }

        return $plain[mt_rand(0, count($plain) - 1)];
    }

    /**
     * JSON that fits a schema, but for some places where it does not.
     *
     * @param  array<string, mixed>  $schema
     */
    private function fitting(array $schema, int $depth = 0): string
    {
        if (mt_rand(0, 7) === 0) {
            return $this->nonsense();
        }
        if (isset($schema['$ref'])) {
            $schema = OpenApi::document()['components']['schemas'][basename((string) $schema['$ref'])];
        }
        if (isset($schema['allOf'])) {
            $schema = array_replace_recursive(...$schema['allOf']);
        }
        if (isset($schema['enum'])) {
            return (string) json_encode($schema['enum'][mt_rand(0, count($schema['enum']) - 1)]);
        }
        $type = is_array($schema['type'] ?? null)
            ? $schema['type'][mt_rand(0, count($schema['type']) - 1)]
            : $schema['type'] ?? 'any';
        if ($type === 'object') {
            $members = [];
            foreach ($schema['properties'] ?? [] as $name => $of) {
                if (in_array($name, $schema['required'] ?? [], true) || mt_rand(0, 1) === 0) {
                    $members[] = json_encode((string) $name).':'.$this->fitting((array) $of, $depth + 1);
                }
            }

            return '{'.implode(',', $members).'}';
        }

        return match ($type) {
            'string' => mt_rand(0, 1) === 0
                ? '"'.$this->ids[mt_rand(0, count($this->ids) - 1)].'"'
                : (string) json_encode(
                    ['Quay', '10:00:00:00', '9m / 2.5mm', '#ff8800', 'x', 'layer:'.$this->ids[0].'/opacity'][
                        mt_rand(0, 5)
                    ],
                ),
            'integer' => (string) mt_rand(-2, 40),
            'number' => (string) (mt_rand(-2000, 2000) / 100),
            'boolean' => mt_rand(0, 1) === 0 ? 'true' : 'false',
            'array' => '['.
                implode(
                    ',',
                    array_map(
                        fn (): string => $depth > 4 ? '0' : $this->fitting((array) ($schema['items'] ?? []), $depth + 1),
                        array_fill(0, mt_rand(0, 4), 0),
                    ),
                ).
                ']',
            'null' => 'null',
            default => $this->nonsense(),
        };
    }

    private function part(string $name): string
    {
        $good = ['show' => $this->show, 'format' => 'csv'][$name] ?? $this->ids[mt_rand(0, count($this->ids) - 1)];

        return mt_rand(0, 4) > 0
            ? $good
            : rawurlencode(
                ['x', '0', "\0", 'é', str_repeat('a', 500), '%', '..', $this->show, "01HZZZZZZZZZZZZZZZZZZZZZZZ\n"][
                    mt_rand(0, 8)
                ],
            );
    }

    private function query(string $name): string
    {
        $good =
            ['width' => '64', 'height' => '48', 'time' => '0', 'at' => '0', 'spares' => '5'][$name] ??
            $this->ids[mt_rand(0, count($this->ids) - 1)];
        $bad = ['', '-1', '1e309', 'x', '99999999999999999999', "\u{FFFF}", '0.5', '%00', str_repeat('7', 300)];

        return match (mt_rand(0, 4)) {
            0 => $name.'[]=x',
            1 => $name.'[a][b]=1',
            2 => '',
            3 => "$name=".rawurlencode($bad[mt_rand(0, count($bad) - 1)]),
            default => "$name=$good",
        };
    }

    private function send(string $method, string $path, string $body): void
    {
        $before = $this->counts();
        $answer = $this->call(
            $method,
            "http://127.0.0.1:4180/api/$path",
            [],
            ['kite_person' => '01hzzzzzzzzzzzzzzzzzzzzzzz'],
            [],
            [
                'HTTP_HOST' => '127.0.0.1:4180',
                'HTTP_ORIGIN' => 'http://127.0.0.1:4180',
                'CONTENT_TYPE' => 'application/json',
            ],
            $body,
        );
        $status = $answer->getStatusCode();
        $this->answers[(string) $status] = ($this->answers[(string) $status] ?? 0) + 1;
        $said =
            "$method $path ".
            substr($body, 0, 2000).
            ' gives '.
            $status.
            ' '.
            substr((string) $answer->getContent(), 0, 400);
        if ($status >= 500) {
            $this->faults[] = $said;

            return;
        }
        if ($status >= 400) {
            self::assertSame('application/problem+json', $answer->headers->get('Content-Type'), $said);
            self::assertNotSame('', $answer->json('detail'), $said);
            self::assertSame($before, $this->counts(), "InvalidValue, and yet something was written: $said");
        }
    }

    /** @return array<int, mixed> what a refused request must leave as it was */
    private function counts(): array
    {
        static $sql = null;
        $sql ??=
            'select '.
            implode(
                ', ',
                array_map(
                    static fn (string $kind): string => '(select count(*) from '.
                        RowSchema::model($kind)::query()->getModel()->getTable().
                        ')',
                    RowSchema::names(),
                ),
            ).
            ', (select count(*) from edits), (select sum(revision) from shows), (select count(*) from shows), (select count(*) from uploads)';

        return array_values((array) DB::selectOne($sql));
    }

    public function test_no_request_is_answered_by_a_fault_of_ours(): void
    {
        $calls = [];
        foreach (OpenApi::document()['paths'] as $path => $methods) {
            foreach (array_diff_key($methods, ['parameters' => 0]) as $method => $call) {
                $isExpensive =
                    preg_match('#'.Expensive::pattern().'#', '/api'.preg_replace('/\{[a-z]+\}/', 'x', $path)) ===
                    1;
                $calls[] = [
                    $path,
                    strtoupper($method),
                    $call,
                    [...$methods['parameters'] ?? [], ...$call['parameters'] ?? []],
                    $isExpensive ? 6 : ($method === 'get' ? 15 : 60),
                ];
            }
        }
        foreach ($calls as [$path, $method, $call, $parameters, $times]) {
            if (($method === 'DELETE' && $path === '/shows/{show}') || str_ends_with($path, '/engage')) {
                continue;
            }
            for ($i = 0; $i < $times * $this->times; $i++) {
                $at = $path;
                $query = [];
                foreach ($parameters as ['name' => $name, 'in' => $in]) {
                    if ($in === 'path') {
                        $at = str_replace('{'.$name.'}', $this->part($name), $at);
                    } else {
                        $query[] = $this->query($name);
                    }
                }
                $schema = $call['requestBody']['content']['application/json']['schema'] ?? null;
                $this->send(
                    $method,
                    ltrim($at, '/').($query === [] ? '' : '?'.implode('&', array_filter($query))),
                    $schema === null ? '{}' : $this->fitting($schema),
                );
            }
        }
        $this->leftWhole();
        self::assertGreaterThan(
            100,
            $this->answers['200'] ?? 0,
            'Too few of these requests were sound: '.json_encode($this->answers),
        );
    }

    public function test_no_field_of_any_row_takes_what_the_core_then_refuses(): void
    {
        $rows = $this->ask('GET', "shows/$this->show")->json('rows');
        foreach (RowSchema::names() as $kind) {
            $row = $rows[$kind][0] ?? null;
            foreach ([...array_keys(RowSchema::fields($kind)), 'values.opacity', 'values.x', 'nothing'] as $field) {
                for ($i = 0; $i < 14 * $this->times; $i++) {
                    $after = $i % 2 === 0 || ! isset($row[$field]) ? $this->nonsense() : $this->bent($row[$field]);
                    $json = (string) json_encode([
                        'name' => 'Try',
                        'changes' => [
                            $row === null || $i % 3 === 0
                                ? $this->created(
                                    $kind,
                                    $this->id(),
                                    [$field => '@'] + array_intersect_key((array) $row, RowSchema::fields($kind)),
                                )
                                : $this->updated($kind, $row['id'], [$field => [$row[$field] ?? null, '@']]),
                        ],
                    ]);
                    $this->send(
                        'POST',
                        "shows/$this->show/edits",
                        str_replace('"after":"@"', '"after":'.$after, $json),
                    );
                }
            }
        }
        $this->leftWhole();
        self::assertGreaterThan(50, $this->answers['201'] ?? 0, (string) json_encode($this->answers));
        self::assertGreaterThan(500, $this->answers['422'] ?? 0, (string) json_encode($this->answers));
    }

    /** JSON of a good value with one place of it gone wrong. */
    private function bent(mixed $good): string
    {
        $json = (string) json_encode($good);
        $pattern = '/-?\d+(\.\d+)?|"[^"]*"(?!:)|true|false|null/';
        $places = preg_match_all($pattern, $json);
        $at = mt_rand(0, max(0, $places - 1));
        $n = 0;

        return (string) preg_replace_callback(
            $pattern,
            function (array $found) use (&$n, $at): string {
                return $n++ === $at ? $this->nonsense() : $found[0];
            },
            $json,
        );
    }

    /** Whatever is stored after all that, the core reads as before. */
    private function leftWhole(): void
    {
        self::assertSame([], $this->faults, count($this->faults).' requests were answered by a fault of ours.');
        $this->ask('GET', "shows/$this->show")->assertOk();
        $rows = app(ShowRepository::class);
        foreach ($rows->of($this->show) as $kind => $list) {
            foreach ($list as $row) {
                CoreShow::checkRow($kind, $row, $rows->types($this->show));
            }
        }
        self::assertSame([], DB::select('pragma foreign_key_check'));
    }
}

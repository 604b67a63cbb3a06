<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Http\JsonRequest;
use App\Support\Input;
use App\Support\Problem;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\TestCase;

/** What is read of bodies and addresses, field by field. */
final class InputTest extends TestCase
{
    public function test_fields_are_read_as_what_they_are(): void
    {
        $in = Input::of([
            'name' => 'Quay',
            'n' => 4,
            'x' => 2.5,
            'whole' => 3.0,
            'digits' => '17',
            'on' => false,
            'list' => ['a', 'b'],
            'at' => [1, 2.5, -3],
            'more' => ['k' => 1],
            'nil' => null,
        ]);
        self::assertSame(
            ['Quay', 'none', 4.0, 2.5, 3, 17, false, true],
            [
                $in->text('name'),
                $in->text('lost', 'none'),
                $in->number('n'),
                $in->number('x'),
                $in->whole('whole', 0, 9),
                $in->digits('digits'),
                $in->flag('on', true),
                $in->flag('lost', true),
            ],
        );
        self::assertSame(
            [['a', 'b'], [1.0, 2.5, -3.0], ['k' => 1]],
            [$in->texts('list', 2), $in->vector('at', 10), $in->object('more')],
        );
        self::assertSame(
            [7.0, 5, 12, true, false, false],
            [
                $in->number('lost', 7),
                $in->whole('lost', 0, 9, 5),
                $in->digits('lost', 20, 12),
                $in->has('name'),
                $in->has('lost'),
                $in->has('nil'),
            ],
        );
        self::assertSame([4, 2.5, false, 'Quay'], array_map($in->scalar(...), ['n', 'x', 'on', 'name']));
    }

    /** @return array<string, array{\Closure(Input): mixed, string, string}> */
    public static function refusals(): array
    {
        return [
            'text that is missing' => [static fn (Input $in) => $in->text('lost'), 'lost', 'is missing'],
            'text that is a number' => [static fn (Input $in) => $in->text('n'), 'n', 'has to be text'],
            'a number that is text' => [static fn (Input $in) => $in->number('name'), 'name', 'finite number'],
            'a number that is a list' => [static fn (Input $in) => $in->number('list'), 'list', 'finite number'],
            'a number beyond all' => [static fn (Input $in) => $in->number('endless'), 'endless', 'finite number'],
            'a number that is missing' => [static fn (Input $in) => $in->number('lost'), 'lost', 'finite number'],
            'a fraction for a whole number' => [static fn (Input $in) => $in->whole('x', 0, 9), 'x', 'between 0 and 9'],
            'a whole number above its most' => [static fn (Input $in) => $in->whole('n', 0, 3), 'n', 'between 0 and 3'],
            'a whole number that is text' => [
                static fn (Input $in) => $in->whole('digits', 0, 30),
                'digits',
                'whole number',
            ],
            'digits that are a number' => [static fn (Input $in) => $in->digits('n'), 'n', 'whole number'],
            'digits beyond their most' => [static fn (Input $in) => $in->digits('digits', 16), 'digits', 'at most 16'],
            'digits with a sign' => [static fn (Input $in) => $in->digits('minus'), 'minus', 'whole number'],
            'digits without end' => [static fn (Input $in) => $in->digits('long'), 'long', 'whole number'],
            'a flag that is a number' => [static fn (Input $in) => $in->flag('n'), 'n', 'true or false'],
            'texts that are too many' => [static fn (Input $in) => $in->texts('list', 1), 'list', 'at most 1 texts'],
            'texts with names' => [static fn (Input $in) => $in->texts('more', 9), 'more', 'list of at most 9'],
            'texts with a number among them' => [
                static fn (Input $in) => $in->texts('at', 9),
                'at',
                'list of at most 9',
            ],
            'a place of two numbers' => [static fn (Input $in) => $in->vector('list', 9), 'list', 'three numbers'],
            'a place too far away' => [
                static fn (Input $in) => $in->vector('at', 2.9),
                'at.2',
                'between -2.9 and 2.9 m',
            ],
            'a place that is text' => [static fn (Input $in) => $in->vector('words', 9), 'words.1', 'finite number'],
            'an object that is text' => [static fn (Input $in) => $in->object('name'), 'name', 'has to be an object'],
            'a value that is a list' => [
                static fn (Input $in) => $in->scalar('list'),
                'list',
                'number, true or false, or a name',
            ],
            'a value that is missing' => [
                static fn (Input $in) => $in->scalar('lost'),
                'lost',
                'number, true or false, or a name',
            ],
            'a value beyond all' => [
                static fn (Input $in) => $in->scalar('endless'),
                'endless',
                'number, true or false, or a name',
            ],
        ];
    }

    /** @param  \Closure(Input): mixed  $read */
    #[DataProvider('refusals')]
    public function test_what_is_of_another_kind_is_refused_by_name(\Closure $read, string $field, string $says): void
    {
        $in = Input::of([
            'name' => 'Quay',
            'n' => 4,
            'x' => 2.5,
            'digits' => '17',
            'minus' => '-1',
            'long' => str_repeat('9', 30),
            'list' => ['a', 'b'],
            'at' => [1, 2, -3],
            'words' => [1, 'two', 3],
            'more' => ['k' => 'v'],
            'endless' => INF,
        ]);
        try {
            $read($in);
            self::fail('It was taken.');
        } catch (Problem|InvalidValue $refused) {
            self::assertSame($field, $refused instanceof Problem ? $refused->more['field'] ?? null : $refused->field);
            self::assertStringContainsString($says, $refused->getMessage());
        }
    }

    /** @return array<string, array{string, int|null}> body, status of its problem */
    public static function bodies(): array
    {
        return [
            'an object' => ['{"a":1}', null],
            'nothing at all' => ['', null],
            'no JSON' => ['{"a":', 400],
            'a number' => ['7', 400],
            'text that is not UTF-8' => ["{\"a\":\"\xff\"}", 400],
            'deep, but not too deep' => [str_repeat('[', 31).str_repeat(']', 31), null],
            'too deep' => [str_repeat('[', 33).str_repeat(']', 33), 400],
            'a number without end' => ['{"a":{"b":[1,1e999]}}', 422],
            'a quarter of a million lists' => ['['.str_repeat('[],', JsonRequest::MAX_NESTED).'0]', 413],
            'too long' => ['"'.str_repeat('x', JsonRequest::MAX_BYTES).'"', 413],
        ];
    }

    #[DataProvider('bodies')]
    public function test_a_body_is_read_within_bounds_or_refused_and_reads_as_empty(string $body, ?int $status): void
    {
        $request = JsonRequest::create('/', 'POST', [], [], [], ['CONTENT_TYPE' => 'application/json'], $body);
        self::assertInstanceOf(JsonRequest::class, $request);
        $read = $request->json()->all();
        self::assertSame($status, $request->problem?->status);
        if ($status !== null && $status !== 422) {
            self::assertSame([], $read);
        }
        if ($status === 422) {
            self::assertSame('a.b.1', $request->problem->more['field'] ?? null);
        }
    }
}

<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Models\PairedPanel;
use Illuminate\Testing\TestResponse;
use Tests\TestCase;

/** Touch panels by request: building them, and letting tablets in. */
final class PanelTest extends TestCase
{
    /** @return array{string, string, string} show, panel and a cue */
    private function panelShow(): array
    {
        $show = $this->show();
        [$panel, $cue] = [$this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Panel',
            'changes' => [
                $this->created('device', $panel, ['name' => 'Stage left', 'protocol' => 'touch', 'columns' => 3]),
                $this->created('cue', $cue, ['number' => '1', 'name' => 'Warm']),
            ],
        ])->assertCreated();
        $this->ask('POST', "shows/$show/engage")->assertOk();

        return [$show, $panel, $cue];
    }

    /** @param  array<string, mixed>|null  $body */
    private function atDoor(string $method, string $path, ?array $body = null, string $token = ''): TestResponse
    {
        $this->withServerVariables(['KITE_DOOR' => 'panels']);
        $answer = $this->ask($method, $path, $body, cookies: ['kite_panel' => $token]);
        $this->withServerVariables([]);

        return $answer;
    }

    public function test_a_panel_is_built_shown_and_taken_back(): void
    {
        [$show, $panel, $cue] = $this->panelShow();
        $order = fn (array $body): TestResponse => $this->ask('POST', "shows/$show/touch", $body);
        $fader = $order(['action' => 'add', 'panel' => $panel, 'type' => 'fader', 'target' => 'master:show/level'])
            ->assertCreated()
            ->json('createdId');
        $tile = $order(['action' => 'add', 'panel' => $panel, 'type' => 'cue', 'target' => $cue])
            ->assertCreated()
            ->json('createdId');
        $told = $this->ask('GET', 'touch/panels/Stage%20left')->assertOk();
        self::assertSame(['Stage left', 3, 4], array_values(array_slice($told->json('panel'), 1)));
        self::assertEquals(
            [
                ['fader', 'fader1', 0, 0, 1, 3, [['low' => 0, 'high' => 100, 'unit' => '%', 'digits' => 0]]],
                ['cue', 'Warm', 1, 0, 1, 1, [null]],
            ],
            array_map(
                static fn (array $i): array => [
                    $i['type'],
                    $i['label'],
                    $i['column'],
                    $i['row'],
                    $i['columns'],
                    $i['rows'],
                    array_map(static fn (?array $v): ?array => $v === null ? null : ['digits' => 0] + $v, $i['values']),
                ],
                $told->json('items'),
            ),
        );
        $order([
            'action' => 'place',
            'item' => $tile,
            'column' => 9,
            'row' => 9,
            'columns' => 1,
            'rows' => 1,
        ])->assertCreated();
        self::assertSame(
            [2, 3],
            [
                $this->ask('GET', 'touch/panels/Stage%20left')->json('items.1.column'),
                $this->ask('GET', 'touch/panels/Stage%20left')->json('items.1.row'),
            ],
        );
        foreach (
            [
                [['action' => 'add', 'panel' => $panel, 'type' => 'slider'], 'An item is one of'],
                [['action' => 'add', 'panel' => 'gone', 'type' => 'button'], 'no touch panel'],
                [['action' => 'add', 'panel' => $panel, 'type' => 'board'], 'No room'],
                [
                    ['action' => 'place', 'item' => $tile, 'column' => 0, 'row' => 0, 'columns' => 1, 'rows' => 1],
                    'Something else stands there',
                ],
                [
                    ['action' => 'bind', 'item' => $tile, 'slot' => 1, 'meaning' => 'action', 'target' => 'go'],
                    'sends 1',
                ],
                [['action' => 'bind', 'item' => $tile, 'meaning' => 'action', 'target' => 'fly'], 'fly'],
                [['action' => 'bind', 'item' => $tile, 'meaning' => 'value', 'target' => 'x'], 'x'],
                [['action' => 'turn'], 'Unknown action'],
            ] as [$body, $message]
        ) {
            self::assertStringContainsString($message, (string) $order($body)->assertStatus(422)->json('detail'));
        }
        $order(['action' => 'bind', 'item' => $tile, 'meaning' => 'action', 'target' => 'go'])->assertCreated();
        $rows = fn (): array => $this->ask('GET', "shows/$show")->json('rows');
        self::assertSame(['master:show/level', 'go'], array_column($rows()['binding'], 'target'));
        $order(['action' => 'remove', 'item' => $tile])->assertCreated();
        $order(['action' => 'remove', 'item' => $fader])->assertCreated();
        self::assertSame([[], []], [$rows()['touchItem'], $rows()['binding']]);
        $this->ask('POST', "shows/$show/undo", [])->assertOk();
        self::assertSame([1, 1], [count($rows()['touchItem']), count($rows()['binding'])]);
        // A page of the board has its own.
        self::assertNull($this->ask('GET', 'touch/panels/Quay')->assertOk()->json('panel'));
    }

    public function test_of_two_that_take_one_code_at_once_one_is_paired(): void
    {
        $code = (string) $this->ask('POST', 'touch/codes', ['panel' => 'Left'])->json('code');
        // Another request is just faster, once this one has found the code.
        $isFirst = true;
        PairedPanel::retrieved(static function (PairedPanel $found) use (&$isFirst): void {
            if ($isFirst && $found->getAttribute('token') === null) {
                $isFirst = false;
                PairedPanel::query()
                    ->whereKey($found->getKey())
                    ->update(['code' => null, 'token' => PairedPanel::hashed('theirs')]);
            }
        });
        try {
            $late = $this->atDoor('POST', 'touch/pair', ['code' => $code]);
        } finally {
            PairedPanel::flushEventListeners();
        }
        $late->assertStatus(422)->assertJsonPath('field', 'code');
        self::assertFalse($isFirst);
        self::assertSame([], $late->headers->getCookies());
        self::assertNotNull(PairedPanel::ofToken('theirs'));
    }

    public function test_a_tablet_is_paired_by_a_code_may_do_little_and_is_revoked(): void
    {
        $this->panelShow();
        $this->atDoor('GET', 'touch/panels/Stage%20left')->assertStatus(401);
        $this->atDoor('POST', 'live/tickets', [])->assertStatus(401);
        $this->atDoor('POST', 'touch/codes', ['panel' => 'Stage left'])->assertStatus(401);
        $code = $this->ask('POST', 'touch/codes', ['panel' => 'Stage left'])
            ->assertCreated()
            ->json('code');
        self::assertMatchesRegularExpression('/^\d{6}$/', $code);
        $paired = $this->atDoor('POST', 'touch/pair', ['code' => " $code ", 'label' => 'Tablet 3'])->assertCreated();
        $cookie = collect($paired->headers->getCookies())->firstWhere(fn ($c) => $c->getName() === 'kite_panel');
        self::assertNotNull($cookie);
        self::assertSame(
            [true, 'strict', 'Stage left'],
            [$cookie->isHttpOnly(), $cookie->getSameSite(), $paired->json('panel')],
        );
        $token = (string) $cookie->getValue();
        self::assertSame(0, PairedPanel::query()->where('token', $token)->count(), 'Only its hash is kept.');
        // A code is good once.
        $this->atDoor('POST', 'touch/pair', ['code' => $code])->assertStatus(422);
        $this->atDoor('GET', 'touch/panels/Stage%20left', null, $token)->assertOk();
        $this->atDoor('GET', 'touch/panels/Stage%20right', null, $token)->assertStatus(403);
        foreach (
            [['GET', 'shows'], ['GET', 'touch/paired'], ['POST', 'touch/codes'], ['GET', 'storage']] as [$method, $path]
        ) {
            $this->atDoor($method, $path, $method === 'POST' ? [] : null, $token)->assertStatus(403);
        }
        $ticket = $this->atDoor('POST', 'live/tickets', [], $token)->assertCreated();
        $id = $this->ask('GET', 'touch/paired')->assertOk()->json('paired.0.id');
        self::assertSame("panel/$id/Stage left", $ticket->json('person'));
        $this->ask('DELETE', "touch/paired/$id")->assertOk();
        $this->atDoor('GET', 'touch/panels/Stage%20left', null, $token)->assertStatus(401);
        self::assertSame([], $this->ask('GET', 'touch/paired')->json('paired'));
    }

    public function test_codes_end_by_time_and_by_trying(): void
    {
        $this->panelShow();
        $code = $this->ask('POST', 'touch/codes', ['panel' => 'Stage left'])->json('code');
        PairedPanel::query()->update(['until' => time() - 1]);
        $this->atDoor('POST', 'touch/pair', ['code' => $code])->assertStatus(422);
        $code = $this->ask('POST', 'touch/codes', ['panel' => 'Stage left'])->json('code');
        $wrong = $code === '000000' ? '000001' : '000000';
        for ($i = 0; $i < 10; $i++) {
            $this->atDoor('POST', 'touch/pair', ['code' => $wrong])->assertStatus(422);
        }
        $this->atDoor('POST', 'touch/pair', ['code' => $code])->assertStatus(422);
        $this->atDoor('POST', 'touch/pair', ['code' => 7])->assertStatus(422);
        $this->atDoor('POST', 'touch/pair', [])->assertStatus(422);
        $this->ask('POST', 'touch/codes', ['panel' => ' '])->assertStatus(422);
    }
}

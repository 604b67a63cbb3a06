<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Http\Middleware\PanelDoor;
use App\Models\PairedPanel;
use App\Models\Show;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Bindings\Meaning;
use Core\Bindings\TouchItem;
use Core\Bindings\TouchItemType;
use Core\Show\Document;
use Core\Show\PanelEditing;
use Core\Show\Schema;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Cookie;

/** Builds touch panels, shows them, and lets tablets in that may show them over the network. */
final readonly class PanelController
{
    /** Seconds that a code is good for. */
    private const CODE_LASTS = 300;

    /** Wrong codes in that time after which all codes are void. */
    private const TRIES = 10;

    /** Tablets and codes at once. */
    private const MAX = 200;

    public function __construct(private Editor $editor, private ShowRepository $rows, private Control $control)
    {
    }

    public function order(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $document = $this->rows->document($show);
        $editing = new PanelEditing($document->show, $document, Id::make(...));
        $made = null;
        switch ($body->text('action')) {
            case 'add':
                $type =
                    TouchItemType::tryFrom($body->text('type')) ??
                    throw Problem::refused(
                        'type',
                        'An item is one of '.implode(', ', array_column(TouchItemType::cases(), 'value')).'.',
                    );
                [$changes, $made] = $editing->add($body->text('panel'), $type, $body->text('target', ''));
                $name = "Add a {$type->label()}";
                break;
            case 'place':
                [$changes, $name] = [
                    $editing->place(
                        $body->text('item'),
                        $body->whole('column', -1000, 1000),
                        $body->whole('row', -1000, 1000),
                        $body->whole('columns', 1, TouchItem::MAX_SIDE),
                        $body->whole('rows', 1, TouchItem::MAX_SIDE),
                    ),
                    'Move an item of a panel',
                ];
                break;
            case 'remove':
                [$changes, $name] = [$editing->remove($body->text('item')), 'Remove an item of a panel'];
                break;
            case 'bind':
                $meaning =
                    Meaning::tryFrom($body->text('meaning')) ??
                    throw Problem::refused('meaning', 'An item is bound to a value, an action or a cue.');
                [$changes, $name] = [
                    $editing->bind($body->text('item'), $body->whole('slot', 0, 2, 0), $meaning, $body->text('target')),
                    'Bind an item of a panel',
                ];
                break;
            default:
                throw Problem::refused('action', 'Unknown action; there are add, place, remove and bind.');
        }
        [$answer, $status] = $this->editor->order($show, $request->attributes->get('person'), $name, $changes, $made);

        return new JsonResponse($answer, $status);
    }

    /** What a tablet shows: a touch panel of the show on air by its name, or a page of its cue board. */
    public function panel(Request $request, string $name = ''): JsonResponse
    {
        $paired = $request->attributes->get(PanelDoor::PANEL);
        if ($paired instanceof PairedPanel && $paired->panel !== $name) {
            throw new Problem(403, "This tablet is paired with $paired->panel.");
        }
        $show = Show::query()->where('engaged', true)->first();
        if ($show === null) {
            return new JsonResponse(['show' => null, 'panel' => null, 'items' => [], 'pages' => [], 'cues' => []]);
        }
        $document = $this->rows->document($show);
        $panel = null;
        foreach ($document->rows['device'] ?? [] as $id => $row) {
            if ($row['protocol'] === 'touch' && $row['name'] === $name) {
                $panel = ['id' => (string) $id] + array_intersect_key($row, ['name' => 0, 'columns' => 0, 'rows' => 0]);
                break;
            }
        }
        $pages = array_values(
            array_map(
                static fn (array $row): array => array_intersect_key($row, [
                    'id' => 0,
                    'name' => 0,
                    'order' => 0,
                    'columns' => 0,
                    'rows' => 0,
                ]),
                $document->rows['page'] ?? [],
            ),
        );

        return new JsonResponse([
            'show' => [
                'id' => $show->id,
                'name' => $show->name,
                'frameRate' => $show->frameRate,
                'flicksPerFrame' => $document->show->rate->flicksPerFrame,
            ],
            'panel' => $panel,
            'items' => $panel === null ? [] : self::items($document, $panel['id']),
            'pages' => $pages,
            'cues' => array_values(
                array_map(
                    static fn (array $row): array => array_intersect_key(
                        $row,
                        array_flip(['id', 'number', 'name', 'colour', 'page', 'row', 'column']),
                    ),
                    $document->rows['cue'] ?? [],
                ),
            ),
        ]);
    }

    /** @return list<array<string, mixed>> items of a panel, with how the values of each are written */
    private static function items(Document $document, string $panel): array
    {
        $found = [];
        foreach ($document->show->delivery->touchItems as $id => $item) {
            if ($item->panel !== $panel) {
                continue;
            }
            $bindings = $item->bindingsAmong($document->rows['binding'] ?? []);
            $values = [];
            for ($slot = 0; $slot < $item->type->controls(); $slot++) {
                $values[] = self::value($bindings, $item->control($slot));
            }
            $found[] = [
                'id' => (string) $id,
                'type' => $item->type->value,
                'name' => $item->name,
                'label' => $item->label !== '' ? $item->label : $item->name,
                'shows' => $item->shows,
                'colour' => $item->colour,
                'column' => $item->column,
                'row' => $item->row,
                'columns' => $item->columns,
                'rows' => $item->rows,
                'held' => in_array('hold', array_column($bindings, 'gesture'), true),
                'values' => $values,
                'picture' => $item->type === TouchItemType::Picture ? self::picture($document, $item->shows) : '',
            ];
        }

        return $found;
    }

    /** Where a picture comes from: the stream of a live input, or the page that draws an output or a surface; empty for nothing. */
    private static function picture(Document $document, string $id): string
    {
        $media = $document->show->library->media[$id] ?? null;

        return match (true) {
            $media !== null && $media->kind === 'input' => (string) ($media->form['url'] ?? '').'?small=1',
            isset($document->show->delivery->outputs[$id]) => "/player/$id?picture=output",
            isset($document->show->venue->surfaces[$id]) => "/player/$id?picture=surface",
            default => '',
        };
    }

    /**
     * @param  array<string, array<string, mixed>>  $bindings  of its item
     * @return array{low: float, high: float, unit: string, digits: int}|null as it is shown; null where it is no value
     */
    private static function value(array $bindings, string $control): ?array
    {
        foreach ($bindings as $row) {
            if ($row['control'] !== $control || $row['meaning'] !== Meaning::Value->value) {
                continue;
            }
            try {
                $address = Address::parse((string) $row['target']);
                $of = Schema::properties($address->kind)->named($address->property);
            } catch (InvalidValue) {
                return null;
            }

            return [
                'low' => (float) $row['low'] * $of->scale,
                'high' => (float) $row['high'] * $of->scale,
                'unit' => $of->unit,
                'digits' => $of->digits,
            ];
        }

        return null;
    }

    /** Answers whoever is let in: nginx asks for a tablet before it gives what PHP does not. */
    public function here(): JsonResponse
    {
        return new JsonResponse(['paired' => true]);
    }

    /** A code by which a tablet is paired with a panel: told this once. */
    public function code(Request $request): JsonResponse
    {
        $panel = Input::body($request)->text('panel');
        if (trim($panel) === '' || mb_strlen($panel) > 120) {
            throw Problem::refused('panel', 'A code is for a panel or a page, by its name.');
        }
        PairedPanel::query()->whereNull('token')->where('until', '<', time())->delete();
        if (PairedPanel::query()->count() >= self::MAX) {
            throw Problem::refused('panel', 'There are '.self::MAX.' tablets already; revoke one first.');
        }
        $code = sprintf('%06d', random_int(0, 999_999));
        PairedPanel::query()->create([
            'panel' => $panel,
            'code' => PairedPanel::hashed($code),
            'until' => time() + self::CODE_LASTS,
        ]);

        return new JsonResponse(['code' => $code, 'seconds' => self::CODE_LASTS], 201);
    }

    /** A tablet takes a code, and may show the panel from then on. */
    public function pair(Request $request): JsonResponse
    {
        $body = Input::body($request);
        $code = (string) preg_replace('/\s+/', '', $body->text('code'));
        $waiting = PairedPanel::query()->whereNull('token')->where('until', '>=', time());
        $found = (clone $waiting)->where('code', PairedPanel::hashed($code))->first();
        $token = bin2hex(random_bytes(24));
        // Of two that take one code at once, one has it.
        $isTaken =
            $found !== null &&
            PairedPanel::query()
                ->whereKey($found->id)
                ->whereNull('token')
                ->update([
                    'code' => null,
                    'token' => PairedPanel::hashed($token),
                    'label' => mb_substr(mb_scrub(trim($body->text('label', ''))), 0, 60),
                    'pairedAt' => time(),
                ]) === 1;
        if (! $isTaken) {
            // Who tries codes ends all that could be found.
            (clone $waiting)->increment('tries');
            (clone $waiting)->where('tries', '>=', self::TRIES)->delete();
            throw Problem::refused('code', 'This is no code that is good now; have another one shown in Bindings.');
        }
        $answer = new JsonResponse(['panel' => $found->panel], 201);
        $answer->headers->setCookie(
            Cookie::create(
                PanelDoor::COOKIE,
                $token,
                now()->addYear(),
                '/',
                null,
                $request->isSecure(),
                true,
                false,
                'strict',
            ),
        );

        return $answer;
    }

    /** Tablets that may show panels. */
    public function paired(): JsonResponse
    {
        return new JsonResponse([
            'paired' => PairedPanel::query()
                ->whereNotNull('token')
                ->orderBy('id')
                ->limit(self::MAX)
                ->get(['id', 'panel', 'label', 'pairedAt']),
            'door' => (string) config('kite.panels'),
        ]);
    }

    /** Takes the right from a tablet: it is cut off at once. */
    public function revoke(string $paired): JsonResponse
    {
        PairedPanel::query()->whereKey($paired)->firstOrFail()->delete();
        $this->control->send(['tell' => 'revoked', 'panel' => $paired]);

        return new JsonResponse(['deleted' => $paired]);
    }
}

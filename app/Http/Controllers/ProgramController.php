<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Show;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Show\ClipEditing;
use Core\Show\Programming;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Values\Address;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** What is done on timelines by hand: the core computes what changes, and it is one Edit. */
final readonly class ProgramController
{
    /** What there is to do, and what it is called in the history. */
    public const ORDERS = [
        'trim' => 'Trim a clip',
        'place' => '',
        'move' => 'Move clips',
        'slip' => 'Slip a clip',
        'split' => 'Split clips',
        'paste' => 'Paste clips',
        'duplicate' => 'Duplicate clips',
        'remove' => 'Remove clips',
        'replace' => 'Replace media of a clip',
        'speed' => 'Change speed of a clip',
        'key' => '',
        'moveKey' => 'Move a keyframe',
        'dropKey' => 'Remove a keyframe',
        'moveKeys' => 'Move keyframes',
        'dropKeys' => 'Remove keyframes',
        'valueKeys' => 'Change keyframes',
        'shapeKeys' => 'Shape keyframes',
        'pasteKeys' => 'Paste keyframes',
        'raise' => 'Move a layer',
        'reorder' => 'Move a layer',
        'tempo' => 'Set the tempo',
    ];

    public function __construct(private Editor $editor, private ShowRepository $rows)
    {
    }

    public function program(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $text = $body->text(...);
        $time = static fn (string $name): int => self::time($name, $body->number($name));
        $document = $this->rows->document($show);
        $core = $document->show;
        $programming = new Programming($core, $document, Id::make(...));
        $clips = new ClipEditing($core, $document, Id::make(...));
        $do = $text('action');
        $name =
            self::ORDERS[$do] ??
            throw Problem::refused(
                'action',
                'Unknown action; there are '.implode(', ', array_keys(self::ORDERS)).'.',
            );
        $few = static fn (): array => $body->texts('clips', ClipEditing::MAX);
        $layer = $body->has('layer') ? $text('layer') : null;
        $ripple = $body->flag('ripple');
        $made = null;
        $named = static fn (array $list, string $field): string => isset($list[$text($field)])
            ? $list[$text($field)]->name
            : 'a '.$field;
        switch ($do) {
            case 'place':
                [$changes, $made] = $programming->place($text('media'), $text('layer'), $time('time'));
                $name = 'Put '.$named($core->library->media, 'media').' on a layer';
                break;
            case 'split':
            case 'paste':
            case 'duplicate':
                [$changes, $new] = match ($do) {
                    'split' => $clips->split($few(), $time('time')),
                    'paste' => $clips->paste($few(), $time('time'), $layer, $ripple),
                    'duplicate' => $clips->duplicate($few(), $ripple),
                };
                $made = implode(' ', $new);
                break;
            case 'key':
                $address = Address::parse($text('address'));
                [$changes, $made] = $programming->key($address, $time('time'), $body->scalar('value'));
                $name =
                    'Add a keyframe of '.
                    strtolower(Schema::properties($address->kind)->named($address->property)->label);
                break;
            case 'tempo':
                $changes = $programming->tempo(
                    $text('timeline'),
                    array_map(
                        static fn (mixed $tap): int => self::time(
                            'taps',
                            is_int($tap) || is_float($tap) ? (float) $tap : NAN,
                        ),
                        array_values($body->object('taps')),
                    ),
                );
                break;
            default:
                $changes = match ($do) {
                    'trim' => $clips->trim($text('clip'), $text('edge'), $time('to'), $ripple),
                    'move' => $clips->move($few(), $time('by'), $layer, $ripple),
                    'slip' => $clips->slip($text('clip'), $time('by')),
                    'remove' => $clips->remove($few(), $ripple),
                    'replace' => $clips->replace($text('clip'), $text('media')),
                    'speed' => $clips->speed($text('clip'), $body->number('speed'), $body->flag('stretch'), $ripple),
                    'moveKey' => $programming->moveKey(
                        $text('curve'),
                        $time('from'),
                        $time('time'),
                        $body->scalar('value'),
                    ),
                    'dropKey' => $programming->dropKey($text('curve'), $time('time')),
                    'moveKeys' => $programming->moveKeys(
                        self::keys($body),
                        $time('by'),
                        $body->number('factor', 1),
                        $body->has('about') ? $time('about') : 0,
                        $body->number('rise', 0),
                    ),
                    'dropKeys' => $programming->dropKeys(self::keys($body)),
                    'valueKeys' => $programming->valueKeys(self::keys($body), $text('text')),
                    'shapeKeys' => $programming->shapeKeys(
                        self::keys($body),
                        $text('way'),
                        $body->has('handles') ? self::handles($body) : null,
                    ),
                    'pasteKeys' => $programming->pasteKeys(self::keys($body), $time('time'), $layer),
                    'reorder' => $programming->reorder($text('layer'), $body->has('above') ? $text('above') : null),
                    'raise' => $programming->raise($text('layer'), $body->flag('up', true)),
                };
        }

        return new JsonResponse(
            ...$this->editor->order($show, $request->attributes->get('person'), $name, $changes, $made),
        );
    }

    private static function time(string $name, float $value): int
    {
        return is_finite($value) && abs($value) <= Flicks::MAX
            ? (int) round($value)
            : throw Problem::refused($name, "$name has to be a time in flicks.");
    }

    /** @return array{float, float, float, float} */
    private static function handles(Input $body): array
    {
        $handles = array_values($body->object('handles'));
        if (
            count($handles) !== 4 ||
            array_filter(
                $handles,
                static fn (mixed $h): bool => (is_int($h) || is_float($h)) && is_finite((float) $h),
            ) !== $handles
        ) {
            throw Problem::refused('handles', 'Handles are four numbers: a share of the time and of the way, twice.');
        }

        return [(float) $handles[0], (float) $handles[1], (float) $handles[2], (float) $handles[3]];
    }

    /** @return list<array{curve: string, t: int}> */
    private static function keys(Input $body): array
    {
        $keys = [];
        foreach (array_slice(array_values($body->object('keys')), 0, Programming::MAX_KEYS + 1) as $i => $key) {
            if (
                ! is_array($key) ||
                ! is_string($key['curve'] ?? null) ||
                (! is_int($key['t'] ?? null) && ! is_float($key['t'] ?? null))
            ) {
                throw Problem::refused("keys.$i", 'A keyframe is named by its curve and its time `t`.');
            }
            $keys[] = ['curve' => $key['curve'], 't' => (int) $key['t']];
        }

        return $keys;
    }
}

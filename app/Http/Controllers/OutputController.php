<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Download;
use App\Http\Imports;
use App\Media\GreyPicture;
use App\Models\Show;
use App\Paper\Archive;
use App\Paper\Import;
use App\Paper\Pdf;
use App\Paper\Png;
use App\Show\Editor;
use App\Show\Lighting;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Bindings\Personality;
use Core\Exchange\Gdtf;
use Core\Exchange\GdtfWriter;
use Core\Media\Picture;
use Core\Output\BezierGrid;
use Core\Output\BlendMap;
use Core\Output\Matching;
use Core\Paperwork\LightSheet;
use Core\Paperwork\PersonalitySheet;
use Core\Paperwork\RegionSheet;
use Core\PixelMap\EmitterMix;
use Core\PixelMap\Universes;
use Core\Show\Changes;
use Core\Show\OutputEditing;
use Core\Show\Projections;
use Core\Show\RegionEditing;
use Core\Show\Show as CoreShow;
use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** What is done to the outputs of a show and their regions: the core computes what changes. */
final readonly class OutputController
{
    private const MAX_REGIONS = 2000;

    private const MAX_PICTURE = 8 << 20;

    /** Of a painted mask, across at the most. */
    private const LINES = 1024;

    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    public function order(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $text = $body->text(...);
        $document = $this->rows->document($show);
        $core = $document->show;
        $editing = new OutputEditing($core, $document, Id::make(...));
        $beside = new RegionEditing($core, $document);
        $called = static function (string $region) use ($core): string {
            $found = $core->delivery->region($region)[0] ?? null;

            return $found === null ? 'a region' : $core->venue->surfaces[$found->surface]->name;
        };
        $on = $core->delivery->outputs[$text('output', '')]->name ?? 'an output';
        $regions = static fn (): array => $body->texts('regions', self::MAX_REGIONS);
        [$made, $more] = [null, []];
        switch ($text('action')) {
            case 'put':
                [$changes, $made] = $editing->put($text('output'), $body->texts('surfaces', self::MAX_REGIONS));
                $name = "Put on $on";
                break;
            case 'pack':
                $step = $body->has('step') ? $body->whole('step', 1, 4096) : null;
                [$changes, $packed] = $editing->pack(
                    $body->texts('outputs', 200),
                    $body->flag('turns'),
                    $body->whole('guard', 0, 1000, 0),
                    $step === null ? null : [$step, $step],
                );
                [$name, $more] = [
                    'Pack regions',
                    ['packed' => ['used' => (object) $packed['used'], 'unplaced' => $packed['unplaced']]],
                ];
                break;
            case 'split':
                [$name, $changes] = [
                    "Split $on",
                    $editing->split($text('output'), $body->whole('columns', 1, 8), $body->whole('rows', 1, 8)),
                ];
                break;
            case 'fit':
                [$name, $changes] = ['Fit '.$called($text('region')), $editing->fit($text('region'), $text('how'))];
                break;
            case 'pin':
                [$name, $changes] = [
                    'Pin a corner of '.$called($text('region')),
                    $editing->pin($text('region'), self::steps($body, 4)),
                ];
                break;
            case 'line':
                [$name, $changes] = [
                    'Bend '.$called($text('region')),
                    $body->has('line')
                        ? $editing->removeLine(
                            $text('region'),
                            $text('way'),
                            $body->whole('line', 0, BezierGrid::MAX_PATCHES),
                        )
                        : $editing->addLine(
                            $text('region'),
                            $text('way'),
                            $body->has('at') ? $body->number('at') : null,
                        ),
                ];
                break;
            case 'bend':
                [$name, $changes] = [
                    'Bend '.$called($text('region')),
                    $editing->bend(
                        $text('region'),
                        self::steps($body, (3 * BezierGrid::MAX_PATCHES + 1) ** 2),
                        $body->flag('symmetric'),
                        max(0.0, $body->number('radius', 0)),
                    ),
                ];
                break;
            case 'together':
                $by = $body->has('by') ? $body->object('by') : [];
                [$name, $changes] = [
                    'Move regions',
                    $editing->together(
                        $regions(),
                        [self::pixels($by['x'] ?? 0), self::pixels($by['y'] ?? 0)],
                        $body->number('degrees', 0),
                        $body->number('scale', 1),
                    ),
                ];
                break;
            case 'group':
                [$name, $made] = ['Group regions', Id::make()];
                $changes = $beside->group($regions(), $text('name'), $made);
                break;
            case 'gather':
                $group = $text('into', '');
                [$name, $changes] = ['Move regions to a group', $beside->gather($regions(), $group ?: null)];
                break;
            case 'nest':
                $group = $text('into', '');
                [$name, $changes] = ['Move a group', $beside->nest($text('group'), $group ?: null)];
                break;
            case 'overlap':
                $two = $regions();
                if (count($two) !== 2) {
                    throw Problem::refused('regions', 'Two regions overlap: choose two.');
                }
                [$name, $changes] = [
                    'Overlap regions',
                    $beside->overlap($two[0], $two[1], $body->number('amount'), $text('unit', 'px')),
                ];
                break;
            case 'fade':
                [$name, $changes] = ['Fade where regions overlap', $beside->fade($regions())];
                break;
            case 'copy':
                [$name, $changes] = [
                    'Copy the warp of '.$called($text('from')),
                    $editing->copy($text('from'), $regions()),
                ];
                break;
            case 'reset':
                [$name, $changes] = [
                    'Reset '.(count($regions()) === 1 ? $called($regions()[0]) : 'regions'),
                    $editing->reset($regions(), $text('what')),
                ];
                break;
            case 'patch':
                [$name, $changes] = [
                    'Patch lights',
                    $editing->patch(
                        $text('node'),
                        $body->texts('surfaces', self::MAX_REGIONS),
                        $body->whole('universe', 1, Universes::LAST, 1),
                        $body->whole('channel', 1, FixtureType::UNIVERSE, 1),
                        $text('rule', 'pack'),
                        $body->whole('every', 1, 1000, 1),
                    ),
                ];
                break;
            case 'console':
                [$name, $changes] = [
                    'Drive layers by a console',
                    $editing->console(
                        $text('personality'),
                        $body->texts('layers', self::MAX_REGIONS),
                        $text('protocol', 'sacn'),
                        $body->whole('universe', 1, Universes::LAST, 1),
                        $body->whole('channel', 1, FixtureType::UNIVERSE, 1),
                    ),
                ];
                break;
            case 'paint':
                [$name, $changes, $made] = $this->painted($core, $body);
                break;
            case 'project':
                [$name, $changes] = [
                    'Project onto '.($core->venue->surfaces[$text('surface')]->name ?? 'a surface'),
                    $editing->project($text('surface')),
                ];
                break;
            case 'points':
                [$name, $changes] = ['Add alignment points', $editing->points($text('projector'), $text('surface'))];
                break;
            case 'found':
                $at = $body->has('to') ? $body->object('to') : null;
                [$name, $changes] = [
                    'Find a point',
                    $editing->found(
                        $text('region'),
                        $at === null ? null : [self::pixels($at['x'] ?? null), self::pixels($at['y'] ?? null)],
                    ),
                ];
                break;
            case 'sources':
                $sources = [];
                foreach ($body->object('sources') as $region => $source) {
                    $sources[(string) $region] = self::numbers('sources', $source);
                }
                [$name, $changes] = [
                    count($sources) === 1
                        ? 'Take another part of '.$called((string) array_key_first($sources))
                        : 'Take other parts',
                    $beside->sources($sources),
                ];
                break;
            case 'piece':
                $made = Id::make();
                [$name, $changes] = [
                    "Draw a piece on $on",
                    $beside->piece($text('surface'), $text('output'), $body->numbers('source', 4), $made),
                ];
                break;
            case 'eye':
                [$one, $other] = self::two($regions());
                [$name, $changes] = [
                    'Match by eye',
                    $beside->eye(
                        $one,
                        $other,
                        $body->number('brighter', 0),
                        $body->number('warmer', 0),
                        $body->number('greener', 0),
                    ),
                ];
                break;
            case 'match':
                [$changes, $more] = $this->matched($document->rows['output'] ?? [], $body);
                $name = 'Match projectors';
                break;
            default:
                throw Problem::refused(
                    'action',
                    'Unknown action; there are '.implode(', ', OutputEditing::ORDERS).'.',
                );
        }
        [$answer, $status] = $this->editor->order($show, $request->attributes->get('person'), $name, $changes, $made);

        return new JsonResponse($more + $answer, $status);
    }

    /**
     * @return list<float|int>
     */
    private static function numbers(string $field, mixed $list): array
    {
        foreach (is_array($list) ? $list : [null] as $one) {
            if ((! is_int($one) && ! is_float($one)) || abs($one) > 1e6) {
                throw Problem::refused($field, 'A source is four numbers: left, top, width and height, in pixels.');
            }
        }

        return array_values((array) $list);
    }

    /** Where two regions are compared by eye: a half of one patch each. */
    public function halves(Request $request, Show $show): JsonResponse
    {
        $document = $this->rows->document($show);
        [$one, $other] = self::two(explode(',', Input::query($request)->text('regions')));
        $halves = (new RegionEditing($document->show, $document))->halves($one, $other);
        [$first, $second] = [
            $document->show->delivery->region($one)[0] ?? null,
            $document->show->delivery->region($other)[0] ?? null,
        ];
        if ($first !== null && $second !== null && $first->model !== '' && $second->model !== '') {
            Lighting::notTooLarge($document->show, 'halves are looked for');
            $halves = Projections::of($document->show, $first->surface)->halves($one, $other) ?? $halves;
        }

        return new JsonResponse(['halves' => (object) $halves]);
    }

    /**
     * @param  list<string>  $regions
     * @return array{string, string}
     */
    private static function two(array $regions): array
    {
        return count($regions) === 2
            ? [$regions[0], $regions[1]]
            : throw Problem::refused('regions', 'Two regions are compared, the one that is changed first.');
    }

    /**
     * A mask from a picture that somebody painted.
     *
     * @return array{string, list<array<string, mixed>>, string} name of the edit, its changes, and the id of the mask
     */
    private function painted(CoreShow $show, Input $body): array
    {
        $on = $body->text('surface', '') !== '' ? $body->text('surface') : $body->text('output');
        if (! isset($show->venue->surfaces[$on]) && ! isset($show->delivery->outputs[$on])) {
            throw Problem::refused('surface', 'What the mask is to lie on is not in the show.');
        }
        $picture = $body->bytes('image', self::MAX_PICTURE, 'The picture');
        [$width, $height] =
            GreyPicture::size($picture) ?? throw Problem::refused('image', 'The picture has to be a PNG or a JPEG.');
        if ($width * $height > GreyPicture::MAX_PIXELS) {
            throw Problem::refused('image', 'The picture has more than 100 million pixels.');
        }
        $smaller = min(1, self::LINES / max($width, $height));
        [$columns, $rows] = [max(2, (int) round($width * $smaller)), max(2, (int) round($height * $smaller))];
        $grey =
            GreyPicture::of($picture, $columns, $rows) ??
            throw Problem::refused('image', 'The picture can\'t be read.');
        $key = WarpStore::keep(
            (new BlendMap(
                [0, 0, $columns, $rows],
                $columns,
                $rows,
                array_map(static fn (int $v): float => $v / 255, $grey),
            ))->toBytes(),
        );
        $id = Id::make();
        $name = $body->text('name');

        return [
            "Mask $name",
            [
                Changes::create('mask', $id, [
                    isset($show->venue->surfaces[$on]) ? 'surface' : 'output' => $on,
                    'name' => $name,
                    'image' => $key,
                    'inverted' => $body->flag('inverted'),
                ]),
            ],
            $id,
        ];
    }

    /**
     * Gains and black of outputs by what was measured of each.
     *
     * @param  array<string, array<string, mixed>>  $outputs  rows
     * @return array{list<array<string, mixed>>, array<string, mixed>}
     */
    private function matched(array $outputs, Input $body): array
    {
        $measured = [];
        foreach ($body->object('measured') as $id => $of) {
            if (! isset($outputs[$id])) {
                throw Problem::refused('measured', 'What was measured is no output of this show.');
            }
            $of = Input::of(is_array($of) ? $of : []);
            $measured[(string) $id] = [
                'white' => $of->number('white'),
                'black' => $of->number('black', 0),
                'x' => $of->number('x', Matching::D65[0]),
                'y' => $of->number('y', Matching::D65[1]),
            ];
        }
        $point = $body->has('point') ? $body->object('point') : null;
        $found = Matching::of(
            $measured,
            $point === null ? null : [self::pixels($point['x'] ?? null), self::pixels($point['y'] ?? null)],
        );
        $changes = [];
        foreach ($found->gains as $id => ['gain' => $gain, 'black' => $black]) {
            array_push(
                $changes,
                ...Changes::update('output', (string) $id, $outputs[$id], ['gain' => $gain, 'black' => $black]),
            );
        }

        return [
            $changes,
            [
                'matched' => [
                    'white' => $found->white,
                    'black' => $found->black,
                    'costs' => (object) array_map(static fn (array $g): float => $g['cost'], $found->gains),
                ],
            ],
        ];
    }

    /** Where the pixels of a light are addressed, along its wiring, and what its channels drive. */
    public function patch(Show $show, string $patch): JsonResponse
    {
        $core = $this->rows->core($show);
        $of = $core->delivery->patches[$patch] ?? throw new Problem(404, 'This patch is not in the show.');
        $type =
            $core->venue->surfaces[$of->surface]->carrier->fixture() ??
            throw new Problem(404, 'This patch is of no pixel light.');
        $addressing = $of->addressing($type);
        $protocol = $core->delivery->protocolOf($of);

        return new JsonResponse([
            'columns' => $type->columns,
            'rows' => $type->rows,
            'width' => $type->widthMm,
            'height' => $type->heightMm,
            'places' => array_map($type->place(...), range(0, $type->count() - 1)),
            'order' => $addressing->order,
            'addresses' => array_map($addressing->address(...), $addressing->starts),
            'header' => $addressing->address($addressing->header[0]),
            'protocol' => $protocol,
            'numbers' => array_map(
                static fn (int $u): array => [$u, Universes::number($protocol, $u)],
                range($addressing->universe, $addressing->lastUniverse()),
            ),
            'bits' => $type->bits,
            'gamma' => $type->gamma,
            'minimum' => $type->minimum,
            'channels' => array_map(
                static fn (FixtureChannel $c): array => [
                    'name' => (string) $c,
                    'kind' => $c->kind,
                    'colour' => EmitterMix::colourOf($c),
                ],
                $of->channelsOf($type),
            ),
            'headerChannels' => array_map(strval(...), $type->header),
        ]);
    }

    /** What a painted mask lets through, as a picture. */
    public function mask(Show $show, string $mask): Response
    {
        $row =
            $this->rows->document($show)->rows['mask'][$mask] ??
            throw new Problem(404, 'This mask is not in the show.');
        $bytes = WarpStore::read((string) ($row['image'] ?? '')) ?? throw new Problem(404, 'This mask has no picture.');
        $map = BlendMap::fromBytes($bytes);
        $pixels = implode(
            '',
            array_map(static fn (float $v): string => str_repeat(chr((int) round(255 * $v)), 3)."\xFF", $map->shares),
        );

        return Download::of(
            Png::of(Picture::of($map->columns, $map->rows, $pixels)),
            'image/png',
            "{$row['name']}.png",
        );
    }

    public function csv(Show $show): Response
    {
        $table = RegionSheet::of($this->rows->core($show));

        return Download::table($table, "$show->name regions.csv");
    }

    public function pdf(Show $show): Response
    {
        return Download::of(
            Pdf::of("$show->name regions", [RegionSheet::of($this->rows->core($show))]),
            'application/pdf',
            "$show->name regions.pdf",
        );
    }

    /** Which universes and channels pixel lights have, as a table or on paper. */
    public function lights(Show $show, string $format): Response
    {
        $table = LightSheet::of($this->rows->core($show));

        return $format === 'pdf'
            ? Download::of(
                Pdf::of("$show->name pixel lights", [$table]),
                'application/pdf',
                "$show->name pixel lights.pdf",
            )
            : Download::table($table, "$show->name pixel lights.csv");
    }

    /** The channels of a personality, for whoever patches the console. */
    public function personality(Show $show, string $personality): Response
    {
        $of =
            $this->rows->core($show)->delivery->personalities[$personality] ??
            throw new Problem(404, 'This personality is not in the show.');
        $table = PersonalitySheet::of($of);

        return Download::table($table, "$of->name.csv");
    }

    /** All personalities of a show as one fixture type, with a mode for each, for consoles that read it. */
    public function gdtf(Show $show): Response
    {
        $modes = array_values(
            array_map(
                static fn (Personality $of): array => ['name' => $of->name, 'channels' => $of->channels()],
                $this->rows->core($show)->delivery->personalities,
            ),
        );
        if ($modes === []) {
            throw new Problem(404, 'This show has no personalities; add one first.');
        }

        return Download::of(
            Archive::of([Gdtf::DESCRIPTION => GdtfWriter::description("$show->name layers", $modes, $show->id)]),
            'application/zip',
            "$show->name layers.gdtf",
        );
    }

    /** Takes places that a technician dictates. */
    public function takeCsv(Request $request, Show $show, Imports $imports): JsonResponse
    {
        return $imports->take(
            $show,
            (string) $request->attributes->get('person'),
            Import::Regions,
            Input::body($request)->text('csv'),
        );
    }

    /** @return array<int, array{float, float}> by point */
    private static function steps(Input $body, int $max): array
    {
        $steps = [];
        foreach ($body->object('by') as $at => $step) {
            if (! is_int($at) || ! is_array($step) || count($step) !== 2) {
                throw Problem::refused('by', 'The steps are pairs of pixels by the number of the point.');
            }
            $steps[$at] = [self::pixels($step[0] ?? null), self::pixels($step[1] ?? null)];
        }
        if ($steps === [] || count($steps) > $max) {
            throw Problem::refused('by', "There have to be 1 to $max points.");
        }

        return $steps;
    }

    private static function pixels(mixed $value): float
    {
        return (is_int($value) || is_float($value)) && is_finite((float) $value)
            ? (float) $value
            : throw Problem::refused('by', 'The steps have to be numbers.');
    }
}

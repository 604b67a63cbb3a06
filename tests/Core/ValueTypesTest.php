<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\DrawStep;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Preflight\Trace;
use Core\Show\Document;
use Core\Show\Programming;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Timeline\BlendMode;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Curve;
use Core\Values\HeldValue;
use Core\Values\Interpolation;
use Core\Values\Keyframe;
use Core\Values\Property;
use Core\Values\PropertySet;
use Core\Values\Stratum;
use Core\Values\Track;
use Core\Values\TrackCompiler;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Values that are no single number: colours, switches and choices, and the layer's gain, blend mode and mute that are
 * such.
 */
final class ValueTypesTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private static function tide(): Property
    {
        return Property::choice('tide', 'Tide', ['ebb', 'flood', 'slack']);
    }

    public function test_a_value_comes_in_and_goes_out_as_what_it_is(): void
    {
        $gain = Property::colourGain('gain', 'Gain');
        $mute = Property::switch('mute', 'Mute');
        self::assertSame([1.0, 2.0], [$mute->parse(true), self::tide()->parse('slack')]);
        self::assertSame(
            [true, false, 'flood', 0.5],
            [$mute->format(1), $mute->format(0.4), self::tide()->format(1), $gain->format(0.5)],
        );
        self::assertSame(
            [[1.0, 0.0, 4.0], [0.0], [2.0]],
            [$gain->parseAll([1, 0, 4]), $mute->parseAll(false), self::tide()->parseAll('slack')],
        );
        self::assertSame(
            [[1.0, 0.0, 4.0], true, 'ebb'],
            [$gain->formatAll([1, 0, 4]), $mute->formatAll([1]), self::tide()->formatAll([0])],
        );
        self::assertSame(
            [[1.0, 1.0, 1.0], [0.0], [1.0], [0.0]],
            [$gain->rest(), $mute->rest(), Property::switch('lit', 'Lit', true)->rest(), self::tide()->rest()],
        );
        self::assertSame(['Gain red', 'Gain green', 'Gain blue'], $gain->slots);
        self::assertSame([['Mute'], []], [$mute->slots, $mute->options]);
    }

    public function test_a_live_control_says_a_number_or_a_name_and_lands_on_a_step(): void
    {
        self::assertSame(
            [2.0, 0.0, 1.0, 1.0],
            [self::tide()->live(7), self::tide()->live(-3), self::tide()->live(0.6), self::tide()->live('flood')],
        );
        self::assertSame(
            [1.0, 0.0, 1.0, 1.0],
            array_map(Property::switch('mute', 'Mute')->live(...), [0.5, 0.49, 3, true]),
        );
        self::assertSame([4.0, 0.0], array_map(Property::colourGain('gain', 'Gain')->live(...), [9, -1]));
    }

    /** @return array<string, array{Property, mixed, string}> */
    public static function refusals(): array
    {
        $gain = Property::colourGain('gain', 'Gain');

        return [
            'a colour of one number' => [$gain, 1, 'list of 3 numbers'],
            'a colour of two' => [$gain, [1, 1], 'list of 3 numbers'],
            'a colour by names' => [$gain, ['r' => 1, 'g' => 1, 'b' => 1], 'list of 3 numbers'],
            'a colour of text' => [$gain, [1, 'full', 1], 'finite number'],
            'a colour beyond four times' => [$gain, [1, 1, 4.01], 'between 0 and 4'],
            'a colour that is no number' => [$gain, [1, NAN, 1], 'number'],
            'a switch that is a number' => [Property::switch('mute', 'Mute'), 1, 'true or false'],
            'a choice that there is not' => [self::tide(), 'spring', 'ebb, flood, slack'],
            'a choice by its number' => [self::tide(), 1, 'ebb, flood, slack'],
            'a choice that is a list' => [self::tide(), ['ebb'], 'ebb, flood, slack'],
            'a number that is a switch' => [Property::share('opacity', 'Opacity'), true, 'finite number'],
        ];
    }

    #[DataProvider('refusals')]
    public function test_what_is_no_such_value_is_refused_by_name(Property $property, mixed $given, string $says): void
    {
        try {
            PropertySet::of('lamp', $property)->check([$property->name => $given]);
            self::fail('It was taken.');
        } catch (InvalidValue $refused) {
            self::assertSame("values.$property->name", $refused->field);
            self::assertStringContainsString($says, $refused->getMessage());
        }
    }

    public function test_only_a_colour_has_slots(): void
    {
        self::assertSame([0, 2], array_map(Property::colourGain('gain', 'Gain')->checkSlot(...), [0, 2]));
        foreach (
            [
                [Property::colourGain('gain', 'Gain'), 3],
                [Property::colourGain('gain', 'Gain'), -1],
                [Property::share('opacity', 'Opacity'), 1],
            ] as [$property, $slot]
        ) {
            try {
                $property->checkSlot($slot);
                self::fail("Slot $slot of $property->name was taken.");
            } catch (InvalidValue $refused) {
                self::assertSame('slot', $refused->field);
            }
        }
    }

    public function test_a_curve_of_choices_changes_in_steps_and_is_stored_by_names(): void
    {
        $rows = [['t' => 100, 'v' => 'slack'], ['t' => 50, 'v' => 'flood', 'i' => 'step'], ['t' => 200, 'v' => 'ebb']];
        $curve = Curve::fromRows($rows, self::tide());
        self::assertSame(
            [
                ['t' => 50, 'v' => 'flood', 'i' => 'step'],
                ['t' => 100, 'v' => 'slack', 'i' => 'step'],
                ['t' => 200, 'v' => 'ebb', 'i' => 'step'],
            ],
            $curve->toRows(self::tide()),
        );
        $track = (new TrackCompiler())->compile($curve, self::tide());
        self::assertSame([1.0, 1.0, 1.0, 2.0, 2.0, 0.0], array_map($track->at(...), [0, 50, 99, 100, 199, 200]));
        // Keyframes of another way, made by hand, still change in steps.
        $ramped = (new TrackCompiler())->compile(
            Curve::of([Keyframe::of(0, 0.0), Keyframe::of(100, 2.0)]),
            self::tide(),
        );
        self::assertSame([0.0, 0.0, 2.0], array_map($ramped->at(...), [0, 99, 100]));
        foreach (
            [
                ['t' => 0, 'v' => 'spring'],
                ['t' => 0, 'v' => 1],
                ['t' => 0, 'v' => null],
                ['t' => 0],
                ['t' => 0, 'v' => 'ebb', 'i' => 'linear'],
            ] as $bad
        ) {
            try {
                Curve::fromRows([$bad], self::tide());
                self::fail((string) json_encode($bad));
            } catch (InvalidValue $refused) {
                self::assertContains($refused->field, ['tide', 'keyframes', 'interpolation']);
            }
        }
    }

    public function test_what_changes_in_steps_belongs_to_the_uppermost_that_holds_it_by_half(): void
    {
        $held = static fn (Stratum $stratum, int $sequence, float $value, float $weight): HeldValue => HeldValue::of(
            $stratum,
            $sequence,
            'x',
            Track::constant($value),
            Track::constant($weight),
        );
        self::assertSame(2.0, HeldValue::uppermost(2.0, [], 0));
        self::assertSame(1.0, HeldValue::uppermost(2.0, [$held(Stratum::Cue, 1, 1.0, 0.5)], 0));
        self::assertSame(2.0, HeldValue::uppermost(2.0, [$held(Stratum::Cue, 1, 1.0, 0.499)], 0));
        // A loose one that has nearly gone gives way to the cue below it; of two in a stratum the newest has it.
        self::assertSame(
            1.0,
            HeldValue::uppermost(2.0, [$held(Stratum::Loose, 1, 0.0, 0.1), $held(Stratum::Cue, 9, 1.0, 1.0)], 0),
        );
        self::assertSame(
            0.0,
            HeldValue::uppermost(2.0, [$held(Stratum::Loose, 1, 0.0, 1.0), $held(Stratum::Cue, 9, 1.0, 1.0)], 0),
        );
        self::assertSame(
            1.0,
            HeldValue::uppermost(2.0, [$held(Stratum::Cue, 9, 1.0, 1.0), $held(Stratum::Cue, 3, 0.0, 1.0)], 0),
        );
    }

    /** @return array<string, array{BlendMode, float, float, float, float}> source, alpha, backdrop, what comes of it */
    public static function blends(): array
    {
        // A straight colour of 0.8 at an alpha of 0.5 is 0.4 premultiplied, over 0.6.
        return [
            'normal: half of each' => [BlendMode::Normal, 0.4, 0.5, 0.6, 0.7],
            'add: their sum' => [BlendMode::Add, 0.4, 0.5, 0.6, 1.0],
            'screen: half way to 1 − 0.2 × 0.4' => [BlendMode::Screen, 0.4, 0.5, 0.6, (0.6 + 0.92) / 2],
            'multiply: half way to 0.48' => [BlendMode::Multiply, 0.4, 0.5, 0.6, (0.6 + 0.48) / 2],
            'normal, nothing' => [BlendMode::Normal, 0, 0, 0.6, 0.6],
            'add, nothing' => [BlendMode::Add, 0, 0, 0.6, 0.6],
            'screen, nothing' => [BlendMode::Screen, 0, 0, 0.6, 0.6],
            'multiply, nothing' => [BlendMode::Multiply, 0, 0, 0.6, 0.6],
            'screen with white is white' => [BlendMode::Screen, 1, 1, 0.3, 1.0],
            'multiply with white changes nothing' => [BlendMode::Multiply, 1, 1, 0.3, 0.3],
            'lighten: the brighter' => [BlendMode::Lighten, 0.4, 1, 0.6, 0.6],
            'lighten: the layer, dimmed' => [BlendMode::Lighten, 0.4, 0.5, 0.3, 0.4],
            'darken: the darker' => [BlendMode::Darken, 0.4, 1, 0.6, 0.4],
            'darken: half of white is left over half of a layer' => [BlendMode::Darken, 0.1, 0.5, 0.8, 0.6],
            'darken, nothing' => [BlendMode::Darken, 0, 0, 0.7, 0.7],
            'multiply over black stays black' => [BlendMode::Multiply, 0.9, 1, 0, 0.0],
        ];
    }

    #[DataProvider('blends')]
    public function test_a_layer_is_laid_on_what_is_below_by_the_formula_of_its_mode(
        BlendMode $mode,
        float $source,
        float $alpha,
        float $below,
        float $result,
    ): void {
        self::assertEqualsWithDelta($result, $mode->over($source, $alpha, $below), 1e-12);
    }

    public function test_blend_modes_keep_their_numbers(): void
    {
        self::assertSame(
            ['normal', 'add', 'screen', 'multiply', 'lighten', 'darken'],
            Schema::properties('layer')->named('blend')->options,
        );
        self::assertSame(
            [BlendMode::Normal, BlendMode::Add, BlendMode::Multiply, BlendMode::Normal],
            array_map(BlendMode::numbered(...), [0.0, 1.0, 3.0, 17.0]),
        );
    }

    /**
     * Ground (200, 100, 40) under a layer of (100, 200, 0), both over the whole of a wall of 2 × 2 px.
     *
     * @param  array<string, mixed>  $values
     * @param  list<array<string, mixed>>  $curves
     */
    private static function show(array $values, array $curves = []): Show
    {
        return Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'panel' => [
                    [
                        'id' => 'p',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 2,
                        'heightPx' => 2,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [
                    [
                        'id' => 'wall',
                        'name' => 'Wall',
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['p']],
                        'seams' => [],
                    ],
                ],
                'media' => [
                    ['id' => 'sand', 'name' => 'Sand', 'kind' => 'solid', 'colour' => '#c86428'],
                    ['id' => 'weed', 'name' => 'Weed', 'kind' => 'solid', 'colour' => '#64c800'],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
                'layer' => [
                    ['id' => 'ground', 'timeline' => 'line', 'name' => 'Ground', 'order' => 0, 'route' => 'r'],
                    [
                        'id' => 'top',
                        'timeline' => 'line',
                        'name' => 'Top',
                        'order' => 1,
                        'route' => 'r',
                        'values' => $values,
                    ],
                ],
                'route' => [['id' => 'r', 'name' => 'Wall', 'surfaces' => ['wall']]],
                'clip' => [
                    [
                        'id' => 'c0',
                        'layer' => 'ground',
                        'media' => 'sand',
                        'start' => 0,
                        'length' => 20 * self::S,
                        'in' => 0,
                        'pastEnd' => 'hold',
                    ],
                    [
                        'id' => 'c1',
                        'layer' => 'top',
                        'media' => 'weed',
                        'start' => 0,
                        'length' => 20 * self::S,
                        'in' => 0,
                        'pastEnd' => 'hold',
                    ],
                ],
                'curve' => $curves,
            ],
        );
    }

    /** @param  array<string, list<HeldValue>>  $held */
    private static function moment(Show $show, int $time = 0, array $held = []): Moment
    {
        $compiler = new PlanCompiler();

        return new Moment(
            Plan::empty()->with($compiler->compile($show, 1)),
            [Head::of('line', TransportMap::standing(0, $time))],
            $held,
            9,
        );
    }

    /**
     * @param  array<string, list<HeldValue>>  $held
     * @return array{int, int, int}
     */
    private static function pixel(Show $show, int $time = 0, array $held = []): array
    {
        $moment = self::moment($show, $time, $held);

        return (new ReferenceRaster(
            $moment,
            static fn (string $media): Picture => Picture::solid(1, 1, $moment->plan->parts["media:$media"]['colour']),
        ))->surfacePixel('wall', 0, 1);
    }

    /** @return array<string, array{array<string, mixed>, array{int, int, int}}> */
    public static function pictures(): array
    {
        return [
            'as it is' => [[], [100, 200, 0]],
            'muted' => [['mute' => true], [200, 100, 40]],
            // Gains: 100 × 2, 200 × 2 cut off at 255, 0 × 2.
            'twice as bright' => [['gain' => [2, 2, 2]], [200, 255, 0]],
            'without green' => [['gain' => [1, 0, 1]], [100, 0, 0]],
            'half of it, twice as bright' => [['gain' => [2, 2, 2], 'opacity' => 0.5], [200, 178, 20]],
            'added' => [['blend' => 'add'], [255, 255, 40]],
            'half added' => [['blend' => 'add', 'opacity' => 0.5], [250, 200, 40]],
            // 200 + 100 − 200 × 100 ÷ 255 = 221.6; 100 + 200 − 78.4 = 221.6.
            'screened' => [['blend' => 'screen'], [222, 222, 40]],
            // 200 × 100 ÷ 255 = 78.4 both, 0.
            'multiplied' => [['blend' => 'multiply'], [78, 78, 0]],
            'the brighter of both' => [['blend' => 'lighten'], [200, 200, 40]],
            'the darker of both' => [['blend' => 'darken'], [100, 100, 0]],
            'multiplied, at a quarter' => [['blend' => 'multiply', 'opacity' => 0.25], [170, 95, 30]],
        ];
    }

    /**
     * @param  array<string, mixed>  $values
     * @param  array{int, int, int}  $rgb
     */
    #[DataProvider('pictures')]
    public function test_the_reference_shows_gain_blend_and_mute(array $values, array $rgb): void
    {
        self::assertSame($rgb, self::pixel(self::show($values)));
    }

    public function test_more_than_full_light_is_cut_off_only_where_it_is_delivered(): void
    {
        // 200 + 100 = 300 at half master is 150, not half of 255.
        self::assertSame(
            [150, 150, 20],
            self::pixel(self::show(['blend' => 'add']), 0, [
                'master:show/level' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, 0.5)],
            ]),
        );
    }

    public function test_gain_is_keyframed_and_held_colour_by_colour(): void
    {
        $show = self::show(
            ['gain' => [1, 0.5, 1]],
            [
                [
                    'id' => 'k0',
                    'owner' => 'top',
                    'property' => 'gain',
                    'slot' => 0,
                    'keyframes' => [['t' => 0, 'v' => 0], ['t' => 2 * self::S, 'v' => 1]],
                ],
                [
                    'id' => 'k1',
                    'owner' => 'top',
                    'property' => 'blend',
                    'keyframes' => [['t' => 0, 'v' => 'normal'], ['t' => 3 * self::S, 'v' => 'add']],
                ],
                [
                    'id' => 'k2',
                    'owner' => 'top',
                    'property' => 'mute',
                    'keyframes' => [['t' => 5 * self::S, 'v' => false], ['t' => 6 * self::S, 'v' => true]],
                ],
            ],
        );
        self::assertSame([], $show->broken);
        self::assertSame(
            [[0, 100, 0], [50, 100, 0], [100, 100, 0], [255, 200, 40], [200, 100, 40]],
            array_map(static fn (int $s): array => self::pixel($show, $s * self::S), [0, 1, 2, 4, 7]),
        );
        $held = [
            'layer:top/gain#2' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, 3)],
            'layer:top/blend' => [HeldValue::from(Stratum::Loose, 2, 'hand', 0, 2)],
        ];
        $step = DrawStep::of(self::moment($show, self::S, $held), 'wall')[1];
        self::assertEqualsWithDelta([0.5, 0.5, 3.0], $step->gain, 1e-6);
        self::assertSame(BlendMode::Screen, $step->blend);
        self::assertSame('layer:top/gain#2', (string) Address::parse('layer:top/gain#2'));
    }

    public function test_a_curve_of_a_slot_that_there_is_not_is_broken_and_told(): void
    {
        $show = self::show(
            [],
            [['id' => 'k', 'owner' => 'top', 'property' => 'gain', 'slot' => 3, 'keyframes' => [['t' => 0, 'v' => 0]]]],
        );
        self::assertSame(['Gain has slots 0 to 2; 3 is none.'], array_column($show->broken, 'message'));
        self::assertSame([100, 200, 0], self::pixel($show));
    }

    public function test_a_muted_layer_is_named_where_it_is_dark(): void
    {
        $said = static fn (Show $show, array $held = []): string => Trace::of(
            $show,
            'wall',
            self::moment($show, 0, $held),
            null,
        )[1]['message'];
        // The ground is lit all the same.
        self::assertSame('Ground is up at 100 %.', $said(self::show(['mute' => true])));
        $loose = static fn (string $address, float $value): array => [
            $address => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $value)],
        ];
        self::assertSame(
            'Ground is muted at 00:00:00:00 (loose).',
            $said(self::show(['mute' => true]), $loose('layer:ground/mute', 1)),
        );
        $dark = $loose('layer:ground/gain', 0) + $loose('layer:ground/gain#1', 0) + $loose('layer:ground/gain#2', 0);
        self::assertSame(
            'Ground is at 0 % gain in red, green and blue at 00:00:00:00 (loose).',
            $said(self::show(['mute' => true]), $dark),
        );
    }

    public function test_what_multiplies_nothing_is_named(): void
    {
        $links = static fn (Show $show, array $held = []): array => array_slice(
            Trace::of($show, 'wall', self::moment($show, 0, $held), null)[1],
            1,
            5,
        );
        $dark = ['layer:ground/mute' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, 1)]];
        self::assertSame(
            ['ok', 'layer', 'top', 'Top', 'Top is up at 100 %.'],
            array_values($links(self::show(['blend' => 'multiply']))),
        );
        self::assertSame(
            ['fault', 'layer', 'top', 'Top', 'Top is multiplied with what is below it, and nothing is lit there.'],
            array_values($links(self::show(['blend' => 'multiply']), $dark)),
        );
        self::assertSame('Top is up at 100 %.', $links(self::show(['blend' => 'screen']), $dark)['message']);
        self::assertSame([0, 0, 0], self::pixel(self::show(['blend' => 'multiply']), 0, $dark));
    }

    public function test_keyframes_of_every_type_are_put_and_moved_by_hand(): void
    {
        $frame = intdiv(self::S, 25);
        $document = Document::of(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
                'layer' => [['id' => 'a', 'timeline' => 'line', 'name' => 'A', 'order' => 0]],
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'layer',
                        'owner' => 'a',
                        'property' => 'blend',
                        'slot' => 0,
                        'keyframes' => [['t' => 0, 'v' => 'add', 'i' => 'step']],
                    ],
                ],
            ],
        );
        $programming = new Programming($document->show, $document, static fn (): string => 'new');
        $rows = static fn (array $changes): array => $changes[0]['fields']['keyframes']['after'];
        self::assertSame(
            [['t' => 0, 'v' => 'add', 'i' => 'step'], ['t' => 5 * $frame, 'v' => 'multiply', 'i' => 'step']],
            $rows($programming->key(Address::parse('layer:a/blend'), 5 * $frame, 'multiply')[0]),
        );
        self::assertSame(
            [['t' => 2 * $frame, 'v' => 'screen', 'i' => 'step']],
            $rows($programming->moveKey('k', 0, 2 * $frame, 1.7)),
        );
        self::assertSame(
            [['t' => 0, 'v' => true, 'i' => 'step']],
            $rows($programming->key(Address::parse('layer:a/mute'), 0, true)[0]),
        );
        [[$created]] = $programming->key(Address::parse('layer:a/gain#2'), 0, 9);
        self::assertSame(
            [2, [['t' => 0, 'v' => 4.0, 'i' => 'linear']]],
            [$created['fields']['slot']['after'], $created['fields']['keyframes']['after']],
        );
        self::assertSame(
            [Interpolation::Step, Interpolation::Linear],
            [self::tide()->interpolation(), Property::pixels('x', 'X')->interpolation()],
        );
        foreach (['layer:a/gain#3', 'layer:a/mute#1'] as $address) {
            try {
                $programming->key(Address::parse($address), 0, 1);
                self::fail("$address was taken.");
            } catch (InvalidValue $refused) {
                self::assertSame('address', $refused->field);
            }
        }
    }
}

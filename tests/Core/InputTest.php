<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\MediaItem;
use Core\Plan\PlanCompiler;
use Core\Preflight\Figures;
use Core\Show\Show;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** Live inputs as media. */
final class InputTest extends TestCase
{
    private const LIVE = [
        'facts' => ['kind' => 'input', 'width' => 640, 'height' => 360, 'pixelAspect' => 1],
        'form' => ['kind' => 'live', 'url' => '/inputs/camera', 'width' => 640, 'height' => 360],
    ];

    /** @param  array<string, mixed>  $input */
    private static function show(array $input): Show
    {
        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 40,
                        'heightPx' => 40,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => array_map(
                    static fn (string $id): array => [
                        'id' => $id,
                        'name' => $id,
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['panel', 'panel']],
                        'seams' => [0],
                    ],
                    ['wall', 'other'],
                ),
                'media' => [
                    $input + ['id' => 'camera', 'name' => 'Quay', 'kind' => 'input', 'file' => 'input:camera'] +
                    self::LIVE,
                    [
                        'id' => 'amber',
                        'name' => 'Amber',
                        'kind' => 'solid',
                        'colour' => '#ffab52',
                        'width' => 16,
                        'height' => 16,
                    ],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * Flicks::PER_SECOND]],
                'layer' => [
                    ['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'r'],
                    ['id' => 'k', 'timeline' => 'line', 'name' => 'K', 'order' => 1, 'route' => 'r'],
                ],
                'route' => [['id' => 'r', 'name' => 'Wall', 'surfaces' => ['wall']]],
                'clip' => [
                    ['id' => 'c', 'layer' => 'l', 'media' => 'camera', 'start' => 0, 'length' => Flicks::PER_SECOND],
                    ['id' => 'd', 'layer' => 'k', 'media' => 'camera', 'start' => 0, 'length' => Flicks::PER_SECOND],
                ],
                'output' => [
                    ['id' => 'one', 'name' => 'One', 'width' => 80, 'height' => 40, 'refresh' => 50],
                    ['id' => 'two', 'name' => 'Two', 'width' => 80, 'height' => 40, 'refresh' => 50],
                ],
                'region' => [
                    [
                        'id' => 'q',
                        'output' => 'one',
                        'surface' => 'wall',
                        'source' => [0, 0, 80, 40],
                        'x' => 0,
                        'y' => 0,
                    ],
                    [
                        'id' => 's',
                        'output' => 'two',
                        'surface' => 'other',
                        'source' => [0, 0, 80, 40],
                        'x' => 0,
                        'y' => 0,
                    ],
                ],
            ],
        );
    }

    /**
     * @param  array<string, mixed>  $input
     * @return array<string, mixed>
     */
    private static function part(array $input): array
    {
        $compiler = new PlanCompiler();
        $compiler->compile(self::show($input), 1);

        return $compiler->plan()->parts['media:camera'];
    }

    public function test_an_input_reaches_the_plan_with_what_stands_in_for_it_whether_it_has_a_signal_or_not(): void
    {
        $part = self::part(['state' => 'ready', 'standIn' => 'amber']);
        self::assertSame(
            ['live', '/inputs/camera', 640, 'solid', [255, 171, 82]],
            [$part['kind'], $part['url'], $part['shownWidth'], $part['standIn']['kind'], $part['standIn']['colour']],
        );
        self::assertSame($part, self::part(['state' => 'lost', 'standIn' => 'amber']));
        self::assertArrayNotHasKey('standIn', self::part(['state' => 'ready']));
        self::assertArrayNotHasKey('standIn', self::part(['state' => 'ready', 'standIn' => 'gone']));
        // An input does not stand in for an input.
        self::assertArrayNotHasKey('standIn', self::part(['state' => 'ready', 'standIn' => 'camera']));
        self::assertSame(
            ['none', 'Input device of Quay not found.'],
            [self::part(['state' => 'missing'])['kind'], self::part(['state' => 'missing'])['why']],
        );
    }

    public function test_what_has_no_picture_reaches_the_plan_as_nothing_with_its_reason(): void
    {
        $none = ['kind' => 'file', 'file' => str_repeat('0', 64), 'facts' => [], 'form' => []];
        self::assertSame(
            ['none', 'The file of Quay is missing.'],
            [self::part($none)['kind'], self::part($none)['why']],
        );
        self::assertSame(
            'Quay has no picture.',
            self::part(['state' => 'ready', 'facts' => ['kind' => 'audio'], 'form' => ['kind' => 'audio']] + $none)[
                'why'
            ],
        );
    }

    public function test_a_lost_input_is_a_finding_that_says_what_is_shown(): void
    {
        $said = static fn (array $input): array => array_map(
            static fn (array $finding): string => "{$finding['severity']} {$finding['message']}",
            Figures::of(self::show($input))['findings']['media camera'] ?? [],
        );
        self::assertSame([], $said(['state' => 'ready']));
        self::assertSame(
            ['fault Quay has no signal; Amber is shown in its place.'],
            $said(['state' => 'lost', 'standIn' => 'amber']),
        );
        self::assertSame(['fault Quay has no signal; nothing is shown in its place.'], $said(['state' => 'lost']));
        self::assertSame(['fault Input device of Quay not found.'], $said(['state' => 'missing']));
    }

    public function test_the_outputs_that_take_an_input_are_told_once_however_many_layers_show_it(): void
    {
        $media = Figures::of(self::show(['state' => 'ready']))['media'];
        self::assertSame(
            [['clips' => 2, 'outputs' => ['one']], ['clips' => 0, 'outputs' => []]],
            [$media['camera'], $media['amber']],
        );
    }

    public function test_an_input_is_fitted_by_its_own_pixels_and_named_by_its_rules(): void
    {
        self::assertSame(
            [640, 360],
            MediaItem::fromRow(
                ['id' => 'm', 'name' => 'N', 'kind' => 'input', 'file' => 'input:camera', 'state' => 'ready'] +
                    self::LIVE,
            )->contentSize([80, 40]),
        );
        foreach (
            ['', 'camera', 'input:', 'input:../x', 'file:camera', str_repeat('0', 64), "input:camera\n"] as $name
        ) {
            try {
                MediaItem::fromRow(['id' => 'm', 'name' => 'N', 'kind' => 'input', 'file' => $name]);
                self::fail("\"$name\" was taken.");
            } catch (InvalidValue $refused) {
                self::assertSame('file', $refused->field);
            }
        }
    }
}

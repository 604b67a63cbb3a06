<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Show\Document;
use Core\Show\Versions;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class VersionsTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const VIDEO = [
        'width' => 1920,
        'height' => 1080,
        'pixelAspect' => 1,
        'alpha' => true,
        'audio' => ['codec' => 'pcm_s16le'],
    ];

    /**
     * A media of 10 s at 25 fps that three clips show, and another one.
     *
     * @param  array<string, mixed>  $facts
     * @param  array<string, mixed>  $form
     */
    private static function versions(array $facts = [], array $form = [], string $state = 'ready'): Versions
    {
        $file = static fn (string $id, array $facts, array $form, string $state): array => [
            'id' => $id,
            'name' => "$id.mov",
            'kind' => 'file',
            'file' => str_repeat($id, 64),
            'state' => $state,
            'facts' => $facts,
            'form' => $form + ['kind' => 'video', 'url' => '/x.mp4', 'frameRate' => '25', 'frames' => 250],
        ];
        $document = Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'media' => [
                    $file('a', self::VIDEO, [], 'ready') + ['versions' => [str_repeat('c', 64), str_repeat('b', 64)]],
                    $file('b', $facts + self::VIDEO, $form, $state),
                    ['id' => 's', 'name' => 'Solid', 'kind' => 'solid'],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 60 * self::S]],
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'Sea', 'order' => 0]],
                'clip' => [
                    ['id' => 'c1', 'layer' => 'l', 'media' => 'a', 'start' => 0, 'length' => 8 * self::S],
                    [
                        'id' => 'c2',
                        'layer' => 'l',
                        'media' => 'a',
                        'start' => 10 * self::S,
                        'length' => 30 * self::S,
                        'pastEnd' => 'loop',
                    ],
                    [
                        'id' => 'c3',
                        'layer' => 'l',
                        'media' => 'a',
                        'start' => 45 * self::S,
                        'length' => 4 * self::S,
                        'in' => 5 * self::S,
                        'out' => 7 * self::S,
                    ],
                ],
            ],
        );

        return new Versions($document->show, $document);
    }

    /**
     * @return array<string, array{array<string, mixed>, array<string, mixed>, list<string>}> facts, form, what is told
     */
    public static function cases(): array
    {
        return [
            'the same' => [[], [], []],
            'larger' => [['width' => 3840, 'height' => 2160], [], []],
            'smaller' => [
                ['width' => 1280, 'height' => 720],
                [],
                ['Fewer pixels: 1280 × 720 px instead of 1920 × 1080.'],
            ],
            'another shape' => [['width' => 1440], [], ['Another shape: 1440 × 1080 px instead of 1920 × 1080.']],
            // 1440 px of 4:3 each are 1920 square ones.
            'wide pixels of the same shape' => [
                ['width' => 1440, 'pixelAspect' => 4 / 3],
                [],
                ['Fewer pixels: 1440 × 1080 px instead of 1920 × 1080.'],
            ],
            'neither alpha nor sound' => [
                ['alpha' => false, 'audio' => null],
                [],
                ['No alpha now: what was seen through it is covered.', 'No sound now.'],
            ],
            'a sound' => [
                ['width' => 0, 'height' => 0, 'alpha' => null],
                ['kind' => 'audio', 'frames' => 0],
                ['No picture now.'],
            ],
            'another rate' => [
                [],
                ['frameRate' => '29.97', 'frames' => 300],
                ['Another frame rate: 29.97 fps instead of 25.'],
            ],
            // 8 s for the first; the loop takes what there is; the third ends at its out point of 7 s.
            'just long enough' => [[], ['frames' => 200], []],
            'a frame too short' => [
                [],
                ['frames' => 199],
                ['Too short for its clip on Sea at 00:00:00:00: 7.96 s instead of 8.00 s.'],
            ],
            'too short for two' => [
                [],
                ['frames' => 150],
                [
                    'Too short for its clip on Sea at 00:00:00:00: 6.00 s instead of 8.00 s.',
                    'Too short for its clip on Sea at 00:00:45:00: 6.00 s instead of 7.00 s.',
                ],
            ],
        ];
    }

    /**
     * @param  array<string, mixed>  $facts
     * @param  array<string, mixed>  $form
     * @param  list<string>  $told
     */
    #[DataProvider('cases')]
    public function test_what_no_longer_fits_is_told(array $facts, array $form, array $told): void
    {
        self::assertSame($told, self::versions($facts, $form)->misfits('a', 'b'));
    }

    public function test_one_that_is_not_ready_can_not_be_judged(): void
    {
        self::assertSame(['b.mov is still being made ready.'], self::versions([], [], 'working')->misfits('a', 'b'));
    }

    public function test_what_takes_its_place_keeps_what_was_there(): void
    {
        [$a, $b, $c] = [str_repeat('a', 64), str_repeat('b', 64), str_repeat('c', 64)];
        $taken = self::versions()->take('a', 'b');
        self::assertSame(['before' => $a, 'after' => $b], $taken[0]['fields']['file']);
        self::assertSame([$a, $c], $taken[0]['fields']['versions']['after']);
        self::assertSame(['media', 'b', 'delete'], [$taken[1]['kind'], $taken[1]['id'], $taken[1]['op']]);
        $back = self::versions()->back('a', $c);
        self::assertSame(
            [$c, [$a, $b]],
            [$back[0]['fields']['file']['after'], $back[0]['fields']['versions']['after']],
        );
        foreach (
            [
                ['take', 'a', 'a'],
                ['take', 'a', 's'],
                ['take', 's', 'a'],
                ['take', 'nothing', 'a'],
                ['misfits', 'a', 'nothing'],
                ['back', 'a', str_repeat('d', 64)],
            ] as [$do, $media, $by]
        ) {
            try {
                self::versions()->$do($media, $by);
                self::fail("$do $media $by was done.");
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }
}

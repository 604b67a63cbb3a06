<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Facts;
use Core\Media\Lettering;
use Core\Media\PlaybackRecipe;
use Core\Media\SampleTable;
use Core\Media\TestCard;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class MediaTest extends TestCase
{
    /**
     * @param  array<string, mixed>  $stream
     * @return array<string, mixed>
     */
    private static function probe(array $stream, string $format = 'mov,mp4,m4a,3gp,3g2,mj2'): array
    {
        return [
            'streams' => [
                $stream + [
                    'codec_type' => 'video',
                    'codec_name' => 'h264',
                    'width' => 1920,
                    'height' => 1080,
                    'pix_fmt' => 'yuv420p',
                    'avg_frame_rate' => '25/1',
                    'duration' => '4.0',
                ],
            ],
            'format' => ['format_name' => $format, 'duration' => '4.0'],
        ];
    }

    public function test_a_picture_that_lies_on_its_side_is_set_up(): void
    {
        $of = static function (mixed $rotation, array $more = []): array {
            $facts = Facts::fromProbe(
                self::probe(
                    [
                        'side_data_list' => [
                            ['side_data_type' => 'Content light level'],
                            ['side_data_type' => 'Display Matrix', 'rotation' => $rotation],
                        ],
                        'sample_aspect_ratio' => '4:3',
                    ] + $more,
                ),
                100,
            );

            return [$facts->width, $facts->height, round($facts->pixelAspect, 6), $facts->rotation];
        };
        self::assertSame([1080, 1920, 0.75, 90], $of(-90));
        self::assertSame([1080, 1920, 0.75, 270], $of(90));
        self::assertSame([1920, 1080, 1.333333, 180], $of(180));
        self::assertSame(
            [[1920, 1080, 1.333333, 180], [1920, 1080, 1.333333, 0], [1080, 1920, 0.75, 90]],
            [$of(-180.0), $of(0), $of(270)],
        );
        // What is no quarter turn, or no number, is shown as it is stored.
        self::assertSame([[1920, 1080, 1.333333, 0], [1920, 1080, 1.333333, 0]], [$of(-37.5), $of('upside down')]);
        self::assertSame(0, Facts::fromProbe(self::probe([]), 100)->rotation);
        $recipe = PlaybackRecipe::for(
            Facts::fromProbe(
                self::probe(['width' => 641, 'height' => 360, 'side_data_list' => [['rotation' => -90]]]),
                100,
            ),
        );
        self::assertSame([360, 642], [$recipe->width, $recipe->height]);
        self::assertStringContainsString('scale=w=360:h=641:', implode(' ', $recipe->arguments));
    }

    public function test_what_a_file_says_is_taken_and_what_it_does_not_say_is_assumed_aloud(): void
    {
        $tagged = Facts::fromProbe(
            self::probe(['color_space' => 'bt709', 'color_range' => 'tv', 'color_transfer' => 'bt709']),
            100,
        );
        self::assertSame([], $tagged->assumed);
        self::assertSame(
            ['video', '25', 4 * Flicks::PER_SECOND, 'bt709'],
            [$tagged->kind, $tagged->frameRate, $tagged->duration, $tagged->matrix],
        );
        $small = Facts::fromProbe(self::probe(['width' => 640, 'height' => 360]), 100);
        self::assertSame('smpte170m', $small->matrix);
        self::assertSame(
            [
                'The file does not name its colour matrix; BT.601 is assumed.',
                'The file does not name its range; limited is assumed.',
                'The file does not name its transfer; BT.709 is assumed.',
            ],
            $small->assumed,
        );
        self::assertSame('bt709', Facts::fromProbe(self::probe([]), 100)->matrix);
    }

    public function test_an_odd_rate_is_conformed_to_the_nearest_and_said(): void
    {
        $facts = Facts::fromProbe(self::probe(['avg_frame_rate' => '1237/50']), 1);
        self::assertSame('25', $facts->frameRate);
        self::assertStringContainsString('24.740 frames a second', implode(' ', $facts->assumed));
        self::assertSame('29.97', Facts::fromProbe(self::probe(['avg_frame_rate' => '30000/1001']), 1)->frameRate);
    }

    public function test_stills_sound_and_alpha_are_told_apart(): void
    {
        $still = Facts::fromProbe(
            self::probe(['codec_name' => 'png', 'pix_fmt' => 'rgba', 'avg_frame_rate' => '25/1'], 'png_pipe'),
            1,
        );
        self::assertSame(['image', true, 'gbr'], [$still->kind, $still->alpha, $still->matrix]);
        $sound = Facts::fromProbe(
            [
                'streams' => [
                    ['codec_type' => 'audio', 'codec_name' => 'pcm_s16le', 'channels' => 2, 'sample_rate' => '48000'],
                ],
                'format' => ['duration' => '1.5'],
            ],
            1,
        );
        self::assertSame(['audio', 2], [$sound->kind, $sound->audio['channels'] ?? 0]);
    }

    public function test_bits_chroma_rate_and_timecode_are_told(): void
    {
        $of = static fn (string $format): array => [
            ($facts = Facts::fromProbe(self::probe(['pix_fmt' => $format]), 1))->bits,
            $facts->chroma,
        ];
        $told = [
            'yuv420p' => [8, '4:2:0'],
            'yuvj420p' => [8, '4:2:0'],
            'yuv422p10le' => [10, '4:2:2'],
            'yuva444p12le' => [12, '4:4:4'],
            'nv12' => [8, '4:2:0'],
            'p010le' => [10, '4:2:0'],
            'yuv411p' => [8, '4:1:1'],
            'rgb24' => [8, 'RGB'],
            'rgb48be' => [16, 'RGB'],
            'rgba64le' => [16, 'RGB'],
            'gbrp10le' => [10, 'RGB'],
            'gbrap16be' => [16, 'RGB'],
            'gbrpf32le' => [32, 'RGB'],
            'pal8' => [8, 'RGB'],
            'gray' => [8, 'grey'],
            'gray16le' => [16, 'grey'],
            'gray10le' => [10, 'grey'],
            'ya8' => [8, 'grey'],
            'ya16be' => [16, 'grey'],
            'monow' => [1, 'grey'],
        ];
        self::assertSame($told, array_combine(array_keys($told), array_map($of, array_keys($told))));
        self::assertSame(
            12,
            Facts::fromProbe(self::probe(['pix_fmt' => 'yuv422p', 'bits_per_raw_sample' => '12']), 1)->bits,
        );
        self::assertContains(
            'The file has 10 bits a channel; it is shown with 8.',
            Facts::fromProbe(self::probe(['pix_fmt' => 'yuv422p10le']), 1)->assumed,
        );
        $rate = static fn (string $average, string $real): ?bool => Facts::fromProbe(
            self::probe(['avg_frame_rate' => $average, 'r_frame_rate' => $real]),
            1,
        )->constantRate;
        self::assertSame(
            [true, false, true],
            [$rate('25/1', '25/1'), $rate('1237/50', '60/1'), $rate('30000/1001', '30000/1001')],
        );
        self::assertNull(Facts::fromProbe(self::probe(['codec_name' => 'png'], 'png_pipe'), 1)->constantRate);
        self::assertSame(
            [100, 77, 1],
            [
                Facts::fromProbe(self::probe([]), 1)->frames,
                Facts::fromProbe(self::probe(['nb_frames' => '77']), 1)->frames,
                Facts::fromProbe(self::probe([], 'png_pipe'), 1)->frames,
            ],
        );
        $probe = self::probe(['bit_rate' => '8000000']);
        $probe['streams'][] = ['codec_type' => 'data', 'tags' => ['timecode' => '10:00:00;02']];
        $facts = Facts::fromProbe($probe, 1);
        self::assertSame(['10:00:00;02', 8_000_000], [$facts->timecode, $facts->bitRate]);
        self::assertNull(
            Facts::fromProbe(['format' => ['tags' => ['timecode' => 'noon']]] + self::probe([]), 1)->timecode,
        );
    }

    public function test_facts_come_back_from_what_was_stored_and_those_of_an_older_time_do_not(): void
    {
        $facts = Facts::fromProbe(self::probe(['pix_fmt' => 'yuva420p']), 1);
        self::assertEquals(
            $facts,
            Facts::fromArray((array) json_decode((string) json_encode($facts->toArray()), true)),
        );
        self::assertEquals($facts, Facts::fromArray(['newer' => 1] + $facts->toArray()));
        self::assertNull(Facts::fromArray(array_diff_key($facts->toArray(), ['bits' => 0])));
        self::assertNull(Facts::fromArray([]));
    }

    public function test_nothing_playable_is_refused_in_words(): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage('This file contains no video and no audio.');
        Facts::fromProbe(['streams' => [['codec_type' => 'subtitle']], 'format' => []], 1);
    }

    public function test_the_recipe_makes_tagged_video_without_b_frames_and_a_matte_for_alpha(): void
    {
        $plain = PlaybackRecipe::for(Facts::fromProbe(self::probe(['width' => 641]), 1));
        $line = implode(' ', $plain->arguments);
        self::assertStringContainsString('-bf 0', $line);
        self::assertStringContainsString('-colorspace bt709', $line);
        self::assertStringContainsString('-r 25/1', $line);
        self::assertSame([642, 1080, false], [$plain->width, $plain->height, $plain->matte]);
        $alpha = PlaybackRecipe::for(Facts::fromProbe(self::probe(['pix_fmt' => 'yuva444p10le']), 1));
        self::assertSame([1920, 2160, true], [$alpha->width, $alpha->height, $alpha->matte]);
    }

    public function test_a_sample_table_survives_its_bytes_and_knows_key_frames(): void
    {
        $again = SampleTable::fromBytes(
            SampleTable::pack([[0, 5_000_000_000, 7, true], [1, 50, 7, false], [2, 100, 7, false], [3, 200, 7, true]]),
        );
        self::assertSame([5_000_000_000, 50, 100, 200], $again->offsets);
        self::assertSame([7, 7, 7, 7], $again->sizes);
        self::assertSame([0, 0, 0, 3], array_map($again->keyBefore(...), [0, 1, 2, 3]));
        foreach (
            [
                [],
                [[0, 0, 7, false]],
                [[0, 0, 7, true], [2, 7, 7, false], [1, 14, 7, false]],
                [[0, 0, 7, true], [0, 7, 7, false]],
            ] as $packets
        ) {
            try {
                SampleTable::pack($packets);
                self::fail('A table was made of what can\'t be played.');
            } catch (InvalidValue $refused) {
                self::assertSame('packets', $refused->field);
            }
        }
    }

    public function test_the_test_card_has_its_edge_grid_and_middle_where_they_belong(): void
    {
        $card = TestCard::picture(384, 192, 'Bandstand');
        self::assertSame([384, 192], [$card->width, $card->height]);
        self::assertSame([240, 236, 224, 255], $card->pixel(0, 0));
        self::assertSame([240, 236, 224, 255], $card->pixel(383, 191));
        self::assertSame([240, 236, 224, 255], $card->pixel(192, 96));
        // Cells of 16 px: their lines, and two tones of ground by turns.
        self::assertSame([96, 106, 150, 255], $card->pixel(32, 10));
        self::assertNotSame($card->pixel(20, 4), $card->pixel(36, 4));
        $this->expectException(InvalidValue::class);
        TestCard::picture(16_384, 16_384, 'Too large');
    }

    public function test_signs_without_a_shape_are_drawn_as_a_box(): void
    {
        self::assertCount(20, Lettering::pixels('漢'));
        self::assertSame(11, Lettering::width('AB'));
        self::assertSame(Lettering::pixels('a'), Lettering::pixels('A'));
    }
}

<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Personality;
use Core\Exchange\Gdtf;
use Core\Exchange\GdtfWriter;
use Core\PixelMap\Wiring;
use Core\Units\InvalidValue;
use Core\Venue\FixtureType;
use PHPUnit\Framework\TestCase;

/** Descriptions of fixture types, made here by the standard's own rules, and what is none. */
final class GdtfTest extends TestCase
{
    /** A matrix that moves, as the standard writes it. */
    private static function at(float $x, float $y, float $z): string
    {
        return "{1,0,0,$x}{0,1,0,$y}{0,0,1,$z}{0,0,0,1}";
    }

    /**
     * @param  list<array{float, float, float, int}>  $pixels  x, y, z in metres and DMX offset
     * @param  string  $channels  of a mode
     */
    public static function description(array $pixels, string $channels, string $more = ''): string
    {
        $references = '';
        foreach ($pixels as $n => [$x, $y, $z, $offset]) {
            $references .= sprintf(
                '<GeometryReference Name="Cell %d" Geometry="Cell" Position="%s"><Break DMXBreak="1" DMXOffset="%d"/></GeometryReference>',
                $n + 1,
                self::at($x, $y, $z),
                $offset,
            );
        }

        return '<?xml version="1.0" encoding="UTF-8"?><GDTF DataVersion="1.2"><FixtureType Name="QB" LongName="Quay bar" Manufacturer="Saltgate"><Geometries><Geometry Name="Base" Position="'.
            self::at(0, 0, 0).
            '"><Geometry Name="Head" Position="'.
            self::at(0, 0, 1).
            '">'.
            $references.
            '</Geometry></Geometry><Beam Name="Cell"/></Geometries><DMXModes><DMXMode Name="Full" Geometry="Base"><DMXChannels>'.
            $channels.
            '</DMXChannels></DMXMode>'.
            $more.
            '</DMXModes></FixtureType></GDTF>';
    }

    public static function channel(string $geometry, string $offset, string $attribute, string $default = '0/1'): string
    {
        return "<DMXChannel DMXBreak=\"1\" Offset=\"$offset\" Geometry=\"$geometry\"><LogicalChannel Attribute=\"$attribute\"><ChannelFunction Default=\"$default\"/></LogicalChannel></DMXChannel>";
    }

    private static function rgbw(string $geometry = 'Cell'): string
    {
        return self::channel($geometry, '1', 'ColorAdd_R').
            self::channel($geometry, '2', 'ColorAdd_G').
            self::channel($geometry, '3', 'ColorAdd_B').
            self::channel($geometry, '4', 'ColorAdd_WW');
    }

    public function test_attributes_are_the_standards_or_marked_as_our_own(): void
    {
        // As DIN SPEC 15800 lists them in its Annex A, of those that media layers have.
        $standard =
            '/^(Dimmer|Media(Folder|Content)\d+|XYZ_[XYZ]|Rot_[XYZ]|Scale_(X|Y|Z|XYZ)|ColorAdd_[RGB]|Play(Mode|Begin|End|Speed)|VideoBlendMode|VideoSoundVolume\d+|VideoEffect\d+(Type|Parameter\d+)|VideoKeyTolerance|NoFeature)$/D';
        $channels = [
            ...Personality::of(
                'Full',
                Personality::PRESETS['Full'].', mute, unused, invert red, invert green, invert blue',
            )->channels(),
            ...Personality::of('Effects', Personality::PRESETS['Effects'])->channels(),
        ];
        $own = [];
        foreach ($channels as $channel) {
            preg_match($standard, $channel['attribute']) === 1 || ($own[] = $channel['attribute']);
        }
        self::assertSame(
            [
                'KiteLamp_CropLeft',
                'KiteLamp_CropRight',
                'KiteLamp_CropTop',
                'KiteLamp_CropBottom',
                'KiteLamp_Mute',
                'KiteLamp_Crossfade',
            ],
            array_values(array_unique($own)),
        );
    }

    public function test_personalities_go_out_as_modes_of_one_type(): void
    {
        $modes = array_map(
            static fn (array $p): array => ['name' => $p[0], 'channels' => Personality::of($p[0], $p[1])->channels()],
            [
                ['Kürzel', 'intensity 16, unused, index, red, mirror'],
                ['Full', Personality::PRESETS['Full']],
                ['Full', 'intensity, red, red'],
            ],
        );
        $xml = GdtfWriter::description('Lantern Night layers', $modes, 'show');
        self::assertSame($xml, GdtfWriter::description('Lantern Night layers', $modes, 'show'));
        self::assertNotSame($xml, GdtfWriter::description('Lantern Night layers', $modes, 'other'));
        $document = new \DOMDocument();
        self::assertTrue($document->loadXML($xml));
        $path = new \DOMXPath($document);
        $one = static fn (string $query): string => (string) $path->evaluate("string($query)");
        $count = static fn (string $query): int => (int) $path->evaluate("count($query)");
        self::assertMatchesRegularExpression(
            '/^[0-9A-F]{8}-[0-9A-F]{4}-8[0-9A-F]{3}-[89AB][0-9A-F]{3}-[0-9A-F]{12}$/D',
            $one('/GDTF/FixtureType/@FixtureTypeID'),
        );
        // Names that the format does not take are written otherwise; two of one name are told apart.
        self::assertSame(
            ['K_rzel', 'Full', 'Full 2'],
            array_map(static fn (int $n): string => $one("//DMXMode[$n]/@Name"), [1, 2, 3]),
        );
        self::assertSame(
            ['1,2', '4', '5', '6'],
            array_map(static fn (int $n): string => $one("//DMXMode[1]/DMXChannels/DMXChannel[$n]/@Offset"), [
                1,
                2,
                3,
                4,
            ]),
        );
        self::assertSame(
            [4, 2, 1],
            [
                $count('//DMXMode[1]/DMXChannels/DMXChannel'),
                $count('//DMXMode[3]/DMXChannels/DMXChannel'),
                $count('//DMXMode[1]//DMXChannel[1]//ChannelFunction'),
            ],
        );
        self::assertSame(
            ['0/2', '0/2', '0.000000', '1.000000'],
            [
                $one('//DMXMode[1]//DMXChannel[1]//ChannelFunction/@DMXFrom'),
                $one('//DMXMode[1]//DMXChannel[1]//ChannelFunction/@Default'),
                $one('//DMXMode[1]//DMXChannel[1]//ChannelFunction/@PhysicalFrom'),
                $one('//DMXMode[1]//DMXChannel[1]//ChannelFunction/@PhysicalTo'),
            ],
        );
        // A gain has two courses that meet at unity.
        self::assertSame(
            [['0/1', '64/1', '0.000000', '0.984375'], ['64/1', '64/1', '1.000000', '4.000000']],
            array_map(
                static fn (int $n): array => array_map(
                    static fn (string $a): string => $one("//DMXMode[1]//DMXChannel[3]//ChannelFunction[$n]/@$a"),
                    ['DMXFrom', 'Default', 'PhysicalFrom', 'PhysicalTo'],
                ),
                [1, 2],
            ),
        );
        self::assertSame(
            ['none 0/1', 'across 64/1', 'down 128/1', 'both 192/1'],
            array_map(
                static fn (int $n): string => $one("//DMXMode[1]//DMXChannel[4]//ChannelSet[$n]/@Name").
                    ' '.
                    $one("//DMXMode[1]//DMXChannel[4]//ChannelSet[$n]/@DMXFrom"),
                [1, 2, 3, 4],
            ),
        );
        self::assertSame(
            '65535/2',
            $one('//DMXMode[2]//DMXChannel[@InitialFunction="Layer_PlayEnd.PlayEnd.Out"]//ChannelFunction/@Default'),
        );
        // All that is used is declared, and each channel begins with a function that there is.
        foreach ($path->query('//LogicalChannel') ?: [] as $logical) {
            self::assertInstanceOf(\DOMElement::class, $logical);
            $attribute = $logical->getAttribute('Attribute');
            $feature = explode('.', $one("//Attribute[@Name='$attribute']/@Feature"));
            self::assertSame(
                1,
                $count("//FeatureGroup[@Name='$feature[0]']/Feature[@Name='".($feature[1] ?? '')."']"),
                $attribute,
            );
            $parent = $logical->parentNode;
            self::assertInstanceOf(\DOMElement::class, $parent);
            self::assertSame(
                "Layer_$attribute.$attribute.".
                    $one("//LogicalChannel[@Attribute='$attribute']/ChannelFunction[1]/@Name"),
                $parent->getAttribute('InitialFunction'),
            );
        }
        self::assertSame(1, $count("//Geometry[@Name='Layer']"));
    }

    public function test_a_grid_of_pixels_is_read_with_its_wiring(): void
    {
        // Three across, two down, 100 mm apart; the line runs along the upper row and back along the lower, behind a
        // header of three.
        $pixels = [
            [-0.1, 0, 0.1, 4],
            [0, 0, 0.1, 8],
            [0.1, 0, 0.1, 12],
            [0.1, 0, 0, 16],
            [0, 0, 0, 20],
            [-0.1, 0, 0, 24],
        ];
        $header =
            self::channel('Base', '1', 'Dimmer').
            self::channel('Base', '2', 'Shutter1', '255/1').
            self::channel('Base', '3', 'Fan');
        $read = Gdtf::read(self::description($pixels, $header.self::rgbw()));
        self::assertSame('Quay bar', $read['name']);
        $mode = $read['modes'][0];
        self::assertSame(
            ['Quay bar, Full', 3, 2, 300.0, 200.0, [], 'red, green, blue, white 3000', 'dimmer, fixed 255, unused', 8],
            [
                $mode['name'],
                $mode['columns'],
                $mode['rows'],
                $mode['widthMm'],
                $mode['heightMm'],
                $mode['points'],
                $mode['channels'],
                $mode['header'],
                $mode['bits'],
            ],
        );
        self::assertSame([0, 1, 2, 5, 4, 3], $mode['order']);
        $wiring = Wiring::matching(FixtureType::fromRow($mode), $mode['order']);
        self::assertSame(
            [true, 'rows', 'top left', []],
            [$wiring->serpentine, $wiring->along, $wiring->corner, $wiring->path],
        );
        // An order that no rule has stays as it is.
        self::assertSame([0, 5, 1, 4, 2, 3], Wiring::matching(FixtureType::fromRow($mode), [0, 5, 1, 4, 2, 3])->path);
    }

    public function test_fine_channels_gaps_and_orders(): void
    {
        $pixels = [[0, 0, 0, 1], [0.05, 0, 0, 7]];
        $fine = Gdtf::read(
            self::description(
                $pixels,
                self::channel('Cell', '3,4', 'ColorAdd_R').
                    self::channel('Cell', '1,2', 'ColorAdd_B').
                    self::channel('Cell', '5,6', 'ColorAdd_G'),
            ),
        )['modes'][0];
        self::assertSame(
            [16, 'blue, red, green', 100.0, 50.0],
            [$fine['bits'], $fine['channels'], $fine['widthMm'], $fine['heightMm']],
        );
        // Only one of them has a fine byte: bytes, of which that one is unused; a gap is, too.
        $mixed = Gdtf::read(
            self::description(
                $pixels,
                self::channel('Cell', '1,2', 'ColorAdd_R').
                    self::channel('Cell', '4', 'ColorAdd_UV').
                    self::channel('Cell', '6', 'ColorAdd_RY'),
            ),
        )['modes'][0];
        self::assertSame([8, 'red, unused, unused, uv, unused, amber'], [$mixed['bits'], $mixed['channels']]);
        // Upright: Y is what goes farther.
        $flat = Gdtf::read(self::description([[0, 0.2, 0, 1], [0, 0.1, 0, 5], [0, 0, 0, 9]], self::rgbw()))['modes'][0];
        self::assertSame([1, 3, [0, 1, 2]], [$flat['columns'], $flat['rows'], $flat['order']]);
    }

    public function test_pixels_off_a_grid_are_points_in_the_order_of_their_channels(): void
    {
        $mode = Gdtf::read(self::description([[0, 0, 0.3, 9], [0.1, 0, 0, 1], [0.3, 0, 0.1, 5]], self::rgbw()))[
            'modes'
        ][0];
        self::assertSame([3, 3, []], [$mode['columns'], $mode['rows'], $mode['order']]);
        // Pitch 150 mm each way: half of it is the margin.
        self::assertSame([175.0, 375.0, 375.0, 275.0, 75.0, 75.0], $mode['points']);
        self::assertSame(3, FixtureType::fromRow($mode)->count());
    }

    public function test_one_pixel_without_a_reference_is_a_spot_and_other_modes_are_read(): void
    {
        $more =
            '<DMXMode Name="Two" Geometry="Base"><DMXChannels>'.
            self::channel('Base', '1', 'Pan').
            self::channel('Head', '2', 'ColorRGB_Red').
            self::channel('Head', '3', 'ColorRGB_Blue').
            '</DMXChannels></DMXMode><DMXMode Name="Dark" Geometry="Base"><DMXChannels>'.
            self::channel('Base', '1', 'Pan').
            '</DMXChannels></DMXMode>';
        $read = Gdtf::read(self::description([[0, 0, 0, 1], [0.1, 0, 0, 5]], self::rgbw(), $more));
        self::assertSame(['Quay bar, Full', 'Quay bar, Two'], array_column($read['modes'], 'name'));
        self::assertSame(
            [1, 1, 'unused, red, blue', ''],
            [
                $read['modes'][1]['columns'],
                $read['modes'][1]['rows'],
                $read['modes'][1]['channels'],
                $read['modes'][1]['header'],
            ],
        );
    }

    public function test_what_is_none_is_refused(): void
    {
        $doctype = str_replace(
            '<GDTF',
            '<!DOCTYPE GDTF [<!ENTITY a "b">]><GDTF',
            self::description([[0, 0, 0, 1]], self::rgbw()),
        );
        foreach (
            [
                '',
                'no XML',
                '<a/>',
                '<GDTF/>',
                $doctype,
                self::description([], self::channel('Base', '1', 'Pan')),
                self::description([[0, 0, 0, 1]], ''),
                substr(self::description([[0, 0, 0, 1]], self::rgbw()), 0, 200),
            ] as $n => $xml
        ) {
            try {
                Gdtf::read($xml);
                self::fail("was taken: $n");
            } catch (InvalidValue $refused) {
                self::assertSame('gdtf', $refused->field);
            }
        }
        // Nonsense in its numbers: read as far as it goes, and never thrown.
        mt_srand(5);
        $good = self::description([[0, 0, 0, 1], [0.1, 0, 0, 5], [0.2, 0, 0, 9]], self::rgbw());
        for ($i = 0; $i < 400; $i++) {
            $bad = $good;
            for ($k = mt_rand(1, 6); $k > 0; $k--) {
                $bad[mt_rand(0, strlen($bad) - 1)] = '-0123456789,/{}"x'[mt_rand(0, 16)];
            }
            try {
                foreach (Gdtf::read($bad)['modes'] as $mode) {
                    FixtureType::fromRow($mode);
                }
            } catch (InvalidValue) {
                $this->addToAssertionCount(1);
            }
        }
    }
}

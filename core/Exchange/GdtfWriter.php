<?php

declare(strict_types=1);

namespace Core\Exchange;

/**
 * Modes of a fixture without light of its own, as one type in the General Device Type Format (DIN SPEC 15800, version
 * 1.2), a DMX mode for each: what a console patches to drive layers. Channels that drive nothing are left out, and of
 * attributes that a mode has twice, the later ones.
 *
 * @phpstan-type Channel array{channel: int, name: string, slots: int, resting: int, from: float, to: float, attribute: string, choices: array<string, int>, unity: int|null}
 */
final class GdtfWriter
{
    /** The geometry that has the channels. */
    private const GEOMETRY = 'Layer';

    /** Features by how an attribute begins. */
    private const FEATURES = [
        'Dimmer' => 'Dimmer.Dimmer',
        'Color' => 'Color.RGB',
        'Media' => 'Control.Media',
        'Play' => 'Control.Media',
        'XYZ' => 'Position.XYZ',
        'Rot' => 'Position.Rotation',
        'Scale' => 'Position.Scale',
        'Video' => 'Video.Video',
        'KiteLamp' => 'Control.Control',
    ];

    /**
     * @param  non-empty-list<array{name: string, channels: list<Channel>}>  $given  modes; those of the same name get
     *     a number
     * @param  string  $id  by which consoles know the type again: any text, always the same for the same show
     * @return string the description, in XML
     */
    public static function description(string $name, array $given, string $id): string
    {
        $document = new \DOMDocument('1.0', 'UTF-8');
        $document->formatOutput = true;
        $root = self::add($document, 'GDTF', ['DataVersion' => '1.2']);
        $type = self::add($root, 'FixtureType', [
            'Name' => self::plain($name),
            'ShortName' => 'Layer',
            'LongName' => self::plain($name),
            'Manufacturer' => 'Kite Lamp',
            'Description' => 'Layers that a lighting console drives',
            'FixtureTypeID' => self::guid($id),
            'Thumbnail' => '',
            'RefFT' => '',
            'CanHaveChildren' => 'No',
        ]);
        $definitions = self::add($type, 'AttributeDefinitions');
        self::add($definitions, 'ActivationGroups');
        $groups = self::add($definitions, 'FeatureGroups');
        $attributes = self::add($definitions, 'Attributes');
        $used = [];
        foreach ($given as ['channels' => $channels]) {
            foreach ($channels as $channel) {
                $channel['attribute'] === 'NoFeature' || ($used[$channel['attribute']] ??= $channel['name']);
            }
        }
        $features = [];
        foreach (array_keys($used) as $attribute) {
            [$group, $feature] = explode('.', self::feature((string) $attribute));
            $features[$group][$feature] = true;
        }
        foreach ($features as $group => $some) {
            $element = self::add($groups, 'FeatureGroup', ['Name' => $group, 'Pretty' => $group]);
            foreach (array_keys($some) as $feature) {
                self::add($element, 'Feature', ['Name' => $feature]);
            }
        }
        foreach ($used as $attribute => $pretty) {
            self::add($attributes, 'Attribute', [
                'Name' => $attribute,
                'Pretty' => $pretty,
                'Feature' => self::feature((string) $attribute),
                'PhysicalUnit' => 'None',
            ]);
        }
        foreach (['Wheels', 'PhysicalDescriptions', 'Models'] as $empty) {
            self::add($type, $empty);
        }
        self::add(self::add($type, 'Geometries'), 'Geometry', [
            'Name' => self::GEOMETRY,
            'Position' => '{1,0,0,0}{0,1,0,0}{0,0,1,0}{0,0,0,1}',
        ]);
        $modes = self::add($type, 'DMXModes');
        $names = [];
        foreach ($given as ['name' => $called, 'channels' => $channels]) {
            $mode = $base = self::plain($called);
            for ($n = 2; isset($names[$mode]); $n++) {
                $mode = "$base $n";
            }
            $names[$mode] = true;
            self::mode($modes, $mode, $channels);
        }
        foreach (['Revisions', 'FTPresets', 'Protocols'] as $empty) {
            self::add($type, $empty);
        }

        return (string) $document->saveXML();
    }

    /**
     * @param  list<Channel>  $given
     */
    private static function mode(\DOMElement $modes, string $name, array $given): void
    {
        $mode = self::add($modes, 'DMXMode', ['Name' => $name, 'Description' => '', 'Geometry' => self::GEOMETRY]);
        $channels = self::add($mode, 'DMXChannels');
        $had = [];
        foreach (
            $given as [
                'channel' => $at,
                'name' => $label,
                'slots' => $slots,
                'resting' => $resting,
                'from' => $from,
                'to' => $to,
                'attribute' => $attribute,
                'choices' => $choices,
                'unity' => $unity,
            ]
        ) {
            if ($attribute === 'NoFeature' || isset($had[$attribute])) {
                continue;
            }
            $had[$attribute] = true;
            $value = static fn (int $number, int $bytes): string => "$number/$bytes";
            $channel = self::add($channels, 'DMXChannel', [
                'DMXBreak' => 1,
                'Offset' => $slots === 2 ? "$at,".($at + 1) : (string) $at,
                'Highlight' => 'None',
                'Geometry' => self::GEOMETRY,
                'InitialFunction' => self::GEOMETRY."_$attribute.$attribute.$label",
            ]);
            $logical = self::add($channel, 'LogicalChannel', [
                'Attribute' => $attribute,
                'Snap' => $choices === [] ? 'No' : 'Yes',
                'Master' => $attribute === 'Dimmer' ? 'Grand' : 'None',
                'MibFade' => 0,
                'DMXChangeTimeLimit' => 0,
            ]);
            // Where what is above unity is gained, each half has its own course; unity belongs to the upper one, and
            // the lower ends a step below.
            $parts =
                $unity === null
                    ? [[$label, 0, $from, $to]]
                    : [
                        [$label, 0, $from, $from + ((1 - $from) * ($unity - 1)) / $unity],
                        ["$label gained", $unity, 1.0, $to],
                    ];
            foreach ($parts as [$called, $first, $low, $high]) {
                $function = self::add($logical, 'ChannelFunction', [
                    'Name' => $called,
                    'Attribute' => $attribute,
                    'OriginalAttribute' => '',
                    'DMXFrom' => $value($first, $slots),
                    'Default' => $value($resting, $slots),
                    'PhysicalFrom' => sprintf('%F', $low),
                    'PhysicalTo' => sprintf('%F', $high),
                    'RealFade' => 0,
                    'RealAcceleration' => 0,
                ]);
                foreach ($choices as $choice => $byte) {
                    self::add($function, 'ChannelSet', [
                        'Name' => $choice,
                        'DMXFrom' => $value($byte, 1),
                        'WheelSlotIndex' => 0,
                    ]);
                }
            }
        }
        self::add($mode, 'Relations');
        self::add($mode, 'FTMacros');
    }

    /** @param  array<string, int|string>  $attributes */
    private static function add(\DOMNode $to, string $tag, array $attributes = []): \DOMElement
    {
        $document =
            $to instanceof \DOMDocument
                ? $to
                : $to->ownerDocument ?? throw new \LogicException('It is in no document.');
        $element = $document->createElement($tag);
        foreach ($attributes as $key => $value) {
            $element->setAttribute($key, (string) $value);
        }
        $to->appendChild($element);

        return $element;
    }

    private static function feature(string $attribute): string
    {
        foreach (self::FEATURES as $begin => $feature) {
            if (str_starts_with($attribute, $begin)) {
                return $feature;
            }
        }

        return 'Control.Control';
    }

    /** Names as the format takes them: letters, digits and some signs. */
    private static function plain(string $name): string
    {
        $plain = trim((string) preg_replace('/[^A-Za-z0-9 \-_+()\/#%*,;=@<>:"\']+/', '_', $name));

        return $plain === '' ? 'Layer' : $plain;
    }

    /** A UUID made of a text, always the same (RFC 9562, version 8). */
    private static function guid(string $of): string
    {
        $hex = md5($of);

        return strtoupper(
            sprintf(
                '%s-%s-8%s-%s%s-%s',
                substr($hex, 0, 8),
                substr($hex, 8, 4),
                substr($hex, 13, 3),
                dechex(8 | ((int) hexdec($hex[16]) & 3)),
                substr($hex, 17, 3),
                substr($hex, 20),
            ),
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/**
 * The VESA interchange format of multi-projector calibrations (MPCDI 2.0), profile "2d": its description as XML, and
 * the names of the files beside it in the package. A buffer is a surface's raster; a region is what one projector
 * shows of it. For each pixel of the projector, the warp (PFM) says the place within the region, 0 to 1 from the top
 * left; the alpha map (PNG) says the share of the light, the beta map what is added to it, of white.
 */
final readonly class Mpcdi
{
    public const DESCRIPTION = 'mpcdi.xml';

    /** Bytes of the description. */
    public const MAX_BYTES = 4 << 20;

    /**
     * @param  string  $buffer  name of the surface
     * @param  array{int, int}  $raster  of the surface, px
     * @param  string  $id  of the region
     * @param  array{int, int}  $pixels  of the projector
     * @param  array{float, float, float, float}  $part  of the raster: left, top, width and height, 0 to 1
     * @param  string  $warp  name of the float map
     * @param  string|null  $alpha  name of the picture
     * @param  float  $gamma  with which the alpha map is encoded
     * @param  string|null  $beta  name of the picture
     * @param  float  $betaGamma  with which that is encoded
     */
    public function __construct(
        public string $buffer,
        public array $raster,
        public string $id,
        public array $pixels,
        public array $part,
        public string $warp,
        public ?string $alpha,
        public float $gamma,
        public ?string $beta = null,
        public float $betaGamma = 1.0,
    ) {
    }

    /**
     * @param  list<self>  $regions
     * @param  string  $date  as it is to stand in the file
     */
    public static function xml(array $regions, string $date): string
    {
        $buffers = [];
        foreach ($regions as $region) {
            $buffers[$region->buffer][] = $region;
        }
        $n = static fn (float $v): string => rtrim(rtrim(sprintf('%.8f', $v), '0'), '.');
        $xml =
            '<?xml version="1.0" encoding="utf-8" standalone="yes"?>'.
            "\n".
            '<MPCDI profile="2d" geometry="1" color="1" date="'.
            Xml::text($date).
            '" version="2.0">'.
            "\n  <display>\n";
        foreach ($buffers as $name => $of) {
            $xml .= sprintf(
                "    <buffer id=\"%s\" Xresolution=\"%d\" Yresolution=\"%d\">\n",
                Xml::text((string) $name),
                $of[0]->raster[0],
                $of[0]->raster[1],
            );
            foreach ($of as $region) {
                $xml .= sprintf(
                    "      <region id=\"%s\" Xresolution=\"%d\" Yresolution=\"%d\" x=\"%s\" y=\"%s\" xsize=\"%s\" ysize=\"%s\"/>\n",
                    Xml::text($region->id),
                    $region->pixels[0],
                    $region->pixels[1],
                    ...array_map($n, $region->part),
                );
            }
            $xml .= "    </buffer>\n";
        }
        $xml .= "  </display>\n  <files>\n";
        foreach ($regions as $region) {
            $xml .= sprintf(
                "    <fileset region=\"%s\">\n      <geometryWarpFile>\n        <path>%s</path>\n        <interpolation>linear</interpolation>\n      </geometryWarpFile>\n",
                Xml::text($region->id),
                Xml::text($region->warp),
            );
            foreach (
                [
                    'alphaMap' => [$region->alpha, $region->gamma],
                    'betaMap' => [$region->beta, $region->betaGamma],
                ] as $map => [$path, $gamma]
            ) {
                if ($path !== null) {
                    $xml .= sprintf(
                        "      <$map>\n        <path>%s</path>\n        <componentDepth>1</componentDepth>\n        <bitDepth>8</bitDepth>\n        <gammaEmbedded>%s</gammaEmbedded>\n      </$map>\n",
                        Xml::text($path),
                        $n($gamma),
                    );
                }
            }
            $xml .= "    </fileset>\n";
        }

        return $xml."  </files>\n  <extensionSet/>\n</MPCDI>\n";
    }

    /**
     * @return list<self>
     *
     * @throws InvalidValue
     */
    public static function read(string $xml): array
    {
        if ($xml === '' || strlen($xml) > self::MAX_BYTES || preg_match('/<!(DOCTYPE|ENTITY)/i', $xml) === 1) {
            throw InvalidValue::because(
                'mpcdi',
                'The description has to be XML of at most 4 MB, without a document type.',
            );
        }
        $document = new \DOMDocument();
        if (! @$document->loadXML($xml, LIBXML_NONET) || $document->documentElement?->nodeName !== 'MPCDI') {
            throw InvalidValue::because('mpcdi', 'The description in the package is no MPCDI.');
        }
        $files = [];
        foreach ($document->getElementsByTagName('fileset') as $set) {
            $of = static function (string $map, string $what) use ($set): string {
                $node = $set->getElementsByTagName($map)->item(0);

                return $node instanceof \DOMElement
                    ? trim((string) $node->getElementsByTagName($what)->item(0)?->textContent)
                    : '';
            };
            $files[$set->getAttribute('region')] = [
                $of('geometryWarpFile', 'path'),
                $of('alphaMap', 'path') ?: null,
                (float) ($of('alphaMap', 'gammaEmbedded') ?: '1'),
                $of('betaMap', 'path') ?: null,
                (float) ($of('betaMap', 'gammaEmbedded') ?: '1'),
            ];
        }
        $found = [];
        foreach ($document->getElementsByTagName('region') as $region) {
            $id = $region->getAttribute('id');
            [$warp, $alpha, $gamma, $beta, $betaGamma] = $files[$id] ?? ['', null, 1.0, null, 1.0];
            if ($warp === '') {
                throw InvalidValue::because('mpcdi', "The region \"$id\" has no warp in the package.");
            }
            $buffer = $region->parentNode;
            $whole = static fn (?\DOMNode $of, string $name): int => $of instanceof \DOMElement
                ? (int) $of->getAttribute($name)
                : 0;
            $raster = [$whole($buffer, 'Xresolution'), $whole($buffer, 'Yresolution')];
            $pixels = [$whole($region, 'Xresolution'), $whole($region, 'Yresolution')];
            if (min($pixels) < 1) {
                throw InvalidValue::because('mpcdi', "The region \"$id\" does not say how many pixels it has.");
            }
            $part = array_map(static fn (string $name): float => (float) $region->getAttribute($name), [
                'x',
                'y',
                'xsize',
                'ysize',
            ]);
            $found[] = new self(
                $buffer instanceof \DOMElement ? $buffer->getAttribute('id') : '',
                $raster,
                $id,
                $pixels,
                [$part[0], $part[1], $part[2], $part[3]],
                $warp,
                $alpha,
                $gamma,
                $beta,
                $betaGamma,
            );
        }
        if ($found === []) {
            throw InvalidValue::because('mpcdi', 'The package has no region.');
        }

        return $found;
    }
}

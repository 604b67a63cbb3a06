<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Geometry\Edges;
use Core\Media\Lettering;
use Core\Media\Picture;
use Core\Units\InvalidValue;
use Core\Venue\Carrier;
use Core\Venue\Wall;

/**
 * The pixel map of a surface to draw on, of exactly the raster that content is made for: panel lines, numbers,
 * coordinates, name and safe areas; of a face, the lines where its shape breaks.
 */
final class PixelMapTemplate
{
    public const MAX_PIXELS = 33_554_432;

    /** Shares of width and height within which action and titles are safe. */
    private const SAFE = [0.9, 0.8];

    /** How zones are drawn: of each kind its colour, and which way its lines run. */
    private const ZONES = [
        'stretch' => [0xE06C75, 1, 'stretched: no faces, no straight lines'],
        'seam' => [0x5FB7C9, -1, 'seam of projectors: no faces, no lettering'],
    ];

    /** Pixels between the lines of a zone. */
    private const HATCH = 12;

    /**
     * @param  array{int, int}|null  $raster  px, where it is not the carrier's own
     * @param  list<array{string, float, float, float, float}>  $zones  stretch or seam; left, top, width and height
     *     in px
     */
    public static function svg(string $name, Carrier $carrier, ?array $raster = null, array $zones = []): string
    {
        [$width, $height] = $raster ?? [$carrier->rasterWidth(), $carrier->rasterHeight()];
        $text = Xml::text(...);
        $out =
            sprintf(
                '<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %1$d %2$d" font-family="sans-serif">',
                $width,
                $height,
            )."\n";
        $out .=
            '<title>'.
            $text("$name, $width × $height px").
            "</title>\n<rect width=\"$width\" height=\"$height\" fill=\"#14161f\"/>\n<g id=\"panels\">\n";
        foreach (self::cells($carrier, $width, $height) as [$x, $y, $w, $h, $label, $parity]) {
            $out .=
                sprintf(
                    '<rect x="%d" y="%d" width="%d" height="%d" fill="%s" stroke="#7b86b8" stroke-width="1"/>',
                    $x,
                    $y,
                    $w,
                    $h,
                    $label === null ? '#000' : ($parity ? '#1c2030' : '#23273a'),
                )."\n";
            $size = max(4, min(24, (int) ($w / 9)));
            if ($label !== null) {
                $out .= sprintf(
                    '<text x="%d" y="%d" font-size="%d" fill="#c9d0f0">%s</text>',
                    $x + 4,
                    $y + $size + 2,
                    $size,
                    $label,
                );
                $out .=
                    sprintf(
                        '<text x="%d" y="%d" font-size="%d" fill="#7b86b8">%d, %d</text>',
                        $x + 4,
                        $y + 2 * $size + 4,
                        max(3, (int) ($size * 0.7)),
                        $x,
                        $y,
                    )."\n";
            }
        }
        $out .= "</g>\n<g id=\"shape\" stroke=\"#9fb0e8\" stroke-width=\"1\">\n";
        foreach (self::lines($carrier, $width, $height) as [$x0, $y0, $x1, $y1]) {
            $out .= sprintf('<line x1="%.2f" y1="%.2f" x2="%.2f" y2="%.2f"/>', $x0, $y0, $x1, $y1)."\n";
        }
        $out .= "</g>\n<g id=\"safe\" fill=\"none\" stroke=\"#ffd6a0\" stroke-dasharray=\"8 6\">\n";
        foreach (self::SAFE as $share) {
            $out .=
                sprintf(
                    '<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>',
                    ($width * (1 - $share)) / 2,
                    ($height * (1 - $share)) / 2,
                    $width * $share,
                    $height * $share,
                )."\n";
        }
        $size = max(6, min(96, (int) ($width / max(8, mb_strlen($name)))));
        $out .= "</g>\n".self::avoid($zones, $height);
        $out .=
            sprintf(
                '<text x="%.1f" y="%.1f" font-size="%d" fill="#ffd6a0" text-anchor="middle">%s</text>',
                $width / 2,
                $height / 2,
                $size,
                $text(mb_strimwidth($name, 0, 80, '…')),
            )."\n";
        $out .=
            sprintf(
                '<text x="%.1f" y="%.1f" font-size="%d" fill="#ffd6a0" text-anchor="middle">%d × %d px</text>',
                $width / 2,
                $height / 2 + $size,
                max(5, (int) ($size * 0.5)),
                $width,
                $height,
            )."\n";

        return $out."</svg>\n";
    }

    /** @param  list<array{string, float, float, float, float}>  $zones */
    private static function avoid(array $zones, int $height): string
    {
        $kinds = array_intersect_key(self::ZONES, array_flip(array_column($zones, 0)));
        $out = $kinds === [] ? '' : "<defs>\n";
        foreach ($kinds as $kind => [$colour, $way]) {
            $out .=
                sprintf(
                    '<pattern id="hatch-%s" width="%d" height="%2$d" patternUnits="userSpaceOnUse" patternTransform="rotate(%d)"><line x1="0" y1="0" x2="0" y2="%2$d" stroke="#%06X" stroke-width="3"/></pattern>',
                    $kind,
                    self::HATCH,
                    -45 * $way,
                    $colour,
                )."\n";
        }
        $out .= ($kinds === [] ? '' : "</defs>\n").'<g id="avoid">'."\n";
        $line = 0;
        foreach ($kinds as $kind => [$colour, , $says]) {
            $out .= sprintf('<g id="avoid-%s" fill="url(#hatch-%1$s)" fill-opacity="0.6">', $kind)."\n";
            foreach ($zones as [$of, $x, $y, $w, $h]) {
                $out .=
                    $of !== $kind
                        ? ''
                        : sprintf('<rect x="%.2f" y="%.2f" width="%.2f" height="%.2f"/>', $x, $y, $w, $h)."\n";
            }
            $size = max(5, min(20, intdiv($height, 24)));
            $out .= sprintf(
                "</g>\n<text x=\"%d\" y=\"%d\" font-size=\"%1\$d\" fill=\"#%06X\">%s</text>\n",
                $size,
                $height - $size * (1 + 1.4 * $line++),
                $colour,
                $says,
            );
        }

        return $out."</g>\n";
    }

    /**
     * @param  array{int, int}|null  $raster
     * @param  list<array{string, float, float, float, float}>  $zones
     *
     * @throws InvalidValue when the raster is too large for one picture
     */
    public static function picture(string $name, Carrier $carrier, ?array $raster = null, array $zones = []): Picture
    {
        [$width, $height] = $raster ?? [$carrier->rasterWidth(), $carrier->rasterHeight()];
        if ($width * $height > self::MAX_PIXELS) {
            throw InvalidValue::because(
                'raster',
                sprintf(
                    'A template of %d × %d px is too large for a PNG of at most %s px; take the SVG.',
                    $width,
                    $height,
                    number_format(self::MAX_PIXELS),
                ),
            );
        }
        $rgba = static fn (int $hex): string => pack('N', ($hex << 8) | 0xFF);
        $bytes = str_repeat($rgba(0x14161F), $width * $height);
        $fill = static function (int $x0, int $y0, int $x1, int $y1, string $pixel) use (
            &$bytes,
            $width,
            $height,
        ): void {
            [$x0, $y0, $x1, $y1] = [max(0, $x0), max(0, $y0), min($width, $x1), min($height, $y1)];
            if ($x1 <= $x0) {
                return;
            }
            $run = str_repeat($pixel, $x1 - $x0);
            for ($y = $y0; $y < $y1; $y++) {
                for ($i = 0, $at = 4 * ($y * $width + $x0), $n = strlen($run); $i < $n; $i++) {
                    $bytes[$at + $i] = $run[$i];
                }
            }
        };
        $frame = static function (int $x, int $y, int $w, int $h, string $pixel) use ($fill): void {
            $fill($x, $y, $x + $w, $y + 1, $pixel);
            $fill($x, $y + $h - 1, $x + $w, $y + $h, $pixel);
            $fill($x, $y, $x + 1, $y + $h, $pixel);
            $fill($x + $w - 1, $y, $x + $w, $y + $h, $pixel);
        };
        $write = static function (string $text, int $left, int $top, int $scale, string $pixel) use ($fill): void {
            foreach (Lettering::pixels($text) as [$x, $y]) {
                $fill(
                    $left + $x * $scale,
                    $top + $y * $scale,
                    $left + ($x + 1) * $scale,
                    $top + ($y + 1) * $scale,
                    $pixel,
                );
            }
        };
        $rows = [];
        $cells = self::cells($carrier, $width, $height);
        foreach ($cells as $cell) {
            $rows["$cell[1] $cell[3]"][] = $cell;
        }
        $fields = '';
        // Fields first, row by row: each row of pixels of a row of panels is the same.
        foreach ($rows as $row) {
            $line = '';
            foreach ($row as [, , $w, , $label, $parity]) {
                $line .= str_repeat($rgba($label === null ? 0 : ($parity ? 0x1C2030 : 0x23273A)), $w);
            }
            $fields .= str_repeat($line, $row[0][3]);
        }
        $bytes = $fields === '' ? $bytes : $fields;
        foreach ($cells as [$x, $y, $w, $h, $label]) {
            $frame($x, $y, $w, $h, $rgba(0x7B86B8));
            if ($label !== null && $w >= 24 && $h >= 20) {
                $write($label, $x + 4, $y + 4, 1, $rgba(0xC9D0F0));
                $w >= 60 && $h >= 32 && $write("$x,$y", $x + 4, $y + 14, 1, $rgba(0x7B86B8));
            }
        }
        foreach ($zones as [$kind, $left, $top, $w, $h]) {
            [$colour, $way] = self::ZONES[$kind];
            [$x1, $y1] = [min($width, (int) round($left + $w)), min($height, (int) round($top + $h))];
            for ($y = max(0, (int) round($top)); $y < $y1; $y++) {
                for ($x = max(0, (int) round($left)); $x < $x1; $x++) {
                    if (((($x + $way * $y) % self::HATCH) + self::HATCH) % self::HATCH < 3) {
                        $fill($x, $y, $x + 1, $y + 1, $rgba($colour));
                    }
                }
            }
        }
        foreach (self::lines($carrier, $width, $height) as [$x0, $y0, $x1, $y1]) {
            $steps = max(1, (int) ceil(max(abs($x1 - $x0), abs($y1 - $y0))));
            for ($i = 0; $i <= $steps; $i++) {
                $x = min($width - 1, (int) ($x0 + (($x1 - $x0) * $i) / $steps));
                $y = min($height - 1, (int) ($y0 + (($y1 - $y0) * $i) / $steps));
                $fill($x, $y, $x + 1, $y + 1, $rgba(0x9FB0E8));
            }
        }
        foreach (self::SAFE as $share) {
            $frame(
                (int) (($width * (1 - $share)) / 2),
                (int) (($height * (1 - $share)) / 2),
                (int) ($width * $share),
                (int) ($height * $share),
                $rgba(0xFFD6A0),
            );
        }
        foreach ([[$name, -1.2], ["$width × $height", 0.6]] as [$text, $down]) {
            $text = mb_substr($text, 0, max(1, (int) (($width * 0.8) / Lettering::ADVANCE)));
            $scale = max(1, min(8, (int) floor(($width * 0.8) / max(1, Lettering::width($text)))));
            $write(
                $text,
                (int) (($width - $scale * Lettering::width($text)) / 2),
                (int) ($height / 2 + $down * $scale * (Lettering::HEIGHT + 3)),
                $scale,
                $rgba(0xFFD6A0),
            );
        }

        return Picture::of($width, $height, $bytes);
    }

    /**
     * Panels of a wall in the raster that content is made for.
     *
     * @return list<array{int, int, int, int, string|null, bool}> x, y, width, height, "row.column" or null for a gap,
     *     whether it is an odd one
     */
    private static function cells(Carrier $carrier, int $width, int $height): array
    {
        if (! ($carrier instanceof Wall)) {
            return [];
        }
        [$sx, $sy] = [$width / $carrier->rasterWidth(), $height / $carrier->rasterHeight()];
        $cells = [];
        $y = 0;
        foreach ($carrier->rowHeightsPx() as $r => $h) {
            $x = 0;
            foreach ($carrier->columnWidthsPx() as $c => $w) {
                [$x0, $y0] = [(int) round($x * $sx), (int) round($y * $sy)];
                $cells[] = [
                    $x0,
                    $y0,
                    (int) round(($x + $w) * $sx) - $x0,
                    (int) round(($y + $h) * $sy) - $y0,
                    $carrier->cells[$r][$c] === null ? null : $r + 1 .'.'.($c + 1),
                    ($r + $c) % 2 === 1,
                ];
                $x += $w;
            }
            $y += $h;
        }

        return $cells;
    }

    /** @return list<array{float, float, float, float}> lines of a face's shape, in pixels */
    private static function lines(Carrier $carrier, int $width, int $height): array
    {
        if ($carrier instanceof Wall) {
            return [];
        }
        $mesh = $carrier->mesh();
        if ($mesh->triangleCount() > 100_000) {
            return [];
        }
        $lines = [];
        foreach (Edges::of($mesh) as [$a, $b]) {
            $line = [
                $mesh->uvs[2 * $a] * $width,
                $mesh->uvs[2 * $a + 1] * $height,
                $mesh->uvs[2 * $b] * $width,
                $mesh->uvs[2 * $b + 1] * $height,
            ];
            // Reveals lie on their edge in the raster: once is enough.
            $lines[implode(' ', array_map(static fn (float $v): string => sprintf('%.1f', $v), $line))] = $line;
        }

        return array_values($lines);
    }
}

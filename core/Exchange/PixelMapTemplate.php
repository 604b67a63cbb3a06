<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Venue\Wall;

/** The pixel map of a wall to draw on: an SVG of exactly its raster, with panel lines, numbers, coordinates, name and safe areas. */
final class PixelMapTemplate
{
    public static function svg(string $name, Wall $wall): string
    {
        [$width, $height] = [$wall->rasterWidth(), $wall->rasterHeight()];
        $text = static fn (string $t): string => htmlspecialchars((string) preg_replace('/[\x00-\x08\x0b\x0c\x0e-\x1f]/', '', $t), ENT_XML1 | ENT_QUOTES, 'UTF-8');
        $out = sprintf('<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %1$d %2$d" font-family="sans-serif">', $width, $height)."\n";
        $out .= '<title>'.$text("$name, $width × $height px")."</title>\n<rect width=\"$width\" height=\"$height\" fill=\"#14161f\"/>\n<g id=\"panels\">\n";
        $y = 0;
        foreach ($wall->rowHeightsPx() as $r => $h) {
            $x = 0;
            foreach ($wall->columnWidthsPx() as $c => $w) {
                $there = $wall->cells[$r][$c] !== null;
                $out .= sprintf('<rect x="%d" y="%d" width="%d" height="%d" fill="%s" stroke="#7b86b8" stroke-width="1"/>', $x, $y, $w, $h, $there ? (($r + $c) % 2 === 0 ? '#23273a' : '#1c2030') : '#000')."\n";
                $size = max(4, min(24, (int) ($w / 9)));
                if ($there) {
                    $out .= sprintf('<text x="%d" y="%d" font-size="%d" fill="#c9d0f0">%d.%d</text>', $x + 4, $y + $size + 2, $size, $r + 1, $c + 1);
                    $out .= sprintf('<text x="%d" y="%d" font-size="%d" fill="#7b86b8">%d, %d</text>', $x + 4, $y + 2 * $size + 4, max(3, (int) ($size * 0.7)), $x, $y)."\n";
                }
                $x += $w;
            }
            $y += $h;
        }
        $out .= "</g>\n<g id=\"safe\" fill=\"none\" stroke=\"#ffd6a0\" stroke-dasharray=\"8 6\">\n";
        foreach ([0.9, 0.8] as $share) {
            $out .= sprintf('<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>', $width * (1 - $share) / 2, $height * (1 - $share) / 2, $width * $share, $height * $share)."\n";
        }
        $size = max(6, min(96, (int) ($width / max(8, mb_strlen($name)))));
        $out .= "</g>\n<g id=\"avoid\"></g>\n";
        $out .= sprintf('<text x="%.1f" y="%.1f" font-size="%d" fill="#ffd6a0" text-anchor="middle">%s</text>', $width / 2, $height / 2, $size, $text(mb_strimwidth($name, 0, 80, '…')))."\n";
        $out .= sprintf('<text x="%.1f" y="%.1f" font-size="%d" fill="#ffd6a0" text-anchor="middle">%d × %d px</text>', $width / 2, $height / 2 + $size, max(5, (int) ($size * 0.5)), $width, $height)."\n";

        return $out."</svg>\n";
    }
}

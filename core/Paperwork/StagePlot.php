<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\Exchange\Xml;
use Core\Geometry\Edges;
use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Vec3;
use Core\Show\Show;
use Core\Venue\Wall;

/** The venue drawn to scale from above and from the front, with dimensions, as SVG in centimetres of the venue. */
final class StagePlot
{
    private const MARGIN = 250.0;

    private const INK = '#20242e';

    public static function svg(Show $show): string
    {
        $parts = [];
        foreach ($show->venue->surfaces as $id => $surface) {
            $parts[] = [
                'name' => $surface->name,
                'kind' => 'surface',
                'colour' => $surface->colour,
                'lines' => self::lines(
                    $surface->carrier instanceof Wall ? self::outline($surface->carrier) : $surface->carrier->mesh(),
                    $show->venue->world($id),
                ),
            ];
        }
        foreach ($show->venue->props as $id => $prop) {
            $parts[] = [
                'name' => $prop->name,
                'kind' => 'prop',
                'lines' => self::lines($prop->mesh(), $show->venue->world($id)),
            ];
        }
        foreach (
            [
                'projector' => array_map(static fn ($p): string => $p->name, $show->venue->projectors),
                'camera' => array_map(static fn ($c): string => $c->name, $show->venue->cameras),
                'seat' => $show->venue->seats,
            ] as $kind => $names
        ) {
            foreach ($names as $id => $name) {
                $parts[] = [
                    'name' => $name,
                    'kind' => $kind,
                    'lines' => self::mark($show->venue->world((string) $id), $kind),
                ];
            }
        }
        // From above: house right to the right, the audience below. From the front: up is up.
        $plan = self::view($parts, static fn (array $p): array => [$p[0] * 100, $p[2] * 100], 'Plan', 'plan');
        $front = self::view($parts, static fn (array $p): array => [$p[0] * 100, -$p[1] * 100], 'Front', 'front');
        [$width, $height] = [max($plan['width'], $front['width']), $plan['height'] + $front['height']];
        $title = Xml::text($show->name);

        return sprintf(
            '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" font-family="sans-serif">',
            $width,
            $height,
            min(1600, $width),
            ($height * min(1600, $width)) / $width,
        ).
            "\n".
            "<title>$title</title>\n<rect width=\"100%\" height=\"100%\" fill=\"#fff\"/>\n".
            sprintf("<text x=\"40\" y=\"70\" font-size=\"44\" fill=\"%s\">%s</text>\n", self::INK, $title).
            $plan['svg'].
            sprintf("<g transform=\"translate(0 %.0f)\">\n", $plan['height']).
            $front['svg'].
            "</g>\n</svg>\n";
    }

    /** The wall as its four corners a column: its panels would hide its shape. */
    private static function outline(Wall $wall): Mesh
    {
        $columns = $wall->outline();
        $high = $wall->figures()->heightMetres;
        [$positions, $indices] = [[], []];
        for ($i = 0; $i + 1 < count($columns); $i++) {
            $first = intdiv(count($positions), 3);
            foreach (
                [[$columns[$i], $high], [$columns[$i], 0.0], [$columns[$i + 1], 0.0], [$columns[$i + 1], $high]] as [[$x, $z], $y]
            ) {
                array_push($positions, $x, $y, $z);
            }
            array_push($indices, $first, $first + 1, $first + 2, $first, $first + 2, $first + 3);
        }

        return Mesh::of($positions, array_fill(0, intdiv(count($positions), 3) * 2, 0.0), $indices);
    }

    /** @return list<array{array{float, float, float}, array{float, float, float}}> */
    private static function lines(Mesh $mesh, Mat4 $world): array
    {
        if ($mesh->triangleCount() === 0) {
            return [];
        }
        if ($mesh->triangleCount() > 100_000) {
            // A model so fine would be ink all over: its box is drawn.
            [$l, $h] = $mesh->bounds();
            $corner = static fn (int $i): array => $world
                ->point(Vec3::of($i & 1 ? $h[0] : $l[0], $i & 2 ? $h[1] : $l[1], $i & 4 ? $h[2] : $l[2]))
                ->toArray();

            return array_values(
                array_map(static fn (array $e): array => [$corner($e[0]), $corner($e[1])], [
                    [0, 1],
                    [1, 3],
                    [3, 2],
                    [2, 0],
                    [4, 5],
                    [5, 7],
                    [7, 6],
                    [6, 4],
                    [0, 4],
                    [1, 5],
                    [2, 6],
                    [3, 7],
                ]),
            );
        }

        $placed = $mesh->moved($world);

        return array_map(
            static fn (array $e): array => [$placed->position($e[0])->toArray(), $placed->position($e[1])->toArray()],
            Edges::of($placed),
        );
    }

    /** @return list<array{array{float, float, float}, array{float, float, float}}> */
    private static function mark(Mat4 $world, string $kind): array
    {
        $at = static fn (float $x, float $y, float $z): array => $world->point(Vec3::of($x, $y, $z))->toArray();
        $size = $kind === 'projector' ? 0.35 : 0.2;
        // A wedge that points where it looks.
        $corners = [$at(-$size, 0, $size), $at($size, 0, $size), $at($size / 2, 0, -$size), $at(-$size / 2, 0, -$size)];

        return [
            [$corners[0], $corners[1]],
            [$corners[1], $corners[2]],
            [$corners[2], $corners[3]],
            [$corners[3], $corners[0]],
        ];
    }

    /**
     * @param  list<array{name: string, kind: string, colour?: string, lines: list<array{array{float, float, float}, array{float, float, float}}>}>  $parts
     * @param  \Closure(array{float, float, float}): array{float, float}  $flat
     * @return array{svg: string, width: float, height: float}
     */
    private static function view(array $parts, \Closure $flat, string $title, string $id): array
    {
        [$x0, $y0, $x1, $y1] = [INF, INF, -INF, -INF];
        $drawn = [];
        foreach ($parts as $part) {
            [$l, $t, $r, $b] = [INF, INF, -INF, -INF];
            $path = [];
            foreach ($part['lines'] as [$from, $to]) {
                [$ax, $ay] = $flat($from);
                [$bx, $by] = $flat($to);
                [$l, $t, $r, $b] = [min($l, $ax, $bx), min($t, $ay, $by), max($r, $ax, $bx), max($b, $ay, $by)];
                $key = sprintf(
                    'M%.1f %.1fL%.1f %.1f',
                    ...$ax < $bx || ($ax === $bx && $ay < $by) ? [$ax, $ay, $bx, $by] : [$bx, $by, $ax, $ay],
                );
                hypot($bx - $ax, $by - $ay) > 0.05 && ($path[$key] = true);
            }
            if (! is_finite($l)) {
                continue;
            }
            $drawn[] = [
                'name' => $part['name'],
                'kind' => $part['kind'],
                'colour' => $part['colour'] ?? '',
                'path' => implode('', array_keys($path)),
                'box' => [$l, $t, $r, $b],
            ];
            [$x0, $y0, $x1, $y1] = [min($x0, $l), min($y0, $t), max($x1, $r), max($y1, $b)];
        }
        if ($drawn === []) {
            return [
                'svg' => sprintf(
                    "<text x=\"40\" y=\"160\" font-size=\"32\" fill=\"%s\">%s: nothing stands in this venue yet.</text>\n",
                    self::INK,
                    $title,
                ),
                'width' => 1200.0,
                'height' => 260.0,
            ];
        }
        $svg = sprintf(
            "<g id=\"%s\" transform=\"translate(%.1f %.1f)\" fill=\"none\" stroke=\"%s\" stroke-width=\"3\">\n",
            $id,
            self::MARGIN - $x0,
            self::MARGIN - $y0,
            self::INK,
        );
        // A grid of metres, with the axes of the venue drawn heavier.
        for ($x = ceil($x0 / 100) * 100; $x <= $x1; $x += 100) {
            $svg .= sprintf(
                "<path d=\"M%.0f %.0fV%.0f\" stroke=\"%s\" stroke-width=\"1\"/>\n",
                $x,
                $y0,
                $y1,
                abs($x) < 1 ? '#8a90a0' : '#e3e5ec',
            );
        }
        for ($y = ceil($y0 / 100) * 100; $y <= $y1; $y += 100) {
            $svg .= sprintf(
                "<path d=\"M%.0f %.0fH%.0f\" stroke=\"%s\" stroke-width=\"1\"/>\n",
                $x0,
                $y,
                $x1,
                abs($y) < 1 ? '#8a90a0' : '#e3e5ec',
            );
        }
        // Dimensions stand where they measure; names give way to them.
        $written = array_values(
            array_map(
                static fn (array $part): array => [
                    ($part['box'][0] + $part['box'][2]) / 2,
                    $part['box'][3] + 52,
                    190.0,
                    26.0,
                ],
                array_filter($drawn, static fn (array $part): bool => $part['kind'] === 'surface'),
            ),
        );
        foreach ($drawn as $part) {
            [$l, $t, $r, $b] = $part['box'];
            $name = Xml::text(mb_strimwidth($part['name'], 0, 60, '…'));
            $svg .= sprintf(
                '<g class="%s"><title>%s</title><path d="%s"%s/>',
                $part['kind'],
                $name,
                $part['path'],
                $part['colour'] === '' ? '' : sprintf(' stroke="%s" stroke-width="6"', $part['colour']),
            );
            [$x, $y] = self::free($written, ($l + $r) / 2, $t - 14, 14.5 * mb_strwidth($part['name'], 'UTF-8'), 30);
            if ($y < $t - 20) {
                // Moved out of another name's way, it is led back to its thing.
                $svg .= sprintf('<path d="M%.1f %.1fV%.1f" stroke="#8a90a0" stroke-width="1"/>', $x, $y + 6, $t - 2);
            }
            $svg .= sprintf(
                '<text x="%.1f" y="%.1f" font-size="26" fill="%s" stroke="none" text-anchor="middle">%s</text>',
                $x,
                $y,
                self::INK,
                $name,
            );
            if ($part['kind'] === 'surface') {
                $svg .= sprintf(
                    '<path d="M%1$.1f %3$.1fH%2$.1fM%1$.1f %4$.1fV%5$.1fM%2$.1f %4$.1fV%5$.1f" stroke-width="1.5"/>',
                    $l,
                    $r,
                    $b + 22,
                    $b + 12,
                    $b + 32,
                );
                $svg .= sprintf(
                    '<text x="%.1f" y="%.1f" font-size="22" fill="%s" stroke="none" text-anchor="middle">%.2f × %.2f m</text>',
                    ($l + $r) / 2,
                    $b + 52,
                    self::INK,
                    ($r - $l) / 100,
                    ($b - $t) / 100,
                );
            }
            $svg .= "</g>\n";
        }
        $svg .= sprintf(
            '<path d="M%.1f %.1fh%.1f" stroke-width="4"/><text x="%.1f" y="%.1f" font-size="24" fill="%s" stroke="none">5 m</text>',
            $x0,
            $y1 + 150,
            500,
            $x0 + 510,
            $y1 + 158,
            self::INK,
        );
        $svg .= sprintf(
            "<text x=\"%.1f\" y=\"%.1f\" font-size=\"32\" fill=\"%s\" stroke=\"none\">%s, %.2f × %.2f m</text>\n</g>\n",
            $x0,
            $y0 - 100,
            self::INK,
            $title,
            ($x1 - $x0) / 100,
            ($y1 - $y0) / 100,
        );

        return [
            'svg' => $svg,
            'width' => max(900.0, $x1 - $x0 + 2 * self::MARGIN),
            'height' => $y1 - $y0 + 2 * self::MARGIN,
        ];
    }

    /**
     * The nearest place above for a line of text where nothing is written yet, which it then takes.
     *
     * @param  list<array{float, float, float, float}>  $written  middle, base line, width and height of each
     * @return array{float, float} middle and base line
     */
    private static function free(array &$written, float $x, float $y, float $width, float $height): array
    {
        for ($i = 0; $i < 60; $i++) {
            foreach ($written as [$ox, $oy, $w, $h]) {
                if (abs($ox - $x) < ($w + $width) / 2 && abs($oy - $y) < max($h, $height)) {
                    $y = $oy - max($h, $height);

                    continue 2;
                }
            }
            break;
        }
        $written[] = [$x, $y, $width, $height];

        return [$x, $y];
    }
}

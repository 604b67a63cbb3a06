<?php

declare(strict_types=1);

namespace Core\Exchange;

use Core\Units\InvalidValue;

/**
 * The description of a fixture type in the General Device Type Format (DIN SPEC 15800, version 1): of each DMX mode,
 * the geometry that is used again and again as the pixels, where these are, and what their channels and those before
 * them drive. Colours that a light adds are read; what is neither a colour nor a dimmer is sent as its default.
 *
 * @phpstan-type Mode array{name: string, columns: int, rows: int, widthMm: float, heightMm: float, points: list<float>, channels: string, header: string, bits: int, order: list<int>}
 */
final class Gdtf
{
    /** The file of an archive that is read. */
    public const DESCRIPTION = 'description.xml';

    public const MAX_BYTES = 16 << 20;

    private const MAX_PIXELS = 16_384;

    /** Emitters by their attributes; whites by what the standard calls warm and cool. */
    private const ATTRIBUTES = [
        'ColorAdd_R' => 'red',
        'ColorAdd_G' => 'green',
        'ColorAdd_B' => 'blue',
        'ColorAdd_W' => 'white',
        'ColorAdd_WW' => 'white 3000',
        'ColorAdd_CW' => 'white 6500',
        'ColorAdd_RY' => 'amber',
        'ColorAdd_GY' => 'lime',
        'ColorAdd_UV' => 'uv',
        'ColorRGB_Red' => 'red',
        'ColorRGB_Green' => 'green',
        'ColorRGB_Blue' => 'blue',
        'Dimmer' => 'dimmer',
    ];

    /** Metres by which places of one line may differ. */
    private const NEAR = 1e-4;

    /**
     * @param  string  $xml  of the description
     * @return array{name: string, modes: list<Mode>} modes that have pixels of one kind
     *
     * @throws InvalidValue where it is no such description, or none of its modes has a colour
     */
    public static function read(string $xml): array
    {
        if ($xml === '' || strlen($xml) > self::MAX_BYTES || preg_match('/<!(DOCTYPE|ENTITY)/i', $xml) === 1) {
            throw InvalidValue::because(
                'gdtf',
                'The description has to be XML of at most 16 MB, without a document type.',
            );
        }
        $document = new \DOMDocument();
        if (! @$document->loadXML($xml, LIBXML_NONET) || $document->documentElement?->nodeName !== 'GDTF') {
            throw InvalidValue::because('gdtf', 'The description is no GDTF.');
        }
        $path = new \DOMXPath($document);
        $type = self::first($path, '/GDTF/FixtureType', $document);
        if ($type === null) {
            throw InvalidValue::because('gdtf', 'The description has no fixture type.');
        }
        $name = trim($type->getAttribute('LongName') ?: $type->getAttribute('Name')) ?: 'Fixture';
        $modes = [];
        foreach ($path->query('DMXModes/DMXMode', $type) ?: [] as $mode) {
            $found = $mode instanceof \DOMElement ? self::mode($path, $type, $mode, $name) : null;
            $found !== null && ($modes[] = $found);
        }
        if ($modes === []) {
            throw InvalidValue::because('gdtf', "No mode of $name has pixels that add colours.");
        }

        return ['name' => $name, 'modes' => $modes];
    }

    /** @return Mode|null */
    private static function mode(\DOMXPath $path, \DOMElement $type, \DOMElement $mode, string $name): ?array
    {
        // Channels by the geometry that has them: offset, what it drives, and whether it has a fine byte.
        $channels = [];
        foreach ($path->query('DMXChannels/DMXChannel', $mode) ?: [] as $channel) {
            if (! ($channel instanceof \DOMElement)) {
                continue;
            }
            $offsets = array_values(
                array_filter(
                    array_map(intval(...), explode(',', $channel->getAttribute('Offset'))),
                    static fn (int $o): bool => $o >= 1 && $o <= 512,
                ),
            );
            if ($offsets === []) {
                continue;
            }
            $attribute = (string) $path->evaluate('string(LogicalChannel[1]/@Attribute)', $channel);
            $default =
                (string) $path->evaluate('string(LogicalChannel[1]/ChannelFunction[1]/@Default)', $channel) ?:
                $channel->getAttribute('Default');
            $channels[$channel->getAttribute('Geometry')][] = [
                'offsets' => $offsets,
                'drives' => self::ATTRIBUTES[$attribute] ?? self::fixed($default),
            ];
        }
        $coloured = array_filter(
            $channels,
            static fn (array $list): bool => array_filter(
                $list,
                static fn (array $c): bool => $c['drives'] !== 'dimmer' &&
                    preg_match('/^(fixed|unused)/', $c['drives']) !== 1,
            ) !== [],
        );
        foreach (array_keys($coloured) as $geometry) {
            $pixels = self::pixels($path, $type, (string) $geometry);
            if ($pixels === []) {
                // Its own place: one pixel.
                $pixels = count($coloured) === 1 ? [[0.0, 0.0, 0.0, 1]] : [];
            }
            if ($pixels !== [] && count($pixels) <= self::MAX_PIXELS) {
                return self::laid(
                    $name,
                    trim($mode->getAttribute('Name')),
                    $pixels,
                    $channels[$geometry],
                    array_diff_key($channels, [$geometry => 0]),
                );
            }
        }

        return null;
    }

    private static function first(\DOMXPath $path, string $query, \DOMNode $in): ?\DOMElement
    {
        foreach ($path->query($query, $in) ?: [] as $node) {
            if ($node instanceof \DOMElement) {
                return $node;
            }
        }

        return null;
    }

    /** A channel that is no light: always its default, "127/1" or "32639/2" as the standard writes it. */
    private static function fixed(string $default): string
    {
        if (preg_match('#^(\d{1,10})/(\d)s?$#D', trim($default), $found) !== 1) {
            return 'unused';
        }
        $value = min(255, intdiv((int) $found[1], 256 ** max(0, (int) $found[2] - 1)));

        return $value === 0 ? 'unused' : "fixed $value";
    }

    /**
     * Where a geometry is used, in metres, and its DMX offset.
     *
     * @return list<array{float, float, float, int}>
     */
    private static function pixels(\DOMXPath $path, \DOMElement $type, string $geometry): array
    {
        $found = [];
        foreach ($path->query('Geometries//GeometryReference', $type) ?: [] as $reference) {
            if (! ($reference instanceof \DOMElement) || $reference->getAttribute('Geometry') !== $geometry) {
                continue;
            }
            $place = [0.0, 0.0, 0.0];
            for (
                $node = $reference;
                $node instanceof \DOMElement && $node->nodeName !== 'Geometries';
                $node = $node->parentNode
            ) {
                $place = self::through(self::matrix($node->getAttribute('Position')), $place);
            }
            $found[] = [...$place, max(1, (int) self::first($path, 'Break', $reference)?->getAttribute('DMXOffset'))];
            if (count($found) > self::MAX_PIXELS) {
                return [];
            }
        }

        return $found;
    }

    /** @return list<list<float>> four rows of four */
    private static function matrix(string $text): array
    {
        preg_match_all('/-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?/', $text, $numbers);
        $m = array_map(floatval(...), $numbers[0]);

        return count($m) === 16
            ? array_chunk($m, 4)
            : [[1.0, 0.0, 0.0, 0.0], [0.0, 1.0, 0.0, 0.0], [0.0, 0.0, 1.0, 0.0], [0.0, 0.0, 0.0, 1.0]];
    }

    /**
     * A place through a matrix whose translation is its last column, or as some write it, its last row.
     *
     * @param  list<list<float>>  $m
     * @param  array{float, float, float}  $p
     * @return array{float, float, float}
     */
    private static function through(array $m, array $p): array
    {
        $by =
            $m[3][0] !== 0.0 || $m[3][1] !== 0.0 || $m[3][2] !== 0.0
                ? [$m[3][0], $m[3][1], $m[3][2]]
                : [$m[0][3], $m[1][3], $m[2][3]];
        $along = static fn (int $r): float => $m[$r][0] * $p[0] + $m[$r][1] * $p[1] + $m[$r][2] * $p[2] + $by[$r];

        return [$along(0), $along(1), $along(2)];
    }

    /**
     * @param  non-empty-list<array{float, float, float, int}>  $pixels
     * @param  list<array{offsets: non-empty-list<int>, drives: string}>  $channels  of a pixel
     * @param  array<string, list<array{offsets: non-empty-list<int>, drives: string}>>  $others  of the rest
     * @return Mode
     */
    private static function laid(string $name, string $mode, array $pixels, array $channels, array $others): array
    {
        // Across is X; down is whichever of Z and Y goes farther, from above.
        $spread = static function (int $axis) use ($pixels): float {
            $all = array_map(static fn (array $p): float => (float) $p[$axis], $pixels);

            return max($all) - min($all);
        };
        $down = $spread(2) >= $spread(1) ? 2 : 1;
        $lines = static function (array $values): array {
            sort($values);
            $found = [];
            foreach ($values as $v) {
                if ($found === [] || $v - $found[count($found) - 1] > self::NEAR) {
                    $found[] = $v;
                }
            }

            return $found;
        };
        [$xs, $ys] = [
            $lines(array_column($pixels, 0)),
            array_reverse($lines(array_map(static fn (array $p): float => $p[$down], $pixels))),
        ];
        $line = static function (array $all, float $v): int {
            foreach ($all as $i => $at) {
                if (abs($at - $v) <= 2 * self::NEAR) {
                    return $i;
                }
            }

            return 0;
        };
        [$columns, $rows] = [count($xs), count($ys)];
        [$pitchX, $pitchY] = [
            $columns > 1 ? ($xs[$columns - 1] - $xs[0]) / ($columns - 1) : 0.05,
            $rows > 1 ? ($ys[0] - $ys[$rows - 1]) / ($rows - 1) : 0.05,
        ];
        [$width, $height] = [max(1.0, 1000 * $columns * $pitchX), max(1.0, 1000 * $rows * $pitchY)];
        usort($pixels, static fn (array $a, array $b): int => $a[3] <=> $b[3]);
        $cells = array_map(static fn (array $p): int => $line($ys, $p[$down]) * $columns + $line($xs, $p[0]), $pixels);
        $isGrid = count(array_unique($cells)) === count($pixels) && count($pixels) === $columns * $rows;
        $points = [];
        if (! $isGrid) {
            [$columns, $rows] = [min(64, max(1, $columns)), min(64, max(1, $rows))];
            foreach ($pixels as $p) {
                array_push(
                    $points,
                    round(1000 * ($p[0] - $xs[0] + $pitchX / 2), 3),
                    round(1000 * ($ys[0] - $p[$down] + $pitchY / 2), 3),
                );
            }
        }
        [$bits, $words] = self::words($channels);
        $first = $pixels[0][3];
        // Only what stands before the pixels is sent before them.
        $before = array_values(
            array_filter(
                array_merge([], ...array_values($others)),
                static fn (array $c): bool => min($c['offsets']) < $first,
            ),
        );

        return [
            'name' => $mode === '' ? $name : "$name, $mode",
            'columns' => $columns,
            'rows' => $rows,
            'widthMm' => round($width, 3),
            'heightMm' => round($height, 3),
            'points' => $points,
            'channels' => implode(', ', $words),
            'header' => $before === [] ? '' : implode(', ', self::words($before, $bits, $first - 1)[1]),
            'bits' => $bits,
            'order' => $isGrid ? $cells : [],
        ];
    }

    /**
     * What each channel drives, in the order in which they are sent: 16 bits where all have a fine byte after the
     * coarse one, else bytes, of which fine ones are unused.
     *
     * @param  list<array{offsets: non-empty-list<int>, drives: string}>  $channels
     * @param  int|null  $bits  that are asked for
     * @param  int|null  $length  slots that there are
     * @return array{int, list<string>}
     */
    private static function words(array $channels, ?int $bits = null, ?int $length = null): array
    {
        usort($channels, static fn (array $a, array $b): int => min($a['offsets']) <=> min($b['offsets']));
        $fine =
            array_filter(
                $channels,
                static fn (array $c): bool => count($c['offsets']) !== 2 || $c['offsets'][1] !== $c['offsets'][0] + 1,
            ) === [];
        $bits ??= $fine ? 16 : 8;
        $slots = $bits === 16 ? 2 : 1;
        $last = $length ?? max([1, ...array_merge(...array_column($channels, 'offsets'))]);
        $words = array_fill(0, (int) ceil($last / $slots), 'unused');
        foreach ($channels as $channel) {
            $at = intdiv($channel['offsets'][0] - 1, $slots);
            if (isset($words[$at])) {
                $words[$at] = $channel['drives'];
            }
        }

        return [$bits, array_values($words)];
    }
}

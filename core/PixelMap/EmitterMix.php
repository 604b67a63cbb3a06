<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\FixtureChannel;

/**
 * How much each emitter of a pixel gives for a wanted light. Light is linear, of the primaries of ITU-R BT.709, white
 * at D65.
 *
 * A white of K kelvin gives the colour m of the Planckian locus at K, brightest part 1; by the common minimum, each
 * counts as (1, 1, 1). All whites are one light, of parts p that sum to 1 and the colour m = Σ p m. Of a wanted light
 * L that takes at most what all of red, green and blue have of it: w = s · min(1, min over c of L_c / m_c), with the
 * share s of the light that whites carry; red, green and blue give the rest, L − w m. The parts are equal, or, where
 * a correlated colour temperature T is wanted, those of the coldest and the warmest white by which their mix lies on
 * the line of that temperature, which meets the locus at T at a right angle in the uv of CIE 1960.
 *
 * What each white gives is w p / max p: the one with the largest part goes up to full, so that together they are as
 * bright as they can be ("brightest"). Or it is w p, so that several whites give what one would ("constant"); by the
 * white point and without T those are then the two amounts that together are most and fit into L. One white gives the
 * same either way.
 *
 * Amber and lime are taken likewise from what is left, by the colours (1, 0.5, 0) and (0.6, 1, 0); ultraviolet is
 * dark unless it is fixed.
 */
final readonly class EmitterMix
{
    public const WHITES = ['minimum', 'white point'];

    /** How much several whites give together. */
    public const OUTPUTS = ['brightest', 'constant'];

    /** Colours of emitters that are neither primary nor white. */
    private const OTHERS = ['amber' => [1.0, 0.5, 0.0], 'lime' => [0.6, 1.0, 0.0]];

    /**
     * @param  list<FixtureChannel>  $channels
     * @param  list<array{int, array{float, float, float}, float}>  $taken  channel, colour, and its part of the
     *     whites, −1 for what is none, in
     *   the order in which they take
     * @param  float  $raised  by how much whites give more than their parts
     * @param  array{float, float, float}  $gains  balance of red, green and blue
     */
    private function __construct(
        private array $channels,
        private array $taken,
        private float $share,
        private array $gains,
        private bool $maximal,
        private float $raised,
    ) {
    }

    /**
     * @param  list<FixtureChannel>  $channels  of a pixel
     * @param  string  $by  how whites are found: minimum, or white point
     * @param  float  $share  of the light that whites carry, 0 to 1
     * @param  float  $kelvin  wanted of several whites; 0 for none
     * @param  array{float, float, float}  $gains
     * @param  string  $output  of several whites: brightest, or constant
     *
     * @throws InvalidValue
     */
    public static function of(
        array $channels,
        string $by = 'minimum',
        float $share = 1,
        float $kelvin = 0,
        array $gains = [1.0, 1.0, 1.0],
        string $output = 'brightest',
    ): self {
        Check::oneOf('whites', $by, self::WHITES);
        Check::oneOf('whiteOutput', $output, self::OUTPUTS);
        $whites = array_filter($channels, static fn (FixtureChannel $c): bool => $c->kind === 'white');
        $colour = static fn (int $kelvin): array => $by === 'minimum' ? [1.0, 1.0, 1.0] : self::planckian($kelvin);
        $parts = array_map(static fn (): float => 1 / count($whites), $whites);
        uasort($whites, static fn (FixtureChannel $a, FixtureChannel $b): int => $b->kelvin <=> $a->kelvin);
        [$cold, $warm] = [array_key_first($whites), array_key_last($whites)];
        $mixes = $cold !== null && $warm !== null && $whites[$cold]->kelvin !== $whites[$warm]->kelvin;
        if ($mixes && $kelvin > 0) {
            $part = self::warmPart($whites[$cold]->kelvin, $whites[$warm]->kelvin, $kelvin);
            $parts = [$cold => 1 - $part, $warm => $part];
        }
        $maximal = $mixes && $kelvin <= 0 && $by !== 'minimum' && $output === 'constant';
        $mixed = [0.0, 0.0, 0.0];
        foreach ($parts as $i => $part) {
            foreach ($colour($whites[$i]->kelvin) as $c => $one) {
                $mixed[$c] += $part * $one;
            }
        }
        $taken = [];
        if ($maximal) {
            $taken = [[$cold, $colour($whites[$cold]->kelvin), 1.0], [$warm, $colour($whites[$warm]->kelvin), 1.0]];
        } else {
            foreach ($parts as $i => $part) {
                $taken[] = [$i, $mixed, $part];
            }
        }
        foreach ($channels as $i => $channel) {
            if (isset(self::OTHERS[$channel->kind])) {
                $taken[] = [$i, self::OTHERS[$channel->kind], -1.0];
            }
        }

        return new self(
            $channels,
            $taken,
            max(0.0, min(1.0, $share)),
            $gains,
            $maximal,
            $output === 'brightest' && $parts !== [] ? 1 / max($parts) : 1.0,
        );
    }

    /**
     * @param  float  $r  linear light, 0 to 1
     * @return list<float> of each channel, 0 to 1: light of an emitter, and a fixed value as it is sent
     */
    public function levels(float $r, float $g, float $b): array
    {
        $left = [
            max(0.0, min(1.0, $r)) * $this->gains[0],
            max(0.0, min(1.0, $g)) * $this->gains[1],
            max(0.0, min(1.0, $b)) * $this->gains[2],
        ];
        $lit = max($left) > 0;
        $given = [];
        $whites = array_values(array_filter($this->taken, static fn (array $t): bool => $t[2] >= 0));
        if ($this->maximal) {
            [[$i, $c], [$j, $w]] = $whites;
            [$given[$i], $given[$j]] = self::most($c, $w, $left);
            $given = [$i => $given[$i] * $this->share, $j => $given[$j] * $this->share];
            $left = self::without(self::without($left, $c, $given[$i]), $w, $given[$j]);
        } elseif ($whites !== []) {
            // All whites are one light here, of one colour; their parts sum to 1.
            $most = $this->share * min(1.0, self::fits($whites[0][1], $left));
            foreach ($whites as [$i, , $part]) {
                $given[$i] = min(1.0, $most * $part * $this->raised);
            }
            $left = self::without($left, $whites[0][1], $most);
        }
        foreach ($this->taken as [$i, $colour, $weight]) {
            if ($weight < 0) {
                $given[$i] = min(1.0, self::fits($colour, $left));
                $left = self::without($left, $colour, $given[$i]);
            }
        }
        $levels = [];
        foreach ($this->channels as $i => $channel) {
            $levels[] = min(
                1.0,
                match ($channel->kind) {
                    'red' => $left[0],
                    'green' => $left[1],
                    'blue' => $left[2],
                    'dimmer' => $lit ? 1.0 : 0.0,
                    'fixed' => $channel->value / 255,
                    default => $given[$i] ?? 0.0,
                },
            );
        }

        return $levels;
    }

    /**
     * How much of a colour fits into a light.
     *
     * @param  array{float, float, float}  $colour
     * @param  array{float, float, float}  $light
     */
    private static function fits(array $colour, array $light): float
    {
        $most = INF;
        foreach ($colour as $c => $part) {
            $part > 1e-9 && ($most = min($most, $light[$c] / $part));
        }

        return is_infinite($most) ? 0.0 : $most;
    }

    /**
     * @param  array{float, float, float}  $light
     * @param  array{float, float, float}  $colour
     * @return array{float, float, float}
     */
    private static function without(array $light, array $colour, float $amount): array
    {
        return [
            max(0.0, $light[0] - $amount * $colour[0]),
            max(0.0, $light[1] - $amount * $colour[1]),
            max(0.0, $light[2] - $amount * $colour[2]),
        ];
    }

    /**
     * The two amounts, each 0 to 1, that together are most and fit into a light: a linear programme of two unknowns,
     * at one of the places where two of its bounds meet.
     *
     * @param  array{float, float, float}  $a
     * @param  array{float, float, float}  $b
     * @param  array{float, float, float}  $light
     * @return array{float, float}
     */
    private static function most(array $a, array $b, array $light): array
    {
        // Bounds p·x + q·y ≤ r.
        $bounds = [[1.0, 0.0, 1.0], [0.0, 1.0, 1.0], [-1.0, 0.0, 0.0], [0.0, -1.0, 0.0]];
        for ($c = 0; $c < 3; $c++) {
            $bounds[] = [$a[$c], $b[$c], $light[$c]];
        }
        $best = [0.0, 0.0];
        for ($i = 0; $i < 7; $i++) {
            for ($j = $i + 1; $j < 7; $j++) {
                [[$p, $q, $r], [$s, $t, $u]] = [$bounds[$i], $bounds[$j]];
                $det = $p * $t - $q * $s;
                if (abs($det) < 1e-12) {
                    continue;
                }
                [$x, $y] = [($r * $t - $q * $u) / $det, ($p * $u - $r * $s) / $det];
                foreach ($bounds as [$m, $n, $o]) {
                    if ($m * $x + $n * $y > $o + 1e-9) {
                        continue 2;
                    }
                }
                if ($x + $y > $best[0] + $best[1] + 1e-12) {
                    $best = [max(0.0, $x), max(0.0, $y)];
                }
            }
        }

        return $best;
    }

    /**
     * Linear light of the Planckian locus, its brightest part 1: chromaticity by the cubics of Kim and others (2002),
     * 1,667 to 25,000 K, to BT.709 by the inverse of its primaries' matrix. What lies outside the primaries is cut
     * off at 0.
     *
     * @return array{float, float, float}
     */
    public static function planckian(float $kelvin): array
    {
        $rgb = self::rgb(self::xyz($kelvin));

        return [max(0.0, min(1.0, $rgb[0])), max(0.0, min(1.0, $rgb[1])), max(0.0, min(1.0, $rgb[2]))];
    }

    /**
     * The linear light that a channel's emitter gives at full; none of what is no light. Ultraviolet is shown as a
     * dark violet.
     *
     * @return array{float, float, float}
     */
    public static function colourOf(FixtureChannel $channel): array
    {
        return match ($channel->kind) {
            'red' => [1.0, 0.0, 0.0],
            'green' => [0.0, 1.0, 0.0],
            'blue' => [0.0, 0.0, 1.0],
            'white' => self::planckian($channel->kelvin),
            'uv' => [0.15, 0.0, 0.4],
            default => self::OTHERS[$channel->kind] ?? [0.0, 0.0, 0.0],
        };
    }

    /** The part of the warm one of two whites by which their mix has a correlated colour temperature, 0 to 1. */
    private static function warmPart(float $cold, float $warm, float $kelvin): float
    {
        $uv = static function (float $t): array {
            [$X, $Y, $Z] = self::xyz($t);
            $d = $X + 15 * $Y + 3 * $Z;

            return [(4 * $X) / $d, (6 * $Y) / $d];
        };
        [[$u, $v], [$u0, $v0], [$u1, $v1]] = [$uv($kelvin), $uv($kelvin * 0.999), $uv($kelvin * 1.001)];
        [$du, $dv] = [$u1 - $u0, $v1 - $v0];
        // How far beyond the line a light lies, times what u and v are divided by: linear in the light.
        $beyond = static function (float $t) use ($u, $v, $du, $dv): float {
            [$X, $Y, $Z] = self::xyz($t);

            return 4 * $X * $du + 6 * $Y * $dv - ($u * $du + $v * $dv) * ($X + 15 * $Y + 3 * $Z);
        };
        [$c, $w] = [$beyond($cold), $beyond($warm)];

        return $c === $w ? 0.5 : max(0.0, min(1.0, $c / ($c - $w)));
    }

    /** @return array{float, float, float} X, Y and Z of the locus, as bright as brightest primary 1 makes it */
    private static function xyz(float $kelvin): array
    {
        $t = max(1667.0, min(25_000.0, $kelvin));
        $x =
            $t <= 4000
                ? -0.2661239e9 / $t ** 3 - 0.2343589e6 / $t ** 2 + 0.8776956e3 / $t + 0.17991
                : -3.0258469e9 / $t ** 3 + 2.1070379e6 / $t ** 2 + 0.2226347e3 / $t + 0.24039;
        $y = match (true) {
            $t <= 2222 => -1.1063814 * $x ** 3 - 1.3481102 * $x ** 2 + 2.18555832 * $x - 0.20219683,
            $t <= 4000 => -0.9549476 * $x ** 3 - 1.37418593 * $x ** 2 + 2.09137015 * $x - 0.16748867,
            default => 3.081758 * $x ** 3 - 5.8733867 * $x ** 2 + 3.75112997 * $x - 0.37001483,
        };
        $xyz = [$x / $y, 1.0, (1 - $x - $y) / $y];
        $most = max(self::rgb($xyz));

        return [$xyz[0] / $most, $xyz[1] / $most, $xyz[2] / $most];
    }

    /**
     * @param  array{float, float, float}  $xyz
     * @return array{float, float, float}
     */
    private static function rgb(array $xyz): array
    {
        [$X, $Y, $Z] = $xyz;

        return [
            3.2404542 * $X - 1.5371385 * $Y - 0.4985314 * $Z,
            -0.969266 * $X + 1.8760108 * $Y + 0.041556 * $Z,
            0.0556434 * $X - 0.2040259 * $Y + 1.0572252 * $Z,
        ];
    }
}

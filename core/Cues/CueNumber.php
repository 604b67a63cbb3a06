<?php

declare(strict_types=1);

namespace Core\Cues;

/**
 * Numbers of cues as people write them: 1, 1.5, 12.25, with letters behind them where wanted. Ordered by their parts,
 * as numbers.
 */
final class CueNumber
{
    /** Below 0 when a comes before b. Decimals count as decimals: 1.5 comes after 1.25. */
    public static function compare(string $a, string $b): int
    {
        return [self::value($a), $a] <=> [self::value($b), $b];
    }

    /** The number as such; what has none comes last. */
    private static function value(string $number): float
    {
        return preg_match('/^\s*(\d+(?:\.\d+)?)/', $number, $m) === 1 ? (float) $m[1] : INF;
    }

    /**
     * A free number after one and before the next that there is: the next whole one, or as many decimals as it takes.
     *
     * @param  list<string>  $taken
     */
    public static function after(string $number, array $taken): string
    {
        $value = self::value($number);
        $from = is_finite($value)
            ? $value
            : (float) array_reduce(
                $taken,
                static fn (float $most, string $n): float => is_finite($v = self::value($n)) ? max($most, $v) : $most,
                0.0,
            );
        $next = array_reduce(
            $taken,
            static fn (float $least, string $n): float => ($v = self::value($n)) > $from ? min($least, $v) : $least,
            INF,
        );
        for ($digits = 0; $digits < 6; $digits++) {
            $step = 10 ** -$digits;
            $try = round(floor(round($from / $step, 6)) * $step + $step, $digits);
            if ($try < $next) {
                return self::written($try);
            }
        }

        return self::written(($from + min($next, $from + 1)) / 2);
    }

    public static function written(float $number): string
    {
        return rtrim(rtrim(number_format($number, 6, '.', ''), '0'), '.');
    }
}

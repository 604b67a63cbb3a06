<?php

declare(strict_types=1);

namespace Core\Units;

/**
 * Arithmetic as people type it into a number field: + - * / and brackets, with units: lengths (also feet and inches
 * as drawings write them, 5'-6 1/2"), weights, angles, times, and what else a field may be measured in. A bare number
 * takes the field's own unit, a quotient of two of one kind is a count, and a leading sign with a per cent changes
 * the present value.
 */
final class Arithmetic
{
    private const LONGEST = 500;

    /** Units by kind, each with its worth in the first of its kind. */
    private const KINDS = [
        'length' => [
            'm' => 1.0,
            'mm' => 0.001,
            'cm' => 0.01,
            'km' => 1000.0,
            'in' => 0.0254,
            '"' => 0.0254,
            'ft' => 0.3048,
            "'" => 0.3048,
        ],
        'weight' => ['kg' => 1.0, 'g' => 0.001, 't' => 1000.0, 'lb' => 0.45359237],
        'angle' => ['deg' => 1.0, '°' => 1.0, 'rad' => 180 / M_PI],
        'time' => ['s' => 1.0, 'ms' => 0.001, 'min' => 60.0, 'h' => 3600.0],
        'power' => ['W' => 1.0, 'kW' => 1000.0],
        'voltage' => ['V' => 1.0, 'kV' => 1000.0],
        'current' => ['A' => 1.0, 'mA' => 0.001],
        'frequency' => ['Hz' => 1.0, 'kHz' => 1000.0, 'MHz' => 1e6],
        'amount of data' => ['Mb' => 1.0, 'Gb' => 1000.0],
        'luminous flux' => ['lm' => 1.0, 'klm' => 1000.0],
        'luminous intensity' => ['cd' => 1.0],
        'luminance' => ['cd/m²' => 1.0, 'cd/m2' => 1.0],
        'illuminance' => ['lx' => 1.0, 'fc' => 10.763910416709722],
        'colour temperature' => ['K' => 1.0],
        'density' => ['px/m' => 1.0, 'px/mm' => 1000.0],
    ];

    /** Units of fields that hold a count, and what one of them is worth. */
    private const COUNTS = ['' => 1.0, 'px' => 1.0, '%' => 0.01];

    private const NUMBER = '(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?';

    private int $at = 0;

    private int $signAt = 0;

    /** @var array<string, array{string, float}> kind and worth by unit */
    private array $units = [];

    private string $pattern;

    /**
     * @param  string|null  $kind  of the field's unit; null for a count
     * @param  float  $worth  of one of the field's unit
     */
    private function __construct(
        private readonly string $text,
        private readonly ?string $kind,
        private readonly float $worth,
    ) {
        foreach (self::KINDS as $name => $units) {
            foreach ($units as $unit => $factor) {
                $this->units[$unit] = [$name, $factor];
            }
        }
        $names = [...array_keys($this->units), 'px', '%'];
        usort($names, static fn (string $a, string $b): int => strlen($b) <=> strlen($a));
        $this->pattern =
            '/\G('.
            implode('|', array_map(static fn (string $n): string => preg_quote($n, '/'), $names)).
            ')(?![a-zA-Z²])/';
    }

    /** @return list<string> the units that a field may have */
    public static function units(): array
    {
        return [...array_keys(self::COUNTS), ...array_merge(...array_map(array_keys(...), array_values(self::KINDS)))];
    }

    /**
     * What a typed text comes to, by one rule for every field: a number takes the place of what is there, also a
     * negative one. A leading +, * or / is relative to what is there, as are += -= *= and /=; +10% and -10% change it
     * by its own part. =7 is 7.
     *
     * @param  string  $unit  the field's unit, one of units()
     * @param  float|null  $present  the present value in that unit; null where there is none to refer to
     * @return float the result in the field's unit
     *
     * @throws ArithmeticError pointing at the character
     */
    public static function evaluate(string $text, string $unit = '', ?float $present = null): float
    {
        [$kind, $worth] = self::field($unit);
        if (mb_strlen($text) > self::LONGEST) {
            throw ArithmeticError::at(self::LONGEST, 'This is longer than '.self::LONGEST.' characters.');
        }
        // Each of these stands for one character, so that places stay where they are.
        $text = strtr($text, [
            '×' => '*',
            '·' => '*',
            '÷' => '/',
            '−' => '-',
            '–' => '-',
            '’' => "'",
            '′' => "'",
            '″' => '"',
            '”' => '"',
            "\u{a0}" => ' ',
            "\u{202f}" => ' ',
        ]);
        if ($present !== null && preg_match('/^\s*([+-])\s*('.self::NUMBER.')\s*%\s*$/', $text, $m) === 1) {
            return self::finite($present + (($m[1] === '-' ? -1 : 1) * $present * (float) $m[2]) / 100);
        }
        if ($present !== null && preg_match('/^(\s*(?:([+*\/-])\s*=|([=+*\/])))(.*)$/s', $text, $m) === 1) {
            try {
                return self::finite(self::relative($present, $m[2] ?: $m[3], $m[4], $unit));
            } catch (ArithmeticError $error) {
                throw ArithmeticError::at($error->at + mb_strlen($m[1]), $error->getMessage());
            }
        }

        return (new self($text, $kind, $worth))->result();
    }

    private static function relative(float $present, string $sign, string $text, string $unit): float
    {
        return match ($sign) {
            '=' => self::evaluate($text, $unit),
            '+' => $present + self::evaluate($text, $unit),
            '*' => $present * self::evaluate($text),
            '/' => $present / self::divisor(self::evaluate($text)),
            default => $present - self::evaluate($text, $unit),
        };
    }

    private static function divisor(float $value): float
    {
        return $value !== 0.0 ? $value : throw ArithmeticError::at(0, 'Nothing can be divided by zero.');
    }

    /** @return array{string|null, float} kind and worth */
    private static function field(string $unit): array
    {
        foreach (self::KINDS as $kind => $units) {
            if (isset($units[$unit])) {
                return [$kind, $units[$unit]];
            }
        }

        return isset(self::COUNTS[$unit])
            ? [null, self::COUNTS[$unit]]
            : throw InvalidValue::notOneOf('unit', $unit, self::units());
    }

    private static function finite(float $value): float
    {
        return is_finite($value) ? $value : throw ArithmeticError::at(0, 'This is too large a number.');
    }

    private function result(): float
    {
        $this->space();
        if ($this->at >= strlen($this->text)) {
            throw $this->error('Type a number.', 0);
        }
        [$value, $dimension] = $this->sum();
        if ($this->at < strlen($this->text)) {
            throw $this->error(
                $this->text[$this->at] === ','
                    ? 'A comma is not read here: write 2.5 for two and a half, 1920 for thousands.'
                    : 'This can\'t be read from "'.mb_strcut($this->text, $this->at, 12).'" on.',
            );
        }
        if ($dimension === null) {
            return self::finite($value);
        }
        if ($dimension !== ($this->kind === null ? [] : [$this->kind => 1])) {
            throw $this->error(
                'This is '.
                    self::named($dimension).
                    ', and '.
                    self::named($this->kind === null ? [] : [$this->kind => 1]).
                    ' is wanted here.',
                0,
            );
        }

        return self::finite($value / $this->worth);
    }

    /** @param  array<string, int>  $dimension */
    private static function named(array $dimension): string
    {
        if ($dimension === []) {
            return 'a plain number';
        }
        $kind = (string) array_key_first($dimension);

        return $dimension === [$kind => 1]
            ? (in_array($kind[0], ['a', 'i'], true) ? 'an ' : 'a ').$kind
            : 'a product or quotient of units';
    }

    /** A mistake at a place of the text in bytes, told in characters. */
    private function error(string $message, ?int $at = null): ArithmeticError
    {
        return ArithmeticError::at(mb_strlen(mb_strcut($this->text, 0, $at ?? $this->at)), $message);
    }

    /**
     * @return array{float, array<string, int>|null} the value in the first unit of its kind, and the power of each
     *     kind in it; null: a bare number
     */
    private function sum(): array
    {
        [$value, $dimension] = $this->product();
        while (($sign = $this->take('+-')) !== null) {
            $at = $this->signAt;
            [$right, $rightDimension] = $this->product();
            if ($dimension === null && $rightDimension !== null) {
                [$value, $dimension] = $this->asLike($value, $rightDimension);
            } elseif ($rightDimension === null && $dimension !== null) {
                [$right, $rightDimension] = $this->asLike($right, $dimension);
            }
            if ($dimension !== $rightDimension) {
                throw $this->error(
                    ucfirst(self::named($dimension ?? [])).
                        ' and '.
                        self::named($rightDimension ?? []).
                        ' can\'t be added.',
                    $at,
                );
            }
            $value = $sign === '+' ? $value + $right : $value - $right;
        }

        return [$value, $dimension];
    }

    /**
     * A bare number beside one that has a unit takes the field's own, where it is of that kind.
     *
     * @param  array<string, int>  $dimension
     * @return array{float, array<string, int>}
     */
    private function asLike(float $bare, array $dimension): array
    {
        $own = $dimension === ($this->kind === null ? [] : [$this->kind => 1]);

        return [$own ? $bare * $this->worth : $bare, $dimension];
    }

    /** @return array{float, array<string, int>|null} */
    private function product(): array
    {
        [$value, $dimension] = $this->signed();
        while (($sign = $this->take('*/')) !== null) {
            $at = $this->at;
            [$right, $rightDimension] = $this->signed();
            if ($sign === '/' && $right == 0.0) {
                throw $this->error('This divides by zero.', $at);
            }
            $value = $sign === '*' ? $value * $right : $value / $right;
            if ($dimension === null && $rightDimension === null) {
                continue;
            }
            $dimension ??= [];
            foreach ($rightDimension ?? [] as $kind => $power) {
                $dimension[$kind] = ($dimension[$kind] ?? 0) + ($sign === '*' ? $power : -$power);
            }
            $dimension = array_filter($dimension);
            ksort($dimension);
        }

        return [$value, $dimension];
    }

    /** @return array{float, array<string, int>|null} */
    private function signed(): array
    {
        $sign = $this->take('+-');
        [$value, $dimension] = $this->atom();

        return [$sign === '-' ? -$value : $value, $dimension];
    }

    /** @return array{float, array<string, int>|null} */
    private function atom(): array
    {
        if ($this->take('(') !== null) {
            $open = $this->signAt;
            [$value, $dimension] = $this->sum();
            if ($this->take(')') === null) {
                throw $this->error('This bracket is never closed.', $open);
            }
            $at = $this->at;
            $unit = $this->unit();
            if ($unit !== null && $dimension !== null) {
                throw $this->error('What stands in the brackets has a unit already.', $at);
            }

            return $unit === null ? [$value, $dimension] : $this->measured($value, $unit);
        }
        $value =
            $this->number() ??
            throw $this->error(
                $this->at >= strlen($this->text) ? 'A number is missing at the end.' : 'A number is wanted here.',
                min($this->at, strlen($this->text)),
            );
        $unit = $this->unit();
        if ($unit === null) {
            return [$value, null];
        }
        [$measure, $dimension] = $this->measured($value, $unit);
        // 5'6", 5' 6 1/2", 5'-6": a hyphen without spaces joins, as on drawings.
        if (
            ($unit === "'" || $unit === 'ft') &&
            preg_match(
                '~\G(?:-(?=\S))?(\d+(?:\.\d*)?|\.\d+)(?:[ ]+(\d+)/([1-9]\d*)|/([1-9]\d*))?\s*(?:in(?![a-zA-Z])|")\s*~',
                $this->text,
                $m,
                0,
                $this->at,
            ) === 1
        ) {
            $this->at += strlen($m[0]);
            $inches = (float) $m[1];
            if (($m[4] ?? '') !== '') {
                $inches /= (int) $m[4];
            } elseif (($m[2] ?? '') !== '') {
                $inches += (int) $m[2] / (int) ($m[3] ?? 1);
            }
            $measure += $inches * self::KINDS['length']['in'];
        }

        return [$measure, $dimension];
    }

    /** @return array{float, array<string, int>} */
    private function measured(float $value, string $unit): array
    {
        return match ($unit) {
            '%' => [$value / 100, []],
            'px' => [$value, []],
            default => [$value * $this->units[$unit][1], [$this->units[$unit][0] => 1]],
        };
    }

    /** A number; also a fraction before a unit (1/2 in, 3 1/2"), which no quotient of a length is ever meant by. */
    private function number(): ?float
    {
        $this->space();
        if (
            preg_match('~\G(?:(\d+)[ ]+)?(\d+)/([1-9]\d*)\s*~', $this->text, $m, 0, $this->at) === 1 &&
            $this->unitAt($this->at + strlen($m[0])) !== null
        ) {
            $this->at += strlen($m[0]);

            return (float) $m[1] + (int) $m[2] / (int) $m[3];
        }
        if (preg_match('/\G'.self::NUMBER.'/', $this->text, $m, 0, $this->at) !== 1) {
            return null;
        }
        $from = $this->at;
        $this->at += strlen($m[0]);
        $this->space();

        return is_finite((float) $m[0]) ? (float) $m[0] : throw $this->error('This is too large a number.', $from);
    }

    private function unitAt(int $at): ?string
    {
        return preg_match($this->pattern, $this->text, $m, 0, $at) === 1 ? $m[1] : null;
    }

    private function unit(): ?string
    {
        $unit = $this->unitAt($this->at);
        if ($unit !== null) {
            $this->at += strlen($unit);
            $this->space();

            return $unit;
        }
        if (preg_match('/\G[a-zA-Zµ²³]+/u', $this->text, $m, 0, $this->at) === 1) {
            throw $this->error("\"$m[0]\" is no unit that is known here.");
        }

        return null;
    }

    private function take(string $signs): ?string
    {
        $this->space();
        $sign = $this->text[$this->at] ?? '';
        if ($sign === '' || ! str_contains($signs, $sign)) {
            return null;
        }
        $this->signAt = $this->at++;
        $this->space();

        return $sign;
    }

    private function space(): void
    {
        $this->at += strspn($this->text, " \t", $this->at);
    }
}

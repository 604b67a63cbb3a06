<?php

declare(strict_types=1);

namespace Core\Units;

/**
 * Arithmetic as people type it into a number field: + - * / and brackets, lengths in mm, cm, m, km, in, ft (also ' and "),
 * px for counts, % and, with a leading sign and a per cent, a change of the present value.
 * A length divided by a length is a count. A bare number takes the field's own unit.
 */
final class Arithmetic
{
    private const METRES = ['mm' => 0.001, 'cm' => 0.01, 'm' => 1.0, 'km' => 1000.0, 'in' => 0.0254, '"' => 0.0254, 'ft' => 0.3048, "'" => 0.3048];

    /** Units that a field may have: a length, or one of these counts. */
    private const COUNTS = ['', 'px', '%', 'deg', 's', 'kg', 'W', 'V', 'A', 'Hz', 'Mb'];

    private int $at = 0;

    private int $signAt = 0;

    private function __construct(private readonly string $text, private readonly string $unit)
    {
    }

    /**
     * @param  string  $unit  the field's unit: mm, cm, m, km, in, ft, or a count: "", px, %, deg, s, kg, W, V, A, Hz, Mb
     * @param  float|null  $present  the present value in that unit, for "+10%"
     * @return float the result in the field's unit
     *
     * @throws ArithmeticError pointing at the character
     */
    public static function evaluate(string $text, string $unit = '', ?float $present = null): float
    {
        if (! isset(self::METRES[$unit]) && ! in_array($unit, self::COUNTS, true)) {
            throw Refused::notOneOf('unit', $unit, [...array_keys(self::METRES), ...self::COUNTS]);
        }
        if (strlen($text) > 500) {
            throw ArithmeticError::at(500, 'This is longer than 500 characters.');
        }
        $text = strtr($text, ['×' => '*', '·' => '*', '÷' => '/', '−' => '-', '’' => "'", '′' => "'", '″' => '"', '”' => '"']);
        if (preg_match('/^\s*([+-])\s*(\d+(?:\.\d+)?|\.\d+)\s*%\s*$/', $text, $m) === 1 && $present !== null) {
            return $present + ($m[1] === '-' ? -1 : 1) * $present * (float) $m[2] / 100;
        }

        return (new self($text, $unit))->result();
    }

    private function result(): float
    {
        $this->space();
        if ($this->at >= strlen($this->text)) {
            throw ArithmeticError::at(0, 'Type a number.');
        }
        [$value, $dimension] = $this->sum();
        if ($this->at < strlen($this->text)) {
            throw ArithmeticError::at($this->at, 'This can\'t be read from "'.mb_strcut($this->text, $this->at, 12).'" on.');
        }
        $scale = self::METRES[$this->unit] ?? null;
        if ($dimension === null) {
            return $value;
        }
        if ($scale !== null) {
            return $dimension === 1
                ? $value / $scale
                : throw ArithmeticError::at(0, $dimension === 0 ? 'This is a count, and a length is wanted here.' : 'This is no length: lengths are multiplied or divided too often.');
        }

        return $dimension === 0 ? $value : throw ArithmeticError::at(0, 'This is a length, and a plain number is wanted here.');
    }

    /** @return array{float, int|null} the value (lengths in metres) and the power of length in it; null: a bare number */
    private function sum(): array
    {
        [$value, $dimension] = $this->product();
        while (($sign = $this->take('+-')) !== null) {
            $at = $this->signAt;
            [$right, $rightDimension] = $this->product();
            if ($dimension !== $rightDimension) {
                if ($dimension === null) {
                    [$value, $dimension] = $this->asLike($value, $rightDimension);
                } elseif ($rightDimension === null) {
                    [$right, $rightDimension] = $this->asLike($right, $dimension);
                }
                if ($dimension !== $rightDimension) {
                    throw ArithmeticError::at($at, 'A length and a count can\'t be added.');
                }
            }
            $value = $sign === '+' ? $value + $right : $value - $right;
        }

        return [$value, $dimension];
    }

    /** @return array{float, int|null} */
    private function asLike(float $bare, ?int $dimension): array
    {
        return $dimension === 1 ? [$bare * (self::METRES[$this->unit] ?? 1.0), 1] : [$bare, $dimension];
    }

    /** @return array{float, int|null} */
    private function product(): array
    {
        [$value, $dimension] = $this->signed();
        while (($sign = $this->take('*/')) !== null) {
            $at = $this->at;
            [$right, $rightDimension] = $this->signed();
            if ($sign === '/' && $right == 0.0) {
                throw ArithmeticError::at($at, 'This divides by zero.');
            }
            $value = $sign === '*' ? $value * $right : $value / $right;
            if ($dimension !== null || $rightDimension !== null) {
                $dimension = ($dimension ?? 0) + ($sign === '*' ? 1 : -1) * ($rightDimension ?? 0);
            }
        }

        return [$value, $dimension];
    }

    /** @return array{float, int|null} */
    private function signed(): array
    {
        $sign = $this->take('+-');
        [$value, $dimension] = $this->atom();

        return [$sign === '-' ? -$value : $value, $dimension];
    }

    /** @return array{float, int|null} */
    private function atom(): array
    {
        if ($this->take('(') !== null) {
            $open = $this->signAt;
            $inner = $this->sum();
            if ($this->take(')') === null) {
                throw ArithmeticError::at($open, 'This bracket is never closed.');
            }

            return $inner;
        }
        $value = $this->number() ?? throw ArithmeticError::at(min($this->at, strlen($this->text)), $this->at >= strlen($this->text) ? 'A number is missing at the end.' : 'A number is wanted here.');
        $unit = $this->unit();
        if ($unit === '%') {
            return $this->unit === '%' ? [$value, null] : [$value / 100, 0];
        }
        if ($unit === 'px') {
            return [$value, 0];
        }
        if ($unit === null) {
            return [$value, null];
        }
        $metres = $value * self::METRES[$unit];
        if ($unit === "'" || $unit === 'ft') {
            if (preg_match('/\G\s*(\d+(?:\.\d*)?|\.\d+)\s*(?:in(?![a-z])|")\s*/', $this->text, $m, 0, $this->at) === 1) {
                $this->at += strlen($m[0]);

                return [$metres + (float) $m[1] * self::METRES['in'], 1];
            }
        }

        return [$metres, 1];
    }

    private function number(): ?float
    {
        $this->space();
        if (preg_match('/\G(?:\d+(?:\.\d*)?|\.\d+)/', $this->text, $m, 0, $this->at) !== 1) {
            return null;
        }
        $this->at += strlen($m[0]);
        $this->space();

        return (float) $m[0];
    }

    private function unit(): ?string
    {
        if (preg_match('/\G(mm|cm|km|m|in|ft|px|%|"|\')(?![a-z])/', $this->text, $m, 0, $this->at) === 1) {
            $this->at += strlen($m[1]);
            $this->space();

            return $m[1];
        }
        if (preg_match('/\G[a-zA-Z]+/', $this->text, $m, 0, $this->at) === 1) {
            throw ArithmeticError::at($this->at, "\"$m[0]\" is no unit that is known here.");
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
        $this->at += strspn($this->text, " \t\u{a0}", $this->at);
    }
}

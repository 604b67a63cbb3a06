<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Units\Arithmetic;
use Core\Units\ArithmeticError;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Core\Units\Timecode;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class UnitsTest extends TestCase
{
    public function test_a_frame_of_every_rate_and_a_sample_of_every_usual_sound_is_a_whole_number_of_flicks(): void
    {
        foreach (FrameRate::names() as $name) {
            $rate = FrameRate::of($name);
            self::assertSame(Flicks::PER_SECOND * $rate->denominator, $rate->flicksPerFrame * $rate->numerator, $name);
        }
        foreach ([44_100, 48_000, 96_000] as $samples) {
            self::assertSame(0, Flicks::PER_SECOND % $samples);
        }
    }

    public function test_nanoseconds_become_flicks_without_overflow_or_drift(): void
    {
        self::assertSame(Flicks::PER_SECOND, Flicks::fromNanoseconds(1_000_000_000));
        self::assertSame(Flicks::PER_SECOND * 86_400 * 400, Flicks::fromNanoseconds(1_000_000_000 * 86_400 * 400));
        self::assertSame(0, Flicks::fromNanoseconds(1));
        self::assertSame(7, Flicks::fromNanoseconds(10));
    }

    /**
     * @return list<array{string, int, string}> rate, frame, text; drop-frame figures from the definition in SMPTE ST
     *     12-1
     */
    public static function timecodes(): array
    {
        return [
            ['25', 0, '00:00:00:00'],
            ['25', 24, '00:00:00:24'],
            ['25', 90_000, '01:00:00:00'],
            ['25', 305, '00:00:12:05'],
            ['29.97', 1799, '00:00:59;29'],
            ['29.97', 1800, '00:01:00;02'],
            ['29.97', 17_981, '00:09:59;29'],
            ['29.97', 17_982, '00:10:00;00'],
            ['29.97', 107_892, '01:00:00;00'],
            ['59.94', 3599, '00:00:59;59'],
            ['59.94', 3600, '00:01:00;04'],
            ['59.94', 35_964, '00:10:00;00'],
            ['23.976', 86_400, '01:00:00:00'],
            ['120', 119, '00:00:00:119'],
            ['50', -1, '-00:00:00:01'],
        ];
    }

    #[DataProvider('timecodes')]
    public function test_timecode_is_written_and_read_both_ways(string $rateName, int $frame, string $text): void
    {
        $rate = FrameRate::of($rateName);
        self::assertSame($text, Timecode::format($frame * $rate->flicksPerFrame, $rate));
        self::assertSame($frame * $rate->flicksPerFrame, Timecode::parse($text, $rate));
    }

    public function test_drop_frame_timecode_names_each_frame_of_half_an_hour_once(): void
    {
        foreach (['29.97', '59.94'] as $name) {
            $rate = FrameRate::of($name);
            $last = '';
            for ($frame = 0; $frame < 54_000; $frame += 7) {
                $text = Timecode::format($frame * $rate->flicksPerFrame, $rate);
                self::assertGreaterThan($last, $text);
                self::assertSame($frame * $rate->flicksPerFrame, Timecode::parse($text, $rate), $text);
                $last = $text;
            }
        }
    }

    public function test_short_timecode_and_seconds_are_understood(): void
    {
        $rate = FrameRate::of('25');
        self::assertSame((12 * 25 + 5) * $rate->flicksPerFrame, Timecode::parse('12:05', $rate));
        self::assertSame(Flicks::fromSeconds(1.5), Timecode::parse('1.5', $rate));
        self::assertSame(Flicks::fromSeconds(90), Timecode::parse('90s', $rate));
    }

    public function test_times_are_typed_as_sums_with_units_and_from_what_is_there(): void
    {
        $s = Flicks::PER_SECOND;
        $rate = FrameRate::of('25');
        $frame = $rate->flicksPerFrame;
        foreach (
            [
                ['01:00:00:00 + 2s', 3602 * $s],
                ['2min', 120 * $s],
                ['1h', 3600 * $s],
                ['250ms', intdiv($s, 4)],
                ['1h - 30 min', 1800 * $s],
                ['10:00 + 5', 10 * $s + 5 * $frame],
                ['3 * 2s', 6 * $s],
                ['10s / 4', intdiv(5 * $s, 2)],
                ['1.5', intdiv(3 * $s, 2)],
                ['90s', 90 * $s],
                ['-00:00:01:00', -$s],
                ['2 s * 3 / 2', 3 * $s],
                ['+12', 10 * $s + 12 * $frame, 10 * $s],
                ['+2s', 12 * $s, 10 * $s],
                ['- 1:00', 9 * $s, 10 * $s],
                ['−1s', 9 * $s, 10 * $s],
                ['*2', 20 * $s, 10 * $s],
                ['/4', intdiv(5 * $s, 2), 10 * $s],
                ['*1/2', 5 * $s, 10 * $s],
                ['=12', 12 * $frame, 10 * $s],
                ['+1h - 10min', 3010 * $s, 10 * $s],
                ['00:00:05:00', 5 * $s, 10 * $s],
            ] as $one
        ) {
            self::assertSame($one[1], Timecode::evaluate($one[0], $rate, $one[2] ?? null), $one[0]);
        }
        self::assertSame(
            Timecode::parse('00:01:00;02', FrameRate::of('29.97')) + 2 * $s,
            Timecode::evaluate('00:01:00;02 + 2s', FrameRate::of('29.97')),
        );
        foreach (
            [
                '',
                '+',
                '1h +',
                'noon + 2s',
                '2 furlongs',
                '10s / 0',
                '2s * 3s',
                '*x',
                '99999999h',
                str_repeat('1+', 150),
                '2s 3s',
                '1e5s',
            ] as $bad
        ) {
            try {
                Timecode::evaluate($bad, $rate, 10 * $s);
                self::fail("\"$bad\" was taken.");
            } catch (InvalidValue $refused) {
                self::assertSame('timecode', $refused->field, $bad);
            }
        }
    }

    /** @return list<array{string, string}> */
    public static function badTimecodes(): array
    {
        return [
            ['25', '00:00:00:25'],
            ['25', '00:61:00:00'],
            ['29.97', '00:01:00;00'],
            ['59.94', '00:01:00;03'],
            ['25', 'noon'],
            ['25', ''],
            ['25', '1:2:3:4:5'],
        ];
    }

    #[DataProvider('badTimecodes')]
    public function test_impossible_timecode_is_refused_in_words(string $rate, string $text): void
    {
        $this->expectException(InvalidValue::class);
        Timecode::parse($text, FrameRate::of($rate));
    }

    /** @return list<array{string, string, float|null, float}> text, unit, present, result */
    public static function sums(): array
    {
        return [
            ['9m / 2.5mm', '', null, 3600.0],
            ['1920/4', 'px', null, 480.0],
            ['12ft', 'm', null, 3.6576],
            ['26\'3"', 'm', null, 8.001],
            ['+10%', '', 50.0, 55.0],
            ['-10%', 'm', 2.0, 1.8],
            ['2 * (3 + 4)', '', null, 14.0],
            ['1m + 20', 'mm', null, 1020.0],
            ['-5', '', 3.0, -5.0],
            ['50%', '%', null, 50.0],
            ['50%', '', null, 0.5],
            ['1.5', 'm', null, 1.5],
            ['500', 'mm', null, 500.0],
            ['10in', 'mm', null, 254.0],
            ['3 × 4', '', null, 12.0],
            ['1m', 'mm', null, 1000.0],
            ['.5', '', null, 0.5],
            ['2m*3m/6m', 'm', null, 1.0],
            ['--3', '', null, 3.0],
            ['50% * 50%', '%', null, 25.0],
            ['50% + 10', '%', null, 60.0],
            ['2 * 50%', '%', null, 100.0],
            ['1/4', '%', null, 0.25],
            ['+10%', '%', 50.0, 55.0],
            ['-10%', '%', 50.0, 45.0],
            ['0-10%', '%', 50.0, -10.0],
            ['1/2 in', 'mm', null, 12.7],
            ['3 1/2"', 'in', null, 3.5],
            ['5\'-6"', 'in', null, 66.0],
            ['5\'-6 1/2"', 'in', null, 66.5],
            ['5\' 1/2"', 'in', null, 60.5],
            ['5\' - 6"', 'in', null, 54.0],
            ['5\'6"', 'in', null, 66.0],
            ['1/2 m', 'm', null, 0.5],
            ['45°', 'deg', null, 45.0],
            ['90 + 45°', 'deg', null, 135.0],
            ['1 rad', 'deg', null, 57.29577951308232],
            ['5 kg', 'kg', null, 5.0],
            ['500 g', 'kg', null, 0.5],
            ['10 lb', 'kg', null, 4.5359237],
            ['12 kg / 4 kg', '', null, 3.0],
            ['(2+3) m', 'm', null, 5.0],
            ['(2+3)*2 m', 'm', null, 10.0],
            ['12000 lm', 'lm', null, 12_000.0],
            ['12 klm', 'lm', null, 12_000.0],
            ['1500 cd/m²', 'cd/m²', null, 1500.0],
            ['1500', 'cd', null, 1500.0],
            ['3 kW / 6', 'W', null, 500.0],
            ['1.5 s + 250 ms', 's', null, 1.75],
            ['/2', 'm', 3.0, 1.5],
            ['*0.5', 'm', 3.0, 1.5],
            ['+5', 'm', 3.0, 8.0],
            ['=7', 'm', 3.0, 7.0],
            ['+10% * 2', '%', 3.0, 23.0],
            ['+50cm', 'm', 3.0, 3.5],
            ['=-7', 'm', 3.0, -7.0],
            ['+5', 'm', null, 5.0],
            ['× 1/2', '', 50.0, 25.0],
            ['2e3', 'px', null, 2000.0],
            ['120 px/m', 'px/m', null, 120.0],
            ['1920px/12m', 'px', null, NAN],
            ['0.2 px/mm', 'px/m', null, 200.0],
            ['1920 px/12', 'px', null, 160.0],
            ['5 m + 20 %', '', null, NAN],
            ['6 × 1,5', '', null, NAN],
        ];
    }

    #[DataProvider('sums')]
    public function test_arithmetic_with_units(string $text, string $unit, ?float $present, float $result): void
    {
        if ($text === '--3' || is_nan($result)) {
            $this->expectException(ArithmeticError::class);
        }
        self::assertEqualsWithDelta($result, Arithmetic::evaluate($text, $unit, $present), 1e-9);
    }

    /** @return list<array{string, string, int}> text, unit, the character that is wrong */
    public static function badSums(): array
    {
        return [
            ['3 × × 4', '', 4],
            ['2 × 3 ÷ 0', '', 8],
            ['ü', '', 0],
            ['2,5', 'm', 1],
            ['3 m + 5 kg', 'm', 4],
            ['(2 m) m', 'm', 6],
            [str_repeat('9', 400), '', 0],
            ['9e307 * 9e307', '', 0],
            ['5 m² ', 'm', 2],
            ['8m / 0', 'm', 5],
            ['2 +', '', 3],
            ['(1 + 2', '', 0],
            ['5 furlongs', 'm', 2],
            ['1m + 2px', 'm', 3],
            ['', 'm', 0],
            ['3m', '', 0],
            ['1 2', '', 2],
            ['2m*2m', 'm', 0],
        ];
    }

    public function test_what_is_typed_is_worked_out_from_what_is_there_by_one_rule(): void
    {
        foreach (
            [
                [50, '+5', '', 55],
                [50, '+=5', '', 55],
                [50, '-5', '', -5],
                [50, '−5', '', -5],
                [50, '-=5', '', 45],
                [50, ' − = 5', '', 45],
                [50, '-=-5', '', 55],
                [50, '*2', '', 100],
                [50, '*= 2', '', 100],
                [50, '× 1/2', '', 25],
                [50, '/4', '', 12.5],
                [50, '÷=4', '', 12.5],
                [50, '+10%', '%', 55],
                [50, '−10 %', '%', 45],
                [50, '-=10%', '%', 40],
                [50, '=-5', '', -5],
                [50, '7', '', 7],
                [2, '+50cm', 'm', 2.5],
                [2, '-=50cm', 'm', 1.5],
                [2, '=50cm', 'm', 0.5],
                [3, '+10%*2', '%', 23],
            ] as [$present, $text, $unit, $result]
        ) {
            self::assertEqualsWithDelta($result, Arithmetic::evaluate($text, $unit, $present), 1e-12, $text);
        }
        foreach ([['/0', 1], [' *', 2], ['+2 kg', 1], ['=', 1], ['*x', 1], ['-=x', 2], ['- = ', 3]] as [$text, $at]) {
            try {
                Arithmetic::evaluate($text, 'm', 5);
                self::fail("\"$text\" was taken.");
            } catch (ArithmeticError $error) {
                self::assertSame($at, $error->at, "$text: {$error->getMessage()}");
            }
        }
    }

    #[DataProvider('badSums')]
    public function test_wrong_arithmetic_points_at_the_character(string $text, string $unit, int $at): void
    {
        try {
            Arithmetic::evaluate($text, $unit);
            self::fail("\"$text\" was taken.");
        } catch (ArithmeticError $error) {
            self::assertSame($at, $error->at, $error->getMessage());
        }
    }
}

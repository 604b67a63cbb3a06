<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Action;
use Core\Bindings\DeviceLine;
use Core\Protocol\Malformed;
use Core\Protocol\Osc;
use Core\Protocol\PjLink;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PjLinkTest extends TestCase
{
    public function test_commands_and_answers_of_class_2(): void
    {
        self::assertSame(
            [
                "%2FREZ 1\r",
                "%2FREZ 0\r",
                "%2FREZ ?\r",
                "%1INPT 31\r",
                "%2INPT 6Z\r",
                "%2INPT ?\r",
                "%2FILT ?\r",
                "%1INST ?\r",
            ],
            [
                PjLink::freeze(true),
                PjLink::freeze(false),
                PjLink::freeze(null),
                PjLink::input('31'),
                PjLink::input('6Z', 2),
                PjLink::input(null, 2),
                PjLink::ask('filter'),
                PjLink::ask('inputs'),
            ],
        );
        self::assertSame(
            [['frozen' => true], ['input' => '3A'], ['inputs' => ['11', '31']], ['filter' => 120]],
            array_map(
                static fn (string $line): array => array_diff_key(PjLink::answer($line), ['command' => 0, 'fault' => 0]),
                ['%2FREZ=1', '%2INPT=3A', '%1INST=11 31', '%2FILT=120'],
            ),
        );
        foreach (['%2FREZ=2', '%2INPT=03', '%1INST=', '%2FILT=x'] as $line) {
            try {
                PjLink::answer($line);
                self::fail("$line was taken.");
            } catch (Malformed $malformed) {
                self::assertNotSame('', $malformed->getMessage());
            }
        }
        foreach ([['6A', 1], ['3A', 1], ['70', 2], ['3', 2]] as [$input, $class]) {
            try {
                PjLink::input($input, $class);
                self::fail("$input was taken.");
            } catch (Malformed $malformed) {
                self::assertStringContainsString($input, $malformed->getMessage());
            }
        }
        self::assertSame(
            ['0A:1B:2C:3D:4E:5F', null, null],
            array_map(PjLink::found(...), ["%2ACKN=0a:1b:2c:3d:4e:5f\r", '%2ACKN=0a:1b', '%2SRCH']),
        );
        self::assertSame(['Digital 1', 'Internal A'], [PjLink::inputName('31'), PjLink::inputName('6A')]);
    }

    public function test_the_password_goes_as_in_the_standards_example(): void
    {
        self::assertSame(
            '5d8409bc1c3fa39749434aa3a5c38682',
            PjLink::authentication('PJLINK 1 498e4a67', 'JBMIAProjectorLink'),
        );
        self::assertSame('', PjLink::authentication('PJLINK 0', 'whatever'));
        foreach (
            ['PJLINK 1 498e4a67' => '', 'PJLINK ERRA' => 'x', 'HELLO' => 'x', 'PJLINK 2' => 'x', '' => 'x'] as $greeting => $password
        ) {
            try {
                PjLink::authentication($greeting, $password);
                self::fail("$greeting was taken.");
            } catch (Malformed $malformed) {
                self::assertNotSame('', $malformed->getMessage());
            }
        }
    }

    public function test_commands_are_written_as_the_standard_has_them(): void
    {
        self::assertSame(
            ["%1POWR 1\r", "%1POWR 0\r", "%1POWR ?\r"],
            array_map(PjLink::power(...), [true, false, null]),
        );
        self::assertSame(
            ["%1AVMT 31\r", "%1AVMT 30\r", "%1AVMT ?\r"],
            array_map(PjLink::shutter(...), [true, false, null]),
        );
        self::assertSame("%1ERST ?\r", PjLink::ask('errors'));
    }

    #[DataProvider('answers')]
    public function test_answers_are_read(string $line, array $expected): void
    {
        self::assertSame($expected, PjLink::answer($line));
    }

    public static function answers(): array
    {
        $of = static fn (string $command, array $more = [], ?string $fault = null): array => [
            'command' => $command,
            'fault' => $fault,
        ] + $more;

        return [
            ['%1POWR=OK', $of('POWR')],
            ['%1POWR=0', $of('POWR', ['power' => 'off'])],
            ['%1POWR=1', $of('POWR', ['power' => 'on'])],
            ['%1POWR=2', $of('POWR', ['power' => 'cooling'])],
            ['%1POWR=3', $of('POWR', ['power' => 'warming'])],
            ['%1POWR=ERR3', $of('POWR', fault: 'It can\'t do that now.')],
            ['%1AVMT=31', $of('AVMT', ['shut' => true])],
            ['%1AVMT=11', $of('AVMT', ['shut' => true])],
            ['%1AVMT=21', $of('AVMT', ['shut' => false])],
            ['%1AVMT=30', $of('AVMT', ['shut' => false])],
            ['%1LAMP=1234 1 56 0', $of('LAMP', ['hours' => [1234, 56]])],
            ['%1ERST=000000', $of('ERST', ['errors' => []])],
            ['%1ERST=010002', $of('ERST', ['errors' => ['lamp' => 'warning', 'other' => 'error']])],
            ['%1NAME=Left', $of('NAME', ['name' => 'Left'])],
            ['%1CLSS=2', $of('CLSS', ['class' => 2])],
            ['%2FREZ=OK', $of('FREZ')],
            ['PJLINK ERRA', $of('', fault: 'The password is wrong.')],
        ];
    }

    public function test_what_is_no_answer_is_malformed(): void
    {
        mt_srand(5);
        foreach (
            [
                '',
                '%1POWR',
                '%1POWR=7',
                '%3POWR=1',
                '%1LAMP=x 1',
                '%1LAMP=1',
                '%1ERST=00000',
                '%1AVMT=41',
                'POWR=1',
                '%1POWR='.str_repeat('1', 200),
            ] as $line
        ) {
            try {
                PjLink::answer($line);
                self::fail("\"$line\" was taken.");
            } catch (Malformed) {
                continue;
            }
        }
        for ($i = 0, $bad = 0; $i < 20_000; $i++) {
            try {
                PjLink::answer((mt_rand(0, 1) === 1 ? '%1POWR=' : '').random_bytes(mt_rand(1, 30)));
            } catch (Malformed) {
                $bad++;
            }
        }
        self::assertGreaterThan(15_000, $bad);
    }

    public function test_lines_to_devices_are_read_and_refused_in_words(): void
    {
        $line = DeviceLine::parse('tcp 10.0.0.5:9000 hello \x41\\\\ there\r\n');
        self::assertSame(['tcp', '10.0.0.5:9000', "hello A\\ there\r\n"], [$line->protocol, $line->to, $line->bytes]);
        self::assertSame(
            Osc::encode('/go', [1, 0.5, 'two words']),
            DeviceLine::parse('osc desk.local:8000 /go 1 0.5 "two words"')->bytes,
        );
        $midi = DeviceLine::parse('midi "Fader box" 90 3c 7F F0 7F 01 F7');
        self::assertSame(['Fader box', "\x90\x3C\x7F\xF0\x7F\x01\xF7"], [$midi->to, $midi->bytes]);
        foreach (['midi Box', 'midi Box 9', 'midi Box 3C 7F', 'midi Box 90 3C', 'midi Box zz', 'midi'] as $wrong) {
            try {
                DeviceLine::parse($wrong);
                self::fail("$wrong was taken.");
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
        self::assertSame('{"a": 1}', DeviceLine::parse('http http://10.0.0.5:80/x?y=1 {"a": 1}')->bytes);
        foreach (
            [
                '',
                'fax 1:2 x',
                'udp 10.0.0.5 x',
                'udp 10.0.0.5:0 x',
                'udp 10.0.0.5:70000 x',
                'udp 10.0.0.5:1',
                'osc 10.0.0.5:1 go',
                'http ftp://x',
                'http http:// x',
                'udp a:1 '.str_repeat('x', 1001),
            ] as $bad
        ) {
            try {
                DeviceLine::parse($bad);
                self::fail("$bad was taken.");
            } catch (InvalidValue $refused) {
                self::assertSame('target', $refused->field);
            }
        }
    }

    public function test_a_cue_does_what_fires_no_cues(): void
    {
        self::assertSame(
            [
                ['action' => 'shutter', 'on' => true, 'projector' => 'House left'],
                ['action' => 'power', 'on' => false],
                ['action' => 'send', 'line' => 'udp 10.0.0.5:9000 on\r'],
                ['action' => 'rate', 'rate' => 0.5],
            ],
            Action::ofCue("shutter 1 \"House left\"\n\npower 0\n send udp 10.0.0.5:9000 on\\r \nrate 0.5"),
        );
        foreach (['fire 2', 'go', 'back', 'release', 'panic 1', 'page 2', 'drive Main', 'sing'] as $bad) {
            try {
                Action::ofCue($bad);
                self::fail("$bad was taken.");
            } catch (InvalidValue) {
                continue;
            }
        }
        $this->expectExceptionMessage('at most 32');
        Action::ofCue(str_repeat("hold\n", 33));
    }
}

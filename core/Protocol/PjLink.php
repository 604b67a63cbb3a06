<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * PJLink, classes 1 and 2: how projectors are switched and asked over TCP (port 4352), one command at a time, each
 * answered before the next. The greeting says whether a password is wanted; the first command then begins with the
 * MD5 of its random number and the password.
 */
final class PjLink
{
    public const PORT = 4352;

    /** The longest line that is taken: the standard's 136 bytes, and room for those that do otherwise. */
    public const LONGEST = 1024;

    private const ERRORS = [
        'ERR1' => 'It does not know this command.',
        'ERR2' => 'It does not take this parameter.',
        'ERR3' => 'It can\'t do that now.',
        'ERR4' => 'It reports a failure of its own.',
        'ERRA' => 'The password is wrong.',
    ];

    private const POWER = ['off', 'on', 'cooling', 'warming'];

    /** Kinds of inputs. */
    private const INPUTS = [
        '1' => 'RGB',
        '2' => 'Video',
        '3' => 'Digital',
        '4' => 'Storage',
        '5' => 'Network',
        '6' => 'Internal',
    ];

    /** What an error status is about, in its order. */
    private const PARTS = ['fan', 'lamp', 'temperature', 'cover', 'filter', 'other'];

    /** The command that switches the power, or asks for it. */
    public static function power(?bool $on): string
    {
        return '%1POWR '.($on === null ? '?' : ($on ? '1' : '0'))."\r";
    }

    /** The command that shuts picture and sound, or asks whether they are. */
    public static function shutter(?bool $isShut): string
    {
        return '%1AVMT '.($isShut === null ? '?' : ($isShut ? '31' : '30'))."\r";
    }

    /** The command that freezes the picture, or asks whether it is (class 2). */
    public static function freeze(?bool $isFrozen): string
    {
        return '%2FREZ '.($isFrozen === null ? '?' : ($isFrozen ? '1' : '0'))."\r";
    }

    /**
     * The command that takes an input, or asks which is taken.
     *
     * @param  string|null  $input  its kind and number, as in 31
     * @param  int  $class  of the projector: numbers beyond 9 are letters in class 2
     *
     * @throws Malformed for what is no input
     */
    public static function input(?string $input, int $class = 1): string
    {
        if ($input !== null && preg_match($class > 1 ? '/^[1-6][1-9A-Z]$/D' : '/^[1-5][1-9]$/D', $input) !== 1) {
            throw Malformed::because("there is no input $input");
        }

        return "%{$class}INPT ".($input ?? '?')."\r";
    }

    /** What people call an input. */
    public static function inputName(string $input): string
    {
        return (self::INPUTS[$input[0] ?? ''] ?? 'Input').' '.substr($input, 1);
    }

    /** What is sent to all of a network to find the projectors of class 2 there, over UDP. */
    public const SEARCH = "%2SRCH\r";

    /** The hardware address that a projector answers a search with; null for what is no such answer. */
    public static function found(string $packet): ?string
    {
        return preg_match('/^%2ACKN=((?:[0-9A-F]{2}:){5}[0-9A-F]{2})\r?$/iD', $packet, $m) === 1
            ? strtoupper($m[1])
            : null;
    }

    /** The command that asks for hours of lamps or of the filter, errors, the name, the class, or the inputs. */
    public static function ask(string $what): string
    {
        return $what === 'filter'
            ? "%2FILT ?\r"
            : '%1'.
                    match ($what) {
                        'lamp' => 'LAMP',
                        'errors' => 'ERST',
                        'name' => 'NAME',
                        'class' => 'CLSS',
                        'inputs' => 'INST',
                        default => throw new \InvalidArgumentException("A projector is not asked for $what."),
                    }.
                    " ?\r";
    }

    /**
     * What comes before the first command.
     *
     * @param  string  $greeting  the first line of the projector, without its end
     * @return string empty where no password is wanted
     *
     * @throws Malformed for what is no greeting, and where a password is wanted and none is given
     */
    public static function authentication(string $greeting, string $password): string
    {
        if (preg_match('/^PJLINK 0$/iD', $greeting) === 1) {
            return '';
        }
        if (preg_match('/^PJLINK ERRA$/iD', $greeting) === 1) {
            throw Malformed::because('the password is wrong');
        }
        if (preg_match('/^PJLINK 1 ([0-9a-fA-F]{8,16})$/iD', $greeting, $m) !== 1) {
            throw Malformed::because('it does not greet as a projector does');
        }

        return $password === '' ? throw Malformed::because('it wants a password') : md5($m[1].$password);
    }

    /**
     * What an answer says.
     *
     * @param  string  $line  without its end
     * @return array{command: string, fault: string|null, power?: string, shut?: bool, hours?: list<int>, errors?: array<string, string>, name?: string, class?: int, frozen?: bool, input?: string, inputs?: list<string>, filter?: int}
     *     command POWR, AVMT, …; power off, on, cooling or warming; errors warning or error by part, without those that are fine
     *
     * @throws Malformed
     */
    public static function answer(string $line): array
    {
        if (preg_match('/^PJLINK ERRA$/iD', $line) === 1) {
            return ['command' => '', 'fault' => self::ERRORS['ERRA']];
        }
        if (preg_match('/^%[12]([A-Z0-9]{4})=(.{0,128})$/iD', $line, $m) !== 1) {
            throw Malformed::because('it is no answer of a projector');
        }
        [$command, $said] = [strtoupper($m[1]), $m[2]];
        $fault = self::ERRORS[strtoupper($said)] ?? null;
        $found = ['command' => $command, 'fault' => $fault];
        if ($fault !== null || strtoupper($said) === 'OK') {
            return $found;
        }

        return $found +
            match ($command) {
                'POWR' => preg_match('/^[0-3]$/D', $said) === 1
                    ? ['power' => self::POWER[(int) $said]]
                    : throw Malformed::because("there is no power $said"),
                // 11 is the picture alone, 21 the sound alone, 31 both.
                'AVMT' => preg_match('/^[123][01]$/D', $said) === 1
                    ? ['shut' => $said[1] === '1' && $said[0] !== '2']
                    : throw Malformed::because("there is no shutter $said"),
                'LAMP' => preg_match('/^\d{1,5} [01](?: \d{1,5} [01]){0,7}$/D', $said) === 1
                    ? [
                        'hours' => array_map(
                            intval(...),
                            array_values(
                                array_filter(
                                    explode(' ', $said),
                                    static fn (int $i): bool => $i % 2 === 0,
                                    ARRAY_FILTER_USE_KEY,
                                ),
                            ),
                        ),
                    ]
                    : throw Malformed::because('there are no such hours of lamps'),
                'ERST' => preg_match('/^[012]{6}$/D', $said) === 1
                    ? [
                        'errors' => array_filter(
                            array_combine(
                                self::PARTS,
                                array_map(
                                    static fn (string $n): string => ['', 'warning', 'error'][(int) $n],
                                    str_split($said),
                                ),
                            ),
                        ),
                    ]
                    : throw Malformed::because('there is no such status of errors'),
                'NAME' => ['name' => mb_scrub($said)],
                'FREZ' => preg_match('/^[01]$/D', $said) === 1
                    ? ['frozen' => $said === '1']
                    : throw Malformed::because("there is no freeze $said"),
                'INPT' => preg_match('/^[1-6][1-9A-Z]$/D', $said) === 1
                    ? ['input' => $said]
                    : throw Malformed::because("there is no input $said"),
                'INST' => preg_match('/^[1-6][1-9A-Z](?: [1-6][1-9A-Z])*$/D', $said) === 1
                    ? ['inputs' => explode(' ', $said)]
                    : throw Malformed::because('there are no such inputs'),
                'FILT' => preg_match('/^\d{1,5}$/D', $said) === 1
                    ? ['filter' => (int) $said]
                    : throw Malformed::because('there are no such hours of the filter'),
                'CLSS' => ['class' => max(1, min(2, (int) $said))],
                default => [],
            };
    }
}

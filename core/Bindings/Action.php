<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\InvalidValue;

/**
 * A command as people write it: its name, and arguments in their order; texts of several words in quotes. `go`,
 * `jump 12.5`, `fire "Lanterns rise"`, `panic 1`; `page 2` turns to a page of the device.
 */
final readonly class Action
{
    /** Pages that a device has at most. */
    public const PAGES = 99;

    /** Commands that one cue gives. */
    private const OF_CUE = 32;

    /**
     * @param  array<string, mixed>|null  $command  as a window would send it; null where it turns a page
     * @param  int|null  $page  from 1
     */
    private function __construct(public ?array $command, public ?int $page)
    {
    }

    /** @throws InvalidValue with what there is, or how the command is written */
    public static function parse(string $text): self
    {
        $words = QuotedWords::of($text);
        $name = array_shift($words)[0] ?? '';
        if ($name === 'page') {
            $page = count($words) === 1 && preg_match('/^\d{1,2}$/D', $words[0][0]) === 1 ? (int) $words[0][0] : 0;

            return $page >= 1
                ? new self(null, $page)
                : throw InvalidValue::because('target', 'page takes the number of a page, 1 to '.self::PAGES.'.');
        }
        if ($name === Command::Send->value) {
            $line = trim(substr(trim($text), strlen($name)));
            DeviceLine::parse($line);

            return new self(['action' => $name, 'line' => $line], null);
        }
        $command = Command::tryFrom(preg_replace('~^/kite/~', '', $name) ?? '');
        if ($command === null || ! $command->isForControls()) {
            throw InvalidValue::because(
                'target',
                '"'.
                    mb_strimwidth($name, 0, 40, '…').
                    '" is no command; there are page, send, '.
                    implode(', ', array_map(static fn (Command $one): string => $one->value, Command::controls())).
                    '.',
            );
        }
        $given = array_map(
            static fn (array $word): int|float|string => ! $word[1] && is_numeric($word[0]) ? (float) $word[0] : $word[0],
            $words,
        );
        try {
            $as = $command->given($given);
        } catch (InvalidValue $refused) {
            throw InvalidValue::because('target', $refused->getMessage());
        }

        return new self($as ?? throw InvalidValue::because('target', "$name takes no 0."), null);
    }

    /**
     * What a cue does besides its values: a command a line, of those that fire no cues.
     *
     * @return list<array<string, mixed>> as windows would send them
     *
     * @throws InvalidValue
     */
    public static function ofCue(string $text): array
    {
        $found = [];
        foreach (preg_split('/\R/', $text) ?: [] as $line) {
            if (trim($line) === '') {
                continue;
            }
            $command = self::parse($line)->command;
            if ($command === null || Command::tryFrom((string) $command['action'])?->isForCues() !== true) {
                throw InvalidValue::because('target', trim($line).' is nothing that a cue does.');
            }
            $found[] = $command;
        }

        return count($found) <= self::OF_CUE
            ? $found
            : throw InvalidValue::because('target', 'A cue does at most '.self::OF_CUE.' things besides.');
    }
}

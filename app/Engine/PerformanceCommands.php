<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\Command;
use Core\Cues\Cue;
use Core\Units\Flicks;

/** Commands to one performance of a show: its transport, its cues, and what is held. */
final class PerformanceCommands
{
    /** How long a panic takes by itself, in seconds. */
    private const PANIC = 2;

    /**
     * @param  array<string, mixed>  $command
     * @param  int  $now  engine time
     * @param  int  $lead  flicks from now at which transport and cues take effect; values do half way there
     * @return string|null what is wrong with it
     */
    public static function perform(Performance $on, Command $of, array $command, int $now, int $lead): ?string
    {
        return match (true) {
            $of === Command::Live => is_array($command['values'] ?? null)
                ? $on->held->set(
                    $command['values'],
                    $now + intdiv($lead, 2),
                    HeldValues::fade($command['fade'] ?? null),
                )
                : 'Loose values are an object of numbers by address.',
            $of === Command::Bind => is_array($command['values'] ?? null)
                ? $on->held->bind(
                    $command['values'],
                    $now + intdiv($lead, 2),
                    (array) ($command['runs'] ?? []),
                    (array) ($command['fades'] ?? []),
                    $command['source'] ?? '' ?: 'console',
                )
                : 'What a control says is an object of numbers by address.',
            $of === Command::Clock => $on->hear($command, $now, $now + $lead),
            $of === Command::Cards => $on->setCards($command['surfaces'] ?? null),
            $of === Command::Drive => $on->drive($command['timeline'] ?? null),
            $of === Command::Advance, $of === Command::Go && ! isset($command['timeline']) => $on->go(
                $now + $lead,
                self::person($command),
            ),
            $of->isOfCues() => self::cue($on, $of, $command, $now + $lead),
            default => $on->transport($command, $now + $lead),
        };
    }

    /**
     * What is done with cues: fire and release one by its id, number or name; back along the list, pointer to what
     * is next; panic over a time, and back.
     *
     * @param  array<string, mixed>  $command
     * @return string|null what is wrong with it
     */
    private static function cue(Performance $on, Command $of, array $command, int $at): ?string
    {
        $fade = $command['fade'] ?? null;
        if ($fade !== null && ((! is_int($fade) && ! is_float($fade)) || $fade < 0 || $fade > Cue::MAX_TIME)) {
            return 'A fade is a time in flicks, up to a day.';
        }
        $fade = $fade === null ? null : (int) $fade;
        if ($of === Command::Panic) {
            $on->held->panic(($command['on'] ?? true) === true, $at, $fade ?? self::PANIC * Flicks::PER_SECOND);
            $on->cues->touch();

            return null;
        }
        if ($of === Command::Release && ! isset($command['cue'])) {
            $on->cues->releaseAll($at, $fade ?? 0);

            return null;
        }
        $named = $command['cue'] ?? null;
        $id = match ($of) {
            Command::Back => $on->cues->previous(),
            default => is_string($named) ? $on->cues->named($named) : null,
        };
        if ($id === null) {
            return match ($of) {
                Command::Back => 'There is no cue before.',
                default => 'There is no cue of this id, number or name.',
            };
        }
        if ($of === Command::Pointer) {
            $on->cues->point($id);

            return null;
        }
        if ($of === Command::Release) {
            return $on->cues->release($id, $at, $fade) ? null : 'This cue is not on.';
        }

        $isFire = $of === Command::Fire;
        $level = $isFire ? (float) ($command['level'] ?? 1) : 1.0;
        if (! ($level >= 0 && $level <= 1)) {
            return 'The level of a cue is 0 to 1.';
        }

        return $on->fire($id, $at, self::person($command), fade: $isFire ? $fade : null, level: $level);
    }

    /** @param  array<string, mixed>  $command */
    private static function person(array $command): string
    {
        return is_string($command['person'] ?? null) ? $command['person'] : '';
    }
}

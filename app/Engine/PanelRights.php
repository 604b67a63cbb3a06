<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\Command;

/** What a tablet may do that shows a touch panel: touch that panel, press cues, and nothing else. */
final class PanelRights
{
    private const COMMANDS = [Command::Fire, Command::Release, Command::Go, Command::Back];

    /** Who a paired tablet is. */
    public static function person(string $id, string $panel): string
    {
        return "panel/$id/$panel";
    }

    /** The number of a paired tablet; empty for anybody else. */
    public static function idOf(string $person): string
    {
        return str_starts_with($person, 'panel/') ? explode('/', $person, 3)[1] : '';
    }

    /**
     * Why somebody may not do something; null where they may.
     *
     * @param  array<mixed>  $said  the body of the request
     */
    public static function refusal(string $person, string $path, array $said): ?string
    {
        if (self::idOf($person) === '') {
            return null;
        }
        $panel = explode('/', $person, 3)[2] ?? '';
        if ($path === 'POST /live/command') {
            return in_array(
                Command::tryFrom(is_string($said['action'] ?? null) ? $said['action'] : ''),
                self::COMMANDS,
                true,
            )
                ? null
                : 'A touch panel fires and releases cues, and no more.';
        }
        if ($path === 'POST /live/look') {
            return ($said['shows'] ?? null) === [] ? null : 'A touch panel is of the show on air.';
        }
        if ($path !== 'POST /live/controls' || isset($said['watch'])) {
            return 'A touch panel may not do this.';
        }
        foreach (is_array($said['events'] ?? null) ? $said['events'] : [] as $event) {
            if (! is_array($event) || ($event['source'] ?? null) !== 'touch' || ($event['panel'] ?? null) !== $panel) {
                return "This tablet shows $panel, and touches nothing else.";
            }
        }

        return null;
    }
}

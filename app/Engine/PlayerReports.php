<?php

declare(strict_types=1);

namespace App\Engine;

/** What players report of themselves: the last of each, made harmless, until nothing came for a while. */
final class PlayerReports
{
    /** How many players are remembered. */
    public const MAX = 500;

    /** @var array<string, array<string, mixed>> by player */
    private array $reports = [];

    /**
     * Takes a report.
     *
     * @param  array<mixed>  $given  player, output, error, lacks, layers and figures
     * @param  int  $now  engine time
     * @return bool|null whether what it lacks is another; null where it names no player, or there are too many
     */
    public function take(array $given, int $now): ?bool
    {
        $player = $given['player'] ?? null;
        if (
            ! is_string($player) ||
            $player === '' ||
            strlen($player) > 64 ||
            (! isset($this->reports[$player]) && count($this->reports) >= self::MAX)
        ) {
            return null;
        }
        $number = static fn (mixed $n): int|float => (is_int($n) || is_float($n)) && is_finite((float) $n) ? $n : 0;
        $text = static fn (mixed $t): string => is_string($t) ? mb_strimwidth(mb_scrub($t), 0, 300, '…') : '';
        $layers = [];
        foreach (array_slice(array_values((array) ($given['layers'] ?? [])), 0, 500) as $layer) {
            is_array($layer) &&
                ($layers[] = [
                    'layer' => $text($layer['layer'] ?? ''),
                    'frame' => $number($layer['frame'] ?? 0),
                    'shown' => $number($layer['shown'] ?? 0),
                ]);
        }
        $report = [
            'heard' => $now,
            'player' => $player,
            'output' => $text($given['output'] ?? ''),
            'error' => $text($given['error'] ?? ''),
            'lacks' => array_map($text, array_slice(array_values((array) ($given['lacks'] ?? [])), 0, 50)),
            'layers' => $layers,
        ];
        foreach (['engine', 'revision', 'drawn', 'late', 'offset'] as $field) {
            $report[$field] = $number($given[$field] ?? 0);
        }
        $before = $this->reports[$player] ?? null;
        $this->reports[$player] = $report;

        return $before === null || $before['lacks'] !== $report['lacks'];
    }

    /**
     * Forgets players of which nothing came since an engine time.
     *
     * @return bool whether there were any
     */
    public function prune(int $since): bool
    {
        $before = count($this->reports);
        $this->reports = array_filter($this->reports, static fn (array $report): bool => $report['heard'] >= $since);

        return count($this->reports) !== $before;
    }

    /** @return list<array<string, mixed>> */
    public function all(): array
    {
        return array_values($this->reports);
    }
}

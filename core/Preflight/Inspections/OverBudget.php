<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Budget;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Units\Timecode;

/** Outputs whose player has more to decode or to read at a moment than its machine is said to be able to. */
final readonly class OverBudget implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach (Budget::all($show, $cache) as $id => $lines) {
            $output = $show->delivery->outputs[$id];
            foreach ($lines as $line => $budget) {
                $at = static fn (int $time): string => 'at '.
                    Timecode::format($time, $show->rate).
                    " of {$show->programme->timelines[$line]->name}";
                foreach (
                    [
                        [
                            $budget->mostStreams,
                            $output->limits['streams'],
                            static fn (float $n): string => sprintf('%d %s', $n, $n < 2 ? 'video' : 'videos'),
                            'plays',
                        ],
                        [
                            [$budget->pixels / 1e6, $budget->at],
                            $output->limits['decode'],
                            static fn (float $n): string => number_format($n, $n < 10 ? 1 : 0).' Mpx/s',
                            'decodes',
                        ],
                        [
                            [$budget->mostBytes[0] / 1e6, $budget->mostBytes[1]],
                            $output->limits['read'],
                            static fn (float $n): string => number_format($n, $n < 10 ? 1 : 0).' MB/s',
                            'reads',
                        ],
                        [
                            [$budget->mostMemory[0] / 1e6, $budget->mostMemory[1]],
                            $output->limits['memory'],
                            static fn (float $n): string => number_format($n, $n < 10 ? 1 : 0).' MB',
                            'needs',
                        ],
                    ] as [[$most, $when], $limit, $says, $does]
                ) {
                    if ($limit > 0 && $most > $limit) {
                        yield Finding::attention(
                            'outputs',
                            'output',
                            (string) $id,
                            "$output->name $does {$says($most)} {$at($when)}; its limit is {$says((float) $limit)}.",
                        );
                    }
                }
            }
        }
    }
}

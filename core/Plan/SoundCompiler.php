<?php

declare(strict_types=1);

namespace Core\Plan;

use Core\Show\ClipUse;
use Core\Show\Layer;
use Core\Show\Show;
use Core\Timeline\MediaTrack;
use Core\Timeline\SoundClip;
use Core\Timeline\SpeedRamp;
use Core\Values\Track;

/**
 * What is heard of a layer, in the time of its timeline, with the sounds of timelines that its clips show. How loud
 * it is, is the product of its levels: of each layer that it goes through, its volume where that is, its fades, and
 * what lies over it.
 *
 * @phpstan-type Fade array{int, int, int, int}
 * @phpstan-type Level array{layer: string, timeline: string, fade: Fade, over: list<Fade>, at?: array{int, float, float}}
 * @phpstan-type Sound array{id: string, url: string, channels: int, start: int, end: int, from: int, count: float, offset: float, speed: float, loop: bool, own?: true, levels: list<Level>}
 */
final readonly class SoundCompiler
{
    /** Timelines within one another, as pictures have them. */
    private const DEEPEST = 4;

    /** Sounds of one layer, with all that is heard again and again within it. */
    public const MOST = 5000;

    /** @param  \Closure(Layer): Track  $speed  of a layer, over show time */
    public function __construct(private Show $show, private \Closure $speed)
    {
    }

    /**
     * @return list<Sound>
     */
    public function of(Layer $layer): array
    {
        return array_map(
            static fn (array $one): array => ['id' => $one['id'], 'url' => $one['url'], 'channels' => $one['channels']] +
                $one['sound']->toArray() + ['levels' => $one['levels']],
            $this->heard($layer, [$layer->timeline]),
        );
    }

    /** Whether anything may be heard of a layer. */
    public function sounds(Layer $layer): bool
    {
        foreach ($layer->clips as $use) {
            if ($this->show->library->media[$use->media]->sound() !== null || $this->inner($use) !== null) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param  non-empty-list<string>  $chain  the timelines that this one is shown by, and itself
     * @return list<array{id: string, url: string, channels: int, sound: SoundClip, levels: list<Level>}>
     */
    private function heard(Layer $layer, array $chain): array
    {
        [$found, $sounding] = [[], []];
        $fades = MediaTrack::crossfades(array_column($layer->clips, 'clip'));
        [$speed, $grid] = [($this->speed)($layer), $this->show->rate->flicksPerFrame];
        foreach ($layer->clips as $i => $use) {
            $item = $this->show->library->media[$use->media];
            // What is heard with a flash whose speed moves would not be in time with it.
            $sound = isset($this->show->programme->curves[$item->id]['speed']) ? null : $item->sound();
            $inner = $sound === null ? $this->inner($use) : null;
            if (
                $sound === null &&
                ($inner === null ||
                    in_array($inner, $chain, true) ||
                    count($chain) > self::DEEPEST ||
                    $use->clip->ownClock)
            ) {
                continue;
            }
            $sounding[$i] = $use->clip->fade($fades[$i]);
            $level = ['layer' => $layer->id, 'timeline' => $layer->timeline, 'fade' => $sounding[$i], 'over' => []];
            if ($sound !== null) {
                $plain = SoundClip::of(
                    $use->clip,
                    $sound['samples'],
                    $sound['rate'] ?? null,
                    $item->isSound() ? null : [$item->flicksPerFrame, $item->frames],
                );
                $ramp = SpeedRamp::of($use->clip, $speed, $grid);
                $parts = $ramp === null ? [$plain] : $plain->ramped($ramp);
                foreach ($parts as $n => $part) {
                    $found[] = [
                        'of' => $i,
                        'id' => $use->id.(count($parts) === 1 ? '' : ".$n"),
                        'url' => $sound['url'],
                        'channels' => $sound['channels'],
                        'sound' => $part,
                        'levels' => [$level],
                    ];
                }

                continue;
            }
            $line = $this->show->programme->timelines[(string) $inner];
            $course = (new SpeedRamp($use->clip, $speed, $grid))->course($grid, max(1, intdiv($line->duration, $grid)));
            foreach ($line->layers as $within) {
                foreach ($this->heard($within, [...$chain, $line->id]) as $one) {
                    // One that runs by its own clock stands where it is shown by another.
                    foreach ($one['sound']->ownClock ? [] : $course as $n => $stretch) {
                        foreach ($one['sound']->along([$stretch]) as $part) {
                            $found[] = [
                                'of' => $i,
                                'id' => "$use->id.$n/{$one['id']}",
                                'url' => $one['url'],
                                'channels' => $one['channels'],
                                'sound' => $part,
                                'levels' => [
                                    $level,
                                    ...array_map(
                                        static fn (array $inner): array => self::through($inner, $stretch),
                                        $one['levels'],
                                    ),
                                ],
                            ];
                            if (count($found) >= self::MOST) {
                                break 4;
                            }
                        }
                    }
                }
            }
        }

        return array_map(static function (array $one) use ($layer, $sounding): array {
            // Sounds that begin later lie over those before, as their pictures do; of two that begin together, the
            // later in the list.
            foreach ($sounding as $j => $fade) {
                [$own, $other] = [$layer->clips[$one['of']]->clip, $layer->clips[$j]->clip];
                $over = [$other->begin(), $j] <=> [$own->begin(), $one['of']];
                if ($over > 0 && $other->start < $own->end() && $other->end() > $own->start) {
                    $one['levels'][0]['over'][] = $fade;
                }
            }
            unset($one['of']);

            return $one;
        }, $found);
    }

    /** The timeline that a clip shows; null where it shows none that is there. */
    private function inner(ClipUse $use): ?string
    {
        $timeline = $this->show->library->media[$use->media]->timeline ?? null;

        return $timeline !== null && isset($this->show->programme->timelines[$timeline]) ? $timeline : null;
    }

    /**
     * A level in the time of the timeline that shows it.
     *
     * @param  Level  $level
     * @param  array{int, int, float, float}  $stretch
     * @return Level
     */
    private static function through(array $level, array $stretch): array
    {
        [$from, , $at, $rate] = $stretch;
        $out = static fn (int $time): int => (int) round($from + ($time - $at) / $rate);
        $turned = static function (array $fade) use ($out, $rate): array {
            [$start, $in, $end, $leaving] = $fade;
            [$in, $leaving] = [(int) round($in / abs($rate)), (int) round($leaving / abs($rate))];

            return $rate > 0 ? [$out($start), $in, $out($end), $leaving] : [$out($end), $leaving, $out($start), $in];
        };
        [$begin, $begun, $pace] = $level['at'] ?? [0, 0.0, 1.0];

        return [
            'fade' => $turned($level['fade']),
            'over' => array_map($turned, $level['over']),
            'at' => [$from, $begun + ($at - $begin) * $pace, $rate * $pace],
        ] + $level;
    }
}

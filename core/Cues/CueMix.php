<?php

declare(strict_types=1);

namespace Core\Cues;

use Core\Values\HeldValue;
use Core\Values\Stratum;
use Core\Values\Track;

/**
 * What cues hold of one value, from below: each lies over those that were fired before it. Pure functions from one
 * such list to the next; whoever keeps the lists says the sequence and the engine time.
 *
 * None of them makes a step: what gives way to another cue stays as it is below it, is dropped only once it is really
 * covered, and is held again where that cue goes before. What an `everything` cue holds of all layers (the blanket)
 * lies in a list of its own; a list of a layer's opacity is told of it.
 */
final class CueMix
{
    /** So many cues deep one value goes; below that, what they come to at that moment stands still. */
    public const DEPTH = 16;

    /**
     * The same of what holds all layers, which can't be frozen without a step where a layer's cue was fired between.
     */
    public const ALL_LAYERS_DEPTH = 64;

    /** What an `everything` cue holds of all layers: their opacity, at 0. */
    public const ALL_LAYERS_OPACITY = 'layer:all/opacity';

    /** Whether what holds all layers holds this value too. */
    public static function isCoveredByAllLayers(string $address): bool
    {
        return str_starts_with($address, 'layer:') && str_ends_with($address, '/opacity');
    }

    /** @return list<string> the cues that hold it, of which several were frozen into one */
    public static function sources(HeldValue $held): array
    {
        return $held->source === '' ? [] : explode(' ', $held->source);
    }

    /**
     * A cue takes hold of the value: from where it is, whatever that does, to where the cue wants it.
     *
     * @param  list<HeldValue>  $held
     * @param  list<HeldValue>  $blanket  what holds all layers, where this is a layer's opacity
     * @param  list<HeldValue>|null  $across  what lies above or below these by its sequence, though in other lists:
     *     the blanket, and of
     *   the blanket what other cues hold of layers; null for the blanket
     * @return list<HeldValue>
     */
    public static function fired(
        array $held,
        Cue $cue,
        CueValue $value,
        int $sequence,
        int $at,
        array $blanket = [],
        ?array $across = null,
    ): array {
        $across ??= $blanket;
        $held = self::prune($held, $at, $blanket);
        $from = $at + $cue->delayOf($value);
        $to = $from + $cue->fadeOf($value);
        $track = $value->moving === null ? Track::constant($value->value) : $value->moving->shifted($from, $cue->rate);
        $loop =
            $value->moving !== null && $cue->loop > 0 ? [$from, max(1, (int) round($cue->loop / $cue->rate))] : null;
        $top = $held[count($held) - 1] ?? null;
        $isOnTop =
            $top !== null &&
            array_filter(
                $across,
                static fn (HeldValue $one): bool => $one->sequence > $top->sequence && ! $one->isGone($at),
            ) === [];
        $same =
            $top !== null &&
            $value->moving === null &&
            $top->value->isConstant() &&
            $top->valueAt($at) === $value->value;
        if ($isOnTop && $same && $top->source === $cue->id && $cue->delayOf($value) === 0) {
            // Fired again while it lies on top: it goes on from there, and lies where it did.
            $again = $top->turned(
                $top->sequence,
                $top->value,
                $cue->curveOf($value)->track($top->weight->at($at), $from, $to, $cue->level),
                $at,
            );

            return [...array_slice($held, 0, -1), $again];
        }
        $depth = $value->address === self::ALL_LAYERS_OPACITY ? self::ALL_LAYERS_DEPTH : self::DEPTH;
        if (count($held) >= $depth) {
            $held = self::shortened($held, $depth - 1, $at, $across);
        }

        return [
            ...$held,
            HeldValue::of(
                Stratum::Cue,
                $sequence,
                $cue->id,
                $track,
                $cue->curveOf($value)->track(0.0, $from, $to, $cue->level),
                $loop,
                $at,
            ),
        ];
    }

    /**
     * A cue lets go of the value, at once or over a time, so that what is below comes through.
     *
     * @param  list<HeldValue>  $held
     * @param  int  $delay  until it begins; nothing changes before
     * @param  list<HeldValue>  $blanket
     * @return list<HeldValue>
     */
    public static function release(
        array $held,
        string $cue,
        int $at,
        int $fade,
        int $delay = 0,
        array $blanket = [],
    ): array {
        $held = self::without(
            self::prune($held, $at, $blanket),
            $cue,
            static fn (HeldValue $one): HeldValue => $one->sourcedBy($cue)->fading($at + $delay, $fade),
        );

        return self::prune($held, $at, $blanket);
    }

    /**
     * A cue gives way to another one that takes hold of the same value: it stays until that really covers it, so that
     * nothing of what is below both shows between them.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function yieldTo(array $held, string $cue, string $to): array
    {
        return self::without($held, $cue, static fn (HeldValue $one): HeldValue => $one->sourcedBy($cue)->yielding($to));
    }

    /**
     * A cue with all that gave way to it, and to those, from one list.
     *
     * @param  list<HeldValue>  $held
     * @return non-empty-list<string>
     */
    public static function withYielding(array $held, string $cue): array
    {
        $all = [$cue];
        for ($i = 0; isset($all[$i]); $i++) {
            foreach ($held as $one) {
                $one->yieldsTo === $all[$i] && array_push($all, ...array_diff(self::sources($one), $all));
            }
        }

        return $all;
    }

    /**
     * What gave way to one cue gives way to another.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function redirected(array $held, string $from, string $to): array
    {
        return array_map(
            static fn (HeldValue $one): HeldValue => $one->yieldsTo === $from ? $one->yielding($to) : $one,
            $held,
        );
    }

    /**
     * The cue that others gave way to goes: those that it did not cover yet hold on.
     *
     * @param  list<HeldValue>  $held
     * @param  list<HeldValue>  $blanket
     * @return array{list<HeldValue>, list<string>} the list, and the cues that hold it again
     */
    public static function takenBack(array $held, string $from, int $at, array $blanket = []): array
    {
        $again = [];
        $held = array_map(static function (HeldValue $one) use ($from, &$again): HeldValue {
            if ($one->yieldsTo !== $from) {
                return $one;
            }
            array_push($again, ...self::sources($one));

            return $one->yielding(null);
        }, self::prune($held, $at, $blanket));

        return [$held, array_values(array_unique($again))];
    }

    /**
     * What one cue holds is changed; where it was frozen together with others, it only goes from the names of those
     * that hold it.
     *
     * @param  list<HeldValue>  $held
     * @param  \Closure(HeldValue): HeldValue  $change
     * @return list<HeldValue>
     */
    private static function without(array $held, string $cue, \Closure $change): array
    {
        return array_map(static function (HeldValue $one) use ($cue, $change): HeldValue {
            $sources = self::sources($one);
            if (! in_array($cue, $sources, true)) {
                return $one;
            }
            $others = array_values(array_diff($sources, [$cue]));

            return $others === [] ? $change($one) : $one->sourcedBy(implode(' ', $others));
        }, $held);
    }

    /**
     * A cue leaves the value where it is: what it held stands still from then on, and is nobody's.
     *
     * @param  list<HeldValue>  $held
     * @param  list<HeldValue>  $blanket
     * @return list<HeldValue>
     */
    public static function freeze(array $held, string $cue, int $at, array $blanket = []): array
    {
        $stands = static fn (HeldValue $one): HeldValue => HeldValue::of(
            $one->stratum,
            $one->sequence,
            '',
            Track::constant($one->valueAt($at)),
            Track::constant($one->weight->at($at)),
            null,
            $one->since,
        );

        return self::prune(self::without(self::prune($held, $at, $blanket), $cue, $stands), $at, $blanket);
    }

    /**
     * What nobody holds lets go of the value.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function cleared(array $held, int $at, int $fade): array
    {
        return self::prune(
            array_map(
                static fn (HeldValue $one): HeldValue => $one->source === '' ? $one->fading($at, $fade) : $one,
                $held,
            ),
            $at,
        );
    }

    /**
     * Without what has no weight any more: what has faded out, and of what is really covered what gave way, what a
     * cue held before it was fired again, and what nobody holds.
     *
     * @param  list<HeldValue>  $held
     * @param  list<HeldValue>  $blanket
     * @return list<HeldValue>
     */
    public static function prune(array $held, int $at, array $blanket = []): array
    {
        $kept = [];
        $blanketed = max([
            -1,
            ...array_map(static fn (HeldValue $one): int => $one->covers($at) ? $one->sequence : -1, $blanket),
        ]);
        $covered = false;
        $above = [];
        foreach (array_reverse($held) as $one) {
            $covered = $covered || $one->sequence < $blanketed;
            if (
                $one->isGone($at) ||
                ($covered && ($one->source === '' || $one->yieldsTo !== null || isset($above[$one->source])))
            ) {
                continue;
            }
            $kept[] = $one;
            $covered = $covered || $one->covers($at);
            $above[$one->source] = true;
        }

        return array_reverse($kept);
    }

    /**
     * With the lowest frozen into one, down to so many. Between what is frozen together nothing of other lists may
     * lie, so there may be one more left for each that does.
     *
     * @param  list<HeldValue>  $held
     * @param  list<HeldValue>  $across
     * @return list<HeldValue>
     */
    private static function shortened(array $held, int $to, int $at, array $across): array
    {
        $between = static fn (HeldValue $a, HeldValue $b): bool => array_filter(
            $across,
            static fn (HeldValue $one): bool => $one->sequence > $a->sequence &&
                $one->sequence < $b->sequence &&
                ! $one->isGone($at),
        ) !== [];
        for ($i = 0; count($held) > $to && isset($held[$i + 1]); $i++) {
            $run = [$held[$i]];
            while (
                count($held) - count($run) + 1 > $to &&
                isset($held[$i + count($run)]) &&
                ! $between($run[count($run) - 1], $held[$i + count($run)])
            ) {
                $run[] = $held[$i + count($run)];
            }
            $held =
                count($run) > 1
                    ? [...array_slice($held, 0, $i), self::flatten($run, $at), ...array_slice($held, $i + count($run))]
                    : $held;
        }

        return $held;
    }

    /**
     * One held value that is, at a moment, what several come to together. It is held by all cues that held them, and
     * goes with the last of these.
     *
     * @param  non-empty-list<HeldValue>  $held
     */
    private static function flatten(array $held, int $at): HeldValue
    {
        [$value, $weight] = HeldValue::together($held, $at);
        // Those that gave way have no part in when it goes, but where all of them did.
        $holding = array_filter($held, static fn (HeldValue $one): bool => $one->yieldsTo === null);
        $sources = array_merge([], ...array_map(self::sources(...), array_values($holding === [] ? $held : $holding)));
        $one = HeldValue::of(
            Stratum::Cue,
            $held[0]->sequence,
            implode(' ', array_values(array_unique($sources))),
            Track::constant($value),
            Track::constant($weight),
            null,
            $at,
        );

        return $holding === [] ? $one->yielding($held[count($held) - 1]->yieldsTo) : $one;
    }
}

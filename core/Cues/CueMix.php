<?php

declare(strict_types=1);

namespace Core\Cues;

use Core\Values\HeldValue;
use Core\Values\Stratum;
use Core\Values\Track;

/**
 * What cues hold of one value, from below: each lies over those that were fired before it. Pure functions from one such list to
 * the next; whoever keeps the lists says the sequence and the engine time.
 */
final class CueMix
{
    /** So many cues deep one value goes; below that, what they come to at that moment stands still. */
    public const DEPTH = 16;

    /** What an `everything` cue holds of all layers: their opacity, at 0. */
    public const BLANKET = 'layer:all/opacity';

    /** Whether what holds all layers holds this value too. */
    public static function isBlanketed(string $address): bool
    {
        return str_starts_with($address, 'layer:') && str_ends_with($address, '/opacity');
    }

    /**
     * A cue takes hold of the value: from where it is, whatever that does, to where the cue wants it.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function fired(array $held, Cue $cue, CueValue $value, int $sequence, int $at): array
    {
        $held = self::settled($held, $at);
        $from = $at + $cue->delayOf($value);
        $to = $from + $cue->fadeOf($value);
        $track = $value->moving === null ? Track::constant($value->value) : $value->moving->shifted($from, $cue->rate);
        $loop = $value->moving !== null && $cue->loop > 0 ? [$from, max(1, (int) round($cue->loop / $cue->rate))] : null;
        $top = $held[count($held) - 1] ?? null;
        if ($top !== null && $top->source === $cue->id && $value->moving === null && $top->loop === null && $cue->delayOf($value) === 0) {
            // Fired again while it lies on top: it goes on from there.
            $again = $top->turned($sequence, $cue->curveOf($value)->track($top->valueAt($at), $from, $to, $value->value), $cue->curveOf($value)->track($top->weight->at($at), $from, $to, 1.0), $at);

            return [...array_slice($held, 0, -1), $again];
        }
        $below = array_slice($held, 0, max(0, count($held) - self::DEPTH + 2));
        if (count($held) >= self::DEPTH && $below !== []) {
            $held = [self::frozen($below, $at), ...array_slice($held, -self::DEPTH + 2)];
        }

        return [...$held, HeldValue::of(Stratum::Cue, $sequence, $cue->id, $track, $cue->curveOf($value)->track(0.0, $from, $to, 1.0), $loop, $at)];
    }

    /**
     * A cue lets go of the value, at once or over a time, so that what is below comes through.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function returned(array $held, string $cue, int $at, int $fade): array
    {
        return self::settled(array_map(static fn (HeldValue $one): HeldValue => $one->source === $cue ? $one->turned($one->sequence, $one->value, Track::ramp($one->weight->at($at), $at, $at + $fade, 0.0), $one->since) : $one, $held), $at);
    }

    /**
     * A cue gives way to another one that takes hold of the same value: it stays as strong as it is until that covers it, so that
     * nothing of what is below both shows between them.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function covered(array $held, string $cue, int $at, int $until): array
    {
        return array_map(static fn (HeldValue $one): HeldValue => $one->source === $cue ? $one->turned($one->sequence, $one->value, Track::step($one->weight->at($at), max($at + 1, $until), 0.0), $one->since) : $one, $held);
    }

    /**
     * A cue leaves the value where it is: what it held stands still from then on, and is nobody's.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function stayed(array $held, string $cue, int $at): array
    {
        return self::settled(array_map(static fn (HeldValue $one): HeldValue => $one->source === $cue ? HeldValue::of($one->stratum, $one->sequence, '', Track::constant($one->valueAt($at)), Track::constant($one->weight->at($at)), null, $one->since) : $one, $held), $at);
    }

    /**
     * Without what has no say any more: what has faded out, what a cue held before it was fired again, and what is frozen and covered.
     *
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    public static function settled(array $held, int $at): array
    {
        $kept = [];
        $covered = false;
        $above = [];
        foreach (array_reverse($held) as $one) {
            if ($one->isGone($at) || $covered && ($one->source === '' || isset($above[$one->source]))) {
                continue;
            }
            $kept[] = $one;
            if (! $covered && $one->weight->standsFrom($at) && $one->weight->at($at) >= 1.0) {
                $covered = true;
            }
            $above[$one->source] = true;
        }

        return array_reverse($kept);
    }

    /**
     * One held value that is, at a moment, what several come to together.
     *
     * @param  non-empty-list<HeldValue>  $held
     */
    private static function frozen(array $held, int $at): HeldValue
    {
        [$through, $light] = [1.0, 0.0];
        foreach ($held as $one) {
            $weight = $one->weight->at($at);
            $through *= 1 - $weight;
            $light = $light * (1 - $weight) + $one->valueAt($at) * $weight;
        }

        return HeldValue::of(Stratum::Cue, $held[0]->sequence, '', Track::constant($through < 1 ? $light / (1 - $through) : 0.0), Track::constant(1 - $through), null, $at);
    }
}

<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Bindings\Action;
use Core\Bindings\Binding;
use Core\Bindings\Encoder;
use Core\Bindings\Gesture;
use Core\Bindings\Meaning;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Values\Address;

/** Bindings whose target was removed, that go beyond the range of their value, or that share a control. */
final readonly class BrokenBindings implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        $used = [];
        foreach ($show->delivery->bindings as $id => $binding) {
            $name = $binding->control->label().' of '.$show->delivery->devices[$binding->device]->name;
            $gone = self::gone($show, $binding);
            if ($gone !== null) {
                yield Finding::attention('bindings', 'binding', (string) $id, "$name is bound to $gone.");
            } elseif ($binding->meaning === Meaning::Value) {
                $address = Address::parse($binding->target);
                $of = Schema::properties($address->kind)->named($address->property);
                $beyond = array_filter(
                    [$binding->low, $binding->high],
                    static fn (float $end): bool => $end < $of->min || $end > $of->max,
                );
                if ($beyond !== []) {
                    yield Finding::attention(
                        'bindings',
                        'binding',
                        (string) $id,
                        sprintf(
                            '%s goes beyond the range of %s, which is %s to %s %s.',
                            $name,
                            $of->label,
                            round($of->min * $of->scale, 3),
                            round($of->max * $of->scale, 3),
                            $of->unit,
                        ),
                    );
                }
            }
            foreach ($used["$binding->device {$binding->control->name}"] ?? [] as $other) {
                if (self::collide($binding, $other)) {
                    yield Finding::attention(
                        'bindings',
                        'binding',
                        (string) $id,
                        "$name has two bindings that act on the same; both are done.",
                    );
                    break;
                }
            }
            $used["$binding->device {$binding->control->name}"][] = $binding;
        }
    }

    /** Whether one event means both: on a page of both, by the same gesture. */
    private static function collide(Binding $a, Binding $b): bool
    {
        $moves = static fn (Binding $of): bool => $of->gesture === Gesture::Move || $of->encoder !== Encoder::Absolute;

        return ($a->page === $b->page || $a->page === 0 || $b->page === 0) &&
            ($a->gesture === $b->gesture || $moves($a) || $moves($b));
    }

    private static function gone(Show $show, Binding $binding): ?string
    {
        if ($binding->meaning === Meaning::Cue) {
            return isset($show->programme->cues[$binding->target]) ? null : 'a cue that was removed';
        }
        if ($binding->meaning === Meaning::Value) {
            return $show->has(Address::parse($binding->target)) ? null : 'a value of what was removed';
        }
        foreach (array_filter([$binding->action, $binding->other, ...array_values($binding->choices)]) as $action) {
            $gone = self::goneOf($show, $action);
            if ($gone !== null) {
                return $gone;
            }
        }

        return null;
    }

    private static function goneOf(Show $show, Action $action): ?string
    {
        $cue = $action->command['cue'] ?? null;
        if (is_string($cue)) {
            foreach ($show->programme->cues as $id => $one) {
                if ($cue === (string) $id || $cue === $one->number || $cue === $one->name) {
                    return null;
                }
            }

            return "a cue \"$cue\", which is not there";
        }
        $line = $action->command['timeline'] ?? null;
        if (is_string($line)) {
            foreach ($show->programme->timelines as $id => $one) {
                if ($line === (string) $id || $line === $one->name) {
                    return null;
                }
            }

            return "a timeline \"$line\", which is not there";
        }

        return null;
    }
}

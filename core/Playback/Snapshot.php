<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Effects\Effect;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Reference;
use Core\Values\Stratum;

/** What values are at one moment, for those who record it or ask why. */
final readonly class Snapshot
{
    private function __construct(private Show $show, private Moment $moment)
    {
    }

    public static function of(Show $show, Moment $moment): self
    {
        return new self($show, $moment);
    }

    /**
     * Answers for some addresses; for `*`, for all values of what is visible.
     *
     * @param  list<string>  $addresses
     * @return array{values: array<string, float>, stacks: array<string, list<array{stratum: string, source: string, value: float, weight: float, result: float}>>}
     */
    public function answer(array $addresses): array
    {
        [$values, $stacks] = [[], []];
        foreach ($addresses as $text) {
            if ($text === '*') {
                $values += $this->visible();

                continue;
            }
            try {
                $address = Address::parse($text);
                $head = $this->head($address);
                $values[$text] = $this->moment->value($text, $head);
                $stacks[$text] = $this->stack($text, $head);
            } catch (InvalidValue) {
                continue;
            }
        }

        return ['values' => $values, 'stacks' => $stacks];
    }

    /**
     * Every value of the layers that are seen now: those that a timeline that is on has a clip for, at more than
     * nothing. What rests at its default is among it, so that firing it later undoes what is different then.
     *
     * @return array<string, float> by address
     */
    public function visible(): array
    {
        $values = [];
        foreach ($this->show->programme->timelines as $timeline) {
            foreach ($timeline->layers as $layer) {
                $head = $this->head(Address::of('layer', $layer->id, 'opacity'));
                if ($head === null || ! $this->isSeen($layer->id, $timeline->id, $head)) {
                    continue;
                }
                $clip = $layer->clips[$this->moment->media($layer->id, $head)[0]] ?? null;
                // How a mask cuts out says nothing where there is none.
                $masked = round($this->moment->value("layer:$layer->id/mask", $head)) > 0;
                foreach (Schema::properties('layer')->properties as $property) {
                    if (
                        ! $property->held ||
                        (! $masked && str_starts_with($property->name, 'mask') && $property->name !== 'mask') ||
                        in_array($property->name, ['mute', 'solo'], true)
                    ) {
                        continue;
                    }
                    if ($property->name === 'source') {
                        // The media that is seen: called by hand or by a cue, or that of the clip.
                        $called = $this->moment->called($layer->id, $head)[0][0][0] ?? 0;
                        $values["layer:$layer->id/source"] =
                            (float) ($called !== 0 ? $called : (int) Reference::number($clip->media ?? ''));

                        continue;
                    }
                    foreach (array_keys($property->slots) as $slot) {
                        $address = (string) Address::of('layer', $layer->id, $property->name, $slot);
                        $values[$address] = $this->moment->value($address, $head);
                    }
                }
                foreach (
                    [
                        ...$this->show->programme->effects($layer->id),
                        ...$clip === null ? [] : $this->show->programme->effects($clip->id),
                    ] as $use
                ) {
                    $values += $this->ofEffect($use->id, $head);
                }
            }
        }

        return $values;
    }

    /** @return array<string, float> which effect it is, and what that is made of, by address */
    private function ofEffect(string $id, Head $head): array
    {
        $address = static fn (string $name, int $slot = 0): string => (string) Address::of('effect', $id, $name, $slot);
        $addresses = [
            $address('effect'),
            $address('on'),
            $address('mix'),
            ...array_map(
                static fn (array $one): string => $address($one[0]->name, $one[1]),
                Effect::numbered($this->moment->value($address('effect'), $head))?->numbers() ?? [],
            ),
        ];

        return array_combine(
            $addresses,
            array_map(fn (string $one): float => $this->moment->value($one, $head), $addresses),
        );
    }

    private function isSeen(string $layer, string $timeline, Head $head): bool
    {
        return ! $this->moment->isMuted($layer, $head) &&
            ($this->moment->media($layer, $head)[0] >= 0 || $this->moment->called($layer, $head)[0] !== []) &&
            $this->moment->value("layer:$layer/opacity", $head) *
                $this->moment->value("timeline:$timeline/level", $head) *
                $head->weight->at($this->moment->engine) >
                0;
    }

    /** The newest head of the timeline that an address stands on. */
    private function head(Address $address): ?Head
    {
        $timeline = $this->show->programme->timelineOf($address);
        $heads = $this->moment->headsOf($timeline);

        return $heads[count($heads) - 1] ?? ($this->moment->heads[0] ?? null);
    }

    /**
     * Who says what of a value, from below: its timeline, then all that hold it, and what it is after each.
     *
     * @return list<array{stratum: string, source: string, value: float, weight: float, result: float}>
     */
    private function stack(string $address, ?Head $head): array
    {
        $result = $this->moment->below($address, $head);
        $stack = [
            [
                'stratum' => 'timeline',
                'source' => $head->timeline ?? '',
                'value' => $result,
                'weight' => 1.0,
                'result' => $result,
            ],
        ];
        $held = $this->moment->heldOf($address);
        usort($held, HeldValue::inOrder(...));
        $parsed = Address::parse($address);
        $mixes = Schema::properties($parsed->kind)->named($parsed->property)->type->mixes();
        foreach ($held as $one) {
            $weight = $one->weight->at($this->moment->engine);
            $value = $one->valueAt($this->moment->engine);
            $result = $mixes ? $result + ($value - $result) * $weight : ($weight >= 0.5 ? $value : $result);
            $stack[] = [
                'stratum' => match ($one->stratum) {
                    Stratum::Loose => 'hand',
                    Stratum::Bound => 'control',
                    Stratum::Cue => 'cue',
                    Stratum::Panic => 'panic',
                },
                'source' => $one->source,
                'value' => $value,
                'weight' => $weight,
                'result' => $result,
            ];
        }

        return $stack;
    }
}

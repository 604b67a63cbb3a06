<?php

declare(strict_types=1);

namespace Core\Show;

/** An effect of a layer or a clip: its place in the chain, and its values. */
final readonly class EffectUse
{
    /**
     * @param  string  $on  id of the layer or clip
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot; what is not stored rests at its
     *     default
     */
    public function __construct(public string $id, public string $on, public int $order, public array $stored = [])
    {
    }
}

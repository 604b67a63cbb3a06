<?php

declare(strict_types=1);

namespace App\Lights;

use App\Engine\Wire;
use Core\PixelMap\LightTest;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Timeline\TransportMap;
use Core\Units\InvalidValue;
use Core\Values\HeldValue;
use Core\Values\Stratum;
use Core\Values\Track;

/**
 * What the conductor tells a window of the show on air, as the core's values: its plan, where its timelines are, what
 * is held, and which lights are tested.
 */
final class LightState
{
    public string $clock = '';

    private ?string $show = null;

    private ?Plan $plan = null;

    /** @var list<array{int, Bundle}> changes that take effect at an engine time */
    private array $waiting = [];

    /** @var array{int, Plan}|null a plan that takes the place of the present one */
    private ?array $coming = null;

    /** @var array<string, list<Head>> by timeline */
    private array $heads = [];

    /** @var array<string, list<HeldValue>> by address */
    private array $held = [];

    private bool $knowsHeld = false;

    /** @var list<string> */
    private array $cards = [];

    /** @var array<string, array{LightTest, int}> by patch: until when */
    private array $tests = [];

    /** @var list<string> universes whose slots are controls, with their protocol, as in "sacn 7" */
    public array $universes = [];

    /** Grows with each plan, so that who made something of it knows. */
    public int $planned = 0;

    /** @param  \Closure(string): string  $pack  bytes of a pack, by its key */
    public function __construct(private readonly \Closure $pack)
    {
    }

    public function take(int $type, string $payload): void
    {
        if ($type === Wire::DELTA) {
            if (rtrim(substr($payload, 8, 26)) === $this->show) {
                $this->waiting[] = [(int) ((array) unpack('e', $payload))[1], Bundle::fromBytes(substr($payload, 34))];
            }

            return;
        }
        $data = json_decode($payload, true);
        if (! is_array($data)) {
            return;
        }
        if ($type === Wire::HELLO || $type === Wire::AIR) {
            if ($type === Wire::HELLO) {
                $this->clock = (string) ($data['clock'] ?? '');
            }
            $show = is_string($data['show'] ?? null) ? $data['show'] : null;
            if ($type === Wire::HELLO || $show !== $this->show) {
                [$this->heads, $this->held, $this->cards, $this->waiting, $this->coming, $this->knowsHeld] = [
                    [],
                    [],
                    [],
                    [],
                    null,
                    false,
                ];
            }
            $this->show = $show;
        } elseif ($type === Wire::UNIVERSES) {
            $this->universes = array_values(array_filter((array) ($data['universes'] ?? []), is_string(...)));
        } elseif ($type === Wire::LIGHTS) {
            $this->test($data);
        } elseif (($data['show'] ?? null) === $this->show) {
            match ($type) {
                Wire::BASE => $this->base((string) $data['pack'], (int) $data['at']),
                Wire::DECK => $this->deck($data),
                Wire::HELD => $this->hold($data),
                default => null,
            };
        }
    }

    private function base(string $key, int $at): void
    {
        $this->coming = [$at, Plan::empty()->with(Bundle::fromBytes(($this->pack)($key)))];
        $this->waiting = [];
    }

    /** @param  array<string, mixed>  $data */
    private function deck(array $data): void
    {
        $id = (string) ($data['timeline'] ?? '');
        if (($data['gone'] ?? false) === true) {
            unset($this->heads[$id]);

            return;
        }
        $heads = array_map(
            static fn (array $past): Head => Head::fromArray(['timeline' => $id] + $past),
            array_values((array) ($data['past'] ?? [])),
        );
        $weight = isset($data['weight'])
            ? Track::fromList((array) $data['weight'])
            : Track::constant(($data['on'] ?? false) === true ? 1.0 : 0.0);
        $this->heads[$id] = [...$heads, new Head($id, TransportMap::fromArray((array) ($data['map'] ?? [])), $weight)];
    }

    /** @param  array<string, mixed>  $data */
    private function hold(array $data): void
    {
        $lists = static fn (mixed $told): array => array_filter(
            array_map(
                static fn (mixed $list): array => array_map(
                    static fn (array $one): HeldValue => HeldValue::fromArray($one),
                    array_values((array) $list),
                ),
                (array) $told,
            ),
        );
        if (isset($data['all'])) {
            $this->knowsHeld = true;
            $this->held = $lists($data['all']);
        }
        $set = (array) ($data['set'] ?? []);
        $this->held = array_diff_key(
            $lists($set) + $this->held,
            array_filter($set, static fn (mixed $list): bool => $list === []),
        );
        if (isset($data['cards'])) {
            $this->cards = array_values(array_filter((array) $data['cards'], is_string(...)));
        }
    }

    /** @param  array<string, mixed>  $data */
    private function test(array $data): void
    {
        $patch = (string) ($data['patch'] ?? '');
        if (! is_array($data['test'] ?? null)) {
            unset($this->tests[$patch]);

            return;
        }
        try {
            $this->tests[$patch] = [LightTest::of($data['test']), (int) ($data['until'] ?? 0)];
        } catch (InvalidValue) {
            unset($this->tests[$patch]);
        }
    }

    /** @return array<string, float>|null what consoles hold, by address; null before that is known */
    public function bound(): ?array
    {
        if (! $this->knowsHeld) {
            return null;
        }
        $found = [];
        foreach ($this->held as $address => $list) {
            foreach ($list as $one) {
                $one->stratum === Stratum::Bound && ($found[(string) $address] = $one->valueAt(PHP_INT_MAX));
            }
        }

        return $found;
    }

    /** What a light is sent in place of the show at an engine time. */
    public function testOf(string $patch, int $engine): ?LightTest
    {
        [$test, $until] = $this->tests[$patch] ?? [null, 0];

        return $engine < $until ? $test : null;
    }

    /** Whether what is on air is still to be told: then what was sent before goes on. */
    public function isAwaited(): bool
    {
        return $this->clock === '' || ($this->show !== null && $this->plan === null && $this->coming === null);
    }

    /** How everything is at an engine time; null before there is a plan, or where no show is on air. */
    public function moment(int $engine): ?Moment
    {
        if ($this->coming !== null && ($this->coming[0] <= $engine || $this->plan === null)) {
            [, $this->plan] = $this->coming;
            $this->coming = null;
            $this->planned++;
        }
        while (
            $this->plan !== null &&
            $this->coming === null &&
            $this->waiting !== [] &&
            $this->waiting[0][0] <= $engine
        ) {
            $this->plan = $this->plan->with(array_shift($this->waiting)[1]);
            $this->planned++;
        }
        if ($this->plan === null || $this->show === null) {
            return null;
        }
        $heads = array_values(
            array_filter(
                array_merge([], ...array_values($this->heads)),
                static fn (Head $head): bool => $head->weight->at($engine) > 0,
            ),
        );

        return new Moment($this->plan, $heads, $this->held, $engine, $this->cards);
    }
}

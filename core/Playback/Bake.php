<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Show\Layer;
use Core\Show\Show;
use Core\Values\Property;
use Core\Values\Stratum;

/** How the values of one plan move: lanes over engine time, from the show, the transport and the live values. */
final readonly class Bake
{
    /**
     * @param  array<string, Layer>  $layers  by id, from the bottom up
     * @param  array<string, int>  $numbers  lane number by name
     */
    private function __construct(private Show $show, private int $plan, private array $layers, private array $numbers, private CueSheet $sheet)
    {
    }

    public static function of(Show $show, Plan $plan): self
    {
        return new self($show, $plan->data['serial'], array_column($show->mainTimeline()->layers ?? [], null, 'id'), array_flip($plan->data['lanes']), CueSheet::forShow($show));
    }

    /**
     * Lanes from an engine time to another. While the show stands, and past the point where it comes to rest, they are
     * constant and open-ended.
     *
     * @param  array<string, float>  $live  loose values and the master, by lane name
     * @param  array<int, int>  $generations  by lane number; 0 where missing
     * @param  list<string>|null  $only  lane names; null for all
     * @return list<Chunk>
     */
    public function chunks(Transport $transport, int $from, int $to, array $live = [], array $generations = [], ?array $only = null): array
    {
        $step = $this->sheet->flicksPerFrame;
        $chunks = [];
        $rest = $transport->playing ? $transport->restsAt($this->sheet) : $transport->engine;
        if ($transport->playing && $from < $rest) {
            $from = max($from, $transport->engine);
            $start = $from - ($from - $transport->engine) % $step;
            $end = min($to, $rest);
            $count = intdiv($end - $start + $step - 1, $step);
            if ($count > 0) {
                $show = $transport->position + $start - $transport->engine;
                $chunks[] = $this->running($start, $start + $count * $step, $show, $count, $live, $generations, $only);
            }
        }
        if ($to > $rest || ! $transport->playing) {
            $at = max($from, $rest);
            $chunks[] = $this->standing($at, $transport->positionAt($at, $this->sheet), $live, $generations, $only);
        }

        return $chunks;
    }

    /**
     * One value at a show time, and which stratum says it.
     *
     * @param  array<string, float>  $live
     * @return array{Stratum, float}
     */
    public function value(Layer $layer, string $property, int $time, array $live = []): array
    {
        $said = [Stratum::Stored->value => $layer->stored[$property]];
        $curve = $layer->curves[$property] ?? null;
        if ($curve !== null) {
            $said[Stratum::Keyframed->value] = $curve->at($time);
        }
        if (isset($live["$layer->id/$property"])) {
            $said[Stratum::Loose->value] = $live["$layer->id/$property"];
        }

        return Stratum::winner($said);
    }

    /**
     * @param  array<string, float>  $live
     * @param  array<int, int>  $generations
     * @param  list<string>|null  $only
     */
    private function standing(int $start, int $time, array $live, array $generations, ?array $only): Chunk
    {
        $lanes = $this->lanes($only, $generations, static fn (float $v): array => [Chunk::CONSTANT, [$v]], $live,
            fn (Layer $layer, string $property): array => [Chunk::CONSTANT, [$this->value($layer, $property, $time, $live)[1]]],
            function (Layer $layer) use ($time): array {
                [$clip, $frame] = $this->frame($layer, $time);

                return [[Chunk::CONSTANT, [$clip]], [Chunk::CONSTANT, [$frame]]];
            });

        return Chunk::of($this->plan, $only === null, $start, Chunk::OPEN_END, $this->sheet->flicksPerFrame, $time, $lanes);
    }

    /**
     * @param  array<string, float>  $live
     * @param  array<int, int>  $generations
     * @param  list<string>|null  $only
     */
    private function running(int $start, int $end, int $time, int $count, array $live, array $generations, ?array $only): Chunk
    {
        $step = $this->sheet->flicksPerFrame;
        $lanes = $this->lanes($only, $generations, static fn (float $v): array => [Chunk::CONSTANT, [$v]], $live,
            function (Layer $layer, string $property) use ($time, $count, $step, $live): array {
                $curve = $layer->curves[$property] ?? null;
                if ($curve === null || isset($live["$layer->id/$property"]) || $curve->standsBetween($time, $time + $count * $step)) {
                    return [Chunk::CONSTANT, [$this->value($layer, $property, $time, $live)[1]]];
                }

                return [Chunk::LINEAR, $curve->samples($time, $step, max(1, $count + 1))];
            },
            function (Layer $layer) use ($time, $count, $step): array {
                [$clips, $frames] = [[], []];
                for ($i = 0; $i < $count; $i++) {
                    [$clips[], $frames[]] = $this->frame($layer, $time + $i * $step);
                }

                return [self::steps($clips), self::steps($frames)];
            });

        return Chunk::of($this->plan, $only === null, $start, $end, $step, $time, $lanes);
    }

    /**
     * @param  list<string>|null  $only
     * @param  array<int, int>  $generations
     * @param  callable(float): array{int, non-empty-list<float|int>}  $ofMaster
     * @param  array<string, float>  $live
     * @param  callable(Layer, string): array{int, non-empty-list<float|int>}  $ofProperty
     * @param  callable(Layer): array{array{int, non-empty-list<int>}, array{int, non-empty-list<int>}}  $ofFrames  clip and frame
     * @return array<int, array{generation: int, kind: int, values: non-empty-list<float|int>}>
     */
    private function lanes(?array $only, array $generations, callable $ofMaster, array $live, callable $ofProperty, callable $ofFrames): array
    {
        $wanted = $only === null ? null : array_flip($only);
        $properties = Property::ofLayer();
        $lanes = [];
        $put = function (string $name, array $lane) use (&$lanes, $generations): void {
            $number = $this->numbers[$name];
            $lanes[$number] = ['generation' => $generations[$number] ?? 0, 'kind' => $lane[0], 'values' => $lane[1]];
        };
        if ($wanted === null || isset($wanted['master'])) {
            $put('master', $ofMaster($live['master'] ?? 1.0));
        }
        foreach ($this->reached($only) as $layer) {
            foreach ($properties as $property => $_) {
                if ($wanted === null || isset($wanted["$layer->id/$property"])) {
                    $put("$layer->id/$property", $ofProperty($layer, $property));
                }
            }
            if ($wanted === null || isset($wanted["$layer->id/clip"]) || isset($wanted["$layer->id/frame"])) {
                [$clip, $frame] = $ofFrames($layer);
                $put("$layer->id/clip", $clip);
                $put("$layer->id/frame", $frame);
            }
        }

        return $lanes;
    }

    /**
     * The layers that some lanes belong to, so that one fader costs one layer's work.
     *
     * @param  list<string>|null  $lanes
     * @return array<string, Layer>
     */
    private function reached(?array $lanes): array
    {
        return $lanes === null ? $this->layers : array_intersect_key($this->layers, array_flip(array_map(static fn (string $lane): string => explode('/', $lane)[0], $lanes)));
    }

    /** @return array{int, int} index of the clip that is up, and the frame of its media */
    public function frame(Layer $layer, int $time): array
    {
        $i = $layer->clipAt($time);
        if ($i < 0) {
            return [-1, 0];
        }
        $item = $this->show->media[$layer->clips[$i]['media']];

        return [$i, $layer->clips[$i]['clip']->mediaFrameAt($time, $item->flicksPerFrame, $item->frames)];
    }

    /**
     * @param  list<int>  $samples
     * @return array{int, non-empty-list<int>}
     */
    private static function steps(array $samples): array
    {
        $first = $samples[0] ?? 0;
        foreach ($samples as $sample) {
            if ($sample !== $first) {
                return [Chunk::STEP, $samples];
            }
        }

        return [Chunk::CONSTANT, [$first]];
    }
}

<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Media\MediaItem;
use Core\Routing\Route;
use Core\Show\Layer;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Timeline\MediaTrack;
use Core\Timeline\SpeedRamp;
use Core\Units\Flicks;

/**
 * What a player of an output has to decode and read over the show time of a timeline. A layer whose media reaches
 * none of the output's surfaces is not fetched for it; one that is dark or muted is all the same, for it may be lit
 * at any moment.
 */
final readonly class Budget
{
    /** Moments of the course that are told; of more, those with the most to do. */
    public const TOLD = 400;

    /**
     * Bytes that a pixel of a video takes in a player: ten decoded frames of 8 bits, 4:2:0, and a texture of four
     * channels.
     */
    private const BYTES_A_PIXEL = 10 * 1.5 + 4;

    /**
     * @param  int  $at  show time of the worst moment, flicks: the first with the most decoded pixels a second
     * @param  int  $streams  videos that play then, one a layer
     * @param  float  $pixels  decoded a second then, mattes included
     * @param  float  $bytes  read a second then
     * @param  array{int, int}  $mostStreams  the most videos at once, and the show time at which that is first so
     * @param  array{float, int}  $mostBytes  the most that is read a second, and that time
     * @param  array{float, int}  $mostMemory  the most bytes that decoded pictures take at once, and that time
     * @param  list<array{int, float}>  $course  show time from which on, and decoded pixels a second; ascending
     */
    private function __construct(
        public int $at,
        public int $streams,
        public float $pixels,
        public float $bytes,
        public array $course,
        public array $mostStreams,
        public array $mostBytes,
        public array $mostMemory,
    ) {
    }

    /** @return array<string, array<string, self>> by output and timeline; without those that play no video */
    public static function all(Show $show, ResultCache $cache): array
    {
        [$found, $to] = [[], self::outputsByLayer($show, $cache)];
        foreach ($show->programme->timelines as $id => $timeline) {
            $layers = [];
            foreach ($timeline->layers as $layer) {
                foreach (array_keys($to[$layer->id]) as $output) {
                    $layers[$output][] = $layer;
                }
            }
            foreach ($layers as $output => $some) {
                $budget = $cache->get(
                    "budget $output $id",
                    [$some, $show->library, $show->rate],
                    static fn (): self => self::of($some, $show->library->media, $show->rate->flicksPerFrame),
                );
                if ($budget->streams > 0) {
                    $found[(string) $output][(string) $id] = $budget;
                }
            }
        }
        ksort($found, SORT_STRING);

        return $found;
    }

    /**
     * @param  list<Layer>  $layers
     * @param  array<string, MediaItem>  $media
     * @param  int  $flicksPerFrame  of the show
     */
    public static function of(array $layers, array $media, int $flicksPerFrame): self
    {
        $changes = [];
        foreach ($layers as $layer) {
            $items = array_map(static fn ($use): MediaItem => $media[$use->media], $layer->clips);
            $clips = array_map(
                static fn ($use, MediaItem $item): array => [$use->clip, $item->flicksPerFrame, $item->frames],
                $layer->clips,
                $items,
            );
            $speed = SpeedRamp::heeded($layer->speed());
            // Where clips overlap, both are decoded.
            for ($depth = 0, $deepest = MediaTrack::deepest(array_column($clips, 0)); $depth < $deepest; $depth++) {
                $last = null;
                foreach (MediaTrack::ofClips($clips, $depth, $speed, $flicksPerFrame)->segments as $segment) {
                    if ($last !== null) {
                        $changes[] = [$segment[0], -1, -$last[0], -$last[1], -$last[2]];
                    }
                    $item = $items[$segment[2]] ?? null;
                    $last =
                        $item === null
                            ? null
                            : self::load($item, (abs($segment[7]) * $item->flicksPerFrame) / $segment[6]);
                    if ($last !== null) {
                        $changes[] = [$segment[0], 1, $last[0], $last[1], $last[2]];
                    }
                }
            }
        }
        usort($changes, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        [$streams, $pixels, $bytes, $memory, $course] = [0, 0.0, 0.0, 0.0, []];
        [$worst, $mostStreams, $mostBytes, $mostMemory] = [[0, 0, 0.0, 0.0], [0, 0], [0.0, 0], [0.0, 0]];
        foreach ($changes as $i => [$time, $stream, $more, $read, $held]) {
            $memory += $held;
            [$streams, $pixels, $bytes] = [
                $streams + $stream,
                $streams + $stream === 0 ? 0.0 : $pixels + $more,
                $streams + $stream === 0 ? 0.0 : $bytes + $read,
            ];
            if (($changes[$i + 1][0] ?? null) === $time) {
                continue;
            }
            $course[] = [$time, $pixels];
            $mostStreams = $streams > $mostStreams[0] ? [$streams, $time] : $mostStreams;
            $mostMemory = $memory > $mostMemory[0] ? [$memory, $time] : $mostMemory;
            $mostBytes = $bytes > $mostBytes[0] ? [$bytes, $time] : $mostBytes;
            if ($pixels > $worst[2]) {
                $worst = [$time, $streams, $pixels, $bytes];
            }
        }
        if (count($course) > self::TOLD) {
            usort($course, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
            $course = array_slice($course, 0, self::TOLD);
            usort($course, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        }

        return new self(...[...$worst, $course, $mostStreams, $mostBytes, $mostMemory]);
    }

    /**
     * @return array<string, array<string, true>> by layer: the outputs that have to fetch what it shows; none without
     *     clips
     */
    public static function outputsByLayer(Show $show, ResultCache $cache): array
    {
        return $cache->get(
            'outputs by layer',
            [$show->programme, $show->delivery],
            static fn (): array => self::reaching($show),
        );
    }

    /** @return array<string, array<string, true>> */
    private static function reaching(Show $show): array
    {
        $outputs = [];
        foreach ($show->delivery->regions as $output => $regions) {
            foreach ($regions as $region) {
                $outputs[$region->surface][$output] = true;
            }
        }
        [$found, $reached] = [[], []];
        foreach ($show->programme->layers() as $layer) {
            $found[$layer->id] = [];
            foreach ($layer->clips === [] ? [] : $show->programme->ways($layer) as $route) {
                $found[$layer->id] += $reached[$route->id] ??= self::outputs($route, $outputs);
            }
        }

        return $found;
    }

    /**
     * @return array{float, float, float}|null decoded pixels and read bytes a second, and bytes that its pictures
     *     take; null for what is no video that is ready
     */
    private static function load(MediaItem $item, float $speed): ?array
    {
        if (($item->form['kind'] ?? null) !== 'video' || $item->state !== 'ready' || $item->frames <= 1) {
            return null;
        }
        $perSecond = ($speed * Flicks::PER_SECOND) / $item->flicksPerFrame;

        $pixels = (int) ($item->form['width'] ?? 0) * (int) ($item->form['height'] ?? 0);

        return [
            $pixels * $perSecond,
            ((float) ($item->form['bytes'] ?? 0) / $item->frames) * $perSecond,
            $pixels * self::BYTES_A_PIXEL,
        ];
    }

    /**
     * @param  array<string, array<string, true>>  $outputs  by surface
     * @return array<string, true> those that show surfaces of a route
     */
    private static function outputs(Route $route, array $outputs): array
    {
        $to = [];
        foreach ($route->surfaces() as $surface) {
            $to += $outputs[$surface] ?? [];
        }

        return $to;
    }
}

<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Effects\EffectPass;
use Core\Geometry\Mat3;
use Core\Media\Pattern;
use Core\Media\PatternPicture;
use Core\Media\TextGrid;
use Core\Routing\Projection;
use Core\Routing\Reach;
use Core\Routing\Share;
use Core\Timeline\BlendMode;
use Core\Timeline\Clip;
use Core\Timeline\MaskKey;
use Core\Units\Flicks;
use Core\Values\HeldValue;

/**
 * One picture laid on a surface's raster: which, where, how strongly and how it blends. The same list is drawn by
 * players and by the reference.
 */
final readonly class DrawStep
{
    /**
     * What the media of a test card that is put up are called: this with the id of its surface or output, and white
     * for its bar.
     */
    public const CARD = 'card ';

    public const BAR = 'card bar';

    /** A bar's way across a test card, in flicks: 4 s. */
    private const RUN = 4 * Flicks::PER_SECOND;

    /**
     * @param  string  $layer  empty for a test card that is put up
     * @param  string  $media  key of its part
     * @param  Mat3  $matrix  the picture's unit square onto the raster's pixels, or those of the pane where it is
     *     thrown
     * @param  array{float, float, float}  $gain  what red, green and blue are multiplied by, before they are cut off
     *     at 1
     * @param  array{float, float, float, float}  $crop  what is seen of the unit square: left, top, right, bottom
     * @param  array{float, float, float, float}|null  $clip  the part of the raster that may be drawn on: left, top,
     *     right, bottom; null for all
     * @param  PatternPicture|null  $pattern  where the media is a pattern, its frame
     * @param  int  $tile  whether what is seen of the picture is repeated: 1 across, 2 down, 3 both
     * @param  bool  $shared  whether its light is added to that of the step after it before both are laid on: two
     *     pictures between
     *                         which a layer fades
     * @param  array{float, float, float}  $invert  how far red, green and blue are turned into their opposites,
     *     before the gain
     * @param  bool  $opaque  whether nothing comes through the picture where it is clear: it is black there
     * @param  LayerMask|null  $mask  what the picture is cut out by
     * @param  list<EffectPass>  $effects  what is done to the picture before it is placed, one after another
     * @param  list<Projection>  $thrown  by what the pane reaches the surface; none where it lies on it as the matrix
     *     says
     */
    public function __construct(
        public string $layer,
        public string $media,
        public int $frame,
        public Mat3 $matrix,
        public float $opacity,
        public BlendMode $blend = BlendMode::Normal,
        public array $gain = [1.0, 1.0, 1.0],
        public array $crop = [0.0, 0.0, 1.0, 1.0],
        public ?array $clip = null,
        public array $thrown = [],
        public ?PatternPicture $pattern = null,
        public int $tile = 0,
        public bool $shared = false,
        public array $invert = [0.0, 0.0, 0.0],
        public bool $opaque = false,
        public ?LayerMask $mask = null,
        public array $effects = [],
    ) {
    }

    /** @return list<self> what a surface shows at a moment, from the bottom up; what can't be seen is left out */
    public static function of(Moment $moment, string $surface): array
    {
        $steps = [];
        foreach ($moment->plan->contributions($surface) as $part) {
            $own = [];
            foreach ($moment->headsOf($moment->plan->parts["layer:$part[layer]"]['timeline']) as $head) {
                if (($part['by'] ?? 0) === $moment->way($part['layer'], $head)) {
                    array_push($own, ...self::ofHead($moment, $part, $head));
                }
            }
            foreach ($own as $i => $step) {
                $steps[] = isset($own[$i + 1]) ? $step->sharing() : $step;
            }
        }

        return in_array($surface, $moment->cards, true) ? [...$steps, ...self::card($moment, $surface)] : $steps;
    }

    /**
     * What a layer's pictures have in common on all surfaces; null where they are not seen.
     *
     * @return array{opacity: float, crop: array{float, float, float, float}, pivot: array{float, float}, scale: float, turn: float, x: float, y: float, mirror: Mat3, blend: BlendMode, gain: array{float, float, float}, tile: int, invert: array{float, float, float}, opaque: bool}|null
     */
    private static function values(Moment $moment, string $layer, Head $head): ?array
    {
        $timeline = $moment->plan->parts["layer:$layer"]['timeline'];
        $value = static fn (string $property): float => $moment->value("layer:$layer/$property", $head);
        $crop = [$value('cropLeft'), $value('cropTop'), 1 - $value('cropRight'), 1 - $value('cropBottom')];
        $opacity =
            $moment->isMuted($layer, $head) || $crop[0] >= $crop[2] || $crop[1] >= $crop[3]
                ? 0.0
                : $value('opacity') *
                    $moment->value("timeline:$timeline/level", $head) *
                    $head->weight->at($moment->engine);

        return $opacity <= 0
            ? null
            : [
                'opacity' => $opacity,
                'crop' => $crop,
                'pivot' => [$value('pivotX'), $value('pivotY')],
                'scale' => $value('scale'),
                'turn' => $value('turn'),
                'x' => $value('x'),
                'y' => $value('y'),
                'mirror' => self::mirror($value('mirror')),
                'blend' => BlendMode::numbered($value('blend')),
                'gain' => $moment->colour("layer:$layer/gain", $head),
                'tile' => (int) round($value('tile')),
                'invert' => $moment->colour("layer:$layer/invert", $head),
                'opaque' => $value('opaque') >= 0.5,
            ];
    }

    /**
     * The pictures of a layer where a head is: one, or several while clips fade into each other.
     *
     * @param  array<string, mixed>  $part  of a contribution
     * @return list<self>
     */
    private static function ofHead(Moment $moment, array $part, Head $head): array
    {
        $layer = $part['layer'];
        $of = $moment->once("layer $layer", $head, static fn (): ?array => self::values($moment, $layer, $head));
        if ($of === null) {
            return [];
        }
        [
            'opacity' => $opacity,
            'crop' => $crop,
            'pivot' => $pivot,
            'scale' => $scale,
            'turn' => $turn,
            'x' => $x,
            'y' => $y,
            'mirror' => $mirror,
            'blend' => $blend,
            'gain' => $gain,
            'tile' => $tile,
            'invert' => $invert,
            'opaque' => $opaque,
        ] = $of;
        $mask = self::mask($moment, $part, $head);
        $effects = $part['effects'] ?? [];
        $steps = [];
        /** @param  array<string, mixed>  $clip */
        $step = function (array $clip, int $frame, float $strength) use (
            &$steps,
            $moment,
            $part,
            $head,
            $layer,
            $opacity,
            $crop,
            $pivot,
            $scale,
            $turn,
            $x,
            $y,
            $mirror,
            $blend,
            $gain,
            $tile,
            $invert,
            $opaque,
            $mask,
            $effects,
        ): void {
            $fit = Mat3::of($clip['fit']);
            [$pivotX, $pivotY] = $fit->point(...$pivot);
            $matrix = Mat3::about($pivotX, $pivotY, $scale, $turn, $x, $y)->times($fit)->times($mirror);
            $onto = self::onto($moment, $part, $head);
            array_unshift(
                $steps,
                new self(
                    $layer,
                    $clip['media'],
                    $frame,
                    $onto === null ? $matrix : $onto->times($matrix),
                    $opacity * $strength,
                    $blend,
                    $gain,
                    $crop,
                    $part['clip'] ?? null,
                    self::thrown($moment, $part, $head),
                    self::pattern($moment, $clip['media'], $frame, $head),
                    $tile,
                    false,
                    $invert,
                    $opaque,
                    $mask,
                    self::effects($moment, array_values([...$clip['effects'] ?? [], ...$effects]), $head),
                ),
            );
        };
        [$called, $left] = isset($part['stock']) ? $moment->called($layer, $head) : [[], 1.0];
        $stock = array_column($part['stock'] ?? [], null, 'number');
        foreach ($called as [$number, $share, $by]) {
            $one = $stock[$number] ?? null;
            $frame = $one === null ? null : $moment->frameOf($by, $one['flicks'], $one['frames']);
            if ($one !== null && $one['fit'] !== null && $frame !== null) {
                $step($one, $frame, $share);
            }
        }
        // What is on top takes its part, what is below it the rest.
        foreach (
            $moment->once("media $layer", $head, static fn (): array => $moment->clips($layer, $head)) as [$index, $frame]
        ) {
            $clip = $part['clips'][$index] ?? null;
            $strength =
                $clip === null
                    ? 0.0
                    : $left *
                        (isset($clip['fade']) ? Clip::strength($clip['fade'], $head->map->at($moment->engine)) : 1.0);
            $left -= $strength;
            if ($strength > 0 && $clip['fit'] !== null) {
                $step($clip, $frame, $strength);
            }
        }

        return $steps;
    }

    /**
     * Effects where a head is, without those that change nothing.
     *
     * @param  list<string>  $chain  their ids
     * @return list<EffectPass>
     */
    public static function effects(Moment $moment, array $chain, Head $head): array
    {
        if ($chain === []) {
            return [];
        }
        $time = $head->map->at($moment->engine) / Flicks::PER_SECOND;

        return array_values(
            array_filter(
                array_map(
                    static fn (string $id): ?EffectPass => $moment->once(
                        "effect $id",
                        $head,
                        static fn (): ?EffectPass => EffectPass::of(
                            static fn (string $name): float => $moment->value("effect:$id/$name", $head),
                            $time,
                        ),
                    ),
                    $chain,
                ),
            ),
        );
    }

    /**
     * What a layer is cut out by where a head is; null for nothing, also where it is told a media that is not in the
     * plan.
     *
     * @param  array<string, mixed>  $part  of a contribution
     */
    private static function mask(Moment $moment, array $part, Head $head): ?LayerMask
    {
        $layer = $part['layer'];
        $number = isset($part['masks']) ? (int) round($moment->value("layer:$layer/mask", $head)) : 0;
        $one = $number === 0 ? null : array_column($part['masks'], null, 'number')[$number] ?? null;
        if ($one === null) {
            return null;
        }
        $value = static fn (string $property): float => $moment->value("layer:$layer/$property", $head);
        $held = array_values(
            array_filter(
                $moment->heldOf("layer:$layer/mask"),
                static fn (HeldValue $by): bool => $by->weight->at($moment->engine) >= 0.5,
            ),
        );
        usort($held, HeldValue::inOrder(...));
        // One that is called runs from then on; another with its timeline.
        $frame =
            $held !== []
                ? $moment->frameOf($held[count($held) - 1], $one['flicks'], $one['frames'])
                : intdiv(max(0, $head->map->at($moment->engine)), $one['flicks']) % max(1, $one['frames']);

        return new LayerMask(
            $one['media'],
            $frame ?? 0,
            MaskKey::numbered($value('maskKey')),
            $value('maskInverted') >= 0.5,
            $value('maskWidth'),
            $moment->colour("layer:$layer/maskColour", $head),
            $value('maskX'),
            $value('maskY'),
            $value('maskScale'),
            $value('maskFeather'),
            self::pattern($moment, $one['media'], $frame ?? 0, $head),
        );
    }

    private function sharing(): self
    {
        return new self(
            $this->layer,
            $this->media,
            $this->frame,
            $this->matrix,
            $this->opacity,
            $this->blend,
            $this->gain,
            $this->crop,
            $this->clip,
            $this->thrown,
            $this->pattern,
            $this->tile,
            true,
            $this->invert,
            $this->opaque,
            $this->mask,
            $this->effects,
        );
    }

    /**
     * Where something is within what is seen of the picture, when that is repeated.
     *
     * @return array{float, float}
     */
    public function tiled(float $u, float $v): array
    {
        $wrap = static fn (float $at, float $from, float $to): float => $at -
            ($to - $from) * floor(($at - $from) / ($to - $from));

        return [
            ($this->tile & 1) !== 0 ? $wrap($u, $this->crop[0], $this->crop[2]) : $u,
            ($this->tile & 2) !== 0 ? $wrap($v, $this->crop[1], $this->crop[3]) : $v,
        ];
    }

    private static function pattern(Moment $moment, string $key, int $frame, Head $head): ?PatternPicture
    {
        $media = $moment->plan->parts["media:$key"] ?? null;

        return ($media['kind'] ?? null) !== 'pattern'
            ? null
            : PatternPicture::of(
                Pattern::cases()[$media['pattern']],
                $media['width'],
                $media['height'],
                $frame,
                $moment->plan->flicksPerFrame(),
                static fn (string $name): float => $moment->value("media:$media[media]/$name", $head),
                isset($media['text'])
                    ? TextGrid::fromNumbers(
                        $media['text'][0],
                        $media['text'][1],
                        array_values(array_slice($media['text'], 2)),
                    )
                    : null,
            );
    }

    /**
     * The unit square onto itself, by the number of the layer's choice: as it is, left and right swapped, top and
     * bottom, both.
     */
    private static function mirror(float $choice): Mat3
    {
        $n = (int) round($choice);

        return Mat3::of([
            $n & 1 ? -1.0 : 1.0,
            0.0,
            $n & 1 ? 1.0 : 0.0,
            0.0,
            $n & 2 ? -1.0 : 1.0,
            $n & 2 ? 1.0 : 0.0,
            0.0,
            0.0,
            1.0,
        ]);
    }

    /**
     * The pane's pixels onto the raster's, now; null where they are the same, and where they are thrown.
     *
     * @param  array<string, mixed>  $part  of a contribution
     */
    public static function onto(Moment $moment, array $part, Head $head): ?Mat3
    {
        if (isset($part['share'])) {
            $raster = $moment->plan->parts["surface:$part[surface]"];

            return Share::matrix(
                ...[
                    ...array_map(
                        static fn (string $name): float => $moment->value("share:$part[share]/$name", $head),
                        Share::VALUES,
                    ),
                    $raster['width'],
                    $raster['height'],
                ],
            );
        }

        return isset($part['onto']) ? Mat3::of($part['onto']) : null;
    }

    /**
     * @param  array<string, mixed>  $part  of a contribution
     * @return list<Projection>
     */
    public static function thrown(Moment $moment, array $part, Head $head): array
    {
        $values = static fn (string $of): \Closure => static fn (string $name): float => $moment->value(
            "$of/$name",
            $head,
        );

        foreach (Reach::thrown() as $strategy) {
            $drawn = $strategy->drawn($part, $values);
            if ($drawn !== []) {
                return $drawn;
            }
        }

        return [];
    }

    /**
     * @return self|null the card over the whole of an output by which it is recognised, past the master, while that
     *     is asked for
     */
    public static function identify(Moment $moment, string $output): ?self
    {
        $raster = $moment->plan->parts["output:$output"] ?? null;

        return $raster !== null && $moment->engine < ($moment->identified[$output] ?? 0)
            ? self::cardOver($output, $raster['width'], $raster['height'])
            : null;
    }

    /**
     * The test card over a surface, with a bar that runs across it once in four seconds, so that a frozen picture is
     * seen to be one.
     *
     * @return list<self>
     */
    private static function card(Moment $moment, string $surface): array
    {
        $raster = $moment->plan->parts["surface:$surface"] ?? null;
        if ($raster === null) {
            return [];
        }
        [$width, $height] = [$raster['width'], $raster['height']];
        $bar = max(2, $width / 96);
        $left = (($moment->engine % self::RUN) / self::RUN) * ($width + $bar) - $bar;

        return [
            self::cardOver($surface, $width, $height),
            new self('', self::BAR, 0, Mat3::rectangle($left, 0, $bar, $height), 0.85),
        ];
    }

    private static function cardOver(string $id, int $width, int $height): self
    {
        return new self('', self::CARD.$id, 0, Mat3::rectangle(0, 0, $width, $height), 1);
    }
}

<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Effects\EffectPass;
use Core\Effects\EffectPicture;
use Core\Media\PatternPicture;
use Core\Media\Picture;

/** Pictures with their effects, kept for whoever shows the same: several surfaces, and several lights. */
final class EffectPictures
{
    /** Pictures that are kept; all go when there are more. */
    private const KEPT = 64;

    /** @var array<string, array{Picture|PatternPicture, EffectPicture}> by what they were made of */
    private array $made = [];

    /** @var \WeakMap<DrawStep, EffectPicture> those that were asked for by a step: it asks for each pixel */
    private \WeakMap $known;

    public function __construct()
    {
        $this->known = new \WeakMap();
    }

    public function of(DrawStep $step, Picture|PatternPicture $picture): EffectPicture
    {
        $known = $this->known[$step] ?? null;
        if ($known !== null) {
            return $known;
        }
        $key =
            "$step->media $step->frame ".
            implode(' ', array_map(static fn (EffectPass $pass): string => $pass->key(), $step->effects));
        $kept = $this->made[$key] ?? null;
        // A pattern may be another one at the same frame.
        if ($kept === null || $kept[0] != $picture) {
            count($this->made) >= self::KEPT && ($this->made = []);
            $kept = $this->made[$key] = [$picture, EffectPicture::of($picture, $step->effects)];
        }

        return $this->known[$step] = $kept[1];
    }
}

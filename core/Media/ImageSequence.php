<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\FrameRate;
use Core\Units\InvalidValue;

/**
 * Numbered stills that are one video: which of them is up at each frame. A number that is missing shows the one
 * before.
 */
final readonly class ImageSequence
{
    public const MAX_FRAMES = 1_000_000;

    /** What stands in the archive of a sequence beside its stills: the frame rate by its name. */
    public const RATE = 'frame-rate.txt';

    private const KINDS = ['png', 'jpg', 'jpeg', 'tif', 'tiff', 'bmp', 'webp', 'exr', 'dpx', 'sgi', 'ppm'];

    /**
     * @param  list<int>  $shown  for each frame, which of the files given, by its place among them
     * @param  list<string>  $remarks  sentences for what is missing
     */
    private function __construct(public array $shown, public FrameRate $rate, public array $remarks)
    {
    }

    /**
     * @param  list<string>  $names  of files; those that are no stills are passed over
     * @param  FrameRate|null  $rate  null where it is not said
     *
     * @throws InvalidValue for stills of several kinds, without numbers, or none
     */
    public static function of(array $names, ?FrameRate $rate): self
    {
        [$numbered, $kinds] = [[], []];
        foreach ($names as $place => $name) {
            $kind = strtolower(pathinfo($name, PATHINFO_EXTENSION));
            if (! in_array($kind, self::KINDS, true)) {
                continue;
            }
            if (preg_match('/(\d{1,9})\.[^.]+$/', $name, $m) !== 1) {
                throw InvalidValue::because(
                    'file',
                    "$name has no number before its end, so its place in the sequence is not known.",
                );
            }
            if (isset($numbered[(int) $m[1]])) {
                throw InvalidValue::because(
                    'file',
                    "Two stills of the sequence have the number $m[1]: {$names[$numbered[(int) $m[1]]]} and $name.",
                );
            }
            $numbered[(int) $m[1]] = $place;
            $kinds[$kind] = true;
        }
        if ($numbered === []) {
            throw InvalidValue::because('file', 'There are no stills in this archive.');
        }
        if (count($kinds) > 1) {
            throw InvalidValue::because(
                'file',
                'The stills of a sequence are of one kind; these are '.implode(' and ', array_keys($kinds)).'.',
            );
        }
        ksort($numbered);
        [$first, $last] = [(int) array_key_first($numbered), (int) array_key_last($numbered)];
        if ($last - $first >= self::MAX_FRAMES) {
            throw InvalidValue::because(
                'file',
                'A sequence has at most '.
                    number_format(self::MAX_FRAMES).
                    " frames; this one is numbered from $first to $last.",
            );
        }
        [$shown, $missing, $up] = [[], [], $numbered[$first]];
        for ($number = $first; $number <= $last; $number++) {
            if (! isset($numbered[$number])) {
                $missing[] = $number;
            }
            $shown[] = $up = $numbered[$number] ?? $up;
        }
        $remarks = $rate === null ? ['The sequence does not name its frame rate; 25 fps is assumed.'] : [];
        if ($missing !== []) {
            $remarks[] = sprintf(
                '%s missing: %s. The one before is held.',
                count($missing) === 1 ? '1 still is' : count($missing).' stills are',
                implode(', ', array_slice($missing, 0, 8)).(count($missing) > 8 ? ' …' : ''),
            );
        }

        return new self($shown, $rate ?? FrameRate::of('25'), $remarks);
    }
}

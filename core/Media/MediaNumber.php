<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * By which a lighting console calls a media: the number of a folder and an index in it, a byte each. A console at
 * rest sends 0 and 0, so these are given to nothing by themselves; people may give them.
 */
final readonly class MediaNumber implements \Stringable
{
    private const MAX = 255;

    private function __construct(public int $folder, public int $index)
    {
    }

    /** @throws InvalidValue for what is not between 0 and 255 */
    public static function of(int $folder, int $index): self
    {
        return new self(Check::whole('folder', $folder, 0, self::MAX), Check::whole('index', $index, 0, self::MAX));
    }

    /**
     * The number that a new media is given: the one after the highest, from 1.1 on; when that is the last of all, the
     * lowest that is free. What has a number keeps it.
     *
     * @param  iterable<self>  $taken
     *
     * @throws InvalidValue when none is free
     */
    public static function next(iterable $taken): self
    {
        [$used, $highest] = [[], 256];
        foreach ($taken as $number) {
            $used[$number->place()] = true;
            $highest = max($highest, $number->place());
        }
        $last = 256 * self::MAX + self::MAX;
        for ($place = $highest + 1; $place <= $last; $place++) {
            if ($place % 256 !== 0) {
                return new self(intdiv($place, 256), $place % 256);
            }
        }
        for ($place = 257; $place <= $last; $place++) {
            if ($place % 256 !== 0 && ! isset($used[$place])) {
                return new self(intdiv($place, 256), $place % 256);
            }
        }
        throw InvalidValue::because('index', 'All numbers of media are taken: 255 folders of 255.');
    }

    /** Where it stands in the order of all. */
    public function place(): int
    {
        return 256 * $this->folder + $this->index;
    }

    /** "3.017": the index with three digits, so that texts sort as numbers do. */
    public function __toString(): string
    {
        return sprintf('%d.%03d', $this->folder, $this->index);
    }
}

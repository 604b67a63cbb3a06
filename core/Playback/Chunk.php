<?php

declare(strict_types=1);

namespace Core\Playback;

/**
 * A stretch of the bake on its way to a player: lanes from one engine time to another.
 *
 * As bytes, little-endian: version (u8, 1), flags (u8, bit 0: all lanes are here), 0 (u16), the serial of its plan (u32), number of
 * lanes (u32), then as 64-bit floats start and end (engine time), step (flicks between samples) and show (the show
 * time at the start). Each lane: number, generation, kind (0 constant, 1 step, 2 linear), count (u32 each), then count
 * 32-bit floats. A step lane holds its sample until the next; a linear lane goes straight from one to the next and so
 * has one more.
 */
final readonly class Chunk
{
    public const VERSION = 1;

    public const HEADER = 44;

    public const CONSTANT = 0;

    public const STEP = 1;

    public const LINEAR = 2;

    /** The end of a chunk that holds until something newer comes. */
    public const OPEN_END = 9_000_000_000_000_000;

    /** @param  array<int, array{generation: int, kind: int, values: non-empty-list<float|int>}>  $lanes by lane number */
    private function __construct(
        public int $plan,
        public bool $allLanes,
        public int $start,
        public int $end,
        public int $step,
        public int $show,
        public array $lanes,
    ) {
    }

    /** @param  array<int, array{generation: int, kind: int, values: non-empty-list<float|int>}>  $lanes */
    public static function of(int $plan, bool $allLanes, int $start, int $end, int $step, int $show, array $lanes): self
    {
        return new self($plan, $allLanes, $start, $end, $step, $show, $lanes);
    }

    public function toBytes(): string
    {
        $bytes = pack('CCvVVeeee', self::VERSION, $this->allLanes ? 1 : 0, 0, $this->plan, count($this->lanes), $this->start, $this->end, $this->step, $this->show);
        foreach ($this->lanes as $number => $lane) {
            $bytes .= pack('V4', $number, $lane['generation'], $lane['kind'], count($lane['values'])).pack('g*', ...$lane['values']);
        }

        return $bytes;
    }

    public static function fromBytes(string $bytes): self
    {
        $head = self::header($bytes);
        $lanes = [];
        for ($at = self::HEADER, $i = 0; $i < $head['lanes']; $i++) {
            $lane = unpack('Vnumber/Vgeneration/Vkind/Vcount', $bytes, $at) ?: throw new \UnexpectedValueException('A chunk ends within a lane.');
            $values = array_values(unpack('g'.$lane['count'], $bytes, $at + 16) ?: []);
            if ($values === []) {
                throw new \UnexpectedValueException('A lane has no values.');
            }
            $lanes[$lane['number']] = ['generation' => $lane['generation'], 'kind' => $lane['kind'], 'values' => $values];
            $at += 16 + 4 * $lane['count'];
        }

        return new self($head['plan'], $head['allLanes'], $head['start'], $head['end'], $head['step'], $head['show'], $lanes);
    }

    /**
     * What stands at the front, without unpacking the lanes.
     *
     * @return array{plan: int, allLanes: bool, lanes: int, start: int, end: int, step: int, show: int}
     */
    public static function header(string $bytes): array
    {
        if (strlen($bytes) < self::HEADER) {
            throw new \UnexpectedValueException('This is no chunk: it is shorter than a header.');
        }
        $h = (array) unpack('Cversion/Cflags/vzero/Vplan/Vlanes/estart/eend/estep/eshow', $bytes);
        if ($h['version'] !== self::VERSION) {
            throw new \UnexpectedValueException("Chunks of version {$h['version']} are not understood.");
        }

        return [
            'plan' => $h['plan'], 'allLanes' => ($h['flags'] & 1) === 1, 'lanes' => $h['lanes'],
            'start' => (int) $h['start'], 'end' => (int) $h['end'], 'step' => (int) $h['step'], 'show' => (int) $h['show'],
        ];
    }

    /**
     * The lane numbers and generations, without their values.
     *
     * @return array<int, int> generation by lane
     */
    public static function generations(string $bytes): array
    {
        $found = [];
        $count = self::header($bytes)['lanes'];
        for ($at = self::HEADER, $i = 0; $i < $count; $i++) {
            $lane = (array) unpack('Vnumber/Vgeneration/Vkind/Vcount', $bytes, $at);
            $found[$lane['number']] = $lane['generation'];
            $at += 16 + 4 * $lane['count'];
        }

        return $found;
    }
}

<?php

declare(strict_types=1);

namespace Core\Output;

/** What was computed of a region from the venue: where it lands, and how its light is shared with others. */
final readonly class ComputedWarp
{
    /** @param  BlendMap|null  $blend  null where it shares with none */
    public function __construct(public WarpLattice $lattice, public ?BlendMap $blend)
    {
    }

    /** The length of the warp (32 bits, little-endian), the warp, the blend. */
    public function toBytes(): string
    {
        $lattice = $this->lattice->toBytes();

        return pack('V', strlen($lattice)).$lattice.($this->blend?->toBytes() ?? '');
    }

    /** @throws \UnexpectedValueException */
    public static function fromBytes(string $bytes): self
    {
        $length = strlen($bytes) < 4 ? 0 : (int) ((array) unpack('V', $bytes))[1];

        return new self(WarpLattice::fromBytes(substr($bytes, 4, $length)), strlen($bytes) === 4 + $length ? null : BlendMap::fromBytes(substr($bytes, 4 + $length)));
    }
}

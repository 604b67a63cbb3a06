<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * What was computed of a region from the venue: where it lands, how its light is shared with others, and what it adds
 * in the dark.
 */
final readonly class ComputedWarp
{
    /**
     * @param  ProjectedMesh|WarpLattice  $warp  as computed from the venue; a lattice where it came from outside
     * @param  BlendMap|null  $blend  null where it shares with none
     * @param  BlendMap|null  $lift  shares of the output's black; null where all of it is added everywhere
     */
    public function __construct(
        public ProjectedMesh|WarpLattice $warp,
        public ?BlendMap $blend,
        public ?BlendMap $lift = null,
    ) {
    }

    /** The length of the warp (32 bits, little-endian), the warp, the blend, the lift. */
    public function toBytes(): string
    {
        $warp = $this->warp->toBytes();

        return pack('V', strlen($warp)).
            $warp.
            ($this->blend?->toBytes() ?? '').
            ($this->blend === null ? '' : $this->lift?->toBytes() ?? '');
    }

    /** @throws \UnexpectedValueException */
    public static function fromBytes(string $bytes): self
    {
        $length = strlen($bytes) < 4 ? 0 : (int) ((array) unpack('V', $bytes))[1];
        $maps = substr($bytes, 4 + $length);
        $first = BlendMap::length($maps);

        $warp = substr($bytes, 4, $length);

        return new self(
            ProjectedMesh::isOne($warp) ? ProjectedMesh::fromBytes($warp) : WarpLattice::fromBytes($warp),
            $maps === '' ? null : BlendMap::fromBytes(substr($maps, 0, $first)),
            strlen($maps) <= $first ? null : BlendMap::fromBytes(substr($maps, $first)),
        );
    }
}

<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * What a projector sees of a surface: the surface's triangles on the output, and before them whatever may stand in
 * their way. The nearest is seen.
 */
final readonly class ProjectedMesh
{
    /** Marks the bytes of one, where those of a lattice have how many columns they have. */
    private const MAGIC = 0xFFFFFFFF;

    /**
     * @param  string  $bytes  of each corner the six numbers of `DeliveryMesh`, 32-bit floats; without what is set by
     *     hand
     * @param  float  $error  px of the output by which a place is missed at most
     */
    public function __construct(public string $bytes, public float $error)
    {
    }

    /** @return list<list<float>> triangles, eighteen numbers each */
    public function triangles(): array
    {
        return array_chunk(
            $this->bytes === '' ? [] : array_values((array) unpack('g*', $this->bytes)),
            3 * DeliveryMesh::NUMBERS,
        );
    }

    /** A mark, the error, the corners; little-endian. */
    public function toBytes(): string
    {
        return pack('Ve', self::MAGIC, $this->error).$this->bytes;
    }

    public static function isOne(string $bytes): bool
    {
        return str_starts_with($bytes, pack('V', self::MAGIC));
    }

    /** @throws \UnexpectedValueException */
    public static function fromBytes(string $bytes): self
    {
        $corner = 4 * DeliveryMesh::NUMBERS;
        if (! self::isOne($bytes) || strlen($bytes) < 12 || (strlen($bytes) - 12) % (3 * $corner) !== 0) {
            throw new \UnexpectedValueException('This is no computed warp.');
        }

        return new self(substr($bytes, 12), (float) ((array) unpack('e', $bytes, 4))[1]);
    }
}

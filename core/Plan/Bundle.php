<?php

declare(strict_types=1);

namespace Core\Plan;

use Core\Output\BlendMap;
use Core\Output\DeliveryMesh;
use Core\Timeline\MediaTrack;
use Core\Values\Track;

/**
 * Parts and tracks on their way: a whole plan, or what an edit changed of it, with null for what is gone.
 *
 * As bytes: the length of a header (u32, little-endian), the header as JSON filled up with spaces so that what
 * follows begins at a multiple of 8, then the numbers of the tracks. The header has show, revision, parts, and
 * tracks: of each its kind, and a constant's value `v`, or where its numbers begin after the header (`at`, bytes) and
 * how many pieces (`n`) they are: for `cubic` as Track::toBytes() has them (`wide`: 64-bit coefficients), for `media`
 * as MediaTrack::toBytes(), for `mesh` as SurfaceMesh has them (`n`: corners), for `delivery` as DeliveryMesh (`n`:
 * corners), for `blend` as BlendMap (`n`: bytes).
 */
final readonly class Bundle
{
    /**
     * @param  array<string, array<string, mixed>|null>  $parts
     * @param  array<string, Track|MediaTrack|SurfaceMesh|DeliveryMesh|BlendMap|null>  $tracks
     */
    public function __construct(public string $show, public int $revision, public array $parts, public array $tracks)
    {
    }

    public function isEmpty(): bool
    {
        return $this->parts === [] && $this->tracks === [];
    }

    public function toBytes(): string
    {
        [$tracks, $blob] = [[], ''];
        foreach ($this->tracks as $name => $track) {
            if ($track === null) {
                $tracks[$name] = null;
            } elseif ($track instanceof MediaTrack) {
                $tracks[$name] = ['kind' => 'media', 'n' => count($track->segments), 'at' => strlen($blob)];
                $blob .= $track->toBytes();
            } elseif ($track instanceof SurfaceMesh) {
                $tracks[$name] = ['kind' => 'mesh', 'n' => $track->corners(), 'at' => strlen($blob)];
                $blob .= $track->bytes.str_repeat("\0", -strlen($track->bytes) & 7);
            } elseif ($track instanceof DeliveryMesh) {
                $tracks[$name] = ['kind' => 'delivery', 'n' => $track->corners(), 'at' => strlen($blob)];
                $blob .= $track->bytes.str_repeat("\0", -strlen($track->bytes) & 7);
            } elseif ($track instanceof BlendMap) {
                $bytes = $track->toBytes();
                $tracks[$name] = ['kind' => 'blend', 'n' => strlen($bytes), 'at' => strlen($blob)];
                $blob .= $bytes.str_repeat("\0", -strlen($bytes) & 7);
            } elseif ($track->isConstant()) {
                $tracks[$name] = ['kind' => 'constant', 'v' => $track->coefficients[0]];
            } else {
                $tracks[$name] = [
                    'kind' => 'cubic',
                    'n' => count($track->times),
                    'wide' => $track->wide,
                    'at' => strlen($blob),
                ];
                $bytes = $track->toBytes();
                $blob .= $bytes.str_repeat("\0", -strlen($bytes) & 7);
            }
        }
        $header = json_encode(
            [
                'show' => $this->show,
                'revision' => $this->revision,
                'parts' => (object) $this->parts,
                'tracks' => (object) $tracks,
            ],
            JSON_THROW_ON_ERROR |
                JSON_UNESCAPED_SLASHES |
                JSON_UNESCAPED_UNICODE |
                JSON_INVALID_UTF8_SUBSTITUTE |
                JSON_PRESERVE_ZERO_FRACTION,
        );
        $header .= str_repeat(' ', -(4 + strlen($header)) & 7);

        return pack('V', strlen($header)).$header.$blob;
    }

    public static function fromBytes(string $bytes): self
    {
        $length = strlen($bytes) < 4 ? PHP_INT_MAX : ((array) unpack('V', $bytes))[1];
        $header = strlen($bytes) < 4 + $length ? null : json_decode(substr($bytes, 4, $length), true);
        if (! is_array($header)) {
            throw new \UnexpectedValueException('This is no bundle: its header is cut short.');
        }
        $tracks = [];
        foreach ($header['tracks'] as $name => $track) {
            $at = 4 + $length + ($track['at'] ?? 0);
            $tracks[$name] = match ($track['kind'] ?? null) {
                null => null,
                'constant' => Track::constant((float) $track['v']),
                'media' => MediaTrack::fromBytes(substr($bytes, $at, 8 * MediaTrack::COLUMNS * $track['n'])),
                'mesh' => SurfaceMesh::fromBytes(substr($bytes, $at, 4 * SurfaceMesh::NUMBERS * $track['n'])),
                'delivery' => DeliveryMesh::fromBytes(substr($bytes, $at, 4 * DeliveryMesh::NUMBERS * $track['n'])),
                'blend' => BlendMap::fromBytes(substr($bytes, $at, $track['n'])),
                default => Track::fromBytes(substr($bytes, $at), $track['n'], $track['wide']),
            };
        }

        return new self($header['show'], $header['revision'], $header['parts'], $tracks);
    }
}

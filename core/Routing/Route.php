<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Media\MediaItem;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Surface;

/** How a picture reaches surfaces: a pane in which it is placed, and a reach that carries the pane's pixels. One without a name belongs to the layer that was aimed straight at its surfaces. */
final readonly class Route
{
    public const MAX_SURFACES = 10_000;

    /** @param  list<string>  $surfaces  ids, each once */
    private function __construct(public string $id, public string $name, public Reach $reach, public array $surfaces, public ?string $layer)
    {
    }

    /**
     * @param  array<string, mixed>  $row  name (empty: of one layer), reach, surfaces, layer
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $layer = isset($row['layer']) ? (string) $row['layer'] : null;
        $name = (string) ($row['name'] ?? '');
        if ($layer === null) {
            Check::name('name', $name);
        }
        $surfaces = array_values(array_unique(array_map(strval(...), (array) ($row['surfaces'] ?? []))));
        if (count($surfaces) > self::MAX_SURFACES) {
            throw InvalidValue::because('surfaces', 'A route reaches at most '.self::MAX_SURFACES.' surfaces.');
        }

        return new self(
            (string) $row['id'],
            $name,
            Reach::tryFrom((string) ($row['reach'] ?? 'skin')) ?? throw InvalidValue::notOneOf('reach', (string) $row['reach'], array_column(Reach::cases(), 'value')),
            $surfaces,
            $layer,
        );
    }

    /**
     * The pane in which a layer is placed on its way to a surface.
     *
     * @return array{int, int} pixels
     */
    public function pane(Surface $surface): array
    {
        return [$surface->width(), $surface->height()];
    }

    /** Where a media lands in the pane toward a surface; null when it has no picture yet. */
    public function place(MediaItem $item, Surface $surface, Fitting $fitting, float $anchorX = 0.5, float $anchorY = 0.5): ?Placement
    {
        $pane = $this->pane($surface);
        [$width, $height] = $item->contentSize($pane);

        return $width < 1 || $height < 1 ? null : Placement::of($width, $height, $item->pixelAspect, $pane[0], $pane[1], $fitting, $anchorX, $anchorY);
    }
}

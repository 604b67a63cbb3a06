<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Units\InvalidValue;
use Core\Venue\Panel;

final readonly class PanelKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'panel';
    }

    public function view(): string
    {
        return 'venue';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'widthMm' => ['number'],
            'heightMm' => ['number'],
            'widthPx' => ['integer'],
            'heightPx' => ['integer'],
            'kilograms' => ['number', 0.0],
            'wattsAverage' => ['number', 0.0],
            'wattsMaximum' => ['number', 0.0],
            'depthMm' => ['number', 80.0],
            'candela' => ['number', 0.0],
            'viewAcross' => ['number', 140.0],
            'viewDown' => ['number', 140.0],
            'jointMin' => ['number', 0.0],
            'jointMax' => ['number', 0.0],
            'inrushAmperes' => ['number', 0.0],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return self::panel($row);
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function panel(array $row): Panel
    {
        return Panel::of(
            (string) $row['name'],
            (float) $row['widthMm'],
            (float) $row['heightMm'],
            (int) $row['widthPx'],
            (int) $row['heightPx'],
            (float) $row['kilograms'],
            (float) $row['wattsAverage'],
            (float) $row['wattsMaximum'],
            (float) ($row['depthMm'] ?? 80),
            (float) ($row['candela'] ?? 0),
            (float) ($row['viewAcross'] ?? 140),
            (float) ($row['viewDown'] ?? 140),
            (float) ($row['jointMin'] ?? 0),
            (float) ($row['jointMax'] ?? 0),
            (float) ($row['inrushAmperes'] ?? 0),
        );
    }
}

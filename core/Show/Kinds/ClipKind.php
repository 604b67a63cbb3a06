<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Routing\Fitting;
use Core\Show\ClipUse;
use Core\Show\Kind;
use Core\Timeline\Clip;
use Core\Timeline\PastEnd;
use Core\Units\Check;
use Core\Units\InvalidValue;

final readonly class ClipKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'clip';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function parent(): ?string
    {
        return 'layer';
    }

    public function fields(): array
    {
        return [
            'layer' => ['id'],
            'media' => ['id'],
            'start' => ['integer'],
            'length' => ['integer'],
            'in' => ['integer', 0],
            'out' => ['integer?', null],
            'pastEnd' => ['string', 'hold'],
            'speed' => ['number', 1],
            'fadeIn' => ['integer', 0],
            'fadeOut' => ['integer', 0],
            'offset' => ['integer', 0],
            'ownClock' => ['boolean', false],
            'cutBefore' => ['integer', 0],
            'cutAfter' => ['integer', 0],
            'fitting' => ['string?', null],
            'anchorX' => ['number?', null],
            'anchorY' => ['number?', null],
        ];
    }

    public function build(array $row, array $needed): object
    {
        $past =
            PastEnd::tryFrom((string) ($row['pastEnd'] ?? 'hold')) ??
            throw InvalidValue::notOneOf('pastEnd', (string) $row['pastEnd'], array_column(PastEnd::cases(), 'value'));
        $clip = Clip::of(
            (int) $row['start'],
            (int) $row['length'],
            (int) ($row['in'] ?? 0),
            isset($row['out']) ? (int) $row['out'] : null,
            $past,
            (float) ($row['speed'] ?? 1),
            (int) ($row['fadeIn'] ?? 0),
            (int) ($row['fadeOut'] ?? 0),
            (int) ($row['offset'] ?? 0),
            (bool) ($row['ownClock'] ?? false),
            (int) ($row['cutBefore'] ?? 0),
            (int) ($row['cutAfter'] ?? 0),
        );

        return new ClipUse(
            (string) ($row['id'] ?? ''),
            (string) ($row['layer'] ?? ''),
            (string) ($row['media'] ?? ''),
            $clip,
            self::fitting($row['fitting'] ?? null),
            self::anchor('anchorX', $row),
            self::anchor('anchorY', $row),
        );
    }

    private static function fitting(mixed $name): ?Fitting
    {
        return $name === null
            ? null
            : Fitting::tryFrom((string) $name) ??
                    throw InvalidValue::notOneOf('fitting', (string) $name, array_column(Fitting::cases(), 'value'));
    }

    /** @param  array<string, mixed>  $row */
    private static function anchor(string $field, array $row): ?float
    {
        return isset($row[$field]) ? Check::number($field, (float) $row[$field], 0, 1) : null;
    }
}

<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Variant;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Projector;

final readonly class VariantKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'variant';
    }

    public function view(): string
    {
        return 'venue';
    }

    public function fields(): array
    {
        return ['name' => ['string'], 'projectors' => ['projectors', []]];
    }

    public function build(array $row, array $needed): object
    {
        $projectors = [];
        foreach (array_values((array) $row['projectors']) as $i => $one) {
            if (! is_array($one) || ! isset($one['id'], $one['name'], $one['position'], $one['rotation'])) {
                throw InvalidValue::because(
                    'projectors',
                    'Projector '.($i + 1).' of a variant needs an id, a name, a position and a rotation.',
                );
            }
            $projectors[(string) $one['id']] = [Projector::fromRow($one), RigKind::pose($one)];
        }

        return new Variant(Check::name('name', (string) $row['name']), $projectors);
    }
}

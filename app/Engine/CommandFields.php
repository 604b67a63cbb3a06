<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ArgumentType;

/** Fields that any request of a window to the engine may hold, by name and type. */
final class CommandFields
{
    /** Types by field. What a command holds besides is checked by its declaration. */
    private const TYPES = ['as' => 'text', 'stream' => 'whole', 'shows' => 'list'];

    /**
     * @param  array<mixed>  $said
     * @return string|null the first field that is of another type, in words; null where all are right
     */
    public static function fault(array $said): ?string
    {
        foreach (array_intersect_key($said, self::TYPES) as $field => $value) {
            $type = ArgumentType::from(self::TYPES[$field]);
            if (! $type->fits($value)) {
                return "`$field` is {$type->named()}.";
            }
        }

        return null;
    }
}

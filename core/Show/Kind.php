<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\InvalidValue;
use Core\Values\PropertySet;

/**
 * A kind of row of a show: its fields, what it belongs to, in which view it is worked on, what values it has, and how
 * it becomes what it stands for.
 */
interface Kind
{
    public function name(): string;

    /** The view in which rows of this kind are worked on, and where findings about them go. */
    public function view(): string;

    /** The kind, and with it the field, that rows of this kind belong to: they go when that row goes. */
    public function parent(): ?string;

    /**
     * Type and, where a row may leave it out, default of each field. Types: string, string?, id, id?, ids, integer,
     * integer?, number, numbers, boolean, cells, keyframes, settings (with the names that there are), words (by ids
     * of rows), hashes, reliefs, projectors, values, held (what a cue holds).
     *
     * @return array<string, array{0: string, 1?: mixed, 2?: list<string>}>
     */
    public function fields(): array;

    public function properties(): PropertySet;

    /**
     * Ids of rows of other kinds whose built values build() has to be given.
     *
     * @param  array<string, mixed>  $row
     * @return array<string, list<string>> by kind
     */
    public function needs(array $row): array;

    /**
     * What the row stands for, checked as far as it can be alone.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, object>  $needed  by id; what is missing is gone
     *
     * @throws InvalidValue
     */
    public function build(array $row, array $needed): object;
}

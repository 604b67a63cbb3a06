<?php

declare(strict_types=1);

namespace Core\Paperwork;

/** One table of a paper: what it is called, its columns and its rows. */
final readonly class Table
{
    /**
     * @param  list<string>  $columns
     * @param  list<list<string|int|float>>  $rows
     * @param  list<string>  $remarks
     */
    public function __construct(
        public string $title,
        public array $columns,
        public array $rows,
        public array $remarks = [],
    ) {
    }
}

<?php

declare(strict_types=1);

namespace App\Engine;

/** What holds an open show and makes of its edits what others have to know. */
interface Compiler
{
    /** @param  array<string, mixed>  $message */
    public function send(array $message): void;

    /**
     * @param  array<string, mixed>  $message
     * @param  \Closure(array<string, mixed>|null): void  $then  null when it has ended, or has too much to answer
     */
    public function ask(array $message, \Closure $then): void;

    public function end(): void;

    public function pid(): ?int;
}

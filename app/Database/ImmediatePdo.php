<?php

declare(strict_types=1);

namespace App\Database;

/**
 * SQLite whose transactions take the write lock at their start. One that reads first and writes later would otherwise
 * be refused at once, without any waiting, when somebody else wrote in between. The framework does this itself from
 * PHP 8.4 on.
 */
final class ImmediatePdo extends \PDO
{
    private bool $within = false;

    public function beginTransaction(): bool
    {
        if ($this->within) {
            throw new \PDOException('There is already an active transaction');
        }
        $this->exec('BEGIN IMMEDIATE TRANSACTION');

        return $this->within = true;
    }

    public function commit(): bool
    {
        $this->exec('COMMIT TRANSACTION');
        $this->within = false;

        return true;
    }

    public function rollBack(): bool
    {
        $this->within = false;
        try {
            $this->exec('ROLLBACK TRANSACTION');
        } catch (\PDOException $e) {
            // On a full disk SQLite rolls back by itself.
            if (! str_contains($e->getMessage(), 'no transaction is active')) {
                throw $e;
            }
        }

        return true;
    }

    public function inTransaction(): bool
    {
        return $this->within;
    }
}

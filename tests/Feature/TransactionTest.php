<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Database\ImmediatePdo;
use Illuminate\Support\Facades\DB;
use Tests\TestCase;

final class TransactionTest extends TestCase
{
    public function test_a_transaction_holds_the_write_lock_from_its_start_and_gives_it_back(): void
    {
        self::assertInstanceOf(ImmediatePdo::class, DB::connection()->getPdo());
        $other = new \PDO("sqlite:$this->data/kite.sqlite", null, null, [
            \PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION,
            \PDO::ATTR_TIMEOUT => 0,
        ]);
        $write = static fn (): int|false => $other->exec(
            "INSERT INTO files (hash, name, bytes, state) VALUES ('".
                bin2hex(random_bytes(8)).
                "', 'n', 1, 'waiting')",
        );
        DB::transaction(function () use ($write): void {
            DB::table('files')->count();
            try {
                $write();
                self::fail('Another connection could write.');
            } catch (\PDOException $locked) {
                self::assertStringContainsString('locked', $locked->getMessage());
            }
        });
        self::assertSame(1, $write());
        try {
            DB::transaction(static function (): void {
                DB::table('files')->delete();
                throw new \LogicException('back');
            });
        } catch (\LogicException) {
        }
        self::assertSame(1, DB::table('files')->count());
        self::assertSame(1, $write());
    }
}

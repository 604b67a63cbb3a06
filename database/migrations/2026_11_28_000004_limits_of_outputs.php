<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What the machine behind an output can decode and read; 0 for what is not known. */
return new class extends Migration
{
    private const LIMITS = ['streamsLimit', 'decodeLimit', 'readLimit'];

    public function up(): void
    {
        Schema::table('outputs', static function (Blueprint $t): void {
            foreach (self::LIMITS as $name) {
                $name === 'streamsLimit' ? $t->integer($name)->default(0) : $t->float($name)->default(0);
            }
        });
    }

    public function down(): void
    {
        Schema::table('outputs', static fn (Blueprint $t) => $t->dropColumn(self::LIMITS));
    }
};

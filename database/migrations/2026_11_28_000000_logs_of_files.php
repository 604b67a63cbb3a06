<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What was done with each file, line by line. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('files', static function (Blueprint $t): void {
            $t->json('log')->nullable();
        });
    }

    public function down(): void
    {
        Schema::table('files', static fn (Blueprint $t) => $t->dropColumn('log'));
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What is shown in the place of an input without a signal. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('media', static function (Blueprint $t): void {
            $t->string('standIn', 26)->nullable();
        });
    }

    public function down(): void
    {
        Schema::table('media', static fn (Blueprint $t) => $t->dropColumn('standIn'));
    }
};

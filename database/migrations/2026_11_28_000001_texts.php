<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Patterns that are texts. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('media', static function (Blueprint $t): void {
            $t->text('text')->default('');
        });
    }

    public function down(): void
    {
        Schema::table('media', static fn (Blueprint $t) => $t->dropColumn('text'));
    }
};

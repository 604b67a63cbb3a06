<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Surfaces that have one share of a canvas in common. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('shares', static function (Blueprint $t): void {
            $t->string('follows', 26)->nullable();
        });
    }

    public function down(): void
    {
        Schema::table('shares', static fn (Blueprint $t) => $t->dropColumn('follows'));
    }
};

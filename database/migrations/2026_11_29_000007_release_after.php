<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** How long what a lost console said stays before it is released. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('controls', static fn (Blueprint $t) => $t->double('releaseAfter')->default(0));
    }

    public function down(): void
    {
        Schema::table('controls', static fn (Blueprint $t) => $t->dropColumn('releaseAfter'));
    }
};

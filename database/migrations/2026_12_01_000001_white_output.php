<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** How much several whites of a pixel give together. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('patches', static fn (Blueprint $t) => $t->string('whiteOutput')->default('brightest'));
    }

    public function down(): void
    {
        Schema::table('patches', static fn (Blueprint $t) => $t->dropColumn('whiteOutput'));
    }
};

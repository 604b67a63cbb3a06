<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Masks that are pictures. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('masks', static fn (Blueprint $t) => $t->string('image', 64)->default(''));
    }

    public function down(): void
    {
        Schema::table('masks', static fn (Blueprint $t) => $t->dropColumn('image'));
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Groups of regions. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::create('region_groups', static function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('name');
            $t->integer('order')->default(0);
            $t->string('parent')->nullable();
            $t->index('showId');
        });
        Schema::table('regions', static fn (Blueprint $t) => $t->string('group')->nullable());
    }

    public function down(): void
    {
        Schema::table('regions', static fn (Blueprint $t) => $t->dropColumn('group'));
        Schema::dropIfExists('region_groups');
    }
};

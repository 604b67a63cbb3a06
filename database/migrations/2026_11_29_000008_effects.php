<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Effects of layers and clips. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::create('effects', static function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('layer', 26)->nullable()->index();
            $t->string('clip', 26)->nullable()->index();
            $t->integer('order')->default(0);
            $t->json('values')->default('{}');
            $t->index('showId');
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('effects');
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Dated records of how far the points of projectors had drifted. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::create('checks', static function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('projector');
            $t->string('taken');
            $t->integer('points')->default(0);
            $t->integer('moved')->default(0);
            $t->double('before')->default(0);
            $t->double('after')->default(0);
            $t->index('showId');
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('checks');
    }
};

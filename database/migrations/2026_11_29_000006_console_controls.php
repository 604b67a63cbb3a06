<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Personalities, and layers that a lighting console drives by them. */
return new class extends Migration
{
    public function up(): void
    {
        foreach (
            [
                'personalities' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->text('parts');
                },
                'controls' => static function (Blueprint $t): void {
                    $t->ulid('layer')->index();
                    $t->ulid('personality')->index();
                    $t->string('protocol')->default('sacn');
                    $t->integer('universe')->default(1);
                    $t->integer('channel')->default(1);
                    $t->string('merge')->default('highest');
                    $t->string('lost')->default('hold');
                },
            ] as $table => $columns
        ) {
            Schema::create($table, static function (Blueprint $t) use ($columns): void {
                $t->ulid('id')->primary();
                $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
                $columns($t);
                $t->index('showId');
            });
        }
    }

    public function down(): void
    {
        foreach (['personalities', 'controls'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What the worker is asked to do for somebody, of every kind; it was light and projections alone. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::create('tasks', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('person');
            $t->string('kind');
            $t->json('input');
            $t->string('key')->default('');
            $t->string('state');
            $t->double('progress')->default(0);
            $t->text('message')->nullable();
            $t->integer('revision')->nullable();
            $t->timestamps();
            $t->index(['showId', 'key']);
            $t->index('state');
        });
        Schema::drop('casts');
    }

    public function down(): void
    {
        Schema::drop('tasks');
        Schema::create('casts', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('key');
            $t->integer('cells');
            $t->string('state');
            $t->double('progress')->default(0);
            $t->string('sentence')->nullable();
            $t->timestamps();
            $t->index(['showId', 'key', 'cells']);
        });
    }
};

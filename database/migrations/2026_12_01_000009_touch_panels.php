<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Touch panels: the grid of their device, what stands on it, and which tablets may show them. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('devices', static function (Blueprint $t): void {
            $t->integer('columns')->default(6);
            $t->integer('rows')->default(4);
        });
        Schema::create('touch_items', static function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->ulid('device')->index();
            $t->string('type')->default('button');
            $t->string('name');
            $t->string('label')->default('');
            $t->string('shows')->default('');
            $t->string('colour')->default('');
            $t->integer('column')->default(0);
            $t->integer('row')->default(0);
            $t->integer('columns')->default(1);
            $t->integer('rows')->default(1);
            $t->index('showId');
        });
        Schema::create('paired_panels', static function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->string('panel');
            $t->string('label')->default('');
            // While it waits: the hash of its code, until when that is good, and how often it was missed.
            $t->string('code')->nullable();
            $t->bigInteger('until')->default(0);
            $t->integer('tries')->default(0);
            $t->string('token')->nullable()->unique();
            $t->bigInteger('pairedAt')->nullable();
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('paired_panels');
        Schema::dropIfExists('touch_items');
        Schema::table('devices', static fn (Blueprint $t) => $t->dropColumn(['columns', 'rows']));
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('surfaces', function (Blueprint $t): void {
            $t->ulid('rig')->nullable();
            $t->boolean('hidden')->default(false);
            $t->boolean('locked')->default(false);
            $t->json('material')->default('[]');
            $t->json('boards')->default('[]');
            $t->string('model')->nullable();
        });
        $placed = function (string $table, callable $columns): void {
            Schema::create($table, function (Blueprint $t) use ($columns): void {
                $t->ulid('id')->primary();
                $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
                $t->string('name');
                $t->json('position');
                $t->json('rotation');
                $t->ulid('rig')->nullable();
                $t->boolean('hidden');
                $t->boolean('locked');
                $columns($t);
                $t->index('showId');
            });
        };
        $placed('rigs', static fn () => null);
        $placed('seats', static fn () => null);
        $placed('projectors', function (Blueprint $t): void {
            $t->json('lens');
            $t->double('lumens');
            $t->boolean('mirrored');
            $t->json('aims');
        });
        $placed('cameras', function (Blueprint $t): void {
            $t->double('sensorWidth');
            $t->double('sensorHeight');
            $t->double('focal');
            $t->boolean('tracked');
        });
        $placed('props', function (Blueprint $t): void {
            $t->string('kind');
            $t->json('shape');
            $t->string('model')->nullable();
        });
        Schema::create('variants', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('name');
            $t->json('projectors');
            $t->index('showId');
        });
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

    public function down(): void
    {
        foreach (['casts', 'variants', 'props', 'cameras', 'projectors', 'seats', 'rigs'] as $table) {
            Schema::dropIfExists($table);
        }
        Schema::table(
            'surfaces',
            static fn (Blueprint $t) => $t->dropColumn(['rig', 'hidden', 'locked', 'material', 'boards', 'model']),
        );
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Routes with a pane of their own, shares of a canvas and lenses; clips that fit in their own way. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('routes', static function (Blueprint $t): void {
            $t->unsignedInteger('width')->default(0);
            $t->unsignedInteger('height')->default(0);
            $t->json('fittings')->default('[]');
            $t->ulid('rig')->nullable();
            $t->json('values')->default('[]');
        });
        foreach (['shares', 'lenses'] as $table) {
            Schema::create($table, static function (Blueprint $t) use ($table): void {
                $t->ulid('id')->primary();
                $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
                $t->ulid('route')->index();
                if ($table === 'shares') {
                    $t->ulid('surface');
                } else {
                    $t->string('name');
                    $t->json('part')->default('[]');
                    $t->ulid('rig')->nullable();
                }
                $t->json('values')->default('[]');
                $t->index('showId');
            });
        }
        Schema::table('layers', static fn (Blueprint $t) => $t->ulid('part')->nullable());
        Schema::table('clips', static function (Blueprint $t): void {
            $t->string('fitting')->nullable();
            $t->double('anchorX')->nullable();
            $t->double('anchorY')->nullable();
        });
    }

    public function down(): void
    {
        Schema::drop('shares');
        Schema::drop('lenses');
        Schema::table(
            'routes',
            static fn (Blueprint $t) => $t->dropColumn(['width', 'height', 'fittings', 'rig', 'values']),
        );
        Schema::table('layers', static fn (Blueprint $t) => $t->dropColumn('part'));
        Schema::table('clips', static fn (Blueprint $t) => $t->dropColumn(['fitting', 'anchorX', 'anchorY']));
    }
};

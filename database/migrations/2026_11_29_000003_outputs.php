<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Servers, what outputs feed, masks; regions that are turned, cut, pinned, bent and blended. */
return new class extends Migration
{
    public function up(): void
    {
        foreach (
            [
                'servers' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->string('role')->default('main');
                },
                'feeds' => static function (Blueprint $t): void {
                    $t->ulid('output')->index();
                    $t->string('name');
                    $t->string('role')->default('led');
                    $t->string('projector', 26)->nullable();
                    $t->json('part')->default('[]');
                    $t->string('stack')->default('');
                },
                'masks' => static function (Blueprint $t): void {
                    $t->string('surface', 26)->nullable()->index();
                    $t->string('output', 26)->nullable()->index();
                    $t->string('name');
                    $t->json('nodes');
                    $t->double('feather')->default(0);
                    $t->boolean('inverted')->default(false);
                },
                'points' => static function (Blueprint $t): void {
                    $t->ulid('projector')->index();
                    $t->string('name');
                    $t->json('place');
                    $t->json('pixel')->default('[]');
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
        Schema::table('outputs', static function (Blueprint $t): void {
            $t->string('server', 26)->nullable();
            $t->string('connector')->default('');
            $t->string('timing')->default('auto');
            $t->integer('bitDepth')->default(8);
            foreach (['delay' => 0, 'gamma' => 2.2, 'peak' => 1, 'black' => 0] as $number => $usual) {
                $t->double($number)->default($usual);
            }
            $t->json('gain')->default('[]');
        });
        Schema::table('regions', static function (Blueprint $t): void {
            foreach (['width', 'height', 'turn'] as $number) {
                $t->integer($number)->default(0);
            }
            foreach (['mirror', 'pinned', 'locked'] as $flag) {
                $t->boolean($flag)->default(false);
            }
            foreach (['polygon', 'pin', 'columns', 'rows', 'points', 'blend'] as $list) {
                $t->json($list)->default('[]');
            }
            $t->string('model')->default('');
            $t->string('modelOf')->default('');
        });
    }

    public function down(): void
    {
        foreach (['servers', 'feeds', 'masks', 'points'] as $table) {
            Schema::dropIfExists($table);
        }
        Schema::table(
            'outputs',
            static fn (Blueprint $t) => $t->dropColumn([
                'server',
                'connector',
                'timing',
                'bitDepth',
                'delay',
                'gamma',
                'peak',
                'black',
                'gain',
            ]),
        );
        Schema::table(
            'regions',
            static fn (Blueprint $t) => $t->dropColumn([
                'width',
                'height',
                'turn',
                'mirror',
                'pinned',
                'locked',
                'polygon',
                'pin',
                'columns',
                'rows',
                'points',
                'blend',
                'model',
                'modelOf',
            ]),
        );
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Kinds of pixel lights, nodes of the lighting network, and which control slots each light has. */
return new class extends Migration
{
    public function up(): void
    {
        foreach (
            [
                'fixtures' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->integer('columns');
                    $t->integer('rows');
                    $t->double('widthMm');
                    $t->double('heightMm');
                    $t->json('points')->default('[]');
                    $t->string('channels')->default('RGB');
                    $t->string('header')->default('');
                    $t->integer('bits')->default(8);
                    $t->boolean('straddles')->default(false);
                    $t->double('gamma')->default(1);
                    $t->double('minimum')->default(0);
                    $t->double('watts')->default(0);
                },
                'nodes' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->string('protocol')->default('artnet');
                    $t->string('address')->default('');
                    $t->string('interface')->default('');
                    $t->integer('port')->default(0);
                    $t->double('rate')->default(40);
                    $t->integer('priority')->default(100);
                    $t->boolean('synchronised')->default(false);
                    $t->boolean('onlyChanges')->default(true);
                    $t->integer('limit')->default(0);
                },
                'patches' => static function (Blueprint $t): void {
                    $t->ulid('surface')->index();
                    $t->string('node', 26)->nullable()->index();
                    $t->integer('universe')->default(1);
                    $t->integer('channel')->default(1);
                    $t->json('wiring')->default('{}');
                    $t->json('path')->default('[]');
                    $t->string('channels')->default('');
                    $t->string('whites')->default('minimum');
                    $t->double('kelvin')->default(0);
                    $t->json('gains')->default('[]');
                    $t->boolean('dithered')->default(false);
                    $t->double('radius')->default(0);
                    $t->json('values')->default('{}');
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
        foreach (['fixtures', 'nodes', 'patches'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};

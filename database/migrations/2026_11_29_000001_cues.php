<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Cues hold values, stand in a list and on a board, and may give way to each other. */
return new class extends Migration
{
    public function up(): void
    {
        foreach (
            [
                'pages' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->integer('order')->default(0);
                    $t->integer('columns')->default(6);
                    $t->integer('rows')->default(4);
                },
                'yield_groups' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->string('colour')->default('');
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
        Schema::table('cues', static function (Blueprint $t): void {
            $t->string('timeline', 26)->nullable()->change();
            $t->bigInteger('time')->nullable()->change();
            foreach (['note', 'colour', 'clock'] as $text) {
                $t->string($text)->default('');
            }
            foreach (
                ['grasp' => 'chosen', 'curve' => 'linear', 'onStop' => 'returns', 'trigger' => 'go'] as $choice => $usual
            ) {
                $t->string($choice)->default($usual);
            }
            $t->json('held')->default('[]');
            foreach (['fade', 'delay', 'loop', 'wait'] as $time) {
                $t->bigInteger($time)->default(0);
            }
            $t->double('rate')->default(1);
            $t->double('bpm')->default(0);
            foreach (['group', 'starts', 'page'] as $id) {
                $t->string($id, 26)->nullable();
            }
            $t->boolean('listed')->default(true);
            $t->integer('row')->default(0);
            $t->integer('column')->default(0);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('pages');
        Schema::dropIfExists('yield_groups');
        Schema::table(
            'cues',
            static fn (Blueprint $t) => $t->dropColumn([
                'note',
                'colour',
                'clock',
                'grasp',
                'curve',
                'onStop',
                'trigger',
                'held',
                'fade',
                'delay',
                'loop',
                'wait',
                'rate',
                'bpm',
                'group',
                'starts',
                'page',
                'listed',
                'row',
                'column',
            ]),
        );
    }
};

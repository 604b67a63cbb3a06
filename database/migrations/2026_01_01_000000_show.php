<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('shows', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->string('name');
            $t->string('frameRate');
            $t->unsignedInteger('revision')->default(0);
            $t->boolean('engaged')->default(false)->index();
            $t->timestamps();
        });
        $rows = function (string $table, callable $columns): void {
            Schema::create($table, function (Blueprint $t) use ($columns): void {
                $t->ulid('id')->primary();
                $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
                $columns($t);
                $t->index('showId');
            });
        };
        $rows('panels', function (Blueprint $t): void {
            $t->string('name');
            $t->double('widthMm');
            $t->double('heightMm');
            $t->integer('widthPx');
            $t->integer('heightPx');
            $t->double('kilograms');
            $t->double('wattsAverage');
            $t->double('wattsMaximum');
            foreach (
                ['depthMm', 'candela', 'viewAcross', 'viewDown', 'jointLeast', 'jointMost', 'inrushAmperes'] as $column
            ) {
                $t->double($column);
            }
        });
        $rows('surfaces', function (Blueprint $t): void {
            $t->string('name');
            $t->string('kind');
            $t->json('position');
            $t->json('rotation');
            $t->json('cells');
            $t->json('seams');
            $t->json('feeding');
            $t->json('shape');
        });
        $rows('media', function (Blueprint $t): void {
            $t->string('name');
            $t->string('kind');
            $t->string('file')->nullable();
            $t->integer('width');
            $t->integer('height');
            $t->string('colour');
        });
        $rows('timelines', function (Blueprint $t): void {
            $t->string('name');
            $t->bigInteger('duration');
        });
        $rows('layers', function (Blueprint $t): void {
            $t->ulid('timeline')->index();
            $t->string('name');
            $t->integer('order');
            $t->json('aims');
            $t->string('fitting');
            $t->double('anchorX');
            $t->double('anchorY');
            $t->double('opacity');
            $t->double('x');
            $t->double('y');
        });
        $rows('clips', function (Blueprint $t): void {
            $t->ulid('layer')->index();
            $t->ulid('media')->index();
            $t->bigInteger('start');
            $t->bigInteger('length');
            $t->bigInteger('in');
            $t->bigInteger('out')->nullable();
            $t->string('pastEnd');
        });
        $rows('curves', function (Blueprint $t): void {
            $t->ulid('layer');
            $t->string('property');
            $t->json('keyframes');
            $t->unique(['layer', 'property']);
        });
        $rows('markers', function (Blueprint $t): void {
            $t->ulid('timeline')->index();
            $t->bigInteger('time');
            $t->string('name');
        });
        $rows('cues', function (Blueprint $t): void {
            $t->ulid('timeline')->index();
            $t->bigInteger('time');
            $t->string('number');
            $t->string('name');
            $t->boolean('holds');
        });
        $rows('outputs', function (Blueprint $t): void {
            $t->string('name');
            $t->integer('width');
            $t->integer('height');
            $t->double('refresh');
        });
        $rows('regions', function (Blueprint $t): void {
            $t->ulid('output')->index();
            $t->ulid('surface')->index();
            $t->json('source');
            $t->integer('x');
            $t->integer('y');
        });
        Schema::create('edits', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->unsignedInteger('revision');
            $t->string('person');
            $t->string('name');
            $t->string('act');
            $t->string('state');
            $t->json('changes');
            $t->timestamp('at');
            $t->unique(['showId', 'revision']);
            $t->index(['showId', 'person', 'act', 'state', 'revision']);
        });
        Schema::create('files', function (Blueprint $t): void {
            $t->string('hash')->primary();
            $t->string('name');
            $t->bigInteger('bytes');
            $t->string('state');
            $t->double('progress')->default(0);
            $t->string('sentence')->nullable();
            $t->json('facts')->nullable();
            $t->json('form')->nullable();
            $t->json('thumbnails')->nullable();
            $t->timestamps();
        });
        Schema::create('uploads', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('person');
            $t->string('name');
            $t->bigInteger('bytes');
            $t->timestamps();
        });
        Schema::create('jobs', function (Blueprint $t): void {
            $t->id();
            $t->string('queue')->index();
            $t->longText('payload');
            $t->unsignedTinyInteger('attempts');
            $t->unsignedInteger('reserved_at')->nullable();
            $t->unsignedInteger('available_at');
            $t->unsignedInteger('created_at');
        });
        Schema::create('failed_jobs', function (Blueprint $t): void {
            $t->id();
            $t->string('uuid')->unique();
            $t->text('connection');
            $t->text('queue');
            $t->longText('payload');
            $t->longText('exception');
            $t->timestamp('failed_at')->useCurrent();
        });
    }

    public function down(): void
    {
        foreach (
            [
                'failed_jobs',
                'jobs',
                'uploads',
                'files',
                'edits',
                'regions',
                'outputs',
                'cues',
                'markers',
                'curves',
                'clips',
                'layers',
                'timelines',
                'media',
                'surfaces',
                'panels',
                'shows',
            ] as $table
        ) {
            Schema::dropIfExists($table);
        }
    }
};

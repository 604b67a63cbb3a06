<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Devices with controls, and what those are bound to. */
return new class extends Migration
{
    public function up(): void
    {
        foreach (
            [
                'devices' => static function (Blueprint $t): void {
                    $t->string('name');
                    $t->string('protocol')->default('midi');
                    $t->string('port')->default('');
                    $t->boolean('showControl')->default(true);
                    $t->boolean('timecode')->default(false);
                },
                'bindings' => static function (Blueprint $t): void {
                    $t->ulid('device')->index();
                    $t->string('control');
                    $t->string('label')->default('');
                    $t->integer('page')->default(0);
                    $t->string('meaning')->default('action');
                    $t->string('gesture')->default('press');
                    $t->string('target')->default('');
                    $t->string('other')->default('');
                    $t->text('choices')->default('');
                    $t->double('from')->default(0);
                    $t->double('to')->default(127);
                    $t->double('low')->default(0);
                    $t->double('high')->default(1);
                    $t->string('shape')->default('linear');
                    $t->boolean('invert')->default(false);
                    $t->integer('steps')->default(0);
                    $t->double('deadBand')->default(0);
                    $t->bigInteger('smoothing')->default(0);
                    $t->string('takeover')->default('meet');
                    $t->string('encoder')->default('absolute');
                    $t->double('click')->default(0.01);
                    $t->double('acceleration')->default(0);
                    $t->bigInteger('fade')->nullable();
                    $t->boolean('lamp')->default(true);
                    $t->boolean('motor')->default(false);
                    $t->double('lampOff')->default(0);
                    $t->double('lampOn')->default(127);
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
        foreach (['devices', 'bindings'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};

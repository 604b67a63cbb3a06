<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/**
 * Clips whose media runs on by a clock of its own, timelines that follow a clock from outside, timelines shown as
 * media, lenses told by their sensor, memory of outputs.
 */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('clips', static fn (Blueprint $t) => $t->boolean('ownClock')->default(false));
        Schema::table('timelines', static function (Blueprint $t): void {
            $t->string('clock')->default('');
            $t->bigInteger('clockStart')->default(0);
        });
        Schema::table('media', static fn (Blueprint $t) => $t->string('timeline', 26)->nullable());
        Schema::table('lenses', static fn (Blueprint $t) => $t->double('sensorWidth')->default(36));
        Schema::table('outputs', static fn (Blueprint $t) => $t->float('memoryLimit')->default(0));
    }

    public function down(): void
    {
        Schema::table('clips', static fn (Blueprint $t) => $t->dropColumn('ownClock'));
        Schema::table('timelines', static fn (Blueprint $t) => $t->dropColumn(['clock', 'clockStart']));
        Schema::table('media', static fn (Blueprint $t) => $t->dropColumn('timeline'));
        Schema::table('lenses', static fn (Blueprint $t) => $t->dropColumn('sensorWidth'));
        Schema::table('outputs', static fn (Blueprint $t) => $t->dropColumn('memoryLimit'));
    }
};

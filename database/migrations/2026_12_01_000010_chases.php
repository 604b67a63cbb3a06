<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** How a timeline follows its clock: what a jump does, how long it has to run on, and what is ignored; nodes that are sent timecode. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('timelines', static function (Blueprint $t): void {
            $t->string('clockJump')->default('follow');
            $t->bigInteger('clockBelieve')->default(0);
            $t->integer('clockIgnore')->default(0);
            $t->boolean('clockWaits')->default(false);
        });
        Schema::table('nodes', static fn (Blueprint $t) => $t->boolean('timecode')->default(false));
    }

    public function down(): void
    {
        Schema::table('nodes', static fn (Blueprint $t) => $t->dropColumn('timecode'));
        Schema::table(
            'timelines',
            static fn (Blueprint $t) => $t->dropColumn(['clockJump', 'clockBelieve', 'clockIgnore', 'clockWaits']),
        );
    }
};

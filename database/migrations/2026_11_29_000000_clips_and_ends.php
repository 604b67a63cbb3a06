<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Speed and fades of clips, what a timeline does at its end and its tempo, how layers are shown. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('clips', static function (Blueprint $t): void {
            $t->double('speed')->default(1);
            $t->bigInteger('fadeIn')->default(0);
            $t->bigInteger('fadeOut')->default(0);
            $t->bigInteger('offset')->default(0);
        });
        Schema::table('timelines', static function (Blueprint $t): void {
            $t->string('end')->default('hold');
            $t->string('then', 26)->nullable();
            $t->double('bpm')->default(0);
            $t->bigInteger('firstBeat')->default(0);
            $t->integer('beats')->default(4);
        });
        Schema::table('layers', static function (Blueprint $t): void {
            $t->string('colour')->default('');
            $t->string('folder')->default('');
            $t->boolean('locked')->default(false);
            $t->boolean('hidden')->default(false);
            $t->bigInteger('transition')->default(0);
            $t->json('stock')->default('[]');
        });
        Schema::table('markers', static fn (Blueprint $t) => $t->string('colour')->default(''));
    }

    public function down(): void
    {
        Schema::table('clips', static fn (Blueprint $t) => $t->dropColumn(['speed', 'fadeIn', 'fadeOut', 'offset']));
        Schema::table(
            'timelines',
            static fn (Blueprint $t) => $t->dropColumn(['end', 'then', 'bpm', 'firstBeat', 'beats']),
        );
        Schema::table(
            'layers',
            static fn (Blueprint $t) => $t->dropColumn(['colour', 'folder', 'locked', 'hidden', 'transition', 'stock']),
        );
        Schema::table('markers', static fn (Blueprint $t) => $t->dropColumn('colour'));
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/**
 * Folder and index of each media, by which a console calls it; those that there are get theirs in the order in which
 * they came.
 */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('media', static function (Blueprint $t): void {
            $t->unsignedTinyInteger('folder')->nullable();
            $t->unsignedTinyInteger('index')->nullable();
        });
        foreach (DB::table('media')->distinct()->pluck('showId') as $show) {
            foreach (
                DB::table('media')
                    ->where('showId', $show)
                    ->orderBy('id')
                    ->pluck('id')
                    ->take(255 * 255) as $n => $id
            ) {
                DB::table('media')
                    ->where('id', $id)
                    ->update(['folder' => 1 + intdiv($n, 255), 'index' => 1 + ($n % 255)]);
            }
        }
    }

    public function down(): void
    {
        Schema::table('media', static fn (Blueprint $t) => $t->dropColumn(['folder', 'index']));
    }
};

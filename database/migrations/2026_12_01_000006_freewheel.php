<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** How long a timeline runs on when its clock falls silent. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('timelines', static fn (Blueprint $t) => $t->bigInteger('freewheel')->default(705_600_000));
    }

    public function down(): void
    {
        Schema::table('timelines', static fn (Blueprint $t) => $t->dropColumn('freewheel'));
    }
};

<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('surfaces', static fn (Blueprint $t) => $t->string('colour')->default(''));
        Schema::table('cameras', static function (Blueprint $t): void {
            $t->integer('pixels')->default(3840);
            $t->double('fNumber')->default(2.8);
            $t->double('focus')->default(10);
        });
    }

    public function down(): void
    {
        Schema::table('surfaces', static fn (Blueprint $t) => $t->dropColumn('colour'));
        Schema::table('cameras', static fn (Blueprint $t) => $t->dropColumn(['pixels', 'fNumber', 'focus']));
    }
};

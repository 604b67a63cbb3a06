<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Where projectors are told what to do, and what cues do besides. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('projectors', static function (Blueprint $t): void {
            $t->string('address')->default('');
            $t->string('password')->default('');
            $t->boolean('shutsAtPanic')->default(false);
        });
        Schema::table('cues', static fn (Blueprint $t) => $t->text('actions')->default(''));
    }

    public function down(): void
    {
        Schema::table('projectors', static fn (Blueprint $t) => $t->dropColumn(['address', 'password', 'shutsAtPanic']));
        Schema::table('cues', static fn (Blueprint $t) => $t->dropColumn('actions'));
    }
};

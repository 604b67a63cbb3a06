<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What devices have that are asked into a session, send requests, or are heard; presses that count by their force. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('devices', static function (Blueprint $t): void {
            $t->string('invite')->default('');
            $t->string('token')->default('');
            $t->double('attack')->default(0);
            $t->double('release')->default(0.3);
            $t->double('floor')->nullable();
            $t->double('ceiling')->nullable();
        });
        Schema::table('bindings', static fn (Blueprint $t) => $t->boolean('velocity')->default(false));
    }

    public function down(): void
    {
        Schema::table('bindings', static fn (Blueprint $t) => $t->dropColumn('velocity'));
        Schema::table(
            'devices',
            static fn (Blueprint $t) => $t->dropColumn(['invite', 'token', 'attack', 'release', 'floor', 'ceiling']),
        );
    }
};

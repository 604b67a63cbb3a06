<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** An upload that is filed stays for a while with what came of it, for one whose answer was lost. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('uploads', static fn (Blueprint $t) => $t->json('result')->nullable());
    }

    public function down(): void
    {
        Schema::table('uploads', static fn (Blueprint $t) => $t->dropColumn('result'));
    }
};

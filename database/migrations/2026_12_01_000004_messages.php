<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What is said of a file is its message. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('files', static fn (Blueprint $t) => $t->renameColumn('sentence', 'message'));
    }

    public function down(): void
    {
        Schema::table('files', static fn (Blueprint $t) => $t->renameColumn('message', 'sentence'));
    }
};

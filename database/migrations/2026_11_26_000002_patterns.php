<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Patterns with values, and the files that a media showed before. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('media', static function (Blueprint $t): void {
            $t->string('pattern')->default('');
            $t->json('values')->default('[]');
            $t->json('versions')->default('[]');
        });
    }

    public function down(): void
    {
        Schema::table('media', static fn (Blueprint $t) => $t->dropColumn(['pattern', 'values', 'versions']));
    }
};

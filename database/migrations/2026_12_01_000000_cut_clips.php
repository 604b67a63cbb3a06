<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** How much of the clip that a clip was cut from lies before and after it, so that fades go on over the cut. */
return new class extends Migration
{
    public function up(): void
    {
        Schema::table('clips', static function (Blueprint $t): void {
            $t->bigInteger('cutBefore')->default(0);
            $t->bigInteger('cutAfter')->default(0);
        });
    }

    public function down(): void
    {
        Schema::table('clips', static fn (Blueprint $t) => $t->dropColumn(['cutBefore', 'cutAfter']));
    }
};

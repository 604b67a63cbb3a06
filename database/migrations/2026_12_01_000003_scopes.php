<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** How much a cue is about is its scope, also in the history of edits. */
return new class extends Migration
{
    public function up(): void
    {
        $this->rename('grasp', 'scope');
    }

    public function down(): void
    {
        $this->rename('scope', 'grasp');
    }

    private function rename(string $from, string $to): void
    {
        Schema::table('cues', static fn (Blueprint $t) => $t->renameColumn($from, $to));
        DB::table('edits')
            ->where('changes', 'like', "%\"$from\":%")
            ->update(['changes' => DB::raw("replace(changes, '\"$from\":', '\"$to\":')")]);
    }
};

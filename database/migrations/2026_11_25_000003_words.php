<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Names of columns and settings in the words of the trade, also in the history, so that undo still finds them. */
return new class extends Migration
{
    private const NAMES = [
        'jointLeast' => 'jointMin',
        'jointMost' => 'jointMax',
        'throwLeast' => 'throwMin',
        'throwMost' => 'throwMax',
        'shiftXMost' => 'shiftXMax',
        'shiftYMost' => 'shiftYMax',
        'boards' => 'reliefs',
    ];

    public function up(): void
    {
        $this->rename(self::NAMES, 'frames', 'relief', ['least' => 'min', 'most' => 'max']);
    }

    public function down(): void
    {
        $this->rename(array_flip(self::NAMES), 'relief', 'frames', ['min' => 'least', 'max' => 'most']);
    }

    /**
     * @param  array<string, string>  $names
     * @param  array<string, string>  $bounds
     */
    private function rename(array $names, string $kind, string $newKind, array $bounds): void
    {
        foreach (
            ['panels' => ['jointLeast', 'jointMost', 'jointMin', 'jointMax'], 'surfaces' => ['boards', 'reliefs']] as $table => $columns
        ) {
            foreach (array_intersect_key($names, array_flip($columns)) as $old => $new) {
                Schema::table($table, static fn (Blueprint $t) => $t->renameColumn($old, $new));
            }
        }
        DB::table('surfaces')
            ->where('kind', $kind)
            ->update(['kind' => $newKind]);
        foreach (
            [
                ['projectors', 'lens', $names],
                ['variants', 'projectors', $names],
                ['edits', 'changes', $names],
                ['files', 'form', $bounds],
            ] as [$table, $column, $words]
        ) {
            foreach ($words as $old => $new) {
                DB::table($table)
                    ->where($column, 'like', "%\"$old\":%")
                    ->update([$column => DB::raw("replace(\"$column\", '\"$old\":', '\"$new\":')")]);
            }
        }
        DB::table('edits')
            ->where('changes', 'like', "%\"$kind\"%")
            ->update(['changes' => DB::raw("replace(\"changes\", '\"$kind\"', '\"$newKind\"')")]);
    }
};

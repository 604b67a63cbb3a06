<?php

declare(strict_types=1);

use App\Http\Middleware\Person;
use Illuminate\Database\Migrations\Migration;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/** Persons are called by the hash of their cookie, which is a secret. */
return new class extends Migration
{
    public function up(): void
    {
        foreach (['edits', 'uploads'] as $table) {
            foreach (DB::table($table)->distinct()->pluck('person') as $person) {
                if (Str::isUlid((string) $person) && $person !== '00000000000000000000000000') {
                    DB::table($table)
                        ->where('person', $person)
                        ->update(['person' => Person::named((string) $person)]);
                }
            }
        }
    }

    public function down(): void
    {
        // A hash has no way back: what people did before can't be undone by them.
    }
};

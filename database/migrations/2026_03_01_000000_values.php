<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;
use Illuminate\Support\Str;

/**
 * Values get addresses: the stored ones of a row stand in one column, a curve belongs to an address, and layers take
 * routes. What was done before stays in the history to be read, but can't be taken back: its fields are no more.
 */
return new class extends Migration
{
    public function up(): void
    {
        Schema::create('routes', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('name');
            $t->string('reach');
            $t->json('surfaces');
            $t->ulid('layer')->nullable()->index();
            $t->index('showId');
        });
        Schema::table('layers', function (Blueprint $t): void {
            $t->ulid('route')->nullable()->index();
            $t->json('values')->default('[]');
        });
        Schema::table('timelines', function (Blueprint $t): void {
            $t->integer('order')->default(0);
            $t->json('values')->default('[]');
        });
        foreach (DB::table('layers')->orderBy('id')->get() as $layer) {
            $values = array_filter(
                [
                    'opacity' => (float) $layer->opacity === 1.0 ? null : (float) $layer->opacity,
                    'x' => (float) $layer->x ?: null,
                    'y' => (float) $layer->y ?: null,
                ],
                static fn (?float $v): bool => $v !== null,
            );
            $route = null;
            if ((array) json_decode((string) $layer->aims, true) !== []) {
                $route = strtolower((string) Str::ulid());
                DB::table('routes')->insert([
                    'id' => $route,
                    'showId' => $layer->showId,
                    'name' => '',
                    'reach' => 'skin',
                    'surfaces' => $layer->aims,
                    'layer' => $layer->id,
                ]);
            }
            DB::table('layers')
                ->where('id', $layer->id)
                ->update(['values' => json_encode($values, JSON_PRESERVE_ZERO_FRACTION), 'route' => $route]);
        }
        Schema::table('layers', function (Blueprint $t): void {
            $t->dropColumn(['aims', 'opacity', 'x', 'y']);
        });
        Schema::rename('curves', 'curves_of_layers');
        Schema::create('curves', function (Blueprint $t): void {
            $t->ulid('id')->primary();
            $t->foreignUlid('showId')->constrained('shows')->cascadeOnDelete();
            $t->string('ownerKind');
            $t->ulid('owner');
            $t->string('property');
            $t->integer('slot')->default(0);
            $t->json('keyframes');
            $t->index('showId', 'curves_of_show');
            $t->unique(['owner', 'property', 'slot']);
        });
        DB::statement(
            "insert into curves (id, showId, ownerKind, owner, property, slot, keyframes) select id, showId, 'layer', layer, property, 0, keyframes from curves_of_layers",
        );
        Schema::drop('curves_of_layers');
        DB::table('edits')
            ->whereIn('state', ['done', 'undone'])
            ->update(['state' => 'dropped']);
    }

    public function down(): void
    {
        throw new RuntimeException(
            'Routes and addressed values can\'t be brought back into the columns they came from.',
        );
    }
};

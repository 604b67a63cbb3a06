<?php

declare(strict_types=1);

use App\Http\Controllers\ArrangeController;
use App\Http\Controllers\BindingController;
use App\Http\Controllers\CueController;
use App\Http\Controllers\LightController;
use App\Http\Controllers\MediaController;
use App\Http\Controllers\OutputController;
use App\Http\Controllers\PanelController;
use App\Http\Controllers\ProgramController;
use App\Http\Controllers\ProjectionController;
use App\Http\Controllers\ReachController;
use App\Http\Controllers\ShowController;
use App\Http\Controllers\TaskController;
use App\Http\Controllers\TimecodeController;
use App\Http\Controllers\ToolController;
use App\Http\Controllers\VenueController;
use App\Http\Middleware\Expensive;
use Illuminate\Routing\Middleware\SubstituteBindings;
use Illuminate\Support\Facades\Route;

Route::middleware(SubstituteBindings::class)->group(function (): void {
    Route::get('shows', [ShowController::class, 'index']);
    Route::post('shows', [ShowController::class, 'store']);
    Route::get('shows/{show}', [ShowController::class, 'show']);
    Route::delete('shows/{show}', [ShowController::class, 'destroy']);
    Route::post('shows/{show}/engage', [ShowController::class, 'engage']);
    Route::get('shows/{show}/computed', [ShowController::class, 'computedNow']);
    Route::get('shows/{show}/meshes', [ShowController::class, 'meshes'])->middleware(Expensive::class);
    Route::get('shows/{show}/surfaces/{surface}/mesh.bin', [ShowController::class, 'packedMesh'])->middleware(
        Expensive::class,
    );
    Route::get('shows/{show}/surfaces/{surface}/sheet', [VenueController::class, 'sheet'])->middleware(
        Expensive::class,
    );
    Route::get('shows/{show}/surfaces/{surface}/specification.{format}', [
        VenueController::class,
        'surfaceSpecification',
    ])
        ->whereIn('format', ['csv', 'pdf'])
        ->middleware(Expensive::FILE);
    Route::get('shows/{show}/surfaces/{surface}/template.{format}', [VenueController::class, 'template'])
        ->whereIn('format', ['svg', 'png'])
        ->middleware(Expensive::FILE);
    Route::get('shows/{show}/surfaces/{surface}/surface.obj', [VenueController::class, 'surfaceObj'])->middleware(
        Expensive::FILE,
    );
    Route::get('shows/{show}/venue.obj', [VenueController::class, 'obj'])->middleware(Expensive::FILE);
    Route::get('shows/{show}/specification.{format}', [VenueController::class, 'venueSpecification'])
        ->whereIn('format', ['csv', 'pdf'])
        ->middleware(Expensive::FILE);
    Route::get('shows/{show}/plot.svg', [VenueController::class, 'plot'])->middleware(Expensive::FILE);
    Route::get('shows/{show}/panels.csv', [VenueController::class, 'panelsCsv']);
    Route::post('shows/{show}/duplicate', [ShowController::class, 'duplicate']);
    Route::post('shows/{show}/panels', [VenueController::class, 'importPanels']);
    Route::post('shows/{show}/media/{media}/version', [MediaController::class, 'version']);
    Route::get('shows/{show}/media.csv', [MediaController::class, 'sheet']);
    Route::post('shows/{show}/arrange', [ArrangeController::class, 'arrange']);
    Route::get('shows/{show}/light', [LightController::class, 'light'])->middleware(Expensive::class);
    Route::get('shows/{show}/light.bin', [LightController::class, 'packed'])->middleware(Expensive::class);
    Route::post('shows/{show}/light', [LightController::class, 'finer']);
    Route::get('tasks/{task}', [TaskController::class, 'show']);
    Route::post('tasks/{task}/cancel', [TaskController::class, 'cancel']);
    Route::get('shows/{show}/variants', [LightController::class, 'variants'])->middleware(Expensive::class);
    Route::get('shows/{show}/sights', [LightController::class, 'sights'])->middleware(Expensive::class);
    Route::post('fixtures/gdtf', [VenueController::class, 'gdtf']);
    Route::get('fixtures', [VenueController::class, 'fixtures']);
    Route::get('panels', [VenueController::class, 'panels']);
    Route::post('cameras/focal', [VenueController::class, 'focal']);
    Route::post('cameras/angle', [VenueController::class, 'angle']);
    Route::post('walls/seams', [VenueController::class, 'seams']);
    Route::post('walls/by-size', [VenueController::class, 'bySize']);
    Route::get('shows/{show}/trace', [ShowController::class, 'trace']);
    Route::get('shows/{show}/pixel', [ShowController::class, 'pixel']);
    Route::get('shows/{show}/edits', [ShowController::class, 'history']);
    Route::post('shows/{show}/edits', [ShowController::class, 'edit']);
    Route::post('shows/{show}/undo', [ShowController::class, 'undo']);
    Route::post('shows/{show}/redo', [ShowController::class, 'redo']);
    Route::post('shows/{show}/program', [ProgramController::class, 'program']);
    Route::post('shows/{show}/aim', [ShowController::class, 'aim']);
    Route::post('shows/{show}/routes', [ReachController::class, 'order']);
    Route::post('shows/{show}/outputs', [OutputController::class, 'order']);
    Route::get('shows/{show}/regions.csv', [OutputController::class, 'csv']);
    Route::post('shows/{show}/regions.csv', [OutputController::class, 'takeCsv']);
    Route::get('shows/{show}/lights.{format}', [OutputController::class, 'lights'])
        ->whereIn('format', ['csv', 'pdf'])
        ->middleware(Expensive::FILE);
    Route::get('shows/{show}/personalities.gdtf', [OutputController::class, 'gdtf'])->middleware(Expensive::FILE);
    Route::get('shows/{show}/personalities/{personality}.csv', [OutputController::class, 'personality']);
    Route::get('shows/{show}/patches/{patch}', [OutputController::class, 'patch']);
    Route::get('shows/{show}/masks/{mask}.png', [OutputController::class, 'mask']);
    Route::get('shows/{show}/regions.pdf', [OutputController::class, 'pdf'])->middleware(Expensive::FILE);
    Route::get('shows/{show}/halves', [OutputController::class, 'halves'])->middleware(Expensive::class);
    Route::post('shows/{show}/projections', [ProjectionController::class, 'compute']);
    Route::get('shows/{show}/regions/{region}/evenness', [ProjectionController::class, 'evenness'])->middleware(
        Expensive::class,
    );
    Route::get('shows/{show}/surfaces/{surface}/guide', [ProjectionController::class, 'guide'])->middleware(
        Expensive::class,
    );
    Route::get('shows/{show}/surfaces/{surface}/guide.png', [ProjectionController::class, 'guidePicture'])->middleware(
        Expensive::class,
    );
    Route::get('shows/{show}/surfaces/{surface}/lands', [ProjectionController::class, 'lands']);
    Route::get('shows/{show}/surfaces/{surface}/seam', [ProjectionController::class, 'seam'])->middleware(
        Expensive::class,
    );
    Route::get('shows/{show}/surfaces/{surface}/projection.mpcdi', [
        ProjectionController::class,
        'package',
    ])->middleware(Expensive::FILE);
    Route::post('shows/{show}/surfaces/{surface}/projection.mpcdi', [ProjectionController::class, 'takePackage']);
    Route::get('shows/{show}/regions/{region}/alpha.png', [ProjectionController::class, 'alpha'])->middleware(
        Expensive::FILE,
    );
    Route::get('shows/{show}/regions/{region}/warp.csv', [ProjectionController::class, 'warp'])->middleware(
        Expensive::FILE,
    );
    Route::post('shows/{show}/projectors/{projector}/align', [ProjectionController::class, 'align']);
    Route::post('shows/{show}/projectors/{projector}/checks', [ProjectionController::class, 'check']);
    Route::post('shows/{show}/bindings', [BindingController::class, 'order']);
    Route::post('shows/{show}/touch', [PanelController::class, 'order']);
    Route::post('shows/{show}/devices/{device}/token', [BindingController::class, 'token']);
    Route::get('shows/{show}/timelines/{timeline}/timecode.f32', [TimecodeController::class, 'line']);
    Route::get('shows/{show}/bindings.csv', [BindingController::class, 'table']);
    Route::get('shows/{show}/bindings.json', [BindingController::class, 'json']);
    Route::post('shows/{show}/bindings.csv', [BindingController::class, 'takeTable']);
    Route::post('shows/{show}/cues', [CueController::class, 'cues']);
    Route::get('shows/{show}/why', [CueController::class, 'why']);
    foreach (['cues', 'markers'] as $table) {
        Route::get("shows/{show}/$table.csv", [CueController::class, 'table'])->defaults('of', $table);
        Route::post("shows/{show}/$table.csv", [CueController::class, 'takeTable'])->defaults('of', $table);
    }
    Route::post('shows/{show}/keep', [ShowController::class, 'keep']);
    Route::get('shows/{show}/uploads', [MediaController::class, 'unfinished']);
    Route::post('shows/{show}/uploads', [MediaController::class, 'begin']);
    Route::get('uploads/{upload}', [MediaController::class, 'progress']);
    Route::put('uploads/{upload}', [MediaController::class, 'take']);
    Route::delete('uploads/{upload}', [MediaController::class, 'forget']);
    Route::get('files/{hash}/log', [MediaController::class, 'log']);
    Route::post('files/{hash}/retry', [MediaController::class, 'retry']);
    Route::post('files/{hash}/cancel', [MediaController::class, 'cancel']);
    Route::get('inputs', [MediaController::class, 'inputs']);
    Route::get('storage', [MediaController::class, 'storage']);
    Route::get('patterns/testcard.png', [MediaController::class, 'testCard'])->middleware(Expensive::class);
    Route::get('patterns/flash.f32', [MediaController::class, 'beep']);
    Route::get('patterns/{pattern}.png', [MediaController::class, 'pattern'])->middleware(Expensive::class);
    Route::get('touch/panels', [PanelController::class, 'panel']);
    Route::get('touch/panels/{name}', [PanelController::class, 'panel']);
    Route::get('touch/here', [PanelController::class, 'here']);
    Route::post('touch/codes', [PanelController::class, 'code']);
    Route::post('touch/pair', [PanelController::class, 'pair']);
    Route::get('touch/paired', [PanelController::class, 'paired']);
    Route::delete('touch/paired/{paired}', [PanelController::class, 'revoke']);
    Route::post('live/tickets', [ToolController::class, 'ticket']);
    Route::post('arithmetic', [ToolController::class, 'arithmetic']);
    Route::post('timecode', [ToolController::class, 'timecode']);
    Route::post('walls/figures', [ToolController::class, 'wall']);
    Route::get('openapi.json', [ToolController::class, 'openApi']);
});

<?php

declare(strict_types=1);

use App\Http\Controllers\ArrangeController;
use App\Http\Controllers\LightController;
use App\Http\Controllers\MediaController;
use App\Http\Controllers\ShowController;
use App\Http\Controllers\ToolController;
use App\Http\Controllers\VenueController;
use Illuminate\Routing\Middleware\SubstituteBindings;
use Illuminate\Support\Facades\Route;

Route::middleware(SubstituteBindings::class)->group(function (): void {
    Route::get('shows', [ShowController::class, 'index']);
    Route::post('shows', [ShowController::class, 'store']);
    Route::get('shows/{show}', [ShowController::class, 'show']);
    Route::delete('shows/{show}', [ShowController::class, 'destroy']);
    Route::post('shows/{show}/engage', [ShowController::class, 'engage']);
    Route::get('shows/{show}/computed', [ShowController::class, 'computedNow']);
    Route::get('shows/{show}/meshes', [ShowController::class, 'meshes']);
    Route::get('shows/{show}/surfaces/{surface}/sheet', [VenueController::class, 'sheet']);
    Route::get('shows/{show}/surfaces/{surface}/specification.{format}', [VenueController::class, 'surfaceSpecification'])->whereIn('format', ['csv', 'pdf']);
    Route::get('shows/{show}/surfaces/{surface}/template.{format}', [VenueController::class, 'template'])->whereIn('format', ['svg', 'png']);
    Route::get('shows/{show}/surfaces/{surface}/surface.obj', [VenueController::class, 'surfaceObj']);
    Route::get('shows/{show}/venue.obj', [VenueController::class, 'obj']);
    Route::get('shows/{show}/specification.{format}', [VenueController::class, 'venueSpecification'])->whereIn('format', ['csv', 'pdf']);
    Route::get('shows/{show}/plot.svg', [VenueController::class, 'plot']);
    Route::get('shows/{show}/panels.csv', [VenueController::class, 'panelsCsv']);
    Route::post('shows/{show}/panels', [VenueController::class, 'importPanels']);
    Route::post('shows/{show}/arrange', [ArrangeController::class, 'arrange']);
    Route::get('shows/{show}/light', [LightController::class, 'light']);
    Route::post('shows/{show}/light', [LightController::class, 'finer']);
    Route::get('casts/{cast}', [LightController::class, 'cast']);
    Route::post('casts/{cast}/cancel', [LightController::class, 'cancel']);
    Route::get('shows/{show}/variants', [LightController::class, 'variants']);
    Route::get('shows/{show}/sights', [LightController::class, 'sights']);
    Route::get('panels', [VenueController::class, 'panels']);
    Route::post('walls/seams', [VenueController::class, 'seams']);
    Route::post('walls/by-size', [VenueController::class, 'bySize']);
    Route::get('shows/{show}/trace', [ShowController::class, 'trace']);
    Route::get('shows/{show}/edits', [ShowController::class, 'history']);
    Route::post('shows/{show}/edits', [ShowController::class, 'edit']);
    Route::post('shows/{show}/undo', [ShowController::class, 'undo']);
    Route::post('shows/{show}/redo', [ShowController::class, 'redo']);
    Route::post('shows/{show}/keep', [ShowController::class, 'keep']);
    Route::post('shows/{show}/uploads', [MediaController::class, 'begin']);
    Route::get('uploads/{upload}', [MediaController::class, 'progress']);
    Route::put('uploads/{upload}', [MediaController::class, 'take']);
    Route::delete('uploads/{upload}', [MediaController::class, 'forget']);
    Route::post('files/{hash}/retry', [MediaController::class, 'retry']);
    Route::post('files/{hash}/cancel', [MediaController::class, 'cancel']);
    Route::get('patterns/testcard.png', [MediaController::class, 'testCard']);
    Route::post('live/tickets', [ToolController::class, 'ticket']);
    Route::post('arithmetic', [ToolController::class, 'arithmetic']);
    Route::post('timecode', [ToolController::class, 'timecode']);
    Route::post('walls/figures', [ToolController::class, 'wall']);
    Route::get('openapi.json', [ToolController::class, 'openApi']);
});

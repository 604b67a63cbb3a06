<?php

declare(strict_types=1);

use App\Http\Middleware\CheckRequest;
use App\Http\Middleware\PanelDoor;
use App\Http\Middleware\Person;
use App\Support\Problem;
use Core\Units\ArithmeticError;
use Core\Units\InvalidValue;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Foundation\Configuration\Middleware;
use Illuminate\Foundation\Http\Middleware\InvokeDeferredCallbacks;
use Illuminate\Http\Request;

return Application::configure(basePath: dirname(__DIR__))
    ->withRouting(api: __DIR__.'/../routes/api.php', commands: __DIR__.'/../routes/console.php')
    ->withMiddleware(function (Middleware $middleware): void {
        $middleware->use([InvokeDeferredCallbacks::class, CheckRequest::class]);
        $middleware->group('api', [PanelDoor::class, Person::class]);
    })
    ->withExceptions(function (Exceptions $exceptions): void {
        $exceptions->dontReport([Problem::class, InvalidValue::class, ArithmeticError::class]);
        $exceptions->render(fn (Throwable $e, Request $request) => Problem::response($e));
    })
    ->create();

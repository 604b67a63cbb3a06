<?php

declare(strict_types=1);

namespace App\Providers;

use App\Database\ImmediateConnector;
use App\Engine\Control;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\ServiceProvider;

final class KiteServiceProvider extends ServiceProvider
{
    public function register(): void
    {
        $this->app->bind('db.connector.sqlite', ImmediateConnector::class);
        $this->app->singleton(Control::class, fn () => new Control(config('kite.run').'/control.sock'));
    }

    public function boot(): void
    {
        Model::preventLazyLoading();
        Model::preventSilentlyDiscardingAttributes();
    }
}

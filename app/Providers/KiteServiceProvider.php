<?php

declare(strict_types=1);

namespace App\Providers;

use App\Database\ImmediateConnector;
use App\Engine\Control;
use App\Jobs\JobLocks;
use App\Jobs\Sweep;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Queue\Events\JobExceptionOccurred;
use Illuminate\Queue\Events\JobFailed;
use Illuminate\Queue\Events\JobProcessed;
use Illuminate\Queue\Events\JobProcessing;
use Illuminate\Queue\Events\Looping;
use Illuminate\Support\Facades\Event;
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
        Event::listen(JobProcessing::class, JobLocks::take(...));
        Event::listen([JobProcessed::class, JobFailed::class, JobExceptionOccurred::class], JobLocks::letGo(...));
        Event::listen(Looping::class, static function (): void {
            JobLocks::recover();
            JobLocks::adopt();
            Sweep::whenDue();
        });
    }
}

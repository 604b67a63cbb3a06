<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Engine\Control;
use App\Media\FormMaker;
use App\Media\MediaStore;
use App\Media\ModelStore;
use App\Media\Prober;
use App\Models\StoredFile;
use App\Show\ShowRepository;
use Core\Media\Facts;
use Core\Units\InvalidValue;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/**
 * Makes a file ready to play: facts, playback form, sample table, thumbnails; says how far it is, and stops when
 * told.
 */
final class MakeReady implements ShouldQueue
{
    use Queueable;

    /** A worker that ends in the middle of it leaves it to the next, so often. */
    public int $tries = 3;

    public int $timeout = 0;

    public function __construct(public readonly string $hash)
    {
    }

    public function handle(Control $control): void
    {
        JobLocks::alone($this->hash, fn () => $this->make($control));
    }

    private function make(Control $control): void
    {
        $file = StoredFile::query()->find($this->hash);
        if ($file === null || ! in_array($file->state, ['waiting', 'working'], true)) {
            return;
        }
        $store = MediaStore::ofConfig();
        $prober = new Prober();
        $say = static function (array $values) use ($file, $control): void {
            if (isset($values['state'])) {
                $file->note($values['state'].(isset($values['message']) ? ": {$values['message']}" : ''));
            }
            $file->update($values);
            self::notify($control, $file);
        };
        $pace = new Pace(
            static fn (): bool => StoredFile::query()->whereKey($file->hash)->value('state') === 'working',
            static fn (float $share) => $say(['progress' => $share]),
            ($file->facts['kind'] ?? null) === 'model' ? config('kite.job_seconds') : config('kite.convert_seconds'),
        );
        try {
            $say(['state' => 'working', 'progress' => 0, 'message' => null]);
            if (($file->facts['kind'] ?? null) === 'model') {
                $form = ModelStore::make($store, $file->hash, $pace->at(...));
                $say(['state' => 'ready', 'progress' => 1, 'form' => $form, 'thumbnails' => []]);

                return;
            }
            // It was probed as it came; one from a time when less was asked for is asked again.
            $facts =
                Facts::fromArray((array) $file->facts) ?? $prober->facts($store->original($file->hash), $file->name);
            $form = (new FormMaker($store, $prober, $file->note(...)))->make(
                $file->hash,
                $file->name,
                $facts,
                $pace->at(...),
            );
            $count = FormMaker::thumbnailCount($facts);
            $thumbnails =
                $count === 0
                    ? []
                    : array_map(
                        static fn (int $i): string => "/media/thumbnails/$file->hash-$i.jpg",
                        range(0, $count - 1),
                    );
            $say([
                'state' => 'ready',
                'progress' => 1,
                'facts' => $facts->toArray(),
                'form' => $form,
                'thumbnails' => $thumbnails,
            ]);
        } catch (Stopped) {
            self::notify($control, $file->refresh());
        } catch (Interrupted) {
            $say(['state' => 'waiting', 'progress' => 0]);
            $this->release();
        } catch (TookTooLong $e) {
            $say(['state' => 'failed', 'message' => "$file->name could not be made ready. {$e->getMessage()}"]);
        } catch (InvalidValue $refused) {
            $say(['state' => 'failed', 'message' => $refused->getMessage()]);
        } catch (\Throwable $e) {
            report($e);
            $store->clean($file->hash);
            $say([
                'state' => 'failed',
                'message' => "$file->name could not be made ready; the log of the worker says why.",
            ]);
        }
    }

    /** Every worker that was at it ended: too little memory, most likely. */
    public function failed(): void
    {
        $file = StoredFile::query()
            ->whereKey($this->hash)
            ->whereIn('state', ['waiting', 'working'])
            ->first();
        if ($file !== null) {
            MediaStore::ofConfig()->clean($this->hash);
            $file->update([
                'state' => 'failed',
                'message' => "$file->name could not be made ready: the worker ended $this->tries times while it was at it. It may need more memory than there is.",
            ]);
            self::notify(app(Control::class), $file);
        }
    }

    public static function notify(Control $control, StoredFile $file): void
    {
        $control->send(['tell' => 'file', 'file' => ['hash' => $file->hash] + ShowRepository::file($file)]);
    }
}

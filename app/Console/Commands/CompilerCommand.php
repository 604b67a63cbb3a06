<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Packs;
use App\Engine\Wire;
use App\Models\Show;
use App\Show\EngineState;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use Core\Cues\Cue;
use Core\PixelMap\Node;
use Core\Plan\PlanCompiler;
use Core\Playback\CueSheet;
use Core\Playback\Snapshot;
use Core\Preflight\Figures;
use Core\Preflight\Trace;
use Core\Show\Document;
use Core\Show\ResultCache;
use Illuminate\Console\Command;

/**
 * The process that holds an open show: from each edit's rows it makes the parts, tracks, figures and findings that
 * changed, and it answers why a surface is dark. Started by the conductor, with lines of JSON in and frames out.
 */
final class CompilerCommand extends Command
{
    protected $signature = 'kite:compiler {show? : id; the one that is engaged where it is missing}';

    protected $description = 'Hold an open show for the conductor (started by it)';

    private Document $document;

    private PlanCompiler $compiler;

    private ResultCache $cache;

    private int $revision = 0;

    /** @var array<string, mixed> */
    private array $figures = [];

    /** @var array<string, Cue> as they were told last */
    private array $cues = [];

    /** @var array<string, array<array-key, mixed>> devices, bindings and what else listens, as they were told last */
    private array $toldDevices = [];

    public function handle(ShowRepository $rows): int
    {
        $id = $this->argument('show');
        $show =
            is_string($id) && $id !== '' ? Show::query()->find($id) : Show::query()->where('engaged', true)->first();
        if ($show === null) {
            fwrite(STDERR, is_string($id) && $id !== '' ? 'This show was removed.' : 'No show is engaged.');

            return self::FAILURE;
        }
        [$this->compiler, $this->cache] = [new PlanCompiler(WarpStore::read(...)), new ResultCache()];
        $this->read($show, $rows);
        $bundle = $this->compiler->compile($this->document->show, $this->revision);
        $packs = Packs::ofConfig();
        $this->send(
            Wire::READY,
            [
                'show' => $show->id,
                'revision' => $this->revision,
                'pack' => $packs->put($bundle),
                'timelines' => $this->timelines(),
                'cues' => (object) $this->changedCues(),
            ] + $this->changedDevices(),
        );
        $this->figures = Figures::of($this->document->show, $this->cache);
        while (($line = fgets(STDIN)) !== false) {
            $message = json_decode($line, true);
            if (is_array($message)) {
                $this->take($message, $show, $rows, $packs);
            }
        }

        return self::SUCCESS;
    }

    /** @param  array<string, mixed>  $message */
    private function take(array $message, Show $show, ShowRepository $rows, Packs $packs): void
    {
        if (isset($message['edit'])) {
            $revision = (int) $message['edit']['revision'];
            if ($revision <= $this->revision || $message['edit']['show'] !== $show->id) {
                return;
            }
            if ($revision === $this->revision + 1) {
                $this->document = $this->document->with(
                    $rows->changedWithFiles($this->document->changedRows($message['edit']['changes'])),
                );
                $this->revision = $revision;
            } else {
                $this->read($show->refresh(), $rows);
            }
            $this->compiled();
        } elseif (isset($message['file'])) {
            $this->document = $this->document->with(
                $rows->changedWithFiles($this->rowsOfFile((string) $message['file'])),
            );
            $this->compiled();
        } elseif (isset($message['trace'])) {
            $moment = EngineState::moment($this->compiler->plan(), (array) $message['state']);
            $links = Trace::of(
                $this->document->show,
                (string) $message['trace'],
                $moment,
                EngineState::players((array) $message['state']),
                EngineState::dark((array) $message['state']),
            );
            $this->send(Wire::ANSWER, [
                'id' => $message['id'],
                'links' => $links,
                'revision' => $this->revision,
                'time' => ($moment->heads[0] ?? null)?->map->at($moment->engine) ?? 0,
            ]);
        } elseif (isset($message['values'])) {
            $moment = EngineState::moment($this->compiler->plan(), (array) $message['state']);
            $this->send(
                Wire::ANSWER,
                ['id' => $message['id'], 'revision' => $this->revision] +
                    Snapshot::of($this->document->show, $moment)->answer(
                        array_values(array_map(strval(...), (array) $message['values'])),
                    ),
            );
        } elseif (isset($message['figures'])) {
            $this->send(Wire::ANSWER, [
                'id' => $message['id'],
                'revision' => $this->revision,
                'figures' => $this->figures,
            ]);
        } elseif (isset($message['pack'])) {
            $this->send(Wire::PACKED, [
                'pack' => $packs->put($this->compiler->plan()->whole($show->id, $this->revision)),
                'revision' => $this->revision,
            ]);
        }
    }

    private function read(Show $show, ShowRepository $rows): void
    {
        $this->revision = $show->revision;
        $this->document = $rows->document($show);
    }

    /** Sends what changed: light first, then what people read. */
    private function compiled(): void
    {
        $bundle = $this->compiler->compile($this->document->show, $this->revision);
        $this->send(
            Wire::COMPILED,
            [
                'revision' => $this->revision,
                'timelines' => $this->timelines(),
                'cues' => (object) $this->changedCues(),
            ] + $this->changedDevices(),
        );
        $this->write(Wire::pack(Wire::BUNDLE, $bundle->toBytes()));
        $figures = Figures::of($this->document->show, $this->cache);
        $difference = Figures::difference($this->figures, $figures);
        $this->figures = $figures;
        if ($difference !== []) {
            $this->send(Wire::FIGURES, [
                'show' => $this->document->show->id,
                'revision' => $this->revision,
                'figures' => Figures::objects($difference),
            ]);
        }
    }

    /**
     * @return array<string, array<string, mixed>|null> cues that changed since they were told last; null for those
     *     that are gone
     */
    private function changedCues(): array
    {
        [$before, $this->cues] = [$this->cues, $this->document->show->programme->cues];
        $changed = array_map(static fn (): ?array => null, array_diff_key($before, $this->cues));
        foreach ($this->cues as $id => $cue) {
            if (($before[$id] ?? null) !== $cue) {
                $changed[$id] = $cue->toArray();
            }
        }

        return $changed;
    }

    /** @return array{bindings?: array<string, object>} what devices there are and what is bound, where that is another than was told */
    private function changedDevices(): array
    {
        $delivery = $this->document->show->delivery;
        $now = [
            'device' => array_intersect_key($this->document->rows['device'] ?? [], $delivery->devices),
            'binding' => array_intersect_key($this->document->rows['binding'] ?? [], $delivery->bindings),
            'projector' => $this->projectors(),
            'timecode' => array_map(
                static fn (Node $node): array => [$node->interface, $node->destination(1), $node->port()],
                array_filter($delivery->nodes, static fn (Node $node): bool => $node->timecode),
            ),
        ];
        if ($now === $this->toldDevices) {
            return [];
        }
        $this->toldDevices = $now;

        return ['bindings' => array_map(static fn (array $rows): object => (object) $rows, $now)];
    }

    /** @return array<string, array<string, mixed>> projectors that are told what to do, by id */
    private function projectors(): array
    {
        return array_map(
            static fn (array $row): array => array_intersect_key($row, [
                'name' => 0,
                'address' => 0,
                'password' => 0,
                'shutsAtPanic' => 0,
            ]),
            array_filter(
                array_intersect_key($this->document->rows['projector'] ?? [], $this->document->show->venue->projectors),
                static fn (array $row): bool => trim((string) ($row['address'] ?? '')) !== '',
            ),
        );
    }

    /** @return array<string, array<string, array<string, mixed>>> */
    private function rowsOfFile(string $hash): array
    {
        $found = [];
        foreach (['media' => 'file', 'surface' => 'model', 'prop' => 'model'] as $kind => $field) {
            foreach ($this->document->rows[$kind] ?? [] as $id => $row) {
                if (($row[$field] ?? null) === $hash) {
                    $found[$kind][$id] = $row;
                }
            }
        }

        return $found;
    }

    /** @return array<string, array{name: string, sheet: array<string, mixed>}> */
    private function timelines(): array
    {
        $rate = $this->document->show->rate;

        return array_map(
            static fn ($timeline): array => [
                'name' => $timeline->name,
                'sheet' => CueSheet::forTimeline($timeline, $rate)->toArray(),
            ],
            $this->document->show->programme->timelines,
        );
    }

    /** @param  array<string, mixed>  $data */
    private function send(int $type, array $data): void
    {
        $this->write(Wire::json($type, $data));
    }

    private function write(string $bytes): void
    {
        for ($at = 0; $at < strlen($bytes); $at += $wrote) {
            $wrote = fwrite(STDOUT, substr($bytes, $at, 65_536));
            if ($wrote === false || $wrote === 0) {
                exit(0);
            }
        }
    }
}

<?php

declare(strict_types=1);

namespace App\Paper;

use Core\Exchange\PanelTable;
use Core\Paperwork\RegionSheet;
use Core\Show\BindingTable;
use Core\Show\Changes;
use Core\Show\CueTable;
use Core\Show\Document;
use Core\Show\OutputEditing;
use Core\Units\InvalidValue;

/**
 * What files from outside become changes of a show.
 *
 * @phpstan-import-type Change from Changes
 */
enum Import: string
{
    case Cues = 'cues';
    case Markers = 'markers';
    case Regions = 'regions';
    case Panels = 'panels';
    case Bindings = 'bindings';
    case Calibration = 'calibration';

    /** The largest file, in bytes. */
    public function largest(): int
    {
        return $this === self::Calibration ? 8 << 20 : 1 << 20;
    }

    /** Whether reading it and writing its rows takes so long that the worker does it, with progress. */
    public function isLarge(string $bytes): bool
    {
        return $this === self::Calibration
            ? strlen($bytes) > 1 << 17
            : substr_count($bytes, "\n") > self::LINES || strlen($bytes) > 1 << 17;
    }

    /** Lines of a table that are taken while somebody waits. */
    public const LINES = 200;

    /** The name of the edit. */
    public function title(): string
    {
        return match ($this) {
            self::Regions => 'Import places of regions',
            self::Calibration => 'Import a calibration',
            default => "Import $this->value",
        };
    }

    /**
     * @param  string  $target  id of the surface that a calibration is for
     * @param  \Closure(): string  $newId
     * @return list<Change>
     *
     * @throws InvalidValue with the line and what is wrong there
     */
    public function changes(Document $document, string $bytes, string $target, \Closure $newId): array
    {
        return match ($this) {
            self::Cues => CueTable::of($document)->readCues($bytes, $newId),
            self::Markers => CueTable::of($document)->readMarkers($bytes, $newId),
            self::Regions => (new OutputEditing($document->show, $document, $newId))->place(
                RegionSheet::read($document->show, $bytes),
            ),
            self::Bindings => BindingTable::of($document)->read($bytes, $newId),
            self::Panels => self::panels($document, $bytes, $newId),
            self::Calibration => Archive::file(
                $bytes,
                static fn (string $path): array => self::calibration($document, $path, $target),
            ),
        };
    }

    /** @return list<Change> */
    private static function panels(Document $document, string $bytes, \Closure $newId): array
    {
        $present = array_column($document->rows['panel'] ?? [], null, 'name');
        $changes = [];
        foreach (PanelTable::read($bytes) as $panel) {
            $fields = get_object_vars($panel);
            $old = $present[$panel->name] ?? null;
            $changes[$panel->name] =
                $old === null
                    ? [Changes::create('panel', $newId(), $fields)]
                    : Changes::update('panel', $old['id'], $old, $fields);
        }

        return array_merge(...array_values($changes));
    }

    /**
     * What a package of the interchange format changes: it has all of a region's shape, so that what was set by hand is
     * taken away.
     *
     * @param  string  $path  of the package
     * @param  (\Closure(float): mixed)|null  $done  is told which share is done
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public static function calibration(Document $document, string $path, string $surface, ?\Closure $done = null): array
    {
        $read = ProjectionPackage::read($document->show, $surface, $path, $done ?? static fn (float $share) => null);
        $changes = [];
        foreach ($read['regions'] as $region => $model) {
            array_push(
                $changes,
                ...Changes::update('region', $region, $document->rows['region'][$region], [
                    'model' => $model,
                    'modelOf' => '',
                    'pin' => [],
                    'columns' => [],
                    'rows' => [],
                    'points' => [],
                ]),
            );
        }
        foreach ($read['black'] as $output => $black) {
            array_push(
                $changes,
                ...Changes::update('output', $output, $document->rows['output'][$output], ['black' => $black]),
            );
        }

        return $changes;
    }
}

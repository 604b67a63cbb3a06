<?php

declare(strict_types=1);

namespace App\Http;

use Core\Exchange\Csv;
use Core\Paperwork\Table;
use Illuminate\Http\Response;

/** A file that is handed to who asked for it, under a name. */
final class Download
{
    /** @param  string  $name  of any script; what knows only ASCII is told the nearest */
    public static function of(string $bytes, string $type, string $name): Response
    {
        $plain =
            trim(
                (string) preg_replace('/[^\w.\-]+/', ' ', (string) iconv('UTF-8', 'ASCII//TRANSLIT//IGNORE', $name)),
            ) ?:
            'file';

        return new Response($bytes, 200, [
            'Content-Type' => $type,
            'Content-Disposition' => "attachment; filename=\"$plain\"; filename*=UTF-8''".rawurlencode($name),
        ]);
    }

    /** A table of the paperwork. */
    public static function table(Table $table, string $name): Response
    {
        return self::csv(Csv::write([$table->columns, ...$table->rows]), $name);
    }

    /** A table, with the mark by which spreadsheets know that it is UTF-8. */
    public static function csv(string $table, string $name): Response
    {
        return self::of("\xEF\xBB\xBF$table", 'text/csv; charset=utf-8', $name);
    }
}

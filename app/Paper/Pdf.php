<?php

declare(strict_types=1);

namespace App\Paper;

use Core\Paperwork\Table;
use Dompdf\Dompdf;
use Dompdf\Options;

/** Sheets as a PDF to print, without fetching anything from anywhere. */
final class Pdf
{
    /** Walls up to which a PDF lists each one's cables, so that it is set within seconds. */
    public const MAX_CABLE_TABLES = 40;

    /** @param  list<Table>  $sheets */
    public static function of(string $title, array $sheets): string
    {
        $folder = config('kite.data').'/pdf';
        is_dir($folder) || @mkdir($folder, 0770, true);
        $options = new Options();
        $options->setIsRemoteEnabled(false);
        $options->setIsPhpEnabled(false);
        $options->setIsJavascriptEnabled(false);
        $options->setDefaultFont('DejaVu Sans');
        $options->setTempDir($folder);
        $options->setFontCache($folder);
        $options->setLogOutputFile('');
        $html = self::html($title, $sheets);
        $wide = str_contains($html, self::WIDE) ? WideFont::file($folder) : null;
        if ($wide !== null) {
            $options->setChroot([base_path(), $folder]);
            $options->setFontDir($folder);
            // Within one process the name of a font stands for its first file.
            $name = 'wide'.hash('crc32b', $folder);
            $html = "<style>@font-face { font-family: \"$name\"; src: url(\"file://$wide\") format(\"truetype\") } .wide { font-family: $name }</style>$html";
        }
        $pdf = new Dompdf($options);
        $pdf->setPaper('A4', 'landscape');
        $pdf->loadHtml($html, 'UTF-8');
        $pdf->render();

        return (string) $pdf->output();
    }

    private const WIDE = '<span class="wide">';

    /** Signs that the usual font lacks are set in one that has them. */
    private static function text(string $text): string
    {
        $safe = static fn (string $part): string => htmlspecialchars($part, ENT_QUOTES | ENT_SUBSTITUTE, 'UTF-8');

        return implode(
            '',
            array_map(
                static fn (array $part): string => $part[1] ? self::WIDE.$safe($part[0]).'</span>' : $safe($part[0]),
                WideFont::parts(mb_scrub($text)),
            ),
        );
    }

    /** @param  list<Table>  $sheets */
    public static function html(string $title, array $sheets): string
    {
        $text = static fn (string|int|float $v): string => self::text(
            is_float($v) ? rtrim(rtrim(number_format($v, 3, '.', ' '), '0'), '.') : (string) $v,
        );
        $html =
            '<!doctype html><meta charset="utf-8"><title>'.
            $text($title).
            '</title><style>
            @page { margin: 12mm } body { font: 8pt "DejaVu Sans" } h1 { font-size: 15pt; margin: 0 0 2mm } h2 { font-size: 10.5pt; margin: 5mm 0 1.5mm }
            table { border-collapse: collapse; width: 100% } th, td { border-bottom: .3pt solid #999; padding: .8mm 1.2mm; text-align: left; vertical-align: top; word-wrap: break-word } th { font-weight: bold; border-bottom: .8pt solid #333 }
            td.n { text-align: right } tr.sum td { font-weight: bold } p { margin: 1mm 0 }</style><h1>'.
            $text($title).
            '</h1>';
        foreach ($sheets as $sheet) {
            $html .= '<h2>'.$text($sheet->title).'</h2><table><thead><tr>';
            foreach ($sheet->columns as $column) {
                $html .= '<th>'.$text($column).'</th>';
            }
            $html .= '</tr></thead><tbody>';
            foreach ($sheet->rows as $row) {
                $html .= str_starts_with((string) $row[0], 'Total') ? '<tr class="sum">' : '<tr>';
                foreach ($row as $cell) {
                    $html .= (is_string($cell) ? '<td>' : '<td class="n">').$text($cell).'</td>';
                }
                $html .= '</tr>';
            }
            $html .= '</tbody></table>';
            foreach ($sheet->remarks as $remark) {
                $html .= '<p>! '.$text($remark).'</p>';
            }
        }

        return $html;
    }
}

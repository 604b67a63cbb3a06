<?php

declare(strict_types=1);

namespace App\Paper;

/**
 * A font for signs that the usual one lacks: what is not in DejaVu Sans is shown in UnifontEX, which ships with the
 * application as WOFF (W3C, WOFF File Format 1.0) and is unpacked into the data folder when it is first needed.
 */
final class WideFont
{
    private const SOURCE = 'node_modules/@fontsource/unifontex/files/unifontex-latin-400-normal.woff';

    private const METRICS = 'vendor/dompdf/dompdf/lib/fonts/DejaVuSans.ufm';

    /** @var array<int, true>|null code points of the usual font */
    private static ?array $usual = null;

    /** @return array<int, true> */
    private static function usual(): array
    {
        if (self::$usual === null) {
            preg_match_all('/^U (\d+) ;/m', (string) @file_get_contents(base_path(self::METRICS)), $found);
            self::$usual = array_fill_keys(array_map(intval(...), $found[1]), true);
        }

        return self::$usual;
    }

    /**
     * A text cut where the font changes.
     *
     * @return list<array{string, bool}> parts, and whether each needs the wide font
     */
    public static function parts(string $text): array
    {
        $parts = [];
        foreach (mb_str_split($text) as $sign) {
            $code = mb_ord($sign, 'UTF-8');
            $wide = $code > 0x7E && ! isset(self::usual()[$code]);
            if ($parts !== [] && $parts[count($parts) - 1][1] === $wide) {
                $parts[count($parts) - 1][0] .= $sign;
            } else {
                $parts[] = [$sign, $wide];
            }
        }

        return $parts;
    }

    /** The font as a file that the PDF is set with; null where it is not installed. */
    public static function file(string $folder): ?string
    {
        $path = "$folder/wide.ttf";
        if (! is_file($path)) {
            $woff = @file_get_contents(base_path(self::SOURCE));
            if ($woff === false) {
                return null;
            }
            file_put_contents("$path.part", self::unpacked($woff));
            rename("$path.part", $path);
        }

        return $path;
    }

    /** A WOFF as the font that is packed in it. */
    public static function unpacked(string $woff): string
    {
        if (strlen($woff) < 44 || ! str_starts_with($woff, 'wOFF')) {
            throw new \UnexpectedValueException('This is no WOFF.');
        }
        /** @var array{flavor: int, count: int} $head */
        $head = unpack('Nflavor/Nlength/ncount', $woff, 4);
        $tables = [];
        for ($i = 0; $i < $head['count']; $i++) {
            ['tag' => $tag, 'at' => $at, 'packed' => $packed, 'length' => $length, 'sum' => $sum] = (array) unpack(
                'a4tag/Nat/Npacked/Nlength/Nsum',
                $woff,
                44 + 20 * $i,
            );
            $data = substr($woff, $at, $packed);
            $tables[$tag] = [$packed < $length ? (string) gzuncompress($data, $length) : $data, $sum];
        }
        ksort($tables);
        $two = 2 ** (int) floor(log($head['count'], 2));
        $directory = pack(
            'Nnnnn',
            $head['flavor'],
            $head['count'],
            16 * $two,
            (int) log($two, 2),
            16 * ($head['count'] - $two),
        );
        $body = '';
        foreach ($tables as $tag => [$data, $sum]) {
            $directory .= $tag.pack('NNN', $sum, 12 + 16 * $head['count'] + strlen($body), strlen($data));
            $body .= $data.str_repeat("\0", -strlen($data) & 3);
        }

        return $directory.$body;
    }
}

<?php

declare(strict_types=1);

namespace App\Paper;

use Core\Units\InvalidValue;

/** ZIP archives of strangers, and ours. */
final class Archive
{
    private const MAX_FILES = 400;

    private const MAX_BYTES = 200 << 20;

    /** @param  array<string, string>  $files */
    public static function of(array $files): string
    {
        return self::at('', static function (string $path) use ($files): string {
            $zip = new \ZipArchive();
            $zip->open($path, \ZipArchive::OVERWRITE);
            foreach ($files as $name => $bytes) {
                $zip->addFromString($name, $bytes);
            }
            $zip->close();

            return (string) file_get_contents($path);
        });
    }

    /**
     * All files of an archive, or one, by their names without folders.
     *
     * @param  string  $field  that is refused
     * @param  string|null  $only  the name of the one that is wanted
     * @return array<string, string>
     *
     * @throws InvalidValue
     */
    public static function files(string $bytes, string $field, ?string $only = null): array
    {
        return self::at($bytes, static function (string $path) use ($field, $only): array {
            $zip = new \ZipArchive();
            if ($zip->open($path, \ZipArchive::RDONLY) !== true) {
                throw InvalidValue::because($field, 'This is no package: it has to be a ZIP archive.');
            }
            [$files, $size] = [[], 0];
            for ($i = 0; $i < $zip->numFiles; $i++) {
                $name = basename((string) $zip->getNameIndex($i));
                if ($only !== null && $name !== $only) {
                    continue;
                }
                $size += (int) ($zip->statIndex($i)['size'] ?? 0);
                if ($zip->numFiles > self::MAX_FILES || $size > self::MAX_BYTES) {
                    throw InvalidValue::because(
                        $field,
                        'The package has more than '.self::MAX_FILES.' files, or more than 200 MB unpacked.',
                    );
                }
                $files[$name] = (string) $zip->getFromIndex($i);
            }
            $zip->close();

            return $files;
        });
    }

    /**
     * @template T
     *
     * @param  \Closure(string): T  $do  with the path of a file that has these bytes
     * @return T
     */
    private static function at(string $bytes, \Closure $do): mixed
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'kite');
        try {
            file_put_contents($path, $bytes);

            return $do($path);
        } finally {
            @unlink($path);
        }
    }
}

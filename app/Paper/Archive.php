<?php

declare(strict_types=1);

namespace App\Paper;

use Core\Units\InvalidValue;

/** ZIP archives of strangers, and ours. */
final class Archive
{
    private const MAX_FILES = 400;

    private const MAX_BYTES = 200 << 20;

    /** Bytes of all files of one that is read file by file, unpacked. */
    private const MAX_UNPACKED = 8 << 30;

    /** @param  array<string, string>  $files */
    public static function of(array $files): string
    {
        return self::file('', static function (string $path) use ($files): string {
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
        return self::file($bytes, static function (string $path) use ($field, $only): array {
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
    public static function file(string $bytes, \Closure $do): mixed
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'kite');
        try {
            file_put_contents($path, $bytes);

            return $do($path);
        } finally {
            @unlink($path);
        }
    }

    /**
     * An archive of files that are written one after another.
     *
     * @param  \Closure(\Closure(string): resource): void  $write  is given what opens the next file by its name
     */
    public static function built(\Closure $write): string
    {
        return self::folder(static function (string $folder) use ($write): string {
            $files = [];
            $write(static function (string $name) use ($folder, &$files) {
                $handle = fopen("$folder/".count($files), 'wb') ?: throw new \RuntimeException('The disk is full.');
                $files[$name] = $handle;

                return $handle;
            });
            $zip = new \ZipArchive();
            $zip->open("$folder/zip", \ZipArchive::CREATE);
            foreach (array_keys($files) as $n => $name) {
                fclose($files[$name]);
                $zip->addFile("$folder/$n", (string) $name);
            }
            $zip->close();

            return (string) file_get_contents("$folder/zip");
        });
    }

    /**
     * Reads an archive file by file, by their names without folders.
     *
     * @template T
     *
     * @param  string  $field  that is refused
     * @param  \Closure(\Closure(string): string): T  $read  is given what unpacks a file and returns its path
     * @return T
     *
     * @throws InvalidValue
     */
    public static function opened(string $path, string $field, \Closure $read): mixed
    {
        $zip = new \ZipArchive();
        if ($zip->open($path, \ZipArchive::RDONLY) !== true) {
            throw InvalidValue::because($field, 'This is no package: it has to be a ZIP archive.');
        }
        [$entries, $size] = [[], 0];
        for ($i = 0; $i < $zip->numFiles; $i++) {
            $entries[basename((string) $zip->getNameIndex($i))] = $i;
            $size += (int) ($zip->statIndex($i)['size'] ?? 0);
        }
        if ($zip->numFiles > self::MAX_FILES || $size > self::MAX_UNPACKED) {
            throw InvalidValue::because(
                $field,
                'The package has more than '.self::MAX_FILES.' files, or more than 8 GB unpacked.',
            );
        }

        return self::folder(
            static fn (string $folder): mixed => $read(static function (string $name) use (
                $folder,
                $zip,
                $entries,
                $field,
            ): string {
                $entry =
                    $entries[basename($name)] ??
                    throw InvalidValue::because($field, "The package has no file \"$name\".");
                $to = "$folder/$entry";
                if (! is_file($to)) {
                    $from = $zip->getStreamIndex($entry);
                    // No more than it says: what unpacks to more is not believed.
                    $stated = (int) ($zip->statIndex($entry)['size'] ?? 0);
                    if ($from === false || @file_put_contents($to, $from) !== $stated) {
                        throw InvalidValue::because($field, "The file \"$name\" of the package can't be unpacked.");
                    }
                }

                return $to;
            }),
        );
    }

    /**
     * @template T
     *
     * @param  \Closure(string): T  $do  with a folder that is there as long
     * @return T
     */
    private static function folder(\Closure $do): mixed
    {
        $folder = sys_get_temp_dir().'/kite-'.bin2hex(random_bytes(8));
        mkdir($folder, 0700);
        try {
            return $do($folder);
        } finally {
            foreach (glob("$folder/*") ?: [] as $file) {
                @unlink($file);
            }
            @rmdir($folder);
        }
    }
}

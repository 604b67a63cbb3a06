<?php

declare(strict_types=1);

namespace App\Engine;

/** What a conductor has to know to go on where another ended, one line of JSON a change; the last whole line counts. */
final class Journal
{
    private const LONGEST = 1_000_000;

    /** @var resource|null */
    private $handle = null;

    private int $length = 0;

    public function __construct(private readonly string $path)
    {
    }

    /** @return array<string, mixed>|null */
    public function last(): ?array
    {
        $text = is_file($this->path) ? (string) file_get_contents($this->path, false, null, max(0, filesize($this->path) - 65_536)) : '';
        foreach (array_reverse(explode("\n", $text)) as $line) {
            $record = json_decode($line, true);
            if (is_array($record)) {
                return $record;
            }
        }

        return null;
    }

    /** @param  array<string, mixed>  $record */
    public function write(array $record): void
    {
        $line = json_encode($record, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION)."\n";
        if ($this->handle === null || $this->length > self::LONGEST) {
            $this->begin($line);

            return;
        }
        $this->length += (int) fwrite($this->handle, $line);
    }

    /** Starts a fresh file with this line, in one move, so that there is always a whole one. */
    private function begin(string $line): void
    {
        file_put_contents($this->path.'.new', $line);
        rename($this->path.'.new', $this->path);
        if ($this->handle !== null) {
            fclose($this->handle);
        }
        $this->handle = fopen($this->path, 'ab') ?: throw new \RuntimeException("The journal $this->path can't be written.");
        $this->length = strlen($line);
    }
}

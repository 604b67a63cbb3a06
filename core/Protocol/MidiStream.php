<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * Bytes of MIDI 1.0 as whole messages: running status is written out, what belongs to no message is passed over, and
 * real-time messages come out of the middle of others.
 */
final class MidiStream
{
    /** A system exclusive message that is longer is passed over. */
    private const LONGEST = 4096;

    private int $status = 0;

    /** @var list<int> */
    private array $data = [];

    private bool $isExclusive = false;

    /** Bytes that belonged to no message. */
    public int $strays = 0;

    /**
     * @return list<non-empty-list<int>> messages, each with its status byte; of a system exclusive one, with both of
     *     its ends
     */
    public function read(string $bytes): array
    {
        $messages = [];
        for ($i = 0; $i < strlen($bytes); $i++) {
            $byte = ord($bytes[$i]);
            if ($byte >= 0xF8) {
                $messages[] = [$byte];

                continue;
            }
            if ($byte >= 0x80) {
                if ($this->isExclusive && $byte === 0xF7 && count($this->data) <= self::LONGEST) {
                    $messages[] = [0xF0, ...$this->data, 0xF7];
                } elseif ($this->data !== [] || $byte === 0xF7) {
                    $this->strays += count($this->data);
                }
                $this->isExclusive = $byte === 0xF0;
                // Of the common ones, nothing runs on.
                [$this->status, $this->data] = [$byte === 0xF7 || $byte === 0xF0 ? 0 : $byte, []];
                if ($byte === 0xF6) {
                    $messages[] = [$byte];
                    $this->status = 0;
                }

                continue;
            }
            if ($this->isExclusive) {
                count($this->data) <= self::LONGEST && ($this->data[] = $byte);

                continue;
            }
            if ($this->status === 0) {
                $this->strays++;

                continue;
            }
            $this->data[] = $byte;
            if (count($this->data) === self::length($this->status)) {
                $messages[] = [$this->status, ...$this->data];
                $this->data = [];
                $this->status = $this->status >= 0xF0 ? 0 : $this->status;
            }
        }

        return $messages;
    }

    /** Data bytes of a message. */
    private static function length(int $status): int
    {
        return match ($status & 0xF0) {
            0xC0, 0xD0 => 1,
            0xF0 => $status === 0xF2 ? 2 : 1,
            default => 2,
        };
    }
}

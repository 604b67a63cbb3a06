<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * DMX by a serial interface: messages that begin with 0x7E, a label, and the length of their data (16 bits, low byte
 * first), and end with 0xE7. Label 6 sends a packet of DMX, label 5 tells one that was received.
 */
final class SerialDmx
{
    /** The path of a serial port, as a part of a regular expression. */
    public const PATH = '/dev/[\w.\-/]{1,80}';

    private const BEGIN = "\x7E";

    private const END = "\xE7";

    private const SEND = 6;

    private const RECEIVED = 5;

    /** The fewest slots that a packet has. */
    private const FEWEST = 24;

    private const MOST = 512;

    /** What a message is long beside its data. */
    private const FRAME = 5;

    /** Messages that are longer are none. */
    private const LONGEST = 600;

    private string $buffer = '';

    /** Bytes that belonged to no message. */
    public int $bad = 0;

    /** The message that sends slots, 1 to 512 of them. */
    public static function send(string $slots): string
    {
        $data = "\0".str_pad(substr($slots, 0, self::MOST), self::FEWEST, "\0");

        return self::BEGIN.pack('Cv', self::SEND, strlen($data)).$data.self::END;
    }

    /**
     * What comes from the interface.
     *
     * @return list<string> the slots of each packet that was received whole
     */
    public function read(string $bytes): array
    {
        $this->buffer .= $bytes;
        $packets = [];
        while (($at = strpos($this->buffer, self::BEGIN)) !== false) {
            $this->bad += $at;
            $this->buffer = substr($this->buffer, $at);
            if (strlen($this->buffer) < self::FRAME) {
                return $packets;
            }
            ['label' => $label, 'length' => $length] = (array) unpack('Clabel/vlength', $this->buffer, 1);
            if ($length <= self::LONGEST && strlen($this->buffer) < self::FRAME + $length) {
                return $packets;
            }
            if ($length > self::LONGEST || $this->buffer[self::FRAME - 1 + $length] !== self::END) {
                // It only looked like the beginning of one.
                $this->bad++;
                $this->buffer = substr($this->buffer, 1);

                continue;
            }
            $data = substr($this->buffer, self::FRAME - 1, $length);
            $this->buffer = substr($this->buffer, self::FRAME + $length);
            // A status of 0 is a good packet, a start code of 0 one of levels.
            if ($label === self::RECEIVED && strncmp($data, "\0\0", 2) === 0 && $length > 2) {
                $packets[] = substr($data, 2, self::MOST);
            }
        }
        $this->bad += strlen($this->buffer);
        $this->buffer = '';

        return $packets;
    }
}

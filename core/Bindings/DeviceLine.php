<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Protocol\MidiStream;
use Core\Protocol\Osc;
use Core\Units\InvalidValue;

/**
 * Something that is sent to a device when a cue is fired or a control is pressed: `osc HOST:PORT /address arguments`,
 * `udp HOST:PORT text`, `tcp HOST:PORT text`, `http URL body` or `midi "DEVICE" 90 3C 7F`. In a text, \r, \n, \t and
 * \xHH are what they are elsewhere; of MIDI stand the bytes of messages, in hex.
 */
final readonly class DeviceLine
{
    public const PROTOCOLS = ['osc', 'udp', 'tcp', 'http', 'midi'];

    private const LONGEST = 1000;

    /**
     * @param  string  $to  host and port; of http the URL, of midi the name of a device or of its port
     * @param  string  $bytes  what is sent
     */
    private function __construct(
        public string $protocol,
        public string $to,
        public string $bytes,
        public string $text,
    ) {
    }

    /** @throws InvalidValue */
    public static function parse(string $line): self
    {
        $line = trim($line);
        [$protocol, $to, $rest] = array_pad(preg_split('/\s+/', $line, 3) ?: [], 3, '');
        if (strlen($line) > self::LONGEST || ! in_array($protocol, self::PROTOCOLS, true)) {
            throw InvalidValue::because(
                'target',
                'Write send osc HOST:PORT /address …, send udp HOST:PORT text, send tcp HOST:PORT text, send http URL body or send midi "DEVICE" 90 3C 7F.',
            );
        }
        if ($protocol === 'midi') {
            return self::midi($line);
        }
        if ($protocol === 'http') {
            if (preg_match('~^https?://[^\s/?#]+[^\s]*$~D', $to) !== 1) {
                throw InvalidValue::because('target', "\"$to\" is no address that begins with http://.");
            }

            return new self($protocol, $to, self::unescaped($rest), $line);
        }
        if (
            preg_match('/^(?:[A-Za-z0-9.-]+|\[[0-9a-fA-F:]+\]):(\d{1,5})$/D', $to, $m) !== 1 ||
            (int) $m[1] < 1 ||
            (int) $m[1] > 65_535
        ) {
            throw InvalidValue::because('target', "\"$to\" is no host with a port, as 10.0.0.5:8000.");
        }
        if ($protocol !== 'osc') {
            return $rest !== ''
                ? new self($protocol, $to, self::unescaped($rest), $line)
                : throw InvalidValue::because('target', "What is to be sent to $to?");
        }
        $words = QuotedWords::of($rest);
        $address = array_shift($words)[0] ?? '';
        if (preg_match('~^/[^\s#*,?\[\]{}]*$~D', $address) !== 1) {
            throw InvalidValue::because('target', "\"$address\" is no OSC address; it begins with a slash.");
        }
        $arguments = array_map(
            static fn (array $word): int|float|string => match (true) {
                $word[1] || ! is_numeric($word[0]) => $word[0],
                preg_match('/^-?\d{1,9}$/D', $word[0]) === 1 => (int) $word[0],
                default => (float) $word[0],
            },
            $words,
        );

        return new self($protocol, $to, Osc::encode($address, $arguments), $line);
    }

    /** Messages to a MIDI device. */
    private static function midi(string $line): self
    {
        $words = array_slice(QuotedWords::of($line), 1);
        $device = array_shift($words)[0] ?? '';
        $hex = implode('', array_column($words, 0));
        $bytes = preg_match('/^(?:[0-9a-fA-F]{2})+$/D', $hex) === 1 ? (string) hex2bin($hex) : '';
        $whole = array_sum(array_map(count(...), (new MidiStream())->read($bytes)));
        if ($device === '' || $bytes === '' || $whole !== strlen($bytes)) {
            throw InvalidValue::because(
                'target',
                'A MIDI line names a device, and whole messages in hex: send midi "Fader box" 90 3C 7F.',
            );
        }

        return new self('midi', $device, $bytes, $line);
    }

    private static function unescaped(string $text): string
    {
        return (string) preg_replace_callback(
            '/\\\\(r|n|t|\\\\|x[0-9a-fA-F]{2})/',
            static fn (array $m): string => match ($m[1][0]) {
                'r' => "\r",
                'n' => "\n",
                't' => "\t",
                'x' => chr((int) hexdec(substr($m[1], 1))),
                default => '\\',
            },
            $text,
        );
    }
}

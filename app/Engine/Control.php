<?php

declare(strict_types=1);

namespace App\Engine;

/** How the web app and the worker tell the conductor something: one line of JSON on its control socket. */
final readonly class Control
{
    public function __construct(private string $socket)
    {
    }

    /**
     * Says it and goes on; when no engine runs, nobody is told, and that is fine.
     *
     * @param  array<string, mixed>  $message
     */
    public function send(array $message): bool
    {
        $stream = @stream_socket_client('unix://'.$this->socket, $code, $error, 0.2);
        if ($stream === false) {
            return false;
        }
        stream_set_timeout($stream, 0, 200_000);
        $bytes =
            json_encode($message, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE)."\n";
        $sent = @fwrite($stream, $bytes);
        fclose($stream);

        return $sent === strlen($bytes);
    }

    /**
     * Asks and waits for one line back; null when no engine answers in time.
     *
     * @param  array<string, mixed>  $message
     * @return array<string, mixed>|null
     */
    public function ask(array $message): ?array
    {
        $stream = @stream_socket_client('unix://'.$this->socket, $code, $error, 0.2);
        if ($stream === false) {
            return null;
        }
        stream_set_timeout($stream, 2);
        fwrite($stream, Wire::encode($message)."\n");
        $line = fgets($stream);
        fclose($stream);
        $answer = is_string($line) ? json_decode($line, true) : null;

        return is_array($answer) ? $answer : null;
    }
}

<?php

declare(strict_types=1);

namespace App\Http;

use App\Support\Problem;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\InputBag;

/** A request whose JSON body is read within bounds of length, depth and memory, and holds finite numbers only. */
final class JsonRequest extends Request
{
    public const MAX_BYTES = 12_000_000;

    /** Lists and objects in one body: each takes some 400 bytes of memory, however short it is written. */
    public const MAX_NESTED = 250_000;

    public const DEEPEST = 32;

    /** What is wrong with the body; it reads as empty then. */
    public ?Problem $problem = null;

    /**
     * The method that it was sent by: none in a header or a field takes its place, so that what looks at requests
     * sees what is done.
     */
    public function getMethod(): string
    {
        return $this->getRealMethod();
    }

    /**
     * @param  string|null  $key
     * @param  mixed  $default
     * @return InputBag<scalar>|mixed
     */
    public function json($key = null, $default = null)
    {
        if (! isset($this->json)) {
            $this->json = new InputBag($this->read($this->getContent()));
        }

        return parent::json($key, $default);
    }

    /** @return array<array-key, mixed> */
    private function read(string $body): array
    {
        $length = $this->server->get('CONTENT_LENGTH');
        if (is_numeric($length) && (int) $length > strlen($body) && (int) $length <= self::MAX_BYTES) {
            $this->problem = new Problem(507, 'The request did not fit onto the disk; make room and try again.');

            return [];
        }
        if (strlen($body) > self::MAX_BYTES || substr_count($body, '[') + substr_count($body, '{') > self::MAX_NESTED) {
            $this->problem = new Problem(
                413,
                'A request is at most '.
                    self::MAX_BYTES / 1e6.
                    ' MB long and holds at most '.
                    number_format(self::MAX_NESTED).
                    ' lists and objects. Send it in parts.',
            );

            return [];
        }
        $read = $body === '' ? [] : json_decode($body, true, self::DEEPEST);
        if (! is_array($read)) {
            $this->problem = new Problem(
                400,
                json_last_error() === JSON_ERROR_DEPTH
                    ? 'The body is nested more than '.self::DEEPEST.' deep.'
                    : 'The body is no JSON object.',
            );

            return [];
        }
        $path = self::endless($read);
        $this->problem = $path === null ? null : Problem::refused($path, "$path is too large a number.");

        return $read;
    }

    /**
     * Where a number stands that is beyond what can be computed with, such as 1e309.
     *
     * @param  array<array-key, mixed>  $value
     */
    private static function endless(array $value): ?string
    {
        foreach ($value as $key => $member) {
            if (is_float($member) && ! is_finite($member)) {
                return (string) $key;
            }
            if (is_array($member) && ($path = self::endless($member)) !== null) {
                return "$key.$path";
            }
        }

        return null;
    }
}

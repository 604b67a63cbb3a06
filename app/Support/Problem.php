<?php

declare(strict_types=1);

namespace App\Support;

use Core\Units\ArithmeticError;
use Core\Units\InvalidValue;
use Illuminate\Database\Eloquent\ModelNotFoundException;
use Illuminate\Http\JsonResponse;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;

/** What went wrong, as a problem document (RFC 9457) and as an exception that carries one. */
final class Problem extends \RuntimeException
{
    private const FULL = [507, 'The disk is full. Nothing was changed; make room and try again.', []];

    /** @param  array<string, mixed>  $more further members of the document */
    public function __construct(public readonly int $status, string $detail, public readonly array $more = [])
    {
        parent::__construct($detail);
    }

    public static function refused(string $field, string $message): self
    {
        return new self(422, $message, ['field' => $field]);
    }

    public static function noRoom(): self
    {
        return new self(...self::FULL);
    }

    public static function response(\Throwable $e): JsonResponse
    {
        [$status, $detail, $more] = match (true) {
            $e instanceof self => [$e->status, $e->getMessage(), $e->more],
            $e instanceof InvalidValue => [422, $e->getMessage(), ['field' => $e->field]],
            $e instanceof ArithmeticError => [422, $e->getMessage(), ['at' => $e->at]],
            $e instanceof ModelNotFoundException => [404, 'There is no such thing here.', []],
            $e instanceof \PDOException => self::ofDatabase($e),
            self::isNoRoom($e) => self::FULL,
            $e instanceof HttpExceptionInterface => [
                $e->getStatusCode(),
                self::ofStatus($e->getStatusCode(), $e->getMessage()),
                [],
            ],
            default => self::inside($e),
        };

        return new JsonResponse(
            [
                'type' => 'about:blank',
                'title' => self::TITLES[$status] ?? 'Problem',
                'status' => $status,
                'detail' => $detail,
            ] + $more,
            $status,
            ['Content-Type' => 'application/problem+json'],
        );
    }

    /** @return array{int, string, array<string, mixed>} */
    private static function inside(\Throwable $e): array
    {
        return [
            500,
            config('app.debug')
                ? $e->getMessage()
                : 'Something went wrong on our side; the log of the application says what.',
            [],
        ];
    }

    /**
     * What SQLite could not do, by its result codes (busy 5, locked 6, read only 8, full 13, constraint 19).
     *
     * @return array{int, string, array<string, mixed>}
     */
    private static function ofDatabase(\PDOException $e): array
    {
        return match ((int) ($e->errorInfo[1] ?? 0) & 0xFF) {
            5, 6 => [503, 'Others are writing to the show just now. Nothing was changed; try again.', []],
            8, 14 => [
                503,
                'The database can\'t be written: its file or folder is write-protected or gone. Nothing was changed.',
                [],
            ],
            13 => self::FULL,
            19 => [409, 'Somebody else changed the same thing in this moment. Nothing was changed; try again.', []],
            10 => self::isFull() ? self::FULL : self::inside($e),
            default => self::inside($e),
        };
    }

    /**
     * Whether something failed because the disk takes no more: as PHP, SQLite and their callers say it, or while
     * there is no room.
     */
    private static function isNoRoom(\Throwable $e): bool
    {
        for ($one = $e; $one !== null; $one = $one->getPrevious()) {
            if (
                preg_match(
                    '/No space left on device|errno=28|possibly out of free disk space|disk is full/i',
                    $one->getMessage(),
                ) === 1
            ) {
                return true;
            }
        }

        return ($e instanceof \ErrorException || $e instanceof \RuntimeException) &&
            ! ($e instanceof HttpExceptionInterface) &&
            self::isFull();
    }

    private static function isFull(): bool
    {
        $free = @disk_free_space((string) config('kite.data'));

        return $free !== false && $free < 65_536;
    }

    private static function ofStatus(int $status, string $said): string
    {
        return match ($status) {
            404 => 'There is nothing at this address.',
            405 => 'This can\'t be done at this address.',
            413 => 'This is larger than what is taken here.',
            default => $said !== '' ? $said : 'The request could not be answered.',
        };
    }

    private const TITLES = [
        400 => 'Bad request',
        403 => 'Not allowed',
        404 => 'Not found',
        405 => 'Method not allowed',
        409 => 'Somebody else changed this',
        411 => 'Length required',
        413 => 'Too large',
        415 => 'Unsupported media type',
        421 => 'Misdirected request',
        422 => 'Not possible',
        500 => 'Server error',
        503 => 'Not just now',
        507 => 'No room left',
    ];
}

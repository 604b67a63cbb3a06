<?php

declare(strict_types=1);

namespace App\Lights;

use App\Support\Tied;
use Core\Media\Picture;
use React\ChildProcess\Process;
use React\EventLoop\LoopInterface;

/**
 * Newest pictures of live inputs, small, as lights sample them: by the small stream that windows of the studio take
 * as well. A decoder runs while somebody asks for its input.
 */
final class LiveInputs
{
    /** Seconds without a picture after which an input counts as lost, as in players. */
    public const LOST = 1.5;

    /** Seconds after which an input that nobody asks for is no longer decoded. */
    private const UNUSED = 5.0;

    /** Seconds between a decoder's end and the next. */
    private const AGAIN = 0.5;

    /** Longest side, in pixels, as that of raw frames. */
    private const SIDE = 64;

    /**
     * @var array<string, array{process: Process|null, width: int, height: int, buffer: string, picture: Picture|null, at: float, asked: float, count: int, next: float}> by address
     */
    private array $inputs = [];

    /** @param  string  $server  from which inputs come, as in http://127.0.0.1:4183 */
    public function __construct(private readonly LoopInterface $loop, private readonly string $server)
    {
        $loop->addPeriodicTimer(self::AGAIN, fn () => $this->tend(self::now()));
    }

    /**
     * The newest picture of an input; null while it has none.
     *
     * @param  array<string, mixed>  $media  its part of the plan: url, width, height
     */
    public function of(array $media): ?Picture
    {
        $url = (string) ($media['url'] ?? '');
        if (! self::canBeRead($url)) {
            return null;
        }
        $now = self::now();
        if (! isset($this->inputs[$url])) {
            [$w, $h] = [max(1, (int) ($media['width'] ?? 16)), max(1, (int) ($media['height'] ?? 9))];
            $smaller = min(1, self::SIDE / max($w, $h));
            $this->inputs[$url] = [
                'process' => null,
                'width' => max(1, (int) round($w * $smaller)),
                'height' => max(1, (int) round($h * $smaller)),
                'buffer' => '',
                'picture' => null,
                'at' => -INF,
                'asked' => $now,
                'count' => 0,
                'next' => 0.0,
            ];
            $this->start($url);
        }
        $input = $this->inputs[$url];
        $input['asked'] = $now;
        $this->inputs[$url] = $input;

        return $now - $input['at'] <= self::LOST ? $input['picture'] : null;
    }

    /** Grows with each picture of an input, and tells a lost one from the last picture that it had. */
    public function version(string $url): int
    {
        $input = $this->inputs[$url] ?? null;

        return $input === null || self::now() - $input['at'] > self::LOST ? 0 : $input['count'];
    }

    /** Whether this process can read an input: one of a browser's own is that browser's alone. */
    public static function canBeRead(string $url): bool
    {
        return preg_match('#^/inputs/[a-z]+$#D', $url) === 1;
    }

    private function start(string $url): void
    {
        ['width' => $width, 'height' => $height] = $this->inputs[$url];
        // It ends with us, and when nobody reads what it says.
        $process = new Process(
            sprintf(
                '%sffmpeg -nostdin -v quiet -probesize 65536 -analyzeduration 0 -fflags nobuffer -flags low_delay -rw_timeout 2000000 -f mpjpeg -i %s -an -threads 1 -vf scale=%d:%d:flags=area,format=rgba -f rawvideo pipe:1',
                Tied::prefix(),
                escapeshellarg("$this->server$url?small=1"),
                $width,
                $height,
            ),
        );
        $process->start($this->loop);
        $this->inputs[$url] = array_merge($this->inputs[$url], ['process' => $process, 'buffer' => '']);
        $process->stdout?->on('data', function (string $bytes) use ($url, $process): void {
            if (($this->inputs[$url]['process'] ?? null) === $process) {
                $this->take($url, $bytes);
            }
        });
        $process->on('exit', function () use ($url, $process): void {
            if (($this->inputs[$url]['process'] ?? null) === $process) {
                $this->inputs[$url]['process'] = null;
                $this->inputs[$url]['next'] = self::now() + self::AGAIN;
            }
        });
    }

    /** Of all pictures that came, the newest. */
    private function take(string $url, string $bytes): void
    {
        $input = &$this->inputs[$url];
        $input['buffer'] .= $bytes;
        $size = 4 * $input['width'] * $input['height'];
        $whole = intdiv(strlen($input['buffer']), $size);
        if ($whole > 0) {
            $input['picture'] = Picture::of(
                $input['width'],
                $input['height'],
                substr($input['buffer'], ($whole - 1) * $size, $size),
            );
            $input['buffer'] = substr($input['buffer'], $whole * $size);
            $input['at'] = self::now();
            $input['count'] += $whole;
        }
    }

    /** Starts decoders that ended again, and ends those that nobody needs. */
    private function tend(float $now): void
    {
        foreach ($this->inputs as $url => ['process' => $process, 'asked' => $asked, 'next' => $next]) {
            if ($now - $asked > self::UNUSED) {
                unset($this->inputs[$url]);
                $process?->terminate(SIGKILL);
            } elseif ($process === null && $now >= $next) {
                $this->start((string) $url);
            }
        }
    }

    /** Ends all decoders. */
    public function stop(): void
    {
        foreach ($this->inputs as ['process' => $process]) {
            $process?->terminate(SIGKILL);
        }
        $this->inputs = [];
    }

    private static function now(): float
    {
        return hrtime(true) / 1e9;
    }
}

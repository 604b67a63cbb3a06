<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Support\FileLock;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\InputStream;
use Symfony\Component\Process\Process;

/** Locks by which processes that know nothing of each other keep out of each other's way. */
final class FileLockTest extends TestCase
{
    private string $path;

    protected function setUp(): void
    {
        $this->path = sys_get_temp_dir().'/kite-lock-'.bin2hex(random_bytes(6));
    }

    protected function tearDown(): void
    {
        @unlink($this->path);
    }

    public function test_one_has_it_at_a_time_and_its_file_goes_with_it(): void
    {
        $lock = FileLock::try($this->path);
        self::assertNotNull($lock);
        self::assertNull(FileLock::try($this->path));
        $lock->release();
        self::assertFileDoesNotExist($this->path);
        $again = FileLock::wait($this->path);
        self::assertNotNull($again);
        $again->release();
    }

    public function test_where_no_file_can_be_made_there_is_no_lock(): void
    {
        self::assertNull(FileLock::try("$this->path/nowhere"));
        self::assertNull(FileLock::wait("$this->path/nowhere"));
    }

    public function test_a_holder_that_is_killed_lets_go(): void
    {
        $holder = $this->other('$lock = FileLock::try($argv[1]); echo "held"; fgets(STDIN);');
        $this->until($holder, 'held');
        self::assertNull(FileLock::try($this->path));
        $holder->signal(SIGKILL);
        $holder->wait();
        $lock = FileLock::try($this->path);
        self::assertNotNull($lock);
        $lock->release();
    }

    public function test_who_waited_for_a_file_that_is_gone_waits_for_the_one_that_came_after(): void
    {
        // Started before there is a file: it would get the first one's handle along.
        $say = new InputStream();
        $waiting = $this->other(
            'fgets(STDIN); $lock = FileLock::wait($argv[1]); echo "got it"; $lock->release();',
            $say,
        );
        $first = fopen($this->path, 'c');
        self::assertIsResource($first);
        self::assertTrue(flock($first, LOCK_EX));
        $say->write("now\n");
        $this->untilItWaits($waiting, (int) fileinode($this->path));
        // Between the first one's taking its file away and letting go, another makes it anew.
        unlink($this->path);
        $second = FileLock::try($this->path);
        self::assertNotNull($second);
        fclose($first);
        $this->untilItWaits($waiting, (int) fileinode($this->path));
        self::assertSame('', $waiting->getOutput());
        $second->release();
        $say->close();
        $waiting->wait();
        self::assertSame('got it', $waiting->getOutput());
        self::assertFileDoesNotExist($this->path);
    }

    private function other(string $code, InputStream $say = new InputStream()): Process
    {
        $process = new Process([
            PHP_BINARY,
            '-r',
            'require $argv[2]; use App\Support\FileLock; '.$code,
            '--',
            $this->path,
            dirname(__DIR__, 2).'/vendor/autoload.php',
        ]);
        $process->setInput($say);
        $process->start();

        return $process;
    }

    private function until(Process $process, string $said): void
    {
        while ($process->isRunning() && ! str_contains($process->getOutput(), $said)) {
            usleep(1000);
        }
        self::assertStringContainsString($said, $process->getOutput(), $process->getErrorOutput());
    }

    /** The kernel lists who waits for a lock, on which file. */
    private function untilItWaits(Process $process, int $inode): void
    {
        $line = '/-> FLOCK .* '.$process->getPid().' [0-9a-f:]+:'.$inode.' /';
        while ($process->isRunning() && preg_match($line, (string) file_get_contents('/proc/locks')) !== 1) {
            usleep(1000);
        }
        self::assertTrue($process->isRunning(), $process->getErrorOutput());
    }
}

<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\CompilerProcess;
use App\Engine\Guard;
use App\Engine\Wire;
use PHPUnit\Framework\TestCase;
use React\EventLoop\StreamSelectLoop;

/** The child that compiles, played by a few lines of PHP: what it says, what it leaves unanswered, and how it ends. */
final class CompilerProcessTest extends TestCase
{
    private StreamSelectLoop $loop;

    /** @var list<array{int, string}> */
    private array $frames = [];

    /** @var list<string> */
    private array $ends = [];

    private Guard $guard;

    protected function setUp(): void
    {
        $this->loop = new StreamSelectLoop();
        $this->guard = new Guard();
    }

    /** @param  string  $code  that goes through the lines it is told, each as $message */
    private function child(string $code, ?\Closure $onFrame = null): CompilerProcess
    {
        $root = dirname(__DIR__, 2);
        $script = "require '$root/vendor/autoload.php'; use App\\Engine\\Wire; while ((\$line = fgets(STDIN)) !== false) { \$message = json_decode(\$line, true); $code }";

        return new CompilerProcess(
            $this->loop,
            [PHP_BINARY, '-r', $script],
            $this->guard,
            $onFrame ??
                function (int $type, string $payload): void {
                    $this->frames[] = [$type, $payload];
                },
            function (string $last): void {
                $this->ends[] = $last;
            },
        );
    }

    private function until(string $what, \Closure $holds): void
    {
        $end = microtime(true) + 20;
        while (! $holds()) {
            self::assertLessThan($end, microtime(true), "Waited for: $what");
            $this->loop->addTimer(0.01, fn () => $this->loop->stop());
            $this->loop->run();
        }
    }

    public function test_frames_come_whole_whatever_pieces_they_come_in(): void
    {
        $child = $this->child(
            'foreach (str_split(Wire::pack(Wire::FIGURES, str_repeat("x", 70000)).Wire::pack(Wire::BUNDLE, "b"), 9001) as $piece) { fwrite(STDOUT, $piece); fflush(STDOUT); usleep(500); }',
        );
        $child->send(['go' => true]);
        $this->until('both frames', fn (): bool => count($this->frames) === 2);
        self::assertSame(
            [[Wire::FIGURES, 70000], [Wire::BUNDLE, 1]],
            array_map(static fn (array $f): array => [$f[0], strlen($f[1])], $this->frames),
        );
        self::assertIsInt($child->pid());
        $child->end();
    }

    public function test_each_answer_finds_who_asked_in_whatever_order_they_come(): void
    {
        $child = $this->child(
            'static $all = []; $all[] = $message; if (count($all) === 3) foreach (array_reverse($all) as $one) fwrite(STDOUT, Wire::json(Wire::ANSWER, ["id" => $one["id"], "said" => $one["word"]]));',
        );
        $heard = [];
        foreach (['ebb', 'flood', 'slack'] as $word) {
            $child->ask(['word' => $word], static function (?array $answer) use (&$heard, $word): void {
                $heard[$word] = $answer['said'] ?? null;
            });
        }
        $this->until('all answers', static function () use (&$heard): bool {
            return count($heard) === 3;
        });
        ksort($heard);
        self::assertSame(['ebb' => 'ebb', 'flood' => 'flood', 'slack' => 'slack'], $heard);
        $child->end();
    }

    public function test_one_that_ends_answers_nobody_says_its_last_words_and_takes_no_more(): void
    {
        $child = $this->child('fwrite(STDERR, str_repeat("a long story, ", 400)."and the end of it."); exit(3);');
        $answers = [];
        $note = static function (?array $answer) use (&$answers): void {
            $answers[] = $answer;
        };
        $child->ask(['what' => 'now'], $note);
        $this->until('its end', fn (): bool => $this->ends !== []);
        self::assertSame([null], $answers);
        self::assertStringEndsWith('and the end of it.', $this->ends[0]);
        self::assertLessThanOrEqual(2000, strlen($this->ends[0]));
        $child->ask(['what' => 'then'], $note);
        $child->send(['what' => 'ever']);
        self::assertSame([null, null], $answers);
        self::assertCount(1, $this->ends);
    }

    public function test_one_that_is_ended_says_nothing_and_is_gone(): void
    {
        $child = $this->child('sleep(60);');
        $pid = (int) $child->pid();
        $answers = [];
        $child->ask(['x' => 1], static function (?array $answer) use (&$answers): void {
            $answers[] = $answer;
        });
        self::assertTrue(posix_kill($pid, 0));
        $child->end();
        self::assertSame([null], $answers);
        $this->until(
            'the process to be gone',
            static fn (): bool => ! str_contains((string) @file_get_contents("/proc/$pid/stat"), ' S ') &&
                ! str_contains((string) @file_get_contents("/proc/$pid/stat"), ' R '),
        );
        self::assertSame([], $this->ends);
    }

    public function test_too_many_questions_are_answered_by_nothing(): void
    {
        $child = $this->child('');
        $refused = 0;
        for ($i = 0; $i < 250; $i++) {
            $child->ask(['n' => $i], static function (?array $answer) use (&$refused): void {
                $refused += $answer === null ? 1 : 0;
            });
        }
        self::assertSame(49, $refused, 'two hundred wait, and the one with which that is found');
        $child->end();
        self::assertSame(250, $refused);
    }

    public function test_a_frame_that_its_hearer_chokes_on_is_caught_and_the_next_is_heard(): void
    {
        $heard = 0;
        $child = $this->child(
            'fwrite(STDOUT, Wire::pack(Wire::BUNDLE, $message["n"] === 1 ? "bad" : "good")); fflush(STDOUT);',
            static function (int $type, string $payload) use (&$heard): void {
                $payload === 'bad' ? throw new \RuntimeException('It choked.') : $heard++;
            },
        );
        $child->send(['n' => 1]);
        $this->until('the bad one to be caught', fn (): bool => $this->guard->figures()['caught'] === 1);
        $child->send(['n' => 2]);
        $this->until('the good one', static function () use (&$heard): bool {
            return $heard === 1;
        });
        self::assertStringContainsString('It choked.', $this->guard->figures()['last']);
        $child->end();
    }

    public function test_the_child_holds_nothing_of_what_its_parent_has_open(): void
    {
        $port = stream_socket_server('tcp://127.0.0.1:0');
        self::assertIsResource($port);
        $name = (string) stream_socket_get_name($port, false);
        $child = $this->child('fwrite(STDOUT, Wire::pack(Wire::FIGURES, "ready")); fflush(STDOUT);');
        $child->send([]);
        $this->until('the child', fn (): bool => $this->frames !== []);
        fclose($port);
        $again = stream_socket_server("tcp://$name");
        self::assertIsResource($again, 'Its port is free as soon as we let go of it.');
        fclose($again);
        $child->end();
    }
}

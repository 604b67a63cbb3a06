<?php

declare(strict_types=1);

namespace Tests;

use Illuminate\Testing\TestResponse;
use Symfony\Component\Process\Process;

/** A show that files are sent to as the studio sends them, and a worker that makes them ready. */
trait SendsFiles
{
    use SendsParts;

    private string $show = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
    }

    /** A short video made for the purpose; with more arguments for the encoder where wanted. */
    private function video(string ...$more): string
    {
        $path = "$this->data/".md5(implode(' ', $more)).'.mp4';
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'testsrc2=s=96x54:r=25:d=2',
            '-c:v',
            'libx264',
            '-pix_fmt',
            'yuv420p',
            ...$more,
            $path,
        ]))->mustRun();

        return (string) file_get_contents($path);
    }

    private function begin(string $name, int $bytes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/uploads", ['name' => $name, 'bytes' => $bytes]);
    }

    private function send(string $name, string $bytes): TestResponse
    {
        return $this->part((string) $this->begin($name, strlen($bytes))->assertCreated()->json('id'), 0, $bytes);
    }

    /** A file as ffmpeg makes it. */
    private function made(string $name, string ...$how): string
    {
        (new Process(['ffmpeg', '-y', '-v', 'error', ...$how, "$this->data/$name"]))->mustRun();

        return (string) file_get_contents("$this->data/$name");
    }

    /** @return string the pixels of a picture's first frame */
    private function pixels(string $path, string $format = 'rgb24', string ...$how): string
    {
        return (new Process([
            'ffmpeg',
            '-v',
            'error',
            '-i',
            $path,
            '-frames:v',
            '1',
            ...$how,
            '-f',
            'rawvideo',
            '-pix_fmt',
            $format,
            '-',
        ]))
            ->mustRun()
            ->getOutput();
    }
}

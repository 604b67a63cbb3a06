<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Show\OpenApi;
use Illuminate\Console\Command;

final class DescribeApi extends Command
{
    protected $signature = 'kite:openapi';

    protected $description = 'Write docs/openapi.json';

    public function handle(): int
    {
        file_put_contents(base_path('docs/openapi.json'), json_encode(OpenApi::document(), JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n");

        return self::SUCCESS;
    }
}

<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;

final class DummySourceTest extends ControlSourceContract
{
    private DummySource $source;

    protected function source(): ControlSource
    {
        return $this->source = new DummySource();
    }

    protected function send(string $control, array $raw): void
    {
        $this->source->press($control, $raw);
    }

    protected function sendNonsense(): bool
    {
        return false;
    }

    protected function shown(): array
    {
        [$shown, $this->source->shown] = [$this->source->shown, []];

        return $shown;
    }
}

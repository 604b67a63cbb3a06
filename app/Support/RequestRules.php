<?php

declare(strict_types=1);

namespace App\Support;

/** The rules at every door, shared by the web app and the engine. */
final readonly class RequestRules
{
    /** @param  list<string>  $hosts names without a port */
    public function __construct(private array $hosts)
    {
    }

    /**
     * @param  bool  $bytes  whether this address takes application/octet-stream instead of JSON
     * @param  string|null  $site  what the browser says of the page that asks (Fetch Metadata, Sec-Fetch-Site); null
     *     from what is no browser
     * @return array{int, string}|null status and message, or null when it may pass
     */
    public function refusal(
        string $method,
        string $host,
        ?string $origin,
        string $contentType,
        bool $bytes = false,
        ?string $site = null,
    ): ?array {
        if (! in_array($this->name($host), $this->hosts, true)) {
            return [421, 'This server does not answer to that host name.'];
        }
        if ($site !== null && ! in_array($site, ['same-origin', 'none'], true)) {
            return [403, 'Nothing is given to pages of another address.'];
        }
        if (in_array($method, ['GET', 'HEAD'], true)) {
            return null;
        }
        if ($origin === null || preg_match('#^https?://(.+)$#', $origin, $m) !== 1 || $m[1] !== $host) {
            return [403, 'Changes are only taken from a page of this same address.'];
        }
        $wanted = $bytes ? 'application/octet-stream' : 'application/json';
        if (strtolower(trim(explode(';', $contentType)[0])) !== $wanted) {
            return [415, "The body has to be $wanted."];
        }

        return null;
    }

    private function name(string $host): string
    {
        return strtolower((string) preg_replace('/:\d+$/', '', $host));
    }
}

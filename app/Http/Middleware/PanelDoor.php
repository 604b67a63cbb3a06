<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Models\PairedPanel;
use App\Support\Problem;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * The door by which tablets come in over the network: who is paired gets their panel and a ticket, everybody else may
 * only take a code. nginx says which requests come by it.
 */
final class PanelDoor
{
    public const COOKIE = 'kite_panel';

    /** Attribute of a request with the tablet that makes it. */
    public const PANEL = 'panel';

    public function handle(Request $request, Closure $next): Response
    {
        if ($request->server('KITE_DOOR') !== 'panels') {
            return $next($request);
        }
        if ($request->is('api/touch/pair')) {
            return $next($request);
        }
        $panel = PairedPanel::ofToken((string) $request->cookies->get(self::COOKIE));
        if ($panel === null) {
            return Problem::response(new Problem(401, 'This tablet is not paired with a panel.'));
        }
        if (! $request->is('api/touch/panels', 'api/touch/panels/*', 'api/touch/here', 'api/live/tickets')) {
            return Problem::response(new Problem(403, 'A touch panel may not do this.'));
        }
        $request->attributes->set(self::PANEL, $panel);

        return $next($request);
    }
}

<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Show;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Routing\Reach;
use Core\Routing\Route;
use Core\Show\Routing;
use Core\Units\InvalidValue;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** What is done to the routes of a show: the core computes what changes. */
final readonly class ReachController
{
    private const ORDERS = ['name', 'take', 'reach', 'surfaces', 'lay', 'pane', 'fit', 'addLens', 'copyCamera'];

    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    public function order(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $text = $body->text(...);
        $document = $this->rows->document($show);
        $core = $document->show;
        $routing = new Routing($core, $document, Id::make(...));
        $route = $core->programme->routes[$text('route', '')] ?? null;
        $called = $route === null || $route->name === '' ? 'a route' : $route->name;
        $surfaces = static fn (): array => $body->texts('surfaces', Route::MAX_SURFACES);
        $made = null;
        switch ($text('action')) {
            case 'name':
                [$changes, $made] = $routing->name(
                    $text('name'),
                    self::reach($text('reach', 'skin')),
                    $body->has('surfaces') ? $surfaces() : [],
                    $body->has('layer') ? $text('layer') : null,
                );
                $name = 'Name the route '.$text('name');
                break;
            case 'take':
                [$name, $changes] = ["Take $called", $routing->take($text('route'), $body->texts('layers', 10_000))];
                break;
            case 'reach':
                [$name, $changes] = [
                    "Change the reach of $called",
                    $routing->reach($text('route'), self::reach($text('reach'))),
                ];
                break;
            case 'surfaces':
                [$name, $changes] = ["Change the surfaces of $called", $routing->surfaces($text('route'), $surfaces())];
                break;
            case 'lay':
                [$name, $changes] = ["Lay out $called", $routing->lay($text('route'), $text('how'))];
                break;
            case 'pane':
                [$name, $changes] = [
                    "Change the pane of $called",
                    $routing->pane(
                        $text('route'),
                        $body->whole('width', 0, Route::MAX_PANE),
                        $body->whole('height', 0, Route::MAX_PANE),
                    ),
                ];
                break;
            case 'fit':
                [$name, $changes] = [
                    'Fit '.($core->venue->surfaces[$text('surface')]->name ?? 'a surface'),
                    $routing->fit($text('route'), $text('surface'), $text('fitting')),
                ];
                break;
            case 'addLens':
                [$changes, $made] = $routing->addLens($text('route'));
                $name = "Add a lens to $called";
                break;
            case 'copyCamera':
                [$name, $changes] = [
                    'Copy '.($core->venue->cameras[$text('camera')]->name ?? 'a camera'),
                    $routing->copyCamera($text('lens'), $text('camera')),
                ];
                break;
            default:
                throw Problem::refused('action', 'Unknown action; there are '.implode(', ', self::ORDERS).'.');
        }

        return new JsonResponse(
            ...$this->editor->order($show, $request->attributes->get('person'), $name, $changes, $made),
        );
    }

    private static function reach(string $name): Reach
    {
        return Reach::tryFrom($name) ??
            throw InvalidValue::notOneOf('reach', $name, array_column(Reach::cases(), 'value'));
    }
}

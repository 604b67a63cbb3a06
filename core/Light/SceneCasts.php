<?php

declare(strict_types=1);

namespace Core\Light;

/**
 * Casts into a scene, which is made when the first of them is wanted. Not a value: it keeps the scene and the grids.
 */
final class SceneCasts implements Casts
{
    private ?Scene $scene = null;

    /** @var array<string, int> */
    private array $numbers = [];

    /** @var array<string, SampleGrid> */
    private array $grids = [];

    private float $done = 0.0;

    /**
     * @param  \Closure(): Scene  $make
     * @param  int  $cells  of each face, about
     * @param  int  $steps  casts that are expected, for the progress
     * @param  (\Closure(float): void)|null  $progress  told the share that is done; may throw to stop
     */
    public function __construct(
        private readonly \Closure $make,
        private readonly int $cells,
        private readonly int $columns,
        private readonly int $rows,
        private readonly int $steps = 1,
        private readonly ?\Closure $progress = null,
    ) {
    }

    public function scene(): Scene
    {
        if ($this->scene === null) {
            $this->scene = ($this->make)();
            $this->numbers = array_flip(array_column($this->scene->bodies, 'id'));
        }

        return $this->scene;
    }

    public function cells(Body $face): FaceCells
    {
        $grid = $this->grid($face);

        return new FaceCells(
            $grid->columns,
            $grid->rows,
            array_map(static fn (array $point): float => $point[12], $grid->points),
        );
    }

    public function arrival(Beam $beam, Body $face): Arrival
    {
        $scene = $this->scene();
        $arrival = Caster::arrival($scene, $this->numbers[$face->id], $this->grid($face), $beam, $this->tell(...));
        $this->done++;

        return $arrival;
    }

    public function walk(Beam $beam): BeamLanding
    {
        $walk = Caster::walk($this->scene(), $beam, $this->columns, $this->rows);
        $this->done++;
        $this->tell(0.0);

        return $walk;
    }

    private function grid(Body $face): SampleGrid
    {
        $scene = $this->scene();

        return $this->grids[$face->id] ??= SampleGrid::of($scene, $this->numbers[$face->id], $this->cells);
    }

    private function tell(float $share): void
    {
        $this->progress !== null && ($this->progress)(min(1.0, ($this->done + $share) / max(1, $this->steps)));
    }
}

<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Units\InvalidValue;

/**
 * Where everything stands, and what it rides on. A pose is local to its rig, and none of them is fixed: with() gives
 * the same venue with one of them elsewhere, and everything that rides on it comes along.
 */
final readonly class TransformTree
{
    /** The most rigs that may ride on one another. */
    public const DEEPEST = 32;

    /**
     * @param  array<string, Pose>  $poses  by id
     * @param  array<string, string>  $parents  rig by id, of those that ride on one
     */
    private function __construct(private array $poses, private array $parents)
    {
    }

    /**
     * @param  array<string, Pose>  $poses
     * @param  array<string, string|null>  $parents
     *
     * @throws InvalidValue naming parent, when rigs ride on one another in a ring, or more than DEEPEST deep
     */
    public static function of(array $poses, array $parents): self
    {
        $parents = array_filter($parents, static fn (?string $p): bool => $p !== null && isset($poses[$p]));
        foreach (array_keys($parents) as $id) {
            $at = $id;
            for ($depth = 0; isset($parents[$at]); $depth++) {
                $at = $parents[$at];
                if ($at === $id || $depth >= self::DEEPEST) {
                    throw InvalidValue::because(
                        'parent',
                        $at === $id
                            ? 'A rig can\'t be its own parent, nor a child of its own children.'
                            : 'Rigs ride on one another at most '.self::DEEPEST.' deep.',
                    );
                }
            }
        }

        return new self($poses, $parents);
    }

    public function with(string $id, Pose $pose): self
    {
        return new self([$id => $pose] + $this->poses, $this->parents);
    }

    public function has(string $id): bool
    {
        return isset($this->poses[$id]);
    }

    public function pose(string $id): Pose
    {
        return $this->poses[$id];
    }

    public function parent(string $id): ?string
    {
        return $this->parents[$id] ?? null;
    }

    /** From its own place to the venue. */
    public function world(string $id): Mat4
    {
        $matrix = $this->poses[$id]->matrix();
        for ($at = $this->parents[$id] ?? null; $at !== null; $at = $this->parents[$at] ?? null) {
            $matrix = $this->poses[$at]->matrix()->times($matrix);
        }

        return $matrix;
    }

    /** The pose that a thing has to be given on a rig (null: in the venue) to stand at a place of the venue. */
    public function local(Mat4 $world, ?string $rig): Pose
    {
        return Pose::fromMatrix($rig === null ? $world : $this->world($rig)->rigidInverse()->times($world));
    }

    /** The pose with which a thing stays where it is when it is put on a rig, or taken off (null). */
    public function moved(string $id, ?string $rig): Pose
    {
        for ($at = $rig; $at !== null; $at = $this->parents[$at] ?? null) {
            if ($at === $id) {
                throw InvalidValue::because(
                    'parent',
                    'A rig can\'t be its own parent, nor a child of its own children.',
                );
            }
        }

        return $this->local($this->world($id), $rig);
    }
}

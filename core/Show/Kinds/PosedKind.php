<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Show\Placed;
use Core\Units\InvalidValue;

/**
 * What all kinds have in common that stand in the venue: a pose, perhaps on a rig, and whether the studio hides or
 * locks them.
 */
trait PosedKind
{
    use Simple;

    private const POSE = ['position' => ['numbers', [0, 0, 0]], 'rotation' => ['numbers', [0, 0, 0]]];

    private const STANDING = ['rig' => ['id?', null], 'hidden' => ['boolean', false], 'locked' => ['boolean', false]];

    public function view(): string
    {
        return 'venue';
    }

    /** @param  array<string, mixed>  $row */
    private static function placed(array $row, object $thing): Placed
    {
        return new Placed(
            (string) ($row['id'] ?? ''),
            $thing,
            self::pose($row),
            isset($row['rig']) ? (string) $row['rig'] : null,
        );
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function pose(array $row): Pose
    {
        $p = array_map(floatval(...), array_values((array) $row['position']));
        $r = array_map(floatval(...), array_values((array) $row['rotation']));
        if (count($p) !== 3 || count($r) !== 3) {
            throw InvalidValue::because(
                count($p) === 3 ? 'rotation' : 'position',
                'A pose has three numbers of position and three of rotation.',
            );
        }

        return Pose::of(Vec3::of($p[0], $p[1], $p[2]), $r[0], $r[1], $r[2]);
    }
}

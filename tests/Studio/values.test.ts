import { expect, test } from 'vitest';
import { bytesOf, core } from '../../e2e/core';
import { ClockProbes } from '../../resources/js/live/clock';
import type { MapData } from '../../resources/js/live/messages';
import { Bundle, Plan } from '../../resources/js/live/plan';
import { Held, Slot, TransportMap } from '../../resources/js/live/values';

/** A number, two that may leave the range of 32 bits, a choice, a switch, and two colours of a gain. */
const PROPERTIES = ['opacity', 'x', 'y', 'blend', 'mute', 'gain', 'gain#2'];

test('values, frames and weights are what the core says, for thousands of generated moments', () => {
  const { bundle, moments } = core<{
    bundle: string;
    moments: {
      map: { p: [number, number, number][] };
      held: Record<string, { s: number; n: number; by: string; v: number[]; w: number[] }[]>;
      engine: number;
      show: number;
      layers: Record<string, number[]>;
    }[];
  }>(`
    use App\\Demo\\BigShow; use Core\\Plan\\PlanCompiler; use Core\\Playback\\{Head, Moment}; use Core\\Timeline\\TransportMap; use Core\\Values\\{HeldValue, Stratum, Track};
    mt_srand(99);
    $show = BigShow::of(4, 12, 90, 25)->core();
    $compiler = new PlanCompiler;
    $bytes = $compiler->compile($show, 3)->toBytes();
    $plan = Core\\Plan\\Plan::empty()->with(Core\\Plan\\Bundle::fromBytes($bytes));
    $line = array_key_first($show->programme->timelines);
    $layers = array_keys(array_column($show->programme->timelines[$line]->layers, null, 'id'));
    $moments = [];
    for ($i = 0; $i < 400; $i++) {
      $e = mt_rand(0, 10 ** 12);
      $s = mt_rand(0, 3700) * 14_112_000 * 50;
      $map = TransportMap::of([[$e - 50, $s, 0.0], [$e, $s, [1.0, 1.0, 0.5, -1.0, 2.0][mt_rand(0, 4)]], [$e + 10 * 705_600_000, $s + mt_rand(0, 10) * 705_600_000, 0.0]], mt_rand(0, 4) === 0 ? [$s, $s + 705_600_000] : null);
      $held = [];
      for ($k = mt_rand(0, 4); $k > 0; $k--) {
        $held["layer:{$layers[mt_rand(0, 11)]}/".['opacity', 'x', 'y', 'blend', 'mute', 'gain#2'][mt_rand(0, 5)]][] = HeldValue::of([Stratum::Cue, Stratum::Bound, Stratum::Loose][mt_rand(0, 2)], $k, 'x', Track::ramp(mt_rand(0, 9) / 10, $e, $e + mt_rand(0, 705_600_000), mt_rand(0, 9) / 10), Track::ramp(0, $e - 9, $e + mt_rand(0, 705_600_000), 1));
      }
      $engine = $e + mt_rand(-1000, 12 * 705_600_000);
      $moment = new Moment($plan, [Head::of($line, $map)], $held, $engine);
      $values = [];
      foreach ($layers as $layer) {
        $value = static fn (string $p): float => $moment->value("layer:$layer/$p", $moment->heads[0]);
        [$clip, $frame] = $moment->media($layer, $moment->heads[0]);
        $values[$layer] = [...array_map($value, ['opacity', 'x', 'y', 'blend', 'mute', 'gain', 'gain#2']), 1000 * $clip + $frame];
      }
      $moments[] = ['map' => $map->toArray(), 'held' => (object) array_map(static fn (array $l): array => array_map(static fn ($h): array => $h->toArray(), $l), $held), 'engine' => $engine, 'show' => $map->at($engine), 'layers' => $values];
    }
    echo json_encode(['bundle' => base64_encode($bytes), 'moments' => $moments], JSON_PRESERVE_ZERO_FRACTION);
  `);
  const plan = new Plan();
  plan.apply(Bundle.of(bytesOf(bundle)));
  const surfaces = plan.surfaces().map(([id]) => id);
  const contributions = new Map(surfaces.flatMap((s) => plan.contributions(s)).map((c) => [c.part.layer, c]));
  let asked = 0;
  const wrong: string[] = [];
  for (const moment of moments) {
    const show = new TransportMap(moment.map).at(moment.engine);
    if (show !== moment.show) wrong.push(`show time ${show} for ${moment.show}`);
    for (const [address, list] of Object.entries(moment.held)) plan.hold(address, Held.list(list));
    for (const [layer, values] of Object.entries(moment.layers)) {
      const up = values.pop();
      for (const [i, property] of PROPERTIES.entries()) {
        const value = values[i] ?? Number.NaN;
        const found = plan.slot(`layer:${layer}/${property}`).at(show, moment.engine);
        if (!(Math.abs(found - value) < 1e-6))
          wrong.push(`${layer} ${property} at ${moment.engine}: ${found} for ${value}`);
        asked++;
      }
      const media = contributions.get(layer)?.media?.at(show, plan.flicksPerFrame);
      if (1000 * (media?.clip ?? -1) + (media?.frame ?? 0) !== up)
        wrong.push(`${layer} shows another frame at ${moment.engine}`);
    }
    for (const address of Object.keys(moment.held)) plan.hold(address, null);
  }
  expect(wrong).toEqual([]);
  expect(asked).toBe(400 * 12 * PROPERTIES.length);
});

test('an engine that has run for years plays as one that has just begun', () => {
  const YEARS = 3 * 365 * 86_400 * 705_600_000;
  const asked = core<
    {
      map: { p: [number, number, number][] };
      held: { s: number; n: number; by: string; v: number[]; w: number[] }[];
      engine: number;
      show: number;
      value: number;
    }[]
  >(`
    use Core\\Timeline\\TransportMap; use Core\\Values\\{HeldValue, Stratum, Track};
    mt_srand(8);
    $out = [];
    for ($i = 0; $i < 500; $i++) {
      $e = ${YEARS} + mt_rand(0, 10 ** 12);
      $map = TransportMap::of([[$e, 705_600_000, [1.0, 0.5, -1.0][mt_rand(0, 2)]], [$e + 20 * 705_600_000, 0, 0.0]]);
      $held = HeldValue::of(Stratum::Loose, 1, 'x', Track::ramp(0, $e, $e + 705_600_000, 1), Track::ramp(0, $e, $e + 352_800_000, 1));
      $engine = $e + mt_rand(0, 25 * 705_600_000);
      $out[] = ['map' => $map->toArray(), 'held' => [$held->toArray()], 'engine' => $engine, 'show' => $map->at($engine), 'value' => $held->value->at($engine)];
    }
    echo json_encode($out, JSON_PRESERVE_ZERO_FRACTION);
  `);
  for (const { map, held, engine, show, value } of asked) {
    // Doubles know flicks after three years to within 16: 23 nanoseconds.
    expect(Math.abs(new TransportMap(map).at(engine) - show)).toBeLessThanOrEqual(32);
    const [one] = Held.list(held) ?? [];
    expect(Math.abs((one?.value.at(engine) ?? Number.NaN) - value)).toBeLessThan(1e-6);
    expect(one?.value.last()).toBe(1);
  }
  expect(asked).toHaveLength(500);
});

/** Where a media track of a bundle is not on the clip and at the frame that are expected at a time. */
function wrongFrames(tracks: string, expected: [number, number, number][]): string[] {
  const plan = new Plan();
  plan.apply(Bundle.of(bytesOf(tracks)));
  const media = plan.contributions('w')[0]?.media;
  const wrong: string[] = [];
  for (const [at, clip, frame] of expected) {
    const up = media?.at(at, 28_224_000);
    if (up?.clip !== clip || up?.frame !== frame) wrong.push(`${up?.clip} ${up?.frame} for ${clip} ${frame} at ${at}`);
  }
  return wrong;
}

test('frame numbers of a media track are the core’s, also backwards, in fractions and after years', () => {
  const { tracks, expected } = core<{ tracks: string; expected: [number, number, number][] }>(`
    use Core\\Timeline\\MediaTrack;
    mt_srand(5);
    $segments = [];
    for ($i = 0, $t = 0; $i < 60; $i++) {
      $t += mt_rand(1, 90) * 705_600_000;
      $segments[] = [$t, $t - mt_rand(0, 10 ** 9), mt_rand(0, 5) === 0 ? -1 : $i, mt_rand(0, 50), mt_rand(1, 400), mt_rand(0, 3), intdiv(705_600_000, [24, 25, 30, 60][mt_rand(0, 3)]), [1, -1][mt_rand(0, 1)] * mt_rand(1, 7), mt_rand(0, 100_000_000), 0];
    }
    $track = MediaTrack::of($segments);
    $out = [];
    for ($i = 0; $i < 4000; $i++) {
      $at = $i % 10 === 0 ? $t + mt_rand(0, 10 ** 9) * 100_000_0 : mt_rand(-705_600_000, $t + 705_600_000);
      $out[] = [$at, ...$track->at($at, 28_224_000)];
    }
    echo json_encode(['tracks' => base64_encode((new Core\\Plan\\Bundle('s', 1, ['layer:a' => ['timeline' => 't', 'order' => 0], 'timeline:t' => ['order' => 0], 'surface:w' => [], 'contribution:a@w' => ['layer' => 'a', 'surface' => 'w', 'clips' => []]], ['layer:a/media' => $track]))->toBytes()), 'expected' => $out]);
  `);
  expect(wrongFrames(tracks, expected)).toEqual([]);
  expect(expected.length).toBe(4000);
});

test('a clip whose speed moves shows the core’s frames, forwards, backwards and past its ends', () => {
  const { tracks, expected } = core<{ tracks: string; expected: [number, number, number][] }>(`
    use Core\\Timeline\\{Clip, MediaTrack, PastEnd};
    use Core\\Values\\{Curve, Interpolation, Keyframe, Property, TrackCompiler};
    mt_srand(8);
    [$s, $grid, $clips, $keys, $t] = [705_600_000, 28_224_000, [], [], 0];
    for ($i = 0; $i < 40; $i++) {
      $keys[] = Keyframe::of($t, mt_rand(-400, 400) / 100, Interpolation::cases()[mt_rand(0, 3)]);
      $clips[] = [Clip::of($t, $length = mt_rand(50, 300) * $grid, mt_rand(0, 40) * $grid, null, PastEnd::cases()[mt_rand(0, 3)], [1.0, 0.333, -1.5, 7.0][mt_rand(0, 3)]), intdiv($s, [24, 25, 30, 60][mt_rand(0, 3)]), $i % 9 === 0 ? 1 << 31 : mt_rand(2, 400)];
      $t += $length;
    }
    $track = MediaTrack::ofClips($clips, 0, (new TrackCompiler)->compile(Curve::of($keys), Property::factor('speed', 'Speed', -4, 4)), $grid);
    for ($n = -3; $n * $grid < $t; $n++) {
      $out[] = [$n * $grid + mt_rand(0, $grid - 1), ...$track->at($n * $grid, $grid)];
    }
    echo json_encode(['tracks' => base64_encode((new Core\\Plan\\Bundle('s', 1, ['layer:a' => ['timeline' => 't', 'order' => 0], 'timeline:t' => ['order' => 0], 'surface:w' => [], 'contribution:a@w' => ['layer' => 'a', 'surface' => 'w', 'clips' => []]], ['layer:a/media' => $track]))->toBytes()), 'expected' => $out]);
  `);
  expect(wrongFrames(tracks, expected)).toEqual([]);
  expect(new Set(expected.map(([, , frame]) => frame)).size).toBeGreaterThan(300);
});

test('what has a clock of its own shows the core’s frame, through jumps, holds, rates and loops', () => {
  const { tracks, moments } = core<{
    tracks: string;
    moments: { map: MapData; engine: number; up: [number, number] }[];
  }>(`
    use Core\\Timeline\\{Clip, MediaTrack, PastEnd, TransportMap};
    mt_srand(31);
    $s = 705_600_000;
    $clips = [];
    for ($i = 0, $t = 0; $i < 8; $i++) {
      $clips[] = [Clip::of($t, $length = mt_rand(4, 15) * $s, 0, null, [PastEnd::Loop, PastEnd::Bounce, PastEnd::Hold][mt_rand(0, 2)], [1.0, 0.333, -1.5, 2.0][mt_rand(0, 3)], ownClock: $i % 3 !== 2), intdiv($s, [24, 25, 30][mt_rand(0, 2)]), mt_rand(20, 400)];
      $t += $length;
    }
    $track = MediaTrack::ofClips($clips);
    $out = [];
    for ($k = 0; $k < 400; $k++) {
      $pieces = [];
      $e = $s * 1000 + mt_rand(0, $s);
      for ($i = mt_rand(1, 4); $i > 0; $i--) {
        $pieces[] = [$e, mt_rand(0, $t), [0.0, 1.0, 0.7, -0.3, 3.1][mt_rand(0, 4)]];
        $e += mt_rand(1, 20 * $s);
      }
      $loop = mt_rand(0, 2) === 0 ? [$a = mt_rand(0, intdiv($t, 2)), $a + mt_rand($s, 30 * $s)] : null;
      if ($loop !== null) {
        $pieces[count($pieces) - 1] = [$pieces[count($pieces) - 1][0], mt_rand(0, $loop[1] - 1), [1.0, 0.7, 3.1][mt_rand(0, 2)]];
      }
      $map = TransportMap::of($pieces);
      if ($loop !== null) {
        $last = array_pop($pieces);
        $map = TransportMap::of([$last], $loop);
        $map = $pieces === [] ? $map : TransportMap::of($pieces)->then($map);
      }
      $clip = $clips[mt_rand(0, 7)][0];
      $map = $map->clocked([[$clip->start, $clip->end(), $map->pieces[0][0] - mt_rand(0, 100 * $s)]]);
      for ($j = 0; $j < 8; $j++) {
        $engine = $map->pieces[0][0] + mt_rand(0, 60 * $s);
        $out[] = ['map' => $map->toArray(), 'engine' => $engine, 'up' => $track->at($map->at($engine), 28_224_000, static fn (int $from, int $to): int => max(0, $engine - $map->since($from, $to, $engine)))];
      }
    }
    echo json_encode(['tracks' => base64_encode((new Core\\Plan\\Bundle('s', 1, ['layer:a' => ['timeline' => 't', 'order' => 0], 'timeline:t' => ['order' => 0], 'surface:w' => [], 'contribution:a@w' => ['layer' => 'a', 'surface' => 'w', 'clips' => []]], ['layer:a/media' => $track]))->toBytes()), 'moments' => $out], JSON_PRESERVE_ZERO_FRACTION);
  `);
  const plan = new Plan();
  plan.apply(Bundle.of(bytesOf(tracks)));
  const media = plan.contributions('w')[0]?.media;
  const wrong: string[] = [];
  let alone = 0;
  for (const { map, engine, up } of moments) {
    const by = new TransportMap(map);
    const is = media?.at(by.at(engine), 28_224_000, by, engine);
    if (is?.clip !== up[0] || is?.frame !== up[1])
      wrong.push(`${is?.clip} ${is?.frame} for ${up} at ${engine} of ${JSON.stringify(map)}`);
    if (media?.runsAlone(by.at(engine))) alone++;
  }
  expect(wrong).toEqual([]);
  expect(alone).toBeGreaterThan(500);
  expect(plan.ownClocks().map((one) => one.timeline)).toEqual(['t']);
});

test('a bundle that takes away leaves values at rest, and what was looked up before goes along', () => {
  const [first, second] = core<string[]>(`
    use Core\\Plan\\Bundle; use Core\\Values\\Track;
    echo json_encode([base64_encode((new Bundle('s', 1, ['timeline:t' => ['order' => 0]], ['layer:a/opacity' => Track::constant(0.25), 'layer:a/x' => Track::ramp(0, 0, 705_600_000, 8)]))->toBytes()), base64_encode((new Bundle('s', 2, ['timeline:t' => null], ['layer:a/opacity' => null, 'layer:a/x' => Track::constant(5)]))->toBytes())]);
  `);
  const plan = new Plan();
  plan.apply(Bundle.of(bytesOf(first ?? '')));
  const [opacity, x] = [plan.slot('layer:a/opacity'), plan.slot('layer:a/x')];
  expect([opacity.at(0, 0), x.at(352_800_000, 0), plan.timeline('t') === undefined]).toEqual([0.25, 4, false]);
  plan.apply(Bundle.of(bytesOf(second ?? '')));
  expect([opacity.at(0, 0), x.at(352_800_000, 0), plan.timeline('t') === undefined, plan.revision]).toEqual([
    1,
    5,
    true,
    2,
  ]);
  expect(plan.slot('layer:a/scale').at(0, 0)).toBe(1);
  expect(new Slot(0.5).at(0, 0)).toBe(0.5);
});

test('the quickest probe of the engine’s clock is believed, and what is no reading is passed over', () => {
  const probes = new ClockProbes();
  const reading = (ms: number) => ({ t: ms * 705_600 });
  // The engine is 500 ms ahead: seen exactly when both ways take as long, 4 ms off when the way back takes 8 ms longer.
  expect(probes.take(1000, 1002, reading(1501))).toEqual({ trip: 2, offset: 500 });
  expect(probes.take(1100, 1110, reading(1601))).toEqual({ trip: 2, offset: 500 });
  for (const no of [
    null,
    undefined,
    'soon',
    {},
    { t: null },
    { t: '1' },
    { t: Number.NaN },
    { t: Number.POSITIVE_INFINITY },
    { type: 'about:blank', title: 'The engine does not answer', status: 503 },
  ])
    expect(probes.take(1200, 1201, no)).toBeNull();
  expect(probes.take(1300, 1304, reading(1806))).toEqual({ trip: 2, offset: 500 });
  expect(probes.settled).toBe(false);
  for (let i = 0; i < 14; i++) probes.take(2000 + i, 2003 + i, reading(2502 + i));
  expect(probes.settled).toBe(true);
  // Sixteen later the first is forgotten; a clock that jumped is believed at once.
  expect(probes.take(3000, 3003, reading(3502))?.trip).toBe(3);
  expect(probes.take(4000, 4008, reading(94_004))).toEqual({ trip: 8, offset: 90_000 });
});

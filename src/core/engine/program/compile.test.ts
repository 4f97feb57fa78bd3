import { ATTACK } from './strikeValues';
import fc from 'fast-check';
import { fullWindow, markAt, newLayer, newPatch, newSound, newZone } from '../../rig/defaults';
import type { Layer, Patch, Sample, Sound, Zone } from '../../rig/schema';
import { gainOfWindow } from '../../space/window';
import { compile } from './compile';
import { resolveStrikes } from '../offline/resolve';
import { make, on, off, cc, render, start, TONE, whole } from '../../../../tests/kit/engine';

const sample = (id: string, rate = 44100, frames = 44100): Sample => ({ id, name: id, rate, channels: 1, frames });
const compiled = (sounds: Sound[], layers: Partial<Layer>[], samples = [sample('w')], patch: Partial<Patch> = {}) =>
  compile(
    {
      ...newPatch('p', 'p'),
      layers: layers.map((layer, i) => ({ ...newLayer(`l${i}`, `l${i}`, sounds[0].id, markAt(i)), ...layer })),
      ...patch,
    },
    { sounds, samples, keyLow: 21, keyHigh: 108 },
  );
const range = (low: number, high: number) => ({ low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' as const });

describe('what zones share', () => {
  test('equal sets of values are one voicing; zones without values have the first', () => {
    const zones = [
      newZone('w', 60),
      { ...newZone('w', 61), params: { attack: 1 } },
      { ...newZone('w', 62), params: { attack: 1 } },
      { ...newZone('w', 63), params: { release: 2, attack: 1 } },
      { ...newZone('w', 64), params: { attack: 1, release: 2 } },
    ];
    const program = compiled([newSound('s', 'S', zones)], [{}, { params: { attack: 3 } }]);
    expect([...program.zones.voicing]).toEqual([0, 1, 1, 2, 2]);
    expect(program.layers[0].voicings.map(({ strikeRests }) => strikeRests[ATTACK])).toEqual([0.001, 1, 1]);
    // A layer that has an attack of its own keeps it.
    expect(program.layers[1].voicings.map(({ strikeRests }) => strikeRests[ATTACK])).toEqual([3, 3, 3]);
  });
  test('sources that only zones look at are there too', () => {
    const program = compiled(
      [newSound('s', 'S', [{ ...newZone('w', 60), windows: [{ ...fullWindow('cc.74'), low: 9 }] }])],
      [{}],
    );
    expect(program.sources.map(({ id }) => id)).toContain('cc.74');
    expect(program.zones.windowSets[program.zones.windowSet[0]].followed[0].source).toBe(
      program.sources.findIndex(({ id }) => id === 'cc.74'),
    );
  });
  test('the places of each sound’s zones are told', () => {
    const sounds = [
      newSound('s', 'S', [newZone('w', 1), newZone('w', 2)]),
      newSound('unused', 'U', [newZone('w', 5)]),
      newSound('t', 'T', [newZone('w', 3)]),
    ];
    expect(compiled(sounds, [{}, { soundId: 't' }]).sounds).toEqual([
      { soundId: 's', first: 0 },
      { soundId: 't', first: 2 },
    ]);
  });
});

describe('samples as they are needed', () => {
  const keys = (zone: Partial<Zone>, layer: Partial<Layer> = {}, patch: Partial<Patch> = {}) =>
    compiled([newSound('s', 'S', [{ ...newZone('w', 60), ...zone }])], [layer], [sample('w')], patch).samples.map(
      ({ key }) => key,
    );
  const loop = { start: 1000, end: 2000, crossfade: 0, until: 'end' as const };
  test('one copy up to five semitones above the root, the bend included, one more for each octave', () => {
    expect(keys({ key: range(0, 63) })).toEqual(['w']);
    expect(keys({ key: range(0, 64) })).toEqual(['w ×2']);
    expect(keys({ key: range(0, 80) })).toEqual(['w ×3']);
    expect(keys({ key: range(0, 127), pitchPerKey: 0 })).toEqual(['w']);
    expect(keys({ key: range(60, 60), params: { bendRange: 24 } })).toEqual(['w ×3']);
    // With −100 cents a key, low keys are the high ones.
    expect(keys({ key: range(40, 60), pitchPerKey: -100 })).toEqual(['w ×3']);
  });
  test('loops are laid down with their crossfade, turned round where the sample is', () => {
    expect(keys({ loop: { ...loop, crossfade: 200 } })).toEqual(['w loop 1000-2000~200 ×1']);
    expect(keys({ loop, reverse: true })).toEqual(['w reversed loop 42100-43100 ×1']);
    expect(keys({ loop, playback: 'full-length' })).toEqual(['w']);
    expect(keys({ loop: { ...loop, end: 90000 } })).toEqual(['w']);
  });
  test('loops that move, or end with the key, are made while they sound', () => {
    expect(keys({ loop: { ...loop, until: 'release' } })).toEqual(['w']);
    expect(keys({ loop }, { params: { loopPosition: 10 } })).toEqual(['w']);
    const route = {
      id: 'r',
      source: 'macro.1',
      target: 'layer.l0.loopLength',
      depth: 0.5,
      curve: 'linear' as const,
      polarity: 'as-is' as const,
      bound: false,
      counts: 'last' as const,
      on: true,
    };
    expect(keys({ loop }, {}, { routes: [route] })).toEqual(['w']);
    expect(keys({ loop }, {}, { routes: [{ ...route, on: false }] })).toEqual(['w loop 1000-2000 ×1']);
  });
});

/** Everything that sounds for a strike, worked out zone by zone from the definitions, without tables. */
function bruteForce(
  layers: readonly Layer[],
  sound: Sound,
  key: number,
  velocity: number,
  turns: Map<string, number>,
): string[] {
  const answers: string[] = [];
  layers.forEach((layer, l) => {
    const at = (source: string) => (source === 'key' ? key : velocity);
    const layerGain = layer.windows.reduce((gain, window) => gain * gainOfWindow(window, at(window.source)), 1);
    const soundKey = Math.min(127, Math.max(0, key + layer.transpose));
    const here = sound.zones
      .map((zone, z) => ({ zone, z }))
      .filter(
        ({ zone }) =>
          soundKey >= zone.key.low &&
          soundKey <= zone.key.high &&
          velocity >= zone.velocity.low &&
          velocity <= zone.velocity.high &&
          zone.trigger === 'attack',
      );
    const numbers = [...new Set(here.map(({ zone }) => zone.alternate).filter((n) => n !== null))].sort(
      (a, b) => a - b,
    );
    const inside = layer.windows.every(
      (window) =>
        at(window.source) >= window.low &&
        at(window.source) <= window.high &&
        (window.source !== 'key' || gainOfWindow(window, key) > 0),
    );
    let chosen: number | null = null;
    if (numbers.length > 0 && inside) {
      const place = `${l} ${here
        .filter(({ zone }) => zone.alternate !== null)
        .sort((a, b) => a.zone.alternate! - b.zone.alternate! || a.z - b.z)
        .map(({ z }) => z)
        .join(' ')}`;
      const turn = numbers.length > 1 ? (turns.get(place) ?? 0) % numbers.length : 0;
      turns.set(place, turn + 1);
      chosen = numbers[turn];
    }
    if (layerGain === 0) return;
    for (const { zone, z } of here) {
      if (zone.alternate !== null && zone.alternate !== chosen) continue;
      if (gainOfWindow({ ...zone.key }, soundKey) * gainOfWindow({ ...zone.velocity }, velocity) > 0)
        answers.push(`${l} ${z}`);
    }
  });
  return answers.sort();
}

test('the strike table answers like the definitions, zone by zone, for any zones, windows and alternates', () => {
  const edge = (least: number) =>
    fc
      .tuple(fc.integer({ min: least, max: 127 }), fc.integer({ min: least, max: 127 }), fc.nat(30))
      .map(([a, b, fade]) => ({
        low: Math.min(a, b),
        high: Math.max(a, b),
        fadeIn: Math.min(fade, Math.abs(a - b)),
        fadeOut: 0,
        shape: 'sine' as const,
      }));
  const zone = fc
    .record({
      key: edge(0),
      velocity: edge(1),
      alternate: fc.option(fc.nat(3)),
      trigger: fc.constantFrom('attack' as const, 'attack' as const, 'release' as const),
    })
    .map((values) => ({ ...newZone('w', 60), ...values }));
  const layer = fc.record({ key: edge(0), velocity: edge(1), transpose: fc.integer({ min: -24, max: 24 }) });
  const strikes = fc.array(fc.tuple(fc.integer({ min: 0, max: 127 }), fc.integer({ min: 1, max: 127 })), {
    minLength: 5,
    maxLength: 30,
  });
  fc.assert(
    fc.property(
      fc.array(zone, { maxLength: 14 }),
      fc.array(layer, { minLength: 1, maxLength: 3 }),
      strikes,
      (zones, shapes, keys) => {
        const sound = newSound('s', 'S', zones);
        const layers = shapes.map(({ key, velocity, transpose }, i) => ({
          ...newLayer(`l${i}`, '', 's', markAt(i)),
          transpose,
          windows: [
            { source: 'key', ...key, read: 'always' as const },
            { source: 'velocity', ...velocity, read: 'always' as const },
          ],
        }));
        const program = compiled([sound], layers);
        for (const [key, velocity] of keys) {
          // Each strike by itself, three times over: the turns of alternates included.
          const turns = new Map<string, number>();
          const expected = [0, 1, 2].map(() => bruteForce(layers, sound, key, velocity, turns));
          const got = resolveStrikes(program, key, velocity, { repeat: 3 }).map((answers) =>
            answers.map((answer) => `${answer.layer} ${answer.zone}`).sort(),
          );
          expect(got).toEqual(expected);
        }
      },
    ),
    { numRuns: 120 },
  );
});

describe('the same seed and events give the same bits', () => {
  const zones: Partial<Zone>[] = [
    { key: whole, alternate: 0 },
    { key: whole, alternate: 1, pan: 0.5 },
    { key: whole, alternate: 2, reverse: true },
    { key: whole, trigger: 'release', gain: -9 },
    {
      key: whole,
      loop: { start: 5000, end: 6200, crossfade: 90, until: 'release' },
      params: { attack: 0.05, cutoff: 900, lowCut: 90 },
    },
    { key: whole, windows: [{ ...fullWindow('random.8'), low: 0.5 }], choke: { group: 1, by: 1, fade: 'release' } },
  ];
  const setup = {
    audio: TONE,
    zones,
    alternation: 'shuffled' as const,
    layers: [{ params: { level: -18, loopPosition: 5 } }, { transpose: 7, params: { level: -20 } }],
  };
  const play = (block: number, seed: number) => {
    const engine = start({ ...setup, seed });
    const events = [
      [0, on(60, 90)],
      [700, on(64, 60)],
      [1801, cc(64, 127)],
      [2500, off(60)],
      [3333, on(60, 120)],
      [5001, cc(64, 0)],
      [6000, off(64)],
      [6000, on(50, 33)],
    ] as const;
    for (const [frame, event] of events) engine.handle(event, frame);
    const { left, right } = render(engine, 9600, block);
    return [...left, ...right];
  };
  test('however the output is cut', () => {
    const first = play(9600, 7);
    expect(first.some((x) => Math.abs(x) > 0.01)).toBe(true);
    expect(play(128, 7)).toEqual(first);
    expect(play(100, 7)).toEqual(first);
  });
  test('and another seed others', () => expect(play(128, 8)).not.toEqual(play(128, 7)));
});

test('zones that answered are remembered in order', () => {
  const { program } = make({});
  const engine = start({ zones: [{ key: range(0, 59) }, { key: range(60, 127) }] });
  engine.handle(on(70));
  engine.handle(on(20));
  engine.handle(on(71));
  expect(engine.readings.answerCount).toBe(3);
  expect([...engine.readings.answers.subarray(0, 3)]).toEqual([1, 0, 1]);
  expect(program.zones.count).toBe(1);
  // Places belong to a program: with the next one they are counted anew.
  engine.setProgram(program);
  expect(engine.readings.answerCount).toBe(0);
});

import { blendLayers, spreadOverPad } from '../rig/edits/moves';
import type { Audio } from '../dsp/sample';
import { prepare } from '../formats/prepare';
import { writeWav } from '../formats/wav';
import {
  fullWindow,
  markAt,
  newGroup,
  newLayer,
  newPatch,
  newRig,
  newRoute,
  newSetlist,
  newEntry,
  newSound,
  newZone,
} from '../rig/defaults';
import { faultOf } from '../rig/read';
import type { Layer, LayerWindow, Patch, Rig, Sound, Zone } from '../rig/schema';
import { checkPatch, mendAll, reasonOf, RULES, thresholdOf, ruleOf } from './index';
import { keyOfFinding } from './finding';
import { listen, measuredFrom } from './listen';
import type { Prepared } from '../dsp/prepared';
import type { SampleRequest } from '../engine/program/program';
import type { Heard, TakeHeard } from './heard';
import { levelShow } from './loudness';

/** Faults are planted in recordings and in how they are laid out; the engine plays, and the rules find them. */

const RATE = 48000;
const audios = new Map<string, Audio>();
/** A recording of `seconds`; `at` gives its samples by seconds. */
function record(id: string, at: (t: number, n: number) => number, seconds = 0.8, rate = RATE): string {
  audios.set(id, {
    rate,
    channels: 1,
    data: Float32Array.from({ length: Math.round(seconds * rate) }, (_, n) => at(n / rate, n)),
  });
  return id;
}
function recordStereo(id: string, left: (t: number) => number, right: (t: number) => number): string {
  const frames = Math.round(0.8 * RATE);
  const data = new Float32Array(2 * frames);
  for (let n = 0; n < frames; n++) {
    data[2 * n] = left(n / RATE);
    data[2 * n + 1] = right(n / RATE);
  }
  audios.set(id, { rate: RATE, channels: 2, data });
  return id;
}
const tone =
  (hz: number, level = 0.25) =>
  (t: number) =>
    level * Math.sin(2 * Math.PI * hz * t);
const hzOf = (key: number, cents = 0) => 440 * 2 ** ((key - 69 + cents / 100) / 12);
const noise = (() => {
  let x = 1;
  return () => {
    x = (x * 16807) % 2147483647;
    return x / 1073741824 - 1;
  };
})();

const over = (sampleId: string, root: number, low: number, high: number, more: Partial<Zone> = {}): Zone => ({
  ...newZone(sampleId, root),
  key: { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  ...more,
});
const velocities = (low: number, high: number): Zone['velocity'] => ({
  low,
  high,
  fadeIn: 0,
  fadeOut: 0,
  shape: 'sine',
});
const layerOf = (id: string, soundId: string, more: Partial<Layer> = {}): Layer => ({
  ...newLayer(id, id, soundId, markAt(0)),
  ...more,
});
const withParams = (layer: Layer, params: Layer['params']): Layer => ({ ...layer, params });
const rigOf = (patch: Partial<Patch>, sounds: readonly Sound[]): Rig => {
  const rig = newRig('r', 'R');
  const ids = new Set(sounds.flatMap(({ zones }) => zones.map(({ sampleId }) => sampleId)));
  return {
    ...rig,
    samples: [...ids].map((id) => {
      const audio = audios.get(id)!;
      return {
        id,
        name: `${id}.wav`,
        rate: audio.rate,
        channels: audio.channels,
        frames: audio.data.length / audio.channels,
      };
    }),
    sounds: [...sounds],
    patches: [{ ...newPatch('p', 'P'), ...patch }],
    controllers: { ...rig.controllers, keyLow: 48, keyHigh: 72 },
  };
};
/** One layer that plays one sound of these zones. */
const simple = (zones: readonly Zone[], params: Layer['params'] = { velocityToLevel: 0 }): Rig =>
  rigOf({ layers: [withParams(layerOf('a', 's'), params)] }, [newSound('s', 'S', [...zones])]);

const made = new Map<string, Prepared>();
function ready(request: SampleRequest): Prepared {
  if (!made.has(request.key))
    made.set(
      request.key,
      prepare(
        request,
        audios.has(request.sampleId) ? writeWav(audios.get(request.sampleId)!, { encoding: 'float32' }) : undefined,
      ),
    );
  return made.get(request.key)!;
}
/** The take costs most of the time: it is only played where a rule is about it. */
const TAKE = {
  seconds: 0.6,
  events: [{ at: 0, event: { type: 'noteOn' as const, channel: 1, key: 60, velocity: 100 } }],
};
const known = new Map<string, Heard>();
/** The same rig is listened to once. */
function hear(rig: Rig, take: Parameters<typeof listen>[0]['take'] = { seconds: 0, events: [] }): Heard {
  const name = JSON.stringify([rig, take]);
  if (!known.has(name)) known.set(name, listening(rig, take));
  return known.get(name)!;
}
const listening = (rig: Rig, take: Parameters<typeof listen>[0]['take']): Heard =>
  listen({
    rig,
    patch: rig.patches[0],
    clock: () => performance.now(),
    take,
    ...measuredFrom((id) => audios.get(id)),
    prepared: (request) => ready(request),
  });
const found = (rig: Rig, rule: string, heard = hear(rig), show?: ReadonlyMap<string, TakeHeard>) =>
  checkPatch(rig, rig.patches[0], { heard, show }).filter((finding) => finding.rule === rule);
/** The first edit of the first finding is taken: the rig stays sound, and what is heard then. */
function mended(rig: Rig, rule: string, at = 0) {
  const next = found(rig, rule)[0].fixes[at].edit(rig);
  expect(faultOf(next)).toBeUndefined();
  return found(next, rule);
}

const even = record('even', tone(hzOf(60)));
const plain = simple([over(even, 60, 48, 72)]);

test('a patch with nothing wrong has no finding that was measured, whatever is listened to', () => {
  const heard = hear(plain, TAKE);
  expect(checkPatch(plain, plain.patches[0], { heard }).filter(({ grade }) => grade !== 'taste')).toEqual([]);
  expect(heard.samples.even).toMatchObject({ clipped: 0, onset: expect.any(Number) as number, noiseDb: null });
  // A full-scale sine at 997 Hz is −3.01 LUFS for each of two channels (ITU-R BS.1770-4); here one of a quarter at
  // middle C, within the K-weighting's flat part.
  expect(heard.samples.even.lufs).toBeCloseTo(20 * Math.log10(0.25) - 3.7, 0);
  expect(heard.samples.even.hz).toBeCloseTo(261.63, 1);
});

describe('steps between neighbours', () => {
  const soft = record('soft', tone(hzOf(60), 0.1));
  const hard = record('hard', tone(hzOf(60), 0.4));
  const bright = record(
    'bright',
    (t) =>
      (0.08 * [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].reduce((sum, n) => sum + Math.sin(2 * Math.PI * n * hzOf(60) * t), 0)) /
      2,
  );
  test('a jump between dynamics is measured in LU, and the proposed edits take it away', () => {
    const rig = simple([
      over(soft, 60, 48, 72, { velocity: velocities(1, 79) }),
      over(hard, 60, 48, 72, { velocity: velocities(80, 127) }),
    ]);
    const [finding] = found(rig, 'level-step');
    expect(finding).toMatchObject({
      grade: 'measured',
      where: { layerIds: ['a'], velocities: [79, 80] },
      hear: { strikes: [{ velocity: 79 }, { velocity: 80 }] },
    });
    // 0.1 to 0.4 is 20 log 4 = 12.04 dB.
    expect(finding.message).toContain('jumps by 12 LU');
    expect(mended(rig, 'level-step', 0)).toEqual([]);
    expect(mended(rig, 'level-step', 1)).toEqual([]);
    expect(
      found(
        simple([
          over(soft, 60, 48, 72, { velocity: velocities(1, 79) }),
          over(hard, 60, 48, 72, { velocity: velocities(80, 127), gain: -11 }),
        ]),
        'level-step',
      ),
    ).toEqual([]);
  });
  test('dynamics that velocity makes softer once more are told, with what they lose; where the level is left alone, they are not', () => {
    const zones = [
      over(soft, 60, 48, 72, { velocity: velocities(1, 40) }),
      over(hard, 60, 48, 72, { velocity: velocities(41, 127) }),
    ];
    const twice = simple(zones, {});
    // At velocity 21, the middle of the softest: 40·log10(21/127) dB (SFZ v1, amp_veltrack 100) = −31.3.
    expect(found(twice, 'dynamics-twice')).toMatchObject([
      { grade: 'measured', message: expect.stringContaining('another 31.3 dB') as string },
    ]);
    expect(mended(twice, 'dynamics-twice')).toEqual([]);
    expect(found(simple(zones), 'dynamics-twice')).toEqual([]);
    expect(found(simple([zones[0], { ...zones[1], sampleId: soft }], {}), 'dynamics-twice')).toEqual([]);
  });
  test('a jump between keys, and between layers that give way to one another', () => {
    expect(found(simple([over(soft, 60, 48, 60), over(hard, 61, 61, 72)]), 'level-step')).toMatchObject([
      { where: { keys: [60, 61] } },
    ]);
    const layers = [
      layerOf('a', 's', {
        windows: [fullWindow('key'), { ...fullWindow('velocity'), high: 79 }],
        params: { velocityToLevel: 0 },
      }),
      layerOf('b', 't', {
        windows: [fullWindow('key'), { ...fullWindow('velocity'), low: 80 }],
        params: { velocityToLevel: 0 },
      }),
    ];
    const split = rigOf({ layers }, [
      newSound('s', 'S', [over(soft, 60, 48, 72)]),
      newSound('t', 'T', [over(hard, 60, 48, 72)]),
    ]);
    expect(found(split, 'level-step')).toMatchObject([{ where: { layerIds: ['a', 'b'], velocities: [79, 80] } }]);
    expect(mended(split, 'level-step')).toEqual([]);
    // A layer that comes in on top of another is meant to be louder.
    expect(
      found(rigOf({ layers: [layers[0], { ...layers[1] }, layerOf('c', 's')] }, split.sounds), 'level-step').every(
        ({ where }) => where.layerIds.length > 1,
      ),
    ).toBe(true);
  });
  test('a layer that meets one 30 dB softer at a split; instruments that differ a little are none', () => {
    const at = (levels: readonly [number, number]) => {
      const layers = [
        layerOf('a', 's', {
          windows: [{ ...fullWindow('key'), high: 59 }, fullWindow('velocity')],
          params: { velocityToLevel: 0, level: levels[0] },
        }),
        layerOf('b', 's', {
          windows: [{ ...fullWindow('key'), low: 60 }, fullWindow('velocity')],
          params: { velocityToLevel: 0, level: levels[1] },
        }),
      ];
      return rigOf({ layers }, [newSound('s', 'S', [over(hard, 60, 36, 84)])]);
    };
    expect(found(at([6, -24]), 'level-step')).toMatchObject([
      {
        grade: 'measured',
        where: { layerIds: ['a', 'b'], keys: [59, 60] },
        message: expect.stringContaining('where “a” and “b” meet') as string,
      },
    ]);
    expect(mended(at([0, -24]), 'level-step')).toEqual([]);
    expect(found(at([0, -6]), 'level-step')).toEqual([]);
  });
  test('a jump of colour is a step in tone; the same colour at another level is none', () => {
    const rig = simple([
      over(soft, 60, 48, 72, { velocity: velocities(1, 79) }),
      over(bright, 60, 48, 72, { velocity: velocities(80, 127) }),
    ]);
    expect(found(rig, 'tone-step')).toMatchObject([{ grade: 'measured', where: { velocities: [79, 80] } }]);
    expect(found(rig, 'tone-step')[0].message).toContain('brighter');
    expect(
      found(
        simple([
          over(soft, 60, 48, 72, { velocity: velocities(1, 79) }),
          over(hard, 60, 48, 72, { velocity: velocities(80, 127) }),
        ]),
        'tone-step',
      ),
    ).toEqual([]);
  });
  test('a harder strike that is softer is in the wrong order, and the two change places', () => {
    const rig = simple([
      over(hard, 60, 48, 72, { velocity: velocities(1, 79) }),
      over(soft, 60, 48, 72, { velocity: velocities(80, 127) }),
    ]);
    expect(found(rig, 'wrong-order')).toMatchObject([{ grade: 'measured', where: { velocities: [79, 80] } }]);
    expect(mended(rig, 'wrong-order')).toEqual([]);
    expect(
      found(
        simple([
          over(soft, 60, 48, 72, { velocity: velocities(1, 79) }),
          over(hard, 60, 48, 72, { velocity: velocities(80, 127) }),
        ]),
        'wrong-order',
      ),
    ).toEqual([]);
  });
});

describe('alternates', () => {
  const a = record('alt-a', tone(hzOf(60), 0.1));
  const b = record('alt-b', tone(hzOf(60, 3), 0.2));
  const turns = (ids: readonly string[], key = 60) =>
    ids.map((id, alternate) => over(id, key, key, key, { alternate }));
  test('of unequal level are measured and levelled; of the same audio are sure and removed', () => {
    const uneven = simple(turns([a, b]));
    expect(found(uneven, 'uneven-alternates')).toMatchObject([{ grade: 'measured', where: { zones: [0, 1] } }]);
    expect(mended(uneven, 'uneven-alternates')).toEqual([]);
    const same = simple(turns([a, a, b]));
    expect(found(same, 'same-alternates')).toMatchObject([{ grade: 'sure', where: { zones: [1] } }]);
    expect(mended(same, 'same-alternates')).toEqual([]);
    expect(found(uneven, 'same-alternates')).toEqual([]);
  });
  test('one key with fewer than its neighbours is a matter of taste', () => {
    const kit = (last: readonly string[]) =>
      simple([...[50, 51, 52].flatMap((key) => turns([a, b, a], key)), ...turns(last, 53)]);
    expect(found(kit([a, b]), 'unequal-counts')).toMatchObject([{ grade: 'taste', where: { keys: [53, 53] } }]);
    expect(found(kit([a, b, a]), 'unequal-counts')).toEqual([]);
  });
});

describe('recordings', () => {
  const at = (id: string, more: Partial<Zone> = {}) => simple([over(id, 60, 48, 72, more)]);
  test('an octave off its root, two conventions mixed, and the right root', () => {
    const octave = record('octave', tone(hzOf(72)));
    expect(found(at(octave), 'wrong-root')).toMatchObject([
      { grade: 'measured', message: expect.stringContaining('an octave above') as unknown },
    ]);
    expect(mended(at(octave), 'wrong-root')).toEqual([]);
    const mixed = simple([over(even, 60, 48, 64), over(octave, 60, 65, 72)]);
    expect(found(mixed, 'wrong-root')[0].message).toContain('two ways of naming octaves were mixed');
    expect(found(plain, 'wrong-root')).toEqual([]);
    // Drums are struck, not tuned.
    expect(
      found(
        {
          ...at(octave),
          patches: [{ ...at(octave).patches[0], layers: [{ ...at(octave).patches[0].layers[0], role: 'drums' }] }],
        },
        'wrong-root',
      ),
    ).toEqual([]);
  });
  test('20 cents sharp among others is out of tune, 3 cents is not', () => {
    const row = (cents: number) =>
      simple(
        [48, 54, 60, 66].map((key, n) =>
          over(record(`tune-${key}-${cents}`, tone(hzOf(key, n === 2 ? cents : 0))), key, key, key + 5),
        ),
      );
    expect(found(row(20), 'out-of-tune')).toMatchObject([{ where: { zones: [2], keys: [60, 60] } }]);
    expect(found(row(20), 'out-of-tune')[0].message).toMatch(/by (19\.\d|20(\.\d)?) cents/);
    expect(mended(row(20), 'out-of-tune')).toEqual([]);
    expect(found(row(3), 'out-of-tune')).toEqual([]);
  });
  test('silence before the strike is told in ms and cut off; a swell is none', () => {
    const late = record('late', (t) => (t < 0.05 ? 0 : tone(hzOf(60))(t)));
    expect(found(at(late), 'late-start')[0].message).toMatch(/at most (49\.\d|50(\.\d)?) ms/);
    expect(mended(at(late), 'late-start')).toEqual([]);
    expect(found(at(record('swell', (t) => Math.min(1, t / 0.4) * tone(hzOf(60))(t))), 'late-start')).toEqual([]);
    expect(found(at(late, { start: 2350 }), 'late-start')).toEqual([]);
  });
  test('off the middle, clipped, noisy', () => {
    expect(found(at(record('dc', (t) => 0.05 + tone(hzOf(60))(t))), 'dc')[0].message).toContain('5 % of full scale');
    expect(found(plain, 'dc')).toEqual([]);
    expect(
      found(at(record('cut', (t) => Math.max(-0.99, Math.min(0.99, tone(hzOf(60), 1.5)(t))))), 'clipped'),
    ).toHaveLength(1);
    expect(found(at(record('full', (t) => tone(hzOf(60), 0.95)(t))), 'clipped')).toEqual([]);
    const noisy = (level: number) =>
      at(record(`noisy-${level}`, (t) => Math.max(0, 1 - 1.6 * t) * tone(hzOf(60), 0.5)(t) + level * noise()));
    expect(found(noisy(0.01), 'noise')).toMatchObject([{ grade: 'measured' }]);
    expect(found(noisy(0.0002), 'noise')).toEqual([]);
  });
  test('a loop that jumps, one that buzzes at its own rate, and one of whole periods', () => {
    const period = RATE / 200;
    const wave = record('wave', tone(200));
    const loop = (start: number, end: number) =>
      at(wave, { root: 55, loop: { start, end, crossfade: 0, until: 'end' } });
    expect(found(loop(4800, 4800 + 50 * period), 'loop-click')).toEqual([]);
    expect(found(loop(4800, 4800 + 50 * period), 'loop-tone')).toEqual([]);
    expect(found(loop(4800, 4800 + 50.3 * period), 'loop-click')).toHaveLength(1);
    expect(mended(loop(4800, 4800 + 50.3 * period), 'loop-click')).toEqual([]);
    // 1000 frames at 48 kHz repeat 48 times a second (arithmetic), and 1000 frames of this wave are 4.17 periods.
    const [buzz] = found(loop(9000, 10000), 'loop-tone');
    expect(buzz.message).toContain('48 Hz');
    // A single period is the note itself.
    expect(found(loop(4800, 4800 + period), 'loop-tone')).toEqual([]);
  });
  test('a low rate, and the same audio twice in one place', () => {
    const dull = at(record('dull', tone(hzOf(60)), 0.8, 22050));
    expect(found(dull, 'dull-rate')[0].message).toContain('nothing above 11 kHz');
    expect(found(plain, 'dull-rate')).toEqual([]);
    const twice = simple([over(even, 60, 48, 72), over(even, 60, 60, 64)]);
    expect(found(twice, 'audio-twice')).toMatchObject([{ grade: 'sure', where: { zones: [1] } }]);
    expect(mended(twice, 'audio-twice')).toEqual([]);
    expect(found(simple([over(even, 60, 48, 59), over(even, 60, 60, 72)]), 'audio-twice')).toEqual([]);
  });
});

test('what is wrong with a sound is told once, however many layers play it, on the key that plays it', () => {
  const turns = ['alt-a', 'alt-a'].map((id, alternate) => over(id, 60, 60, 60, { alternate }));
  const rig = rigOf({ layers: [layerOf('a', 's', { transpose: -2 }), layerOf('b', 's')] }, [newSound('s', 'S', turns)]);
  // Two semitones down, the sample of key 60 is played by key 62.
  expect(found(rig, 'same-alternates')).toMatchObject([
    { where: { layerIds: ['a'], keys: [62, 62] }, hear: { strikes: [{ key: 62 }] } },
  ]);
});

describe('layers together', () => {
  const opposite = record('opposite', (t) => -tone(hzOf(60))(t));
  const other = record('other', tone(hzOf(60, 700)));
  const two = (second: string) =>
    rigOf({ layers: [layerOf('a', 's'), layerOf('b', 't')] }, [
      newSound('s', 'S', [over(even, 60, 48, 72)]),
      newSound('t', 'T', [over(second, 60, 48, 72)]),
    ]);
  test('opposites cancel, and are told apart by a detune; strangers do not', () => {
    expect(found(two(opposite), 'cancelling')).toMatchObject([{ grade: 'measured', where: { layerIds: ['a', 'b'] } }]);
    expect(mended(two(opposite), 'cancelling')).toEqual([]);
    expect(found(two(other), 'cancelling')).toEqual([]);
  });
  test('the same wave in two layers is said, with what it costs; strangers and opposites are not', () => {
    const [same] = found(two(even), 'same-wave');
    expect(same).toMatchObject({
      grade: 'measured',
      where: { layerIds: ['a', 'b'] },
      message: expect.stringContaining('6 dB louder') as string,
    });
    expect(mended(two(even), 'same-wave')).toEqual([]);
    expect(found(two(other), 'same-wave')).toEqual([]);
    expect(found(two(opposite), 'same-wave')).toEqual([]);
  });
  test('what is only the difference of both sides is gone in mono', () => {
    const sides = recordStereo('sides', tone(hzOf(60)), (t) => -0.9 * tone(hzOf(60))(t));
    const rig = simple([over(sides, 60, 48, 72)]);
    expect(found(rig, 'vanishes-in-mono')[0]).toMatchObject({ grade: 'measured', where: { layerIds: ['a'] } });
    expect(found(plain, 'vanishes-in-mono')).toEqual([]);
  });
  test('a straight crossfade of strangers dips by 3 dB in its middle, one of constant power does not; of the same sound it is the other way round', () => {
    const fading = (second: string, shape: 'linear' | 'sine') => {
      const window = (more: Partial<LayerWindow>): LayerWindow => ({ ...fullWindow('cc.1'), shape, ...more });
      const layer = (id: string, soundId: string, more: Partial<LayerWindow>) =>
        layerOf(id, soundId, { windows: [fullWindow('key'), fullWindow('velocity'), window(more)] });
      return rigOf({ layers: [layer('a', 's', { high: 127, fadeOut: 127 }), layer('b', 't', { fadeIn: 127 })] }, [
        newSound('s', 'S', [over(even, 60, 48, 72)]),
        newSound('t', 'T', [over(second, 60, 48, 72)]),
      ]);
    };
    const [dip] = found(fading(other, 'linear'), 'uneven-fade');
    // Two equal powers, each at half its amplitude: 10 log(2 · 0.25) = −3.01 dB (arithmetic).
    expect(dip.message).toMatch(/dips by (2\.[89]|3(\.[0-2])?) dB/);
    expect(mended(fading(other, 'linear'), 'uneven-fade')).toEqual([]);
    expect(found(fading(other, 'sine'), 'uneven-fade')).toEqual([]);
    const same = record('even-again', tone(hzOf(60)));
    expect(found(fading(same, 'sine'), 'uneven-fade')[0].message).toMatch(/swells by (2\.[89]|3(\.[0-2])?) dB/);
    expect(found(fading(same, 'linear'), 'uneven-fade')).toEqual([]);
  });
  test('so does a morph over an XY pad or a blend, between each of its neighbours', () => {
    const again = record('even-once-more', tone(hzOf(60)));
    const sounds = (second: string) => [
      newSound('s', 'S', [over(even, 60, 48, 72)]),
      newSound('t', 'T', [over(second, 60, 48, 72)]),
    ];
    for (const make of [spreadOverPad, blendLayers]) {
      const morphing = (second: string, shape: 'linear' | 'root'): Rig => {
        const plainLayers = rigOf({ layers: [layerOf('a', 's', {}), layerOf('b', 't', {})] }, sounds(second));
        const { patch } = make(plainLayers.patches[0], ['a', 'b'], 'Two Waters')!;
        const shaped = patch.layers.map((layer) => ({
          ...layer,
          windows: layer.windows.map((window) => (/^(xy|blend)/.test(window.source) ? { ...window, shape } : window)),
        }));
        return { ...plainLayers, patches: [{ ...patch, layers: shaped }] };
      };
      const [dip] = found(morphing(other, 'linear'), 'uneven-fade');
      expect(dip).toMatchObject({
        grade: 'measured',
        where: { layerIds: ['a', 'b'] },
        message: expect.stringMatching(/over “Two Waters” dips by (2\.[89]|3(\.[0-2])?) dB/) as unknown,
      });
      expect(mended(morphing(other, 'linear'), 'uneven-fade')).toEqual([]);
      expect(found(morphing(other, 'root'), 'uneven-fade')).toEqual([]);
      expect(found(morphing(again, 'root'), 'uneven-fade')[0].message).toMatch(/swells by (2\.[89]|3(\.[0-2])?) dB/);
      expect(mended(morphing(again, 'root'), 'uneven-fade')).toEqual([]);
    }
  });
  test('so does one between two dynamics of a sound', () => {
    const dynamics = (shape: 'linear' | 'sine') =>
      simple([
        over(even, 60, 48, 72, { velocity: { low: 1, high: 100, fadeIn: 0, fadeOut: 60, shape } }),
        over(other, 60, 48, 72, { velocity: { low: 40, high: 127, fadeIn: 60, fadeOut: 0, shape } }),
      ]);
    const [dip] = found(dynamics('linear'), 'uneven-fade');
    expect(dip).toMatchObject({
      grade: 'measured',
      where: { soundId: 's', zones: [0, 1] },
      message: expect.stringMatching(
        /^Between dynamics of “S” the crossfade over velocity dips by (2\.[89]|3(\.[0-2])?) dB/,
      ) as unknown,
    });
    expect(mended(dynamics('linear'), 'uneven-fade')).toEqual([]);
    expect(found(dynamics('sine'), 'uneven-fade')).toEqual([]);
  });
  test('ten fingers, and a take, that the limiter has to hold', () => {
    const loud = record('loud', tone(hzOf(60), 0.9));
    const rig = simple([over(loud, 60, 48, 72)]);
    expect(found(rig, 'ten-fingers')).toMatchObject([{ grade: 'measured', hear: { together: true } }]);
    expect(mended(rig, 'ten-fingers')).toEqual([]);
    expect(found(plain, 'ten-fingers')).toEqual([]);
    const hot = { ...rig, patches: [{ ...rig.patches[0], main: { ...rig.patches[0].main, level: 6 } }] };
    const [limited] = found(hot, 'limited-take', hear(hot, TAKE));
    expect(limited).toMatchObject({ grade: 'measured' });
    const lowered = limited.fixes[0].edit(hot);
    expect(found(lowered, 'limited-take', hear(lowered, TAKE))).toEqual([]);
    expect(found(plain, 'limited-take', hear(plain, TAKE))).toEqual([]);
  });
});

describe('keys', () => {
  test('an overlap of some keys at a split, with hard borders, is a matter of taste; a stack and a fade are none', () => {
    const split = (low: number, high: number, fade = 0) =>
      rigOf(
        {
          layers: [
            layerOf('a', 's', { windows: [{ ...fullWindow('key'), high, fadeOut: fade }, fullWindow('velocity')] }),
            layerOf('b', 's', { windows: [{ ...fullWindow('key'), low, fadeIn: fade }, fullWindow('velocity')] }),
          ],
        },
        [newSound('s', 'S', [over(even, 60, 0, 127)])],
      );
    expect(found(split(58, 60), 'overlap')).toMatchObject([{ grade: 'taste', where: { keys: [58, 60] } }]);
    expect(mended(split(58, 60), 'overlap', 0)).toEqual([]);
    expect(mended(split(58, 60), 'overlap', 1)).toEqual([]);
    expect(found(split(61, 60), 'overlap')).toEqual([]);
    expect(found(split(58, 62, 4), 'overlap')).toEqual([]);
    expect(found(split(10, 120), 'overlap')).toEqual([]);
  });
  test('keys that two ranges share by mistake, and velocities that none has', () => {
    const rows = (second: number) => simple([over(even, 60, 48, 60), over(even, 61, second, 72)]);
    expect(found(rows(59), 'doubled-keys')).toMatchObject([{ grade: 'sure', where: { keys: [59, 60] } }]);
    expect(mended(rows(59), 'doubled-keys')).toEqual([]);
    expect(found(rows(61), 'doubled-keys')).toEqual([]);
    const dynamics = (low: number) =>
      simple([
        over(even, 60, 48, 72, { velocity: velocities(1, 60) }),
        over(even, 60, 48, 72, { velocity: velocities(low, 127) }),
      ]);
    expect(found(dynamics(70), 'velocity-gap')).toMatchObject([{ grade: 'sure', where: { velocities: [61, 69] } }]);
    expect(mended(dynamics(70), 'velocity-gap')).toEqual([]);
    expect(found(dynamics(61), 'velocity-gap')).toEqual([]);
  });
  test('a transposition that loses keys, and zones that no window reaches', () => {
    const moved = (transpose: number) =>
      rigOf({ layers: [layerOf('a', 's', { transpose })] }, [newSound('s', 'S', [over(even, 60, 48, 72)])]);
    expect(found(moved(12), 'out-of-reach')).toMatchObject([{ grade: 'sure', where: { keys: [61, 72] } }]);
    expect(mended(moved(12), 'out-of-reach')).toEqual([]);
    expect(found(moved(0), 'out-of-reach')).toEqual([]);
    const behind = rigOf(
      { layers: [layerOf('a', 's', { windows: [{ ...fullWindow('key'), high: 60 }, fullWindow('velocity')] })] },
      [newSound('s', 'S', [over(even, 60, 48, 60), over(even, 61, 61, 72)])],
    );
    expect(found(behind, 'silent-zones')).toMatchObject([{ grade: 'taste', where: { zones: [1] } }]);
    expect(mended(behind, 'silent-zones')).toEqual([]);
    expect(found(plain, 'silent-zones')).toEqual([]);
  });
});

describe('hands', () => {
  const sound = newSound('s', 'S', [over(even, 60, 0, 127)]);
  const bind = (control: string, target: string, channel = 0) => ({
    control,
    channel,
    port: 'any',
    coding: 'absolute' as const,
    target,
  });
  const withControllers = (rig: Rig, more: Partial<Rig['controllers']>): Rig => ({
    ...rig,
    controllers: { ...rig.controllers, ...more },
  });
  test('the bend of a lead on the chords of the other hand', () => {
    const split = (bend: boolean) => {
      const low = layerOf('low', 's', { windows: [{ ...fullWindow('key'), high: 60 }, fullWindow('velocity')] });
      return rigOf(
        {
          layers: [
            { ...low, receive: { ...low.receive, bend } },
            layerOf('lead', 's', {
              windows: [{ ...fullWindow('key'), low: 61 }, fullWindow('velocity')],
              path: { ...low.path, playing: 'mono' },
            }),
          ],
        },
        [sound],
      );
    };
    expect(found(split(true), 'bend-on-keys')).toMatchObject([
      { grade: 'taste', where: { layerIds: ['low', 'lead'] } },
    ]);
    expect(mended(split(true), 'bend-on-keys')).toEqual([]);
    expect(found(split(false), 'bend-on-keys')).toEqual([]);
  });
  test('a take that leaves expression at nothing', () => {
    const take = (value: number) =>
      rigOf(
        {
          layers: [layerOf('a', 's')],
          takes: [
            {
              id: 't',
              name: 'T',
              quarters: 4,
              tempo: 120,
              parts: [
                { id: 'q', name: 'hands', plays: 'patch', on: true, level: 0, notes: [], moves: [[1, 'cc.11', value]] },
              ],
            },
          ],
        },
        [sound],
      );
    expect(found(take(0), 'left-at-zero')).toMatchObject([{ grade: 'sure' }]);
    expect(mended(take(0), 'left-at-zero')).toEqual([]);
    expect(found(take(90), 'left-at-zero')).toEqual([]);
    expect(
      found(
        withControllers(take(0), { pedals: [{ controller: 11, inverted: false, kind: 'continuous' }] }),
        'left-at-zero',
      ),
    ).toEqual([]);
  });
  test('a controller that was not learned, and a channel that nothing sends', () => {
    const routed = withControllers(
      rigOf({ layers: [layerOf('a', 's')], routes: [newRoute('x', 'cc.30', 'layer.a.cutoff', 0.2)] }, [sound]),
      { bindings: [bind('cc.20', 'macro.1')] },
    );
    expect(found(routed, 'no-such-control')).toMatchObject([{ grade: 'taste', where: { layerIds: ['a'] } }]);
    expect(found(withControllers(routed, { bindings: [bind('cc.30', 'macro.1')] }), 'no-such-control')).toEqual([]);
    const layer = layerOf('a', 's');
    const far = withControllers(
      rigOf({ layers: [{ ...layer, receive: { ...layer.receive, channel: '5' as never } }] }, [sound]),
      { bindings: [bind('cc.20', 'macro.1', 1)] },
    );
    const numbered = {
      ...far,
      patches: [{ ...far.patches[0], layers: [{ ...layer, receive: { ...layer.receive, channel: 5 as never } }] }],
    };
    expect(found(numbered, 'strange-channel')).toMatchObject([{ grade: 'taste' }]);
    expect(mended(numbered, 'strange-channel')).toEqual([]);
    expect(
      found(
        withControllers(rigOf({ layers: [layer] }, [sound]), { bindings: [bind('cc.20', 'macro.1', 1)] }),
        'strange-channel',
      ),
    ).toEqual([]);
  });
  test('a knob that jumps after a change of patch', () => {
    const macro = (value: number) => [{ number: 1, name: 'Swell', value, style: 'strip' as const }];
    const show = (value: number, takeover: Rig['controllers']['takeover']): Rig => {
      const rig = rigOf(
        {
          layers: [layerOf('a', 's')],
          macros: macro(value),
          routes: [newRoute('x', 'macro.1', 'layer.a.cutoff', 0.2)],
        },
        [sound],
      );
      return withControllers(
        {
          ...rig,
          patches: [rig.patches[0], { ...rig.patches[0], id: 'q', name: 'Q', macros: macro(0.9) }],
          setlists: [newSetlist('show', 'Show', [newEntry('e', 'patch', ['q']), newEntry('f', 'patch', ['p'])])],
          setlist: 'show',
        },
        { takeover, bindings: [bind('cc.20', 'macro.1')] },
      );
    };
    expect(found(show(0.1, 'jump'), 'takeover-jump')).toMatchObject([{ grade: 'taste', where: { macro: 1 } }]);
    expect(mended(show(0.1, 'jump'), 'takeover-jump')).toEqual([]);
    expect(found(show(0.8, 'jump'), 'takeover-jump')).toEqual([]);
    expect(found(show(0.1, 'pick-up'), 'takeover-jump')).toEqual([]);
  });
});

describe('the show', () => {
  const take = (lufs: number): TakeHeard => ({ lufs, peakDb: -6, limiterDb: 0, monoDb: 0, switchMs: 1 });
  const three = {
    ...plain,
    patches: ['p', 'q', 'r'].map((id) => ({ ...plain.patches[0], id, name: id.toUpperCase() })),
  };
  const show = new Map([
    ['p', take(-17)],
    ['q', take(-21)],
    ['r', take(-21.4)],
  ]);
  test('a patch that is louder than the middle of the show is told, brought down, and the whole setlist levelled in one step', () => {
    const [finding] = found(three, 'unequal-loudness', hear(three), show);
    expect(finding).toMatchObject({
      grade: 'measured',
      message: '“P” is 4 LU louder than the middle of the show on its take.',
    });
    expect(finding.fixes[0].edit(three).patches.map(({ main }) => main.level)).toEqual([-4, 0, 0]);
    expect(levelShow(three, show, 0.1).patches.map(({ main }) => main.level)).toEqual([-4, 0, 0.4]);
    expect(found(three, 'unequal-loudness', hear(three), new Map([...show, ['p', take(-20.5)]]))).toEqual([]);
    // Of two there is no middle.
    expect(
      found(
        three,
        'unequal-loudness',
        hear(three),
        new Map([
          ['p', take(-10)],
          ['q', take(-21)],
        ]),
      ),
    ).toEqual([]);
  });
  test('what is missing, a slow change, and a heavy chord', () => {
    const heard = hear(plain);
    expect(
      checkPatch(plain, plain.patches[0], { heard, missing: new Set(['even']) }).filter(
        ({ rule }) => rule === 'missing-samples',
      ),
    ).toMatchObject([{ grade: 'sure', where: { soundId: 's', zones: [0] } }]);
    expect(found(plain, 'missing-samples')).toEqual([]);
    expect(found(plain, 'slow-switch', { ...heard, take: { ...take(-20), switchMs: 80 } })).toHaveLength(1);
    expect(found(plain, 'slow-switch', { ...heard, take: take(-20) })).toEqual([]);
    expect(found(plain, 'heavy-chord', { ...heard, chord: { ...heard.chord!, load: 0.9, steady: true } })).toHaveLength(
      1,
    );
    // What another measurement did not confirm is not told.
    expect(found(plain, 'heavy-chord', { ...heard, chord: { ...heard.chord!, load: 1.85, steady: false } })).toEqual(
      [],
    );
    expect(found(plain, 'heavy-chord', { ...heard, chord: { ...heard.chord!, load: 0.3, steady: true } })).toEqual([]);
  });
});

test('thresholds are those of the rig where it has any, findings set aside keep their reason, and all that is safe is mended at once', () => {
  const rig = simple([
    over(even, 60, 48, 60),
    over(even, 61, 59, 72),
    over(
      record('late-2', (t) => (t < 0.05 ? 0 : tone(hzOf(60))(t))),
      60,
      48,
      72,
      { velocity: velocities(1, 1) },
    ),
  ]);
  const heard = hear(rig);
  const all = checkPatch(rig, rig.patches[0], { heard });
  expect(all.map(({ rule }) => rule)).toEqual(expect.arrayContaining(['doubled-keys', 'late-start']));
  const after = mendAll(rig, 'p', { heard });
  expect(after.mended).toBeGreaterThanOrEqual(2);
  expect(faultOf(after.rig)).toBeUndefined();
  expect(
    checkPatch(after.rig, after.rig.patches[0], { heard: hear(after.rig) }).filter(
      ({ grade, fixes }) => grade !== 'taste' && fixes[0]?.safe,
    ),
  ).toEqual([]);
  // Set aside, it is left alone.
  const late = all.find(({ rule }) => rule === 'late-start')!;
  const aside: Rig = {
    ...rig,
    checks: { ...rig.checks, aside: [{ finding: keyOfFinding(late), reason: 'it is meant to lag' }] },
  };
  expect(reasonOf(aside, late)).toBe('it is meant to lag');
  expect(mendAll(aside, 'p', { heard }).mended).toBe(after.mended - 1);
  const patient: Rig = { ...rig, checks: { ...rig.checks, thresholds: { 'late-start.ms': 100 } } };
  expect(faultOf(patient)).toBeUndefined();
  expect(thresholdOf(patient, ruleOf('late-start'), 'ms')).toBe(100);
  expect(found(patient, 'late-start')).toEqual([]);
});

test('a pad group, a list of rules with help, and thresholds with their sources', () => {
  expect(newGroup('g', 'G', markAt(0)).windows).toEqual([]);
  for (const rule of RULES) {
    expect(rule.help.split(' ').length).toBeGreaterThan(15);
    for (const threshold of Object.values(rule.thresholds ?? {}))
      expect(threshold.value >= threshold.low && threshold.value <= threshold.high && threshold.source.length > 5).toBe(
        true,
      );
  }
});

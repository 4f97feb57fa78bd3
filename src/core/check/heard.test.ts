import { fullWindow, newSound } from '../rig/defaults';
import type { Zone } from '../rig/schema';
import { checkPatch } from './index';
import {
  RATE,
  record,
  tone,
  hzOf,
  over,
  velocities,
  layerOf,
  rigOf,
  simple,
  TAKE,
  hear,
  found,
  mended,
  even,
  plain,
} from '../../../tests/kit/heard';

const noise = (() => {
  let x = 1;
  return () => {
    x = (x * 16807) % 2147483647;
    return x / 1073741824 - 1;
  };
})();

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

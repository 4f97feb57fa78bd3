/**
 * What a stage asks of the engine: more notes than voices, mutes and pedals over changes, notes that end once, ends
 * that hold.
 */
import { prepareSample, type Audio } from '../dsp/sample';
import { fullWindow, newLayer, newPatch, newSound, newZone, markAt } from '../rig/defaults';
import type { Layer, Zone } from '../rig/schema';
import { compile } from './program/compile';
import { Engine } from './engine';
import { cc, largest, levelAfter, make, off, on, RATE, render, start, TONE, whole } from '../../../tests/kit/engine';

describe('more notes than voices', () => {
  const few = { maxVoices: 8, layers: [{ params: { level: -30 } }] };
  test('a chord of many zones sounds with as many voices as there are, none of which it takes from itself', () => {
    const engine = start({ ...few, maxVoices: 40, zones: Array.from({ length: 40 }, () => ({ key: whole })) });
    engine.handle(on(40));
    render(engine, 4800);
    engine.handle(on(60));
    render(engine, 4800);
    expect(engine.voiceCount).toBe(40);
    const greedy = start({ ...few, zones: Array.from({ length: 12 }, () => ({ key: whole })) });
    greedy.handle(on(60));
    render(greedy, 480);
    expect(greedy.voiceCount).toBe(8);
  });
  test('with slow attacks new notes do not end one another: the oldest go', () => {
    const engine = start({ ...few, layers: [{ params: { level: -30, attack: 2 } }] });
    for (let key = 40; key < 56; key++) {
      engine.handle(on(key));
      render(engine, 2400);
    }
    // The eight newest are there: letting them go ends everything.
    for (let key = 48; key < 56; key++) engine.handle(off(key));
    render(engine, RATE);
    expect(engine.voiceCount).toBe(0);
  });
  test('what is let go or held by the pedal goes before what fingers hold, however loud', () => {
    const engine = start({ ...few, maxVoices: 3, layers: [{ params: { level: -30, release: 5 } }] });
    engine.handle(cc(64, 127));
    for (const event of [on(50, 127), off(50), on(60, 20), on(64, 20), on(67, 20)]) engine.handle(event);
    render(engine, 4800);
    for (const key of [60, 64, 67]) engine.handle(off(key));
    engine.handle(cc(64, 0));
    expect(engine.voiceCount).toBe(3);
    expect(levelAfter(engine, 0.01)).toBeLessThan(0.01);
  });
  test('a strike that is silent takes nobody’s place and chokes nobody', () => {
    const shut = { windows: [fullWindow('key'), fullWindow('velocity'), { ...fullWindow('cc.1'), low: 64 }] };
    const quiet = { ...few, maxVoices: 2, layers: [{ params: { level: -20 } }, shut] };
    const engine = start(quiet);
    for (const key of [60, 62]) {
      engine.handle(on(key));
      render(engine, 2400);
    }
    engine.handle(cc(1, 127));
    // Layer 1 had no voice to spare while it was shut.
    expect(levelAfter(engine, 0.2)).toBeCloseTo(0.2, 3);
    const edge = (low: number, high: number, fadeIn: number) => ({ ...whole, low, high, fadeIn });
    const choking = start({
      zones: [
        { key: whole, choke: { group: null, by: 1, fade: 'fast' } },
        { key: edge(62, 127, 10), choke: { group: 1, by: null, fade: 'fast' } },
      ],
      layers: [{ params: { level: -20 } }],
    });
    choking.handle(on(50));
    render(choking, 4800);
    choking.handle(on(62));
    expect(levelAfter(choking, 0.1)).toBeCloseTo(0.2, 3);
  });
});

describe('over a change of patch', () => {
  const other = { ...make({ audio: TONE }).program, patchId: 'other' };
  test.each([
    ['muted', [{ on: false }, { params: { level: -20 } }], []],
    ['left out by a solo', [{}, { params: { level: -20 } }], ['l1']],
  ] as const)('what was %s stays silent', (_, layers, solo) => {
    const engine = start({ layers: layers as unknown as Partial<Layer>[] });
    engine.handle({ type: 'solo', layerIds: [...solo] });
    engine.handle(on());
    expect(levelAfter(engine, 0.2)).toBeCloseTo(0.1, 3);
    engine.setProgram(other);
    const { left } = render(engine, RATE / 2);
    expect(largest(left) * Math.SQRT2).toBeLessThan(0.11);
    expect(left[left.length - 1] * Math.SQRT2).toBeCloseTo(0.1, 3);
  });
});

describe('release zones sound when a note of their layer ends, once', () => {
  const zones: Partial<Zone>[] = [
    { key: whole, params: { release: 0.005 } },
    { key: whole, trigger: 'release' },
  ];
  const setup = { zones, layers: [{ params: { level: -20 } }] };
  const heard = (engine: Engine) => {
    const level = levelAfter(engine, 0.1);
    return Math.round(level / 0.1);
  };
  test.each([
    ['after panic', [{ type: 'panic' as const }]],
    ['after CC 120', [cc(120, 0)]],
  ])('not %s', (_, events) => {
    const engine = start(setup);
    engine.handle(on());
    render(engine, 4800);
    for (const event of events) engine.handle(event);
    engine.handle(off());
    expect(heard(engine)).toBe(0);
  });
  const other = { ...make({ audio: TONE }).program, patchId: 'other' };
  test.each([
    ['that still sounds', {}],
    ['that has died away', { end: 2400 }],
  ])('also after a change of patch, for a key that is held with a note %s', (_, cut) => {
    const engine = start({ ...setup, zones: [{ ...zones[0], ...cut }, zones[1]] });
    engine.handle(on());
    render(engine, 9600);
    engine.setProgram(other);
    render(engine, 9600);
    engine.handle(off());
    expect(heard(engine)).toBe(1);
    // Once, and the old patch is gone when its release has ended.
    engine.handle(off());
    expect(heard(engine)).toBe(1);
    render(engine, RATE * 10);
    expect(engine.ringingCount).toBe(0);
  });
  test('also after a change of patch when the pedal comes up', () => {
    const engine = start(setup);
    engine.handle(on());
    engine.handle(cc(64, 127));
    render(engine, 4800);
    engine.setProgram(other);
    engine.handle(off());
    expect(heard(engine)).toBe(1);
    engine.handle(cc(64, 0));
    render(engine, 4800);
    // The note has ended, and its release sounds.
    expect(heard(engine)).toBe(1);
    engine.handle({ type: 'panic' });
    expect(heard(engine)).toBe(0);
  });
  test('not for a note-off that comes twice, and not for one without a note', () => {
    const engine = start(setup);
    engine.handle(off(50));
    engine.handle(on());
    render(engine, 4800);
    for (const event of [off(), off(), off()]) engine.handle(event);
    expect(heard(engine)).toBe(1);
  });
  test('in the patch that was there when the key went down, though another came since', () => {
    const engine = start(setup);
    engine.handle(on());
    render(engine, 4800);
    engine.setProgram({ ...make(setup).program, patchId: 'other' });
    engine.handle(off());
    expect(heard(engine)).toBe(1);
  });
  test('after an edit under the pedal, once the pedal comes up', () => {
    const engine = start(setup);
    for (const event of [cc(64, 127), on()]) engine.handle(event);
    render(engine, 4800);
    engine.handle(off());
    engine.setProgram(make({ ...setup, layers: [{ params: { level: -20, pan: 0.001 } }] }).program);
    expect(heard(engine)).toBe(1);
    engine.handle(cc(64, 0));
    expect(heard(engine)).toBe(1);
    expect(engine.voiceCount).toBe(1);
  });
  test('not at key-up while sostenuto holds the note, but when it lets go', () => {
    const engine = start(setup);
    engine.handle(on());
    engine.handle(cc(66, 127));
    render(engine, 4800);
    engine.handle(off());
    render(engine, 4800);
    expect(engine.voiceCount).toBe(1);
    engine.handle(cc(66, 0));
    render(engine, 4800);
    expect(engine.voiceCount).toBe(1);
    expect(heard(engine)).toBe(1);
  });
  // MIDI 1.0 Detailed Specification, channel mode messages: 123 and the changes of mode 124 to 127 end the notes of
  // their channel.
  test.each([123, 124, 125, 126, 127])('CC %i ends notes, with their release zones', (controller) => {
    const engine = start(setup);
    engine.handle(on());
    engine.handle(on(62, 127, 2));
    render(engine, 4800);
    engine.handle(cc(controller, 0));
    expect(heard(engine)).toBe(2);
    engine.handle(off());
    expect(heard(engine)).toBe(2);
  });
});

test('a window that is read at the strike holds for the note, one that is followed goes on', () => {
  const level = (read: 'always' | 'at-strike') => {
    const engine = start({
      zones: [{ key: whole, windows: [{ ...fullWindow('cc.1'), high: 63, read }] }],
      layers: [
        { params: { level: -20 } },
        {
          params: { level: -20 },
          windows: [fullWindow('key'), fullWindow('velocity'), { ...fullWindow('cc.2'), high: 10, read }],
        },
      ],
    });
    engine.handle(on());
    render(engine, 4800);
    engine.handle(cc(1, 100));
    engine.handle(cc(2, 100));
    const held = levelAfter(engine, 0.2);
    engine.handle(on(62));
    return [held, levelAfter(engine, 0.2)].map((x) => Math.round(x * 10));
  };
  expect(level('at-strike')).toEqual([2, 2]);
  expect(level('always')).toEqual([0, 0]);
});
test('poly pressure opens its window while the note is held', () => {
  const engine = start({
    layers: [{ windows: [fullWindow('key'), fullWindow('velocity'), { ...fullWindow('pressure'), low: 64 }] }],
  });
  engine.handle(on());
  expect(levelAfter(engine, 0.1)).toBe(0);
  engine.handle({ type: 'keyPressure', channel: 1, key: 60, pressure: 100 });
  expect(levelAfter(engine, 0.2)).toBeCloseTo(0.99, 1);
});

test('a lone alternate of two turns plays every second strike', () => {
  const engine = start({ zones: [{ key: whole, alternate: 1, turns: 2 }], layers: [{ params: { level: -20 } }] });
  const counts = [60, 60, 60, 60].map((key) => {
    engine.handle(on(key));
    render(engine, 480);
    return engine.voiceCount;
  });
  expect(counts).toEqual([0, 1, 1, 2]);
});

test('a zone’s end holds where its loop reaches past it', () => {
  const steps: Audio = {
    rate: RATE,
    channels: 1,
    data: Float32Array.from({ length: 9600 }, (_, i) => (i < 4800 ? 0.25 : 0.75)),
  };
  for (const until of ['end', 'release'] as const) {
    const engine = start({
      audio: steps,
      zones: [{ key: whole, end: 4000, loop: { start: 1000, end: 9000, crossfade: 0, until } }],
    });
    engine.handle(on());
    const { left } = render(engine, RATE);
    expect(largest(left)).toBeLessThan(0.2);
    expect(left[left.length - 1] * Math.SQRT2).toBeCloseTo(0.25, 3);
    const beyond = start({
      audio: steps,
      zones: [{ key: whole, end: 4000, loop: { start: 5000, end: 9000, crossfade: 0, until } }],
    });
    beyond.handle(on());
    render(beyond, RATE);
    expect(beyond.voiceCount).toBe(0);
  }
});

describe('aliases', () => {
  /**
   * Energy of a sine of the recording that must not be heard, after it was read too fast: what folds back below 18 kHz.
   */
  const folded = (levelRate: number, semitones: number, depth: number) => {
    const audio: Audio = {
      rate: 48000,
      channels: 1,
      data: Float32Array.from({ length: 48000 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 17000 * i) / 48000)),
    };
    const layer: Layer = { ...newLayer('l', 'L', 's', markAt(0)), params: { tune: semitones } };
    const patch = {
      ...newPatch('p', 'P'),
      layers: [layer],
      routes:
        depth === 0
          ? []
          : [
              {
                id: 'r',
                source: 'cc.1',
                target: 'layer.l.tune',
                depth,
                curve: 'linear' as const,
                polarity: 'as-is' as const,
                bound: false,
                counts: 'last' as const,
                on: true,
              },
            ],
    };
    const program = compile(patch, {
      sounds: [newSound('s', 'S', [{ ...newZone('w', 60), key: whole }])],
      samples: [{ id: 'w', name: 'w', rate: 48000, channels: 1, frames: 48000 }],
      keyLow: 21,
      keyHigh: 108,
      rate: levelRate,
    });
    const engine = new Engine({ rate: levelRate });
    for (const { key, loop, levels, reverse } of program.samples)
      engine.addSample(key, prepareSample(audio, loop, levels, reverse));
    engine.setProgram(program);
    engine.handle(cc(1, 127));
    engine.handle(on());
    const { left } = render(engine, 12000);
    return 20 * Math.log10(Math.max(...left.subarray(4000, 12000)) / (0.5 * Math.SQRT1_2) + 1e-9);
  };
  test('a route that tunes up has the copies of the sample it can reach', () =>
    expect(folded(48000, 0, 0.5)).toBeLessThan(-60));
  test('a low output rate has them too', () => expect(folded(16000, 0, 0)).toBeLessThan(-60));
  test('so has a transposition beyond the last key', () => {
    const { samples } = make({ layers: [{ transpose: 24 }], zones: [{ key: whole, root: 127 }] }).program;
    expect(samples[0].levels).toBeGreaterThanOrEqual(3);
  });
});

test('held notes go on with what was changed, without a new strike', () => {
  const engine = start({ layers: [{ params: { attack: 0.2, level: -20 } }] });
  engine.handle(on(60));
  engine.handle(on(64));
  const before = levelAfter(engine, 0.5);
  engine.handle({ type: 'restrike', layerId: 'l0', goesOn: true });
  // Equal parts of old and new while one fades and the other comes in: no rise from nothing, no peak.
  const { left } = render(engine, Math.round(0.05 * RATE));
  const levels = [...left].map((x) => (x * Math.SQRT2) / before);
  expect(Math.min(...levels)).toBeGreaterThan(0.97);
  expect(Math.max(...levels)).toBeLessThan(1.03);
  engine.handle(off(60));
  engine.handle(off(64));
  render(engine, RATE);
  expect(engine.voiceCount).toBe(0);
});

test('held notes begin again in one layer alone', () => {
  const engine = start({ layers: [{ params: { attack: 0.2, level: -20 } }, { params: { level: -20 } }] });
  engine.handle(on(60));
  engine.handle(on(64));
  render(engine, RATE / 2);
  const births = () =>
    [...Array(2).keys()].map(
      (l) => engine.sounding!.layers[l].voices.subarray(0, engine.sounding!.layers[l].voiceCount).length,
    );
  const before = levelAfter(engine, 0.01);
  engine.handle({ type: 'restrike', layerId: 'l0' });
  // One layer rises anew from nothing, the other goes on.
  expect(levelAfter(engine, 0.03) / before).toBeLessThan(0.7);
  expect(levelAfter(engine, 0.4) / before).toBeCloseTo(1, 2);
  expect(births()).toEqual([2, 2]);
  engine.handle(off(60));
  engine.handle(off(64));
  render(engine, RATE);
  expect(engine.voiceCount).toBe(0);
});

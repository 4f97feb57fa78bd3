import { fullWindow, newLayer, markAt } from '../rig/defaults';
import type { Zone } from '../rig/schema';
import { resolveStrikes } from './offline/resolve';
import { cc, levelAfter, make, off, on, RATE, render, start, TONE, whole, type Setup } from '../../../tests/kit/engine';

/** What zones bring of their own: values, windows, triggers, choke groups, pitch and loops. */
const heard = (setup: Setup, key = 60, velocity = 100, options = {}) =>
  resolveStrikes(make(setup).program, key, velocity, options).map((answers) => answers.map((answer) => answer.zone));

describe('alternates', () => {
  const alternate = (n: number, low: number, high: number): Partial<Zone> => ({
    key: whole,
    alternate: n,
    velocity: { ...whole, low, high },
  });
  test('whose velocities differ take turns where they meet', () => {
    const zones = [alternate(0, 1, 64), alternate(1, 1, 127), alternate(2, 60, 127)];
    expect(heard({ zones }, 60, 30, { repeat: 4 })).toEqual([[0], [1], [0], [1]]);
    expect(heard({ zones }, 60, 62, { repeat: 4 })).toEqual([[0], [1], [2], [0]]);
    expect(heard({ zones }, 60, 100, { repeat: 3 })).toEqual([[1], [2], [1]]);
  });
  test('with equal numbers sound together', () => {
    const zones = [alternate(1, 1, 127), alternate(2, 1, 127), alternate(1, 1, 127), alternate(2, 1, 127)];
    expect(heard({ zones }, 60, 90, { repeat: 3 })).toEqual([
      [0, 2],
      [1, 3],
      [0, 2],
    ]);
  });
  test('one that is alone always sounds, whatever its number', () =>
    expect(heard({ zones: [alternate(7, 1, 127)] }, 60, 90, { repeat: 2 })).toEqual([[0], [0]]));
});

describe('values of its own', () => {
  test('hold where the layer leaves its own at the default', () => {
    const zones: Partial<Zone>[] = [{ key: whole, params: { velocityToLevel: 0, bendRange: 12 } }];
    const db = (layers: Setup['layers']) => resolveStrikes(make({ zones, layers }).program, 60, 64)[0][0].touchDb;
    expect(db([{}])).toBe(0);
    expect(db([{ params: { velocityToLevel: 50 } }])).toBeCloseTo(-5.95, 2);
    const bent = resolveStrikes(make({ zones }).program, 60, 64, { set: new Map([['bend', 1]]) });
    expect(bent[0][0].semitones).toBe(12);
  });
  test('an envelope and a filter of its own are heard', () => {
    const slow = start({ zones: [{ key: whole, params: { attack: 1 } }] });
    slow.handle(on());
    expect(levelAfter(slow, 0.5)).toBeCloseTo(0.5, 1);
    const dull = start({ audio: TONE, zones: [{ key: whole, params: { cutoff: 48 } }] });
    dull.handle(on());
    const { left } = render(dull, RATE / 2);
    // 480 Hz stands a decade above the cutoff of a second-order low-pass: 40 dB down from 0.5 / √2.
    expect(20 * Math.log10(Math.max(...left.subarray(RATE / 4)) / (0.5 * Math.SQRT1_2))).toBeCloseTo(-40, 0);
  });
  test('a held note follows an edit of its layer', () => {
    const engine = start({ zones: [{ key: whole, params: { sustain: -6, decay: 0.01 } }] });
    engine.handle(on());
    expect(levelAfter(engine, 0.3)).toBeCloseTo(0.501, 2);
    engine.setProgram(
      make({ zones: [{ key: whole, params: { sustain: -6, decay: 0.01 } }], layers: [{ params: { level: -12 } }] })
        .program,
    );
    expect(levelAfter(engine, 0.3)).toBeCloseTo(0.501 * 0.251, 2);
  });
});

test('windows on controllers and chance decide, and a controller is followed while the note sounds', () => {
  const zones: Partial<Zone>[] = [
    { key: whole, windows: [{ ...fullWindow('cc.1'), high: 63 }] },
    { key: whole, windows: [{ ...fullWindow('cc.1'), low: 64, fadeIn: 63, shape: 'linear' }] },
    { key: whole, windows: [{ ...fullWindow('random.8'), high: 0.25 }] },
  ];
  expect(heard({ zones: zones.slice(0, 2) }, 60, 100)).toEqual([[0]]);
  expect(heard({ zones: zones.slice(0, 2) }, 60, 100, { set: new Map([['cc.1', 127]]) })).toEqual([[1]]);
  const chance = heard({ zones: [zones[2]] }, 60, 100, { repeat: 4000 }).filter((answers) => answers.length > 0).length;
  expect(chance / 4000).toBeCloseTo(0.25, 1);
  const engine = start({ zones: [zones[1]] });
  engine.handle(cc(1, 127));
  engine.handle(on());
  expect(levelAfter(engine, 0.2)).toBeCloseTo(1, 2);
  engine.handle(cc(1, 64 + 21));
  expect(levelAfter(engine, 0.2)).toBeCloseTo(1 / 3, 2);
});

test('a zone that does not follow the keys always plays at its own pitch', () => {
  const semitones = (pitchPerKey: number) =>
    resolveStrikes(make({ zones: [{ key: whole, pitchPerKey }] }).program, 84, 100)[0][0].semitones;
  expect([semitones(100), semitones(0), semitones(50), semitones(-100)]).toEqual([24, 0, 12, -24]);
});

describe('release triggers', () => {
  const zones: Partial<Zone>[] = [
    { key: whole, params: { release: 0.005 } },
    { key: whole, trigger: 'release', gain: -6.0206 },
  ];
  test('sound when the key is let go, at the velocity of the strike', () => {
    const engine = start({ zones });
    engine.handle(on(60, 64));
    expect(levelAfter(engine, 0.1)).toBeCloseTo((64 / 127) ** 2, 3);
    engine.handle(off());
    expect(levelAfter(engine, 0.1)).toBeCloseTo((64 / 127) ** 2 / 2, 3);
  });
  test('wait for the pedal of the layers that hear it', () => {
    const deaf = { ...newLayer('', '', '', markAt(0)).receive, sustain: false };
    const engine = start({ zones, layers: [{}, { receive: deaf, transpose: 12, params: { level: -20 } }] });
    engine.handle(cc(64, 127));
    engine.handle(on());
    render(engine, 4800);
    engine.handle(off());
    expect(levelAfter(engine, 0.1)).toBeCloseTo(1 + 0.05, 2);
    engine.handle(cc(64, 0));
    expect(levelAfter(engine, 0.1)).toBeCloseTo(0.5 + 0.05, 2);
    engine.handle(cc(64, 127));
    engine.handle(cc(64, 0));
    expect(engine.voiceCount).toBe(2);
  });
});

describe('choke groups', () => {
  const half = (low: number, high: number) => ({ ...whole, low, high });
  const pair = (fade: 'fast' | 'release'): Partial<Zone>[] => [
    { key: half(0, 59), choke: { group: 1, by: null, fade } },
    { key: half(60, 127), choke: { group: 2, by: 1, fade }, playback: 'full-length', params: { release: 2 } },
  ];
  test('a strike of the group ends the other at once, and not the other way round', () => {
    const engine = start({ zones: pair('fast'), layers: [{ params: { level: -20 } }] });
    engine.handle(on(70));
    render(engine, 4800);
    engine.handle(on(50));
    expect(levelAfter(engine, 0.05)).toBeCloseTo(0.1, 3);
    expect(engine.voiceCount).toBe(1);
    engine.handle(on(70));
    render(engine, 4800);
    expect(engine.voiceCount).toBe(2);
  });
  test('or with its release; zones of one strike do not end each other', () => {
    const engine = start({ zones: pair('release') });
    engine.handle(on(70));
    render(engine, 4800);
    engine.handle(on(50));
    render(engine, 4800);
    expect(engine.voiceCount).toBe(2);
    const self = start({
      zones: [
        { key: whole, choke: { group: 1, by: 1, fade: 'fast' } },
        { key: whole, choke: { group: 1, by: 1, fade: 'fast' } },
      ],
    });
    self.handle(on(60));
    render(self, 4800);
    expect(self.voiceCount).toBe(2);
    self.handle(on(62));
    render(self, 4800);
    expect(self.voiceCount).toBe(2);
  });
});

describe('loops', () => {
  const ramp = {
    rate: RATE,
    channels: 1 as const,
    data: Float32Array.from({ length: RATE }, (_, i) => 0.4 + (0.4 * i) / RATE),
  };
  test('one that lasts while the key is held gives way to the rest of the sample', () => {
    const engine = start({
      audio: ramp,
      zones: [
        { key: whole, loop: { start: 10000, end: 12000, crossfade: 0, until: 'release' }, params: { release: 20 } },
      ],
    });
    engine.handle(on());
    expect(levelAfter(engine, 2)).toBeLessThan(0.51);
    engine.handle(off());
    expect(levelAfter(engine, 0.6)).toBeGreaterThan(0.55);
    render(engine, RATE);
    expect(engine.voiceCount).toBe(0);
  });
  // Arithmetic: a loop of 1000 frames at 44.1 kHz repeats 44.1 times a second.
  test('of 1000 frames at 44.1 kHz sounds at 44.1 Hz', () => {
    const noise = {
      rate: 44100,
      channels: 1 as const,
      data: Float32Array.from({ length: 44100 }, (_, i) => 0.3 * Math.sin(i * i * 0.37)),
    };
    for (const moved of [false, true]) {
      const engine = start({
        audio: noise,
        layers: [{ params: moved ? { loopPosition: 20 } : {} }],
        zones: [{ key: whole, loop: { start: 5000, end: 6000, crossfade: 100, until: 'end' } }],
      });
      engine.handle(on());
      const { left } = render(engine, RATE * 2);
      const likeness = (lag: number) => {
        let both = 0,
          power = 0;
        for (let i = RATE; i < RATE + 20000; i++) {
          both += left[i] * left[i + lag];
          power += left[i] ** 2;
        }
        return both / power;
      };
      const period = RATE / 44.1;
      expect(likeness(Math.round(period))).toBeGreaterThan(0.75);
      expect(likeness(Math.round(period * 0.5))).toBeLessThan(0.4);
    }
  });
  test('one that a macro sweeps through a sample moves without a click', () => {
    const slow = {
      rate: RATE,
      channels: 1 as const,
      data: Float32Array.from(
        { length: RATE * 2 },
        (_, i) => 0.6 * Math.sin((2 * Math.PI * 110 * i) / RATE) * (1 - i / (RATE * 4)),
      ),
    };
    const patch = {
      macros: [{ number: 1, name: 'sweep', value: 0, style: 'strip' as const }],
      routes: [
        {
          id: 'r',
          source: 'macro.1',
          target: 'layer.l0.loopPosition',
          depth: 0.4,
          curve: 'linear' as const,
          polarity: 'as-is' as const,
          bound: false,
          counts: 'last' as const,
          on: true,
        },
      ],
    };
    const engine = start({
      audio: slow,
      patch,
      zones: [{ key: whole, loop: { start: 2000, end: 3000, crossfade: 0, until: 'end' } }],
    });
    engine.handle(on());
    let largest = 0;
    let last = 0;
    for (let step = 0; step < 100; step++) {
      engine.handle({ type: 'macro', number: 1, value: step / 100 });
      const { left } = render(engine, 960);
      for (const x of left) {
        largest = Math.max(largest, Math.abs(x - last));
        last = x;
      }
    }
    // Steepest slope of the tone itself, and a little for the crossfades; a jump between two of its phases would be up
    // to 0.8.
    expect(largest).toBeLessThan(0.02);
    expect(engine.voiceCount).toBe(1);
  });
  test('of one frame is one steady value, at any pitch and with any crossfade', () => {
    for (const moved of [0, 10]) {
      for (const transpose of [0, 24]) {
        const engine = start({
          audio: ramp,
          layers: [{ transpose, params: { loopPosition: moved, level: -6 } }],
          zones: [{ key: whole, loop: { start: 10000, end: 10001, crossfade: 5, until: 'end' } }],
        });
        engine.handle(on());
        const { left } = render(engine, RATE);
        const tail = left.subarray(RATE / 2);
        expect(tail.every((x) => Number.isFinite(x))).toBe(true);
        expect(Math.max(...tail) - Math.min(...tail)).toBeLessThan(0.01);
      }
    }
  });
  test('a full-length zone ends although its sample has a loop', () => {
    const engine = start({
      audio: ramp,
      zones: [{ key: whole, playback: 'full-length', loop: { start: 100, end: 400, crossfade: 0, until: 'end' } }],
    });
    engine.handle(on());
    render(engine, RATE * 1.1);
    expect(engine.voiceCount).toBe(0);
  });
  test('lies where the recording has it, also turned round', () => {
    const engine = start({
      audio: ramp,
      zones: [{ key: whole, reverse: true, loop: { start: 40000, end: 41000, crossfade: 0, until: 'end' } }],
    });
    engine.handle(on());
    expect(levelAfter(engine, 2)).toBeCloseTo(0.4 + 0.4 * (40500 / RATE), 1);
  });
});

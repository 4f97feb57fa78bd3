import { markAt, newLayer } from '../rig/defaults';
import type { Patch } from '../rig/schema';
import type { Engine } from './engine';
import {
  cc,
  largestStep,
  levelAfter,
  make,
  off,
  on,
  RATE,
  render,
  start,
  TONE,
  type Setup,
} from '../../../tests/kit/engine';
import { db, mover, pad, pitches, route, withAnchor } from '../../../tests/kit/moves';

describe('the same bits', () => {
  const patch: Partial<Patch> = {
    xyPads: [pad({ motion: 'wander' })],
    movers: [
      mover('lfo'),
      mover('envelope'),
      mover('wander', { number: 2, reach: 'note' }),
      mover('hold'),
      mover('follower', { follows: 'l0' }),
    ],
    routes: [
      route('lfo.1', 'layer.l0.cutoff', 0.2),
      route('envelope.1', 'layer.l0.pan', 0.3),
      route('wander.2', 'layer.l0.tune', 0.02),
      route('hold.1', 'layer.l1.level', 0.1),
      route('follower.1', 'layer.l1.level', -0.1),
      route('scatter.1', 'layer.l0.start', 0.2),
    ],
  };
  const setup: Setup = { audio: TONE, layers: [withAnchor(1), withAnchor(2)], patch };
  const play = (block: number, seed = 1): Float32Array => {
    const engine = start({ ...setup, seed });
    engine.handle(on(60, 90), 100);
    engine.handle(on(64, 70), 5003);
    engine.handle(off(60), 14000);
    return render(engine, 32 * 750, block).left;
  };
  test('however the output is cut', () => {
    const once = play(32 * 750);
    for (const block of [1, 128, 441]) expect(play(block)).toEqual(once);
  });
  test('of the same seed, not of another', () => {
    expect(play(128, 5)).toEqual(play(128, 5));
    expect(play(128, 5)).not.toEqual(play(128, 6));
  });
});

describe('an edit while movers run', () => {
  test('they go on where they are; a held note stays', () => {
    const patch: Partial<Patch> = {
      movers: [mover('lfo', { clock: 'hz', begins: 'never', params: { rate: 0.7 } })],
      routes: [route('lfo.1', 'layer.l0.level', 0.1)],
    };
    const plain = start({ layers: [{ params: { level: -20 } }], patch });
    const edited = start({ layers: [{ params: { level: -20 } }], patch });
    for (const engine of [plain, edited]) engine.handle(on());
    render(plain, 24000);
    render(edited, 24000);
    edited.setProgram(
      make({
        layers: [{ params: { level: -20 } }],
        patch: { ...patch, movers: [mover('wander', { number: 9 }), ...patch.movers!] },
      }).program,
    );
    const a = render(plain, 48000).left;
    const b = render(edited, 48000).left;
    expect(a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0)).toBeLessThan(1e-4);
  });
});

describe('a patch that rings out', () => {
  const moving: Partial<Patch> = {
    movers: [mover('lfo', { clock: 'hz', begins: 'never', params: { rate: 3 } })],
    routes: [route('lfo.1', 'layer.l0.level', 0.15), route('cc.1', 'layer.l0.level', -0.5)],
  };
  test('goes on moving, deaf to the wheel, and its keys and pedals still end it', () => {
    const engine = start({ layers: [{ params: { level: -20 } }], patch: moving });
    const alone = start({ layers: [{ params: { level: -20 } }], patch: moving });
    for (const each of [engine, alone]) {
      each.handle(cc(64, 127));
      each.handle(on());
      each.handle(off());
      render(each, 12000);
    }
    engine.setProgram({ ...make({}).program, patchId: 'other' });
    engine.handle(cc(1, 127));
    const a = render(engine, 48000).left;
    const b = render(alone, 48000).left;
    expect(a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0)).toBeLessThan(1e-6);
    expect(engine.ringingCount).toBe(1);
    engine.handle(cc(64, 0));
    render(engine, RATE);
    expect(engine.ringingCount).toBe(0);
    expect(engine.voiceCount).toBe(0);
  });
  test('at most four do; the oldest of five is let go', () => {
    const engine = start();
    for (let i = 0; i < 6; i++) {
      engine.handle(on(40 + i));
      render(engine, 480);
      engine.setProgram({ ...make({}).program, patchId: `p${i}` });
    }
    render(engine, 3 * RATE);
    expect(engine.ringingCount).toBe(4);
    for (let i = 0; i < 6; i++) engine.handle(off(40 + i));
    render(engine, RATE);
    expect(engine.voiceCount).toBe(0);
  });
  test('1 000 changes in a row under a held chord: no step beyond what the sound has, no note that stays', () => {
    // So slow that all that sound at once step less by themselves than one voice that would be cut within a tick.
    const low = {
      rate: RATE,
      channels: 1 as const,
      data: Float32Array.from({ length: RATE * 10 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 4 * i) / RATE)),
    };
    const setup: Setup = { audio: low, layers: [{ params: { level: -40, release: 0.3 } }], patch: moving };
    const engine = start(setup);
    const programs = [0, 1, 2].map((n) => ({ ...make(setup).program, patchId: `p${n}` }));
    let seed = 9;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    let step = 0;
    let before = 0;
    let most = 0;
    for (let i = 0; i < 1000; i++) {
      engine.handle(on(48 + (i % 16), 100));
      if (i % 3 === 2) engine.handle(off(48 + ((i * 7) % 16)));
      engine.setProgram(programs[i % 3]);
      const { left } = render(engine, 16 + Math.floor(random() * 600));
      step = Math.max(step, Math.abs(left[0] - before), largestStep(left));
      before = left[left.length - 1];
      most = Math.max(most, engine.voiceCount);
    }
    for (let key = 48; key < 64; key++) engine.handle(off(key));
    // The loudest a voice is: 10 dB above its level, in one of two channels; a strike of velocity 100 counts as 4 dB
    // less.
    const crest = 0.5 * 10 ** ((-40 + 10 - 4) / 20) * Math.SQRT1_2;
    expect(most).toBeGreaterThan(8);
    // Cut within a tick, a voice at its crest steps by a 32nd of it in each frame.
    expect(step).toBeLessThan(crest / 100);
    render(engine, 5 * RATE);
    expect(engine.voiceCount).toBe(0);
    expect(engine.ringingCount).toBe(0);
  });
  test('however the output is cut, also when the oldest of five fades', () => {
    const play = (block: number) => {
      const engine = start({ layers: [{ params: { level: -30, release: 8 } }] });
      const out: number[] = [];
      for (let i = 0; i < 6; i++) {
        engine.handle(on(40 + i));
        out.push(...render(engine, 480, block).left);
        engine.setProgram({ ...make({ layers: [{ params: { level: -30, release: 8 } }] }).program, patchId: `p${i}` });
      }
      out.push(...render(engine, 480 * 250, block).left);
      return out;
    };
    expect(play(96)).toEqual(play(480));
  });
});

describe('expressive controllers', () => {
  // MIDI Polyphonic Expression 1.0 (M1-100-UM): lower zone, master channel 1, members from 2; a finger's bend reaches ±
  // 48 semitones, its pressure is the member's channel pressure, its slide CC 74.
  const mpe = { lower: 15, upper: 0, bendRange: 48 };
  const tone = (patch: Partial<Patch>): Engine => {
    const engine = start({ audio: TONE, layers: [{ params: { level: -12 } }], patch });
    engine.handle({ type: 'zones', ...mpe });
    return engine;
  };
  test('each finger bends on its own; the master bends all by the layer’s range', () => {
    const engine = tone({});
    engine.handle(on(60, 100, 2));
    engine.handle({ type: 'bend', channel: 2, bend: 0.25 });
    engine.handle({ type: 'bend', channel: 3, bend: -1 });
    expect(pitches(Float64Array.from(render(engine, RATE).left.subarray(4800)), 20)[5]).toBeCloseTo(960, 0);
    engine.handle({ type: 'bend', channel: 1, bend: 1 });
    expect(pitches(Float64Array.from(render(engine, RATE).left.subarray(4800)), 20)[5]).toBeCloseTo(
      960 * 2 ** (2 / 12),
      0,
    );
  });
  test('pressure and slide are those of the finger', () => {
    const patch: Partial<Patch> = {
      routes: [route('pressure', 'layer.l0.level', -0.2), route('slide', 'layer.l0.level', -0.3)],
    };
    const engine = start({ layers: [{ params: { level: -6 } }], patch });
    engine.handle({ type: 'zones', ...mpe });
    engine.handle(on(60, 127, 3));
    engine.handle(cc(74, 0, 3));
    engine.handle(cc(74, 127, 4));
    engine.handle({ type: 'channelPressure', channel: 4, pressure: 127 });
    expect(db(levelAfter(engine, 0.3))).toBeCloseTo(-6, 1);
    engine.handle({ type: 'channelPressure', channel: 3, pressure: 127 });
    expect(db(levelAfter(engine, 0.3))).toBeCloseTo(-6 - 0.2 * 66, 1);
    engine.handle(cc(74, 127, 3));
    expect(db(levelAfter(engine, 0.3))).toBeCloseTo(-6 - 0.5 * 66, 1);
  });
  test('a pedal on the master channel holds every finger', () => {
    const engine = tone({});
    engine.handle(cc(64, 127, 1));
    engine.handle(on(60, 100, 5));
    engine.handle({ type: 'noteOff', channel: 5, key: 60, velocity: 0 });
    render(engine, RATE);
    expect(engine.voiceCount).toBe(1);
  });
});

describe('ports', () => {
  const receive = newLayer('', '', '', markAt(0)).receive;
  const heard = (port: string, from: number | undefined): boolean => {
    const engine = start({ layers: [{ receive: { ...receive, port, channel: 3 } }], ports: ['Left', 'Right'] });
    engine.handle({ type: 'noteOn', port: from, channel: 3, key: 60, velocity: 127 });
    return levelAfter(engine, 0.1) > 0.5;
  };
  test('a layer hears any port, or its own alone; one that is not known is a port from which nothing comes', () => {
    expect([undefined, 1, 2].map((from) => heard('any', from))).toEqual([true, true, true]);
    expect([undefined, 1, 2].map((from) => heard('Right', from))).toEqual([false, false, true]);
    expect([undefined, 1, 2].map((from) => heard('Forgotten', from))).toEqual([false, false, false]);
  });
  test('a note ends by the port that it came by; a pedal holds what comes by its own', () => {
    const engine = start({ layers: [{ receive: { ...receive, port: 'Left' } }], ports: ['Left', 'Right'] });
    const at = (port: number, event: ReturnType<typeof on>) => engine.handle({ ...event, port } as typeof event);
    at(1, on());
    at(2, off());
    render(engine, RATE);
    expect(engine.voiceCount).toBe(1);
    at(1, cc(64, 127));
    at(1, off());
    at(2, cc(64, 0));
    render(engine, RATE);
    expect(engine.voiceCount).toBe(1);
    at(1, cc(64, 0));
    render(engine, RATE);
    expect(engine.voiceCount).toBe(0);
  });
});

import type { EngineEvent } from '../../core/engine/hands/event';
import type { Program } from '../../core/engine/program/program';
import { Controllers } from '../../core/engine/hands/controllers';
import { ANSWERS } from '../../core/engine/program/tick';
import { MOST_READINGS } from '../../core/effects';
import { markAt, newInstrument, newLayer, newPatch, newRig } from '../../core/rig/defaults';
import { METER, METER_LENGTH, METERED_LAYERS, METERED_PLACES } from '../../host/protocol';
import { Ears } from './ears';
import { MadeNotes } from './madeNotes';
import { Meters } from './meters';
import { PlayingIn } from './playingIn';
import { Waiting } from './waiting';

const SERIAL = 7;
/** A program as far as its meters go: two places with effects, a connection, two layers, two sounds. */
const program = {
  layers: [{ id: 'low' }, { id: 'high' }],
  mix: {
    places: [
      { id: 'layer.low', effects: [{ id: 'e1' }] },
      { id: 'main', effects: [{ id: 'e2' }, { id: 'e3' }] },
    ],
    connections: [{ id: 'c1' }],
  },
  sounds: [
    { soundId: 'bell', first: 0 },
    { soundId: 'drum', first: 10 },
  ],
} as unknown as Program;

function engine() {
  const meters = new Float32Array(METER_LENGTH);
  meters[METER.program] = SERIAL;
  return { meters, state: 'running' as 'running' | 'stopped', engineSerial: 1 };
}

describe('Meters', () => {
  const begin = () => {
    const host = engine();
    return { host, meters: new Meters(host as never, { program, serial: SERIAL }) };
  };

  test('reads each thing at its own place', () => {
    const { host, meters } = begin();
    host.meters[METER.places + 2] = 0.25;
    host.meters[METER.places + 3] = 0.5;
    host.meters[METER.powers + 1] = 0.01;
    host.meters[METER.connections] = 0.125;
    host.meters[METER.effects + 2 * MOST_READINGS + 1] = 0.75;
    host.meters[METER.steps + 1] = 3;
    expect(meters.levelOfPlace('main')).toBe(0.5);
    // ITU-R BS.1770: −0.691 + 10 lg of the mean square
    expect(meters.loudnessOfPlace('main')).toBeCloseTo(-20.691, 3);
    expect(meters.levelOfConnection('c1')).toBe(0.125);
    expect(meters.readingOf('e3', 1)).toBe(0.75);
    expect(meters.stepOf('high')).toBe(3);
  });

  test.each(['another program', 'sound that stands', 'no such thing'])('knows nothing with %s', (what) => {
    const { host, meters } = begin();
    host.meters.fill(1);
    host.meters[METER.program] = what === 'another program' ? SERIAL - 1 : SERIAL;
    if (what === 'sound that stands') host.state = 'stopped';
    const id = what === 'no such thing' ? 'gone' : undefined;
    expect(meters.levelOfPlace(id ?? 'main')).toBe(0);
    expect(meters.loudnessOfPlace(id ?? 'main')).toBe(-Infinity);
    expect(meters.levelOfConnection(id ?? 'c1')).toBe(0);
    expect(meters.readingOf(id ?? 'e1')).toBe(0);
    expect(meters.stepOf(id ?? 'low')).toBe(-1);
  });

  test('what lies beyond what is metered is not read from the neighbours', () => {
    const many = {
      ...program,
      layers: Array.from({ length: METERED_LAYERS + 1 }, (_, i) => ({ id: `l${i}` })),
      mix: {
        places: Array.from({ length: METERED_PLACES + 1 }, (_, i) => ({ id: `p${i}`, effects: [] })),
        connections: [],
      },
    } as unknown as Program;
    const host = engine();
    host.meters.fill(1);
    host.meters[METER.program] = SERIAL;
    const meters = new Meters(host as never, { program: many, serial: SERIAL });
    expect(meters.levelOfPlace(`p${METERED_PLACES - 1}`)).toBe(1);
    expect(meters.levelOfPlace(`p${METERED_PLACES}`)).toBe(0);
    expect(meters.stepOf(`l${METERED_LAYERS}`)).toBe(-1);
  });

  test('zones that answered are told once each, with the sound they are of; at the most as many as are kept', () => {
    const { host, meters } = begin();
    const answer = (place: number) => {
      host.meters[METER.answers + (host.meters[METER.answerCount] % ANSWERS)] = place;
      host.meters[METER.answerCount]++;
    };
    answer(3);
    answer(12);
    expect(meters.takeAnswers()).toEqual([
      { soundId: 'bell', zone: 3 },
      { soundId: 'drum', zone: 2 },
    ]);
    expect(meters.takeAnswers()).toEqual([]);
    for (let n = 0; n < ANSWERS + 5; n++) answer(1);
    expect(meters.takeAnswers()).toHaveLength(ANSWERS);
    // Another engine counts from nothing.
    host.meters[METER.answerCount] = 0;
    answer(10);
    expect(meters.takeAnswers()).toEqual([{ soundId: 'drum', zone: 0 }]);
  });
});

describe('MadeNotes', () => {
  const begin = () => {
    const host = engine();
    const out: string[] = [];
    const layer = newLayer('high', 'High', 's', markAt(0));
    const patch = {
      ...newPatch('p', 'P'),
      layers: [newLayer('low', 'Low', 's', markAt(0)), { ...layer, path: { ...layer.path, instrument: 'r' } }],
    };
    const rig = { ...newRig('x', 'X'), instruments: [{ ...newInstrument('r', 'Loft'), output: 'loft', channel: 3 }] };
    const outputs = {
      letGo: () => out.push('let go'),
      note: (...note: unknown[]) => out.push(note.join(' ')),
    };
    const made = new MadeNotes(host, { program, patch, rig }, { isPresent: true }, outputs as never);
    const make = (l: number, key: number, velocity: number) => {
      host.meters[METER.made + (host.meters[METER.madeCount] % ANSWERS)] = (l << 14) | (key << 7) | velocity;
      host.meters[METER.madeCount]++;
    };
    made.read();
    out.length = 0;
    return { host, out, made, make };
  };

  test('keys are lit while they sound, and what plays outside is passed on to its output', () => {
    const { out, made, make } = begin();
    make(0, 60, 90);
    make(1, 64, 80);
    expect(made.read()).toBe(true);
    expect([...made.keys]).toEqual([
      [60, 0],
      [64, 1],
    ]);
    expect(out).toEqual(['loft 3 64 80']);
    make(1, 64, 0);
    made.read();
    expect([...made.keys]).toEqual([[60, 0]]);
    expect(out).toEqual(['loft 3 64 80', 'loft 3 64 0']);
    expect(made.read()).toBe(false);
  });

  test('more than can be told at once, or another engine: nothing may hang', () => {
    const { host, out, made, make } = begin();
    for (let n = 0; n < ANSWERS + 1; n++) make(1, 60, 90);
    made.read();
    expect(out[0]).toBe('let go');
    expect(out).toHaveLength(1 + ANSWERS);
    host.engineSerial++;
    expect(made.read()).toBe(true);
    expect(made.keys.size).toBe(0);
    expect(out.at(-1)).toBe('let go');
  });
});

test('Ears: what is heard is said at once, and again to an engine that begins', () => {
  const sent: EngineEvent[] = [];
  let told = 0;
  const ears = new Ears(
    (event) => sent.push(event),
    () => told++,
  );
  ears.again();
  expect(sent).toEqual([]);
  ears.setSoloed(['a']);
  ears.listenTo({ kind: 'place', id: 'main' } as never);
  ears.listenTo({ kind: 'place', id: 'main' } as never);
  ears.hearWithout(['*'], -3);
  ears.allow(40);
  expect(sent.map(({ type }) => type)).toEqual(['solo', 'listen', 'without', 'voices']);
  expect(told).toBe(3);
  const first = sent.slice(1);
  sent.length = 0;
  ears.again();
  // Who is alone is kept by the host itself.
  expect(sent).toEqual(expect.arrayContaining(first));
  expect(sent).toHaveLength(3);
});

describe('PlayingIn', () => {
  const begin = () => {
    const sent: EngineEvent[] = [];
    const noted: EngineEvent[] = [];
    const controllers = new Controllers();
    const patch = {
      ...newPatch('p', 'P'),
      macros: [{ number: 1, name: 'Bright', value: 0.4, style: 'strip' as const, note: '' }],
    };
    const playing = { patch };
    const input = new PlayingIn(
      { send: (event: EngineEvent) => sent.push(event), context: null } as never,
      { note: (event: EngineEvent) => noted.push(event), controllers, tempo: null } as never,
      playing,
      () => undefined,
    );
    return { sent, noted, controllers, input, patch };
  };

  test('what is played is sent, shown and recorded', () => {
    const { sent, noted, input } = begin();
    input.recorder.start(() => 1);
    input.play({ type: 'noteOn', channel: 1, key: 60, velocity: 100 });
    input.play({ type: 'controller', channel: 1, controller: 1, value: 64 });
    expect(sent).toHaveLength(2);
    expect(noted).toEqual(sent);
    expect(input.recorder.on).toBe(true);
  });

  test('zones are kept for an engine that begins, the last of each port', () => {
    const { input } = begin();
    input.play({ type: 'zones', port: 0, lower: 5, upper: 0, bendRange: 48 });
    input.play({ type: 'zones', port: 0, lower: 7, upper: 0, bendRange: 24 });
    input.play({ type: 'zones', port: 1, lower: 0, upper: 3, bendRange: 48 });
    expect([...input.zonesByPort.values()]).toMatchObject([{ lower: 7, bendRange: 24 }, { upper: 3 }]);
  });

  test('a macro stands where it was played, else where the patch has it; one that is not there stands nowhere', () => {
    const { input, controllers } = begin();
    expect(input.liveOf('macro.1')).toBe(0.4);
    expect(input.liveOf('macro.2')).toBeUndefined();
    controllers.macros[1] = 0.9;
    expect(input.liveOf('macro.1')).toBe(0.9);
    expect(input.liveOf('xy.1.x')).toBeUndefined();
  });

  test('a start that is edited takes along what stood there, and leaves what was played elsewhere', () => {
    const { sent, input, controllers, patch } = begin();
    const edited = { ...patch, macros: [{ ...patch.macros[0], value: 0.7 }] };
    controllers.macros[1] = 0.7;
    input.followStarts(patch, edited);
    expect(sent).toEqual([{ type: 'rest', kind: 'macro', number: 1 }]);
    controllers.macros[1] = 0.2;
    input.followStarts(patch, edited);
    expect(sent).toHaveLength(1);
  });

  test('two taps make a tempo, and ending them gives the patch its own again', () => {
    jest.useFakeTimers();
    const { sent, input } = begin();
    input.tap();
    expect(sent).toEqual([]);
    jest.advanceTimersByTime(500);
    input.tap();
    expect(sent).toHaveLength(1);
    expect((sent[0] as { tempo: number }).tempo).toBeCloseTo(120, 0);
    input.endTapping();
    expect(sent[1]).toEqual({ type: 'tempo', tempo: null });
    jest.useRealTimers();
  });
});

describe('Waiting', () => {
  beforeEach(() => {
    jest.useFakeTimers();
  });
  afterEach(() => {
    jest.useRealTimers();
  });
  const begin = (loading: number, held: [number, number][] = [[60, 90]]) => {
    const played: EngineEvent[] = [];
    const samples = { loading, awaited: new Set<string>(), isSettled: () => true };
    const input = {
      play: (event: EngineEvent) => played.push(event),
      playNow: (event: EngineEvent) => played.push(event),
    };
    const playing: { program: object | null } = { program: null };
    let early = 0;
    const host = { earlyStrikes: [], sendEarly: () => early++ };
    const waiting = new Waiting(
      host as never,
      samples as never,
      playing as never,
      { held: new Map(held) },
      input as never,
    );
    return { played, samples, waiting, playing, early: () => early };
  };

  test('held notes begin again once the samples are there, and not before', () => {
    const { played, samples, waiting } = begin(2);
    waiting.restrike('l');
    jest.advanceTimersByTime(500);
    expect(played).toEqual([]);
    samples.loading = 0;
    jest.advanceTimersByTime(50);
    expect(played).toEqual([{ type: 'restrike', layerId: 'l', goesOn: false }]);
    jest.advanceTimersByTime(500);
    expect(played).toHaveLength(1);
  });

  test('samples that never come are not waited for', () => {
    const { played, waiting } = begin(1);
    waiting.tap(62);
    jest.advanceTimersByTime(4100);
    expect(played).toMatchObject([{ type: 'noteOn', key: 62 }]);
    jest.advanceTimersByTime(400);
    expect(played).toMatchObject([{ type: 'noteOn' }, { type: 'noteOff', key: 62 }]);
  });

  test('what is asked for last is what is done; nothing held, nothing struck', () => {
    const { played, waiting } = begin(0, []);
    waiting.tap(62);
    waiting.restrike('l');
    jest.advanceTimersByTime(1000);
    expect(played).toEqual([]);
  });

  test('what was exchanged is played once it plays and its samples are there, however long that takes', () => {
    const { played, samples, waiting, playing } = begin(0);
    let heard = 0;
    waiting.afterChange(() => heard++);
    jest.advanceTimersByTime(900);
    expect(heard).toBe(0);
    playing.program = {};
    samples.loading = 3;
    jest.advanceTimersByTime(2000);
    expect(heard).toBe(0);
    samples.loading = 0;
    jest.advanceTimersByTime(50);
    expect(heard).toBe(1);
    expect(played).toEqual([]);
  });

  test('an edit that changes nothing that sounds is not waited for', () => {
    const { waiting } = begin(0);
    let heard = 0;
    waiting.afterChange(() => heard++);
    jest.advanceTimersByTime(1600);
    expect(heard).toBe(1);
  });

  test('early strikes are sent when nothing is to come any more', async () => {
    const { waiting, early } = begin(0);
    const done = waiting.playEarly();
    await jest.advanceTimersByTimeAsync(10);
    await done;
    expect(early()).toBe(1);
  });
});

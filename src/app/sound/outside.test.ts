import { compile, contextOf } from '../../core/engine/program/compile';
import {
  markAt,
  newGroup,
  newInstrument,
  newLayer,
  newMessage,
  newPatch,
  newRig,
  newSound,
} from '../../core/rig/defaults';
import type { Layer, Patch, Rig } from '../../core/rig/schema';
import { MidiOutputs } from '../../host/midiOutputs';
import { Monitor } from '../../host/monitor';
import { Performance } from '../../host/performance';
import { METER, METER_KNOBS, METER_LENGTH } from '../../host/protocol';
import { Outside } from './outside';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

const program = (number: number, pause = 0) => ({ ...newMessage('program'), number, pause });
const layer = (id: string, instrument: string | null, change: Partial<Layer['receive']> = {}): Layer => {
  const made = newLayer(id, id, 's', markAt(0));
  return { ...made, path: { ...made.path, instrument }, receive: { ...made.receive, ...change } };
};
const patchOf = (id: string, change: Partial<Patch>): Patch => ({ ...newPatch(id, id), ...change });
const told = (enter: Patch['told'][number]['enter'], leave: Patch['told'][number]['leave'] = []) => [
  { id: 'loft', enter, leave },
];

const rig: Rig = {
  ...newRig('r', 'R'),
  sounds: [newSound('s', 'S')],
  instruments: [
    { ...newInstrument('loft', 'Loft'), output: 'Loft out', channel: 3 },
    { ...newInstrument('pipe', 'Pipe'), output: 'Pipe out', channel: 1, clock: true },
  ],
  patches: [
    patchOf('a', { layers: [layer('l', 'loft')], told: told([program(4)], [newMessage('notesOff')]) }),
    patchOf('b', {
      layers: [layer('m', 'loft')],
      told: told([program(7, 100), { ...newMessage('controller'), number: 7, value: 90, pause: 50 }, program(8)]),
    }),
    patchOf('c', {
      layers: [layer('n', null)],
      knobs: [{ id: 'k', instrumentId: 'loft', name: 'K', controller: 74, value: 20 }],
    }),
  ],
};
const [a, b, c] = rig.patches;

function begin() {
  const sent: { port: string; bytes: number[] }[] = [];
  const outputs = new MidiOutputs(new Monitor(), () => performance.now());
  const plug = (...names: string[]) =>
    outputs.follow(
      names.map((name) => ({ name, state: 'connected', send: (bytes: number[]) => sent.push({ port: name, bytes }) })),
    );
  plug('Loft out', 'Pipe out');
  const hands = new Performance();
  const engine = { meters: new Float32Array(METER_LENGTH), state: 'off' as string, context: null };
  const programs = { program: null, patch: null, rig: null, serial: 1 } as unknown as ConstructorParameters<
    typeof Outside
  >[0]['programs'];
  const outside = new Outside({
    engine: engine as never,
    programs,
    outputs,
    hands,
    made: { read: () => false },
    tell: () => undefined,
  });
  const show = (patch: Patch, of: Rig = rig) => {
    const before = programs.patch;
    Object.assign(programs, { rig: of, patch, program: compile(patch, contextOf(of)) });
    outside.follow({ rig: of, patch, before, otherRig: false });
  };
  const bytes = () => sent.splice(0).map((each) => each.bytes);
  return { outside, show, bytes, sent, hands, engine, plug, programs };
}

test('messages go out once, when the patch is entered, and those of leaving before those of the next', () => {
  const { show, bytes } = begin();
  show(a);
  expect(bytes()).toEqual([[0xc2, 4]]);
  // Edits, and what is heard instead of it, are the same patch.
  show({ ...a, tempo: 90 });
  show({ ...a, tempo: 91 });
  expect(bytes()).toEqual([]);
  show(b);
  expect(bytes()).toEqual([
    [0xb2, 64, 0],
    [0xb2, 123, 0],
    [0xc2, 7],
  ]);
});

test('pauses are kept, and what waits for one is not told any more once the patch was left', () => {
  const { show, bytes } = begin();
  show(b);
  expect(bytes()).toEqual([[0xc2, 7]]);
  jest.advanceTimersByTime(99);
  expect(bytes()).toEqual([]);
  jest.advanceTimersByTime(2);
  expect(bytes()).toEqual([[0xb2, 7, 90]]);
  jest.advanceTimersByTime(60);
  expect(bytes()).toEqual([[0xc2, 8]]);
  show(a);
  bytes();
  show(b);
  bytes();
  show(a);
  bytes();
  jest.advanceTimersByTime(5000);
  expect(bytes()).toEqual([]);
});

test('a pause on leaving holds back what the next patch tells the same instrument', () => {
  const { show, bytes } = begin();
  const slow = patchOf('slow', { told: told([], [{ ...newMessage('notesOff'), pause: 80 }]) });
  const of = { ...rig, patches: [...rig.patches, slow] };
  show(slow, of);
  show(a, of);
  expect(bytes()).toEqual([
    [0xb2, 64, 0],
    [0xb2, 123, 0],
  ]);
  jest.advanceTimersByTime(81);
  expect(bytes()).toEqual([[0xc2, 4]]);
});

test('an instrument that is told anew is told nothing of before any more', () => {
  const { outside, show, bytes } = begin();
  show(b);
  jest.advanceTimersByTime(50);
  outside.tellAgain('loft');
  bytes();
  jest.advanceTimersByTime(5000);
  expect(bytes()).toEqual([
    [0xb2, 7, 90],
    [0xc2, 8],
  ]);
});

test('a sound that is tried by itself is neither entered nor left', () => {
  const { show, bytes } = begin();
  show(a);
  bytes();
  show({ ...newPatch('sound-s', 'S'), layers: [layer('x', null)] });
  show(a);
  expect(bytes()).toEqual([]);
});

test('an output that is not there is told of; once it comes, the instrument is told everything', () => {
  const { outside, show, bytes, plug } = begin();
  plug('Pipe out');
  show(a);
  expect(bytes()).toEqual([]);
  expect(outside.told).toEqual([
    { instrument: 'Loft', words: 'program 5', problem: 'the output “Loft out” is not there' },
  ]);
  plug('Pipe out', 'Loft out');
  expect(bytes()).toEqual([[0xc2, 4]]);
  expect(outside.told.map(({ problem }) => problem)).toEqual(['']);
});

test('system exclusive that is not permitted is left out and told; the rest goes', () => {
  const { outside, show, bytes } = begin();
  const exclusive = { ...newMessage('bytes'), bytes: 'F0 7D 01 F7' };
  const patch = patchOf('x', { told: told([exclusive, program(1)]) });
  show(patch, { ...rig, patches: [patch] });
  expect(bytes()).toEqual([[0xc2, 1]]);
  expect(outside.told[0].problem).toBe('system exclusive is not permitted');
});

describe('hands', () => {
  const events = [
    [{ type: 'controller', channel: 1, controller: 64, value: 127 }, [0xb2, 64, 127]],
    [{ type: 'controller', channel: 1, controller: 1, value: 30 }, [0xb2, 1, 30]],
    [{ type: 'bend', channel: 1, bend: -1 }, [0xe2, 0, 0]],
    [{ type: 'channelPressure', channel: 1, pressure: 44 }, [0xd2, 44]],
  ] as const;
  test('pedals, wheels, bend and pressure of layers that play outside go along, once for two layers', () => {
    const { outside, show, bytes } = begin();
    const patch = patchOf('x', { layers: [layer('l', 'loft'), layer('m', 'loft'), layer('n', null)] });
    show(patch, { ...rig, patches: [patch] });
    for (const [event, expected] of events) {
      outside.pass(event);
      jest.advanceTimersByTime(10);
      expect(bytes()).toEqual([expected]);
    }
    // What is no wheel and no pedal is for routes.
    outside.pass({ type: 'controller', channel: 1, controller: 20, value: 3 });
    outside.pass({ type: 'macro', number: 1, value: 0.5 });
    expect(bytes()).toEqual([]);
  });
  test('what a layer does not hear does not go there: switches, channels, its group, a finger’s own', () => {
    const { outside, show, bytes } = begin();
    const deaf = { bend: false, sustain: false, wheel: false, pressure: false };
    const grouped = { ...layer('g', 'loft'), groupId: 'g' };
    const group = newGroup('g', 'G', markAt(0));
    for (const patch of [
      patchOf('x', { layers: [layer('l', 'loft', deaf)] }),
      patchOf('y', { layers: [layer('l', 'loft', { channel: 2 })] }),
      patchOf('z', { layers: [{ ...layer('l', 'loft'), on: false }] }),
      patchOf('v', { layers: [grouped], groups: [{ ...group, receive: { ...group.receive, ...deaf } }] }),
    ]) {
      show(patch, { ...rig, patches: [patch] });
      for (const [event] of events) outside.pass(event);
      jest.advanceTimersByTime(50);
      expect(bytes()).toEqual([]);
    }
  });
  test('pressure of a key goes to the key that it became; one beyond the keys goes nowhere', () => {
    const { outside, show, bytes } = begin();
    const patch = patchOf('x', { layers: [{ ...layer('l', 'loft'), transpose: 12 }] });
    show(patch, { ...rig, patches: [patch] });
    outside.pass({ type: 'keyPressure', channel: 1, key: 60, pressure: 50 });
    outside.pass({ type: 'keyPressure', channel: 1, key: 120, pressure: 50 });
    jest.advanceTimersByTime(50);
    expect(bytes()).toEqual([[0xa2, 72, 50]]);
  });
  test('a pedal that is down when a patch is entered is down there as well', () => {
    const { show, bytes, hands } = begin();
    hands.note({ type: 'controller', channel: 1, controller: 64, value: 127 });
    show(a);
    jest.advanceTimersByTime(10);
    expect(bytes()).toEqual([
      [0xc2, 4],
      [0xb2, 64, 127],
    ]);
  });
});

test('values are told where the patch rests them, then as they move, and anew when the instrument is told again', () => {
  const { outside, show, bytes, engine } = begin();
  show(c);
  expect(bytes()).toEqual([[0xb2, 74, 20]]);
  engine.state = 'running';
  engine.meters[METER.program] = 1;
  for (const value of [20, 33, 33, 127]) {
    engine.meters[METER_KNOBS] = value;
    jest.advanceTimersByTime(8);
  }
  expect(bytes()).toEqual([
    [0xb2, 74, 33],
    [0xb2, 74, 127],
  ]);
  outside.tellAgain('loft');
  jest.advanceTimersByTime(8);
  expect(bytes()).toEqual([[0xb2, 74, 127]]);
});

test('clock, start and stop go to outputs whose instruments follow it, and to no other', () => {
  const { outside, show, sent, engine } = begin();
  show(a);
  sent.length = 0;
  engine.state = 'running';
  Object.assign(engine, { context: { currentTime: 0 } });
  engine.meters[METER.tempo] = 120;
  for (let ms = 0; ms < 1000; ms += 4) {
    engine.meters[METER.position] = ms / 500;
    jest.advanceTimersByTime(4);
  }
  expect(new Set(sent.map(({ port }) => port))).toEqual(new Set(['Pipe out']));
  const ticks = sent.filter(({ bytes }) => bytes[0] === 0xf8).length;
  // 24 in a quarter, two quarters, and what is given out ahead.
  expect(ticks).toBeGreaterThanOrEqual(47);
  expect(ticks).toBeLessThanOrEqual(52);
  sent.length = 0;
  outside.pass({ type: 'position', quarters: 0 });
  expect(sent[0].bytes).toEqual([0xfa]);
  outside.stop();
  expect(sent.at(-1)!.bytes).toEqual([0xfc]);
});

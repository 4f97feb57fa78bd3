import type { EngineEvent } from '../../core/engine/hands/event';
import { markAt, newInstrument, newLayer, newPatch, newRig, newSound, newZone } from '../../core/rig/defaults';
import type { Take } from '../../core/music/take';
import type { Layer, Patch, Rig } from '../../core/rig/schema';
import { METER_LENGTH } from '../../host/protocol';
import { Session } from './session';

jest.mock('../document/storage/demoSamples', () => ({ sampleBytes: () => Promise.resolve(undefined) }));
// The page's own session is made with this one: an engine in a worklet is of no use here.
jest.mock('../../host/audioHost', () => ({
  AudioHost: class {
    subscribe = () => () => undefined;
  },
}));
Object.assign(globalThis, { requestAnimationFrame: (act: () => void) => setTimeout(act, 16) });
// However slow the machine, no edit is put off.
beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

/** An engine that only remembers what it was told. */
function standIn() {
  const sent: EngineEvent[] = [];
  const audio = {
    meters: new Float32Array(METER_LENGTH),
    state: 'off',
    context: null,
    engineSerial: 1,
    earlyStrikes: [],
    onProblem: (_text: string) => undefined as void,
    onFreshEngine: () => undefined as void,
    serial: 0,
    subscribe: () => () => undefined,
    start: () => Promise.resolve(),
    send: (event: EngineEvent) => sent.push(event),
    setProgram: () => ++audio.serial,
    sendEarly: () => undefined,
    sampleOf: () => undefined,
    keepSamples: () => undefined,
  };
  return { audio, sent };
}

const layer = (id: string, instrument: string | null = null): Layer => {
  const made = newLayer(id, id, 'bell', markAt(0));
  return { ...made, path: { ...made.path, instrument } };
};
const patchOf = (id: string, layers: Layer[]): Patch => ({ ...newPatch(id, id), layers });
const rig: Rig = {
  ...newRig('r', 'R'),
  instruments: ['loft', 'other'].map((id) => ({ ...newInstrument(id, id), output: `${id} out` })),
  sounds: [newSound('bell', 'Bell', [newZone('bell', 60)])],
  patches: [patchOf('a', [layer('l')]), patchOf('b', [layer('m', 'loft')])],
};
const [a, b] = rig.patches;

function begin() {
  const { audio, sent } = standIn();
  const session = new Session(audio as never);
  const letGo = jest.spyOn(session.outputs, 'letGo').mockImplementation(() => undefined);
  const rest = jest.spyOn(session.hands, 'restMacros');
  return { session, audio, sent, letGo, rest };
}
const types = (events: EngineEvent[]) => events.map(({ type }) => type);

test('making one asks nothing of the machine, and sends nothing', () => {
  const { session, sent } = begin();
  expect(sent).toEqual([]);
  expect(session.program).toBeNull();
  expect(session.shown).toBeNull();
});

test('another patch lets go of what sounds outside and brings macros to rest; an edit of the same does neither', () => {
  const { session, letGo, rest } = begin();
  session.show(rig, a);
  session.show(rig, b);
  expect(letGo).toHaveBeenCalledTimes(2);
  expect(rest).toHaveBeenCalledTimes(2);
  session.show(rig, { ...b, tempo: 90 });
  expect(letGo).toHaveBeenCalledTimes(2);
  expect(rest).toHaveBeenCalledTimes(2);
  // A layer that plays to another output must not leave notes at the one before; one more layer changes nothing there.
  session.show(rig, { ...b, layers: [...b.layers, layer('n')] });
  expect(letGo).toHaveBeenCalledTimes(2);
  session.show(rig, { ...b, layers: [layer('m', 'other')] });
  expect(letGo).toHaveBeenCalledTimes(3);
});

test('expressive zones are told to each port when a rig begins or changes them, and to an engine that begins', () => {
  const { session, audio, sent } = begin();
  const expressive: Rig = {
    ...rig,
    controllers: { ...rig.controllers, ports: ['one', 'two'] as never, mpe: { lower: 7, upper: 0, bendRange: 24 } },
  };
  session.show(expressive, a);
  expect(types(sent)).toEqual(['zones', 'zones', 'zones']);
  session.show(expressive, b);
  expect(sent).toHaveLength(3);
  sent.length = 0;
  session.play({ type: 'controller', channel: 1, controller: 1, value: 99 });
  session.ears.listenTo({ kind: 'place', id: 'main' } as never);
  sent.length = 0;
  audio.onFreshEngine();
  expect(types(sent)).toEqual(expect.arrayContaining(['zones', 'controller', 'listen']));
  expect(sent.filter(({ type }) => type === 'zones')).toHaveLength(3);
});

test('silence stops the take, forgets what the latch keeps and lets go outside', () => {
  const { session, sent, letGo } = begin();
  session.show(rig, a);
  session.input.latch.setHolding(true);
  session.play({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  letGo.mockClear();
  session.panic();
  expect(sent.at(-1)).toEqual({ type: 'panic' });
  expect(letGo).toHaveBeenCalledTimes(1);
  expect(session.takes.playing).toBe(false);
});

test('however a take ends, what follows the clock is stopped; another take in its place goes on', () => {
  const { session } = begin();
  const take = (id: string) => ({ name: id, seconds: 1, events: [] }) as unknown as Take;
  const stopped = jest.spyOn(session.outside, 'stop').mockImplementation(() => undefined);
  session.show(rig, a);
  session.panic();
  expect(stopped).not.toHaveBeenCalled();
  const ends: (() => void)[] = [() => session.panic(), () => session.takes.stop(), () => session.takes.load(take('x'))];
  ends.forEach((end, n) => {
    session.takes.load(take('a'));
    session.takes.play();
    end();
    if (session.takes.playing) {
      expect(stopped).toHaveBeenCalledTimes(n);
      session.takes.stop();
    }
    expect(stopped).toHaveBeenCalledTimes(n + 1);
  });
});

test('what a take plays is shown, and goes to the output that is chosen for it', () => {
  const { session } = begin();
  const out: [string, string][] = [];
  jest.spyOn(session.outputs, 'event').mockImplementation((name, event) => {
    out.push([name, event.type]);
  });
  const programs: number[] = [];
  session.onTakeProgram = (program) => programs.push(program);
  const played = (event: EngineEvent) =>
    (session as unknown as { takePlayed: (e: EngineEvent) => void }).takePlayed(event);
  played({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  expect(session.hands.held.get(60)).toBe(90);
  expect(out).toEqual([]);
  session.setTakeOutput('loft');
  played({ type: 'noteOff', channel: 1, key: 60, velocity: 64 });
  expect(out).toEqual([['loft', 'noteOff']]);
  played({ type: 'program', channel: 1, program: 5 });
  expect(programs).toEqual([5]);
});

test('who listens hears of every change until it no longer does', () => {
  const { session } = begin();
  let told = 0;
  const stop = session.subscribe(() => told++);
  session.show(rig, a);
  session.ears.setSoloed(['l']);
  expect(told).toBe(2);
  stop();
  session.show(rig, b);
  expect(told).toBe(2);
});

test('where another machine leads, nothing of this page is played, shown or told outside; what was held is forgotten', () => {
  const { session, audio, sent } = begin();
  session.show(rig, a);
  session.play({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  session.play({ type: 'controller', channel: 1, controller: 64, value: 127 });
  const played: EngineEvent[] = [];
  session.onPlayed = (event) => played.push(event);
  Object.assign(audio, { follows: true });
  session.beginToFollow();
  // A key that rises now is heard by nobody: it must not stay down here.
  expect([session.hands.held.size, session.hands.moved()]).toEqual([0, []]);
  expect(session.outputs.silent).toBe(true);
  sent.length = 0;
  session.play({ type: 'noteOff', channel: 1, key: 60, velocity: 64 });
  session.show(rig, b);
  expect([sent, types(played), session.shown]).toEqual([[], ['noteOff'], a]);
  session.playTold({ type: 'noteOn', channel: 1, key: 72, velocity: 90 });
  expect([...session.hands.held.keys()]).toEqual([72]);
  // It leads: what it shows plays, and everything is heard as it is chosen here.
  Object.assign(audio, { follows: false });
  session.lead();
  expect(types(sent)).toEqual(expect.arrayContaining(['noteOn', 'solo', 'listen', 'voices', 'without']));
  expect([session.shown, session.outputs.silent]).toEqual([b, false]);
});

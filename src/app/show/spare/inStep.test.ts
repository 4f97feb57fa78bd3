import { inPieces, Pieces, readSpare, type SpareMessage } from '../../../core/remote/spare';
import { markAt, newLayer, newPatch, newRig, newSound } from '../../../core/rig/defaults';
import { updatePatch } from '../../../core/rig/edits/layers';
import type { Patch, Rig } from '../../../core/rig/schema';
import { METER_LENGTH, type ToEngine } from '../../../host/protocol';
import type { InStep } from '../../../host/inStep';
import type { Sum } from '../../../host/stepLog';
import { ALONE, spareState } from '../spareState';
import { Following } from './following';
import { Handover } from './handover';
import { Leading } from './leading';

const state: { rig: { rig: Rig | null }; show: { onStage: boolean; stepId: string | null } } = {
  rig: { rig: null },
  show: { onStage: true, stepId: 'step' },
};
jest.mock('../../document/store', () => ({ store: { getState: () => state } }));
jest.mock('../../../host/audioHost', () => ({ SAME: { seed: 1, maxVoices: 256 } }));
jest.mock('../../document/storage/demoSamples', () => ({
  sampleBytes: () => Promise.resolve(new Uint8Array([1, 2, 3])),
  keepOrHold: () => Promise.resolve(),
}));
jest.mock('../../document/storage/database', () => ({ hasSample: () => Promise.resolve(true) }));
jest.useFakeTimers();

const patch: Patch = { ...newPatch('p', 'P'), layers: ['a', 'b'].map((id, n) => newLayer(id, id, 's', markAt(n))) };
const rig: Rig = { ...newRig('r', 'R'), patches: [patch, newPatch('q', 'Q')], sounds: [newSound('s', 'S')] };

/** A machine: what its engine was told, its log, and what came out of it in a second. */
function machine(now: Rig) {
  const told: { at: number; what: unknown }[] = [];
  const log: { n: number; at: number; ahead: number }[] = [];
  const sums: Sum[] = [];
  let at = -1;
  let said = 0;
  const audio = {
    state: 'running',
    context: { sampleRate: 48000 },
    meters: new Float32Array(METER_LENGTH),
    begun: 0,
    beginAnew() {
      audio.begun++;
      said = log.length = inStep.steps.blocks = 0;
      inStep.onBegun();
      programs.showAtOnce(programs.rig, programs.patch);
      return Promise.resolve();
    },
  };
  const inStep = {
    heldUp: false,
    onBegun: () => undefined as void,
    onSaid: (_n: number, _message: ToEngine) => undefined as void,
    steps: {
      blocks: 0,
      read(each: (n: number, block: number, ahead: number) => void): number | undefined {
        if (inStep.heldUp) return undefined;
        for (const entry of log.splice(0)) each(entry.n, entry.at, entry.ahead);
        return inStep.steps.blocks;
      },
      sums: () => sums.splice(0),
    },
    follow: () => Promise.resolve(),
    asTold(block: number, _ahead: number, act: () => void) {
      at = block;
      act();
      at = -1;
    },
    knowsUpTo: (blocks: number) => void (inStep.steps.blocks = blocks),
    outputsAre: (map: unknown) => told.push({ at, what: map }),
  };
  const say = (message: ToEngine, ahead = 0) => {
    log.push({ n: said, at: inStep.steps.blocks, ahead });
    inStep.onSaid(said++, message);
  };
  const programs = {
    rig: now,
    patch: now.patches[0],
    requests: [],
    showAtOnce(shown: Rig, heard: Patch) {
      Object.assign(programs, { rig: shown, patch: heard });
      told.push({ at, what: heard.layers.map(({ name }) => name).join(' ') });
      say({ type: 'program', program: {} as never, serial: 1 });
    },
  };
  const session = {
    audio,
    programs,
    hands: { held: new Map() },
    takes: { playing: false, position: 0, looped: true, subscribe: () => () => undefined },
    samples: { loading: 0, forget: () => undefined, fetch: () => Promise.resolve() },
    shownPatchId: 'p',
    beginToFollow: () => undefined,
    playTold: (event: unknown) => told.push({ at, what: event }),
  };
  return { session: session as never, inStep: inStep as typeof inStep & InStep, audio, programs, told, sums, say };
}

/** Two of them, with a line between; what goes over it is text. */
function two() {
  state.rig.rig = rig;
  spareState.set(ALONE);
  const first = machine(rig);
  const second = machine(rig);
  const over: SpareMessage[] = [];
  const pieces = new Pieces();
  const opened: Rig[] = [];
  const failed: string[] = [];
  const send = (message: SpareMessage, to: (heard: SpareMessage) => void) => {
    for (const piece of inPieces(message)) {
      const read = readSpare(JSON.parse(JSON.stringify(piece)));
      if (!read) throw new Error(`not known: ${JSON.stringify(piece).slice(0, 200)}`);
      const whole = pieces.hear(read);
      if (!whole) continue;
      over.push(whole);
      to(whole);
    }
  };
  const following: Following = new Following({
    session: second.session,
    inStep: second.inStep,
    say: (message) => send(message, (heard) => leading?.hear(heard)),
    handover: new Handover(),
    opened: (now) => Promise.resolve(void opened.push(now)),
    went: () => undefined,
    failed: (why) => failed.push(why),
  });
  const leading: Leading | undefined = new Leading(first.session, first.inStep, (message) =>
    send(message, (heard) => following.hear(heard as never)),
  );
  const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms);
  const end = () => {
    leading.end();
    following.end();
  };
  return { first, second, over, opened, failed, pass, leading, following, end };
}
const note = { type: 'noteOn', channel: 1, key: 60, velocity: 90 } as const;

test('the rig comes first, both begin at a rest, and every step comes before its block', async () => {
  const { first, second, opened, failed, pass, end } = two();
  first.audio.meters[2] = 3;
  await pass(2000);
  // Something sounds: nothing begins.
  expect([opened.length, first.audio.begun, failed]).toEqual([1, 0, []]);
  expect(opened[0]).toEqual(rig);
  expect(spareState.now.why).toContain('next rest');
  first.audio.meters[2] = 0;
  await pass(1500);
  expect(first.audio.begun).toBe(1);
  second.told.length = 0;
  first.inStep.steps.blocks = 100;
  first.say({ type: 'event', event: note }, 64);
  const edited = updatePatch(rig, 'p', (old) => ({
    ...old,
    layers: old.layers.map((layer) => (layer.id === 'b' ? { ...layer, name: 'other' } : layer)),
  }));
  state.rig.rig = edited;
  first.inStep.steps.blocks = 120;
  first.programs.showAtOnce(edited, edited.patches[0]);
  first.say({ type: 'outputs', map: [0, 1], click: -1 });
  first.say({ type: 'samples', samples: [] });
  first.inStep.steps.blocks = 140;
  await pass(200);
  expect(second.told).toEqual([
    { at: 100, what: note },
    { at: 120, what: 'a other' },
    { at: 120, what: [0, 1] },
  ]);
  expect(second.inStep.steps.blocks).toBe(140);
  expect(opened.at(-1)).toEqual(edited);
  expect(failed).toEqual([]);
  end();
});

test('seconds with the same sum are in step; one that differs is told by how much, and both begin anew at a rest, three times', async () => {
  const { first, second, pass, end } = two();
  await pass(2000);
  const second1 = { second: 0, hash: 77, power: 0.1 };
  first.sums.push(second1);
  second.sums.push(second1);
  await pass(400);
  expect(spareState.now.since).not.toBeNull();
  first.sums.push({ second: 1, hash: 5, power: 0.1 });
  second.sums.push({ second: 1, hash: 6, power: 0.2 });
  await pass(400);
  expect([spareState.now.since, spareState.now.why]).toEqual([null, '3.0 dB apart']);
  expect(first.audio.begun).toBe(1);
  await pass(60_000);
  expect(first.audio.begun).toBe(4);
  end();
});

test('a page that was held up begins anew; a sample that is not of the rig is nobody’s', async () => {
  const { first, over, pass, leading, end } = two();
  await pass(2000);
  first.inStep.heldUp = true;
  await pass(100);
  first.inStep.heldUp = false;
  await pass(2000);
  expect(first.audio.begun).toBe(2);
  leading.hear({ type: 'want', id: 'secret', from: 0 });
  await pass(10);
  expect(over.filter(({ type }) => type === 'sample')).toEqual([
    { type: 'sample', id: 'secret', from: 0, total: 0, data: '' },
  ]);
  end();
});

test('what is no rig is refused in words, and nothing of it is opened', async () => {
  const { opened, failed, following, pass, end } = two();
  await pass(500);
  following.hear({ type: 'rig', document: true, changes: [['patches', { value: [{ id: 'x' }] }]] });
  await pass(100);
  expect(failed).toEqual([expect.stringContaining('patches[0]')]);
  expect(opened).toHaveLength(1);
  end();
});

import type { Program } from '../../core/engine/program/program';
import { markAt, newInstrument, newLayer, newPatch, newRig, newSound, newZone } from '../../core/rig/defaults';
import type { Patch, Rig } from '../../core/rig/schema';
import { Programs, type ProgramChange } from './programs';

const patchOf = (id: string): Patch => ({ ...newPatch(id, id), layers: [newLayer(`${id} l`, id, 'bell', markAt(0))] });
const rig: Rig = {
  ...newRig('r', 'R'),
  samples: [{ id: 'bell', name: 'bell.wav', rate: 48000, channels: 1, frames: 4000 }],
  sounds: [newSound('bell', 'Bell', [newZone('bell', 60)])],
  patches: ['a', 'b', 'c'].map(patchOf),
};
const [a, b] = rig.patches;

function begin() {
  const given: Program[] = [];
  const changes: ProgramChange[] = [];
  const problems: string[] = [];
  const wanted: string[] = [];
  const fetched: string[][] = [];
  const host = {
    context: null as { sampleRate: number } | null,
    setProgram: (program: Program) => given.push(program),
  };
  const samples = {
    needed: new Set<string>(),
    forgotten: 0,
    settled: true,
    isSettled: () => samples.settled,
    forget: () => samples.forgotten++,
    fetch: (_rig: Rig, _requests: unknown, others: readonly Patch[]) => {
      fetched.push(others.map(({ id }) => id));
      return Promise.resolve();
    },
    readiness: (requests: readonly unknown[]) => ({ coming: requests.length, missing: 0 }),
  };
  const programs = new Programs(host as never, samples as never, {
    changed: (change) => changes.push(change),
    problem: (id, text) => problems.push(`${id}: ${text}`),
    wanted: ({ id }) => wanted.push(id),
  });
  return { programs, host, samples, given, changes, problems, wanted, fetched };
}

beforeEach(() => {
  jest.useFakeTimers();
  Object.assign(globalThis, { requestAnimationFrame: (act: () => void) => setTimeout(act, 16) });
});
afterEach(() => {
  jest.useRealTimers();
});

test('a patch is compiled, given to the engine and told, once for the same patch', () => {
  const { programs, given, changes, samples } = begin();
  programs.show(rig, a);
  programs.show(rig, a);
  expect(given).toHaveLength(1);
  expect(programs.serial).toBe(1);
  expect(changes).toEqual([{ rig, patch: a, before: null, otherRig: true }]);
  expect([...samples.needed]).toEqual(given[0].samples.map(({ key }) => key));
  programs.show(rig, b);
  expect(changes[1]).toEqual({ rig, patch: b, before: a, otherRig: false });
});

test.each([
  ['sounds', { sounds: [newSound('bell', 'Bell', [newZone('bell', 72)])] }],
  ['samples', { samples: rig.samples.map((sample) => ({ ...sample, frames: 5000 })) }],
  ['controllers', { controllers: { ...rig.controllers, keyLow: 30 } }],
  ['pitch', { pitch: { ...rig.pitch, a4: 415 } }],
  ['instruments', { instruments: [newInstrument('loft', 'Loft')] }],
] as [string, Partial<Rig>][])('the same patch with other %s of its rig is heard so', (_, change) => {
  const { programs, given, changes } = begin();
  programs.show(rig, a);
  programs.show({ ...rig, ...change }, a);
  expect(changes).toHaveLength(2);
  expect(given).toHaveLength(2);
  if (change.pitch) expect(given[1].layers[0].tuned).not.toEqual(given[0].layers[0].tuned);
});

test('the first samples wait for the page to be drawn; neighbours in the show come before the rest', () => {
  const { programs, fetched } = begin();
  programs.show(rig, a);
  expect(fetched).toEqual([]);
  jest.advanceTimersByTime(50);
  expect(fetched).toEqual([['b', 'c']]);
  programs.expect([rig.patches[2]]);
  jest.advanceTimersByTime(50);
  expect(fetched[1]).toEqual(['c', 'b', 'c']);
  // The same neighbours again are no news.
  programs.expect([rig.patches[2]]);
  jest.advanceTimersByTime(50);
  expect(fetched).toHaveLength(2);
  programs.show(rig, b);
  expect(fetched[2]).toEqual(['c', 'c', 'a']);
});

test('a patch that cannot be compiled is told by name, and what played goes on', () => {
  const { programs, given, problems, wanted } = begin();
  programs.show(rig, a);
  const { program } = programs;
  programs.show(rig, { ...b, layers: null as never });
  expect(problems).toHaveLength(1);
  expect(problems[0]).toMatch(/^compile: b: .*; it plays as it was before$/);
  expect(programs.program).toBe(program);
  expect(given).toHaveLength(1);
  expect(wanted).toEqual(['a', 'b']);
});

test('another rig makes the samples of the one before forgotten', () => {
  const { programs, samples } = begin();
  programs.show(rig, a);
  expect(samples.forgotten).toBe(1);
  programs.show(rig, b);
  expect(samples.forgotten).toBe(1);
  programs.show({ ...rig, id: 'other' }, a);
  expect(samples.forgotten).toBe(2);
});

test('an edit that takes long is made up for later: the last state plays in the end', () => {
  const { programs, given } = begin();
  let now = 0;
  const clock = jest.spyOn(performance, 'now').mockImplementation(() => now);
  const changed = jest.spyOn(programs as never, 'showAtOnce' as never).mockImplementation(((
    shown: Rig,
    patch: Patch,
  ) => {
    Object.assign(programs, { rig: shown, patch });
    given.push(patch as never);
    now += 50;
  }) as never);
  programs.show(rig, a);
  const edits = [1, 2, 3].map((tempo) => ({ ...a, tempo: 100 + tempo }));
  for (const edit of edits) {
    now += 10;
    programs.show(rig, edit);
  }
  expect(given).toHaveLength(1);
  now += 1000;
  jest.advanceTimersByTime(1000);
  expect(given).toHaveLength(2);
  expect(programs.patch).toBe(edits[2]);
  clock.mockRestore();
  changed.mockRestore();
});

test('a device of a low rate gets copies of its own, one of a usual rate the same program', () => {
  const { programs, host, given } = begin();
  programs.show(rig, a);
  host.context = { sampleRate: 48000 };
  programs.followRate();
  expect(given).toHaveLength(1);
  host.context = { sampleRate: 16000 };
  programs.followRate();
  expect(given).toHaveLength(2);
  expect(programs.patch).toBe(a);
});

test('how ready a patch is, is asked of the samples it needs; one that cannot be compiled has no answer', () => {
  const { programs } = begin();
  expect(programs.readinessOf(rig, a)).toEqual({ coming: 1, missing: 0 });
  expect(programs.readinessOf(rig, { ...a, layers: null as never })).toBeUndefined();
});

describe('samples after an edit', () => {
  const edited = (patch: Patch): Patch => ({ ...patch, layers: [{ ...patch.layers[0], params: { level: -9 } }] });
  const inRig = (patch: Patch): Rig => ({
    ...rig,
    patches: rig.patches.map((each) => (each.id === patch.id ? patch : each)),
  });
  /** How often samples were asked for, before an edit and after it. */
  function asked(change: (samples: { settled: boolean }) => { rig: Rig; patch: Patch }) {
    const { programs, samples, fetched, given } = begin();
    programs.show(rig, a);
    jest.advanceTimersByTime(50);
    const before = fetched.length;
    const next = change(samples);
    jest.advanceTimersByTime(5000);
    programs.show(next.rig, next.patch);
    jest.advanceTimersByTime(50);
    expect(given).toHaveLength(2);
    return fetched.length - before;
  }

  test('that wants the same asks for none again', () => {
    expect(asked(() => ({ rig: inRig(edited(a)), patch: edited(a) }))).toBe(0);
  });
  test('while some are still to come, they are asked for in the order of now', () => {
    expect(
      asked((samples) => {
        samples.settled = false;
        return { rig: inRig(edited(a)), patch: edited(a) };
      }),
    ).toBe(1);
  });
  test('of another patch of the rig, as well', () => {
    const both = { ...inRig(edited(a)), patches: [edited(a), edited(b), rig.patches[2]] };
    expect(asked(() => ({ rig: both, patch: both.patches[0] }))).toBe(1);
  });
  test('that takes a sound away, as well: what nobody needs goes', () => {
    const bare = { ...a, layers: [] };
    expect(asked(() => ({ rig: inRig(bare), patch: bare }))).toBe(1);
  });
});

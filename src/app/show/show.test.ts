import { newEntry, newPatch, newRig, newSetlist } from '../../core/rig/defaults';
import type { Patch, Rig } from '../../core/rig/schema';

/**
 * The session and the state, as far as the show needs them; the order in which both hear of a change is what matters.
 */
const heard: string[] = [];
const session = {
  shownPatchId: undefined as string | undefined,
  onAction: (_target: string) => undefined as void,
  onChoice: (_which: string, _place: number) => undefined as void,
  onUnchosen: (_program: number, _channel: number) => undefined as void,
  onTakeProgram: (_program: number) => undefined as void,
  show: (_rig: Rig, patch: Patch) => {
    session.shownPatchId = patch.id;
    heard.push(`show ${patch.id} ${patch.tempo}`);
  },
  programs: { expect: (patches: Patch[]) => heard.push(`expect ${patches.map(({ id }) => id).join(' ')}`) },
  panic: () => heard.push('panic'),
};
const rig: Rig = {
  ...newRig('r', 'R'),
  patches: ['a', 'b', 'c', 'out'].map((id) => newPatch(id, id.toUpperCase())),
  setlists: [
    newSetlist('s', 'S', [
      newEntry('e1', 'patch', ['a']),
      { ...newEntry('e2', 'song', ['b', 'a']), name: 'Song', tempo: 90 },
      newEntry('e3', 'pause'),
      newEntry('e4', 'patch', ['c']),
    ]),
  ],
  setlist: 's',
};
const state = {
  rig: { rig: rig as Rig | null },
  show: { stepId: null as string | null, asideId: null as string | null, onStage: true },
};
jest.mock('../sound/session', () => ({ session }));
jest.mock('../document/store', () => ({
  mount: () => undefined,
  notice: (_kind: string, text: string) => ({ type: 'notice', payload: text }),
  store: {
    getState: () => state,
    dispatch: ({ type, payload }: { type: string; payload: string }) => {
      heard.push(`${type.replace('show/', '')} ${payload}`);
      if (type === 'show/stepSet') Object.assign(state.show, { stepId: payload, asideId: null });
      else if (type !== 'notice') state.show.asideId = payload;
    },
  },
}));
const kept = new Map<string, string>();
Object.defineProperty(globalThis, 'localStorage', {
  value: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
  },
  configurable: true,
});

// eslint-disable-next-line @typescript-eslint/no-require-imports
const shows = require('./show') as typeof import('./show');
const { keptStep, neighboursOf, placeInShow, playedAt, playsOnStage, show, stepsOfShow, titleOfStep } = shows;
const opened: string[] = [];
show.navigate = (id) => opened.push(id);
const at = () => placeInShow(rig, state.show.stepId);

beforeEach(() => {
  heard.length = opened.length = 0;
  Object.assign(state.show, { stepId: null, asideId: null, onStage: true });
  session.shownPatchId = undefined;
});

test('the engine hears of a step before the page does, then of its neighbours; the step is kept', () => {
  show.goTo(1);
  expect(heard).toEqual(['show b 90', 'expect a a', 'stepSet e2.0']);
  expect(keptStep('r')).toBe('e2.0');
  show.next();
  expect(heard.slice(3)).toEqual(['show a 90', 'expect c b', 'stepSet e2.1']);
});
test('in a pause the patch before goes on, and the one after is made ready', () => {
  show.goTo(3);
  expect(heard).toEqual(['show a 90', 'expect c a', 'stepSet e3.0']);
  expect(playedAt(rig, 3)!.patch.id).toBe('a');
});
test('before the first, after the last and beyond, nothing changes', () => {
  show.goTo(0);
  heard.length = 0;
  for (const go of [
    () => show.previous(),
    () => show.goTo(99),
    () => show.goTo(-1),
    () => show.goTo(NaN),
    () => show.act('show.step.0'),
    () => show.act('patch.nobody'),
    () => show.act('show.later'),
  ])
    go();
  expect(heard).toEqual([]);
  show.goTo(4);
  heard.length = 0;
  show.next();
  expect(heard).toEqual([]);
});
test('controls and program changes go to steps and patches; a patch that stands in several goes to the next of them', () => {
  session.onAction('show.step.5');
  expect(at()).toBe(4);
  session.onChoice('setlist', 1);
  expect(at()).toBe(1);
  session.onAction('patch.a');
  expect(at()).toBe(2);
  session.onAction('patch.a');
  expect(at()).toBe(0);
  session.onChoice('patches', 2);
  expect(at()).toBe(4);
  session.onAction('show.silence');
  expect(heard[heard.length - 1]).toBe('panic');
});
test('a program change that chooses nothing is told, and why', () => {
  heard.length = 0;
  session.onChoice('setlist', 99);
  session.onChoice('patches', 4);
  session.onUnchosen(6, 3);
  expect(heard).toEqual([
    'notice Program change 100 chose nothing: the setlist has 5 steps.',
    'notice Program change 5 chose nothing: the rig has 4 patches.',
    'notice Program change 7 came in and chose nothing: program changes are off (Stage, “Going through the show”).',
  ]);
});
test('a patch that the show does not have plays beside it, by its own name, until another step comes', () => {
  show.goTo(1);
  session.onAction('patch.out');
  expect(heard[heard.length - 1]).toBe('asideSet out');
  expect(playsOnStage(rig, at(), state.show.asideId)!.id).toBe('out');
  show.next();
  expect(playsOnStage(rig, at(), state.show.asideId)!.id).toBe('a');
});
test('while building, a control opens the patch of the step and leaves the engine to the view', () => {
  state.show.onStage = false;
  show.goTo(1);
  session.onAction('patch.out');
  session.onAction('show.next');
  session.onAction('show.next');
  expect(opened).toEqual(['b', 'out', 'a']);
  expect(heard.filter((each) => each.startsWith('show'))).toEqual([]);
});
test('program changes of a take go nowhere but on the walk through the show', () => {
  session.onTakeProgram(3);
  expect(heard).toEqual([]);
  show.walking = true;
  session.onTakeProgram(4);
  expect(at()).toBe(4);
  show.walking = false;
});
test('where the show is follows what it was edited to: its entry, else the patch in view, else the first', () => {
  expect(placeInShow(rig, 'e2.7')).toBe(1);
  session.shownPatchId = 'c';
  expect(placeInShow(rig, 'gone.0')).toBe(4);
  session.shownPatchId = 'out';
  expect(placeInShow(rig, null)).toBe(0);
  expect(placeInShow({ ...rig, setlist: null, setlists: [] }, null)).toBe(-1);
  expect(playsOnStage({ ...rig, setlist: null, setlists: [] }, -1, null)).toBeUndefined();
});
test('steps are the same list for the same rig, their patches the same objects each time, and their names those of the show', () => {
  expect(stepsOfShow(rig)).toBe(stepsOfShow(rig));
  expect(playedAt(rig, 1)!.patch).toBe(playedAt(rig, 1)!.patch);
  expect(neighboursOf(rig, 0)[0]).toBe(playedAt(rig, 1)!.patch);
  expect(stepsOfShow(rig).map((step) => titleOfStep(rig, step))).toEqual([
    { title: 'A', song: '' },
    { title: 'B', song: 'Song' },
    { title: 'A', song: 'Song' },
    { title: 'Pause', song: '' },
    { title: 'C', song: '' },
  ]);
});

import { METER, METER_LENGTH } from '../../host/protocol';

/** What the page knows, as these tests set it. */
const meters = new Float32Array(METER_LENGTH);
const told: unknown[] = [];
const status = { names: [] as string[], text: '' };
const listeners = { midi: [] as (() => void)[] };
const audio = {
  state: 'running',
  problem: '',
  meters,
  onDevice: (_text: string) => undefined as void,
  onFault: (_id: string) => undefined as void,
  subscribe: () => () => undefined,
  send: (event: unknown) => told.push(event),
  watch: jest.fn(),
  start: jest.fn(() => Promise.resolve()),
};
const missing = { here: 0, next: 0 };
const pairs = { missing: [] as string[], isClickLost: false };
const plugged: string[] = [];
const state = {
  rig: { rig: { id: 'r', instruments: [] as unknown[] } as object | null, readOnly: false },
  show: { onStage: true, stepId: null },
};
const patch = {
  id: 'p',
  name: 'Low Water',
  layers: [{ id: 'a', name: 'Keys', effects: [], path: { instrument: 'loft' } }],
  told: [],
  knobs: [],
  groups: [],
  pools: [],
  main: { effects: [{ id: 'e', kind: 'reverb' }] },
};
jest.mock('../sound/session', () => ({
  session: {
    audio,
    midi: {
      status,
      subscribe: (listener: () => void) => {
        listeners.midi.push(listener);
        return () => undefined;
      },
    },
    pairs,
    live: { problem: '' },
    outputs: { has: (name: string) => plugged.includes(name) },
    shown: patch,
    shownPatchId: 'p',
    program: { layers: [{ id: 'a' }] },
    ears: { allow: (most: number | null) => told.push({ type: 'voices', most }) },
    programs: {
      readinessOf: (_rig: unknown, of: { id: string }) => ({
        coming: 0,
        missing: of.id === 'p' ? missing.here : missing.next,
      }),
    },
  },
}));
jest.mock('../document/store', () => ({ store: { getState: () => state, subscribe: () => () => undefined } }));
jest.mock('./show', () => ({ placeInShow: () => 0, neighboursOf: () => [{ id: 'q', name: 'Tern Colony' }] }));
jest.mock('../jobs/measuring', () => ({
  measureCosts: () =>
    Promise.resolve({ effects: [{ id: 'e', place: 'main', label: 'Reverb', share: 0.2 }], voices: [0.004] }),
}));

const battery = { level: 1, charging: false };
Object.defineProperty(globalThis, 'navigator', {
  value: { getBattery: () => Promise.resolve(battery) },
  configurable: true,
});
jest.useFakeTimers();

// eslint-disable-next-line @typescript-eslint/no-require-imports
const { troubles } = require('./troubles') as typeof import('./troubles');
troubles.start();
const look = async (times = 1) => {
  for (let n = 0; n < times; n++) await jest.advanceTimersByTimeAsync(500);
};
const texts = () => troubles.list.map(({ text }) => text);
const of = (id: string) => troubles.list.find((each) => each.id === id);

beforeEach(async () => {
  meters.fill(0);
  told.length = 0;
  Object.assign(missing, { here: 0, next: 0 });
  state.rig.readOnly = false;
  audio.state = 'running';
  battery.level = 1;
  await look(8);
});

test('where all is well, nothing is told', () => expect(texts()).toEqual([]));
test('a controller that goes is told until it is back, or until somebody knows', async () => {
  const hear = (names: string[]) => {
    status.names = names;
    for (const listener of listeners.midi) listener();
  };
  hear(['Keys 61', 'Pedals']);
  expect(texts()).toEqual([]);
  hear(['Pedals']);
  expect(of('controller')?.text).toContain('“Keys 61” is gone');
  hear(['Keys 61', 'Pedals']);
  expect(of('controller')).toBeUndefined();
  hear([]);
  of('controller')!.action!.run();
  expect(of('controller')).toBeUndefined();
  await look();
});
test('what was begun anew because it made no sound is told by its name, for a while', async () => {
  audio.onFault('e');
  expect(texts()).toEqual([expect.stringContaining('The reverb on ')]);
  audio.onFault('a');
  expect(texts()).toEqual([expect.stringContaining('The layer Keys made what no loudspeaker can play')]);
  await look(30);
  expect(texts()).toEqual([]);
});
test('samples that are missing here come before those of the neighbours', async () => {
  missing.next = 2;
  await look();
  expect(of('samples')?.text).toBe('Samples of Tern Colony are missing.');
  missing.here = 1;
  await look();
  expect(of('samples')?.text).toBe('1 sample of Low Water is missing: its keys stay silent.');
});
test('a low battery, another tab and sound that waits are told; a charger ends the first', async () => {
  battery.level = 0.15;
  state.rig.readOnly = true;
  audio.state = 'off';
  await look();
  expect(troubles.list.map(({ id }) => id)).toEqual(['sound', 'battery', 'tab']);
  battery.charging = true;
  await look();
  expect(of('battery')).toBeUndefined();
  battery.charging = false;
});
test('a load over 80 % that stays is told with what costs most; a burst is not', async () => {
  meters[METER.load] = 0.9;
  await look(2);
  expect(of('load')).toBeUndefined();
  meters[METER.load] = 0.3;
  await look(8);
  meters[METER.load] = 0.9;
  await look(4);
  expect(of('load')).toMatchObject({
    text: expect.stringMatching(/limit\. Most of it: reverb on .*20 %/) as unknown,
    action: { label: 'lighter' },
  });
  meters[METER.load] = 0.4;
  await look(8);
  expect(of('load')).toBeUndefined();
});
test('lighter allows as many voices as bring the load under 60 %, fewer where that was not enough, and all again when asked', async () => {
  meters[METER.load] = 0.9;
  meters[METER.voices] = 200;
  await look(4);
  of('load')!.action!.run();
  // 200 · 0.57 / 0.9
  expect(told).toEqual([{ type: 'voices', most: 126 }]);
  expect(of('load')?.text).toContain('126 voices at the most');
  meters[METER.load] = 0.7;
  meters[METER.voices] = 126;
  await look();
  expect(told[1]).toEqual({ type: 'voices', most: 102 });
  meters[METER.load] = 0.55;
  meters[METER.voices] = 102;
  await look(4);
  expect(told).toHaveLength(2);
  of('load')!.action!.run();
  expect(told[2]).toEqual({ type: 'voices', most: null });
  await look(8);
  expect(of('load')).toBeUndefined();
});
test('a sound device that was replaced is told for a while', async () => {
  audio.onDevice('The sound device was gone.');
  expect(texts()).toEqual(['The sound device was gone.']);
  await look(30);
  expect(texts()).toEqual([]);
});

test('an output that is not there, and a pair that has no channels, are told by name until they are', async () => {
  state.rig.rig = { id: 'r', instruments: [{ id: 'loft', name: 'Loft', output: 'Loft out' }] };
  pairs.missing = ['phones'];
  await look();
  expect(of('outside')?.text).toMatch(/^“Loft” is not there/);
  expect(of('outputs')?.text).toBe(
    'This sound device has no channels for “phones”: what goes there is heard in the first pair.',
  );
  pairs.isClickLost = true;
  plugged.push('Loft out');
  await look();
  expect(of('outside')).toBeUndefined();
  expect(of('outputs')?.text).toMatch(/, and the click is silent\.$/);
  pairs.missing = [];
  await look();
  expect(of('outputs')).toBeUndefined();
  state.rig.rig = { id: 'r', instruments: [] };
});

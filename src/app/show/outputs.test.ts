import { newRig } from '../../core/rig/defaults';
import { addPair, setClick } from '../../core/rig/edits/pairs';
import type { Rig } from '../../core/rig/schema';

/** The page as these tests set it. */
const used: [string, string][] = [];
const told: string[] = [];
const pairs = {
  clicks: false,
  follow: jest.fn(),
  setClicks: (on: boolean) => {
    pairs.clicks = on;
    return true;
  },
};
const state = {
  rig: { rig: setClick(addPair(newRig('r', 'R'), 'phones'), { pair: 'phones' }) as Rig | null },
  settings: { channels: {}, device: null as { id: string; name: string } | null, latency: 'lowest', input: null },
  show: { onStage: false },
};
const listeners: (() => void)[] = [];
jest.mock('../sound/session', () => ({
  session: {
    pairs,
    live: { use: () => Promise.resolve() },
    audio: { useDevice: (id: string, latency: string) => used.push([id, latency]) },
  },
}));
jest.mock('../document/store', () => ({
  store: {
    getState: () => state,
    subscribe: (listener: () => void) => listeners.push(listener),
    dispatch: (text: string) => told.push(text),
  },
  notice: (_kind: string, text: string) => text,
}));
let devices: { kind: string; deviceId: string; label: string }[] = [];
let changed: () => void = () => undefined;
Object.defineProperty(globalThis, 'navigator', {
  value: {
    mediaDevices: {
      enumerateDevices: () => Promise.resolve(devices),
      addEventListener: (_type: string, listener: () => void) => {
        changed = listener;
      },
    },
  },
  configurable: true,
});
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { leaving } = require('./outputs') as typeof import('./outputs');
const look = async (act: () => void) => {
  act();
  for (const listener of listeners) listener();
  await new Promise((resolve) => setTimeout(resolve));
};
const loft = { kind: 'audiooutput', deviceId: 'loft-1', label: 'Loft Interface' };

test('pairs and click of the rig are followed; on Stage a click that nobody allowed there is off', async () => {
  leaving.start();
  await look(() => undefined);
  expect(pairs.follow).toHaveBeenCalledTimes(1);
  expect(used).toEqual([['', 'lowest']]);
  await look(() => (pairs.clicks = true));
  expect(pairs.clicks).toBe(true);
  await look(() => (state.show = { onStage: true }));
  expect(pairs.clicks).toBe(false);
  state.rig = { rig: setClick(state.rig.rig!, { stage: true }) };
  await look(() => (pairs.clicks = true));
  expect(pairs.clicks).toBe(true);
  used.length = 0;
});

test('the device is found by its id, or by its name where ids have changed', async () => {
  devices = [loft];
  await look(() => (state.settings = { ...state.settings, device: { id: 'loft-1', name: 'Loft Interface' } }));
  expect(used).toEqual([['loft-1', 'lowest']]);
  devices = [{ ...loft, deviceId: 'loft-2' }];
  changed();
  await look(() => undefined);
  expect(used.at(-1)).toEqual(['loft-2', 'lowest']);
  expect(told).toEqual([]);
});

test('where it goes, that of the system plays and it is told once; it plays again when it is back', async () => {
  devices = [];
  changed();
  await look(() => undefined);
  changed();
  await look(() => undefined);
  expect(used.at(-1)).toEqual(['', 'lowest']);
  expect(told).toEqual([expect.stringContaining('“Loft Interface” is not there: that of the system plays')]);
  devices = [loft];
  changed();
  await look(() => undefined);
  expect(used.at(-1)).toEqual(['loft-1', 'lowest']);
  expect(told[1]).toBe('“Loft Interface” is back, and plays again.');
  await look(() => (state.settings = { ...state.settings, latency: 'safe' }));
  expect(used.at(-1)).toEqual(['loft-1', 'safe']);
});

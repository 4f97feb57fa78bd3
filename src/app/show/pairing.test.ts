import type { GuestMessage, HostMessage, StageState, ToHost } from '../../core/remote/messages';
import type { EngineEvent } from '../../core/engine/hands/event';
import { METER_LENGTH } from '../../host/protocol';

/** A socket, a session and a show, as far as the pairing needs them. */
const said: HostMessage[] = [];
class Socket {
  static readonly OPEN = 1;
  static last: Socket;
  readyState = 1;
  onopen: () => void = () => undefined;
  onmessage: (message: { data: string }) => void = () => undefined;
  onclose: () => void = () => undefined;
  constructor(readonly address: string) {
    Socket.last = this;
  }
  send(text: string): void {
    said.push(JSON.parse(text) as HostMessage);
  }
  close(): void {
    this.readyState = 3;
    this.onclose();
  }
}
const played: EngineEvent[] = [];
const moved: [string, number][] = [];
const went: string[] = [];
const patch = (id: string) => ({
  id,
  macros: [
    { number: 1, style: 'strip' },
    { number: 2, style: 'momentary' },
  ],
  xyPads: [{ number: 1 }],
});
const listeners: (() => void)[] = [];
const session = {
  shown: patch('a'),
  audio: { meters: new Float32Array(METER_LENGTH) },
  subscribe: (listener: () => void) => {
    listeners.push(listener);
    return () => listeners.splice(listeners.indexOf(listener), 1);
  },
  play: (event: EngineEvent) => played.push(event),
  moveLive: (target: string, value: number) => moved.push([target, value]),
  liveOf: () => 0.25,
  panic: () => went.push('silence'),
};
let stage: Partial<StageState> = { title: 'Low Water', place: 0, next: 'Tern Colony' };
jest.mock('../sound/session', () => ({ session }));
jest.mock('./show', () => ({
  show: {
    next: () => went.push('next'),
    previous: () => went.push('previous'),
    goTo: (place: number) => went.push(`go ${place}`),
  },
}));
jest.mock('./stageState', () => ({ stageState: () => stage }));
jest.mock('../document/store', () => ({
  store: { getState: () => ({ rig: { rig: {} }, show: { stepId: null } }), subscribe: () => () => undefined },
}));
let macro = 0;
const kept = new Map<string, string>();
jest.mock('../sound/live', () => ({ dotNow: () => ({ x: 0.5, y: 0.5 }), sourceNow: () => macro }));
Object.assign(globalThis, {
  WebSocket: Socket,
  location: { protocol: 'http:', host: 'localhost:4180' },
  localStorage: { getItem: () => null, setItem: () => undefined },
  sessionStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => kept.set(key, text),
    removeItem: (key: string) => kept.delete(key),
  },
});
jest.useFakeTimers({ doNotFake: ['queueMicrotask'] });

// eslint-disable-next-line @typescript-eslint/no-require-imports
const { pairing } = require('./pairing') as typeof import('./pairing');
const hear = (message: ToHost) => Socket.last.onmessage({ data: JSON.stringify(message) });
const from = (id: number, message: GuestMessage) => hear({ type: 'from', id, message });
const clear = () => {
  for (const list of [said, played, moved, went]) list.length = 0;
};

beforeEach(() => {
  pairing.close();
  session.shown = patch('a');
  stage = { title: 'Low Water', place: 0, next: 'Tern Colony' };
  macro = 0;
  pairing.setLost('rest');
  pairing.open();
  Socket.last.onopen();
  hear({ type: 'joined', id: 1, name: 'tablet', tokens: ['tablet'], spare: false });
  clear();
});

test('a device that joins is told the stage; then only what changes', async () => {
  hear({ type: 'joined', id: 2, name: 'phone', tokens: ['phone'], spare: false });
  expect(said).toEqual([{ type: 'tell', body: { type: 'stage', stage } }]);
  for (const listener of listeners) listener();
  await Promise.resolve();
  expect(said).toHaveLength(1);
  stage = { ...stage, title: 'Tern Colony' };
  // Told once, however much of the change is heard of.
  for (let n = 0; n < 3; n++) for (const listener of listeners) listener();
  await Promise.resolve();
  expect(said).toHaveLength(2);
  jest.advanceTimersByTime(50);
  expect(said[2]).toMatchObject({ body: { type: 'live', live: { macros: [0, 0], dots: [0.5, 0.5] } } });
  jest.advanceTimersByTime(500);
  expect(said).toHaveLength(3);
});
test('what it asks for is done as hands would do it; what the patch does not have is left alone', () => {
  from(1, { type: 'macro', number: 1, value: 0.5 });
  from(1, { type: 'macro', number: 9, value: 0.5 });
  from(1, { type: 'xy', number: 1, x: 0.1, y: 0.2, letGo: false });
  from(1, { type: 'xy', number: 3, x: 0.1, y: 0.2, letGo: false });
  for (const type of ['next', 'previous', 'silence'] as const) from(1, { type });
  from(1, { type: 'go', place: 4 });
  expect(moved).toEqual([['macro.1', 0.5]]);
  expect(played).toEqual([{ type: 'xy', number: 1, x: 0.1, y: 0.2, letGo: false }]);
  expect(went).toEqual(['next', 'previous', 'silence', 'go 4']);
});
test('a ping comes back to the one that sent it, and its latency is shown', () => {
  from(1, { type: 'ping', at: 12, latency: 7 });
  expect(said).toEqual([{ type: 'tell', to: 1, body: { type: 'pong', at: 12 } }]);
  expect(pairing.devices).toEqual([{ id: 1, name: 'tablet', latency: 7 }]);
});
test('what a lost device held goes back to rest, and nothing of another device or another patch', () => {
  hear({ type: 'joined', id: 2, name: 'phone', tokens: ['phone'], spare: false });
  from(1, { type: 'macro', number: 1, value: 0.5 });
  from(2, { type: 'xy', number: 1, x: 0.1, y: 0.2, letGo: false });
  clear();
  hear({ type: 'left', id: 1 });
  expect(played).toEqual([{ type: 'rest', kind: 'macro', number: 1 }]);
  clear();
  session.shown = patch('b');
  hear({ type: 'left', id: 2 });
  expect(played).toEqual([]);
  expect(pairing.devices).toEqual([]);
});
test('or stays as chosen: but a finger that was down has left, and what springs back has sprung', () => {
  pairing.setLost('stay');
  from(1, { type: 'macro', number: 1, value: 0.5 });
  from(1, { type: 'macro', number: 2, value: 1 });
  from(1, { type: 'xy', number: 1, x: 0.1, y: 0.2, letGo: false });
  clear();
  pairing.dismiss(1);
  expect(said).toEqual([{ type: 'dismiss', id: 1 }]);
  expect(moved).toEqual([['macro.2', 0]]);
  expect(played).toEqual([{ type: 'xy', number: 1, x: 0.25, y: 0.25, letGo: true }]);
});
test('OSC is told of stages and macros while it is on, and of nothing before', () => {
  macro = 0.4;
  jest.advanceTimersByTime(50);
  expect(said.some(({ type }) => type === 'say')).toBe(false);
  hear({ type: 'osc', in: null, out: { address: '127.0.0.1', port: 9001 }, problem: '' });
  macro = 0.6;
  jest.advanceTimersByTime(50);
  expect(said).toEqual(
    expect.arrayContaining([
      { type: 'say', address: '/wavicle/macro/1', values: [0.6] },
      { type: 'say', address: '/wavicle/macro/2', values: [0.6] },
    ]),
  );
});
test('where the line is lost, or another tab offers the pairing, it ends here: nothing is held, and it is told', () => {
  from(1, { type: 'macro', number: 1, value: 0.5 });
  clear();
  hear({ type: 'problem', text: 'Another tab offers the pairing now.' });
  expect([pairing.state, pairing.devices, pairing.room, pairing.problem]).toEqual([
    'off',
    [],
    null,
    'Another tab offers the pairing now.',
  ]);
  expect(played).toEqual([{ type: 'rest', kind: 'macro', number: 1 }]);
  pairing.open();
  Socket.last.close();
  expect([pairing.state, pairing.problem]).toEqual([
    'off',
    expect.stringContaining('open it on the machine that serves it'),
  ]);
});

test('a server that was started anew is given the room again, with the devices and the OSC it had', () => {
  pairing.setOsc({ address: '127.0.0.1', port: 9000 }, null);
  hear({ type: 'joined', id: 2, name: 'phone', tokens: ['old', 'new'], spare: false });
  hear({ type: 'left', id: 2 });
  hear({ type: 'joined', id: 3, name: 'sent away', tokens: ['x'], spare: false });
  hear({ type: 'gone', id: 3 });
  const before = Socket.last;
  before.close();
  expect(pairing.state).toBe('lost');
  expect(pairing.devices).toEqual([]);
  expect(Socket.last).toBe(before);
  clear();
  jest.advanceTimersByTime(300);
  expect(Socket.last).not.toBe(before);
  // Not there yet: longer each time.
  const second = Socket.last;
  second.close();
  jest.advanceTimersByTime(900);
  expect(Socket.last).toBe(second);
  jest.advanceTimersByTime(100);
  expect(Socket.last).not.toBe(second);
  Socket.last.onopen();
  expect(said).toEqual([
    {
      type: 'open',
      seats: [
        { id: 1, name: 'tablet', tokens: ['tablet'] },
        { id: 2, name: 'phone', tokens: ['old', 'new'] },
      ],
    },
    { type: 'osc', in: { address: '127.0.0.1', port: 9000 }, out: null },
  ]);
  expect(pairing).toMatchObject({ state: 'open', problem: '' });
});
test('a page that is loaded anew offers what it offered; one that ended the pairing does not', () => {
  expect(kept.size).toBe(1);
  const text = kept.get('wavicle-pairing')!;
  pairing.close();
  expect(kept.size).toBe(0);
  const before = Socket.last;
  pairing.resume();
  jest.advanceTimersByTime(5000);
  expect(Socket.last).toBe(before);
  kept.set('wavicle-pairing', text);
  pairing.resume();
  jest.advanceTimersByTime(300);
  Socket.last.onopen();
  expect(said.at(-1)).toEqual({ type: 'open', seats: [{ id: 1, name: 'tablet', tokens: ['tablet'] }] });
});
test('a tab that another one has taken the devices from does not ask for them again', () => {
  hear({ type: 'problem', text: 'Another tab offers the pairing now.' });
  const before = Socket.last;
  jest.advanceTimersByTime(10_000);
  expect(Socket.last).toBe(before);
  expect(pairing).toMatchObject({ state: 'off', problem: 'Another tab offers the pairing now.' });
});

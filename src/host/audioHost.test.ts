jest.mock('./engineProcessor?worker&url', () => ({ __esModule: true, default: '/worklet.js' }), { virtual: true });
import type { Program } from '../core/engine/program/program';
import { AudioHost } from './audioHost';
import type { ToEngine } from './protocol';

/** A browser's audio, as far as the host looks at it. */
const posted: ToEngine[] = [];
let failing = false;
let closed = 0;
class Node {
  port = {
    onmessage: null as null | ((message: { data: unknown }) => void),
    postMessage: (message: ToEngine) => posted.push(message),
  };
  onprocessorerror: (() => void) | null = null;
  connected = true;
  connect(): void {
    nodes.push(this);
  }
  disconnect(): void {
    this.connected = false;
  }
}
const nodes: Node[] = [];
class Context {
  state = 'running';
  currentTime = 10;
  destination = {};
  audioWorklet = {
    addModule: async () => {
      if (failing) throw new Error('no worklets here');
    },
  };
  onstatechange: (() => void) | null = null;
  close = async () => {
    closed++;
  };
  resume = async () => {
    this.state = 'running';
    this.onstatechange?.();
  };
}
beforeEach(() => {
  posted.length = nodes.length = 0;
  failing = false;
  closed = 0;
  Object.assign(globalThis, { AudioContext: Context, AudioWorkletNode: Node });
});
const program = (name: string) => ({ name, mix: { places: [] as unknown[] } }) as Program;
const types = () => posted.map((message) => message.type);

test('an engine that begins is told the last program, the samples and the solo; the hands are asked for, and strikes of before come once it is ready for them', async () => {
  const host = new AudioHost();
  host.setProgram(program('one'));
  const serial = host.setProgram(program('two'));
  host.addSamples([
    { key: 'a', sample: {} as never },
    { key: 'b', sample: {} as never },
  ]);
  host.keepSamples(['b']);
  host.send({ type: 'solo', layerIds: ['l'] });
  host.send({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  host.audition(program('x'), [], 60, 100, 1);
  host.onFreshEngine = () => host.send({ type: 'controller', channel: 1, controller: 1, value: 9 });
  await host.start();
  expect(host.state).toBe('running');
  expect(posted).toEqual([
    { type: 'program', program: program('two'), serial },
    { type: 'samples', samples: [{ key: 'b', sample: {} }] },
    { type: 'event', event: { type: 'solo', layerIds: ['l'] } },
    { type: 'event', event: { type: 'controller', channel: 1, controller: 1, value: 9 } },
  ]);
  host.send({ type: 'noteOff', channel: 1, key: 60, velocity: 64 });
  expect(types()).toHaveLength(4);
  host.sendEarly();
  expect(posted.slice(4)).toMatchObject([
    { event: { type: 'noteOn', key: 60 } },
    { event: { type: 'noteOff', key: 60 } },
  ]);
  host.send({ type: 'noteOn', channel: 1, key: 62, velocity: 90 });
  expect(types()).toHaveLength(7);
});

test('what waited too long, or was silenced, is not heard when sound begins', async () => {
  const host = new AudioHost();
  host.send({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  host.send({ type: 'panic' });
  await host.start();
  host.sendEarly();
  expect(posted.filter((message) => message.type === 'event')).toEqual([]);
});

test('an engine that stops is replaced at once and told everything; one that stops again and again is given up', async () => {
  const host = new AudioHost();
  const problems: string[] = [];
  host.onProblem = (text) => problems.push(text);
  host.setProgram(program('one'));
  await host.start();
  posted.length = 0;
  nodes[0].onprocessorerror!();
  expect([host.state, nodes.length, nodes[0].connected]).toEqual(['running', 2, false]);
  expect(posted).toEqual([{ type: 'program', program: program('one'), serial: 1 }]);
  expect(problems).toEqual([expect.stringContaining('another took its place')]);
  nodes[0].onprocessorerror!();
  expect(nodes).toHaveLength(2);
  for (let i = 1; i < 4; i++) nodes[i].onprocessorerror!();
  expect([host.state, host.problem]).toEqual(['failed', 'the audio engine stops again and again; reload the page']);
  expect(closed).toBe(1);
  expect(nodes).toHaveLength(4);
});

test('what the browser stops is told, and a gesture lets it go on with the same engine', async () => {
  const host = new AudioHost();
  await host.start();
  const context = host.context as unknown as Context;
  context.state = 'suspended';
  context.onstatechange!();
  expect(host.state).toBe('off');
  await host.start();
  expect([host.state, nodes.length]).toEqual(['running', 1]);
});

test('an audition takes the place of the last, in the second engine alone', async () => {
  const host = new AudioHost();
  await host.start();
  host.audition(program('x'), [], 60, 127, 1.5);
  const last = posted[posted.length - 1];
  expect(last).toEqual({
    type: 'audition',
    message: { type: 'event', event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 }, time: 11.5 },
  });
  host.stopAudition();
  expect(new Set(types())).toEqual(new Set(['audition']));
  expect(posted.map((message) => (message.type === 'audition' ? message.message.type : ''))).toEqual([
    'event',
    'program',
    'keepSamples',
    'samples',
    'event',
    'event',
    'event',
  ]);
});

test('a browser without worklets is told about, and a second try can work', async () => {
  const host = new AudioHost();
  const told: string[] = [];
  host.subscribe(() => told.push(host.state));
  failing = true;
  await host.start();
  expect([host.state, host.problem]).toEqual(['failed', 'sound could not be started: no worklets here']);
  expect(closed).toBe(1);
  failing = false;
  await host.start();
  expect(host.state).toBe('running');
  expect(told).toEqual(['starting', 'failed', 'starting', 'running']);
});

test('what an engine could not do is told and the sound goes on; meters that are sent are taken', async () => {
  const host = new AudioHost();
  const problems: string[] = [];
  host.onProblem = (text) => problems.push(text);
  await host.start();
  const [node] = nodes;
  const values = new Float32Array(8).fill(2);
  node.port.onmessage!({ data: { type: 'meters', values } });
  expect(host.meters).toBe(values);
  node.port.onmessage!({ data: { type: 'failed', message: 'no such thing' } });
  expect(problems).toEqual([expect.stringContaining('no such thing')]);
  await host.start();
  expect([host.state, nodes.length]).toEqual(['running', 1]);
});

describe('a sound device that is withdrawn', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  const begin = async () => {
    const host = new AudioHost();
    host.setProgram(program('p'));
    await host.start();
    const said: string[] = [];
    host.onDevice = (text) => said.push(text);
    const context = host.context as unknown as Context;
    return { host, said, context };
  };
  test('a context that stops is asked to go on, and nothing is replaced where it does', async () => {
    const { host, said, context } = await begin();
    context.state = 'suspended';
    context.onstatechange?.();
    expect(host.state).toBe('off');
    await jest.advanceTimersByTimeAsync(1000);
    expect(host.state).toBe('running');
    expect(host.context).toBe(context);
    expect(said).toEqual([]);
  });
  test('one that will not, or was closed, is replaced by one that is told everything', async () => {
    for (const stops of ['suspended', 'closed']) {
      const { host, said, context } = await begin();
      context.resume = () => Promise.reject(new Error('no device'));
      context.state = stops;
      const before = posted.length;
      context.onstatechange?.();
      await jest.advanceTimersByTimeAsync(4000);
      expect(host.context).not.toBe(context);
      expect(host.state).toBe('running');
      expect(posted.slice(before)).toContainEqual(expect.objectContaining({ type: 'program', program: program('p') }));
      expect(said).toHaveLength(1);
    }
  });
  test('one that says it runs, but whose clock stands, is replaced after a moment; one whose clock goes is left alone', async () => {
    const { host, said, context } = await begin();
    const look = async (ms: number) => {
      await jest.advanceTimersByTimeAsync(ms);
      host.watch();
    };
    for (let n = 0; n < 20; n++) {
      context.currentTime += 0.5;
      await look(500);
    }
    expect(host.context).toBe(context);
    // Many looks at once, or a page that was held up, are no proof.
    for (let n = 0; n < 20; n++) await look(10);
    for (let n = 0; n < 4; n++) await look(4000);
    expect(host.context).toBe(context);
    for (let n = 0; n < 12; n++) await look(500);
    await jest.advanceTimersByTimeAsync(100);
    expect(host.context).not.toBe(context);
    expect(said).toHaveLength(1);
  });
});

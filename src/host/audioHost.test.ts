jest.mock('./engineProcessor?worker&url', () => ({ __esModule: true, default: '/worklet.js' }), { virtual: true });
import type { Program } from '../core/engine/program';
import { AudioHost } from './audioHost';
import type { ToEngine } from './protocol';

/** A browser's audio, as far as the host looks at it. */
const posted: ToEngine[] = [];
let failing = false;
class Node {
  port = { onmessage: null as null | ((message: { data: unknown }) => void), postMessage: (message: ToEngine) => posted.push(message) };
  onprocessorerror: (() => void) | null = null;
  connect(): void { nodes.push(this); }
}
const nodes: Node[] = [];
class Context {
  state = 'running';
  currentTime = 10;
  destination = {};
  audioWorklet = { addModule: async () => { if (failing) throw new Error('no worklets here'); } };
  resume = async () => { this.state = 'running'; };
}
beforeEach(() => {
  posted.length = nodes.length = 0;
  failing = false;
  Object.assign(globalThis, { AudioContext: Context, AudioWorkletNode: Node });
});
const program = (name: string) => ({ name }) as Program;
const types = () => posted.map((message) => message.type);

test('what is said before sound runs is said then: the last program, and no note of before', async () => {
  const host = new AudioHost();
  host.setProgram(program('one'));
  const serial = host.setProgram(program('two'));
  host.send({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  host.send({ type: 'controller', channel: 1, controller: 1, value: 9 });
  host.audition(program('x'), [], 60, 100, 1);
  await host.start();
  expect(host.state).toBe('running');
  expect(types()).toEqual(['program', 'event']);
  expect(posted[0]).toMatchObject({ program: { name: 'two' }, serial });
  host.send({ type: 'noteOn', channel: 1, key: 60, velocity: 90 });
  expect(types()).toHaveLength(3);
});

test('an audition takes the place of the last, in the second engine alone', async () => {
  const host = new AudioHost();
  await host.start();
  host.audition(program('x'), [], 60, 127, 1.5);
  const last = posted[posted.length - 1];
  expect(last).toEqual({ type: 'audition', message: { type: 'event', event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 }, time: 11.5 } });
  host.stopAudition();
  expect(new Set(types())).toEqual(new Set(['audition']));
  expect(posted.map((message) => (message.type === 'audition' ? message.message.type : ''))).toEqual(['event', 'program', 'keepSamples', 'samples', 'event', 'event', 'event']);
});

test('a browser without worklets is told about, and a second try can work', async () => {
  const host = new AudioHost();
  const told: string[] = [];
  host.subscribe(() => told.push(host.state));
  failing = true;
  await host.start();
  expect([host.state, host.problem]).toEqual(['failed', 'sound could not be started: no worklets here']);
  failing = false;
  await host.start();
  expect(host.state).toBe('running');
  expect(told).toEqual(['starting', 'failed', 'starting', 'running']);
});

test('an engine that stops says so; meters that are sent are taken', async () => {
  const host = new AudioHost();
  await host.start();
  const [node] = nodes;
  const values = new Float32Array(8).fill(2);
  node.port.onmessage!({ data: { type: 'meters', values } });
  expect(host.meters).toBe(values);
  node.onprocessorerror!();
  expect(host.problem).toContain('the audio engine stopped');
});

import type { MidiMessage } from '../core/music/midi';
import { MidiInput } from './midiInput';

interface StandIn {
  id: string;
  name: string;
  state: string;
  onmidimessage: ((message: { data: Uint8Array }) => void) | null;
}
const standIn = (id: string): StandIn => ({ id, name: `Stand-in ${id}`, state: 'connected', onmidimessage: null });

/** A browser with MIDI whose inputs come and go. */
async function make(...first: StandIn[]) {
  const access = {
    inputs: new Map(first.map((input) => [input.id, input])),
    onstatechange: null as null | (() => void),
  };
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: { requestMIDIAccess: () => Promise.resolve(access) },
  });
  const received: MidiMessage[] = [];
  const midi = new MidiInput((message) => received.push(message as MidiMessage));
  let told = 0;
  midi.subscribe(() => told++);
  await midi.open();
  const changed = () => access.onstatechange!();
  return { midi, received, inputs: access.inputs, changed, told: () => told };
}
const send = (input: StandIn, ...bytes: number[]) => input.onmidimessage!({ data: Uint8Array.from(bytes) });

test('inputs that are there and that come later are heard, each with a running status of its own', async () => {
  const a = standIn('a');
  const b = standIn('b');
  const { midi, received, inputs, changed, told } = await make(a);
  expect(midi.status).toEqual({ kind: 'ready', names: ['Stand-in a'], text: 'controller: Stand-in a' });
  inputs.set('b', b);
  changed();
  expect(midi.status.names).toEqual(['Stand-in a', 'Stand-in b']);
  expect(told()).toBe(2);
  send(a, 0x90, 60, 100);
  send(b, 0xb1, 1, 64);
  send(a, 62, 90);
  expect(received).toEqual([
    { type: 'noteOn', channel: 1, key: 60, velocity: 100 },
    { type: 'controller', channel: 2, controller: 1, value: 64 },
    { type: 'noteOn', channel: 1, key: 62, velocity: 90 },
  ]);
});

test.each(['gone from the list', 'disconnected'])(
  'an input whose cable is pulled (%s) lets go of what it held, and of nothing else',
  async (how) => {
    const a = standIn('a');
    const b = standIn('b');
    const { midi, received, inputs, changed } = await make(a, b);
    send(
      a,
      0x90,
      60,
      100,
      62,
      90,
      60,
      0,
      0xb0,
      64,
      127,
      66,
      127,
      66,
      0,
      1,
      99,
      7,
      20,
      0xe2,
      0,
      0,
      0xd0,
      50,
      0xa0,
      62,
      40,
    );
    send(b, 0x90, 48, 100);
    received.length = 0;
    if (how === 'disconnected') a.state = 'disconnected';
    else inputs.delete('a');
    changed();
    expect(received).toHaveLength(5);
    expect(received).toEqual(
      expect.arrayContaining([
        { type: 'noteOff', channel: 1, key: 62, velocity: 64 },
        { type: 'controller', channel: 1, controller: 64, value: 0 },
        { type: 'bend', channel: 3, bend: 0 },
        { type: 'channelPressure', channel: 1, pressure: 0 },
        { type: 'keyPressure', channel: 1, key: 62, pressure: 0 },
      ]),
    );
    expect(midi.status.names).toEqual(['Stand-in b']);
    // Plugged in again it starts afresh.
    a.state = 'connected';
    inputs.set('a', a);
    changed();
    send(a, 64, 90, 0x90, 64, 90);
    expect(received).toHaveLength(6);
  },
);

test('no MIDI, none permitted and nothing plugged in are told apart', async () => {
  expect((await make()).midi.status.kind).toBe('none');
  for (const [value, kind] of [
    [{}, 'unsupported'],
    [{ requestMIDIAccess: () => Promise.reject(new Error('no')) }, 'refused'],
  ] as const) {
    Object.defineProperty(globalThis, 'navigator', { configurable: true, value });
    const midi = new MidiInput(() => undefined);
    await midi.open();
    expect(midi.status.kind).toBe(kind);
  }
});

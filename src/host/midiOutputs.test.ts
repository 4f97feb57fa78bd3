import { STAND_IN_OUTPUT } from '../core/music/outside';
import { MidiOutputs } from './midiOutputs';
import { Monitor } from './monitor';

function outputs() {
  const sent: number[][] = [];
  // Each look at the clock is 5 ms later: there is room for everything.
  let now = 0;
  const made = new MidiOutputs(new Monitor(), () => (now += 5));
  made.follow([
    { name: 'Far Synth', state: 'connected', send: (bytes) => sent.push(bytes) },
    {
      name: 'Pulled',
      state: 'disconnected',
      send: () => {
        throw new Error('gone');
      },
    },
  ]);
  return { made, sent };
}

test('notes go out as note-on and note-off of MIDI 1.0 on their channel', () => {
  const { made, sent } = outputs();
  made.note('Far Synth', 3, 60, 100);
  made.note('Far Synth', 3, 60, 0);
  // Status 0x90 and 0x80 with the channel counted from 0; 64 is the release velocity of keyboards without one.
  expect(sent).toEqual([
    [0x92, 60, 100],
    [0x82, 60, 64],
  ]);
  expect(made.names).toEqual([STAND_IN_OUTPUT, 'Far Synth']);
});
test('what is held anywhere can be let go at once, and a note that is not held is not ended', () => {
  const { made, sent } = outputs();
  made.note('Far Synth', 1, 60, 90);
  made.note('Far Synth', 2, 64, 90);
  made.note('Far Synth', 1, 72, 0);
  made.letGo();
  made.letGo();
  expect(sent.slice(2)).toEqual([
    [0x80, 60, 64],
    [0x81, 64, 64],
  ]);
});
test('an output that is not there, or closes just now, is passed over', () => {
  const { made } = outputs();
  made.follow([
    {
      name: 'Broken',
      state: 'connected',
      send: () => {
        throw new Error('closed');
      },
    },
  ]);
  expect(() => {
    made.note('Nobody', 1, 60, 90);
    made.note('Broken', 1, 60, 90);
    made.letGo();
  }).not.toThrow();
});
test('the stand-in writes what it gets into the monitor', () => {
  const monitor = new Monitor();
  const made = new MidiOutputs(monitor);
  made.note(STAND_IN_OUTPUT, 5, 60, 80);
  expect(monitor.lines.map(({ port, bytes, message }) => [port, bytes, message])).toEqual([
    [STAND_IN_OUTPUT, [0x94, 60, 80], { type: 'noteOn', channel: 5, key: 60, velocity: 80 }],
  ]);
});

test('a take goes to an output as MIDI 1.0 writes it: notes, controllers, pressure and bend', () => {
  const { made, sent } = outputs();
  made.event('Far Synth', { type: 'noteOn', channel: 2, key: 60, velocity: 90 });
  made.event('Far Synth', { type: 'controller', channel: 2, controller: 1, value: 64 });
  // Bend is 14 bits around 8192 (MIDI 1.0): fully down 0, at rest 64 · 128, fully up 16383.
  for (const bend of [-1, 0, 1]) made.event('Far Synth', { type: 'bend', channel: 1, bend });
  made.event('Far Synth', { type: 'macro', number: 1, value: 0.5 });
  made.event('Far Synth', { type: 'noteOff', channel: 2, key: 60, velocity: 64 });
  expect(sent.map((each) => [...each])).toEqual([
    [0x91, 60, 90],
    [0xb1, 1, 64],
    [0xe0, 0, 0],
    [0xe0, 0, 64],
    [0xe0, 127, 127],
    [0x81, 60, 64],
  ]);
});

test('what hands have moved there goes back to rest with the notes; a volume stays', () => {
  const { made, sent } = outputs();
  made.event('Far Synth', { type: 'controller', channel: 1, controller: 64, value: 127 }, 4);
  made.event('Far Synth', { type: 'controller', channel: 1, controller: 7, value: 80 }, 4);
  made.event('Far Synth', { type: 'bend', channel: 1, bend: 0.5 }, 4);
  made.note('Far Synth', 4, 60, 90);
  sent.length = 0;
  made.letGo();
  expect(sent.map((each) => [...each])).toEqual([
    [0x83, 60, 64],
    [0xb3, 64, 0],
    [0xe3, 0, 64],
  ]);
  sent.length = 0;
  made.letGo();
  expect(sent).toEqual([]);
});

test('system exclusive goes where the browser permits it; an output that comes is told of, one that goes holds nothing', () => {
  const { made, sent } = outputs();
  const came: string[] = [];
  made.onCame = (name) => came.push(name);
  let told = 0;
  made.subscribe(() => told++);
  expect(made.tell('Far Synth', [0xf0, 0x7d, 0xf7])).toBe(false);
  made.exclusive = true;
  expect(made.tell('Far Synth', [0xf0, 0x7d, 0xf7])).toBe(true);
  expect(made.tell('Nobody', [0xf8])).toBe(false);
  made.note('Far Synth', 1, 60, 90);
  made.follow([]);
  expect(made.has('Far Synth')).toBe(false);
  sent.length = 0;
  const port = { name: 'Far Synth', state: 'connected', send: (bytes: number[]) => sent.push(bytes) };
  made.follow([port]);
  expect(came).toEqual(['Far Synth']);
  expect(told).toBe(2);
  made.letGo();
  expect(sent).toEqual([]);
  // The same list again is no news.
  made.follow([port]);
  expect(told).toBe(2);
  // Another of the same name takes its place: it is told everything, and holds nothing.
  made.note('Far Synth', 1, 60, 90);
  const other: number[][] = [];
  made.follow([{ ...port, send: (bytes) => other.push(bytes) }]);
  expect(came).toEqual(['Far Synth', 'Far Synth']);
  expect(told).toBe(3);
  made.note('Far Synth', 1, 62, 90);
  made.letGo();
  expect(other).toEqual([
    [0x90, 62, 90],
    [0x80, 62, 64],
  ]);
});

test('what hands moved there is forgotten where it still waits; a value that something else moves goes out', () => {
  const sent: number[][] = [];
  let now = 0;
  const made = new MidiOutputs(new Monitor(), () => now);
  made.follow([{ name: 'Far Synth', state: 'connected', send: (bytes) => sent.push(bytes) }]);
  made.tell('Far Synth', [0xc0, 1]);
  made.event('Far Synth', { type: 'bend', channel: 1, bend: 0.5 });
  made.event('Far Synth', { type: 'controller', channel: 1, controller: 7, value: 80 });
  made.move('Far Synth', [0xb0, 74, 33]);
  made.letGo();
  for (; now < 100; now++) made.flush();
  expect(sent).toEqual([
    [0xc0, 1],
    [0xe0, 0, 64],
    [0xb0, 74, 33],
  ]);
});

test('the monitor shows what goes out, and what the stand-in answers; not the ticks of a clock', () => {
  const monitor = new Monitor();
  const made = new MidiOutputs(monitor, () => 0);
  made.tell(STAND_IN_OUTPUT, [0xc0, 5]);
  made.tell(STAND_IN_OUTPUT, [0xf8]);
  made.tell(STAND_IN_OUTPUT, [0xf0, 0x7e, 0x7f, 6, 1, 0xf7]);
  expect(monitor.lines.map(({ way, bytes }) => [way, bytes[0]])).toEqual([
    ['out', 0xc0],
    ['in', 0xf0],
    ['out', 0xf0],
  ]);
  // What is sent says nothing of how far hands go.
  expect(monitor.ranges.size).toBe(0);
});

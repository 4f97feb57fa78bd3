import { labelOfControl, parseControl } from './control';
import { ControlReader, stepsOf } from './controlReader';
import { Learner, type Learned } from './learn';
import { MidiDecoder } from './midi';
import { RegisteredReader } from './registered';

/** What a stream of bytes moves. */
const moved = (...bytes: number[]) => {
  const reader = new ControlReader();
  return new MidiDecoder()
    .decode(bytes)
    .flatMap((message) => reader.read(message))
    .map(({ control, channel, value, steps }) => ({
      control,
      channel,
      value: Math.round(value * 1e4) / 1e4,
      ...(steps === undefined ? {} : { steps }),
    }));
};
const learned = (...bytes: number[]): Learned | undefined => {
  const reader = new ControlReader();
  const learner = new Learner();
  for (const message of new MidiDecoder().decode(bytes))
    for (const move of reader.read(message)) {
      const found = learner.take(move);
      if (found) return found;
    }
  return learner.finish();
};
const cc = (controller: number, ...values: number[]) => values.flatMap((value) => [0xb0, controller, value]);

describe('controls by name', () => {
  test.each(['cc.7', 'cc14.1', 'nrpn.16383', 'relative.20', 'note.36', 'program.5', 'bend', 'pressure', 'keyPressure'])(
    '%s is one',
    (id) => expect(parseControl(id)).toBeDefined(),
  );
  test.each(['cc.120', 'cc14.32', 'nrpn.16384', 'note.128', 'cc', 'knob.1', ''])('"%s" is none', (id) =>
    expect(parseControl(id)).toBeUndefined(),
  );
  test('in words', () =>
    expect(['cc.7', 'cc14.1', 'nrpn.300', 'bend'].map(labelOfControl)).toEqual([
      'CC 7',
      'CC 1 (14 bit)',
      'NRPN 300',
      'bend',
    ]));
});

// MIDI 1.0 Detailed Specification, bytes written out.
describe('messages', () => {
  test('a controller', () => expect(moved(0xb2, 0x07, 0x7f)).toEqual([{ control: 'cc.7', channel: 3, value: 1 }]));
  test('14 bits: the fine half is the coarse one’s number + 32 and comes after it; then the coarse one alone moves nothing', () => {
    expect(moved(0xb0, 0x01, 0x40, 0xb0, 0x21, 0x00, 0xb0, 0x01, 0x41, 0xb0, 0x21, 0x7f)).toEqual([
      { control: 'cc.1', channel: 1, value: 0.5039 },
      { control: 'cc14.1', channel: 1, value: 0.5 },
      { control: 'cc14.1', channel: 1, value: Math.round(((0x41 * 128 + 127) / 16383) * 1e4) / 1e4 },
    ]);
  });
  test('a fine half without its coarse one is a controller of its own', () =>
    expect(moved(0xb0, 0x21, 0x10)).toEqual([{ control: 'cc.33', channel: 1, value: 0.126 }]));
  test('NRPN: 99, 98, then 6 and 38', () => {
    expect(moved(0xb0, 99, 2, 0xb0, 98, 44, 0xb0, 6, 64, 0xb0, 38, 0)).toEqual([
      { control: 'nrpn.300', channel: 1, value: 0.5039 },
      { control: 'nrpn.300', channel: 1, value: 0.5 },
    ]);
  });
  test('data increment and decrement step it; registered numbers are nobody’s control', () => {
    expect(moved(0xb0, 99, 0, 0xb0, 98, 5, 0xb0, 96, 0, 0xb0, 97, 0)).toEqual([
      { control: 'nrpn.5', channel: 1, value: 0, steps: 1 },
      { control: 'nrpn.5', channel: 1, value: 0, steps: -1 },
    ]);
    expect(moved(0xb0, 99, 0, 0xb0, 98, 5, 0xb0, 101, 0, 0xb0, 100, 0, 0xb0, 6, 2)).toEqual([]);
  });
  test('bend, pressures, programs, keys as buttons', () => {
    expect(moved(0xe0, 0x00, 0x40, 0xd1, 0x7f, 0xa0, 60, 127, 0xc0, 4, 0x99, 36, 127, 0x89, 36, 0)).toEqual([
      { control: 'bend', channel: 1, value: 0.5 },
      { control: 'pressure', channel: 2, value: 1 },
      { control: 'keyPressure', channel: 1, value: 1 },
      { control: 'program.4', channel: 1, value: 1 },
      { control: 'note.36', channel: 10, value: 1 },
      { control: 'note.36', channel: 10, value: 0 },
    ]);
  });
  test('clock, start, stop and song position pass between others', () => {
    expect(new MidiDecoder().decodeAll([0x90, 60, 0xf8, 100, 0xfa, 0xf2, 0x04, 0x01, 0xfc])).toEqual([
      { type: 'clock' },
      { type: 'noteOn', channel: 1, key: 60, velocity: 100 },
      { type: 'start' },
      { type: 'songPosition', sixteenths: 132 },
      { type: 'stop' },
    ]);
  });
});

// MIDI Polyphonic Expression 1.0 (M1-100-UM), MPE Configuration Message: RPN 6 on the master channel, its data the
// member channels; RPN 0 on a member sets the bend of all fingers. MIDI 1.0: RPN null (127, 127) closes.
test('registered numbers: zones of an expressive controller and the range of its bends', () => {
  const reader = new RegisteredReader();
  const said = (...bytes: number[]) => new MidiDecoder().decode(bytes).flatMap((message) => reader.read(message) ?? []);
  expect(said(0xb0, 101, 0, 0xb0, 100, 6, 0xb0, 6, 15)).toEqual([{ type: 'members', zone: 'lower', members: 15 }]);
  expect(said(0xbf, 101, 0, 0xbf, 100, 6, 0xbf, 6, 3)).toEqual([{ type: 'members', zone: 'upper', members: 3 }]);
  expect(said(0xb1, 101, 0, 0xb1, 100, 0, 0xb1, 6, 24, 0xb1, 38, 50)).toEqual([
    { type: 'bendRange', channel: 2, semitones: 24 },
    { type: 'bendRange', channel: 2, semitones: 24.5 },
  ]);
  expect(said(0xb1, 101, 127, 0xb1, 100, 127, 0xb1, 6, 3)).toEqual([]);
  expect(said(0xb4, 101, 0, 0xb4, 100, 6, 0xb4, 6, 5)).toEqual([]);
});

// The two usual codings of relative encoders: common practice, no source.
test('steps of relative encoders', () => {
  expect([1, 3, 127, 125].map((value) => stepsOf('twos', value))).toEqual([1, 3, -1, -3]);
  expect([65, 67, 63, 61].map((value) => stepsOf('offset', value))).toEqual([1, 3, -1, -3]);
});

describe('learning by moving', () => {
  test('a fader, once it has gone some way', () =>
    expect(learned(...cc(20, 3, 6, 9, 12, 16, 20))).toEqual({ control: 'cc.20', channel: 1, coding: 'absolute' }));
  test('what rests among small jitters is not meant', () =>
    expect(learned(...cc(2, 40, 41, 40), ...cc(7, 0, 20, 60))).toEqual({
      control: 'cc.7',
      channel: 1,
      coding: 'absolute',
    }));
  test('encoders of both codings', () => {
    expect(learned(...cc(40, 1, 1, 1, 1))).toEqual({ control: 'relative.40', channel: 1, coding: 'twos' });
    expect(learned(...cc(41, 65, 65, 63, 65))).toEqual({ control: 'relative.41', channel: 1, coding: 'offset' });
  });
  test('pairs of 14 bits, NRPN, bend, pressure, buttons, programs', () => {
    expect(learned(...[10, 20, 30, 40].flatMap((value) => [...cc(1, value), ...cc(33, 5)]))).toEqual({
      control: 'cc14.1',
      channel: 1,
      coding: 'absolute',
    });
    expect(
      learned(...cc(99, 2), ...cc(98, 44), ...[10, 40, 80].flatMap((value) => [...cc(6, value), ...cc(38, 0)])),
    ).toEqual({ control: 'nrpn.300', channel: 1, coding: 'absolute' });
    expect(learned(0xe3, 0, 0x44, 0xe3, 0, 0x50, 0xe3, 0, 0x60)).toEqual({
      control: 'bend',
      channel: 4,
      coding: 'absolute',
    });
    expect(learned(0x9f, 100, 127)).toEqual({ control: 'note.100', channel: 16, coding: 'absolute' });
    expect(learned(0xc0, 3)).toEqual({ control: 'program.3', channel: 1, coding: 'absolute' });
  });
});

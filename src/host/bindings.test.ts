import type { ControlMove } from '../core/music/controlReader';
import type { Binding, ControllerSetup } from '../core/rig/schema';
import { Bindings } from './bindings';
import { ClockFollower } from './clock';
import { bytesAsText, Monitor, monitorText, wordsOf } from './monitor';

const move = (control: string, value: number, more: Partial<ControlMove> = {}): ControlMove => ({
  control,
  channel: 1,
  value,
  message: {
    type: 'controller',
    channel: 1,
    controller: Number(control.split('.')[1] ?? 0),
    value: Math.round(value * 127),
  },
  ...more,
});
function make(
  takeover: ControllerSetup['takeover'],
  binding: Partial<Binding> = {},
  style: 'strip' | 'momentary' | 'latched' = 'strip',
) {
  const values: Record<string, number> = { 'macro.1': 0.2 };
  const acts: string[] = [];
  const bindings = new Bindings({
    valueOf: (target) => values[target],
    styleOf: () => style,
    move: (target, value) => {
      values[target] = value;
    },
    act: (target) => {
      acts.push(target);
    },
  });
  bindings.setup = {
    takeover,
    bindings: [{ control: 'cc.20', channel: 0, port: 'any', coding: 'absolute', target: 'macro.1', ...binding }],
  };
  const put = (...at: number[]) =>
    at.map((value) => {
      bindings.take(move('cc.20', value), 'Box');
      return Math.round(values['macro.1'] * 1000) / 1000;
    });
  return { bindings, values, put, acts };
}

describe('takeover', () => {
  test('jump: at once', () => expect(make('jump').put(0.9, 0.1)).toEqual([0.9, 0.1]));
  test('pick up: once it has reached or passed the value, from whichever side', () => {
    const { put, bindings, values } = make('pick-up');
    expect(put(0.9, 0.5, 0.21, 0.3)).toEqual([0.2, 0.2, 0.21, 0.3]);
    values['macro.1'] = 0.8;
    bindings.patchChanged();
    expect(bindings.waiting('macro.1')).toEqual({ at: 0.3, has: 0.8, control: 'cc.20' });
    expect(put(0.4, 0.95)).toEqual([0.8, 0.95]);
    expect(bindings.waiting('macro.1')).toBeUndefined();
  });
  test('scaled: in proportion to the way that is left, and both ends are reached', () => {
    const { put } = make('scaled');
    expect(put(0.5)).toEqual([0.2]);
    expect(put(0.75)).toEqual([0.6]);
    expect(put(1)).toEqual([1]);
    expect(put(0)).toEqual([0]);
  });
});

describe('what is bound', () => {
  test('by channel and port; what is not meant is left to be played', () => {
    const { bindings } = make('jump', { channel: 2, port: 'Box' });
    expect(bindings.take(move('cc.20', 1), 'Box')).toBe(false);
    expect(bindings.take(move('cc.20', 1, { channel: 2 }), 'Other')).toBe(false);
    expect(bindings.take(move('cc.20', 1, { channel: 2 }), 'Box')).toBe(true);
  });
  test('a target that the patch does not have moves nothing', () =>
    expect(() => make('jump', { target: 'macro.9' }).put(0.5)).not.toThrow());
  test('encoders step from where the value is', () => {
    const { bindings, values } = make('pick-up', { control: 'relative.20', coding: 'twos' });
    for (const value of [1, 2, 127]) bindings.take(move('cc.20', value / 127), 'Box');
    expect(values['macro.1']).toBeCloseTo(0.22, 9);
  });
  test('buttons: while pressed, or until pressed again', () => {
    const held = make('jump', { control: 'note.100' }, 'momentary');
    held.bindings.take(move('note.100', 1), 'Box');
    expect(held.values['macro.1']).toBe(1);
    held.bindings.take(move('note.100', 0), 'Box');
    expect(held.values['macro.1']).toBe(0);
    const latched = make('jump', { control: 'note.100' }, 'latched');
    for (const [value, stands] of [
      [1, 1],
      [0, 1],
      [1, 0],
      [0, 0],
    ]) {
      latched.bindings.take(move('note.100', value), 'Box');
      expect(latched.values['macro.1']).toBe(stands);
    }
  });
});

describe('MIDI clock', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  // MIDI 1.0: 24 clocks a quarter; song position in sixteenths.
  test('24 ticks are a quarter: 20.833 ms apart are 120 a minute; start, continue and silence', () => {
    let now = 0;
    const sent: unknown[] = [];
    const clock = new ClockFollower(
      (event) => sent.push(event),
      () => now,
    );
    clock.take({ type: 'start' });
    for (let i = 0; i < 60; i++) {
      now += 500 / 24;
      clock.take({ type: 'clock' });
    }
    // The first tick is the beginning; with the 25th there is a quarter, and a tempo.
    expect(sent).toEqual([
      { type: 'position', quarters: 0 },
      { type: 'position', quarters: 1 },
      { type: 'tempo', tempo: 120 },
    ]);
    clock.take({ type: 'songPosition', sixteenths: 8 });
    clock.take({ type: 'continue' });
    expect(sent.at(-1)).toEqual({ type: 'position', quarters: 2 });
    jest.advanceTimersByTime(2000);
    expect(sent.at(-1)).toEqual({ type: 'tempo', tempo: null });
  });
});

test('the monitor keeps what it hears, in words and bytes, until it is held; and how far everything went', () => {
  const monitor = new Monitor();
  const hear = (value: number) =>
    monitor.hear({
      at: 1500,
      port: 'Box',
      bytes: [0xb0, 1, value],
      message: { type: 'controller', channel: 1, controller: 1, value },
      moved: 'Swell',
      way: 'in',
    });
  hear(10);
  hear(90);
  monitor.hold(true);
  hear(3);
  expect(monitor.lines).toHaveLength(2);
  expect(monitor.ranges.get('wheel (CC 1)')).toEqual({ low: 3, high: 90 });
  expect(monitorText(monitor.lines).split('\n')[0]).toBe(
    '1.500\tfrom Box\tchannel 1\tB0 01 0A\twheel (CC 1) = 10\tSwell',
  );
  expect(bytesAsText([0x90, 60, 100])).toBe('90 3C 64');
  expect(wordsOf({ type: 'controller', channel: 1, controller: 123, value: 0 })).toBe('all notes off');
  for (let i = 0; i < 600; i++) {
    monitor.hold(false);
    hear(i % 128);
  }
  expect(monitor.lines.length).toBeLessThanOrEqual(500);
});

describe('what a control does in the show', () => {
  test('a pedal acts once for each press, however it trembles, also over the change of patch that it makes', () => {
    const { bindings, acts } = make('jump', { control: 'cc.80', target: 'show.next' });
    const put = (...values: number[]) => {
      for (const value of values) bindings.take(move('cc.80', value), 'Box');
    };
    put(0.1, 0.49, 0.51, 0.48, 0.52, 1);
    expect(acts).toEqual(['show.next']);
    bindings.patchChanged();
    put(0.9, 1, 0.45, 0.6);
    expect(acts).toHaveLength(1);
    put(0, 1);
    expect(acts).toHaveLength(2);
  });
  test('a pad by its strike and not by its end, a program change each time, an encoder by the way it is turned', () => {
    const pad = make('jump', { control: 'note.36', target: 'show.step.3' });
    for (const value of [0.7, 0, 0.2, 0]) pad.bindings.take(move('note.36', value), 'Pads');
    expect(pad.acts).toEqual(['show.step.3', 'show.step.3']);
    const program = make('jump', { control: 'program.5', target: 'patch.low' });
    program.bindings.take(move('program.5', 1), 'Box');
    program.bindings.take(move('program.5', 1), 'Box');
    expect(program.acts).toEqual(['patch.low', 'patch.low']);
    const encoder = make('jump', { control: 'relative.20', coding: 'twos', target: 'show.previous' });
    const turn = (value: number) =>
      encoder.bindings.take(
        {
          control: 'cc.20',
          channel: 1,
          value: value / 127,
          message: { type: 'controller', channel: 1, controller: 20, value },
        },
        'Box',
      );
    turn(1);
    turn(2);
    expect(encoder.acts).toEqual([]);
    turn(127);
    expect(encoder.acts).toEqual(['show.previous']);
  });
});

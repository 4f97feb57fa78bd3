import type { EngineEvent } from '../core/engine/hands/event';
import { newControllers, newPatch, newRoute } from '../core/rig/defaults';
import type { ControllerSetup, Patch } from '../core/rig/schema';
import { Hearing } from './hearing';
import { Port } from './midiInput';

function make(setup: Partial<ControllerSetup> = {}, patch: Partial<Patch> = {}) {
  const played: EngineEvent[] = [];
  const moved: [string, number][] = [];
  const did: string[] = [];
  const unchosen: string[] = [];
  const controllers = { ...newControllers(), ...setup };
  const hearing = new Hearing({
    setup: () => controllers,
    patch: () => ({ ...newPatch('p', 'P'), ...patch }),
    play: (event) => played.push(event),
    liveOf: () => 0.5,
    moveLive: (target, value) => moved.push([target, Math.round(value * 100) / 100]),
    act: (target) => did.push(target),
    choose: (which, place) => did.push(`${which} ${place}`),
    unchosen: (program, channel) => unchosen.push(`${program} on ${channel}`),
  });
  hearing.bindings.setup = controllers;
  const port = (name: string) => new Port(name, (message, from, bytes) => hearing.receive(message, from, bytes));
  return { hearing, played, moved, did, unchosen, controllers, box: port('Box'), keys: port('Keys') };
}
const binding = { control: 'cc.20', channel: 0, port: 'any', coding: 'absolute' as const, target: 'macro.3' };

test('what nobody learned is played; a port that the rig tells apart has its number', () => {
  const { played, box, keys } = make({ ports: ['Keys'] });
  box.take([0x90, 60, 100]);
  keys.take([0x91, 62, 90, 0xb1, 1, 64]);
  expect(played).toEqual([
    { type: 'noteOn', channel: 1, key: 60, velocity: 100 },
    { type: 'noteOn', channel: 2, key: 62, velocity: 90, port: 1 },
    { type: 'controller', channel: 2, controller: 1, value: 64, port: 1 },
  ]);
});
test('a note ends by the port number by which it began, though the ports were edited in between', () => {
  const { played, keys, controllers } = make({ ports: ['Box', 'Keys'] });
  keys.take([0x90, 60, 100]);
  (controllers.ports as string[]).shift();
  keys.take([0x80, 60, 0]);
  expect(played.map((event) => ('port' in event ? event.port : 0))).toEqual([2, 2]);
});
test('a bound control moves what it is bound to and is not played; it is told in words', () => {
  const { hearing, played, moved, box } = make(
    { bindings: [binding] },
    { macros: [{ number: 3, name: 'Swell', value: 0, style: 'strip' }] },
  );
  box.take([0xb0, 20, 127]);
  expect([played, moved]).toEqual([[], [['macro.3', 1]]]);
  expect(hearing.lastHeard).toBe('CC 20 = 127, channel 1, port “Box” → Swell');
  expect(hearing.monitor.lines[0]).toMatchObject({ port: 'Box', bytes: [0xb0, 20, 127], moved: 'Swell' });
});
test('14 bits are played as one value with a fraction', () => {
  const { played, box } = make();
  box.take([0xb0, 1, 64, 0xb0, 33, 64]);
  expect(played.at(-1)).toMatchObject({ controller: 1, value: ((64 * 128 + 64) / 16383) * 127 });
});
test('pedals: turned round, and up and down alone', () => {
  const { played, box } = make({
    pedals: [
      { controller: 64, inverted: true, kind: 'switch' },
      { controller: 11, inverted: true, kind: 'continuous' },
    ],
  });
  box.take([0xb0, 64, 127, 0xb0, 64, 10, 0xb0, 11, 100]);
  expect(played.map((event) => 'value' in event && event.value)).toEqual([0, 127, 27]);
});
test('learning swallows nothing: what is learned is played as well, and nothing is bound meanwhile', () => {
  const { hearing, played, moved, box } = make({ bindings: [binding] });
  const learned: unknown[] = [];
  hearing.learn((found) => learned.push(found));
  box.take([0x90, 60, 100]);
  expect(learned).toEqual([{ control: 'note.60', channel: 1, coding: 'absolute' }]);
  expect(hearing.isLearning).toBe(false);
  hearing.learn((found) => learned.push(found));
  box.take([0xb0, 20, 0, 0xb0, 20, 30, 0xb0, 20, 60]);
  expect(learned).toHaveLength(2);
  expect(moved).toEqual([]);
  expect(played).toHaveLength(4);
});
test('learning ends where it is given up', () => {
  const { hearing, box } = make();
  const end = hearing.learn(() => {
    throw new Error('it was given up');
  });
  end();
  expect(() => box.take([0x90, 60, 100])).not.toThrow();
});
// MPE 1.0: an MPE Configuration Message is RPN 6 on the master channel.
test('a controller says what zones it has: that holds at once, for its port', () => {
  const { played, keys } = make({ ports: ['Keys'] });
  keys.take([0xb0, 101, 0, 0xb0, 100, 6, 0xb0, 6, 15, 0xb1, 101, 0, 0xb1, 100, 0, 0xb1, 6, 24]);
  expect(played.filter(({ type }) => type === 'zones')).toEqual([
    { type: 'zones', port: 1, lower: 15, upper: 0, bendRange: 48 },
    { type: 'zones', port: 1, lower: 15, upper: 0, bendRange: 24 },
  ]);
});
test('the real range is what is played while it is watched', () => {
  const { hearing, box } = make();
  const seen: number[][] = [];
  const end = hearing.watchRange((key, velocity) => seen.push([key, velocity]));
  box.take([0x90, 39, 12, 0x80, 39, 0, 0x90, 84, 110]);
  end();
  box.take([0x90, 90, 1]);
  expect(seen).toEqual([
    [39, 12],
    [84, 110],
  ]);
});
test('what a message moves in the patch is named', () => {
  const { hearing, box } = make({}, { routes: [newRoute('r', 'cc.1', 'main.level', 0.2)] });
  box.take([0xb0, 1, 3]);
  expect(hearing.monitor.lines[0].moved).toBe('main level');
});

describe('program changes', () => {
  // MIDI 1.0 Detailed Specification: bank select, CC 0 coarse and CC 32 fine, holds for the program changes of its
  // channel that follow.
  test('choose a step by bank and program, each channel with its own bank', () => {
    const { did, box, played } = make({ programs: 'setlist' });
    box.take([0xc0, 4]);
    box.take([0xb0, 0, 0, 0xb0, 32, 1, 0xc0, 2]);
    box.take([0xc1, 2]);
    box.take([0xb0, 0, 1, 0xc0, 0]);
    expect(did).toEqual(['setlist 4', 'setlist 130', 'setlist 2', `setlist ${(128 + 1) * 128}`]);
    // Layers that listen for them hear them as well.
    expect(played.filter(({ type }) => type === 'program')).toHaveLength(4);
  });
  test('only on the channel that is meant, not at all where they are off, and not where one was learned for something else', () => {
    const { did, unchosen, box } = make({ programs: 'patches', programChannel: 2 });
    box.take([0xc0, 4, 0xc1, 5]);
    expect(did).toEqual(['patches 5']);
    expect(unchosen).toEqual(['4 on 1']);
    const off = make();
    off.box.take([0xc0, 4]);
    expect(off.did).toEqual([]);
    expect(off.unchosen).toEqual(['4 on 1']);
    const learned = make({
      programs: 'setlist',
      bindings: [{ ...binding, control: 'program.4', target: 'show.next' }],
    });
    learned.box.take([0xc0, 4]);
    expect(learned.did).toEqual(['show.next']);
    expect(learned.hearing.lastHeard).toContain('→ next');
  });
});

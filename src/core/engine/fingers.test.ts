/** Expressive controllers (MPE 1.0): the same bytes mean the same live, in a take and on the command line. */
import { writeMidi } from 'midi-file';
import { readTake } from '../formats/midiFile';
import { markAt, newLayer, newPatch, newRoute, newSound, newZone } from '../rig/defaults';
import { prepareSample } from '../dsp/sample';
import { RATE, STEADY, whole } from '../../../tests/kit/engine';
import { compile } from './program/compile';
import { Engine } from './engine';
import type { EngineEvent } from './hands/event';
import { playTake } from './offline/playTake';

const patch = {
  ...newPatch('p', 'p'),
  layers: [{ ...newLayer('l', 'l', 's', markAt(0)), params: { level: -40, velocityToLevel: 0 } }],
  routes: [newRoute('r', 'pressure', 'layer.l.level', 0.5)],
};
const context = (mpe: { lower: number; upper: number; bendRange: number }) => ({
  sounds: [newSound('s', 's', [{ ...newZone('w', 60), key: whole }])],
  samples: [{ id: 'w', name: 'w', rate: RATE, channels: 1 as const, frames: STEADY.data.length }],
  keyLow: 21,
  keyHigh: 108,
  mpe,
});

function engineOf(mpe: { lower: number; upper: number; bendRange: number }): Engine {
  const program = compile(patch, context(mpe));
  const engine = new Engine({ rate: RATE });
  for (const { key, loop, levels, reverse } of program.samples)
    engine.addSample(key, prepareSample(STEADY, loop, levels, reverse));
  engine.setProgram(program);
  return engine;
}
const DECLARED = { lower: 15, upper: 0, bendRange: 48 };
/** A note on a member channel, then pressure on that channel. */
const live: { at: number; event: EngineEvent }[] = [
  { at: 0, event: { type: 'noteOn', channel: 3, key: 60, velocity: 100 } },
  { at: 0.1, event: { type: 'channelPressure', channel: 3, pressure: 127 } },
];
const bytes = (members: boolean) =>
  new Uint8Array(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
      tracks: [
        [
          // MPE Configuration Message: RPN 6 on channel 1 with 15 members (MPE 1.0, 2.1).
          ...(members
            ? [
                [101, 0],
                [100, 6],
                [6, 15],
              ].map(([controllerType, value]) => ({
                deltaTime: 0,
                type: 'controller' as const,
                channel: 0,
                controllerType,
                value,
              }))
            : []),
          { deltaTime: 0, type: 'noteOn', channel: 2, noteNumber: 60, velocity: 100 },
          { deltaTime: 96, type: 'channelAftertouch', channel: 2, amount: 127 },
          { deltaTime: 480, type: 'noteOff', channel: 2, noteNumber: 60, velocity: 64 },
          { deltaTime: 0, meta: true, type: 'endOfTrack' },
        ],
      ],
    }),
  );
const level = (engine: Engine, events: { at: number; event: EngineEvent }[]) => {
  const { left } = playTake(engine, { seconds: 0.5, events: events as Parameters<typeof playTake>[1]['events'] }, 0);
  return { before: Math.abs(left[Math.round(0.09 * RATE)]), after: Math.abs(left[Math.round(0.45 * RATE)]) };
};

test('pressure of a finger moves its note where the rig declares zones, live and in a take', () => {
  const played = level(engineOf(DECLARED), live);
  expect(played.after).toBeGreaterThan(3 * played.before);
  expect(level(engineOf(DECLARED), readTake(bytes(false), 't').events)).toEqual(played);
});
test('a take that says itself what zones it has is played so, whatever the rig declares', () => {
  const played = level(engineOf({ lower: 0, upper: 0, bendRange: 48 }), readTake(bytes(true), 't').events);
  expect(played.after).toBeGreaterThan(3 * played.before);
  const plain = level(engineOf({ lower: 0, upper: 0, bendRange: 48 }), readTake(bytes(false), 't').events);
  expect(plain.after).toBeCloseTo(plain.before, 6);
});

import type { EngineEvent } from '../../../core/engine/hands/event';
import { Handover } from './handover';

const on = (key: number, channel = 1): EngineEvent => ({ type: 'noteOn', channel, key, velocity: 80 });
const off = (key: number, channel = 1): EngineEvent => ({ type: 'noteOff', channel, key, velocity: 64 });
const pedal = (value: number, controller = 64): EngineEvent => ({ type: 'controller', channel: 1, controller, value });

test('what only the other machine held is let go of, once; what is held here as well stays', () => {
  const handover = new Handover();
  for (const event of [on(60), on(64), on(67, 2), off(64), pedal(127), pedal(90, 66), pedal(0, 66), pedal(127, 1)])
    handover.told(event);
  // A controller that reaches both machines.
  handover.played(on(60));
  expect(handover.goesOn).toBe(true);
  expect(handover.letGo()).toEqual([off(67, 2), pedal(0)]);
  expect(handover.goesOn).toBe(false);
  expect(handover.letGo()).toEqual([]);
});

test('a pedal that is down here holds here; silence there leaves nothing', () => {
  const handover = new Handover();
  handover.told(pedal(127));
  handover.played(pedal(127));
  expect(handover.goesOn).toBe(false);
  handover.told(on(50));
  handover.told({ type: 'panic' });
  expect(handover.goesOn).toBe(false);
});

test('a note of a port is let go of there', () => {
  const handover = new Handover();
  handover.told({ ...on(60), port: 2 } as EngineEvent);
  expect(handover.letGo()).toEqual([{ ...off(60), port: 2 }]);
});

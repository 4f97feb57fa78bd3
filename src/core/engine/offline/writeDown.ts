import type { Take } from '../../music/take';
import { playTake } from './playTake';
import { Engine } from '../engine';
import type { PlayedProgram } from '../program/program';
import { MadeReader, type MadeNote } from './made';

const RATE = 48000;
/** Time after the take in which what still goes on is written down too. */
const TAIL = 2;

/**
 * The notes that the path of a layer makes of a take, as a take of its own: what is heard, written down. `layer` is its
 * place in the program.
 */
export function writeDown(program: PlayedProgram, layer: number, take: Take): Take {
  const engine = new Engine({ rate: RATE });
  engine.setProgram(program);
  const reader = new MadeReader(engine);
  const notes: MadeNote[] = [];
  playTake(engine, take, TAIL, new Map(), () => notes.push(...reader.take()));
  const events: Take['events'] = notes
    .filter((note) => note.layer === layer)
    .map(({ key, velocity, frame }) => ({
      at: frame / RATE,
      event:
        velocity > 0
          ? { type: 'noteOn' as const, channel: 1, key, velocity }
          : { type: 'noteOff' as const, channel: 1, key, velocity: 64 },
    }));
  return {
    name: `${take.name}, written down`,
    seconds: Math.max(take.seconds, events.length > 0 ? events[events.length - 1].at : 0),
    events,
  };
}

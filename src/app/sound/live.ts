import { Evaluator } from '../../core/engine/moving/evaluate';
import { DRAWS, NOTE_STATE, RANDOMS, type NoteValues } from '../../core/engine/hands/noteValues';
import type { Program } from '../../core/engine/program/program';
import { METER } from '../../host/protocol';
import { session } from './session';

/** A note for pictures: in the middle of all chance. */
export const restingNote = (): NoteValues => ({
  channel: 1,
  key: 60,
  velocity: 100,
  releaseVelocity: 64,
  randoms: new Float64Array(DRAWS).fill(0.5, 0, RANDOMS),
  scatters: new Float64Array(RANDOMS).fill(0.5),
  states: new Float64Array(NOTE_STATE),
  row: 0,
});

const SAME_MS = 6;
let lookedAt = 0;
let lookedOf = -1;
let program: Program | null = null;
let evaluator: Evaluator | null = null;

/**
 * The performance space as it stands now: the hands as the page knows them, and what moves by itself where the engine
 * has it. Null while nothing is compiled.
 */
export function liveEvaluator(): Evaluator | null {
  if (session.program !== program || !evaluator) {
    program = session.program;
    lookedAt = 0;
    evaluator = program && new Evaluator(program, session.hands.controllers);
  }
  if (!program || !evaluator) return null;
  // Many pictures ask within one drawing of the page: nothing has moved between them.
  const now = performance.now();
  if (now - lookedAt < SAME_MS && lookedAt > 0 && lookedOf === session.hands.version) return evaluator;
  lookedAt = now;
  lookedOf = session.hands.version;
  if (session.meters.isPresent) {
    const { meters } = session.audio;
    program.movers.forEach((_, m) => evaluator!.movers.show(m, meters[METER.movers + 2 * m]));
    program.pads.forEach((_, p) => evaluator!.showDot(p, meters[METER.pads + 2 * p], meters[METER.pads + 2 * p + 1]));
  }
  evaluator.lookPatch(0, false);
  return evaluator;
}

/** Where a mover stands now: its value, and how many rounds it has made. */
export function moverNow(place: number): { value: number; phase: number } {
  if (!session.meters.isPresent || place < 0) return { value: 0, phase: 0 };
  const { meters } = session.audio;
  return { value: meters[METER.movers + 2 * place], phase: meters[METER.movers + 2 * place + 1] };
}

/** Where the dot of a pad is now, by its place in the patch. */
export function dotNow(place: number, number: number): { x: number; y: number } {
  if (session.meters.isPresent && place >= 0) {
    const { meters } = session.audio;
    return { x: meters[METER.pads + 2 * place], y: meters[METER.pads + 2 * place + 1] };
  }
  return { x: session.liveOf(`xy.${number}.x`) ?? 0.5, y: session.liveOf(`xy.${number}.y`) ?? 0.5 };
}

/** Where a source stands now, hands, routes and movers together; undefined where the patch does not use it. */
export function sourceNow(id: string): number | undefined {
  const live = liveEvaluator();
  live?.look(null, restingNote());
  return live?.valueOf(id);
}

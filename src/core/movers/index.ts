import { contour } from './contour';
import { envelope } from './envelope';
import { follower } from './follower';
import { hold } from './hold';
import { lfo } from './lfo';
import type { MoverKind } from './mover';
import { steps } from './steps';
import { wander } from './wander';
import type { MoverKindId } from '../space/source';

/** Every sort of mover, in the order in which they are offered. */
export const MOVERS: readonly MoverKind[] = [lfo, envelope, contour, steps, hold, wander, follower];
export const moverKind = (id: MoverKindId): MoverKind => MOVERS.find((kind) => kind.id === id)!;
export { LFO_SHAPES, type LfoShape } from './lfo';
export { MOST_POINTS } from './contour';
export { MOST_STEPS } from './steps';
export type { MoverKindId } from '../space/source';

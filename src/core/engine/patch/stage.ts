import type { EffectRooms } from '../../dsp/kernel/effectRooms';
import type { Chance } from '../../dsp/chance';
import { type Controllers } from '../hands/controllers';
import { type Counted } from '../hands/counted';
import type { Evaluator } from '../moving/evaluate';
import { type LayerState, type Owner } from '../notes/layerState';
import { type PathClock } from '../notes/layerPath';
import { type PlayedProgram } from '../program/program';
import type { VoicePool } from '../voice/voicePool';

/** What all patches of an engine share. */
export interface Stage {
  pool: VoicePool;
  /** Where effects work. */
  rooms: EffectRooms;
  chance: Chance;
  rate: number;
  seed: number;
  clock: { readonly frame: number };
}

/** The patch whose keys and pedals these are. */
export interface NotesOwner extends Owner {
  readonly program: PlayedProgram;
  readonly evaluator: Evaluator;
  readonly counted: Counted;
  readonly controllers: Controllers;
  readonly layers: readonly LayerState[];
  readonly pathClock: PathClock;
}

/** A note that another takes over from goes in this time. */
export const CUT_SECONDS = 0.012;

import type { PreparedSample } from './sample';
import type { WaveSet } from './waves';

/** What a program plays, made ready: a recording, or waves for oscillators. */
export type Prepared = PreparedSample | WaveSet;
export const isWaves = (prepared: Prepared): prepared is WaveSet => 'waves' in prepared;

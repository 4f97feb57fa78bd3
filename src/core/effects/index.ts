import { chorus } from './chorus';
import { comb } from './comb';
import { compressor } from './compressor';
import { convolution } from './convolution';
import { distance } from './distance';
import { echo } from './echo';
import type { EffectKind } from './effect';
import { equaliser } from './equaliser';
import { flanger } from './flanger';
import { gate } from './gate';
import { limiter } from './limiter';
import { notches } from './notches';
import { onset } from './onset';
import { partials } from './partials';
import { phaser } from './phaser';
import { pitchShifter } from './pitchShifter';
import { reducer } from './reducer';
import { reverb } from './reverb';
import { ring } from './ring';
import { rotary } from './rotary';
import { saturation } from './saturation';
import { scaleTuner } from './scaleTuner';
import { stepGate } from './stepGate';
import { stutter } from './stutter';
import { subStrike } from './subStrike';
import { tape } from './tape';
import { threeBand } from './threeBand';
import { tilt } from './tilt';
import { tremolo } from './tremolo';
import { vocoder } from './vocoder';
import { width } from './width';

/** Every sort of effect, in the order in which they are offered. An effect is one file and one line here. */
export const EFFECTS: readonly EffectKind[] = [
  equaliser,
  tilt,
  partials,
  notches,
  comb,
  compressor,
  threeBand,
  onset,
  gate,
  limiter,
  saturation,
  reducer,
  tape,
  subStrike,
  chorus,
  flanger,
  phaser,
  tremolo,
  rotary,
  ring,
  reverb,
  echo,
  convolution,
  width,
  distance,
  pitchShifter,
  scaleTuner,
  vocoder,
  stutter,
  stepGate,
];
export const EFFECT_IDS: readonly string[] = EFFECTS.map(({ id }) => id);
export const effectKind = (id: string): EffectKind => EFFECTS.find((kind) => kind.id === id)!;
/** Place among {@link EFFECTS}. */
export const placeOfKind = (id: string): number => EFFECTS.findIndex((kind) => kind.id === id);
export {
  FAMILIES,
  MOST_EFFECT_PARAMETERS,
  MOST_READINGS,
  type Effect,
  type EffectContext,
  type EffectKind,
  type Family,
  type PictureKind,
  type Preset,
} from './effect';

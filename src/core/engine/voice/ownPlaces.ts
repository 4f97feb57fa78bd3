import type { LayerParameterId } from '../../rig/parameters';
import type { InputPlaces } from './generators/input';
import type { GrainPlaces } from './generators/grains';
import type { SynthPlaces } from './generators/synth';
import { movedPlace, strikePlace, wholePlaces } from '../program/ownValues';
import { OF_GRAINS, OF_INPUT, OF_SYNTH, OWN_MOVED } from '../program/program';

const each = (place: (kind: number, id: LayerParameterId) => number, name: string): number[] =>
  [1, 2, 3].map((n) => place(OF_SYNTH, `osc${n}${name}` as LayerParameterId));
const moved = (name: string) => each(movedPlace, name);
const strike = (name: string) => each(strikePlace, name);
const one = (id: LayerParameterId) => movedPlace(OF_SYNTH, id);
const atStrike = (id: LayerParameterId) => strikePlace(OF_SYNTH, id);

/** Where generators find the values of their kind, by the order of the registry. */
export const SYNTH_PLACES: SynthPlaces = {
  position: moved('Position'),
  width: moved('Width'),
  octave: moved('Octave'),
  semitones: moved('Semitones'),
  cents: moved('Cents'),
  level: moved('Level'),
  pan: moved('Pan'),
  detune: moved('Detune'),
  spread: moved('Spread'),
  phaseMod: moved('PhaseMod'),
  frequencyMod: moved('FrequencyMod'),
  ring: moved('Ring'),
  subLevel: one('subLevel'),
  noiseLevel: one('noiseLevel'),
  noiseColour: one('noiseColour'),
  shape: strike('Shape'),
  phase: strike('Phase'),
  free: strike('Free'),
  unison: strike('Unison'),
  from: strike('From'),
  sync: strike('Sync'),
  path: strike('Path'),
  subShape: atStrike('subShape'),
  subOctave: atStrike('subOctave'),
  subPath: atStrike('subPath'),
  noisePath: atStrike('noisePath'),
  count: OWN_MOVED[OF_SYNTH].length,
  whole: wholePlaces(OF_SYNTH),
};

const input = (id: LayerParameterId) => movedPlace(OF_INPUT, id);
export const INPUT_PLACES: InputPlaces = {
  gain: input('inputGain'),
  gate: input('inputGate'),
  side: input('inputSide'),
  count: OWN_MOVED[OF_INPUT].length,
  whole: wholePlaces(OF_INPUT),
};

const grain = (id: LayerParameterId) => movedPlace(OF_GRAINS, id);
export const GRAIN_PLACES: GrainPlaces = {
  position: grain('grainPosition'),
  positionScatter: grain('grainPositionScatter'),
  rate: grain('grainRate'),
  freeze: grain('grainFreeze'),
  length: grain('grainLength'),
  lengthScatter: grain('grainLengthScatter'),
  density: grain('grainDensity'),
  overlap: grain('grainOverlap'),
  timeScatter: grain('grainTimeScatter'),
  pitch: grain('grainPitch'),
  pitchScatter: grain('grainPitchScatter'),
  pan: grain('grainPan'),
  panScatter: grain('grainPanScatter'),
  reversed: grain('grainReversed'),
  levelScatter: grain('grainLevelScatter'),
  shape: grain('grainShape'),
  by: strikePlace(OF_GRAINS, 'grainBy'),
  most: strikePlace(OF_GRAINS, 'grainMost'),
  follow: strikePlace(OF_GRAINS, 'grainFollow'),
  count: OWN_MOVED[OF_GRAINS].length,
  whole: wholePlaces(OF_GRAINS),
};

import { type LayerParameterId, type Parameter } from '../../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../../core/rig/layerParameters';
import type { LayerPart } from '../layersSlice';

/** Which parameters stand in which part of a layer, in their order. */
export const LEVEL: readonly LayerParameterId[] = ['level', 'pan', 'panKeys', 'panChance'];
export const ENVELOPE: readonly LayerParameterId[] = [
  'attack',
  'attackCurve',
  'hold',
  'decay',
  'decayCurve',
  'sustain',
  'release',
  'releaseCurve',
];
export const ONSET: readonly LayerParameterId[] = ['onset', 'onsetTime'];
export const FILTERS: readonly (readonly (readonly [LayerParameterId, string?])[])[] = [
  [
    ['filterKind', 'lets through'],
    ['cutoff'],
    ['resonance'],
    ['keyTrack', 'follows keys'],
    ['velocityTrack', 'follows velocity'],
    ['envelopeToCutoff', 'follows envelope'],
  ],
  [
    ['filter2Kind', 'lets through'],
    ['cutoff2', 'cutoff'],
    ['resonance2', 'resonance'],
    ['keyTrack2', 'follows keys'],
    ['velocityTrack2', 'follows velocity'],
    ['envelopeToCutoff2', 'follows envelope'],
  ],
];
export const AFTER_FILTERS: readonly LayerParameterId[] = [
  'filterPaths',
  'drive',
  'combDamping',
  'lowCut',
  'tilt',
  'tiltPivot',
];
export const PITCH: readonly LayerParameterId[] = ['tune', 'drift', 'driftTime'];
export const UNISON: readonly LayerParameterId[] = ['unison', 'detune', 'unisonWidth'];
export const BEGINS: readonly LayerParameterId[] = ['delay', 'startLevel'];
export const START: readonly LayerParameterId[] = ['start', 'reversed'];
export const VIBRATO: readonly LayerParameterId[] = ['vibratoDepth', 'vibratoRate', 'vibratoOnset'];
export const LOOPS: readonly LayerParameterId[] = ['loopPosition', 'loopLength'];

/** In which part each parameter is. */
export const PART_OF: Readonly<Record<string, LayerPart>> = Object.fromEntries(
  (
    [
      ['windows', ['choice']],
      ['level', [...LEVEL, ...ENVELOPE]],
      ['filters', [...FILTERS.flat().map(([id]) => id), ...AFTER_FILTERS]],
      ['pitch', [...PITCH, ...UNISON, ...VIBRATO, 'transpose', 'glide']],
      ['touch', ['touch', 'velocityToLevel']],
      ['start', [...BEGINS, ...ONSET, ...START, ...LOOPS]],
      ['notes', ['strum']],
      ['arpeggio', ['arpRate', 'arpGate', 'arpSwing', 'arpOctaves']],
      ['hears', ['bendRange']],
    ] as const
  ).flatMap(([part, ids]) => ids.map((id) => [id, part])),
);
/** The parameters of a part; those that only a kind of sound has stand with the sound. */
export const idsOfPart = (part: LayerPart): LayerParameterId[] =>
  (Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter(
    (id) => !(LAYER_PARAMETERS[id] as Parameter).of && partOf(id) === part,
  );
export const partOf = (id: string): LayerPart => PART_OF[id] ?? 'windows';

import { define } from '../../space/parameter';
import { SHAPE_NAMES } from './shapes';

const common = { reach: 'note', of: 'grains' } as const;
const SHARE = { ...common, unit: '%', low: 0, high: 100, law: 'linear', sides: 1 } as const;
const steps = (names: readonly string[]) => ({ ...common, unit: '', low: 0, high: names.length - 1, law: 'steps', sides: 1, steps: names } as const);

/** Grains that one voice may have at once. */
export const MOST_GRAINS = 64;

/** The parameters of a sound that is played in grains. Values and routes are the layer's. */
export const GRAIN_PARAMETERS = define({
  grainPosition: { ...SHARE, sides: 2, label: 'position', default: 0, help: 'Where in its sample a grain begins, as a share of what is played of it.' },
  grainPositionScatter: { ...SHARE, label: 'position scatter', default: 0, sense: [0, 30], help: 'How far from there, to either side, as a share of what is played of it.' },
  grainRate: { ...common, label: 'travel', unit: '%', low: -400, high: 400, default: 100, law: 'linear', sides: 2, sense: [-100, 200], help: 'How fast the position moves by itself: 100 % as recorded, below 0 backward, round and round.' },
  grainFreeze: { ...steps(['goes on', 'stands still']), label: 'freeze', default: 0, help: 'Whether the position moves by itself.' },
  grainLength: { ...common, label: 'grain length', unit: 's', low: 0.001, high: 1, default: 0.1, law: 'log', sides: 2, sense: [0.01, 0.4], help: 'How long a grain is.' },
  grainLengthScatter: { ...SHARE, label: 'length scatter', default: 0, help: 'How much shorter or longer a grain may be: at 100 % down to nothing, or twice as long.' },
  grainBy: { ...steps(['grains a second', 'overlap']), label: 'density by', default: 1, atStrike: true, help: 'Whether so many grains begin in a second, or so many sound at once.' },
  grainDensity: { ...common, label: 'grains a second', unit: 'Hz', low: 0.5, high: 500, default: 20, law: 'log', sides: 2, sense: [2, 120], help: 'How many grains begin in a second.' },
  grainOverlap: { ...common, label: 'overlap', unit: '', low: 0.1, high: 32, default: 2, law: 'log', sides: 2, sense: [0.5, 12], help: 'How many grains sound at once, on the average.' },
  grainTimeScatter: { ...SHARE, label: 'time scatter', default: 0, help: 'How unevenly grains follow one another.' },
  grainPitch: { ...common, label: 'grain pitch', unit: 'cents', low: -3600, high: 3600, default: 0, law: 'linear', sides: 2, sense: [-1200, 1200], help: 'Pitch of the grains, in cents from that of the note.' },
  grainPitchScatter: { ...common, label: 'pitch scatter', unit: 'cents', low: 0, high: 2400, default: 0, law: 'linear', sides: 1, sense: [0, 50], help: 'How far from there, to either side.' },
  grainPan: { ...common, label: 'grain pan', unit: 'pan', low: -1, high: 1, default: 0, law: 'linear', sides: 2, help: 'Where grains stand within their layer.' },
  grainPanScatter: { ...SHARE, label: 'pan scatter', default: 0, help: 'How far from there, to either side.' },
  grainReversed: { ...SHARE, label: 'reversed share', default: 0, help: 'How many of the grains are played backward.' },
  grainLevelScatter: { ...common, label: 'level scatter', unit: 'dB', low: 0, high: 36, default: 0, law: 'linear', sides: 1, sense: [0, 12], help: 'How much softer a grain may be.' },
  grainShape: { ...steps(SHAPE_NAMES), label: 'grain shape', default: 2, help: 'How a grain rises and falls.' },
  grainMost: { ...common, label: 'most grains', unit: '', low: 1, high: MOST_GRAINS, default: 32, law: 'steps', sides: 1, atStrike: true, help: 'Grains that a note may have at once; more begin only when others have ended.' },
  grainFollow: { ...steps(['keeps its pitch', 'follows the keys']), label: 'pitch of keys', default: 1, atStrike: true, help: 'Whether grains are played at the pitch of the key.' },
});
export type GrainParameterId = keyof typeof GRAIN_PARAMETERS;

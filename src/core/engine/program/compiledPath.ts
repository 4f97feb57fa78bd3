import { ARPEGGIO_ORDERS } from '../../music/arpeggios';
import { keysOfScale, SCALES, snapTable } from '../../music/scales';
import type { NotePath } from '../../rig/schema';
import type { CompiledWindow } from './compiledWindow';

export const POLY = 0,
  MONO = 1,
  LEGATO = 2;
export const WRITTEN = 0,
  KEPT = 1,
  DRAWN = 2;
export const NOTE_STEP = 0,
  TIE_STEP = 1,
  REST_STEP = 2;
export const ORDER = Object.fromEntries(ARPEGGIO_ORDERS.map((id, i) => [id, i])) as Record<
  (typeof ARPEGGIO_ORDERS)[number],
  number
>;

/**
 * What becomes of a note between key and sound, ready for the audio thread: plain data that travels with the program.
 */
export interface CompiledPath {
  /** By key: what it becomes, −1 nothing; null: what it is. */
  snap: Int16Array | null;
  /** The keys of the scale, rising; all of them without one. */
  scaleKeys: Int16Array;
  /** By key: place in `scaleKeys` of itself, or of the next one below (−1: none). */
  scalePlace: Int16Array;
  /** What is added to a note, in semitones or in steps of the scale. */
  added: Int8Array;
  inSteps: boolean;
  harmony: number;
  /** Null: the keys play. */
  arpeggio: CompiledArpeggio | null;
  playing: number;
  /** It plays something outside: its notes start no voices. */
  outside: boolean;
  seed: number;
  /** The layer's windows on key and velocity, which are meant for the keys as played. */
  entry: CompiledWindow[];
}

export interface CompiledArpeggio {
  order: number;
  hold: boolean;
  onBeat: boolean;
  kinds: Uint8Array;
  velocities: Float64Array;
  octaves: Int8Array;
  chances: Float64Array;
}

/** Whether anything on the way changes what is played. */
export const hasPath = ({ scale, chord, arpeggio, playing, instrument }: NotePath): boolean =>
  scale.on || (chord.on && chord.notes.length > 0) || arpeggio.on || playing !== 'poly' || instrument !== null;

export function compilePath(
  { scale, chord, arpeggio, playing, instrument, seed }: NotePath,
  entry: CompiledWindow[],
): CompiledPath {
  const { intervals } = SCALES.find(({ id }) => id === scale.name)!;
  const scaleKeys = Int16Array.from(
    scale.on ? keysOfScale(intervals, scale.root) : Array.from({ length: 128 }, (_, key) => key),
  );
  const scalePlace = new Int16Array(128).fill(-1);
  for (let key = 0, place = -1; key < 128; key++) {
    if (scaleKeys[place + 1] === key) place++;
    scalePlace[key] = place;
  }
  return {
    snap: scale.on ? snapTable(intervals, scale.root, scale.outside) : null,
    scaleKeys,
    scalePlace,
    added: Int8Array.from(chord.on ? chord.notes : []),
    inSteps: chord.in === 'steps',
    harmony: { written: WRITTEN, kept: KEPT, drawn: DRAWN }[chord.harmony],
    arpeggio: arpeggio.on
      ? {
          order: ORDER[arpeggio.order],
          hold: arpeggio.hold,
          onBeat: arpeggio.start === 'beat',
          kinds: Uint8Array.from(arpeggio.pattern, ({ kind }) =>
            kind === 'note' ? NOTE_STEP : kind === 'tie' ? TIE_STEP : REST_STEP,
          ),
          velocities: Float64Array.from(arpeggio.pattern, ({ velocity }) => velocity),
          octaves: Int8Array.from(arpeggio.pattern, ({ octave }) => octave),
          chances: Float64Array.from(arpeggio.pattern, ({ chance }) => chance),
        }
      : null,
    playing: { poly: POLY, mono: MONO, legato: LEGATO }[playing],
    outside: instrument !== null,
    seed,
    entry,
  };
}

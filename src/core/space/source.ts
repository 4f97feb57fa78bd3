import { ofText } from './ofText';

/** Stable text that names a source in files, routes and on the command line: `key`, `cc.1`, `macro.2`, `blend.1` … */
export type SourceId = string;
/** Whether a source has one value for each sounding note or one for the whole patch. */
export type Reach = 'note' | 'patch';

export type SourceKind =
  | 'key'
  | 'velocity'
  | 'releaseVelocity'
  | 'pressure'
  | 'slide'
  | 'random'
  | 'scatter'
  | 'alternate'
  | 'cc'
  | 'channelPressure'
  | 'bend'
  | 'macro'
  | 'strip'
  | 'blend'
  | 'xyX'
  | 'xyY'
  | 'xyAnchor'
  | 'lfo'
  | 'envelope'
  | 'contour'
  | 'steps'
  | 'hold'
  | 'wander'
  | 'follower';
/** The kinds that move by themselves; a mover of the patch has one value for all notes, whatever its source says. */
export const MOVER_KINDS = [
  'lfo',
  'envelope',
  'contour',
  'steps',
  'hold',
  'wander',
  'follower',
] as const satisfies readonly SourceKind[];
export type MoverKindId = (typeof MOVER_KINDS)[number];
export const isMoverKind = (kind: string): kind is MoverKindId => (MOVER_KINDS as readonly string[]).includes(kind);
/** Strips that a take moves at the most. */
export const MOST_STRIPS = 16;
/** Anchors of an XY pad at the most. */
export const MOST_ANCHORS = 8;

/**
 * One thing that moves. `index` is the number behind the dot, 0 where there is none; `part` is that of a pad's anchor.
 */
export interface Source {
  id: SourceId;
  kind: SourceKind;
  index: number;
  part: number;
  reach: Reach;
  unit: string;
  low: number;
  high: number;
  whole: boolean;
  rest: number;
}

interface KindEntry {
  reach: Reach;
  unit: string;
  low: number;
  high: number;
  whole: boolean;
  rest: number;
  indices?: readonly [number, number];
}

const twoSided: KindEntry = { reach: 'note', unit: 'share', low: -1, high: 1, whole: false, rest: 0, indices: [1, 16] };

const KINDS: Record<SourceKind, KindEntry> = {
  key: { reach: 'note', unit: 'key', low: 0, high: 127, whole: true, rest: 60 },
  velocity: { reach: 'note', unit: 'velocity', low: 1, high: 127, whole: true, rest: 100 },
  releaseVelocity: { reach: 'note', unit: 'velocity', low: 0, high: 127, whole: true, rest: 64 },
  pressure: { reach: 'note', unit: 'pressure', low: 0, high: 127, whole: true, rest: 0 },
  slide: { reach: 'note', unit: 'value', low: 0, high: 127, whole: false, rest: 64 },
  scatter: { reach: 'note', unit: 'share', low: 0, high: 1, whole: false, rest: 0.5, indices: [1, 8] },
  random: { reach: 'note', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 8] },
  alternate: { reach: 'note', unit: 'share', low: 0, high: 1, whole: true, rest: 0 },
  cc: { reach: 'patch', unit: 'value', low: 0, high: 127, whole: true, rest: 0, indices: [0, 127] },
  channelPressure: { reach: 'patch', unit: 'pressure', low: 0, high: 127, whole: true, rest: 0 },
  bend: { reach: 'patch', unit: 'share', low: -1, high: 1, whole: false, rest: 0 },
  macro: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 16] },
  // What a take moves by itself: see `rig/takes`. It stands in no file.
  strip: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, MOST_STRIPS] },
  blend: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 8] },
  xyX: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0.5, indices: [1, 4] },
  xyY: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0.5, indices: [1, 4] },
  xyAnchor: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 4] },
  lfo: twoSided,
  contour: twoSided,
  steps: twoSided,
  hold: twoSided,
  wander: twoSided,
  envelope: { ...twoSided, low: 0 },
  follower: { ...twoSided, low: 0, reach: 'patch' },
};

/**
 * The value controllers have before anything is moved: volume 100 as General MIDI has it would change levels, so volume
 * and expression rest at 127.
 */
export const restOfController = (controller: number): number => (controller === 7 || controller === 11 ? 127 : 0);

/** The source an id means, or undefined for a text that names none. The same object for the same id: leave it as it is. */
export const parseSource: (id: SourceId) => Source | undefined = ofText(readSource);

function readSource(id: SourceId): Source | undefined {
  const pad = /^xy\.([1-4])\.(?:(x)|(y)|anchor\.([1-8]))$/.exec(id);
  if (pad) {
    const kind = pad[2] ? 'xyX' : pad[3] ? 'xyY' : 'xyAnchor';
    return { id, kind, index: Number(pad[1]), part: Number(pad[4] ?? 0), ...KINDS[kind] };
  }
  const match = /^([a-zA-Z]+)(?:\.(\d{1,3}))?$/.exec(id);
  if (!match || !Object.hasOwn(KINDS, match[1]) || match[1].startsWith('xy')) return undefined;
  const kind = match[1] as SourceKind;
  const { indices, ...entry } = KINDS[kind];
  const index = match[2] === undefined ? 0 : Number(match[2]);
  if (indices ? match[2] === undefined || index < indices[0] || index > indices[1] : match[2] !== undefined)
    return undefined;
  return { id, kind, index, part: 0, ...entry, rest: kind === 'cc' ? restOfController(index) : entry.rest };
}

/** Kinds of sources that a hand puts somewhere; all others come with a strike, or move by themselves. */
export const SETTABLE: ReadonlySet<string> = new Set([
  'cc',
  'macro',
  'bend',
  'channelPressure',
  'pressure',
  'slide',
  'xyX',
  'xyY',
]);

/** Whether a source stays where it is from the strike to the end of the note. */
export const staysForNote = (kind: SourceKind): boolean =>
  kind === 'key' || kind === 'velocity' || kind === 'random' || kind === 'scatter' || kind === 'alternate';

/** A source value in its own unit, as routes see it: 0…1, or −1…1 for a two-sided source such as bend. */
export const normalisedOf = (source: Pick<Source, 'low' | 'high'>, x: number): number =>
  source.low < 0 ? x / source.high : (x - source.low) / (source.high - source.low);

const CONTROLLER_NAMES: Record<number, string> = {
  1: 'wheel',
  2: 'breath',
  4: 'foot',
  7: 'volume',
  11: 'expression',
  64: 'sustain',
  66: 'sostenuto',
  67: 'soft pedal',
  74: 'slide',
};

/** What people call a source: `wheel (CC 1)`, `macro 2`, `velocity`. */
export function labelOfSource(id: SourceId): string {
  const source = parseSource(id);
  if (!source) return id;
  if (source.kind === 'cc') {
    const name = CONTROLLER_NAMES[source.index];
    return name ? `${name} (CC ${source.index})` : `CC ${source.index}`;
  }
  if (source.kind === 'xyX' || source.kind === 'xyY')
    return `XY pad ${source.index} ${source.kind === 'xyX' ? 'x' : 'y'}`;
  if (source.kind === 'xyAnchor') return `XY pad ${source.index} anchor ${source.part}`;
  const own = { lfo: 'LFO', hold: 'sample and hold' }[source.kind as string];
  if (own) return `${own} ${source.index}`;
  const words = source.kind.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
  return source.index ? `${words} ${source.index}` : words;
}

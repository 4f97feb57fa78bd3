/** Stable text that names a source in files, routes and on the command line: `key`, `cc.1`, `macro.2`, `blend.1` … */
export type SourceId = string;
/** Whether a source has one value for each sounding note or one for the whole patch. */
export type Reach = 'note' | 'patch';

export type SourceKind =
  | 'key' | 'velocity' | 'releaseVelocity' | 'pressure' | 'random'
  | 'cc' | 'channelPressure' | 'bend' | 'macro' | 'blend';

/** One thing that moves. `index` is the number behind the dot, 0 where there is none. */
export interface Source { id: SourceId; kind: SourceKind; index: number; reach: Reach; unit: string; low: number; high: number; whole: boolean; rest: number }

interface KindEntry { reach: Reach; unit: string; low: number; high: number; whole: boolean; rest: number; indices?: readonly [number, number] }

const KINDS: Record<SourceKind, KindEntry> = {
  key: { reach: 'note', unit: 'key', low: 0, high: 127, whole: true, rest: 60 },
  velocity: { reach: 'note', unit: 'velocity', low: 1, high: 127, whole: true, rest: 100 },
  releaseVelocity: { reach: 'note', unit: 'velocity', low: 0, high: 127, whole: true, rest: 64 },
  pressure: { reach: 'note', unit: 'pressure', low: 0, high: 127, whole: true, rest: 0 },
  random: { reach: 'note', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 8] },
  cc: { reach: 'patch', unit: 'value', low: 0, high: 127, whole: true, rest: 0, indices: [0, 127] },
  channelPressure: { reach: 'patch', unit: 'pressure', low: 0, high: 127, whole: true, rest: 0 },
  bend: { reach: 'patch', unit: 'share', low: -1, high: 1, whole: false, rest: 0 },
  macro: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 16] },
  blend: { reach: 'patch', unit: 'share', low: 0, high: 1, whole: false, rest: 0, indices: [1, 8] },
};

/** The value controllers have before anything is moved: volume 100 as General MIDI has it would change levels, so volume and expression rest at 127. */
export const restOfController = (controller: number): number => (controller === 7 || controller === 11 ? 127 : 0);

/** The source an id means, or undefined for a text that names none. */
export function parseSource(id: SourceId): Source | undefined {
  const match = /^([a-zA-Z]+)(?:\.(\d{1,3}))?$/.exec(id);
  if (!match || !Object.hasOwn(KINDS, match[1])) return undefined;
  const kind = match[1] as SourceKind;
  const { indices, ...entry } = KINDS[kind];
  const index = match[2] === undefined ? 0 : Number(match[2]);
  if (indices ? match[2] === undefined || index < indices[0] || index > indices[1] : match[2] !== undefined) return undefined;
  return { id, kind, index, ...entry, rest: kind === 'cc' ? restOfController(index) : entry.rest };
}

/** Whether a source stays where it is from the strike to the end of the note. */
export const staysForNote = (kind: SourceKind): boolean => kind === 'key' || kind === 'velocity' || kind === 'random';

/** A source value in its own unit, as routes see it: 0…1, or −1…1 for a two-sided source such as bend. */
export const normalisedOf = (source: Pick<Source, 'low' | 'high'>, x: number): number =>
  source.low < 0 ? x / source.high : (x - source.low) / (source.high - source.low);

const CONTROLLER_NAMES: Record<number, string> = {
  1: 'wheel', 2: 'breath', 4: 'foot', 7: 'volume', 11: 'expression', 64: 'sustain', 66: 'sostenuto', 67: 'soft pedal', 74: 'slide',
};

/** What people call a source: `wheel (CC 1)`, `macro 2`, `velocity`. */
export function labelOfSource(id: SourceId): string {
  const source = parseSource(id);
  if (!source) return id;
  if (source.kind === 'cc') {
    const name = CONTROLLER_NAMES[source.index];
    return name ? `${name} (CC ${source.index})` : `CC ${source.index}`;
  }
  const words = source.kind.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
  return source.index ? `${words} ${source.index}` : words;
}

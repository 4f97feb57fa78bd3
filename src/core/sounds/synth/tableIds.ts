/** Rows of waves that come with the application, in their order: see `TABLES`. */
export const TABLE_IDS: readonly string[] = [
  'opening',
  'hollow',
  'narrowing',
  'vowels',
  'reeds',
  'bells',
  'combed',
  'pipes',
  'glass',
  'folded',
  'leaning',
  'stairs',
  'rising',
  'crossing',
  'plucked',
  'bent',
  'buzzing',
  'weather',
];

/** What a synth plays from: {@link SHAPES}, a row that comes with the application, or frames of a recording. */
export interface WaveRequest {
  table: string;
  length: number;
}
/** The plain shapes that every oscillator may play, as one row. */
export const SHAPES = 'shapes';

/** Whether a request is for something that the application makes itself, without a recording. */
export const needsNoFile = ({ waves }: { waves?: WaveRequest }): boolean =>
  waves !== undefined && (waves.table === SHAPES || TABLE_IDS.includes(waves.table));

import { newSpectrum, spectrumOf, waveSetOf, type Spectrum, type WaveSet } from '../../dsp/waves';
import { SHAPES, type WaveRequest } from './tableIds';

/** Waves of a row, and harmonics that each may have. */
export const WAVES_IN_TABLE = 32;
export const MOST_WAVES = 64;
export const TABLE_HARMONICS = 512;
/** Harmonics of the plain shapes: at the lowest key of a grand piano, to the end of hearing. */
export const SHAPE_HARMONICS = 1024;

/** A row of waves that comes with the application: what it is called, and its spectrum at each place 0…1 of the row. */
export interface Table {
  id: string;
  label: string;
  help: string;
  wave(place: number): Spectrum;
}

const LENGTH = 4096;
/** A wave from its curve over a cycle. */
const drawn = (curve: (phase: number) => number): Spectrum =>
  spectrumOf(
    Float64Array.from({ length: LENGTH }, (_, i) => curve(i / LENGTH)),
    TABLE_HARMONICS,
  );
/**
 * A wave from the amplitudes of its harmonics. Their phases are spread, so that it has no peaks, and are the same for
 * every wave, so that what lies between two waves lies between their spectra.
 */
function built(amplitude: (harmonic: number) => number): Spectrum {
  const spectrum = newSpectrum(TABLE_HARMONICS);
  for (let h = 1; h <= TABLE_HARMONICS; h++) {
    const angle = (Math.PI * h * (h - 1)) / SPREAD;
    spectrum.sines[h] = amplitude(h) * Math.cos(angle);
    spectrum.cosines[h] = amplitude(h) * Math.sin(angle);
  }
  return spectrum;
}
/**
 * Harmonics over which phases go once through all that they can be (M. R. Schroeder, "Synthesis of low-peak-factor
 * signals", IEEE Trans. IT 16 (1970), for that many equal ones).
 */
const SPREAD = 40;
const between = (a: number, b: number, t: number): number => a + (b - a) * t;
const bump = (x: number, middle: number, width: number): number => Math.exp(-(((x - middle) / width) ** 2));
/** Chance that is the same each time: a number 0…1 for each place of a row of them. */
const chance = (n: number): number => {
  const x = Math.sin(n * 127.1 + 311.7) * 43758.5453;
  return x - Math.floor(x);
};
/**
 * How strongly a harmonic is heard through resonances, given as harmonics of a note near middle C, their strength and
 * breadth in octaves.
 */
const through = (
  h: number,
  resonances: readonly (readonly [at: number, strength: number, octaves: number])[],
): number =>
  resonances.reduce(
    (sum, [at, strength, octaves]) => sum + strength * bump(Math.log2(h), Math.log2(at), octaves),
    0.02,
  );
/**
 * Middles of the first three resonances of five vowels, in Hz: G. E. Peterson and H. L. Barney, JASA 24 (1952), table
 * II, men: from memory, rounded.
 */
const VOWELS = [
  [730, 1090, 2440],
  [530, 1840, 2480],
  [270, 2290, 3010],
  [570, 840, 2410],
  [300, 870, 2240],
];

/** The rows of waves that come with the application. */
export const TABLES: readonly Table[] = [
  {
    id: 'opening',
    label: 'Opening',
    help: 'From a sine to a bright saw.',
    wave: (p) => built((h) => 1 / h ** between(6, 1, Math.sqrt(p))),
  },
  {
    id: 'hollow',
    label: 'Hollow',
    help: 'Odd harmonics alone, from one to many.',
    wave: (p) => built((h) => (h % 2 ? 1 / h ** between(5, 0.9, Math.sqrt(p)) : 0)),
  },
  {
    id: 'narrowing',
    label: 'Narrowing',
    help: 'A pulse from half of the cycle to a twentieth.',
    wave: (p) => {
      const width = between(0.5, 0.05, p);
      return drawn((x) => (x < width ? 1 - width : -width));
    },
  },
  {
    id: 'vowels',
    label: 'Vowels',
    help: 'Five vowels, one after the other.',
    wave: (p) => {
      const place = p * (VOWELS.length - 1),
        n = Math.min(VOWELS.length - 2, Math.floor(place)),
        t = place - n;
      return built(
        (h) =>
          through(
            h,
            [0, 1, 2].map((i) => [between(VOWELS[n][i], VOWELS[n + 1][i], t) / 262, [1, 0.7, 0.35][i], 0.28] as const),
          ) /
          h ** 0.5,
      );
    },
  },
  {
    id: 'reeds',
    label: 'Reeds',
    help: 'A nasal resonance that climbs over a reedy spectrum.',
    wave: (p) =>
      built((h) => ((h % 2 ? 1 : 0.35) / h ** 0.8) * (0.25 + 2 * bump(Math.log2(h), between(1, 4.6, p), 0.5))),
  },
  {
    id: 'bells',
    label: 'Bells',
    help: 'Few harmonics, far apart, more of them and higher ones as it goes on.',
    wave: (p) =>
      built(
        (h) =>
          ([1, 2, 5, 7, 11, 17, 23, 31, 41, 53].includes(h)
            ? 1 / (1 + Math.abs(Math.log2(h) - between(0, 4.8, p))) ** 2
            : 0) + (h === 1 ? 0.4 : 0),
      ),
  },
  {
    id: 'combed',
    label: 'Combed',
    help: 'A saw through a comb whose teeth draw together.',
    wave: (p) => built((h) => Math.abs(Math.cos(Math.PI * h * between(0.04, 0.47, p) + 0.2)) ** 2 / h ** 0.9),
  },
  {
    id: 'pipes',
    label: 'Pipes',
    help: 'Stops of a pipe organ drawn one after another.',
    wave: (p) =>
      built((h) => {
        const at = [1, 2, 3, 4, 6, 8, 12, 16].indexOf(h);
        return at < 0 ? 0 : Math.min(1, Math.max(0, p * 8 - at + 1)) / (1 + 0.12 * at);
      }),
  },
  {
    id: 'glass',
    label: 'Glass',
    help: 'Octaves above a faint ground.',
    wave: (p) =>
      built(
        (h) =>
          (Number.isInteger(Math.log2(h)) ? bump(Math.log2(h), between(0, 6, p), 1.1) : 0) +
          (h === 1 ? 0.25 : 0) +
          (h === 3 ? 0.12 : 0),
      ),
  },
  {
    id: 'folded',
    label: 'Folded',
    help: 'A sine that is driven over the edge and folded back.',
    wave: (p) => {
      const drive = between(1, 7, p);
      return drawn((x) => Math.sin((Math.PI / 2) * drive * Math.sin(2 * Math.PI * x)));
    },
  },
  {
    id: 'leaning',
    label: 'Leaning',
    help: 'A sine that leans over until it is nearly a saw.',
    wave: (p) => {
      const turn = between(0.5, 0.02, p);
      return drawn((x) => -Math.cos(Math.PI * (x < turn ? x / turn : 1 + (x - turn) / (1 - turn))));
    },
  },
  {
    id: 'stairs',
    label: 'Stairs',
    help: 'A sine in steps, from two to many.',
    wave: (p) => {
      const steps = 0.6 * 24 ** p;
      return drawn((x) => Math.round(Math.sin(2 * Math.PI * x) * steps) / steps);
    },
  },
  {
    id: 'rising',
    label: 'Rising',
    help: 'A band of harmonics that rises.',
    wave: (p) => built((h) => bump(Math.log2(h), between(0, 5.7, p), 0.7) + (h === 1 ? 0.15 : 0)),
  },
  {
    id: 'crossing',
    label: 'Crossing',
    help: 'Two bands, a narrow one rising through a broad one that falls.',
    wave: (p) =>
      built(
        (h) =>
          bump(Math.log2(h), between(0.2, 5.6, p), 0.35) +
          0.6 * bump(Math.log2(h), between(5, 1.6, p), 0.9) +
          (h === 1 ? 0.1 : 0),
      ),
  },
  {
    id: 'plucked',
    label: 'Plucked',
    help: 'A string plucked at its middle, and ever nearer to its end.',
    wave: (p) =>
      built((h) => Math.abs(Math.sin(Math.PI * h * between(0.5, 0.03, Math.sqrt(p)))) / h ** between(1.6, 1.05, p)),
  },
  {
    id: 'bent',
    label: 'Bent',
    help: 'A sine bent in its phase by another of twice its frequency, ever more.',
    wave: (p) => {
      const index = 6 * p;
      return drawn((x) => Math.sin(2 * Math.PI * x + index * Math.sin(4 * Math.PI * x)));
    },
  },
  {
    id: 'buzzing',
    label: 'Buzzing',
    help: 'Equal harmonics, from one to sixty-four.',
    wave: (p) => {
      const count = 64 ** p;
      return built((h) => Math.min(1, Math.max(0, count - h + 1)));
    },
  },
  {
    id: 'weather',
    label: 'Weather',
    help: 'Spectra of chance, one flowing into the next.',
    wave: (p) => {
      const place = p * 6,
        n = Math.floor(place),
        t = place - n,
        smooth = t * t * (3 - 2 * t);
      return built((h) => (h > 96 ? 0 : between(chance(h + 97 * n), chance(h + 97 * (n + 1)), smooth) ** 3 / h ** 0.6));
    },
  },
];

/**
 * Harmonics of a note near middle C as loud as loudness is measured: the shelf of ITU-R BS.1770-4, as an analogue
 * filter (1682 Hz, 4 dB), and nothing beyond 20 kHz.
 */
function weight(harmonic: number): number {
  const hz = 262 * harmonic;
  if (hz > 20000) return 0;
  const x = hz / 1682,
    high = 10 ** (4 / 20),
    band = high ** 0.5,
    q = Math.SQRT1_2;
  return Math.sqrt(((1 - high * x * x) ** 2 + ((band * x) / q) ** 2) / ((1 - x * x) ** 2 + (x / q) ** 2));
}
const LOUDNESS = 0.22;

/** The same wave at the common loudness; softer where it would go beyond full scale. */
export function levelled(spectrum: Spectrum): Spectrum {
  let power = 0;
  for (let h = 1; h < spectrum.sines.length; h++)
    power += 0.5 * (spectrum.sines[h] ** 2 + spectrum.cosines[h] ** 2) * weight(h) ** 2;
  if (power === 0) return spectrum;
  const gain = LOUDNESS / Math.sqrt(power);
  return { sines: spectrum.sines.map((x) => x * gain), cosines: spectrum.cosines.map((x) => x * gain) };
}

/** The spectra of a row that comes with the application, at the common loudness; undefined for a name that none has. */
export function spectraOf(id: string): Spectrum[] | undefined {
  const table = TABLES.find((each) => each.id === id);
  return table && Array.from({ length: WAVES_IN_TABLE }, (_, w) => levelled(table.wave(w / (WAVES_IN_TABLE - 1))));
}

/**
 * The spectra of a row brought in: frames of a recording, `length` for each wave (found from 2048 downward where it is
 * 0: the longest power of two of which the recording holds a whole number of
 * cycles; else all of it is one wave). More than {@link MOST_WAVES} are thinned out. All at the common loudness, so
 * that a row swells where it did only by its tone.
 */
export function spectraOfRecording(data: ArrayLike<number>, channels: number, length: number): Spectrum[] {
  const frames = Math.floor(data.length / channels);
  const size = Math.max(2, length > 0 ? Math.min(length, frames) : lengthOfWaves(frames));
  const count = Math.max(1, Math.floor(frames / size));
  const kept = Math.min(MOST_WAVES, count);
  return Array.from({ length: kept }, (_, k) => {
    const w = kept === 1 ? 0 : Math.round((k * (count - 1)) / (kept - 1));
    return levelled(
      spectrumOf(
        Float64Array.from({ length: size }, (_, i) => data[(w * size + i) * channels]),
        TABLE_HARMONICS,
      ),
    );
  });
}

/** The length of the waves of which a recording of so many frames seems to be made. */
export const lengthOfWaves = (frames: number): number =>
  [2048, 1024, 512, 256].find((size) => frames % size === 0 && frames / size <= 256) ?? frames;

/** Saw, triangle and sine, full scale: what plain oscillators read. A pulse is the difference of two saws. */
export const SHAPE_SAW = 0,
  SHAPE_TRIANGLE = 1,
  SHAPE_SINE = 2;
export function shapeSpectra(): Spectrum[] {
  const saw = newSpectrum(SHAPE_HARMONICS);
  const triangle = newSpectrum(SHAPE_HARMONICS);
  const sine = newSpectrum(SHAPE_HARMONICS);
  for (let h = 1; h <= SHAPE_HARMONICS; h++) {
    saw.sines[h] = 2 / (Math.PI * h);
    if (h % 2) triangle.sines[h] = ((h % 4 === 1 ? 1 : -1) * 8) / (Math.PI * h) ** 2;
  }
  sine.sines[1] = 1;
  return [saw, triangle, sine];
}

/** Makes the waves of a request ready; `data` is the recording of a row brought in. */
export function makeWaves({ table, length }: WaveRequest, data: ArrayLike<number>, channels: number): WaveSet {
  if (table === SHAPES) return waveSetOf(shapeSpectra(), SHAPE_HARMONICS);
  return waveSetOf(spectraOf(table) ?? spectraOfRecording(data, channels, length), TABLE_HARMONICS);
}

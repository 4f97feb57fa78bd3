import FFT from 'fft.js';

/**
 * Single cycles of sound, one or a row of them, made ready for being read at any pitch: a copy for each half octave,
 * with no harmonic that would lie beyond half of the rate.
 * Each copy is kept as sixths of cubic spline coefficients, as samples are (`spline.ts`), at eight frames and more for
 * the shortest harmonic, so that the images of the reading lie 67 dB and more
 * under what they are images of.
 */
export interface WaveSet {
  /** Cycles in the row. */
  waves: number;
  /** From the one with most harmonics. */
  levels: readonly WaveLevel[];
  /**
   * Level by level, wave by wave: the last frame, all frames, the first two frames, and one more to keep whole pairs.
   */
  data: Float32Array;
}
/**
 * `first` is the place of the level's first wave in the data; from one to the next there are `size` + {@link
 * WAVE_GUARD}.
 */
export interface WaveLevel {
  harmonics: number;
  size: number;
  first: number;
}
export const WAVE_GUARD = 4;

/** Harmonics of one cycle: sines and cosines by number, place 0 unused. */
export interface Spectrum {
  sines: Float64Array;
  cosines: Float64Array;
}
export const newSpectrum = (harmonics: number): Spectrum => ({
  sines: new Float64Array(harmonics + 1),
  cosines: new Float64Array(harmonics + 1),
});

const SMALLEST = 128;
const FRAMES_PER_HARMONIC = 8;

/** The copies of waves that have at most so many harmonics. */
export function levelsOf(harmonics: number, waves: number): { levels: WaveLevel[]; length: number } {
  const levels: WaveLevel[] = [];
  let length = 0;
  for (let k = 0; ; k++) {
    const count = Math.floor(harmonics * 2 ** (-k / 2));
    if (levels.length > 0 && count === levels[levels.length - 1].harmonics) continue;
    const size = Math.max(SMALLEST, 2 ** Math.ceil(Math.log2(FRAMES_PER_HARMONIC * count)));
    levels.push({ harmonics: count, size, first: length });
    length += waves * (size + WAVE_GUARD);
    if (count <= 1) return { levels, length };
  }
}

/**
 * The level for an oscillator of so many cycles in a frame: the richest without a harmonic beyond half of the rate.
 * `values[at]` is handed over in an array, as fractions are in the audio thread.
 */
export function levelOfWave({ levels }: WaveSet, values: Float64Array, at: number): number {
  let level = 0;
  while (level < levels.length - 1 && levels[level].harmonics * values[at] >= 0.5) level++;
  return level;
}

const transforms = new Map<number, InstanceType<typeof FFT>>();
const transform = (size: number): InstanceType<typeof FFT> => {
  let found = transforms.get(size);
  if (!found) transforms.set(size, (found = new FFT(size)));
  return found;
};

/** Makes waves of their spectra ready. */
export function waveSetOf(spectra: readonly Spectrum[], harmonics: number): WaveSet {
  const { levels, length } = levelsOf(harmonics, spectra.length);
  const shared = (globalThis as { SharedArrayBuffer?: typeof SharedArrayBuffer }).SharedArrayBuffer;
  const data = new Float32Array(
    shared ? (new shared(4 * length) as unknown as ArrayBuffer) : new ArrayBuffer(4 * length),
  );
  for (const { harmonics: most, size, first } of levels) {
    const fft = transform(size);
    const bins = fft.createComplexArray() as number[];
    const out = fft.createComplexArray() as number[];
    spectra.forEach(({ sines, cosines }, w) => {
      bins.fill(0);
      for (let h = 1; h <= most && h < sines.length; h++) {
        // What a cubic spline, and its sixths, make of this harmonic is taken back beforehand.
        const share = size / 2 / (4 + 2 * Math.cos((2 * Math.PI * h) / size));
        bins[2 * h] = bins[2 * (size - h)] = cosines[h] * share;
        bins[2 * h + 1] = -sines[h] * share;
        bins[2 * (size - h) + 1] = sines[h] * share;
      }
      fft.inverseTransform(out, bins);
      const at = first + w * (size + WAVE_GUARD);
      for (let i = 0; i < size; i++) data[at + 1 + i] = out[2 * i];
      data[at] = data[at + size];
      data[at + size + 1] = data[at + 1];
      data[at + size + 2] = data[at + 2];
    });
  }
  return { waves: spectra.length, levels, data };
}

/**
 * The spectrum of one cycle, given frame by frame; of any length from 2 on. What lies above `harmonics` is left out.
 */
export function spectrumOf(cycle: ArrayLike<number>, harmonics: number): Spectrum {
  const spectrum = newSpectrum(harmonics);
  const count = cycle.length;
  const most = Math.min(harmonics, Math.floor((count - 1) / 2));
  if (count > 4 && (count & (count - 1)) === 0) {
    const fft = transform(count);
    const out = fft.createComplexArray() as number[];
    fft.realTransform(out, Array.from(cycle));
    for (let h = 1; h <= most; h++) {
      spectrum.cosines[h] = (2 * out[2 * h]) / count;
      spectrum.sines[h] = (-2 * out[2 * h + 1]) / count;
    }
    return spectrum;
  }
  for (let h = 1; h <= most; h++) {
    let s = 0;
    let c = 0;
    for (let i = 0; i < count; i++) {
      const angle = (2 * Math.PI * ((h * i) % count)) / count;
      s += cycle[i] * Math.sin(angle);
      c += cycle[i] * Math.cos(angle);
    }
    spectrum.sines[h] = (2 * s) / count;
    spectrum.cosines[h] = (2 * c) / count;
  }
  return spectrum;
}

/** One value of a wave of a spectrum, at a phase 0…1: its definition, for checks and pictures. */
export function valueOf({ sines, cosines }: Spectrum, phase: number, harmonics = sines.length - 1): number {
  let sum = 0;
  for (let h = 1; h <= Math.min(harmonics, sines.length - 1); h++)
    sum += sines[h] * Math.sin(2 * Math.PI * h * phase) + cosines[h] * Math.cos(2 * Math.PI * h * phase);
  return sum;
}

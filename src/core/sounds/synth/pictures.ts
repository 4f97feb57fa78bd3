import { valueOf, type Spectrum } from '../../dsp/waves';
import { spectraOf, spectraOfRecording } from './tables';

/** Harmonics that a picture of a wave shows. */
const HARMONICS = 40;
const curvesOf = (spectra: readonly Spectrum[], points: number): number[][] =>
  spectra.map((spectrum) => Array.from({ length: points + 1 }, (_, i) => valueOf(spectrum, i / points, HARMONICS)));

/** The waves of a row that comes with the application as curves over a cycle; undefined for a name that none has. */
export const curvesOfTable = (id: string, points: number): number[][] | undefined => {
  const spectra = spectraOf(id);
  return spectra && curvesOf(spectra, points);
};

/** The same of a row that was brought in. */
export const curvesOfRecording = (
  data: ArrayLike<number>,
  channels: number,
  length: number,
  points: number,
): number[][] => curvesOf(spectraOfRecording(data, channels, length), points);

import type { Audio } from '../dsp/sample';
import { dbOfGain } from '../music/pitch';
import { loudnessOf, peakOf } from './loudness';

/**
 * Levels of a recording: greatest sample and mean power in dB against full scale, loudness in LUFS (−Infinity for
 * silence).
 */
export interface Levels {
  peakDb: number;
  rmsDb: number;
  lufs: number;
}

/** The channels of interleaved audio, each by itself. */
export function channelsOf({ channels, data }: Audio): Float32Array[] {
  if (channels === 1) return [data];
  const frames = data.length / 2;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    left[i] = data[2 * i];
    right[i] = data[2 * i + 1];
  }
  return [left, right];
}

/** Both sides as frames of two channels. */
export function interleaved(left: Float32Array, right: Float32Array, rate: number): Audio {
  const data = new Float32Array(2 * left.length);
  for (let i = 0; i < left.length; i++) {
    data[2 * i] = left[i];
    data[2 * i + 1] = right[i];
  }
  return { rate, channels: 2, data };
}

/** Longest stretch that is looked at: the level of a long recording is that of its beginning, where it is played. */
const MOST_SECONDS = 12;
const SHORTEST_LOUDNESS_SECONDS = 0.4;

/**
 * Measures a recording. Loudness is integrated after ITU-R BS.1770-4; a recording shorter than one of its blocks (400
 * ms) counts as followed by silence. A mono
 * recording counts as played in the middle.
 */
export function levelsOf(audio: Audio): Levels {
  const most = Math.min(audio.data.length, Math.round(MOST_SECONDS * audio.rate) * audio.channels);
  const channels = channelsOf({ ...audio, data: audio.data.subarray(0, most) });
  let power = 0;
  for (let i = 0; i < most; i++) power += audio.data[i] ** 2;
  const least = Math.ceil(SHORTEST_LOUDNESS_SECONDS * audio.rate) + 1;
  const padded =
    channels[0].length >= least
      ? channels
      : channels.map((channel) => {
          const out = new Float32Array(least);
          out.set(channel);
          return out;
        });
  return {
    peakDb: dbOfGain(peakOf(channels)),
    rmsDb: most > 0 ? 10 * Math.log10(power / most) : -Infinity,
    lufs: loudnessOf(padded, audio.rate),
  };
}

/** The loudness to which sounds are brought for comparing them. */
const AUDITION_LUFS = -20;
const HIGHEST_PEAK_DB = -1;

/**
 * Gain in dB that brings a recording to the common loudness for auditions, without taking its peaks above full scale; 0
 * for silence.
 */
export const loudnessGainDb = ({ lufs, peakDb }: Levels): number =>
  Number.isFinite(lufs) && Number.isFinite(peakDb)
    ? Math.max(-96, Math.min(48, AUDITION_LUFS - lufs, HIGHEST_PEAK_DB - peakDb))
    : 0;

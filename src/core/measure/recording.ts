import type { Audio } from '../dsp/sample';
import { loopQuality, type LoopQuality } from './loop';
import { channelsOf, levelsOf } from './level';
import { pitchOf } from './pitch';

/** What is to be known of a recording by itself. */
export interface Recording {
  /** Frames in a second, and how many there are. */
  rate: number;
  frames: number;
  /** Greatest sample in dB, loudness in LUFS (BS.1770-4); null: silence. */
  peakDb: number | null;
  lufs: number | null;
  /** Mean, as a share of full scale. */
  dc: number;
  /** Frames before it first rises above 60 dB below its peak. */
  onset: number;
  /** Places where three frames or more stand at its greatest value, close to full scale. */
  clipped: number;
  /** Steady noise that is left in its softest moment, in dB below its loudest one; null: none. */
  noiseDb: number | null;
  /** What it sounds at, and how clearly (0…1); null: at nothing. */
  hz: number | null;
  clarity: number;
}

/** A strike begins where it rises above so many dB below the peak. */
const ONSET_DB = -60;
/** Frames at one value that count as cut off, and from which level on (dB). */
const FLAT_FRAMES = 3;
const NEAR_FULL = 10 ** (-1 / 20);
/**
 * Length of the moments that are compared for noise, and how much like noise the softest must be: flatness of its
 * spectrum, 0…1.
 */
const NOISE_SECONDS = 0.1;

/**
 * A loop of a zone: steps at its joint as shares of the greatest amplitude near it, likeness −1…1 of its surroundings,
 * and the rate at which it repeats.
 */
export type LoopHeard = LoopQuality & { hz: number };

/** A loop as it is heard; undefined where it does not lie in the recording. */
export const loopOf = (audio: Audio, { start, end }: { start: number; end: number }): LoopHeard | undefined =>
  end > audio.data.length / audio.channels
    ? undefined
    : { ...loopQuality(audio, start, end), hz: audio.rate / (end - start) };

/**
 * All that is to be known of a recording by itself. `pitched`: whether a pitch is looked for, which costs most of the
 * time.
 */
export function recordingOf(audio: Audio, pitched = true): Recording {
  const channels = channelsOf(audio);
  const frames = channels[0].length;
  const levels = levelsOf(audio);
  let peak = 0;
  let sum = 0;
  for (let i = 0; i < audio.data.length; i++) {
    const x = audio.data[i];
    sum += x;
    if (x > peak) peak = x;
    else if (-x > peak) peak = -x;
  }
  const pitch = pitched && peak > 0 ? pitchOf(audio) : null;
  return {
    rate: audio.rate,
    frames,
    peakDb: peak > 0 ? 20 * Math.log10(peak) : null,
    lufs: Number.isFinite(levels.lufs) ? levels.lufs : null,
    dc: frames > 0 ? sum / audio.data.length : 0,
    onset: onsetOf(channels, peak),
    clipped: peak >= NEAR_FULL ? flatTops(channels, peak) : 0,
    noiseDb: noiseUnder(channels, audio.rate),
    hz: pitch?.hz ?? null,
    clarity: pitch?.clarity ?? 0,
  };
}

function onsetOf(channels: readonly Float32Array[], peak: number): number {
  const least = peak * 10 ** (ONSET_DB / 20);
  let first = channels[0].length;
  for (const channel of channels) {
    for (let i = 0; i < first; i++) if (Math.abs(channel[i]) > least) first = i;
  }
  return peak > 0 ? first : 0;
}

/**
 * Places where a recording stands still at its greatest value: a converter or a file at its limit (common practice, no
 * source).
 */
function flatTops(channels: readonly Float32Array[], peak: number): number {
  let places = 0;
  for (const channel of channels) {
    let run = 0;
    for (const x of channel) {
      if (Math.abs(x) >= peak * 0.9999) run++;
      else {
        if (run >= FLAT_FRAMES) places++;
        run = 0;
      }
    }
    if (run >= FLAT_FRAMES) places++;
  }
  return places;
}

/**
 * Level of the softest moment against the loudest, where that moment is noise: successive frames hardly resemble one
 * another.
 */
function noiseUnder(channels: readonly Float32Array[], rate: number): number | null {
  const size = Math.round(NOISE_SECONDS * rate);
  const frames = channels[0].length;
  let softest = Infinity;
  let softAt = -1;
  let loudest = 0;
  for (let at = 0; at + size <= frames; at += size) {
    let power = 0;
    for (const channel of channels) for (let i = at; i < at + size; i++) power += channel[i] ** 2;
    power /= size * channels.length;
    loudest = Math.max(loudest, power);
    // Digital silence is none.
    if (power > 1e-12 && power < softest) {
      softest = power;
      softAt = at;
    }
  }
  if (softAt < 0 || loudest <= softest) return null;
  return isNoise(channels[0].subarray(softAt, softAt + size)) ? 10 * Math.log10(softest / loudest) : null;
}

/** Whether a stretch is noise and no tone: over all distances of up to 20 ms it never looks much like itself. */
function isNoise(samples: Float32Array): boolean {
  const reach = Math.min(samples.length >> 1, 960);
  const length = samples.length - reach;
  let own = 1e-20;
  for (let i = 0; i < length; i++) own += samples[i] ** 2;
  let alike = 0;
  for (let lag = 12; lag < reach; lag += 1) {
    let both = 0;
    let other = 1e-20;
    for (let i = 0; i < length; i += 2) {
      both += samples[i] * samples[i + lag];
      other += samples[i + lag] ** 2;
    }
    alike = Math.max(alike, both / Math.sqrt((own / 2) * other));
    if (alike > 0.5) return false;
  }
  return true;
}

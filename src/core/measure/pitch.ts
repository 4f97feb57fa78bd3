import { PitchDetector } from 'pitchy';
import type { Audio } from '../dsp/sample';
import { keyOfFrequency } from '../music/pitch';
import { channelsOf } from './level';

/** A pitch that was heard: nearest key, distance from it in cents (−50…50), and clarity 0…1 (1: perfectly periodic). */
export interface HeardPitch {
  hz: number;
  key: number;
  cents: number;
  clarity: number;
}

const LOWEST_HZ = 25;
const WINDOWS = 12;

/**
 * The pitch of a recording by the McLeod pitch method (P. McLeod, G. Wyvill, "A smarter way to find pitch", ICMC 2005),
 * through a library: the median of
 * several windows over its loudest second and a half, weighed by their clarity. Null where nothing is periodic at all.
 */
export function pitchOf(audio: Audio): HeardPitch | null {
  const [left, right] = channelsOf(audio);
  const mono = right ? left.map((x, i) => (x + right[i]) / 2) : left;
  let size = 1024;
  while (size < (2.2 * audio.rate) / LOWEST_HZ && size * 2 <= mono.length) size *= 2;
  if (mono.length < size) return null;
  const detector = detectorOf(size);
  const from = onsetOf(mono, audio.rate);
  const room = Math.max(0, Math.min(mono.length - size - from, Math.round(1.5 * audio.rate)));
  const heard: { hz: number; clarity: number }[] = [];
  for (let w = 0; w < WINDOWS; w++) {
    const at = Math.min(mono.length - size, from + Math.round((room * w) / WINDOWS));
    const [hz, clarity] = detector.findPitch(mono.subarray(at, at + size), audio.rate);
    // Two periods must fit in the window: with less, chance looks like likeness.
    if (hz >= (2 * audio.rate) / size && Number.isFinite(hz)) heard.push({ hz, clarity });
  }
  if (heard.length === 0) return null;
  const clearest = Math.max(...heard.map(({ clarity }) => clarity));
  const good = heard.filter(({ clarity }) => clarity >= clearest - 0.05).sort((a, b) => a.hz - b.hz);
  const { hz } = good[Math.floor(good.length / 2)];
  const key = Math.round(keyOfFrequency(hz));
  if (key < 0 || key > 127) return null;
  // Windows that disagree make a pitch unclear, however periodic each is.
  const agreeing = heard.filter((each) => Math.abs(12 * Math.log2(each.hz / hz)) < 0.5).length / WINDOWS;
  return { hz, key, cents: (keyOfFrequency(hz) - key) * 100, clarity: Math.min(1, clearest) * agreeing };
}

/** By window, of which there are few; each has tables that take longer to make than a window takes to be heard. */
const detectors = new Map<number, PitchDetector<Float32Array>>();
function detectorOf(size: number): PitchDetector<Float32Array> {
  const known = detectors.get(size) ?? PitchDetector.forFloat32Array(size);
  detectors.set(size, known);
  return known;
}

/** A little after the loudest point, where the noise of the attack is over. */
function onsetOf(samples: Float32Array, rate: number): number {
  const hop = Math.max(1, Math.round(rate * 0.01));
  let loudest = 0;
  let most = 0;
  for (let at = 0; at + hop <= samples.length; at += hop) {
    let power = 0;
    for (let i = at; i < at + hop; i++) power += samples[i] ** 2;
    if (power > most) {
      most = power;
      loudest = at;
    }
  }
  return Math.min(loudest + Math.round(rate * 0.05), Math.max(0, samples.length - Math.round(rate * 0.5)));
}

import { Engine } from '../engine/engine';
import { playTake } from '../engine/offline/playTake';
import type { Program } from '../engine/program/program';
import type { Prepared } from '../dsp/prepared';
import type { Take } from '../music/take';
import { lostInMono, loudnessOf, truePeakOf } from './loudness';

/**
 * What a patch does on its take: loudness in LUFS (ITU-R BS.1770) and greatest sample and true peak in dB (null: it is
 * silent), the most voices at once, how deep the limiter went in dB, the share of the time of one core that it
 * took on the whole and in its worst second, ms in which the engine took it over under the notes of the patch before,
 * and how many of its samples were not there.
 */
export interface Rehearsed {
  lufs: number | null;
  peakDb: number | null;
  truePeakDb: number | null;
  voices: number;
  limiterDb: number;
  load: number;
  worstLoad: number;
  switchMs: number;
  missing: number;
  /** What a sum to mono takes away, in dB; null: it is silent. */
  monoDb: number | null;
}

const RATE = 48000;
const TAIL = 1.5;
const WINDOW_SECONDS = 1;
const db = (x: number): number | null => (x > 1e-9 ? 20 * Math.log10(x) : null);

/**
 * Plays a take through a program in as little time as it takes. `before`: what played until then, with a chord held
 * under the change. `clock` gives milliseconds.
 */
export function rehearse(
  program: Program,
  samples: readonly { key: string; sample: Prepared }[],
  take: Pick<Take, 'seconds' | 'events'>,
  clock: () => number,
  before: { program: Program; samples: readonly { key: string; sample: Prepared }[] } | null = null,
): Rehearsed {
  const engine = new Engine({ rate: RATE });
  engine.prepareKinds();
  const left = new Float32Array(128);
  const right = new Float32Array(128);
  for (const { key, sample } of [...(before?.samples ?? []), ...samples]) engine.addSample(key, sample);
  if (before) {
    engine.setProgram(before.program);
    for (const key of [48, 55, 60, 64]) engine.handle({ type: 'noteOn', channel: 1, key, velocity: 90 });
    for (let n = 0; n < 40; n++) engine.process(left, right, 128);
  }
  const switched = clock();
  engine.setProgram(program);
  engine.process(left, right, 128);
  const switchMs = clock() - switched;
  // What rang of the one before is none of this one's.
  const own = new Engine({ rate: RATE });
  for (const { key, sample } of samples) own.addSample(key, sample);
  own.setProgram(program);
  let limit = 1;
  let worst = 0;
  let blocks = 0;
  let since = clock();
  const began = since;
  const sound = playTake(own, take, TAIL, new Map(), () => {
    limit = Math.min(limit, own.limiter.lowestGain);
    if (++blocks * 128 < WINDOW_SECONDS * RATE) return;
    const now = clock();
    worst = Math.max(worst, (now - since) / 1000 / WINDOW_SECONDS);
    since = now;
    blocks = 0;
  });
  const seconds = take.seconds + TAIL;
  const load = (clock() - began) / 1000 / seconds;
  const both = [sound.left, sound.right];
  const lufs = loudnessOf(both, RATE);
  const there = new Set(samples.map(({ key }) => key));
  return {
    lufs: Number.isFinite(lufs) ? lufs : null,
    peakDb: db(both.reduce((most, side) => side.reduce((a, x) => Math.max(a, Math.abs(x)), most), 0)),
    truePeakDb: db(truePeakOf(both)),
    voices: own.mostVoices,
    limiterDb: 20 * Math.log10(Math.max(1e-6, limit)),
    load,
    worstLoad: Math.max(worst, load),
    switchMs,
    missing: program.samples.filter(({ key }) => !there.has(key)).length,
    monoDb: lostInMono(sound.left, sound.right),
  };
}

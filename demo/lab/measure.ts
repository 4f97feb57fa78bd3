import FFT from 'fft.js';
import { createHash } from 'node:crypto';
import { Engine } from '../../src/core/engine/engine';
import { compile } from '../../src/core/engine/program/compile';
import { prepare } from '../../src/core/formats/prepare';
import { loudnessNow } from '../../src/core/measure/loudness';
import { markAt, newControllers, newLayer, newPatch } from '../../src/core/rig/defaults';
import type { Sound, Zone } from '../../src/core/rig/schema';
import type { Instrument } from '../instruments';
import { keeper, soundOf, type Keeper } from '../rig';

/** What the lab measures of an instrument: as it sounds, through the engine, and not as it was meant. */

export const RATE = 48000;

export interface Specimen {
  sound: Sound;
  kept: Keeper;
}

export function specimenOf(instrument: Instrument): Specimen {
  const kept = keeper((bytes) => createHash('sha256').update(bytes).digest('hex'));
  return { sound: soundOf(instrument, kept), kept };
}

/** The left and right side of one strike, held for some seconds and heard for some more. */
export function strike(
  { sound, kept }: Specimen,
  key: number,
  velocity: number,
  held: number,
  after = 0,
): Float32Array[] {
  const near = sound.zones.filter((zone) => zone.key.low <= key && zone.key.high >= key);
  const patch = { ...newPatch('lab', 'Lab'), layers: [newLayer('it', sound.name, sound.id, markAt(0))] };
  const { keyLow, keyHigh } = newControllers();
  const program = compile(patch, { sounds: [{ ...sound, zones: near }], samples: kept.samples, keyLow, keyHigh });
  const engine = new Engine({ rate: RATE });
  for (const request of program.samples)
    engine.addSample(request.key, prepare(request, kept.wavs.get(request.sampleId)));
  engine.setProgram(program);
  const sides = [0, 1].map(() => new Float32Array(Math.round((held + after) * RATE)));
  engine.handle({ type: 'noteOn', channel: 1, key, velocity });
  engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 }, Math.round(held * RATE));
  engine.process(sides[0], sides[1], sides[0].length);
  return sides;
}

/** Level in dB of each so many seconds. */
export function levels([left, right]: readonly Float32Array[], every = 0.05): number[] {
  const step = Math.round(every * RATE);
  return Array.from({ length: Math.floor(left.length / step) }, (_, n) => {
    let sum = 0;
    for (let i = n * step; i < (n + 1) * step; i++) sum += left[i] ** 2 + right[i] ** 2;
    return 10 * Math.log10(sum / step + 1e-14);
  });
}

/** Seconds until the level has fallen by so many dB from its highest; Infinity where it has not. */
export function secondsToFall(sides: readonly Float32Array[], db: number): number {
  const row = levels(sides, 0.02);
  const highest = Math.max(...row);
  const from = row.indexOf(highest);
  // The last time it was louder than that.
  for (let n = row.length - 1; n >= from; n--)
    if (row[n] > highest - db) return n === row.length - 1 ? Infinity : (n + 1 - from) * 0.02;
  return 0;
}

const SIZE = 16384;
const fft = new FFT(SIZE);
const window = Float64Array.from({ length: SIZE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE));

/** Power of each bin of one third of a second from a frame on. */
export function spectrum(side: Float32Array, at: number): Float64Array {
  const part = Array.from({ length: SIZE }, (_, i) => (side[at + i] ?? 0) * window[i]);
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, part);
  return Float64Array.from({ length: SIZE / 2 }, (_, bin) => out[2 * bin] ** 2 + out[2 * bin + 1] ** 2);
}

/** The middle of the spectrum, weighted by amplitude, in Hz: how bright it is. */
export function brightness(side: Float32Array, at = 0): number {
  const power = spectrum(side, at);
  let weighted = 0;
  let sum = 0;
  power.forEach((p, bin) => {
    weighted += Math.sqrt(p) * bin;
    sum += Math.sqrt(p);
  });
  return ((weighted / sum) * RATE) / SIZE;
}

/** The frequency near a given one at which there is most, by a parabola over three bins in dB; and how much. */
export function peakNear(power: Float64Array, hz: number, widthHz: number): { hz: number; db: number } {
  const from = Math.max(1, Math.floor(((hz - widthHz) * SIZE) / RATE));
  const to = Math.min(power.length - 2, Math.ceil(((hz + widthHz) * SIZE) / RATE));
  let best = from;
  for (let bin = from; bin <= to; bin++) if (power[bin] > power[best]) best = bin;
  const [a, b, c] = [-1, 0, 1].map((i) => Math.log(power[best + i] + 1e-30));
  const place = best + (0.5 * (a - c)) / (a - 2 * b + c || 1);
  return { hz: (place * RATE) / SIZE, db: 10 * Math.log10(power[best] + 1e-30) };
}

/** dB a second of each of the first partials, from one second to another. */
export function partialFalls(side: Float32Array, partials: readonly number[], from: number, to: number): number[] {
  const at = [from, to].map((seconds) => spectrum(side, Math.round(seconds * RATE)));
  return partials.map((hz) => {
    const [a, b] = at.map((power) => peakNear(power, hz, Math.min(20, hz * 0.03)).db);
    return (a - b) / (to - from);
  });
}

/** How much sharper a loop bends where it comes round than anywhere else in it: 1 or less is no seam. */
export function seamOf(zone: Zone, data: Float32Array, channels: number): number {
  if (!zone.loop) return 0;
  const { start, end } = zone.loop;
  const at = (frame: number) => data[(frame < end ? frame : frame - (end - start)) * channels];
  const bend = (frame: number) => Math.abs(at(frame + 1) - 2 * at(frame) + at(frame - 1));
  let usual = 1e-9;
  for (let i = start + 2; i < end - 2; i++) usual = Math.max(usual, bend(i));
  return Math.max(bend(end - 1), bend(end)) / usual;
}

/** Loudness of the first 0.4 s, in LUFS. */
export const loudness = (sides: readonly Float32Array[]): number =>
  loudnessNow(
    sides.map((side) => side.subarray(0, Math.round(0.4 * RATE))),
    RATE,
  );

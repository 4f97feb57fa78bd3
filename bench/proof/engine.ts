import { anyOf } from '../../tests/kit/company';
import { CUTS, whatIsWrong } from '../../tests/kit/companyPlayed';
import { Chance } from '../../src/core/dsp/chance';
import { compile } from '../../src/core/engine/program/compile';
import type { Engine } from '../../src/core/engine/engine';
import { newPatch } from '../../src/core/rig/defaults';
import { Tally, type Outcome, type Part } from './part';

const ACTS = 500;
/** Of edits that chance would make: with all of them most of the time would go into compiling. */
const EDITS = 0.12;
const FRAMES = 8000;
const RATES = [44100, 48000, 96000];
/** One patch of so many is listened to until it is silent. */
const TO_SILENCE = 8;
/** No tail of our effects is longer. */
const LONGEST_TAIL_SECONDS = 90;
const LEVEL_OF_SILENCE = 1e-5;

const SILENT = { ...newPatch('silent', 'silent'), layers: [] };

/** Everything is let go and another patch chosen: what is still heard when no tail can be left. */
function afterAll(engine: Engine, rate: number, tally: Tally): string | undefined {
  for (let channel = 1; channel <= 16; channel++) {
    for (const controller of [64, 66, 67]) engine.handle({ type: 'controller', channel, controller, value: 0 });
    for (let key = 0; key < 128; key++) engine.handle({ type: 'noteOff', channel, key, velocity: 64 });
  }
  engine.setProgram(compile(SILENT, { sounds: [], samples: [], keyLow: 21, keyHigh: 108, rate }));
  const left = new Float32Array(4096),
    right = new Float32Array(4096);
  const blocks = Math.ceil((LONGEST_TAIL_SECONDS * rate) / left.length);
  let peak = Infinity;
  let block = 0;
  for (; block < blocks && (engine.ringingCount > 0 || peak > 0); block++) {
    engine.process(left, right, left.length);
    peak = 0;
    for (let i = 0; i < left.length; i++) peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
  }
  tally.count('patches heard to their end');
  tally.measure('seconds until the last was silent', (block * left.length) / rate);
  if (engine.voiceCount > 0) return `${engine.voiceCount} voices sound after everything was let go`;
  if (engine.ringingCount > 0 || !(peak < LEVEL_OF_SILENCE))
    return `${engine.ringingCount} patches ring, with a peak of ${peak}, ${LONGEST_TAIL_SECONDS} s after all was let go`;
  return undefined;
}

/** Patches of everything at once, by number. */
function tryPatches(first: number, count: number): Outcome {
  const tally = new Tally();
  for (let seed = first; seed < first + count; seed++) {
    const chance = new Chance(seed + 31);
    const rate = anyOf(RATES, chance);
    const wrong = whatIsWrong(seed, {
      frames: FRAMES,
      count: ACTS,
      edits: EDITS,
      rate,
      maxVoices: 1 + chance.below(64),
      cuts: [anyOf(CUTS, chance)],
      ended: seed % TO_SILENCE === 0 ? (engine) => afterAll(engine, rate, tally) : undefined,
    });
    tally.count('patches');
    tally.count('events and edits', ACTS);
    if (wrong) tally.fail(wrong);
  }
  return tally.outcome;
}

export const ENGINE: Part = {
  name: 'engine',
  promise:
    'Whatever a patch is made of and whatever is done to it under held notes: no throw, nothing that is no number before the limiter, the same bits however the output is cut, and silence once all was let go',
  against:
    'itself, in one block of 8192 frames and in blocks of another size, 1 to 441; 1 to 64 voices; 44.1, 48 and 96 kHz',
  items: 'patches by chance',
  count: 20_000,
  chunk: 50,
  try: tryPatches,
};

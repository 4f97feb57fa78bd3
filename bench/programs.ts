import { performance } from 'node:perf_hooks';
import { deserialize, serialize } from 'node:v8';
import { readSfz } from '../src/core/formats/sfzRead';
import { makePlan } from '../src/core/mapping/plan';
import { PLAN_DEFAULTS } from '../src/core/mapping/planModel';
import { fileNameOfKey } from '../src/core/music/noteNames';
import { compile } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import { markAt, newLayer, newPatch, newSound, newZone } from '../src/core/rig/defaults';
import type { Program } from '../src/core/engine/program/program';
import type { Sound } from '../src/core/rig/schema';
import { fullPatch } from './moves';
import { median, row } from './row';

/** A patch of 10 layers and 5 000 zones: compiled on the page, taken over by the audio thread. */
export function programs(): void {
  const sounds: Sound[] = Array.from({ length: 10 }, (_, s) => ({
    ...newSound(`sound-${s}`, `sound ${s}`),
    zones: Array.from({ length: 500 }, (__, z) => {
      const key = (z % 32) * 4;
      const dynamic = Math.floor(z / 32);
      return {
        ...newZone(`sample-${s}-${z}`, key),
        key: { low: key, high: key + 3, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
        velocity: { low: 1 + dynamic * 7, high: 7 + dynamic * 7, fadeIn: 0, fadeOut: 0, shape: 'sine' as const },
      };
    }),
  }));
  const patch = {
    ...newPatch('patch', 'patch'),
    layers: sounds.map((sound, i) => newLayer(`layer-${i}`, sound.name, sound.id, markAt(i))),
  };
  const samples = sounds.flatMap((sound) =>
    sound.zones.map(({ sampleId: id }) => ({ id, name: id, rate: 48000, channels: 1, frames: 48000 })),
  );
  let program!: Program;
  const times = Array.from({ length: 15 }, () => {
    const began = performance.now();
    program = compile(patch, { sounds, samples, keyLow: 21, keyHigh: 108 });
    return performance.now() - began;
  });
  row(
    'compile a patch of 10 layers and 5 000 zones, median',
    `${median(times).toFixed(1)} ms`,
    '50 ms',
    median(times) <= 50,
  );
  console.log(`        the first of ${times.length}, before anything was optimised: ${times[0].toFixed(1)} ms`);
  // What an edit costs the audio thread, which must fill 128 frames every 2.7 ms: reading the message, and taking the
  // program over.
  const { samples: _, ...played } = program;
  const message = serialize(played);
  const engine = new Engine({ rate: 48000 });
  const taken = Array.from({ length: 25 }, () => {
    const began = performance.now();
    engine.setProgram(deserialize(message) as typeof played);
    return performance.now() - began;
  });
  row(
    'the audio thread takes that patch over, median',
    `${median(taken).toFixed(2)} ms`,
    '1.3 ms',
    median(taken) <= 1.3,
  );
}

/** A patch as full as it can be, compiled. */
export function compileFull(): void {
  const { compileIt } = fullPatch();
  const times = Array.from({ length: 15 }, () => {
    const began = performance.now();
    compileIt();
    return performance.now() - began;
  });
  row(
    'compile 16 macros, 4 pads, 16 movers, 200 routes, median',
    `${median(times).toFixed(1)} ms`,
    '8 ms',
    median(times) <= 8,
  );
}

/** An SFZ file of 5 000 regions, inheritance and crossfades in it, from text to zones. */
export function sfzTime(): void {
  const lines = ['<control> default_path=samples/', '<global> ampeg_release=0.4 cutoff=9000'];
  for (let group = 0; group < 50; group++) {
    lines.push(`<group> lovel=${1 + group * 2} hivel=${2 + group * 2} fil_veltrack=1200 volume=-${group % 7}`);
    for (let region = 0; region < 100; region++)
      lines.push(
        `<region> sample=tone ${region}.wav lokey=${region} hikey=${region + 1} pitch_keycenter=${region} tune=${region % 9} xfin_lokey=${region} xfin_hikey=${region + 1} seq_length=2 seq_position=${1 + (region % 2)} loop_mode=loop_continuous loop_start=100 loop_end=${900 + region}`,
      );
  }
  const text = lines.join('\n');
  const sample = { sampleId: 'a', frames: 44100, root: null, tuneCents: 0, loop: null };
  const times = Array.from({ length: 9 }, () => {
    const began = performance.now();
    const { zones } = readSfz(
      text,
      'bench.sfz',
      () => undefined,
      () => sample,
    );
    if (zones.length !== 5000) throw new Error(`${zones.length} zones were read`);
    return performance.now() - began;
  });
  row('read an SFZ file of 5 000 regions, the first time', `${times[0].toFixed(0)} ms`, '300 ms', times[0] <= 300);
  console.log(`        median of ${times.length}: ${median(times).toFixed(0)} ms`);
}

/** A folder of 1 000 files read by name and laid out. */
export function planTime(): void {
  const files = Array.from({ length: 1000 }, (_, i) => ({
    path: `${['soft', 'mid', 'hard', 'loud'][i % 4]}/wire ${fileNameOfKey(24 + (Math.floor(i / 4) % 62))}_rr${1 + Math.floor(i / 248)}.wav`,
    sampleId: String(i),
    frames: 44100,
    levelDb: -30 + (i % 4) * 5,
    root: null,
    tuneCents: 0,
    loop: null,
  }));
  const times = Array.from({ length: 9 }, () => {
    const began = performance.now();
    const plan = makePlan(files, PLAN_DEFAULTS);
    if (plan.rows.some((each) => !each.placed)) throw new Error('files were left out');
    return performance.now() - began;
  });
  row('plan a folder of 1 000 files, the first time', `${times[0].toFixed(0)} ms`, '200 ms', times[0] <= 200);
  console.log(`        median of ${times.length}: ${median(times).toFixed(0)} ms`);
}

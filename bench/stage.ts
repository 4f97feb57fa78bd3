import { existsSync, readFileSync } from 'node:fs';
import { performance } from 'node:perf_hooks';
import { gzipSync } from 'node:zlib';
import { compile, contextOf } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import type { Program } from '../src/core/engine/program/program';
import type { Prepared } from '../src/core/dsp/prepared';
import { prepare } from '../src/core/formats/prepare';
import { needsNoFile } from '../src/core/sounds/synth/tableIds';
import { readArchive } from '../src/core/formats/rigArchive';
import { patchAsPlayed, setlistOf, stepsOf } from '../src/core/rig/setlist';

const RATE = 48000;
const BLOCK = 128;
const left = new Float32Array(BLOCK);
const right = new Float32Array(BLOCK);
const middle = (values: number[], share = 0.5): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))];

interface Show {
  programs: Program[];
  samples: Map<string, Prepared>;
}

function showOf(path: string): Show {
  const { rig, wavs } = readArchive(readFileSync(path));
  const programs = stepsOf(rig, setlistOf(rig)).flatMap(({ patch, entry }) =>
    patch ? [compile(patchAsPlayed(patch, entry), contextOf(rig, RATE))] : [],
  );
  const samples = new Map<string, Prepared>();
  for (const request of programs.flatMap((program) => program.samples))
    if (!samples.has(request.key))
      samples.set(request.key, prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!));
  return { programs, samples };
}

/**
 * Going through the show under a held chord: what a change costs the audio thread, in blocks of 128 frames, and how
 * soon the first note of the new patch is made.
 */
function switching({ programs, samples }: Show): { blocks: number[]; late: number } {
  const engine = new Engine({ rate: RATE });
  engine.prepareKinds();
  for (const [key, sample] of samples) engine.addSample(key, sample);
  const quantum = (1000 * BLOCK) / RATE;
  const blocks: number[] = [];
  let late = 0;
  for (let round = 0; round < 6; round++) {
    for (const program of programs) {
      // As it comes across from the page.
      const copy = structuredClone({ ...program, samples: undefined }) as unknown as Program;
      const began = performance.now();
      engine.setProgram(copy);
      const before = engine.voiceCount;
      for (const key of [43, 50, 55, 62]) engine.handle({ type: 'noteOn', channel: 1, key, velocity: 96 });
      engine.process(left, right, BLOCK);
      // The first round is that of a machine that has never done it.
      if (round > 0) blocks.push((performance.now() - began) / quantum);
      if (engine.voiceCount <= before) late++;
      for (let n = 0; n < 300; n++) engine.process(left, right, BLOCK);
      for (const key of [43, 50, 55, 62]) engine.handle({ type: 'noteOff', channel: 1, key, velocity: 64 });
      for (let n = 0; n < 900; n++) engine.process(left, right, BLOCK);
    }
  }
  return { blocks, late };
}

/** A machine at its limit: as many voices as there are, pedal down; time of a second as it is and lighter. */
function lighter({ programs, samples }: Show): { before: number; after: number; voices: [number, number] } {
  const begin = (program: Program) => {
    const engine = new Engine({ rate: RATE });
    for (const [key, sample] of samples) engine.addSample(key, sample);
    engine.setProgram(program);
    engine.handle({ type: 'controller', channel: 1, controller: 64, value: 127 });
    const strike = () => {
      for (let key = 36; key < 96; key += 1) engine.handle({ type: 'noteOn', channel: 1, key, velocity: 100 });
    };
    strike();
    for (let n = 0; n < 375; n++) engine.process(left, right, BLOCK);
    return { engine, strike };
  };
  // The patch of which most goes on sounding.
  const { engine, strike } = programs.map(begin).reduce((a, b) => (b.engine.voiceCount > a.engine.voiceCount ? b : a));
  let sounding = 0;
  /** Half a second after everything was struck once more. */
  const second = (): number => {
    strike();
    sounding = 0;
    const began = performance.now();
    for (let done = 0; done < RATE / 2; done += BLOCK) {
      engine.process(left, right, BLOCK);
      sounding = Math.max(sounding, engine.voiceCount);
    }
    return (performance.now() - began) / 500;
  };
  second();
  const before = middle([second(), second(), second()]);
  const most = sounding;
  engine.handle({ type: 'voices', most: Math.floor(most * (0.57 / 0.85)) });
  second();
  const after = middle([second(), second(), second()]);
  return { before, after, voices: [most, sounding] };
}

export function stage(row: (name: string, value: string, bar: string, met: boolean) => void): void {
  const show = showOf(
    existsSync('build/demo/perigee-tide.wavicle')
      ? 'build/demo/perigee-tide.wavicle'
      : 'build/demo-small/perigee-tide.wavicle',
  );
  const { blocks, late } = switching(show);
  row(
    'a change of patch with its first block, of a quantum’s time',
    `${(100 * middle(blocks)).toFixed(0)} %`,
    '60 %',
    middle(blocks) <= 0.6,
  );
  row(
    'the slowest of a hundred, of a quantum’s time',
    `${(100 * middle(blocks, 0.99)).toFixed(0)} %`,
    '150 %',
    middle(blocks, 0.99) <= 1.5,
  );
  row('changes whose first note was not made in the same quantum', String(late), '0', late === 0);
  const light = lighter(show);
  row(
    `lighter: time of a second with ${light.voices[1]} instead of ${light.voices[0]} voices`,
    `${((100 * light.after) / light.before).toFixed(0)} %`,
    '75 % (80 to 60)',
    light.after / light.before <= 0.75,
  );
}

/** What the page loads before it shows anything. */
export function script(row: (name: string, value: string, bar: string, met: boolean) => void): void {
  if (!existsSync('dist/index.html')) throw new Error('Build first: npm run build');
  const scripts = [...readFileSync('dist/index.html', 'utf8').matchAll(/(?:src|href)="(\/assets\/[^"]+\.js)"/g)].map(
    ([, path]) => gzipSync(readFileSync(`dist${path}`)).length,
  );
  const size = scripts.reduce((a, b) => a + b, 0);
  row('script that loads at the start, gzipped', `${(size / 1000).toFixed(0)} kB`, '250 kB', size < 250_000);
}

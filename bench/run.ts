/**
 * npm run bench [-- NAME …]: speed, as ratios or shares of one run, because machines are noisy; each beside its bar, what
 * is missed once more at the end. Exit code 1 where anything is. NAME: parts of it (see PARTS).
 */
import { performance } from 'node:perf_hooks';
import { bounceBench, checkBench, listeningBench } from './check';
import { commandLine } from './commandLine';
import { allocation, allocationOfKinds } from './heap';
import { grainsInHalfACore, shareOf, synthEngine } from './kinds';
import { demoShares, shares } from './mix';
import { costOfLayers, costs } from './moves';
import { engineAgainstNodes, synthAgainstNodes } from './nodes';
import { pageBench } from './page';
import { compileFull, planTime, programs, sfzTime } from './programs';
import { core, finish, loopMs, row } from './row';
import { script, stage } from './stage';

const EFFECT_BARS: Readonly<Record<string, number>> = {
  convolution: 6,
  saturation: 4,
  vocoder: 3,
  reverb: 2.5,
  scaleTuner: 3,
};
const PATCH_BARS: Readonly<Record<string, number>> = { 'Neap Bass': 20 };

function movers(): void {
  const { movers: moving, hands } = costs();
  row('64 voices with four movers each, against the same at rest', `${moving.toFixed(2)} ×`, '1.25 ×', moving <= 1.25);
  row('the same with four routes from a wheel that rests', `${hands.toFixed(2)} ×`, '1.03 ×', hands <= 1.03);
  const { share, voices } = costOfLayers();
  core(`eight layers with everything of a layer in use, 64 notes held (${voices} voices)`, 100 * share, 50);
}

function effects(): void {
  for (const { id, share } of shares()) core(id, share, EFFECT_BARS[id] ?? 1);
}

function patches(): void {
  for (const { name, share } of demoShares())
    core(`${name} with 16 notes and its effects`, share, PATCH_BARS[name] ?? 12);
}

/** Patches of the store are at most as dear as any plain patch of the show. */
function storePatches(): void {
  for (const { name, share } of demoShares('build/store/harbour-store.wavicle'))
    core(`${name} of the store with 16 notes and its effects`, share, 12);
}

function kinds(): void {
  core('64 synth voices', shareOf(synthEngine(64, false)), 10);
  const grains = grainsInHalfACore();
  row('grains at once in half of a core', `${grains.toFixed(0)}`, '600', grains >= 600);
}

/** What can be run alone, in the order in which all of it runs. `check` listens to the whole demo, which takes minutes. */
const PARTS: Readonly<Record<string, () => void | Promise<void>>> = {
  effects,
  patches,
  store: storePatches,
  kinds,
  movers,
  programs: () => {
    programs();
    compileFull();
  },
  formats: () => {
    sfzTime();
    planTime();
  },
  stage: () => stage(row),
  heap: async () => {
    await allocation();
    await allocationOfKinds();
  },
  bounce: () => bounceBench(row),
  listening: () => listeningBench(row),
  commands: commandLine,
  script: () => script(row),
  page: pageBench,
  nodes: async () => {
    await synthAgainstNodes();
    await engineAgainstNodes();
  },
};
const LONG: Readonly<Record<string, () => void>> = {
  check: () => checkBench(row, Number(process.argv.at(-1)) || 40),
};

const asked = process.argv.slice(2).filter((name) => Number.isNaN(Number(name)));
const unknown = asked.filter((name) => !(name in PARTS) && !(name in LONG));
if (unknown.length > 0) {
  console.error(
    `No part is named ${unknown.join(', ')}. There are: ${[...Object.keys(PARTS), ...Object.keys(LONG)].join(', ')}`,
  );
  process.exit(2);
}
const began = performance.now();
console.log(`        a second through one section of second order takes ${loopMs().toFixed(2)} ms here: ×`);
for (const name of asked.length > 0 ? asked : Object.keys(PARTS)) {
  const started = performance.now();
  await (PARTS[name] ?? LONG[name])();
  console.log(`        ${name}: ${((performance.now() - started) / 1000).toFixed(0)} s`);
}
console.log(`        in all ${((performance.now() - began) / 1000).toFixed(0)} s`);
process.exit(finish() ? 0 : 1);
